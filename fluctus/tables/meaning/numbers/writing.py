"""The ways of writing numbers: one entry each, with examples of what it reads.

A cell goes through all of them in turn; each takes away what it knows, until digits are left.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from fluctus.tables.meaning.dates import in_digits
from fluctus.tables.meaning.numbers.durations import UNIT as CLOCK_UNIT
from fluctus.tables.meaning.numbers.durations import Clock, in_minutes
from fluctus.tables.meaning.numbers.units import CURRENCY, known_unit


class DecimalMark(StrEnum):
    """What stands before the fraction."""

    POINT = "point"
    COMMA = "comma"


SIGN: Final = {DecimalMark.POINT: ".", DecimalMark.COMMA: ","}
SPACES: Final = str.maketrans(
    "",
    "",
    " \N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}\N{THIN SPACE}'\N{RIGHT SINGLE QUOTATION MARK}",
)
SIGNS: Final = {"\N{ARABIC THOUSANDS SEPARATOR}": "", "\N{MINUS SIGN}": "-", "\N{HYPHEN}": "-"}
"""Signs that are read as others, or not at all."""
ARABIC_MARK: Final = "\N{ARABIC DECIMAL SEPARATOR}"
WITH_UNIT: Final = re.compile(r"(?P<number>.*[\d.,)\-])\s*(?P<unit>[^\d\s.,()+\-'][^\d()]*)")
SCALES: Final = {
    **{"k": 1e3, "K": 1e3, "M": 1e6, "Mn": 1e6, "mn": 1e6},
    **{"bn": 1e9, "Bn": 1e9, "BN": 1e9},
}
SCALED: Final = re.compile(r"(?P<number>.*\d[.,]?)(?P<scale>k|K|Mn|mn|M|bn|Bn|BN)")
NOTE_MARK: Final = re.compile(
    r"(?<=[\d%])\s*(?:[*\u2020\u2021]{1,3}|[\u00b9\u00b2\u00b3\u2070-\u2079]{1,2}|\[\w{1,2}\]"
    r"|\((?:p|r|e|rev|prov|est)\.?\))$"
)
DIGITS: Final = {
    DecimalMark.POINT: re.compile(
        r"[+-]?(\d{1,3}(,\d{3})+|\d{1,2}(,\d\d)+,\d{3}|\d+)?(\.\d*)?(e[+-]?\d+)?%?"
    ),
    DecimalMark.COMMA: re.compile(r"[+-]?(\d{1,3}(\.\d{3})+|\d+)?(,\d*)?(e[+-]?\d+)?%?"),
}
"""What has to be left in the end: digits, in groups or not, with a fraction and an exponent."""
LARGEST: Final = 1e30
"""The largest number that is a value: squares of larger ones, and their sums, could overflow."""
LONGEST: Final = 400
"""Characters of a cell that may be a number."""


@dataclass(frozen=True, slots=True)
class Way:
    """How the cells of a column are read."""

    mark: DecimalMark
    clock: Clock = Clock.MINUTES
    own_unit: str = ""
    """A unit that is not known, which most of them carry."""
    with_letters: bool = False
    """Whether durations are written with letters, so that ``45m`` is one."""


@dataclass(frozen=True, slots=True)
class Amount:
    """What a cell holds: a number, and the unit that it carries itself."""

    value: float
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Written:
    """A cell of which something has been taken away: what is left, and what that says."""

    text: str
    unit: str = ""
    times: float = 1.0


@dataclass(frozen=True, slots=True)
class NumberPattern:
    """One thing that people write in a number: what is left without it; None for no number.

    ``examples`` are cells with the number and the unit that each is, with a point before the
    fraction; those of ``with_comma`` have a comma there.
    """

    name: str
    take: Callable[[Written, Way], Written | None]
    examples: dict[str, tuple[float, str]]
    with_comma: dict[str, tuple[float, str]]


def _digits(cell: Written, way: Way) -> Written:
    return replace(cell, text=in_digits(cell.text))


def _note_mark(cell: Written, way: Way) -> Written:
    return replace(cell, text=NOTE_MARK.sub("", cell.text))


def _signs(cell: Written, way: Way) -> Written:
    text = cell.text.replace(ARABIC_MARK, SIGN[way.mark])
    for sign, plain in SIGNS.items():
        text = text.replace(sign, plain)
    return replace(cell, text=text)


def _currency(cell: Written, way: Way) -> Written:
    found = CURRENCY.search(cell.text)
    if found is None:
        return cell
    return replace(cell, text=CURRENCY.sub("", cell.text).strip(), unit=found[0].rstrip("."))


def _unit(cell: Written, way: Way) -> Written | None:
    if cell.unit or SCALED.fullmatch(cell.text.translate(SPACES)):
        return cell
    behind = WITH_UNIT.fullmatch(cell.text)
    if behind is None or re.fullmatch(r"(?i)e[+-]?", behind["unit"]):
        return cell
    own = behind["unit"].strip()
    unit = own if own == way.own_unit else known_unit(own)
    return replace(cell, text=behind["number"], unit=unit) if unit else None


def _groups(cell: Written, way: Way) -> Written:
    return replace(cell, text=cell.text.translate(SPACES))


def _negative(cell: Written, way: Way) -> Written | None:
    text = cell.text
    if text.startswith("(") and text.endswith(")"):
        text = text[1:-1]
    elif text.endswith("-"):
        text = text[:-1]
    else:
        return cell
    return None if text[:1] in ("+", "-") else replace(cell, text=text, times=-cell.times)


def _scale(cell: Written, way: Way) -> Written:
    found = SCALED.fullmatch(cell.text)
    if found is None:
        return cell
    return replace(cell, text=found["number"], times=cell.times * SCALES[found["scale"]])


NUMBER_PATTERNS: Final = (
    NumberPattern(
        "digits of any script",
        _digits,
        {"\u0661\u0662": (12, ""), "\u0967\u0968": (12, ""), "\u06f1\u06f2": (12, "")},
        {},
    ),
    NumberPattern(
        "the mark of a note, or that it is provisional",
        _note_mark,
        {"42*": (42, ""), "42 (p)": (42, ""), "1.5\u00b9": (1.5, ""), "42 [a]": (42, "")},
        {"1,5 (r)": (1.5, "")},
    ),
    NumberPattern(
        "signs of other scripts",
        _signs,
        {"\u22125": (-5, ""), "1\u066c234": (1234, ""), "1\u066b5": (1.5, "")},
        {"1\u066b5": (1.5, "")},
    ),
    NumberPattern(
        "a currency, before or behind",
        _currency,
        {"\u20ac12": (12, "\u20ac"), "12 kr": (12, "kr"), "Rs 1,200": (1200, "Rs")},
        {"R$ 3,50": (3.5, "R$"), "12,50 \u20ac": (12.5, "\u20ac")},
    ),
    NumberPattern(
        "a unit behind it",
        _unit,
        {"412 kg": (412, "kg"), "5 \u00b0C": (5, "\u00b0C"), "94.5%": (94.5, "%")},
        {"3,5 t": (3.5, "t")},
    ),
    NumberPattern(
        "blanks and apostrophes between groups",
        _groups,
        {"1 204 500": (1204500, ""), "1'204": (1204, ""), "12,34,500": (1234500, "")},
        {"1\u00a0204,5": (1204.5, ""), "1.204,5": (1204.5, "")},
    ),
    NumberPattern(
        "brackets, or a sign behind it, for what is below nothing",
        _negative,
        {"(20)": (-20, ""), "20-": (-20, "")},
        {"(1.204,5)": (-1204.5, "")},
    ),
    NumberPattern(
        "thousands, millions and milliards",
        _scale,
        {"12k": (12e3, ""), "1.5M": (1.5e6, ""), "2bn": (2e9, "")},
        {"1,5 Mn": (1.5e6, "")},
    ),
)
"""In the order in which they are taken away."""


def read_amount(cell: str, way: Way) -> Amount | None:
    """Return what a cell holds; None where it is not a number."""
    text = cell.strip()
    if len(text) > LONGEST:
        return None
    minutes = in_minutes(in_digits(text), way.clock, with_letters=way.with_letters)
    if minutes is not None:
        hours = way.clock is Clock.HOURS
        return Amount(minutes / 60 if hours else minutes, CLOCK_UNIT[way.clock])
    left = Written(text)
    for pattern in NUMBER_PATTERNS:
        taken = pattern.take(left, way)
        if taken is None:
            return None
        left = taken
    digits = left.text.lower()
    if not any(map(str.isdigit, digits)) or not DIGITS[way.mark].fullmatch(digits):
        return None
    value = float(without_groups(digits, SIGN[way.mark])) * left.times
    return Amount(value, left.unit) if abs(value) <= LARGEST else None


def without_groups(text: str, sign: str) -> str:
    """Return a number as Python reads it; ``sign`` stands before its fraction."""
    text = text.rstrip("%")
    return text.replace(",", "") if sign == "." else text.replace(".", "").replace(",", ".")
