"""Values and what they have been, as the API gives them."""

from collections.abc import Sequence
from typing import Any
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.kpis.calendar import Grain, to_text
from fluctus.kpis.models import Kpi, Observation, PastValue


def present_value(row: Observation | PastValue, kpi: Kpi) -> dict[str, Any]:
    """Give one value as the table of values shows it."""
    zone = ZoneInfo(kpi.time_zone)
    act = row.written_by
    return {
        "period": to_text(row.period, Grain(kpi.grain), zone),
        "breakdown": row.breakdown,
        "value": row.value,
        "target": row.target,
        "rows": row.rows,
        "note": row.note,
        "set_aside": row.set_aside,
        "reason": row.reason,
        "version": row.written_by_id,
        "author": name_of(act.author),
        "at": act.at.isoformat(),
        "act": act.summary,
    }


def present_versions(rows: Sequence[Observation | PastValue], kpi: Kpi) -> list[dict[str, Any]]:
    """Give what a value has been, newest first, each with the act that ended it."""
    return [
        present_value(row, kpi)
        | (
            {
                "ended_by": row.replaced_by.summary,
                "ended_at": row.replaced_by.at.isoformat(),
                "ended_author": name_of(row.replaced_by.author),
            }
            if isinstance(row, PastValue)
            else {"ended_by": None, "ended_at": None, "ended_author": None}
        )
        for row in reversed(rows)
    ]
