"""Events that are counted: none in a period is a count too."""

import numpy as np
import polars as pl

from fluctus.kpis.calendar import DAYS_LONG, Calendar, Grain
from fluctus.kpis.observations.frame import frame_of

EVENTS = "Events"
SECONDS_A_DAY = 86_400
MOST_PERIODS = 100_000
"""Of a longer stretch, periods without an event are left out."""


def with_quiet_periods(frame: pl.DataFrame, calendar: Calendar, grain: Grain) -> pl.DataFrame:
    """Count no event in the periods between the first and the last that have none."""
    if frame.is_empty():
        return frame
    first, last = frame["period"][0], frame["period"][-1]
    parts = frame["breakdown"].unique(maintain_order=True).to_list()
    # No period is shorter than the step, whatever a clock change makes of a day.
    step = DAYS_LONG[grain] * SECONDS_A_DAY / 2
    periods = np.unique(calendar.starts(np.arange(first, last, step), grain))[:MOST_PERIODS]
    periods = np.union1d(periods, frame["period"].to_numpy())
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
