"""Cells that have a type, written the one way that reads back the same."""

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from typing import Any, Final

import polars as pl

WHOLE_BELOW: Final = 1e15
PLAIN_FROM: Final = 1e-4
"""Numbers from here up to the other are written without an exponent by all."""


def plain(cell: object) -> str:
    """Write a typed cell as text: dates as ISO, numbers with a decimal point."""
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "true" if cell else "false"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < WHOLE_BELOW else repr(cell)
    if isinstance(cell, datetime):
        text = cell.isoformat(" ", "seconds")
        return text.removesuffix(" 00:00:00")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, time):
        return cell.isoformat("seconds")
    if isinstance(cell, timedelta):
        seconds = round(cell.total_seconds())
        hours, rest = divmod(abs(seconds), 3600)
        return f"{'-' if seconds < 0 else ''}{hours}:{rest // 60:02}:{rest % 60:02}"
    if isinstance(cell, (dict, list)):
        return ""
    return str(cell)


def typed_texts(cells: Sequence[object], unit: str = "") -> pl.Series:
    """Write a column of typed cells as texts; numbers that are shown with a ``unit`` have it.

    The cells of each type are written at once: a sheet may have millions.
    """
    texts = pl.Series([None], dtype=pl.String).new_from_index(0, len(cells))
    for kind in set(map(type, cells)):
        of_kind = [cell if type(cell) is kind else None for cell in cells]
        texts = texts.fill_null(_written(of_kind, kind, unit))
    return texts.fill_null("")


def _written(cells: list[Any], kind: type, unit: str) -> pl.Series:
    """Write the cells of one type; null where there is none."""
    if kind is str:
        return pl.Series(cells, dtype=pl.String)
    if kind is float and not unit:
        return _numbers(cells)
    if kind is date:
        return pl.Series(cells, dtype=pl.Date).dt.strftime("%Y-%m-%d")
    if kind is datetime:
        moments = pl.Series(cells, dtype=pl.Datetime("us")).dt.strftime("%Y-%m-%d %H:%M:%S")
        return moments.str.strip_suffix(" 00:00:00")
    written = {cell: _with_unit(cell, unit) for cell in set(cells) - {None}}
    return pl.Series([written.get(cell) for cell in cells], dtype=pl.String)


def _numbers(cells: list[float | None]) -> pl.Series:
    numbers = pl.Series(cells, dtype=pl.Float64)
    size = numbers.abs()
    whole = (numbers == numbers.round(0)) & (size < WHOLE_BELOW)
    usual = size.is_between(PLAIN_FROM, WHOLE_BELOW) & ~whole
    texts = numbers.set(~whole, None).cast(pl.Int64).cast(pl.String)
    texts = texts.fill_null(numbers.set(~usual, None).cast(pl.String))
    odd = texts.is_null() & numbers.is_not_null()
    if odd.any():
        written = {number: plain(number) for number in numbers.filter(odd).unique()}
        texts = texts.fill_null(
            numbers.replace_strict(written, default=None, return_dtype=pl.String)
        )
    return texts


def _with_unit(cell: object, unit: str) -> str:
    if unit and isinstance(cell, float):
        return f"{plain(round(cell * 100, 10))}%" if unit == "%" else f"{unit} {plain(cell)}"
    return plain(cell)
