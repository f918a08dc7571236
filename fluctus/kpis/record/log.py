"""The record of acts on charts: what undo takes back and the history tells."""

from typing import Any

from fluctus.kpis.actor import Actor
from fluctus.kpis.models import ActState, ChartChange, DataChange, Kpi
from fluctus.kpis.state import ChartState


def newest_data(kpi: Kpi) -> int:
    """Return the number of the newest act on the values of a KPI."""
    newest = DataChange.objects.filter(kpi=kpi).order_by("-pk").values_list("pk", flat=True)
    return newest.first() or 0


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
    ChartChange.objects.filter(kpi=kpi, state=ActState.UNDONE).update(state=ActState.REPLACED)
    ChartChange.objects.create(
        kpi=kpi,
        author=actor.person,
        summary=summary[:200],
        before=before.to_json(),
        after=after.to_json(),
        data=data,
        event=event,
        newest_data=newest_data(kpi),
        revision=kpi.revision,
    )
