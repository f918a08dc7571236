"""What a chart says, in two lines: computed, and never more than the numbers support."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from fluctus.core.analysis.analyse import Analysis, Segment
from fluctus.core.analysis.constants import MIN_VALUES_FOR_FIRM_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.limits import Firmness
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.settings import Direction
from fluctus.core.analysis.signals import Signal
from fluctus.core.judgment.fitness import Doubt, Fitness
from fluctus.core.words.wording import Words, counted, level_decimals, rounded

LINE: Final = 165
"""Characters of detail that fit on one line of a page 1280 pixels wide."""

GRAVE: Final = {
    Fitness.RUNNING_TOTAL: "These values look like a running total, which has no limits.",
    Fitness.MIXED_BREAKDOWNS: "It mixes things whose averages differ.",
}
SWINGING: Final = "Values swing back and forth: its limits are wide."
"""Instead of that on autocorrelation, where it is negative."""
MILD: Final = {
    Fitness.COARSE_STEP: "Its steps are too coarse for these limits.",
    Fitness.AUTOCORRELATION: "Values follow the ones before: runs say little.",
    Fitness.INFLATED_LIMITS: "A few large ranges widen its limits.",
    Fitness.MANY_SET_ASIDE: "Over a tenth of its values are set aside.",
}
"""Doubts that change how a chart is read, the gravest first. Few values are said as provisional
limits; missing periods only in the card of doubts."""


@dataclass(frozen=True, slots=True)
class Sentence:
    """``headline`` says what is, ``detail`` what to expect."""

    headline: str
    detail: str


def summarise(
    analysis: Analysis,
    words: Words,
    doubts: Sequence[Doubt] = (),
    unexplained: int | None = None,
    candidate: int | None = None,
) -> Sentence:
    """Return the sentence on a chart: what it says, about its last segment above all.

    ``doubts`` are why the values may be unfit for a chart, ``unexplained``
    counts the findings of the last segment that have no cause on record (None
    where nobody keeps any), and ``candidate`` is the position of a change point
    that nobody has decided on.
    """
    last = analysis.segments[-1]
    if last.average is None:
        nothing = "no values to judge" if len(analysis.series) else "no values yet"
        return Sentence(f"{words.name}: {nothing}.", "Add data to see how the process behaves.")
    if last.upper is None or last.lower is None:
        return Sentence(_level(analysis, words), _too_few(last, words))
    current = [s for s in analysis.signals if s.segment == len(analysis.segments) - 1]
    run = next((s for s in reversed(current) if s.rule is Rule.RUN), None)
    if run is not None and _opens_a_question(run, analysis, words):
        return Sentence(_run(run, analysis, words), _held(run, last, words))
    many = len(analysis.segments) > 1
    checks = {doubt.check for doubt in doubts}
    # In the order of reading, each with its rank: what does not fit goes, the last rank first.
    rest = [
        (3, _target(analysis, words)),
        (
            2,
            _signals(len(current), many)
            if unexplained is None
            else _open(unexplained, len(current), many),
        ),
        (5, _candidate(candidate, words)),
        (1, next((text for check, text in GRAVE.items() if check in checks), "")),
        (6, _mild(doubts)),
        (4, _firmness(last, words)),
    ]
    long, short = ([(0, _expected(analysis, words, brief=brief)), *rest] for brief in (False, True))
    detail = _fitted(long)
    whole = " ".join(text for _, text in long if text)
    return Sentence(_level(analysis, words), detail if detail == whole else _fitted(short))


def _mild(doubts: Sequence[Doubt]) -> str:
    checks = {doubt.check: doubt.number for doubt in doubts}
    check = next((check for check in MILD if check in checks), None)
    if check is None:
        return ""
    swinging = check is Fitness.AUTOCORRELATION and checks[check] < 0
    return SWINGING if swinging else MILD[check]


def _fitted(parts: Sequence[tuple[int, str]]) -> str:
    """Join what fits into one line, by rank."""
    kept: list[int] = []
    room = LINE
    for number in sorted(range(len(parts)), key=lambda n: parts[n][0]):
        text = parts[number][1]
        if text and (len(text) <= room or not kept):
            kept.append(number)
            room -= len(text) + 1
    return " ".join(parts[number][1] for number in sorted(kept))


def _expected(analysis: Analysis, words: Words, *, brief: bool) -> str:
    last, expected = analysis.segments[-1], analysis.expected()
    assert expected.lower is not None, "the caller has seen that there are limits"
    assert expected.upper is not None, "the caller has seen that there are limits"
    between = f"between {words.level(expected.lower)} and {words.level_amount(expected.upper)}"
    if last.trend is not None:
        rises = "rises" if last.trend.slope > 0 else "falls"
        # A small slope has its own digits: 0.04 a week is not 0.0.
        by = words.small_amount(abs(last.trend.slope))
        return f"It {rises} by {by} a {words.grain}; next, expect a value {between}."
    if last.relatives:
        return f"In season, expect the next {words.grain} {between}."
    if brief:
        return f"Expect any one {words.grain} {between}."
    return f"While nothing changes, expect any one {words.grain} {between}."


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


def _target(analysis: Analysis, words: Words) -> str:
    direction, expected = analysis.settings.direction, analysis.expected()
    if words.target is None or direction is Direction.NEITHER:
        return ""
    assert expected.upper is not None, "the caller has seen that there are limits"
    assert expected.lower is not None, "the caller has seen that there are limits"
    better = 1 if direction is Direction.HIGHER else -1
    best, worst = sorted((expected.upper * better, expected.lower * better), reverse=True)
    goal = words.target * better
    name = f"the target of {words.amount(words.target)}"
    if worst >= goal:
        return f"Any {words.grain} can be expected to meet {name}."
    if best < goal:
        return f"The process as it is does not reach {name}."
    return f"Some {words.grain}s meet {name}, others do not."


def _open(unexplained: int, signals: int, many_segments: bool) -> str:
    if not signals:
        return _signals(0, many_segments)
    if not unexplained:
        return "Every finding has a cause on record."
    has = "has" if unexplained == 1 else "have"
    return f"{counted(unexplained)} finding{'' if unexplained == 1 else 's'} {has} no cause yet."


def _candidate(candidate: int | None, words: Words) -> str:
    return "" if candidate is None else f"It may have shifted around {words.label(candidate)}."


def _signals(count: int, many_segments: bool) -> str:
    where = "in this segment" if many_segments else "so far"
    if not count:
        return f"No signals {where}."
    return f"{counted(count)} signal{'' if count == 1 else 's'} {where}."


def _firmness(last: Segment, words: Words) -> str:
    if last.firmness is not Firmness.PROVISIONAL:
        return ""
    return f"Provisional limits: {last.n} of {words.periods(MIN_VALUES_FOR_FIRM_LIMITS)}."
