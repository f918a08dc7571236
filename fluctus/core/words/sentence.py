"""What a chart says, in two lines: computed, and never more than the numbers support."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from fluctus.core.analysis.analyse import Analysis, Segment
from fluctus.core.analysis.constants import MIN_VALUES_FOR_FIRM_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.limits import Firmness
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.signals import Signal
from fluctus.core.arrays import Bools
from fluctus.core.context.comparison import included_in
from fluctus.core.context.target import MeetsTarget
from fluctus.core.judgment.fitness import Doubt, Fitness
from fluctus.core.judgment.happenings import Happenings, happenings_of
from fluctus.core.judgment.nature import Nature, nature_of
from fluctus.core.judgment.predictability import Predictability, predictability_of
from fluctus.core.judgment.time_to_signal import expected_false_findings
from fluctus.core.words.kinds_of_values import said_of
from fluctus.core.words.wording import Words, counted

LINE: Final = 165
"""Characters of detail that fit on one line of a page 1280 pixels wide."""
VALUES_FOR_CHANCE: Final = 20
"""From so many values on, what chance would bring stands beside a count of findings."""

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
limits; missing periods by their number."""


@dataclass(frozen=True, slots=True)
class Sentence:
    """``headline`` says what is, ``detail`` what to expect."""

    headline: str
    detail: str


@dataclass(frozen=True, slots=True)
class Beside:
    """What is known of a chart besides its analysis.

    ``doubts`` are why the values may be unfit for a chart, ``logged`` counts the findings of
    the last segment in the log and ``unexplained`` those of them without a cause (None where
    nobody keeps any; where the log holds others than the chart, nothing is said of it), and
    ``candidate`` is the position of a change point that nobody has decided on. ``pattern``
    names what limits could follow on its evidence, such as "the month of the year".
    ``raising`` are the rules whose signals are findings; None: all in force.
    """

    doubts: Sequence[Doubt] = ()
    logged: int | None = None
    unexplained: int | None = None
    candidate: int | None = None
    pattern: str = ""
    raising: frozenset[Rule] | None = None
    incomplete: bool = False
    """Whether the last period is not over and takes no part."""
    met: Bools | None = None
    """Which values meet a target of their own, shape (n,), where targets change over time."""
    happenings: Happenings | None = None
    """Those of the chart, where they have been gathered already."""


NOTHING_BESIDE: Final = Beside()


def summarise(analysis: Analysis, words: Words, beside: Beside = NOTHING_BESIDE) -> Sentence:
    """Return the sentence on a chart: what it says, about its last segment above all."""
    last = analysis.segments[-1]
    if last.average is None:
        nothing = "no values to judge" if len(analysis.series) else "no values yet"
        return Sentence(f"{words.name}: {nothing}.", "Add data to see how the process behaves.")
    kind = Nature.HOLDS if analysis.settings.holds else nature_of(analysis.series)
    if kind is not None and (said := said_of(kind, analysis, words)) is not None:
        return Sentence(said[0], _fitted(list(enumerate(said[1]))))
    if last.upper is None or last.lower is None:
        return Sentence(_level(analysis, words), _too_few(last, words))
    run = open_question(analysis, words)
    if run is not None:
        return Sentence(_run(run, analysis, words), _held(run, last, words))
    kept = predictability_of(analysis)
    unpredictable = kept is not None and not kept.is_predictable
    # In the order of reading, each with its rank: what does not fit goes, the last rank first.
    checks = {doubt.check for doubt in beside.doubts}
    rest = [
        (3, _findings(analysis, beside)),
        (5, _candidate(beside.candidate, words)),
        (1, next((text for check, text in GRAVE.items() if check in checks), "")),
        (7, _mild(beside.doubts)),
        (4, _firmness(last, words)),
        (8, _missing(beside, words)),
    ]
    if unpredictable and kept is not None:
        first = [
            (0, _follow(beside)),
            (2, _met_so_far(analysis, words, beside)),
            (6, _around(last, words)),
        ]
        return Sentence(_not_predictable(kept, beside, words), _fitted([*first, *rest]))
    middle = [(2, _target(analysis, words)), (6, _offer(beside))]
    long, short = (
        [(0, _expected(analysis, words, brief=brief)), *middle, *rest] for brief in (False, True)
    )
    detail = _fitted(long)
    whole = " ".join(text for _, text in long if text)
    return Sentence(_level(analysis, words), detail if detail == whole else _fitted(short))


