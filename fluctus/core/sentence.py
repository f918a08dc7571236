"""What a chart says, in two lines: computed, and never more than the numbers support."""

from dataclasses import dataclass

from fluctus.core.analysis import Analysis, Segment
from fluctus.core.constants import MIN_VALUES_FOR_FIRM_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.detection import Side
from fluctus.core.limits import Firmness
from fluctus.core.rules import Rule
from fluctus.core.settings import Direction
from fluctus.core.signals import Signal
from fluctus.core.wording import Words, counted, level_decimals, rounded


@dataclass(frozen=True, slots=True)
class Sentence:
    """``headline`` says what is, ``detail`` what to expect."""

    headline: str
    detail: str


def summarise(analysis: Analysis, words: Words) -> Sentence:
    """Say what the chart says, about its last segment above all."""
    last = analysis.segments[-1]
    if last.average is None:
        nothing = "no values to judge" if len(analysis.series) else "no values yet"
        return Sentence(f"{words.name}: {nothing}.", "Add data to see how the process behaves.")
    if last.upper is None or last.lower is None:
        return Sentence(_level(analysis, words), _too_few(last, words))
    own = [s for s in analysis.signals if s.segment == len(analysis.segments) - 1]
    run = next((s for s in reversed(own) if s.rule is Rule.RUN), None)
    if run is not None and _opens_a_question(run, analysis, words):
        return Sentence(_run(run, analysis, words), _held(run, last, words))
    detail = [
        f"While nothing changes, expect any one {words.grain} between "
        f"{words.level(last.lower)} and {words.level_amount(last.upper)}.",
        _target(last, analysis.settings.direction, words),
        _signals(len(own), len(analysis.segments) > 1),
        _firmness(last, words),
    ]
    return Sentence(_level(analysis, words), " ".join(part for part in detail if part))


def _level(analysis: Analysis, words: Words) -> str:
    last = analysis.segments[-1]
    assert last.average is not None, "the caller has seen that there is an average"
    # No verb: a name can be one thing or many, "Ramp cycle" or "Unplanned stops".
    level = f"{words.name}: {words.level_amount(last.average)} on average"
    if len(analysis.segments) == 1:
        return f"{level}."
    name = words.segments[-1]
    since = (
        f"since {name} {words.preposition} {words.label(last.start)}"
        if name
        else f"since {words.label(last.start)}"
    )
    before = analysis.segments[-2].average
    if before is None:
        return f"{level} {since}."
    # The difference of the two numbers as written, so that a reader can check it.
    decimals = level_decimals(words.decimals)
    change = float(rounded(last.average, decimals) - rounded(before, decimals))
    if not change:
        return f"{level} {since}, the same as before."
    more = "more" if change > 0 else "less"
    return f"{level} {since}, {words.level_amount(abs(change))} {more} than before."


def _too_few(last: Segment, words: Words) -> str:
    if last.n >= MIN_VALUES_FOR_LIMITS:
        return "No two successive values take part, so there are no limits yet."
    return (
        f"Limits come with {MIN_VALUES_FOR_LIMITS} values; "
        f"there {'is' if last.n == 1 else 'are'} {last.n} so far."
    )


def _opens_a_question(run: Signal, analysis: Analysis, words: Words) -> bool:
    if not words.settled.isdisjoint(run.points):
        return False
    # A run from a segment's first value leaves nothing before it to shift from, and an
    # old one that the process came back from is history, not what the chart says now.
    starts_inside = run.points[0] > analysis.segments[run.segment].start
    return starts_inside and run.points[-1] >= len(analysis.series) - len(run.points)


def _run(run: Signal, analysis: Analysis, words: Words) -> str:
    side = "above" if run.side is Side.UPPER else "below"
    count = len(run.points)
    lasting = run.points[-1] == len(analysis.series) - 1
    verb = "sit" if lasting else "sat"
    return (
        f"{counted(count)} {words.grain}s in a row {verb} {side} the average of "
        f"{words.level_amount(run.centre)}. Something changed around {words.label(run.points[0])}."
    )


def _held(run: Signal, last: Segment, words: Words) -> str:
    return (
        f"Limits still rest on {words.periods(last.n)} from {words.label(last.start)}. "
        f"If the process has shifted, recalculate from {words.label(run.points[0])}."
    )


def _target(last: Segment, direction: Direction, words: Words) -> str:
    if words.target is None or direction is Direction.NEITHER:
        return ""
    assert last.upper is not None, "the caller has seen that there are limits"
    assert last.lower is not None, "the caller has seen that there are limits"
    better = 1 if direction is Direction.HIGHER else -1
    best, worst = sorted((last.upper * better, last.lower * better), reverse=True)
    goal = words.target * better
    name = f"the target of {words.amount(words.target)}"
    if worst >= goal:
        return f"Any {words.grain} can be expected to meet {name}."
    if best < goal:
        return f"The process as it is does not reach {name}."
    return f"Some {words.grain}s meet {name}, others do not."


def _signals(count: int, many_segments: bool) -> str:
    where = "in this segment" if many_segments else "so far"
    if not count:
        return f"No signals {where}."
    return f"{counted(count)} signal{'' if count == 1 else 's'} {where}."


def _firmness(last: Segment, words: Words) -> str:
    if last.firmness is not Firmness.PROVISIONAL:
        return ""
    return (
        f"Limits are provisional: {words.periods(last.n)} so far, "
        f"firm from {MIN_VALUES_FOR_FIRM_LIMITS}."
    )
