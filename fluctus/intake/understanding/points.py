"""From the rows of a table to the values of a KPI: differences, factors, and one value a period."""

from dataclasses import dataclass

import numpy as np
import polars as pl

from fluctus.core import Aggregation, Parts, aggregate, differences, is_running_total, was_reset
from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.intake.understanding.mapping import KpiChoice
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.observations.frame import CONTENT, FRAME

RESET = "Meter reset"
NEEDED = (
    *("line", "instant", "period", "cell", "breakdown", "note"),
    *("numerator", "denominator", "target", "target_high"),
)
"""What the rows of every KPI have, besides its values."""
NONE = pl.DataFrame(schema=FRAME)


@dataclass(frozen=True, slots=True)
class Rows:
    """The rows of a table that can be read, each with the instant of its moment.

    ``frame`` has the columns row, line, instant, cell, kpi, breakdown, note,
    numerator, denominator, target, target_high, and one v… for each column of values.
    """

    frame: pl.DataFrame
    calendar: Calendar
    was_out_of_order: bool

    @classmethod
    def of(cls, frame: pl.DataFrame, calendar: Calendar, *, fixed_clock: bool) -> "Rows":
        """Find the instants of the rows; a ``fixed_clock`` stays on standard time all year."""
        zoned = frame["zoned"].to_numpy()
        wall = frame["wall"]
        told = calendar.instants_on_standard_time(wall) if fixed_clock else calendar.instants(wall)
        instants = np.where(zoned, wall.dt.epoch("us").to_numpy() / 1e6, told).astype(np.float64)
        if not fixed_clock:
            instants = _second_times(frame, instants, zoned, calendar)
        placed = frame.with_columns(pl.Series("instant", instants))
        by = ["kpi", "breakdown"]
        steps = placed.select(pl.col("instant").diff().over(by)).to_series().drop_nulls()
        return cls(placed, calendar, bool((steps < 0).any()))


def with_periods(rows: pl.DataFrame, calendar: Calendar, grain: Grain) -> pl.DataFrame:
    """Return rows with the start of the period that each falls in."""
    starts = calendar.starts(rows["instant"].to_numpy(), grain)
    return rows.with_columns(pl.Series("period", starts))


def _second_times(
    frame: pl.DataFrame, instants: Floats, zoned: Bools, calendar: Calendar
) -> Floats:
    """Take the second row of a clock time that a clock change repeats for the later instant."""
    wall = frame["wall"]
    later = wall.dt.replace_time_zone(
        calendar.zone.key, ambiguous="latest", non_existent="null"
    ).dt.epoch("s")
    twice = (later.cast(pl.Float64).fill_null(0).to_numpy() > instants) & ~zoned
    if not twice.any():
        return instants
    by = ["kpi", "breakdown", "wall"]
    again = frame.select((pl.int_range(pl.len()).over(by) > 0).alias("again")).to_series()
    return np.where(twice & again.to_numpy(), later.to_numpy(), instants).astype(np.float64)


@dataclass(frozen=True, slots=True)
class Points:
    """The values of one KPI, and how they came about."""

    frame: pl.DataFrame
    aggregation: Aggregation
    difference: bool
    running_total: bool
    repeated: int
    together: bool
    """Whether rows that share a period were made one value."""
    refused: pl.DataFrame
    """Rows of a period that has a value already, where these are not made one."""
    resets: int


def no_points(how: Aggregation) -> Points:
    """Return the values of a KPI that is not wanted."""
    return Points(NONE, how, False, False, 0, False, NONE, 0)


def make_points(
    rows: pl.DataFrame,
    column: str | None,
    choice: KpiChoice,
    proposed: Aggregation,
    combine: bool | None,
    *,
    share: float,
    meter: bool,
) -> Points:
    """Make the values of one KPI from its ``rows``.

    ``rows`` have the ``period`` that each falls in. ``column`` holds its values; None makes
    them from numerators and denominators. ``combine`` None makes one value of several rows
    only where more than ``share`` of the rows share a period with another; ``meter`` tells
    that its name or its unit is that of a meter.
    """
    amounts = "numerator" if column is None else column
    # The columns of the other KPIs, of which there may be thousands, are not carried along.
    rows = rows.select(*dict.fromkeys((*NEEDED, amounts)))
    rows = rows.filter(pl.col(amounts).is_not_null() | pl.lit(value=column is None))
    rows = rows.sort("breakdown", "instant", "line", maintain_order=True)
    readings = _floats(rows[amounts])
    groups = rows["breakdown"].rank("dense").to_numpy().astype(np.intp)
    running = column is not None and _is_meter(readings, groups, named=meter)
    difference = running if choice.difference is None else choice.difference
    resets = np.zeros(rows.height, np.bool_)
    values = readings
    if difference and column is not None:
        values, resets = differences(readings, groups, choice.drop)
    how = choice.aggregation or (
        Aggregation.RATIO if column is None else Aggregation.SUM if difference else proposed
    )
    rows = rows.with_columns(
        pl.Series("made", values * choice.factor + choice.offset), pl.Series("reset", resets)
    ).filter(pl.Series(~np.isnan(values)))
    edges = _edges(rows)
    again = np.ones(rows.height, np.bool_)
    again[edges[:-1]] = False
    repeated = int(again.sum())
    together = repeated > rows.height * share if combine is None else combine
    refused = rows.clear().with_columns(first="line")
    if not together and repeated:
        first = rows["line"].gather(np.repeat(edges[:-1], np.diff(edges)))
        refused = rows.with_columns(first.alias("first")).filter(again)
        rows = rows.filter(~again)
    return Points(
        frame=_frame(rows, how, choice.factor, ratio=column is None),
        aggregation=how,
        difference=difference,
        running_total=running,
        repeated=repeated,
        together=bool(together),
        refused=refused,
        resets=int(rows["reset"].sum()),
    )


