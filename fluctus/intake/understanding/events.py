"""Events that are counted: none in a period is a count too, and what goes on is counted on."""

import numpy as np
import polars as pl

from fluctus.core.arrays import Floats
from fluctus.kpis.calendar import DAYS_LONG, Calendar, Grain
from fluctus.kpis.observations.frame import frame_of

EVENTS = "Events"
OPEN = "Open at the end"
SINCE = "Time since the one before"
SECONDS_A_DAY = 86_400
MOST_PERIODS = 100_000
"""Of a longer stretch, periods without an event are left out."""


def with_quiet_periods(frame: pl.DataFrame, calendar: Calendar, grain: Grain) -> pl.DataFrame:
    """Count no event in the periods between the first and the last that have none."""
    if frame.is_empty():
        return frame
    parts = frame["breakdown"].unique(maintain_order=True).to_list()
    periods = _periods(frame, calendar, grain)
    zeros = frame_of(
        [
            {"period": float(period), "breakdown": part, "value": 0.0}
            for part in parts
            for period in np.setdiff1d(
                periods, frame.filter(pl.col("breakdown") == part)["period"].to_numpy()
            )[: MOST_PERIODS // len(parts)]
        ]
    )
    return pl.concat([frame, zeros]).sort("period", "breakdown")


def _periods(frame: pl.DataFrame, calendar: Calendar, grain: Grain) -> Floats:
    """Return the starts of all periods from the first of a frame to its last."""
    first, last = frame["period"].min(), frame["period"].max()
    assert isinstance(first, float), "a frame with periods in it"
    assert isinstance(last, float), "a frame with periods in it"
    # No period is shorter than the step, whatever a clock change makes of a day.
    step = DAYS_LONG[grain] * SECONDS_A_DAY / 2
    periods = np.unique(calendar.starts(np.arange(first, last, step), grain))[:MOST_PERIODS]
    return np.union1d(periods, frame["period"].to_numpy())


def open_at_the_end(
    begun: Floats, ended: Floats, frame: pl.DataFrame, calendar: Calendar, grain: Grain
) -> pl.DataFrame:
    """Return how many had begun and not ended when each period did, of all parts together.

    Parts add up, and periods do not: no one way to combine them would be right for both.
    ``ended`` is NaN for what goes on; ``frame`` has a value for each period in which one began.
    """
    if frame.is_empty():
        return frame
    periods = _periods(frame, calendar, grain)
    step = DAYS_LONG[grain] * SECONDS_A_DAY * 1.5
    ends = np.append(periods[1:], calendar.starts(np.array([periods[-1] + step]), grain))
    over = np.sort(ended[~np.isnan(ended)])
    counts = np.searchsorted(np.sort(begun), ends) - np.searchsorted(over, ends)
    return frame_of(
        [
            {"period": float(period), "breakdown": "", "value": float(count)}
            for period, count in zip(periods, counts, strict=True)
        ]
    )
