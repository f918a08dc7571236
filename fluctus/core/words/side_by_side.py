"""What is said of parts, pairs and happenings side by side: no more than the numbers support."""

from collections.abc import Sequence

from fluctus.core.analysis.finders import Side
from fluctus.core.arrays import Floats
from fluctus.core.context.pairs import FEWEST, LagPoint, PairLine
from fluctus.core.judgment.coincidence import SHIFTS, Together
from fluctus.core.judgment.parts import PartsCompared
from fluctus.core.judgment.placements import BY_CHANCE, Placed
from fluctus.core.judgment.shift_evidence import EDGE, FEWEST_FOR_EVIDENCE, evidence_at
from fluctus.core.words.numbers import MINUS, NumberStyle, percent_of_all
from fluctus.core.words.wording import counted

MOST_NAMED = 3
RARELY = 0.05
"""The share of random shifts below which chance is no explanation."""
LITTLE = 0.5
"""Pairs that say as much as fewer than this share of them would are warned of."""


def say_parts(compared: PartsCompared | None, names: Sequence[str], numbers: NumberStyle) -> str:
    """Answer whether the parts differ: ``Ainsey is higher than chance explains: 12.4 min …``."""
    if compared is None:
        return "There are too few values to tell whether the parts differ."
    known = [
        (name, part) for name, part in zip(names, compared.parts, strict=True) if part is not None
    ]
    differing = [(name, part) for name, part in known if part.side is not Side.NEITHER]
    differing.sort(key=lambda pair: -abs(pair[1].average - compared.average))
    if not differing:
        return (
            f"The {counted(len(known)).lower()} parts do not differ by more than chance explains."
        )
    told = [
        f"{name} is {'higher' if part.side is Side.UPPER else 'lower'} than chance explains: "
        f"{numbers.level(part.average)} against {numbers.level_amount(compared.average)}."
        for name, part in differing[:MOST_NAMED]
    ]
    more = len(differing) - len(told)
    if more:
        told.append(f"So {'is' if more == 1 else 'are'} {counted(more).lower()} more.")
    return " ".join(told)


def say_equation(line: PairLine, x: str, y: str, of_x: NumberStyle, of_y: NumberStyle) -> str:
    """Write a line as people do: ``Waste = 12.4 kg + 0.045 kg for each L of Fuel``."""
    sign = "+" if line.slope >= 0 else MINUS
    for_each = f"for each {of_x.unit} of {x}" if of_x.unit else f"for each of {x}"
    return (
        f"{y} = {of_y.small_amount(line.start)} {sign} "
        f"{of_y.small_amount(abs(line.slope))} {for_each}"
    )


def say_pair(line: PairLine | None, at: LagPoint, names: tuple[str, str]) -> str:
    """Say how closely two go together, and whether chance alone would do as much."""
    x, y = names
    if line is None or at.correlation is None or at.noise is None:
        return f"{x} and {y} have {at.n:,} periods in common: a line takes {FEWEST} that vary."
    if at.noise > 1:
        return (
            f"Whether {x} and {y} go together cannot be told: values follow the ones before, so "
            f"that {at.n:,} pairs say as much as {_few(at)} would."
        )
    if abs(at.correlation) <= at.noise:
        return (
            f"{x} and {y} do not go together more than chance explains: "
            f"r {_signed(at.correlation)} of {at.n:,} pairs, chance reaches ±{at.noise:.2f}."
        )
    way = "higher" if at.correlation > 0 else "lower"
    text = (
        f"Where {x} is higher, {y} tends to be {way}: a line explains "
        f"{percent_of_all(line.r_squared)} of its variance, over {at.n:,} pairs"
    )
    if at.effective is not None and at.effective < LITTLE * at.n:
        return f"{text}, which say as much as {_few(at)} independent ones."
    return f"{text}."


def _few(at: LagPoint) -> str:
    return f"{max(1, round(at.effective or 0)):,}"


def _signed(value: float) -> str:
    return f"{'+' if value > 0 else MINUS if value < 0 else ''}{abs(value):.2f}"


def say_placed(placed: Placed) -> str:
    """Say how often a set of periods differs as much from the rest wherever in time it lies."""
    text = (
        f"A difference of the means as large comes in {placed.as_large:,} of {placed.count:,} "
        "placements of these periods in time"
    )
    return f"{text}: {'chance alone explains it' if placed.share >= BY_CHANCE else 'rarely'}."


def say_evidence(values: Floats, split_at: int) -> str:
    """Say whether values before and after a place differ by more than random order would."""
    if not EDGE <= split_at <= len(values) - EDGE or len(values) < FEWEST_FOR_EVIDENCE:
        return "There are too few values to tell whether that is more than chance."
    if evidence_at(values, split_at):
        return "The same values in random order differ as much less than 1 time in 100."
    return "No evidence of a change: the same values in random order differ as much by chance."


def say_chance(together: Together) -> str:
    """Say how often as many would fall together by chance, so that nobody makes more of it."""
    times = round(together.chance * SHIFTS)
    share = f"{times:,} of {SHIFTS:,} ({percent_of_all(together.chance)}) random shifts"
    often = share if times else "none of the random shifts"
    text = f"{counted(together.series)} or more fell together in {often}"
    how = "no more than chance brings" if chance_explains(together) else "rarely by chance"
    return f"{text}: {how}."


def chance_explains(together: Together) -> bool:
    """Tell whether as many fall together often enough by chance alone."""
    return together.chance >= RARELY
