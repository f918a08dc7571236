"""How a line says what it is made from, and where its name or its number is to be doubted."""

import re
from dataclasses import dataclass

from fluctus.core.context.references import Reference, Statistic
from fluctus.core.words.numbers import NumberStyle, rounded

TIMES = "\N{MULTIPLICATION SIGN}"
FAR = 5
"""A typed level so many times beyond the values is questioned."""

YEARS = range(1900, 2100)
"""Numbers in a name that tell when, not how much."""

CLAIMS = {
    "mean": Statistic.MEAN,
    "average": Statistic.MEAN,
    "avg": Statistic.MEAN,
    "median": Statistic.MEDIAN,
    "percentile": Statistic.PERCENTILE,
    "minimum": Statistic.MINIMUM,
    "min": Statistic.MINIMUM,
    "lowest": Statistic.MINIMUM,
    "maximum": Statistic.MAXIMUM,
    "max": Statistic.MAXIMUM,
    "highest": Statistic.MAXIMUM,
    "sum": Statistic.SUM,
    "total": Statistic.SUM,
}
"""Words in the name of a line that claim a statistic."""


def say_made(reference: Reference, numbers: NumberStyle) -> str:
    """Say how a reference value is made: ``90th percentile + 2.0 min``."""
    number = plain(reference.number)
    said = {
        Statistic.PERCENTILE: f"{ordinal(number)} percentile",
        Statistic.PERCENT_OF_MAXIMUM: f"{number}% of the maximum",
        Statistic.CONSTANT: "constant"
        if reference.is_plain
        else numbers.level_amount(reference.number),
    }.get(reference.statistic, reference.statistic.value)
    if reference.factor != 1:
        said += f" {TIMES} {plain(reference.factor)}"
    if reference.amount:
        sign = "+" if reference.amount > 0 else "\N{MINUS SIGN}"
        said += f" {sign} {numbers.small_amount(abs(reference.amount))}"
    return said


def doubt_name(name: str, reference: Reference, says: str) -> str | None:
    """Return what is wrong with a name that claims another statistic or number than is made."""
    words = re.findall(r"[a-z]+", name.lower())
    claimed = {CLAIMS[word] for word in words if word in CLAIMS}
    statistic = reference.statistic
    if statistic is Statistic.PERCENT_OF_MAXIMUM:
        statistic = Statistic.MAXIMUM
    # A constant may be anybody's average, of anything.
    if claimed and statistic not in claimed and statistic is not Statistic.CONSTANT:
        word = next(word for word in words if word in CLAIMS)
        return f"The name says {word}; the line is {says}."
    stated = [float(text) for text in re.findall(r"\d+(?:\.\d+)?", name)]
    meant = (
        reference.number,
        reference.factor,
        100 * reference.factor,
        100 * abs(reference.factor - 1),
        abs(reference.amount),
    )
    if reference.statistic is Statistic.CONSTANT and reference.is_plain:
        return None
    for number in stated:
        if number.is_integer() and number in YEARS:
            continue
        if not any(abs(number - other) < 1e-9 * max(1.0, abs(other)) for other in meant):
            return f"The name says {plain(number)}; the line is {says}."
    return None


@dataclass(frozen=True, slots=True)
class FarOff:
    """A level far beyond the values, and the one that may be meant: a decimal mark apart."""

    text: str
    instead: float | None


def doubt_level(level: float, low: float, high: float, numbers: NumberStyle) -> FarOff | None:
    """Question a typed ``level`` that is far off values from ``low`` to ``high``."""
    reach = max(abs(low), abs(high))
    if reach == 0 or abs(level) < FAR * reach:
        return None
    times = abs(level) / reach
    which = "highest" if level > 0 else "lowest"
    said = f"{rounded(times, 0):,.0f} times the {which} value."
    spread = high - low
    meant = [level / 10**power for power in range(1, 7)]
    instead = next((other for other in meant if low - spread <= other <= high + spread), None)
    ask = "" if instead is None else f" Did you mean {numbers.level_amount(instead)}?"
    return FarOff(said + ask, instead)


def plain(number: float) -> str:
    """Write a number as short as it can be: ``1.25``, ``90``."""
    return f"{number:,.10g}"


def ordinal(number: str) -> str:
    """Write a number as a place: ``90th``, ``1st``, ``2.5th``."""
    if "." in number or number[-2:] in ("11", "12", "13"):
        return f"{number}th"
    return number + {"1": "st", "2": "nd", "3": "rd"}.get(number[-1], "th")
