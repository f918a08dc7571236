"""The parts of a KPI in the periods of its chart, as tables that a difference is shared out by."""

import numpy as np
import polars as pl

from fluctus.core import Aggregation, MadeFrom
from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.core.judgment import PartTable, Whole
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import stored_of
from fluctus.kpis.derived.aligned import aligned
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import COUNTED, Observations

WHOLES = {
    Aggregation.SUM: Whole.SUM,
    Aggregation.COUNT: Whole.SUM,
    Aggregation.MEAN: Whole.MEAN,
    Aggregation.RATIO: Whole.RATIO,
}
"""Aggregations that a difference can be shared out by."""
WITHOUT_NAME = "Without a name"


def has_parts(kpi: Kpi) -> bool:
    """Tell whether there is anything that a value could be shared out among."""
    return len(kpi.breakdowns) > 1 or kpi.aggregation == Aggregation.RATIO or bool(kpi.made_by)


def table_of_parts(kpi: Kpi, chart: Chart) -> tuple[list[str], PartTable] | None:
    """Return the names of the parts and their table; None where there are none, or none add up."""
    whole = WHOLES.get(Aggregation(kpi.aggregation))
    stored = stored_of(kpi)
    if whole is None or len(kpi.breakdowns) < 2:
        return None
    data = chart.observations
    starts = stored.instants
    if data.grain is not data.stored:
        starts = data.calendar.starts(starts, data.grain)
    columns, there = _columns(data, starts)
    # In a period that is set aside as a whole, all of it is what it would be.
    takes_part = ~stored.set_aside | data.set_aside[columns]
    taken = there & takes_part
    amounts, weights = {
        Whole.SUM: (stored.values, stored.rows),
        Whole.MEAN: (stored.values * stored.rows, stored.rows),
        Whole.RATIO: (stored.numerators, stored.denominators),
    }[whole]
    shape = (len(stored.breakdowns), len(data))
    cells = stored.parts[taken] * shape[1] + columns[taken]
    table = PartTable(
        whole,
        _summed(cells, amounts[taken], shape),
        _summed(cells, weights[taken].astype(np.float64), shape),
    )
    # What has no name is a part where it has values.
    some = np.flatnonzero(~np.isnan(table.amounts).all(axis=1))
    names = [stored.breakdowns[part] or WITHOUT_NAME for part in some]
    return names, PartTable(whole, table.amounts[some], table.weights[some])


def _columns(data: Observations, starts: Floats) -> tuple[Ints, Bools]:
    """Return the period of the chart that each start is, and whether there is one at all."""
    columns = np.searchsorted(data.instants, starts).clip(0, max(0, len(data) - 1))
    return columns, np.asarray(data.instants[columns] == starts)


def _summed(cells: Ints, amounts: Floats, shape: tuple[int, int]) -> Floats:
    """Sum what falls into each cell; NaN where nothing does."""
    size = shape[0] * shape[1]
    known = ~np.isnan(amounts)
    sums = np.bincount(cells[known], amounts[known], size).astype(np.float64)
    sums[np.bincount(cells[known], minlength=size) == 0] = np.nan
    return np.asarray(sums.reshape(shape), np.float64)


def table_of_sources(kpi: Kpi, chart: Chart) -> tuple[list[str], PartTable] | None:
    """Return the two KPIs that one is the sum or the difference of, as a table of two parts."""
    sign = {MadeFrom.SUM: 1.0, MadeFrom.DIFFERENCE: -1.0}.get(MadeFrom(kpi.made_by or "ratio"))
    how = Aggregation(kpi.aggregation)
    if sign is None or len(kpi.follows) < 2 or how not in WHOLES:
        return None
    first, second = kpi.follows
    data = chart.observations
    rows = aligned(first, second, Grain(kpi.grain)).rows.filter(
        ~(pl.col("aside") | pl.col("aside_right"))
    )
    starts = rows["period"].to_numpy()
    if data.grain is not data.stored:
        starts = data.calendar.starts(starts, data.grain)
    weight = pl.lit(1) if how in COUNTED else pl.col("rows")
    sums = (
        rows.with_columns(pl.Series("start", starts))
        .group_by("start")
        .agg(
            (pl.col("value") * weight).sum(),
            (pl.col("value_right") * weight).sum(),
            weight.sum().alias("weight"),
        )
        .sort("start")
    )
    by = 1.0 if how in COUNTED else sums["weight"].to_numpy()
    sides = np.full((2, len(data)), np.nan)
    at, there = _columns(data, sums["start"].to_numpy())
    for side, name, way in ((0, "value", 1.0), (1, "value_right", sign)):
        sides[side, at[there]] = (sums[name].to_numpy() / by * way)[there]
    return [first.name, second.name], PartTable(Whole.SUM, sides, np.ones_like(sides))
