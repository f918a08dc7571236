"""The time between events, as a KPI of its own that follows the one that counts them."""

from collections.abc import Sequence

import numpy as np
import polars as pl

from fluctus.core import Direction, MadeFrom
from fluctus.core.shaping import time_between
from fluctus.http import clock
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import observations_of, state_of_kpi
from fluctus.kpis.derived.kind import DerivedKind, FromSources, Proposal
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.state import ChartState

MOST_EVENTS = 20_000
CANNOT = "The time between events cannot be charted."
LONGER_IS = {
    Direction.LOWER: Direction.HIGHER,
    Direction.HIGHER: Direction.LOWER,
    Direction.NEITHER: Direction.NEITHER,
}
"""Where fewer was better, longer between is."""


def _propose(sources: Sequence[Kpi], times: float | None) -> Proposal:
    (source,) = sources
    data = _observations(source)
    _refuse_no_counts(data, CANNOT, "Choose a KPI of whole numbers from 0, and not too many.")
    _refuse_too_few(data)
    hours = data.grain is Grain.HOUR
    state = ChartState(
        name=f"Time between {source.name.lower()}"[:120],
        group=source.group,
        unit="hours" if hours else "days",
        decimals=0,
        direction=LONGER_IS[Direction(source.direction)].value,
        floor=0.0,
        time_zone=source.time_zone,
        first_weekday=source.first_weekday,
        first_month=source.first_month,
    )
    return Proposal(state, Grain.HOUR if hours else Grain.DAY, 1.0)


def _make(sources: Sequence[Kpi], grain: Grain, times: float) -> FromSources:
    return FromSources(_frame(_observations(sources[0])))


def _follow(kpi: Kpi, sources: Sequence[Kpi]) -> FromSources:
    data = _observations(sources[0])
    _refuse_no_counts(
        data,
        f"{kpi.name} cannot follow this; nothing was saved.",
        f"Put the value right, set it aside, or delete {kpi.name} first.",
    )
    return FromSources(_frame(data))


def _observations(source: Kpi) -> Observations:
    return observations_of(source, state_of_kpi(source), clock.now())


def _refuse_no_counts(data: Observations, what: str, remedy: str) -> None:
    values = data.values[~data.set_aside]
    wrong = np.flatnonzero((values < 0) | (values != np.floor(values)))
    if len(wrong):
        worst = values[wrong[0]]
        raise RefusalError(
            what, Issue(f"These values are no counts of events: {worst:,.6g} is one.", remedy)
        )
    if values.sum() > MOST_EVENTS:
        raise RefusalError(
            what,
            Issue(f"There are {values.sum():,.0f} events; {MOST_EVENTS:,} at most.", remedy),
        )


def _refuse_too_few(data: Observations) -> None:
    values = data.values[~data.set_aside]
    if values.sum() < 2:
        raise RefusalError(
            CANNOT,
            Issue(
                f"There {'is one event' if values.sum() == 1 else 'are no events'} so far; "
                "a time between them takes two.",
                "Come back when there are more.",
            ),
        )


def _frame(data: Observations) -> pl.DataFrame:
    """Make a value for each event but the first, at its period.

    Events that share a period follow each other by a second, as each is a value of its own.
    """
    counts = np.where(data.set_aside, 0, np.floor(data.values)).astype(np.intp)
    if data.grain is Grain.HOUR:
        numbers = np.rint(data.instants / 3600).astype(np.intp)
    else:
        dates = data.calendar.local(data.instants).dt.date().cast(pl.Int32)
        numbers = dates.to_numpy().astype(np.intp)
    places, apart = time_between(numbers, counts)
    # How many events of the same period came before.
    nth = np.arange(len(places)) - np.searchsorted(places, places)
    instants = data.instants[places] + nth
    return frame_of(
        [
            {"period": float(period), "value": float(value)}
            for period, value in zip(instants, apart, strict=True)
        ]
    )


TIME_BETWEEN = DerivedKind(MadeFrom.TIME_BETWEEN, 1, _propose, _make, _follow)
