"""How a KPI stands, kept with every write to its chart."""

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

import numpy as np

from fluctus.core.words import in_short
from fluctus.http.rendering import as_json
from fluctus.kpis.calendar import DAYS_LONG
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.proposals import offered_pattern
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.arrivals import lags_of_each
from fluctus.kpis.observations.series import Observations
from fluctus.overview.models import KpiSummary
from fluctus.overview.strips.drawing import Dates, small_chart

GAPS_LOOKED_AT = 12
"""Newest distances between values that tell how often they come."""
FEW_LAGS = 3
"""Arrivals that tell how soon values come."""


def follow_charts(charted: Sequence[Charted]) -> None:
    """Keep how locked KPIs stand."""
    lags = lags_of_each([each.kpi for each in charted])
    KpiSummary.objects.bulk_create(
        [_summary(each.kpi, each.chart, lags[each.kpi.pk]) for each in charted],
        update_conflicts=True,
        unique_fields=["kpi"],
        update_fields=[
            field.name for field in KpiSummary._meta.concrete_fields if not field.primary_key
        ],
    )


def _summary(kpi: Kpi, chart: Chart, lags: Sequence[timedelta]) -> KpiSummary:
    data = chart.observations
    verdict = chart.verdict
    short = in_short(chart.analysis, chart.words, verdict, offered_pattern(verdict))
    return KpiSummary(
        kpi=kpi,
        attention=short.attention,
        reach=short.reach,
        off_target=short.off_target,
        late_from=late_from(data, lags),
        oldest=data.period(0) if len(data) else None,
        newest=data.period(-1) if len(data) else None,
        what=short.what,
        more=short.more,
        mark=short.mark or "",
        strip=as_json(small_chart(chart, Dates())),
    )


def late_from(data: Observations, lags: Sequence[timedelta]) -> datetime | None:
    """Return when the next value should have come by; None where values come when they come.

    The next period begins after the longest of the newest distances between values. Once it is
    over, its value may take as long as the longest of the newest ones took (``lags``) and a
    quarter of a period more; where fewer than ``FEW_LAGS`` are known, half a period.
    """
    if data.irregular or len(data) < 2:
        return None
    gap = float(np.diff(data.instants[-GAPS_LOOKED_AT - 1 :]).max())
    period = DAYS_LONG[data.grain] * 86_400
    usual = max(lags).total_seconds() + period / 4 if len(lags) >= FEW_LAGS else period / 2
    try:
        last = datetime.fromtimestamp(data.instants[-1], UTC)
        return last + timedelta(seconds=gap + period + usual)
    except OverflowError:
        return None
