"""What is made of a KPI of a table, as tests name it."""

from datetime import UTC, datetime
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fluctus.intake.understanding.kpis import KpiRead
from fluctus.kpis.calendar import to_text


def made_of(kpi: KpiRead, zone: ZoneInfo) -> dict[str, Any]:
    """Return its settings and its values, in the order of periods and then of parts."""
    points = kpi.points.frame
    moments = [datetime.fromtimestamp(period, UTC) for period in points["period"]]
    return {
        "name": kpi.name,
        "unit": kpi.unit,
        "floor": kpi.floor,
        "decimals": kpi.decimals,
        "grain": kpi.grain,
        "aggregation": kpi.choice.aggregation,
        "difference": kpi.choice.difference,
        "resets": kpi.points.resets,
        "rounded": kpi.rounded,
        "count": points.height,
        "periods": [to_text(moment, kpi.grain, zone) for moment in moments],
        "breakdowns": points["breakdown"].to_list(),
        "values": [pytest.approx(value, rel=1e-12) for value in points["value"]],
        "targets": points["target"].to_list(),
        "high_sides": points["target_high"].to_list(),
        "notes": points["note"].to_list(),
    }