def _is_meter(readings: Floats, groups: Ints, *, named: bool) -> bool:
    """Tell readings of a meter from values that only grow: by a name that says so, or a reset."""
    if named:
        return is_running_total(readings, groups, often=True)
    return was_reset(readings, groups) and is_running_total(readings, groups)


def _frame(rows: pl.DataFrame, how: Aggregation, factor: float, *, ratio: bool) -> pl.DataFrame:
    """Make one value for each breakdown and period; ``rows`` are in order of these."""
    if rows.is_empty():
        return pl.DataFrame(schema=FRAME)
    numerators, denominators = _floats(rows["numerator"]) * factor, _floats(rows["denominator"])
    parts = Parts(
        rows["made"].to_numpy(),
        np.ones(rows.height, np.intp),
        numerators if ratio else np.full(rows.height, np.nan),
        denominators if ratio else np.full(rows.height, np.nan),
    )
    edges = _edges(rows)
    # A ratio is made even of one row; a single value of any other kind is itself.
    single = len(edges) == rows.height + 1 and how not in (Aggregation.RATIO, Aggregation.COUNT)
    aggregates = parts if single else aggregate(parts, edges, how)
    heads = edges[:-1]
    lasts = edges[1:] - 1
    notes = rows.select(
        pl.when("reset")
        .then(pl.concat_str(pl.lit(RESET), pl.col("note"), separator=" "))
        .otherwise(pl.col("note"))
        .str.strip_chars()
        .alias("note")
    ).to_series()
    frame = pl.DataFrame(
        {
            "period": rows["period"].to_numpy()[heads],
            "breakdown": rows["breakdown"].gather(heads),
            "value": aggregates.values,
            "numerator": aggregates.numerators,
            "denominator": aggregates.denominators,
            "target": _floats(rows["target"])[lasts],
            "target_high": _floats(rows["target_high"])[lasts],
            "rows": aggregates.rows.astype(np.int64),
            "note": _joined(notes, edges),
            "set_aside": np.zeros(len(heads), np.bool_),
            "reason": [""] * len(heads),
            "typed": np.zeros(len(heads), np.bool_),
        },
        schema_overrides=FRAME,
    )
    numbers = pl.col(CONTENT).fill_nan(None)
    return frame.with_columns(numbers).drop_nulls("value").sort("period", "breakdown")


def _joined(notes: pl.Series, edges: Ints) -> pl.Series:
    """Join the different notes of each stretch."""
    if len(edges) == len(notes) + 1:
        return notes
    if not (notes != "").any():
        return pl.Series("note", [""]).new_from_index(0, len(edges) - 1)
    groups = pl.Series("group", np.repeat(np.arange(len(edges) - 1), np.diff(edges)))
    joined = (
        pl.DataFrame({"group": groups, "note": notes})
        .filter(pl.col("note") != "")
        .group_by("group", maintain_order=True)
        .agg(pl.col("note").unique(maintain_order=True).head(4).str.join("; ").str.slice(0, 500))
    )
    every = pl.DataFrame({"group": pl.Series(np.arange(len(edges) - 1))})
    return every.join(joined, on="group", how="left", maintain_order="left")["note"].fill_null("")


def _edges(rows: pl.DataFrame) -> Ints:
    same = rows.select(
        (
            (pl.col("breakdown") == pl.col("breakdown").shift(1))
            & (pl.col("period") == pl.col("period").shift(1))
        ).fill_null(value=False)
    ).to_series()
    heads = np.flatnonzero(~same.to_numpy())
    return np.append(heads, rows.height).astype(np.intp)


def _floats(column: pl.Series) -> Floats:
    return column.cast(pl.Float64).fill_null(float("nan")).to_numpy()
