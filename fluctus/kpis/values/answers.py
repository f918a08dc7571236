"""Values and what they have been, as the API answers with them."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.kpis.calendar import Grain, to_text
from fluctus.kpis.models import Kpi, Observation, PastValue
from fluctus.kpis.values import shapes


def value_answer(row: Observation | PastValue, kpi: Kpi) -> shapes.Value:
    """Return one value as the table of values shows it."""
    return shapes.Value(**_parts(row, kpi))


def missing_answer(period: datetime, breakdown: str, kpi: Kpi) -> shapes.Value:
    """Return a period without a value as the table of values shows it."""
    return shapes.Value(
        period=to_text(period, Grain(kpi.grain), ZoneInfo(kpi.time_zone)),
        breakdown=breakdown,
        value=None,
        numerator=None,
        denominator=None,
        target=None,
        target_high=None,
        rows=0,
        note="",
        set_aside=False,
        reason="",
        typed=False,
        version=None,
        author="",
        at="",
        act="",
    )


def version_answers(rows: Sequence[Observation | PastValue], kpi: Kpi) -> list[shapes.Version]:
    """Return what a value has been, newest first, each with the act that ended it."""
    answers = []
    for row in reversed(rows):
        end = row.replaced_by if isinstance(row, PastValue) else None
        answers.append(
            shapes.Version(
                **_parts(row, kpi),
                ended_by=None if end is None else end.summary,
                ended_at=None if end is None else end.at.isoformat(),
                ended_author=None if end is None else name_of(end.author),
            )
        )
    return answers


def _parts(row: Observation | PastValue, kpi: Kpi) -> dict[str, Any]:
    act = row.written_by
    return {
        "period": to_text(row.period, Grain(kpi.grain), ZoneInfo(kpi.time_zone)),
        "breakdown": row.breakdown,
        "value": row.value,
        "numerator": None if row.numerator is None else row.numerator / kpi.times,
        "denominator": row.denominator,
        "target": row.target,
        "target_high": row.target_high,
        "rows": row.rows,
        "note": row.note,
        "set_aside": row.set_aside,
        "reason": row.reason,
        "typed": row.typed,
        "version": row.written_by_id,
        "author": name_of(act.author),
        "at": act.at.isoformat(),
        "act": act.summary,
    }
