"""Frames of values: what is written of a KPI, a row for each period and breakdown."""

from typing import Any

import polars as pl

from fluctus.kpis.models import Value

FRAME: dict[str, pl.DataType | type[pl.DataType]] = {
    "period": pl.Float64,
    "breakdown": pl.String,
    "value": pl.Float64,
    "numerator": pl.Float64,
    "denominator": pl.Float64,
    "target": pl.Float64,
    "target_high": pl.Float64,
    "rows": pl.Int64,
    "note": pl.String,
    "set_aside": pl.Boolean,
    "reason": pl.String,
    "typed": pl.Boolean,
}
"""The columns of a frame of values; periods in seconds since 1970."""

DEFAULTS = {
    "breakdown": "",
    "numerator": None,
    "denominator": None,
    "target": None,
    "target_high": None,
    "rows": 1,
    "note": "",
    "set_aside": False,
    "reason": "",
    "typed": False,
}
KEY = ["period", "breakdown"]
CONTENT = ["value", "numerator", "denominator", "target", "target_high"]
"""What makes two values of one period the same, besides the note."""


def frame_of(rows: list[dict[str, Any]]) -> pl.DataFrame:
    """Build a frame of values; each row needs a period and a value, the rest has defaults."""
    columns = {
        name: pl.Series(name, [row.get(name, DEFAULTS.get(name)) for row in rows], dtype=kind)
        for name, kind in FRAME.items()
    }
    return pl.DataFrame(columns)


def row_of(value: Value) -> dict[str, Any]:
    """Return one value as a row of a frame."""
    return {name: getattr(value, name) for name in FRAME} | {"period": value.period.timestamp()}
