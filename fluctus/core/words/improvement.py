"""What came of an improvement, in words; of what is not beyond chance nothing is claimed."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.finders import Side
from fluctus.core.judgment.improvement import EARLY, Improvement, ImprovementState
from fluctus.core.words.numbers import NumberStyle
from fluctus.core.words.wording import counted, in_a_row

STATE_NAMES = {
    ImprovementState.NO_BASELINE: "No baseline yet",
    ImprovementState.TOO_EARLY: "Too early",
    ImprovementState.NO_SIGN: "No sign yet",
    ImprovementState.SIGN: "A sign",
    ImprovementState.MOVED: "It moved",
    ImprovementState.HELD: "It held",
    ImprovementState.FADED: "Faded",
    ImprovementState.OTHER_WAY: "The other way",
}


COUNTED = {
    ImprovementState.NO_BASELINE: "without a baseline",
    ImprovementState.TOO_EARLY: "too early to tell",
    ImprovementState.NO_SIGN: "with no sign yet",
    ImprovementState.SIGN: "with a sign",
    ImprovementState.MOVED: "moved",
    ImprovementState.HELD: "held",
    ImprovementState.FADED: "faded",
    ImprovementState.OTHER_WAY: "went the other way",
}
"""What is said of some of them, behind how many they are."""
CENTS = 2
VERBS = {Side.LOWER: ("saved", "added"), Side.UPPER: ("gained", "lost")}
"""What came of it for the better and for the worse, by the wanted side."""


@dataclass(frozen=True, slots=True)
class ImprovementWords:
    """What is said with: ``grain`` is "week" and the like, ``date`` when it began, as text.

    ``faded_from`` names the period from which it went back. ``worth`` and ``worth_unit`` are what
    a unit in a period is worth.
    """

    numbers: NumberStyle
    grain: str
    date: str
    faded_from: str = ""
    worth: float | None = None
    worth_unit: str = ""


def say_improvement(found: Improvement, wanted: Side, words: ImprovementWords) -> str:
    """Say what has come of an improvement so far."""
    state = found.state
    if state is ImprovementState.NO_BASELINE:
        return say_too_few(found.n, f"before {words.date}")
    if not found.m:
        return f"Nothing to go by yet: no value since {words.date}."
    passed = f"{counted(found.m)} {words.grain if found.m == 1 else words.grain + 's'} in"
    if state is ImprovementState.TOO_EARLY:
        return f"{passed}: too early to say anything before {counted(EARLY).lower()}."
    if state is ImprovementState.NO_SIGN:
        return f"{passed}: no sign of it. {_within(found, wanted, words)}"
    off = _off(found, words)
    if state is ImprovementState.SIGN:
        return (
            f"{passed}: a signal the wanted way, but no evidence yet that the level changed. "
            f"{_brought(found, wanted, words)}"
        )
    if state is ImprovementState.MOVED:
        return f"{passed}: {off}, beyond chance. {_brought(found, wanted, words)}"
    if state is ImprovementState.HELD:
        return f"{passed}, and it holds: {off}, beyond chance. {_brought(found, wanted, words)}"
    if state is ImprovementState.FADED:
        since = f" since {words.faded_from}" if words.faded_from else ""
        return f"It moved, and has gone back{since}: now {off}. {_brought(found, wanted, words)}"
    return f"{passed}: {off}, the other way and beyond chance. {_brought(found, wanted, words)}"


def say_too_few(n: int, where: str) -> str:
    """Say that ``n`` values are too few for a baseline, which takes them ``where`` it says."""
    have = f"{'is' if n == 1 else 'are'} {counted(n).lower()}"
    few = counted(MIN_VALUES_FOR_LIMITS).lower()
    return f"A baseline takes {few} values {where}; there {have}."


def say_brought(brought: float, band: float, wanted: Side, words: ImprovementWords) -> str:
    """Say what came of it: ``54 min saved so far, give or take 9``."""
    for_better, for_worse = VERBS[wanted]
    numbers = words.numbers
    amount, room = rounded_to_band(abs(brought), band, numbers.level_decimals, numbers.power)
    unit = "points" if numbers.in_percent else numbers.unit
    style = NumberStyle(unit, numbers.power, *room)
    verb = for_better if brought >= 0 else for_worse
    text = f"{style.amount(amount)} {verb} so far, give or take {style.value(band)}"
    if words.worth:
        worth = say_worth(abs(brought) * words.worth, band * words.worth, words.worth_unit)
        text += f", worth {worth}"
    return text


def say_worth(amount: float, band: float, unit: str) -> str:
    """Write what something is worth: ``€540, give or take €90``."""
    told, room = rounded_to_band(amount, band, CENTS)
    least, _ = rounded_to_band(band, band, CENTS)
    style = NumberStyle(unit, 0, *room)
    return f"{style.amount(told)}, give or take {style.amount(least)}"


def rounded_to_band(
    amount: float, band: float, finest: int, power: int = 0
) -> tuple[float, tuple[int, int]]:
    """Round an amount to the second digit of its band, which says no more of it.

    Returns it with the decimals that it is written with, as value and as level, in ten to the
    ``power``; no more than the ``finest``, which it has where there is no band.
    """
    finest -= power
    digits = min(finest, 1 - math.floor(math.log10(band))) if band > 0 else finest
    decimals = max(0, digits + power)
    return float(round(amount, digits)), (decimals, decimals)


def _brought(found: Improvement, wanted: Side, words: ImprovementWords) -> str:
    return f"Some {say_brought(found.brought, found.band, wanted, words)}."


def _within(found: Improvement, wanted: Side, words: ImprovementWords) -> str:
    if abs(found.brought) <= found.band:
        said = say_brought(found.brought, found.band, wanted, words)
        return f"What came so far may be chance: {said}."
    return _brought(found, wanted, words)


def _off(found: Improvement, words: ImprovementWords) -> str:
    difference = found.now - found.average
    amount = words.numbers.level_difference(abs(difference))
    return f"{amount} {'less' if difference < 0 else 'more'} than before"


def say_improvements(count: int, states: Mapping[ImprovementState, int]) -> str:
    """Say how many improvements there are, and in which states: ``5 improvements: 3 held, …``."""
    noun = "improvement" if count == 1 else "improvements"
    told = [f"{states[state]} {words}" for state, words in COUNTED.items() if states.get(state)]
    return f"{count} {noun}: {in_a_row(told[::-1])}." if told else f"{count} {noun}."
