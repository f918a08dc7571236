"""The record of acts on charts: what undo takes back and the history tells."""

from typing import Any

from fluctus.kpis.actor import Actor
from fluctus.kpis.models import ActStanding, ChartChange, DataChange, Kpi
from fluctus.kpis.state import ChartState


def record(
    kpi: Kpi,
    actor: Actor,
    summary: str,
    before: ChartState,
    after: ChartState,
    data: DataChange | None = None,
    event: Any = None,
) -> None:
    """Keep an act on a locked KPI; what was undone before it cannot be redone.

    ``data`` is the act on its values, ``event`` that on an event, where it was one.
    """
    ChartChange.objects.filter(kpi=kpi, standing=ActStanding.UNDONE).update(
        standing=ActStanding.REPLACED
    )
    ChartChange.objects.create(
        kpi=kpi, author=actor.person, summary=summary[:200],
        before=before.to_json(), after=after.to_json(), data=data, event=event,
        revision=kpi.revision,
    )  # fmt: skip
