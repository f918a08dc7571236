"""The values of two KPIs side by side, in periods of the coarser of their grains."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Final
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl

from fluctus.core import Aggregation, Parts, aggregate, coarser
from fluctus.core.arrays import Floats
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.reading import read_stored
from fluctus.kpis.observations.series import COUNTED
from fluctus.kpis.periods import named

BY: Final = ["period", "breakdown"]


@dataclass(frozen=True, slots=True, eq=False)
class Aligned:
    """Rows of period, breakdown, and of each side value, numerator, denominator, rows, aside.

    The columns of the second side end in ``_right``. ``left_out`` says which periods are not
    there, and why the parts are not.
    """

    rows: pl.DataFrame
    left_out: tuple[str, ...]


def grain_of(sources: Sequence[Kpi]) -> Grain:
    """Return the coarser of the grains of some KPIs."""
    order = list(Grain)
    return max((Grain(source.grain) for source in sources), key=order.index)


def calendar_of(kpi: Kpi) -> Calendar:
    """Return how a KPI cuts time."""
    return Calendar(ZoneInfo(kpi.time_zone), kpi.first_weekday, kpi.first_month)


def side(kpi: Kpi, grain: Grain, *, whole: bool) -> pl.DataFrame:
    """Return the values of a KPI by period of a grain and by part, or of the ``whole``."""
    stored, calendar = read_stored(kpi), calendar_of(kpi)
    names = pl.Series(["", *kpi.breakdowns], dtype=pl.String)
    starts = stored.instants
    if grain is not Grain(kpi.grain):
        starts = calendar.starts(stored.instants, grain)
    frame = pl.DataFrame(
        {
            "period": starts,
            "breakdown": names.gather(stored.parts * (not whole)),
            "value": stored.values,
            "numerator": stored.numerators,
            "denominator": stored.denominators,
            "rows": stored.rows.astype(np.int64),
            "aside": stored.set_aside,
        }
    ).sort(BY, maintain_order=True)
    if grain is not Grain(kpi.grain) and frame.height:
        # What stops within a period is less than that of the period.
        last = float(starts[-1])
        newest = calendar.following(_moment(float(stored.instants[-1])), Grain(kpi.grain))
        if newest < calendar.following(_moment(last), grain):
            frame = frame.filter(pl.col("period") < last)
    return _one_each(frame, coarser(Aggregation(kpi.aggregation)))


def _moment(instant: float) -> datetime:
    return datetime.fromtimestamp(instant, UTC)


def _one_each(frame: pl.DataFrame, how: Aggregation) -> pl.DataFrame:
    """Make one row for each period and part; ``frame`` is in order of these."""
    changes = frame.select((pl.struct(BY) != pl.struct(BY).shift(1)).fill_null(value=True))
    heads = np.flatnonzero(changes.to_series().to_numpy())
    if len(heads) == frame.height:
        return frame
    edges = np.append(heads, frame.height).astype(np.intp)
    aside = frame["aside"].to_numpy()
    columns = [frame[name].to_numpy() for name in ("value", "numerator", "denominator")]
    rows = frame["rows"].to_numpy().astype(np.intp)
    out = np.add.reduceat(aside.astype(np.intp), edges[:-1])
    set_aside = out > 0 if how in COUNTED else out == np.diff(edges)
    # As on its own chart: what is set aside as a whole has the value that it would have.
    of_all, of_some = (
        aggregate(Parts(each[0], rows, *each[1:]), edges, how)
        for each in (columns, [np.where(aside, np.nan, column) for column in columns])
    )
    return pl.DataFrame(
        {
            "period": frame["period"].gather(heads),
            "breakdown": frame["breakdown"].gather(heads),
            "value": np.where(set_aside, of_all.values, of_some.values),
            "numerator": np.where(set_aside, of_all.numerators, of_some.numerators),
            "denominator": np.where(set_aside, of_all.denominators, of_some.denominators),
            "rows": of_some.rows.astype(np.int64),
            "aside": set_aside,
        }
    )


def aligned(first: Kpi, second: Kpi, grain: Grain) -> Aligned:
    """Put two KPIs side by side, by their parts where these agree, else by the whole."""
    parts = bool(set(first.breakdowns) & set(second.breakdowns))
    if parts:
        found = _joined(first, second, grain, whole=False)
        if found is not None:
            return found
    found = _joined(first, second, grain, whole=True)
    assert found is not None
    if not first.breakdowns and not second.breakdowns:
        return found
    return Aligned(found.rows, (_why_whole(first, second), *found.left_out))


def _joined(first: Kpi, second: Kpi, grain: Grain, *, whole: bool) -> Aligned | None:
    """Join two KPIs; None where by parts most periods that both have would be left out."""
    left, right = side(first, grain, whole=whole), side(second, grain, whole=whole)
    both = left.join(right, on=BY, how="full", coalesce=True).sort(BY)
    lacking = pl.col("value").is_null() | pl.col("value_right").is_null()
    whole_periods = both.filter(~lacking.any().over("period"))
    shared = np.intersect1d(left["period"].to_numpy(), right["period"].to_numpy())
    kept = whole_periods["period"].n_unique()
    if not whole and 2 * kept < len(shared):
        return None
    return Aligned(whole_periods, _lacking(first, second, grain, left, right, both, shared))


def _lacking(
    first: Kpi,
    second: Kpi,
    grain: Grain,
    left: pl.DataFrame,
    right: pl.DataFrame,
    both: pl.DataFrame,
    shared: Floats,
) -> tuple[str, ...]:
    told, zone = [], calendar_of(first).zone
    for mine, other, lacking in ((left, right, second), (right, left, first)):
        gone = np.setdiff1d(mine["period"].to_numpy(), other["period"].to_numpy())
        if len(gone):
            gone_there = named(gone.tolist(), grain, zone)
            told.append(f"{gone_there} left out: {lacking.name} has no value there.")
    some = both.filter(pl.col("period").is_in(shared.tolist()))
    uneven = some.filter(pl.col("value").is_null() | pl.col("value_right").is_null())
    if uneven.height:
        row = uneven.row(0, named=True)
        kpi = second if row["value_right"] is None else first
        periods = uneven["period"].unique().sort().to_list()
        told.append(
            f"{named(periods, grain, zone)} left out: {kpi.name} has no "
            f"{row['breakdown'] or 'value of the whole'} there."
        )
    return tuple(told)


def _why_whole(first: Kpi, second: Kpi) -> str:
    for kpi, other in ((first, second), (second, first)):
        if kpi.breakdowns and not other.breakdowns:
            return f"Made of the whole: {other.name} has no parts."
    alone = sorted(set(first.breakdowns) ^ set(second.breakdowns))
    where = first if alone and alone[0] in first.breakdowns else second
    named = f", such as {alone[0]} of {where.name}" if alone else ""
    return f"Made of the whole: {first.name} and {second.name} have other parts{named}."
