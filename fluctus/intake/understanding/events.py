"""A list of dates, with or without notes: each row is an event, and they are counted."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import polars as pl

from fluctus.kpis.calendar import DAYS_LONG, Calendar, Grain
from fluctus.kpis.observations.frame import frame_of
from fluctus.tables.meaning.columns import Column, ColumnKind
from fluctus.tables.meaning.layout import LongTable
from fluctus.tables.meaning.words import NOTE, as_words

EVENTS = "Events"
SECONDS_A_DAY = 86_400
MOST_PERIODS = 100_000
"""Of a longer stretch, periods without an event are left out."""


def is_list_of_events(columns: Sequence[Column]) -> bool:
    """Tell whether a table has dates and nothing else but notes."""
    kinds = [column.kind for column in columns]
    others = [column for column in columns if column.kind is not ColumnKind.DATE]
    return kinds.count(ColumnKind.DATE) == 1 and all(
        column.kind is ColumnKind.TEXT and bool(NOTE.search(as_words(column.name)))
        for column in others
    )


def with_events(long: LongTable) -> LongTable:
    """Give each row of a list of events a one to be counted."""
    ones = pl.Series(EVENTS, ["1"]).new_from_index(0, len(long.lines))
    return replace(
        long,
        names=(*long.names, EVENTS),
        cells=long.cells.with_columns(ones.alias(f"c{len(long.names)}")),
    )


def with_quiet_periods(frame: pl.DataFrame, calendar: Calendar, grain: Grain) -> pl.DataFrame:
    """Count no event in the periods between the first and the last that have none."""
    if frame.is_empty():
        return frame
    first, last = frame["period"][0], frame["period"][-1]
    # No period is shorter than the step, whatever a clock change makes of a day.
    step = DAYS_LONG[grain] * SECONDS_A_DAY / 2
    periods = np.unique(calendar.starts(np.arange(first, last, step), grain))[:MOST_PERIODS]
    quiet = np.setdiff1d(periods, frame["period"].to_numpy())
    zeros = frame_of([{"period": float(period), "value": 0.0} for period in quiet])
    return pl.concat([frame, zeros]).sort("period", "breakdown")
