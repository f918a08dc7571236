"""What a change to a chart was, in a few words, for undo and the record."""

from fluctus.kpis.follows import NAMES as SEASONS
from fluctus.kpis.follows import Follows
from fluctus.kpis.state import DETAILS, ChartState, SegmentState

FIRST = "the first segment"
WORDS = {
    Follows.LEVEL: "nothing", Follows.TREND: "a trend",
    **{kind: f"the {name}" for kind, name in SEASONS.items()},
}  # fmt: skip

NAMES = {
    "name": "name",
    "group": "group",
    "unit": "unit",
    "decimals": "decimals",
    "direction": "wanted direction",
    "floor": "floor",
    "ceiling": "ceiling",
    "target": "target",
    "aggregation": "way several values become one",
    "time_zone": "time zone",
    "first_weekday": "first day of the week",
    "first_month": "first month of the year",
    "rules": "rules",
    "run_length": "run length",
}


def describe(before: ChartState, after: ChartState) -> str:
    """Say what turned ``before`` into ``after``: ``Put a shift at 2026-05-18``."""
    decided = [one for one in after.kept_limits if one not in before.kept_limits]
    if decided and before.segments == after.segments:
        return f"Kept the limits at {decided[-1].period}: {decided[-1].reason}"
    was = {segment.start: segment for segment in before.segments}
    now = {segment.start: segment for segment in after.segments}
    came = [start for start in now if start not in was]
    went = [start for start in was if start not in now]
    if len(came) == 1 and len(went) == 1:
        return f"Moved the shift from {went[0]} to {came[0]}"
    if came and not went:
        why = "; ".join(filter(None, (now[start].what_changed for start in came)))
        return f"Put a shift at {' and '.join(map(str, came))}{f': {why}' if why else ''}"
    if went and not came:
        return f"Removed the shift at {' and '.join(map(str, went))}"
    if came or went:
        return "Rearranged the segments"
    for start, segment in now.items():
        old = was[start]
        if segment.window != old.window:
            return _baseline(segment)
        if segment.follows != old.follows:
            return f"Let the limits of {_segment(segment)} follow {WORDS[Follows(segment.follows)]}"
        if segment.name != old.name:
            return f"Named a segment {segment.name}" if segment.name else "Removed a segment's name"
        if segment != old:
            return f"Changed {_segment(segment)}"
    if after.kept_limits != before.kept_limits:
        return "Reopened the review of a shift"
    names = [NAMES[name] for name in [*DETAILS, "rules"]
             if getattr(before, name) != getattr(after, name)]  # fmt: skip
    return f"Changed the {' and the '.join(names)}"


def _segment(segment: SegmentState) -> str:
    return segment.name or (f"the segment from {segment.start}" if segment.start else FIRST)


def _baseline(segment: SegmentState) -> str:
    if segment.window is None:
        return f"Took the limits of {_segment(segment)} from all its values"
    first, last = segment.window
    return f"Took the limits of {_segment(segment)} from {first} to {last}"
