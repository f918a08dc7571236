"""What a chart says, in two lines: computed, and never more than the numbers support."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from fluctus.core.analysis.analyse import Analysis, Segment
from fluctus.core.analysis.constants import MIN_VALUES_FOR_FIRM_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.limits import Firmness
from fluctus.core.analysis.rules import Rule
from fluctus.core.arrays import Bools
from fluctus.core.judgment.chance import findings_by_chance
from fluctus.core.judgment.fitness import Doubt, Fitness
from fluctus.core.judgment.happenings import Happenings, happenings_of
from fluctus.core.judgment.nature import Nature, nature_of
from fluctus.core.judgment.verdict import Leads, Verdict, verdict_of
from fluctus.core.words.claims import (
    say_change,
    say_far_off,
    say_follows,
    say_not_predictable,
    say_offer,
    say_out_now,
    say_place,
    say_run,
    say_what_limits_rest_on,
)
from fluctus.core.words.kinds_of_values import said_of
from fluctus.core.words.outlook import say_expected, say_met_so_far, say_target
from fluctus.core.words.wording import Words, counted

LINE: Final = 165
"""Characters of detail that fit on one line of a page 1280 pixels wide."""
BY_CHANCE: Final = "; values like these in random order would bring "
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
class Background:
    """What is known of a chart besides its analysis.

    ``verdict`` is what is to be made of it (None: worked out without a season),
    ``doubts`` are why the values may be unfit for a chart, ``logged`` counts the findings of
    the last segment in the log and ``unexplained`` those of them without a cause (None where
    nobody keeps any; where the log holds others than the chart, nothing is said of it).
    ``pattern`` names what limits are offered to follow, such as "the month of the year".
    ``raising`` are the rules whose signals are findings; None: all in force.
    """

    verdict: Verdict | None = None
    doubts: Sequence[Doubt] = ()
    logged: int | None = None
    unexplained: int | None = None
    pattern: str = ""
    raising: frozenset[Rule] | None = None
    by_chance: bool = True
    """Whether it is worked out what chance alone would bring: not under a hand that drags."""
    incomplete: bool = False
    """Whether the last period is not over and takes no part."""
    met: Bools | None = None
    """Which values meet a target of their own, shape (n,), where targets change over time."""
    happenings: Happenings | None = None
    """Those of the chart, where they have been gathered already."""


NO_BACKGROUND: Final = Background()


def summarise(analysis: Analysis, words: Words, background: Background = NO_BACKGROUND) -> Sentence:
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
    verdict = background.verdict or verdict_of(analysis)
    headline, first = _what_leads(analysis, verdict, words, background)
    checks = {doubt.check for doubt in background.doubts}
    # In the order of reading, each with its rank: what does not fit goes, the last rank first.
    rest = [
        (3, _findings(analysis, verdict, background)),
        (1, next((text for check, text in GRAVE.items() if check in checks), "")),
        (7, _mild(background.doubts)),
        (4, _firmness(last, words)),
        (8, _missing(background, words)),
    ]
    if not verdict.tells_ahead:
        first = [*first, (2, say_met_so_far(analysis, words, background.met))]
        return Sentence(headline, _fitted([*first, *rest]))
    gaps = any(doubt.check is Fitness.MISSING_PERIODS for doubt in background.doubts)
    target = (2, say_target(analysis, words, background.met))
    long, short = (
        [*first, (0, say_expected(analysis, words, brief=brief, gaps=gaps)), target, *rest]
        for brief in (False, True)
    )
    detail = _fitted(long)
    whole = " ".join(text for _, text in long if text)
    return Sentence(headline, detail if detail == whole else _fitted(short))


def _what_leads(
    analysis: Analysis, verdict: Verdict, words: Words, background: Background
) -> tuple[str, list[tuple[int, str]]]:
    """Return the headline, and what belongs to it with its rank: the first that there is."""
    average, pattern = analysis.segments[-1].average, background.pattern
    assert average is not None, "the caller has seen that there is an average"
    around = f"So far {words.numbers.level_amount(average)} on average."
    changed = f"Something changed {say_place(verdict.change, words)}." if verdict.change else ""
    offer = (5, say_offer(verdict, pattern, words))
    match verdict.leads:
        case Leads.FAR_OFF:
            assert verdict.far_off is not None, "that is what leads"
            headline, asks = say_far_off(verdict.far_off, analysis, words)
            return headline, [(0, asks), (5, changed)]
        case Leads.CHANGE:
            assert verdict.change is not None, "that is what leads"
            rests = say_what_limits_rest_on(analysis, verdict.change, words)
            return say_change(analysis, verdict, words), [(0, rests), offer]
        case Leads.PATTERN:
            assert verdict.offered is not None, "that is what leads"
            follow = (0, "Let the limits follow it to see what else there is.")
            return say_follows(verdict.offered, pattern, words), [follow, (5, changed)]
        case Leads.NOT_PREDICTABLE:
            headline = say_not_predictable(analysis, verdict, words)
            return headline, [(6, around), (5, changed)]
        case Leads.OUT_NOW:
            assert verdict.out_now is not None, "that is what leads"
            headline = f"{words.name}: {say_out_now(verdict.out_now, analysis, words)}."
            return headline, [(9, around), offer]
        case Leads.RUN:
            assert verdict.run is not None, "that is what leads"
            return say_run(verdict.run, verdict.because, analysis, words), [offer]
        case Leads.LEVEL:
            return _level(analysis, words), [offer]


def _mild(doubts: Sequence[Doubt]) -> str:
    checks = {doubt.check: doubt.number for doubt in doubts}
    check = next((check for check in MILD if check in checks), None)
    if check is None:
        return ""
    swinging = check is Fitness.AUTOCORRELATION and checks[check] < 0
    return SWINGING if swinging else MILD[check]


def _missing(background: Background, words: Words) -> str:
    missing = [d.number for d in background.doubts if d.check is Fitness.MISSING_PERIODS]
    texts = [f"{words.periods(int(number))} missing." for number in missing]
    if background.incomplete:
        texts.append(f"The last {words.grain} is not over and takes no part.")
    return " ".join(texts)


def _fitted(parts: Sequence[tuple[int, str]]) -> str:
    """Join what fits into one line, by rank; what chance would bring is said shorter first."""
    kept: dict[int, str] = {}
    room = LINE
    for number in sorted(range(len(parts)), key=lambda n: parts[n][0]):
        text = parts[number][1]
        if len(text) > room:
            text = text.replace(BY_CHANCE, "; by chance ")
        if text and (len(text) <= room or not kept):
            kept[number] = text
            room -= len(text) + 1
    return " ".join(kept[number] for number in sorted(kept))


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
    return f"{level} {since}, {numbers.level_difference(abs(change))} {more} than before."


def _too_few(last: Segment, words: Words) -> str:
    if last.n >= MIN_VALUES_FOR_LIMITS:
        return "No two successive values take part, so there are no limits yet."
    return (
        f"Limits come with {MIN_VALUES_FOR_LIMITS} values; "
        f"there {'is' if last.n == 1 else 'are'} {last.n} so far."
    )


def _findings(analysis: Analysis, verdict: Verdict, background: Background) -> str:
    """Count the findings of the last segment, beside what chance alone would bring."""
    settings, segment = analysis.settings, len(analysis.segments) - 1
    raising = settings.rules if background.raising is None else background.raising & settings.rules
    if not raising:
        return ""
    happenings = happenings_of(analysis) if background.happenings is None else background.happenings
    count = int((happenings.raised_by(raising) & (happenings.segments == segment)).sum())
    where = "in this segment" if segment else "so far"
    if not count:
        return f"No findings {where}."
    text = f"{counted(count)} finding{'' if count == 1 else 's'}"
    if background.unexplained is None or background.logged != count:
        text = f"{text} {where}"
    elif not background.unexplained:
        text = f"{text}, {'its cause' if count == 1 else 'all causes'} on record"
    else:
        without = counted(background.unexplained).lower()
        some = background.unexplained < count
        text = f"{text}, {without} without a cause" if some else f"{text} without a cause"
    last = analysis.segments[-1]
    values = int(analysis.series.included[last.start : last.stop].sum())
    # What chance would bring says nothing of limits that do not fit.
    fits = verdict.is_predictable and verdict.far_off is None
    if values < VALUES_FOR_CHANCE or not fits or not background.by_chance:
        return f"{text}."
    expected = findings_by_chance(analysis, segment, raising)
    return f"{text}{BY_CHANCE}{_about(expected)}."


def _about(expected: float) -> str:
    if expected < 0.05:
        return "hardly any"
    return f"about {expected:,.0f}" if expected >= 1.5 else f"about {expected:.1f}"


def _firmness(last: Segment, words: Words) -> str:
    if last.firmness is not Firmness.PROVISIONAL:
        return ""
    return f"Provisional limits: {last.n} of {words.periods(MIN_VALUES_FOR_FIRM_LIMITS)}."
