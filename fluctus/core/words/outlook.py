"""What lies ahead, in words: said only where nothing is open that would make it untrue."""

from collections.abc import Sequence

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.arrays import Bools
from fluctus.core.context.target import MeetsTarget, Target
from fluctus.core.words.wording import Words, counted

MOST_PLACES = 4
"""Places of a season that are named; more are counted."""


def say_expected(analysis: Analysis, words: Words, *, brief: bool, gaps: bool) -> str:
    """Say what to expect of one period; ``gaps`` tells whether periods are missing."""
    last, expected, numbers = analysis.segments[-1], analysis.expected(), words.numbers
    assert expected.lower is not None, "the caller has seen that there are limits"
    assert expected.upper is not None, "the caller has seen that there are limits"
    if last.lower_clipped and last.upper_clipped:
        return f"Limits reach the floor and the ceiling: any {words.grain} may be anything."
    low, high = (_limit(level, words) for level in (expected.lower, expected.upper))
    between = f"between {low} and {numbers.with_unit(high)}"
    if last.trend is not None:
        rises = "rises" if last.trend.slope > 0 else "falls"
        # A small slope has its own digits: 0.04 a week is not 0.0.
        by = numbers.small_difference(abs(last.trend.slope))
        each = "from value to value" if gaps else f"a {words.grain}"
        return f"It {rises} by {by} {each}; next, expect a value {between}."
    if last.relatives:
        return f"In season, expect the next {words.grain} {between}."
    if brief:
        return f"Expect any one {words.grain} {between}."
    return f"While nothing changes, expect any one {words.grain} {between}."


def _limit(level: float, words: Words) -> str:
    """Write a limit with as many digits as keep it on its side of the target."""
    targets = [target for target in (words.target, words.target_high) if target is not None]
    return max(
        (words.numbers.level_from(level, target) for target in targets),
        key=len,
        default=words.numbers.level(level),
    )


def say_target(analysis: Analysis, words: Words, met: Bools | None) -> str:
    """Say whether the target can be expected to be met, or how many values met it."""
    target = words.wanted(analysis.settings.direction)
    if target is None:
        return ""
    last, name = analysis.segments[-1], f"the target of {words.target_amount}"
    if last.relatives:
        return _in_season(analysis, target, words, name) or say_met_so_far(analysis, words, met)
    meets = expected_to_meet(analysis, target)
    if last.trend is not None:
        return _on_trend(analysis, target, meets, words, name) or say_met_so_far(
            analysis, words, met
        )
    if meets is MeetsTarget.ALWAYS:
        return f"Any {words.grain} can be expected to meet {name}."
    if meets is MeetsTarget.NEVER:
        return f"The process as it is does not reach {name}."
    return say_met_so_far(analysis, words, met)


def expected_to_meet(analysis: Analysis, target: Target) -> MeetsTarget:
    """Tell by the limits of the next period whether it meets the target."""
    expected = analysis.expected()
    if expected.lower is None or expected.upper is None:
        return MeetsTarget.UNKNOWN
    return target.met_between(expected.lower, expected.upper)


def meets_in_cycle(analysis: Analysis, target: Target) -> list[MeetsTarget]:
    """Tell for each place of the next cycle of a season whether it meets the target."""
    return [
        target.met_between(each.lower, each.upper)
        for each in analysis.expected_in_cycle()
        if each.lower is not None and each.upper is not None
    ]


def _in_season(analysis: Analysis, target: Target, words: Words, name: str) -> str:
    meets = meets_in_cycle(analysis, target)
    always = [at for at, each in enumerate(meets) if each is MeetsTarget.ALWAYS]
    never = [at for at, each in enumerate(meets) if each is MeetsTarget.NEVER]
    if len(always) == len(meets):
        return f"Any {words.grain} can be expected to meet {name}."
    if len(never) == len(meets):
        return f"The process as it is does not reach {name}."
    can, cannot = (_places(some, words) for some in (always, never))
    if always and never:
        return f"{_capital(can)} {name} can be expected; {cannot}, no."
    if always:
        return f"{_capital(can)} {name} can be expected; else not every time."
    if never:
        return f"{_capital(cannot)} the process as it is does not reach {name}."
    return ""


def _places(places: Sequence[int], words: Words) -> str:
    """Name places of a season: ``in October and November``, ``on Mon``, ``in 7 of 12 ...``."""
    names = [words.places[at] for at in places if at < len(words.places)]
    preposition = words.places_preposition
    if not names:
        return f"at {len(places):,} places of the season"
    if len(names) > MOST_PLACES:
        return f"{preposition} {len(names):,} of {len(words.places):,}"
    *most, last = names
    return f"{preposition} {', '.join(most)} and {last}" if most else f"{preposition} {last}"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _on_trend(
    analysis: Analysis, target: Target, meets: MeetsTarget, words: Words, name: str
) -> str:
    crossing = crosses_at(analysis, target)
    when = ""
    if crossing is not None and words.ahead is not None:
        when = f" The line crosses it {words.preposition} {words.ahead(crossing)}."
    if meets is MeetsTarget.ALWAYS:
        return f"The next {words.grain} can be expected to meet {name}.{when}"
    if meets is MeetsTarget.NEVER:
        return f"The next {words.grain} cannot be expected to meet {name}.{when}"
    return when.strip()


def crosses_at(analysis: Analysis, target: Target) -> int | None:
    """Return after how many periods from the last one a trend crosses the target.

    None where it does not within as many periods as the segment has, beyond which no line holds.
    """
    last = analysis.segments[-1]
    if last.trend is None or not last.trend.slope:
        return None
    length = last.stop - last.start
    now = last.trend.start + last.trend.slope * (length - 1)
    steps = [
        (level - now) / last.trend.slope
        for level in (target.low, target.high)
        if level is not None and (level - now) / last.trend.slope > 0
    ]
    if not steps:
        return None
    ahead = int(np.ceil(min(steps)))
    return ahead if ahead <= length else None


def say_met_so_far(analysis: Analysis, words: Words, met: Bools | None) -> str:
    """Say how many values met the target: of what is past, where nothing is said of what comes."""
    target = words.wanted(analysis.settings.direction)
    included = analysis.included_in(len(analysis.segments) - 1)
    if met is not None:
        count, name = int(met[included].sum()), "their target"
    elif target is None:
        return ""
    else:
        count = int(target.met_by(analysis.series.values[included]).sum())
        name = f"the target of {words.target_amount}"
    periods = words.periods(len(included))
    if not count:
        return f"None of {periods} met {name}."
    if count == len(included):
        return f"All {periods} met {name} so far."
    return f"{counted(count)} of {periods} met {name}."