def open_question(analysis: Analysis, words: Words) -> Signal | None:
    """Return the run that asks whether the process has shifted; None where none does."""
    run = _newest_run(analysis)
    if run is None or not _opens_a_question(run, analysis, words):
        return None
    kept = predictability_of(analysis)
    if kept is None or kept.is_predictable:
        return run
    # What breaks its limits all the time has not changed with the last run.
    before = predictability_of(analysis, until=run.points[0])
    return run if before is not None and before.is_predictable else None


def _newest_run(analysis: Analysis) -> Signal | None:
    """Return the newest run of the last segment; no other signal need be put together."""
    runs = analysis.signals.numbers_of([Rule.RUN])
    run = analysis.signals[int(runs[-1])] if len(runs) else None
    return run if run is not None and run.segment == len(analysis.segments) - 1 else None


def _mild(doubts: Sequence[Doubt]) -> str:
    checks = {doubt.check: doubt.number for doubt in doubts}
    check = next((check for check in MILD if check in checks), None)
    if check is None:
        return ""
    swinging = check is Fitness.AUTOCORRELATION and checks[check] < 0
    return SWINGING if swinging else MILD[check]


def _missing(beside: Beside, words: Words) -> str:
    missing = [d.number for d in beside.doubts if d.check is Fitness.MISSING_PERIODS]
    texts = [f"{words.periods(int(number))} missing." for number in missing]
    if beside.incomplete:
        texts.append(f"The last {words.grain} is not over and takes no part.")
    return " ".join(texts)


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
    last, expected, numbers = analysis.segments[-1], analysis.expected(), words.numbers
    assert expected.lower is not None, "the caller has seen that there are limits"
    assert expected.upper is not None, "the caller has seen that there are limits"
    if last.lower_clipped and last.upper_clipped:
        return f"Limits reach the floor and the ceiling: any {words.grain} may be anything."
    between = f"between {numbers.level(expected.lower)} and {numbers.level_amount(expected.upper)}"
    if last.trend is not None:
        rises = "rises" if last.trend.slope > 0 else "falls"
        # A small slope has its own digits: 0.04 a week is not 0.0.
        by = numbers.small_amount(abs(last.trend.slope))
        return f"It {rises} by {by} a {words.grain}; next, expect a value {between}."
    if last.relatives:
        return f"In season, expect the next {words.grain} {between}."
    if brief:
        return f"Expect any one {words.grain} {between}."
    return f"While nothing changes, expect any one {words.grain} {between}."


def _not_predictable(kept: Predictability, beside: Beside, words: Words) -> str:
    were = "was" if kept.beyond == 1 else "were"
    of = f"{kept.beyond:,} of the {words.periods(kept.count)} {were} beyond the limits"
    if beside.pattern:
        return f"{words.name}: follows {beside.pattern}; {of}, which do not."
    return f"{words.name}: not predictable, {of}."


def _follow(beside: Beside) -> str:
    return "Let the limits follow it to see what else there is." if beside.pattern else ""


def _offer(beside: Beside) -> str:
    return f"It follows {beside.pattern}; let the limits follow it." if beside.pattern else ""


def _around(last: Segment, words: Words) -> str:
    assert last.average is not None, "the caller has seen that there is an average"
    return f"So far {words.numbers.level_amount(last.average)} on average."


def _level(analysis: Analysis, words: Words) -> str:
    last, numbers = analysis.segments[-1], words.numbers
    assert last.average is not None, "the caller has seen that there is an average"
    # No verb: a name can be one thing or many, "Ramp cycle" or "Unplanned stops".
    level = f"{words.name}: {numbers.level_amount(last.average)} on average"
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
    change = float(numbers.level_as_written(last.average) - numbers.level_as_written(before))
    if not change:
        return f"{level} {since}, the same as before."
    more = "more" if change > 0 else "less"
    return f"{level} {since}, {numbers.level_amount(abs(change))} {more} than before."


