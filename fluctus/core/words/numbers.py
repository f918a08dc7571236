"""How numbers are written: by their size, with what they are counted in.

The browser writes numbers by the same rules (``web/src/shared/numbers.ts``); one table of
cases holds both to them (``tests/core/numbers.json``).
"""

import math
import unicodedata
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Context, Decimal
from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.analysis.constants import TIE_TOLERANCE
from fluctus.core.arrays import Floats

NBSP = "\N{NO-BREAK SPACE}"
EVERY_DIGIT = Context(prec=400)
"""Room for all digits of the largest double."""


class ShownIn(StrEnum):
    """What numbers are counted in."""

    AUTOMATIC = "automatic"
    """By their size: ones, or millions and more where numbers have seven digits."""
    ONES = "ones"
    THOUSANDS = "thousands"
    MILLIONS = "millions"
    BILLIONS = "billions"
    TRILLIONS = "trillions"


POWERS: Final = {
    ShownIn.ONES: 0,
    ShownIn.THOUSANDS: 3,
    ShownIn.MILLIONS: 6,
    ShownIn.BILLIONS: 9,
    ShownIn.TRILLIONS: 12,
}
SUFFIXES: Final = {0: "", 3: "k", 6: "M", 9: "bn", 12: "tn"}
SEVEN_DIGITS: Final = 1_000_000
"""From here on a number has no decimals, and automatic ones are counted in millions."""
MOST_DECIMALS: Final = 12
SIGNIFICANT: Final = 3
SAMPLE: Final = 10_000
"""Values whose middle stands for all."""


@dataclass(frozen=True, slots=True)
class NumberStyle:
    """How the numbers of a chart are written: in ten to the ``power`` of a ``unit``.

    ``decimals`` are those of values as shown, ``level_decimals`` those of averages and limits.
    """

    unit: str = ""
    power: int = 0
    decimals: int = 1
    level_decimals: int = 1

    def value(self, value: float) -> str:
        """Write a value: ``1,234.5``, ``1.93 M``, with a currency sign before it."""
        return self._written(value, self.decimals)

    def amount(self, value: float) -> str:
        """Write a value with its unit: ``19.4 min``, ``€1.93 M``, ``94.5%``."""
        return self.with_unit(self.value(value))

    def level(self, value: float) -> str:
        """Write an average, a limit or a distance of levels."""
        return self._written(value, self.level_decimals)

    def level_amount(self, value: float) -> str:
        """Write an average, a limit or a distance of levels with its unit."""
        return self.with_unit(self.level(value))

    def level_apart(self, level: float, value: float) -> str:
        """Write a level with its unit, with as many digits as tell it from a value as written."""
        return self.with_unit(self.level_from(level, value))

    def level_from(self, level: float, value: float) -> str:
        """Write a level, with as many digits as tell it from a value as written."""
        if math.isclose(level, value, rel_tol=TIE_TOLERANCE):
            return self.level(level)
        decimals = self.level_decimals
        while decimals < MOST_DECIMALS and _rounded(
            Decimal(repr(level)).scaleb(-self.power), decimals
        ) == _rounded(Decimal(repr(value)).scaleb(-self.power), self.decimals):
            decimals += 1
        return self._written(level, decimals)

    def level_difference(self, value: float) -> str:
        """Write the distance of two levels with its unit: of two percents, in points."""
        text = self.level(value)
        return f"{text}{NBSP}points" if self.in_percent else self.with_unit(text)

    def small_difference(self, value: float) -> str:
        """Write a rate as ``small_amount`` does, of percents in points."""
        text = self._small(value)
        return f"{text}{NBSP}points" if self.in_percent else self.with_unit(text)

    @property
    def in_percent(self) -> bool:
        """Whether the unit is percent, so that differences are points."""
        return self.unit.startswith("%")

    def small_amount(self, value: float) -> str:
        """Write a rate with its unit and two digits that say something: ``0.045 s``."""
        return self.with_unit(self._small(value))

    def _small(self, value: float) -> str:
        size = significant(abs(value) / 10**self.power, 2)
        return self._written(value, max(self.level_decimals, size))

    def level_as_written(self, value: float) -> Decimal:
        """Return a level as a reader has it, so that differences can be checked."""
        scaled = Decimal(repr(value)).scaleb(-self.power)
        return _rounded(scaled, self.level_decimals).scaleb(self.power)

    def _written(self, value: float, decimals: int) -> str:
        scaled = Decimal(repr(value)).scaleb(-self.power)
        text = written(scaled, 0 if abs(scaled) >= SEVEN_DIGITS else decimals)
        sign, text = text[: text[0] == MINUS], text[text[0] == MINUS :]
        symbol, _ = _currency(self.unit)
        suffix = f"{NBSP}{SUFFIXES[self.power]}" if self.power else ""
        return f"{sign}{symbol}{text}{suffix}"

    def with_unit(self, text: str) -> str:
        """Put the unit beside a number that is written already."""
        symbol, unit = _currency(self.unit)
        if text == "1":
            unit = singular(unit)
        close_up = not unit or symbol or unit.startswith("%")
        return f"{text}{unit}" if close_up else f"{text}{NBSP}{unit}"


