"""A stretch of the values that are looked for, or of the periods that have none."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.models import Kpi, Observation
from fluctus.kpis.observations.missing import missing_periods
from fluctus.kpis.values import shapes
from fluctus.kpis.values.answers import missing_answer, value_answer
from fluctus.kpis.values.on_chart import OF_THE_CHART, Only, chosen_by
from fluctus.kpis.values.queries import VALUES_PAGE, values_of


@dataclass(frozen=True, slots=True)
class Stretch:
    """Some of ``count`` values, or periods without one, in order of time."""

    count: int
    values: Sequence[Observation]
    missing: Sequence[datetime] = ()
    breakdown: str = ""
    """The one that the missing periods are of."""

    @property
    def periods(self) -> list[datetime]:
        """The period of each."""
        return [value.period for value in self.values] or list(self.missing)

    def answers(self, kpi: Kpi) -> list[shapes.Value]:
        """Return them as the API answers."""
        return [value_answer(value, kpi) for value in self.values] + [
            missing_answer(period, self.breakdown, kpi) for period in self.missing
        ]


def stretch_of(kpi: Kpi, query: dict[str, Any], now: datetime) -> Stretch:
    """Return the stretch that a request asks for."""
    start, breakdown = query["start"], query.get("breakdown")
    only = Only(query["only"]) if query.get("only") else None
    if only is Only.MISSING:
        return _missing(kpi, start, breakdown, now)
    told = only in OF_THE_CHART
    chart = chart_of(kpi, now, View(breakdown=breakdown)) if told else None
    count, values = values_of(kpi, start, breakdown, chosen_by(only, query.get("by"), chart))
    return Stretch(count, values)


def _missing(kpi: Kpi, start: int, breakdown: str | None, now: datetime) -> Stretch:
    chart = chart_of(kpi, now, View(breakdown=breakdown))
    data, missing = chart.observations, chart.missing_before
    periods = missing_periods(data.instants, missing, data.grain, data.calendar, start, VALUES_PAGE)
    return Stretch(int(missing.sum()), [], periods, breakdown or "")
