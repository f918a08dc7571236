"""A list of single happenings, a row each: counted, how long they took, what share was right.

Such a list has a moment for each row and no column of amounts; columns are made of it that a
KPI can be made from, with the names that say so.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import polars as pl

from fluctus.intake.understanding.events import EVENTS, OPEN, SINCE
from fluctus.intake.understanding.mapping import Counted
from fluctus.intake.understanding.proposals import is_identity
from fluctus.tables.meaning.columns import Column, ColumnKind
from fluctus.tables.meaning.dates import read_dates
from fluctus.tables.meaning.layout import LongTable
from fluctus.tables.meaning.words import NOTE, as_words, listed

YES: Final = listed(
    "yes, y, true, pass, passed, ok, okay, done, on time, good, success, hit, ja, j, oui, o,"
    "sí, si, sim, tak, ano, kyllä, evet, да, ✓, ✔, 是, はい"
)
NO: Final = listed(
    "no, n, false, fail, failed, nok, not ok, open, late, bad, failure, miss, missed, nein, non,"
    "nei, nej, nee, não, nao, nie, ne, ei, нет, ні, ✗, ✘, 否, いいえ"
)
START: Final = re.compile(
    r"\b(start(ed)?|begin|began|begun|from|open(ed)?|reported|created|received|raised|arriv(al|ed)"
    r"|in|checked in|beginn|d\u00e9but|inicio)\b",
    re.IGNORECASE,
)
END: Final = re.compile(
    r"\b(end(ed)?|finish(ed)?|until|to|clos(ed|ure)|resolved|completed|departed|departure|left|out"
    r"|checked out|ende|fin)\b",
    re.IGNORECASE,
)
SCALES: Final = ((2 * 86_400.0, "d", 86_400.0), (2 * 3600.0, "h", 3600.0), (0.0, "min", 60.0))
"""From which usual length on durations are told in which unit, and its seconds."""


@dataclass(frozen=True, slots=True)
class Happenings:
    """A list of happenings with the columns that were made of it."""

    long: LongTable
    answered: tuple[str, ...] = ()
    """Columns of yes and no that became numbers."""
    ended: pl.Series | None = None
    """When each ended, as a clock on the wall shows it; null for what goes on."""


def happenings_in(
    long: LongTable, columns: Sequence[Column], counted: Counted | None
) -> Happenings | None:
    """Return a list of happenings with numbers made of it; None where a table is no such list.

    ``counted`` says what becomes of yes and no; None: the share of yes.
    """
    kinds = [column.kind for column in columns]
    amounts = [
        column for column in columns if column.kind is ColumnKind.NUMBER and not is_identity(column)
    ]
    if ColumnKind.DATE not in kinds or amounts or long.sources is not None:
        return None
    words = [column.name for column in columns if column.kind is ColumnKind.TEXT]
    noted = bool(words) and all(NOTE.search(as_words(name)) for name in words)
    if not noted and _are_even(read_dates(long.cells.to_series(kinds.index(ColumnKind.DATE))).wall):
        return None
    told = Happenings(_with_ones(long))
    answers = [n for n, column in enumerate(columns) if _is_answered(long, n, column)]
    for number in answers[:1]:
        told = _with_answers(told, number, counted or Counted.SHARE)
    return _with_durations(_with_time_between(told, columns), columns)


def _are_even(wall: pl.Series) -> bool:
    """Tell whether moments come one by one at even steps: periods, of which each is there once."""
    steps = wall.drop_nulls().diff().drop_nulls()
    return len(steps) > 0 and steps.n_unique() == 1 and steps[0].total_seconds() != 0


def _with_ones(long: LongTable) -> LongTable:
    return _with_column(long, EVENTS, _ones(long))


def _ones(long: LongTable) -> pl.Series:
    return pl.Series(["1"]).new_from_index(0, len(long.lines))


def _with_column(long: LongTable, name: str, cells: pl.Series) -> LongTable:
    cells = cells.alias(f"c{len(long.names)}")
    return replace(long, names=(*long.names, name), cells=long.cells.with_columns(cells))


def _is_answered(long: LongTable, number: int, column: Column) -> bool:
    """Tell whether a column holds yes and no, or words that mean that, and both of them."""
    if column.kind is not ColumnKind.TEXT or not 1 < column.different <= 4:
        return False
    words = set(long.cells.to_series(number).str.to_lowercase().unique()) - {""}
    return words <= YES | NO and bool(words & YES) and bool(words & NO)


def _with_answers(told: Happenings, number: int, counted: Counted) -> Happenings:
    cells = told.long.cells.to_series(number).str.to_lowercase()
    yes, no = ("100%", "0%") if counted is Counted.SHARE else ("1", "0")
    text = pl.when(cells.is_in(list(YES))).then(pl.lit(yes)).when(cells.is_in(list(NO)))
    numbers = pl.select(text.then(pl.lit(no)).otherwise(pl.lit(""))).to_series()
    name = told.long.names[number]
    share = f"{name}, share of yes" if counted is Counted.SHARE else f"{name}, number of yes"
    return replace(told, long=_with_column(told.long, share, numbers), answered=(name,))


def _with_time_between(told: Happenings, columns: Sequence[Column]) -> Happenings:
    """Add how long it was since the one before, in order of time."""
    at = next(n for n, column in enumerate(columns) if column.kind is ColumnKind.DATE)
    wall = read_dates(told.long.cells.to_series(at)).wall
    order = wall.arg_sort(nulls_last=True)
    steps = wall.gather(order).diff().dt.total_seconds().cast(pl.Float64)
    return _with_time(told, SINCE, steps.gather(order.arg_sort()))


def _with_time(told: Happenings, name: str, seconds: pl.Series) -> Happenings:
    """Add a column of durations, in the unit in which they are usually told."""
    usual = seconds.filter(seconds >= 0).median()
    if not isinstance(usual, float):
        return told
    unit, size = next((unit, size) for least, unit, size in SCALES if usual >= least)
    texts = (seconds / size).round(4).cast(pl.String).fill_null("")
    return replace(told, long=_with_column(told.long, f"{name} ({unit})", texts))


def _with_durations(told: Happenings, columns: Sequence[Column]) -> Happenings:
    """Add how long each took where one column of moments begins it, and another ends it."""
    dated = [n for n, column in enumerate(columns) if column.kind is ColumnKind.DATE]
    if len(dated) != 2:
        return told
    names = [as_words(columns[n].name) for n in dated]
    if not (START.search(names[0]) or END.search(names[1])) or END.search(names[0]):
        return told
    begun, ended = (read_dates(told.long.cells.to_series(n)).wall for n in dated)
    seconds = (ended - begun).dt.total_seconds().cast(pl.Float64)
    if int((seconds < 0).sum()) > len(seconds) * 0.05 or not (seconds >= 0).any():
        return told
    told = replace(_with_time(told, "How long", seconds), ended=ended)
    return replace(told, long=_with_column(told.long, OPEN, _ones(told.long)))