LEAST_PLURAL: Final = 4
"""Letters of a plural at least: ``s`` are seconds."""
MINUS = "\N{MINUS SIGN}"


def _currency(unit: str) -> tuple[str, str]:
    """Split a unit into the currency sign that stands before a number and the rest."""
    is_sign = bool(unit) and unicodedata.category(unit[0]) == "Sc"
    return (unit[0], unit[1:]) if is_sign else ("", unit)


def style_of(
    values: Floats, unit: str, decimals: int, shown_in: ShownIn = ShownIn.AUTOMATIC
) -> NumberStyle:
    """Choose how to write the numbers of a chart of ``values``, which take part and are no NaN.

    Three significant digits, or as many as tell successive values apart, but never fewer
    decimals than ``decimals``, in which the values came.
    """
    sample = np.abs(values[:: max(1, len(values) // SAMPLE)])
    sample = sample[sample > 0]
    size = float(np.median(sample)) if len(sample) else 0.0
    power = _automatic(size) if shown_in is ShownIn.AUTOMATIC else POWERS[shown_in]
    apart = float(np.abs(np.diff(values)).mean()) / 10**power if len(values) > 1 else 0.0
    useful = max(significant(size / 10**power, SIGNIFICANT), significant(apart, 1))
    if not power:
        return NumberStyle(unit, 0, decimals, min(MOST_DECIMALS, max(decimals, useful)))
    shown = min(decimals + power, useful)
    return NumberStyle(unit, power, shown, shown)


def _automatic(size: float) -> int:
    return max((power for power in SUFFIXES if power != 3 and size >= 10**power), default=0)


def significant(size: float, digits: int) -> int:
    """Return the decimals that a number of some size needs for so many significant digits."""
    if size <= 0 or math.isinf(size):
        return 0
    return min(MOST_DECIMALS, max(0, digits - 1 - math.floor(math.log10(size))))


def rounded(value: float, decimals: int) -> Decimal:
    """Round as people do, 321.25 to 321.3, and as a browser writes the same number."""
    return _rounded(Decimal(repr(value)), decimals)


def _rounded(value: Decimal, decimals: int) -> Decimal:
    return value.quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP, EVERY_DIGIT)


def written(value: Decimal, decimals: int) -> str:
    """Write a number for people: ``1,234.5``, with a true minus sign and never one before 0."""
    text = f"{_rounded(abs(value), decimals):,f}"
    negative = value < 0 and text.strip("0.,") != ""
    return f"{MINUS}{text}" if negative else text


def percent(ratio: float) -> str:
    """Write a ratio: ``94%`` for 0.94."""
    return f"{rounded(ratio * 100, 0):,f}%"


def percent_of_all(share: float) -> str:
    """Write a share from 0 to 1, where what is short of all is never ``100%``, nor some none."""
    if 0 < share < 0.005:
        return "under 1%"
    return "over 99%" if 0.995 <= share < 1 else percent(share)


def singular(unit: str) -> str:
    """Return what one of a unit is called: ``car`` of ``cars``; units that are no plural stay."""
    word = unit.lower()
    if len(word) < LEAST_PLURAL or not word.isalpha() or not word.endswith("s"):
        return unit
    if word.endswith("ies"):
        return f"{unit[:-3]}y"
    if word.endswith(("sses", "xes", "ches", "shes")):
        return unit[:-2]
    return unit if word.endswith(("ss", "us", "is")) else unit[:-1]


def roughly(number: float) -> str:
    """Write a number of one or more with the two digits it deserves: ``1,200``, ``3.4``, ``3``."""
    decimals = 1 - math.floor(math.log10(number)) if number > 0 else 0
    shown = Decimal(repr(round(number, decimals)))
    return written(shown, max(0, decimals) if shown % 1 else 0)
