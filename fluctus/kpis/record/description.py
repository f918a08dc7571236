"""What a change to a chart was, in a few words, for undo and the record."""

from collections.abc import Callable, Sequence
from zoneinfo import ZoneInfo

from fluctus.core.words import NBSP, NumberStyle
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.lines import BandState, LineState
from fluctus.kpis.seasons import NAMES as SEASONS
from fluctus.kpis.seasons import Follows
from fluctus.kpis.state import DETAILS, ChartState, SegmentState

FIRST = "the first segment"
WORDS = {
    Follows.LEVEL: "nothing",
    Follows.TREND: "a trend",
    **{kind: f"the {name}" for kind, name in SEASONS.items()},
}

NAMES = {
    "name": "name",
    "group": "group",
    "unit": "unit",
    "decimals": "decimals",
    "shown_in": "way its numbers are shown",
    "drawn_as": "way it is drawn",
    "raises": "signals that become findings",
    "direction": "wanted direction",
    "floor": "floor",
    "ceiling": "ceiling",
    "target": "target",
    "target_high": "target",
    "axis_low": "axis",
    "axis_high": "axis",
    "value_labels": "values that are labeled",
    "dots": "points",
    "faint": "strength of the values",
    "aggregation": "way several values become one",
    "time_zone": "time zone",
    "first_weekday": "first day of the week",
    "first_month": "first month of the year",
    "rules": "rules",
    "run_length": "run length",
}


def describe(before: ChartState, after: ChartState, grain: Grain) -> str:
    """Describe what turned ``before`` into ``after``: ``Put a shift at 18 May 2026``."""

    def name(text: str) -> str:
        zone = ZoneInfo(after.time_zone)
        try:
            return label(from_text(text, grain, zone), grain, zone)
        except (ValueError, OverflowError):
            return text  # No period at all: the settings are about to be refused for it.

    decided = [kept for kept in after.kept_limits if kept not in before.kept_limits]
    if decided and before.segments == after.segments:
        return f"Kept the limits at {name(decided[-1].period)}: {decided[-1].reason}"
    segments = _segments(before, after, name)
    if segments:
        return segments
    right = [period for period in after.confirmed if period not in before.confirmed]
    if right:
        return f"Said that the value of {name(right[-1])} is right"
    if after.confirmed != before.confirmed:
        return "Asked again about a value far off"
    if after.kept_limits != before.kept_limits:
        return "Reopened the review of a shift"
    changed = [
        setting
        for setting in [*DETAILS, "rules"]
        if getattr(before, setting) != getattr(after, setting)
    ]
    if changed and set(changed) <= {"target", "target_high"}:
        return _target(after)
    names = list(dict.fromkeys(NAMES[setting] for setting in changed))
    return _lines(before, after) if not names else f"Changed the {' and the '.join(names)}"


def _lines(before: ChartState, after: ChartState) -> str:
    """Describe what became of lines and bands."""
    kinds: list[tuple[str, Sequence[LineState | BandState], Sequence[LineState | BandState]]] = [
        ("band", before.bands, after.bands),
        ("line", before.lines, after.lines),
    ]
    for kind, old, new in kinds:
        was, now = ({item.key: item for item in items} for items in (old, new))
        for did, keys, items in (
            ("Added", now.keys() - was.keys(), now),
            ("Removed", was.keys() - now.keys(), was),
            ("Changed", {key for key in now.keys() & was.keys() if now[key] != was[key]}, now),
        ):
            names = [_line_name(items[key], kind) for key in items if key in keys]
            if names:
                return f"{did} {' and '.join(names)}"
    if before.target_steps != after.target_steps:
        return "Changed the target over time"
    views_now, views_then = ({view.name for view in state.views} for state in (after, before))
    for did, views in (("Kept", views_now - views_then), ("Removed", views_then - views_now)):
        if views:
            return f"{did} the view {' and '.join(sorted(views))}"
    return "Changed a view" if before.views != after.views else "Put the lines in another order"


def _line_name(item: LineState | BandState, kind: str) -> str:
    if item.name:
        return f"the {kind} {item.name}"
    return f"a {kind} ({item.made.replace('_', ' ')})" if isinstance(item, LineState) else "a band"


def _segments(before: ChartState, after: ChartState, name: Callable[[str], str]) -> str:
    """Describe what became of the segments; empty where nothing did."""
    was = {segment.start: segment for segment in before.segments}
    now = {segment.start: segment for segment in after.segments}
    came = [start for start in now if start is not None and start not in was]
    went = [start for start in was if start is not None and start not in now]
    if len(came) == 1 and len(went) == 1:
        return f"Moved the shift from {name(went[0])} to {name(came[0])}"
    if came and not went:
        why = "; ".join(filter(None, (now[start].what_changed for start in came)))
        return f"Put a shift at {' and '.join(map(name, came))}{f': {why}' if why else ''}"
    if went and not came:
        return f"Removed the shift at {' and '.join(map(name, went))}"
    if came or went:
        return "Rearranged the segments"
    changed = next(((was[start], now[start]) for start in now if was[start] != now[start]), None)
    return "" if changed is None else _segment(*changed, name)


def _segment(old: SegmentState, new: SegmentState, name: Callable[[str], str]) -> str:
    its = new.name or (f"the segment from {name(new.start)}" if new.start else FIRST)
    if new.window != old.window:
        if new.window is None:
            return f"Took the limits of {its} from all its values"
        first, last = map(name, new.window)
        return f"Took the limits of {its} from {first} to {last}"
    if new.follows != old.follows:
        return f"Let the limits of {its} follow {WORDS[Follows(new.follows)]}"
    if new.name != old.name:
        return f"Named a segment {new.name}" if new.name else "Removed a segment's name"
    return f"Changed {its}"


def _target(after: ChartState) -> str:
    if after.target is None:
        return "Removed the target"
    style = NumberStyle(after.unit, 0, after.decimals)
    target = style.amount(after.target)
    if after.target_high is not None:
        target = f"{style.value(after.target)} to {style.amount(after.target_high)}"
    return f"Changed the target to {target.replace(NBSP, ' ')}"