def _too_few(last: Segment, words: Words) -> str:
    if last.n >= MIN_VALUES_FOR_LIMITS:
        return "No two successive values take part, so there are no limits yet."
    return (
        f"Limits come with {MIN_VALUES_FOR_LIMITS} values; "
        f"there {'is' if last.n == 1 else 'are'} {last.n} so far."
    )


def _opens_a_question(run: Signal, analysis: Analysis, words: Words) -> bool:
    """Tell whether a run asks for a decision: none was made, and it is what the chart says now."""
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
        f"{words.numbers.level_amount(run.centre)}. "
        f"Something changed around {words.label(run.points[0])}."
    )


def _held(run: Signal, last: Segment, words: Words) -> str:
    return (
        f"Limits still rest on {words.periods(last.n)} from {words.label(last.start)}. "
        f"If the process has shifted, recalculate from {words.label(run.points[0])}."
    )


def _target(analysis: Analysis, words: Words) -> str:
    target, expected = words.wanted(analysis.settings.direction), analysis.expected()
    if target is None:
        return ""
    assert expected.upper is not None, "the caller has seen that there are limits"
    assert expected.lower is not None, "the caller has seen that there are limits"
    name = f"the target of {words.target_amount}"
    meets = target.met_between(expected.lower, expected.upper)
    if meets is MeetsTarget.ALWAYS:
        return f"Any {words.grain} can be expected to meet {name}."
    if meets is MeetsTarget.NEVER:
        return f"The process as it is does not reach {name}."
    return f"Some {words.grain}s meet {name}, others do not."


def _met_so_far(analysis: Analysis, words: Words, beside: Beside) -> str:
    """Say how many values met the target: of what is past, where nothing is said of what comes."""
    target = words.wanted(analysis.settings.direction)
    included = included_in(analysis, len(analysis.segments) - 1)
    if beside.met is not None:
        return f"{int(beside.met[included].sum()):,} met their target."
    if target is None:
        return ""
    met = target.met_by(analysis.series.values[included])
    return f"{int(met.sum()):,} met the target of {words.target_amount}."


def _findings(analysis: Analysis, beside: Beside) -> str:
    """Count the findings of the last segment, beside what chance alone would bring."""
    settings, segment = analysis.settings, len(analysis.segments) - 1
    raising = settings.rules if beside.raising is None else beside.raising & settings.rules
    if not raising:
        return ""
    happenings = happenings_of(analysis) if beside.happenings is None else beside.happenings
    count = int((happenings.raised_by(raising) & (happenings.segments == segment)).sum())
    where = "in this segment" if segment else "so far"
    if not count:
        return f"No findings {where}."
    text = f"{counted(count)} finding{'' if count == 1 else 's'}"
    if beside.unexplained is None or beside.logged != count:
        text = f"{text} {where}"
    elif not beside.unexplained:
        text = f"{text}, {'its cause' if count == 1 else 'all causes'} on record"
    else:
        without = counted(beside.unexplained).lower()
        some = beside.unexplained < count
        text = f"{text}, {without} without a cause" if some else f"{text} without a cause"
    last = analysis.segments[-1]
    values = int(analysis.series.included[last.start : last.stop].sum())
    if values < VALUES_FOR_CHANCE:
        return f"{text}."
    expected = expected_false_findings(raising, settings.run_length, values)
    return f"{text}; {_about(expected)} by chance alone."


def _about(expected: float) -> str:
    if expected < 0.05:
        return "hardly any"
    return f"about {expected:,.0f}" if expected >= 1.5 else f"about {expected:.1f}"


def _candidate(candidate: int | None, words: Words) -> str:
    return "" if candidate is None else f"It may have shifted around {words.label(candidate)}."


def _firmness(last: Segment, words: Words) -> str:
    if last.firmness is not Firmness.PROVISIONAL:
        return ""
    return f"Provisional limits: {last.n} of {words.periods(MIN_VALUES_FOR_FIRM_LIMITS)}."
