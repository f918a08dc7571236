"""Events as rows and as plain data: what an act on one turned into what, and back."""

from dataclasses import asdict, dataclass
from datetime import date
from typing import Any, TypedDict

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.models import Event, Kpi


class EventMovedOnError(RefusalError):
    """An act on an event that is to be undone, but somebody has changed the event since."""

    def __init__(self) -> None:
        super().__init__(
            "This event has changed since.",
            Issue(
                "It was changed elsewhere, or removed.",
                "It stays as it is, and this act is passed over. Change the event by hand instead.",
            ),
            status=409,
        )


class EventAct(TypedDict):
    """What an act made of an event; None where there was, or is, none."""

    id: int
    uid: str
    before: dict[str, Any] | None
    after: dict[str, Any] | None


@dataclass(frozen=True, slots=True)
class EventState:
    """What a person can change of an event. ``kpis`` are numbers of KPIs, in order."""

    title: str
    kind: str
    text: str
    first: str
    last: str
    everywhere: bool
    kpis: tuple[int, ...]

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self) | {"kpis": list(self.kpis)}


def state_of_event(event: Event) -> EventState:
    """Read an event."""
    return EventState(
        event.title,
        event.kind,
        event.text,
        event.first.isoformat(),
        event.last.isoformat(),
        event.everywhere,
        tuple(event.kpis.order_by("pk").values_list("pk", flat=True)),
    )


def keep_event(
    workspace: Workspace, event: Event | None, state: EventState, **identity: Any
) -> Event:
    """Save an event as ``state`` says.

    One that is not there yet is made, with an ``identity``: its uid, its number, its author.
    """
    event = event or Event(workspace=workspace, version=0, **identity)
    event.title, event.kind, event.text = state.title, state.kind, state.text
    event.first, event.last = date.fromisoformat(state.first), date.fromisoformat(state.last)
    event.everywhere = state.everywhere
    event.version += 1
    event.save()
    # A KPI that has gone meanwhile is left out.
    event.kpis.set(Kpi.objects.filter(workspace=workspace, pk__in=state.kpis))
    return event


def turn_event(kpi: Kpi, act: EventAct, *, back: bool) -> None:
    """Take an act on an event back, or do it again.

    Raises EventMovedOnError where the event is not as the act left it: it is
    shared, and somebody may have changed it on another chart.
    """
    was, becomes = (act["after"], act["before"]) if back else (act["before"], act["after"])
    rows = Event.objects.select_for_update(of=("self",), no_key=True)
    event = rows.filter(workspace=kpi.workspace, uid=act["uid"]).first()
    now = None if event is None else state_of_event(event).to_json()
    if now != was:
        raise EventMovedOnError
    if becomes is None:
        if event is not None:
            event.delete()
        return
    state = EventState(**becomes | {"kpis": tuple(becomes["kpis"])})
    identity = {} if event else {"pk": act["id"], "uid": act["uid"]}
    keep_event(kpi.workspace, event, state, **identity)
