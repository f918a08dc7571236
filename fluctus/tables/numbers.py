"""Columns of numbers: the decimal mark is decided from the whole column."""

import re
from dataclasses import dataclass
from enum import StrEnum

MISSING = frozenset(
    {"", "-", "--", "\N{EN DASH}", "\N{EM DASH}", ".", "n/a", "na", "nan", "null", "none", "nil",
     "#n/a", "missing", "no data"}
)  # fmt: skip
"""The usual words for a value that is not there, in lower case."""

SPACES = str.maketrans(
    "",
    "",
    " \N{NO-BREAK SPACE}\N{NARROW NO-BREAK SPACE}\N{THIN SPACE}'\N{RIGHT SINGLE QUOTATION MARK}",
)


class DecimalMark(StrEnum):
    """What stands before the fraction."""

    POINT = "point"
    COMMA = "comma"


PATTERNS = {
    DecimalMark.POINT: re.compile(r"[+-]?(\d{1,3}(,\d{3})+|\d+)?(\.\d*)?(e[+-]?\d+)?%?"),
    DecimalMark.COMMA: re.compile(r"[+-]?(\d{1,3}(\.\d{3})+|\d+)?(,\d*)?(e[+-]?\d+)?%?"),
}


@dataclass(frozen=True, slots=True)
class NumberColumn:
    """The cells of a column as numbers: None where missing or not a number."""

    mark: DecimalMark
    values: list[float | None]
    misfits: list[int]
    """Which cells are neither a number nor missing."""
    missing: int
    decimals: int
    """The most digits found after the decimal mark."""


def is_missing(cell: str) -> bool:
    """Tell whether a cell says that there is no value."""
    return cell.lower() in MISSING


def looks_like_number(cell: str) -> bool:
    """Tell whether a cell is a number in either way of writing."""
    return any(_parse(cell, mark) is not None for mark in DecimalMark)


def read_numbers(cells: list[str], mark: DecimalMark | None = None) -> NumberColumn:
    """Read a column; ``mark`` None takes the decimal mark that more cells fit, a point if equal."""
    if mark is not None:
        return _read(cells, mark)
    point, comma = (_read(cells, one) for one in DecimalMark)
    return comma if len(comma.misfits) < len(point.misfits) else point


def _read(cells: list[str], mark: DecimalMark) -> NumberColumn:
    values = [None if is_missing(cell) else _parse(cell, mark) for cell in cells]
    misfits = [n for n, v in enumerate(values) if v is None and not is_missing(cells[n])]
    missing = sum(is_missing(cell) for cell in cells)
    point = "." if mark is DecimalMark.POINT else ","
    digits = [
        len(re.match(r"\d*", cell.partition(point)[2])[0])  # type: ignore[index]
        for cell, value in zip(cells, values, strict=True)
        if value is not None
    ]
    return NumberColumn(mark, values, misfits, missing, max(digits, default=0))


def _parse(cell: str, mark: DecimalMark) -> float | None:
    text = cell.translate(SPACES).replace("\N{MINUS SIGN}", "-").lower()
    if not any(c.isdigit() for c in text) or not PATTERNS[mark].fullmatch(text):
        return None
    text = text.rstrip("%")
    text = (
        text.replace(",", "")
        if mark is DecimalMark.POINT
        else text.replace(".", "").replace(",", ".")
    )
    value = float(text)
    return value if abs(value) <= 1e300 else None
