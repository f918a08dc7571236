"""Columns of numbers: the decimal mark is decided from the whole column."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

import polars as pl

MISSING = frozenset(
    {
        "",
        "-",
        "--",
        "\N{EN DASH}",
        "\N{EM DASH}",
        ".",
        "?",
        "n/a",
        "na",
        "nan",
        "null",
        "none",
        "nil",
        "missing",
        "no data",
        "not available",
        "(blank)",
        "#n/a",
        "#n/a n/a",
        "#div/0!",
        "#value!",
        "#ref!",
        "#name?",
        "#num!",
        "#null!",
        "#spill!",
        "#calc!",
        "#getting_data",
        "#error!",
    }
)
"""The usual words for a value that is not there, in lower case."""

SPACES = str.maketrans(
    "",
    "",
    " \N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}\N{THIN SPACE}'\N{RIGHT SINGLE QUOTATION MARK}",
)
CURRENCY = re.compile(
    r"[$\N{POUND SIGN}\N{EURO SIGN}\N{YEN SIGN}\N{INDIAN RUPEE SIGN}]"
    r"|\b(?:EUR|USD|GBP|CHF|NOK|SEK|DKK|JPY|kr)\b\.?",
    re.IGNORECASE,
)
SCALES = {"k": 1e3, "K": 1e3, "M": 1e6, "Mn": 1e6, "mn": 1e6, "bn": 1e9, "Bn": 1e9, "BN": 1e9}
SCALED = re.compile(r"(?P<number>.*\d[.,]?)(?P<scale>k|K|Mn|mn|M|bn|Bn|BN)")
DURATION = re.compile(
    r"(?P<minus>-?)(?:(?P<h>\d+):(?P<m>[0-5]\d)|(?P<minutes>\d{1,4})):(?P<s>[0-5]\d(?:[.,]\d+)?)"
)
"""Hours, minutes and seconds, or minutes and seconds; read in minutes."""
UNDECIDED = re.compile(r"[+-]?\d{1,3}([.,])\d{3}")
"""A number with one mark and three digits behind it: thousands, or a fraction."""
LARGEST = 1e30
"""The largest number that is a value: squares of larger ones, and their sums, could overflow."""
MOST_LOOKED_AT = 5_000
SURE_DIGITS = 15
"""So many significant digits every double keeps."""


class DecimalMark(StrEnum):
    """What stands before the fraction."""

    POINT = "point"
    COMMA = "comma"


SIGN = {DecimalMark.POINT: ".", DecimalMark.COMMA: ","}
PATTERNS = {
    DecimalMark.POINT: re.compile(r"[+-]?(\d{1,3}(,\d{3})+|\d+)?(\.\d*)?(e[+-]?\d+)?%?"),
    DecimalMark.COMMA: re.compile(r"[+-]?(\d{1,3}(\.\d{3})+|\d+)?(,\d*)?(e[+-]?\d+)?%?"),
}


@dataclass(frozen=True, slots=True)
class NumberColumn:
    """The cells of a column as numbers, null where missing or not a number."""

    mark: DecimalMark
    numbers: pl.Series
    unfit: pl.Series
    """Where a cell is neither a number nor missing."""
    missing: int
    decimals: int
    """The most digits found after the decimal mark."""
    unit: str
    """A unit that the cells themselves carry: ``%``, a currency mark, ``min`` for durations."""
    rounded: list[int]
    """Which cells have more digits than a double keeps."""

    @property
    def values(self) -> list[float | None]:
        """The numbers as a list."""
        return self.numbers.to_list()

    @property
    def misfits(self) -> list[int]:
        """Which cells are neither a number nor missing."""
        return self.unfit.arg_true().to_list()


def is_missing(cell: str) -> bool:
    """Tell whether a cell says that there is no value."""
    return cell.lower() in MISSING


def looks_like_number(cell: str) -> bool:
    """Tell whether a cell is a number in either way of writing."""
    return any(_parse(cell, mark) is not None for mark in DecimalMark)


def parse_number(cell: str, mark: DecimalMark) -> float | None:
    """Read one cell; None where it is missing or not a number."""
    return None if is_missing(cell) else _parse(cell, mark)


def read_numbers(cells: Sequence[str] | pl.Series, mark: DecimalMark | None = None) -> NumberColumn:
    """Read a column; ``mark`` None takes the decimal mark that more cells fit, a point if equal."""
    column = pl.Series("cell", cells, dtype=pl.String)
    if mark is not None:
        return _read(column, mark)
    point = _read(column, DecimalMark.POINT)
    if not point.unfit.any():
        return point
    comma = _read(column, DecimalMark.COMMA)
    return comma if comma.unfit.sum() < point.unfit.sum() else point


@dataclass(frozen=True, slots=True)
class MarkChoice:
    """The decimal mark of a whole table; ``undecided`` is a cell that leaves it open, or ""."""

    mark: DecimalMark
    undecided: str = ""


def decide_mark(columns: Sequence[pl.Series]) -> MarkChoice:
    """Decide the decimal mark of a table from all its columns of numbers at once.

    Each different cell that only one mark can read is a vote for that. Where there
    is none, and cells such as ``1.234`` could be read either way, it is open.
    """
    votes = dict.fromkeys(DecimalMark, 0)
    undecided = ""
    for column in columns:
        marked = column.filter(column.str.contains(r"[.,]")).unique(maintain_order=True)
        for cell in marked.head(MOST_LOOKED_AT):
            fits = [mark for mark in DecimalMark if parse_number(cell, mark) is not None]
            if len(fits) == 1:
                votes[fits[0]] += 1
            elif len(fits) == 2 and not undecided and UNDECIDED.fullmatch(cell.strip()):
                undecided = cell.strip()
    point, comma = votes[DecimalMark.POINT], votes[DecimalMark.COMMA]
    mark = DecimalMark.COMMA if comma > point else DecimalMark.POINT
    return MarkChoice(mark, "" if point or comma else undecided)


def _read(column: pl.Series, mark: DecimalMark) -> NumberColumn:
    sign = SIGN[mark]
    plain = column.str.contains(rf"^-?\d{{1,15}}(\{sign}\d+)?$") & (column.str.len_bytes() < 17)
    usual = column.set(~plain, None)
    quick = (usual.str.replace(",", ".", literal=True) if sign == "," else usual).cast(pl.Float64)
    # What is written in any other way is read cell by cell, each different one once.
    others = column.filter(~plain).unique(maintain_order=True)
    parsed = [parse_number(cell, mark) for cell in others]
    readings = pl.DataFrame(
        {
            "cell": others,
            "number": pl.Series(parsed, dtype=pl.Float64),
            "absent": pl.Series([is_missing(cell) for cell in others], dtype=pl.Boolean),
        }
    )
    read = column.to_frame("cell").join(readings, on="cell", how="left", maintain_order="left")
    numbers = quick.fill_null(read["number"])
    absent = read["absent"].fill_null(value=False)
    digits = usual.str.extract(rf"\{sign}(\d+)$").str.len_bytes().fill_null(0)
    decimals = [
        _decimals(cell, sign)
        for cell, value in zip(others, parsed, strict=True)
        if value is not None
    ]
    lossy = [
        cell
        for cell, value in zip(others, parsed, strict=True)
        if value is not None and _loses_digits(cell, value, sign)
    ]
    return NumberColumn(
        mark=mark,
        numbers=numbers,
        unfit=numbers.is_null() & ~absent,
        missing=int(absent.sum()),
        decimals=max([*digits.unique().to_list(), *decimals], default=0),
        unit=_unit(others.to_list()),
        rounded=column.is_in(lossy).arg_true().to_list() if lossy else [],
    )


def _parse(cell: str, mark: DecimalMark) -> float | None:
    duration = DURATION.fullmatch(cell.strip())
    if duration:
        seconds = float(duration["s"].replace(",", "."))
        whole = int(duration["minutes"] or int(duration["h"]) * 60 + int(duration["m"]))
        minutes = whole + seconds / 60
        return -minutes if duration["minus"] else minutes
    text = CURRENCY.sub("", cell).translate(SPACES).replace("\N{MINUS SIGN}", "-")
    if not any(c.isdigit() for c in text):
        return None
    negative = False
    if text.startswith("(") and text.endswith(")"):
        text, negative = text[1:-1], True
    elif text.endswith("-"):
        text, negative = text[:-1], True
    scale = 1.0
    if scaled := SCALED.fullmatch(text):
        text, scale = scaled["number"], SCALES[scaled["scale"]]
    text = text.lower()
    if not PATTERNS[mark].fullmatch(text) or (negative and text[0] in "+-"):
        return None
    value = float(_plain(text, SIGN[mark])) * scale
    return (-value if negative else value) if abs(value) <= LARGEST else None


def _plain(text: str, sign: str) -> str:
    text = text.rstrip("%")
    return text.replace(",", "") if sign == "." else text.replace(".", "").replace(",", ".")


def _decimals(cell: str, sign: str) -> int:
    if SCALED.search(cell) or DURATION.fullmatch(cell.strip()):
        return 1 if ":" in cell else 0
    match = re.match(r"\d*", cell.partition(sign)[2])
    return len(match[0]) if match else 0


def _loses_digits(cell: str, value: float, sign: str) -> bool:
    text = _plain(cell.translate(SPACES).lower(), sign)
    digits = re.sub(r"e.*$|\D", "", text).strip("0")
    if len(digits) <= SURE_DIGITS or not re.fullmatch(r"[+-]?\d*\.?\d*(e[+-]?\d+)?", text):
        return False
    # Digits that the shortest way to write the double still has are not lost.
    return Decimal(text) != Decimal(repr(value))


def _unit(cells: list[str]) -> str:
    """Return the unit that most of the cells carry themselves."""
    units: dict[str, int] = {}
    for cell in cells:
        mark = CURRENCY.search(cell)
        unit = (
            "%"
            if cell.rstrip().endswith("%")
            else mark[0].rstrip(".")
            if mark
            else "min"
            if DURATION.fullmatch(cell.strip())
            else ""
        )
        units[unit] = units.get(unit, 0) + (not is_missing(cell))
    best = max(units, key=lambda unit: units[unit], default="")
    return best if units.get(best, 0) else ""
