"""What a column holds: dates, numbers, or something else."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum

import polars as pl

from fluctus.tables.meaning.dates import NUMBER_STYLES, DateStyle, may_be_dates, read_dates
from fluctus.tables.meaning.numbers import MISSING, DecimalMark, plain_columns, read_numbers
from fluctus.tables.meaning.words import NOTE, as_words

ENOUGH = 0.6
"""Share of the filled cells that must fit for a column to be of a kind."""
SOME = 0.2
FEWEST_NUMBERS = 3
MOST_WORDS = 4
"""So many different words may stand among values, and at least this share be numbers."""
SAMPLE = 20_000
SOME_CELLS = 60
EXCEPTIONS_SHOWN = 5
NAMED_LIKE_DATES = re.compile(
    r"\b(date|day|week|month|quarter|year|period|time|hour|when|timestamp|fy|datum|tag|woche|monat|jahr)\b",
    re.IGNORECASE,
)


class ColumnKind(StrEnum):
    """What a column is taken for."""

    DATE = "date"
    NUMBER = "number"
    TEXT = "text"


@dataclass(frozen=True, slots=True)
class Column:
    """A column's name, kind, and how many of its filled cells fit the kind.

    ``exceptions`` are the first cells that do not; ``different`` counts its
    different filled cells, all of these among the cells that were looked at.
    """

    name: str
    kind: ColumnKind
    share: float
    exceptions: tuple[str, ...] = ()
    different: int = 0
    filled: int = 0


def understand_all(
    names: Sequence[str], cells: pl.DataFrame, absent: Collection[str] = ()
) -> tuple[Column, ...]:
    """Find out what the columns of a table are; those of plain numbers, however many, at once."""
    head = cells.head(SAMPLE)
    plain = set(plain_columns(head, DecimalMark.POINT))
    filled = head.select((pl.all() != "").sum()).row(0)
    different = head.select(pl.all().n_unique()).row(0)
    found = []
    for n, name in enumerate(names):
        first = [cell for cell in head.to_series(n).head(SOME_CELLS) if cell]
        if head.columns[n] in plain and first and not may_be_dates(first):
            unlike = different[n] - (filled[n] < head.height)
            found.append(Column(name, ColumnKind.NUMBER, 1.0, (), unlike, filled[n]))
        else:
            found.append(understand(name, cells.to_series(n), absent))
    return tuple(found)


def understand(name: str, cells: pl.Series, absent: Collection[str] = ()) -> Column:
    """Find out what the ``cells`` of a column are, from as many as tell.

    ``absent`` are words for a value that is not there, besides the usual ones.
    """
    looked_at = cells.head(SAMPLE)
    filled = looked_at.filter(~looked_at.str.to_lowercase().is_in([*MISSING, *absent]))
    if filled.is_empty():
        return Column(name, ColumnKind.TEXT, 0.0)
    dates = read_dates(filled)
    different = filled.n_unique()

    def column(kind: ColumnKind, unfit: pl.Series) -> Column:
        exceptions = tuple(filled.filter(unfit).unique(maintain_order=True)[:EXCEPTIONS_SHOWN])
        return Column(name, kind, _share_fit(unfit), exceptions, different, len(filled))

    no_dates = dates.wall.is_null()
    as_dates = _share_fit(no_dates)
    if as_dates == 1 and dates.style not in NUMBER_STYLES:
        return column(ColumnKind.DATE, no_dates)
    no_numbers = read_numbers(filled).unfit
    as_numbers = _share_fit(no_numbers)
    if as_dates >= ENOUGH and dates.style in NUMBER_STYLES:
        if as_dates == 1 and _numbers_are_dates(name, filled, dates.style):
            return column(ColumnKind.DATE, no_dates)
    elif as_dates >= ENOUGH and as_dates >= as_numbers:
        return column(ColumnKind.DATE, no_dates)
    if as_numbers >= ENOUGH or _words_among_numbers(name, filled, no_numbers):
        return column(ColumnKind.NUMBER, no_numbers)
    return Column(name, ColumnKind.TEXT, 1.0, (), different, len(filled))


def _share_fit(unfit: pl.Series) -> float:
    return 1 - float(unfit.mean() or 0)  # type: ignore[arg-type]


def _words_among_numbers(name: str, filled: pl.Series, unfit: pl.Series) -> bool:
    """Tell values that now and then are words, as "offline" or "closed", from a list of names."""
    numbers, words = filled.filter(~unfit), filled.filter(unfit).unique()
    return (
        len(numbers) >= len(filled) * SOME
        and numbers.n_unique() >= FEWEST_NUMBERS
        and len(words) <= MOST_WORDS
        and not words.str.contains(r"\d").any()
        and not NOTE.search(as_words(name))
    )


def _numbers_are_dates(name: str, filled: pl.Series, style: DateStyle) -> bool:
    """Tell years, spreadsheet days and epochs from values: by the name, or by how they run."""
    if NAMED_LIKE_DATES.search(as_words(name)):
        return True
    if style is DateStyle.COMPACT_DAY:
        return True  # Eight digits that are all days are hardly anything else.
    if style is DateStyle.COMPACT_MONTH:
        months = read_dates(filled, style).wall.unique().sort()
        between = months.dt.year() * 12 + months.dt.month()
        return len(months) > 2 and bool((between.diff().drop_nulls() == 1).all())
    numbers = filled.cast(pl.Float64, strict=False).drop_nulls()
    steps = numbers.diff().drop_nulls()
    if len(steps) < 2 or not (steps > 0).all():
        return False
    if style is DateStyle.YEAR:
        return bool((steps == 1).all())
    if style is DateStyle.SERIAL:
        return bool((steps == 1).all() or (steps == 7).all())
    minute = 60_000 if style is DateStyle.EPOCH_MILLISECONDS else 60
    return bool((steps % minute == 0).all())
