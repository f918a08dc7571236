"""Columns of numbers: the decimal mark is decided from the whole column."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import lru_cache

import polars as pl

from fluctus.tables.meaning.dates import in_digits
from fluctus.tables.meaning.numbers.durations import Clock, is_duration
from fluctus.tables.meaning.numbers.missing import is_missing
from fluctus.tables.meaning.numbers.units import FRACTION, factor, same_unit
from fluctus.tables.meaning.numbers.writing import (
    ARABIC_MARK,
    LARGEST,
    SCALED,
    SIGN,
    SPACES,
    Amount,
    DecimalMark,
    Way,
    read_amount,
    without_groups,
)

PERCENT = "%"
LARGEST_FRACTION = 1.5
TIMES_LARGER = 10
"""Percentages are at least so many times the fractions that stand beside them."""
OWN_UNIT_SHARE = 0.6
UNDECIDED = re.compile(r"[+-]?\d{1,3}([.,])\d{3}")
"""A number with one mark and three digits behind it: thousands, or a fraction."""
SMALLEST = 1 / LARGEST
"""The smallest number but 0 that is typed: squares of much smaller ones vanish."""
LONGEST_PLAIN = 17
"""Characters of a plain number all of whose digits a double keeps."""
MOST_LOOKED_AT = 1_000
SURE_DIGITS = 15
"""So many significant digits every double keeps."""


PLAIN = {mark: rf"-?[0-9]{{1,15}}(\{sign}[0-9]+)?" for mark, sign in SIGN.items()}
"""Digits with at most one mark, told at once."""
SURE = {
    mark: rf"^-?([0-9]+{sign}([0-9]{{1,2}}|[0-9]{{4,}})|[0-9]{{4,}}{sign}[0-9]+)$"
    for mark, sign in ((DecimalMark.POINT, r"\."), (DecimalMark.COMMA, ","))
}
"""Numbers that only one mark can read, told at once."""


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
    """The unit that most cells carry themselves: ``%``, a currency mark, ``min`` for durations."""
    units: dict[str, int]
    """All of these, and how many cells carry each."""
    own_units: pl.Series
    """The unit that each cell carries itself; "" for none."""
    rounded: list[int]
    """Which cells have more digits than a double keeps."""
    of_most_only: bool = False
    """Whether numbers in other units than most are left out."""

    @property
    def values(self) -> list[float | None]:
        """The numbers as a list."""
        return self.numbers.to_list()

    def of_one_unit(self) -> "NumberColumn":
        """Return the column without the numbers whose unit is not that of most."""
        other = (self.own_units != "") & (self.own_units != self.unit)
        return replace(self, numbers=self.numbers.set(other, None), of_most_only=True)

    @property
    def units_told(self) -> str:
        """The units with how many cells carry each: ``kg (12) and g (3)``."""
        return " and ".join(f"{unit} ({count:,})" for unit, count in self.units.items())

    @property
    def converts(self) -> bool:
        """Whether all of its units are sure to be converted to that of most."""
        return all(factor(unit, self.unit) is not None for unit in self.units)

    @property
    def misfits(self) -> list[int]:
        """Which cells are neither a number nor missing."""
        return self.unfit.arg_true().to_list()


@lru_cache(maxsize=50_000)
def looks_like_number(cell: str) -> bool:
    """Tell whether a cell is a number in either way of writing."""
    return any(read_amount(cell, Way(mark)) is not None for mark in DecimalMark)


def parse_number(cell: str, mark: DecimalMark) -> float | None:
    """Read one cell; None where it is missing or not a number."""
    amount = None if is_missing(cell) else read_amount(cell, Way(mark))
    return None if amount is None else amount.value


def read_numbers(
    cells: Sequence[str] | pl.Series,
    mark: DecimalMark | None = None,
    clock: Clock = Clock.MINUTES,
    to: str = "",
    absent: Collection[str] = (),
) -> NumberColumn:
    """Read a column; ``mark`` None takes the decimal mark that more cells fit, a point if equal.

    ``clock`` says what durations of two numbers are; amounts in other units than ``to`` are
    converted to that where it is sure. ``absent`` are words for a value that is not there.
    """
    column = pl.Series("cell", cells, dtype=pl.String)
    if absent:
        column = column.set(column.str.to_lowercase().is_in(list(absent)), "")
    if not to and (plain := _read_plain(column, mark or DecimalMark.POINT)) is not None:
        return plain
    way = Way(mark or DecimalMark.POINT, clock, _own_unit(column), _has_letters(column))
    if mark is not None:
        return _read(column, way, to)
    with_comma = replace(way, mark=DecimalMark.COMMA)
    with_comma_alone = column.str.contains(SURE[DecimalMark.COMMA]).any()
    if with_comma_alone and (plain := _read_plain(column, DecimalMark.COMMA)) is not None:
        return plain
    point = _read(column, way, to)
    if not point.unfit.any():
        return point
    comma = _read(column, with_comma, to)
    return comma if comma.unfit.sum() < point.unfit.sum() else point


def _has_letters(column: pl.Series) -> bool:
    return bool(
        column.str.contains(r"(?i)^-?(\d+\s?[dh]\w*\s?)+\d+\s?(h|m|s|min|sec)\w*\.?$").any()
    )


def _own_unit(column: pl.Series) -> str:
    """Return a word that stands behind most numbers of a column, as a unit that is not known.

    Written small, as "boxes" is: names of places and people begin with a capital.
    """
    behind = column.str.extract(r"^[\d.,\s]*\d\s([a-z][a-z/ ]{1,14})$").drop_nulls()
    usual = behind.value_counts(sort=True).row(0) if len(behind) else ("", 0)
    filled = int((column != "").sum())
    return str(usual[0]) if usual[1] > max(2, filled * OWN_UNIT_SHARE) else ""


@dataclass(frozen=True, slots=True)
class MarkChoice:
    """The decimal mark of a whole table; ``undecided`` is a cell that leaves it open, or "".

    ``told`` where a number can be read with this mark alone.
    """

    mark: DecimalMark
    undecided: str = ""
    told: bool = False


def decide_mark(columns: Sequence[pl.Series]) -> MarkChoice:
    """Decide the decimal mark of a table from all its columns of numbers at once.

    Each different cell that only one mark can read is a vote for that. Where there
    is none, and cells such as ``1.234`` could be read either way, it is open.
    """
    votes = dict.fromkeys(DecimalMark, 0)
    undecided = ""
    for column in columns:
        has_mark = column.str.contains(r"[.,]")
        if not has_mark.any():
            continue
        marked = column.filter(has_mark).unique(maintain_order=True)
        for mark, pattern in SURE.items():
            sure = marked.str.contains(pattern)
            votes[mark] += int(sure.sum())
            marked = marked.filter(~sure)
        for cell in marked.head(MOST_LOOKED_AT):
            fits = [mark for mark in DecimalMark if parse_number(cell, mark) is not None]
            if len(fits) == 1:
                votes[fits[0]] += 1
            elif len(fits) == 2 and not undecided and UNDECIDED.fullmatch(cell.strip()):
                undecided = cell.strip()
    point, comma = votes[DecimalMark.POINT], votes[DecimalMark.COMMA]
    mark = DecimalMark.COMMA if comma > point else DecimalMark.POINT
    told = point + comma > 0
    return MarkChoice(mark, "" if told else undecided, told)


def _read_plain(column: pl.Series, mark: DecimalMark) -> NumberColumn | None:
    """Read a column of plain numbers and empty cells; None where there is any other cell."""
    return read_plain(column.to_frame(), mark).get(column.name)


def read_plain(cells: pl.DataFrame, mark: DecimalMark) -> dict[str, NumberColumn]:
    """Read the columns of plain numbers and empty cells at once, however many there are."""
    sign, names = SIGN[mark], plain_columns(cells, mark)
    if not names:
        return {}
    texts = cells.select(names).lazy()
    digits = pl.all().str.extract(rf"\{sign}(\d+)$").str.len_bytes().max().fill_null(0)
    if mark is DecimalMark.COMMA:
        numbers = texts.select(pl.all().str.replace(",", ".", literal=True))
    else:
        numbers = texts
    numbers = numbers.select(pl.all().cast(pl.Float64, strict=False))
    read, decimals, empty = pl.collect_all(
        [numbers, texts.select(digits), texts.select((pl.all() == "").sum())]
    )
    unfit = pl.Series([False]).new_from_index(0, cells.height)
    no_unit = pl.Series([""]).new_from_index(0, cells.height)
    return {
        column.name: NumberColumn(
            mark, column, unfit, missing, most_decimals, "", {}, no_unit, rounded=[]
        )
        for column, missing, most_decimals in zip(read, empty.row(0), decimals.row(0), strict=True)
    }


def plain_columns(cells: pl.DataFrame, mark: DecimalMark) -> list[str]:
    """Return which columns hold nothing but plain numbers and empty cells."""
    short = pl.all().str.len_bytes().max() < LONGEST_PLAIN
    plain = cells.select(pl.all().str.contains(f"^({PLAIN[mark]})?$").all() & short).row(0)
    return [name for name, fits in zip(cells.columns, plain, strict=True) if fits]


def _is_plain(column: pl.Series, mark: DecimalMark) -> pl.Series:
    """Tell which cells are digits with at most one mark, of which a double keeps all."""
    plain = column.str.contains(f"^{PLAIN[mark]}$")
    return plain & (column.str.len_bytes() < LONGEST_PLAIN)


def _read(column: pl.Series, way: Way, to: str) -> NumberColumn:
    sign = SIGN[way.mark]
    plain = _is_plain(column, way.mark)
    usual = column.set(~plain, None)
    quick = (usual.str.replace(",", ".", literal=True) if sign == "," else usual).cast(pl.Float64)
    # What is written in any other way is read cell by cell, each different one once.
    others = column.filter(~plain).unique(maintain_order=True)
    amounts = [None if is_missing(cell) else read_amount(cell, way) for cell in others]
    if to:
        amounts = [one and _converted(one, to) for one in amounts]
        quick = quick * (factor(FRACTION, to) or 1.0) if to == PERCENT else quick
    readings = pl.DataFrame(
        {
            "cell": others,
            "number": pl.Series([one and one.value for one in amounts], dtype=pl.Float64),
            "absent": pl.Series([is_missing(cell) for cell in others], dtype=pl.Boolean),
            "unit": pl.Series([one.unit if one else "" for one in amounts], dtype=pl.String),
        }
    )
    read = column.to_frame("cell").join(readings, on="cell", how="left", maintain_order="left")
    numbers = quick.fill_null(read["number"])
    absent = read["absent"].fill_null(value=False)
    digits = usual.str.extract(rf"\{sign}(\d+)$").str.len_bytes().fill_null(0)
    found = [(cell, one) for cell, one in zip(others, amounts, strict=True) if one is not None]
    lossy = [cell for cell, one in found if _loses_digits(cell, one.value, sign)]
    own_units = _own_units(read["unit"].fill_null(""), numbers)
    units = dict(
        own_units.filter((own_units != "") & numbers.is_not_null())
        .value_counts(sort=True)
        .iter_rows()
    )
    return NumberColumn(
        mark=way.mark,
        numbers=numbers,
        unfit=numbers.is_null() & ~absent,
        missing=int(absent.sum()),
        decimals=max(
            [*digits.unique().to_list(), *(_decimals(cell, sign) for cell, _ in found)], default=0
        ),
        unit=to or max(filter(None, units), key=units.__getitem__, default=""),
        units=units,
        own_units=own_units,
        rounded=column.is_in(lossy).arg_true().to_list() if lossy else [],
    )


def _converted(amount: Amount, to: str) -> Amount | None:
    """Return an amount in another unit; None where that is not sure."""
    times = factor(amount.unit or (FRACTION if to == PERCENT else to), to)
    return None if times is None else Amount(amount.value * times, to)


def _own_units(units: pl.Series, numbers: pl.Series) -> pl.Series:
    """Name the units of cells, one name for each: that which most of them have.

    Numbers without a unit beside percentages are fractions where these are many times as large.
    """
    shown: dict[str, str] = {}
    for unit, _ in units.value_counts(sort=True).iter_rows():
        shown.setdefault(same_unit(unit), unit)
    different = units.unique()
    names = {unit: shown[same_unit(unit)] for unit in different}
    named = units if len(names) < 2 else units.replace_strict(names)
    if PERCENT not in shown or "" not in shown:
        return named
    bare = (named == "") & numbers.is_not_null()
    with_sign = numbers.filter(named == PERCENT).abs()
    return (
        named.set(bare, FRACTION) if _as_fractions(with_sign, numbers.filter(bare).abs()) else named
    )


def _as_fractions(percents: pl.Series, others: pl.Series) -> bool:
    largest, usual = others.max(), percents.median()
    return (
        isinstance(largest, float)
        and isinstance(usual, float)
        and largest <= LARGEST_FRACTION
        and usual > TIMES_LARGER * largest
    )


def _decimals(cell: str, sign: str) -> int:
    if SCALED.search(cell) or is_duration(cell):
        return 1 if is_duration(cell) else 0
    match = re.match(r"\d*", in_digits(cell).replace(ARABIC_MARK, sign).partition(sign)[2])
    return len(match[0]) if match else 0


def _loses_digits(cell: str, value: float, sign: str) -> bool:
    text = without_groups(cell.translate(SPACES).lower(), sign)
    digits = re.sub(r"e.*$|\D", "", text).strip("0")
    if len(digits) <= SURE_DIGITS or not re.fullmatch(r"[+-]?\d*\.?\d*(e[+-]?\d+)?", text):
        return False
    # Digits that the shortest way to write the double still has are not lost.
    return Decimal(text) != Decimal(repr(value))
