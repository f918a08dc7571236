"""What the API answers with of events."""

from dataclasses import dataclass

from fluctus.http.shapes import Shape
from fluctus.kpis.chart.asked_shapes import Summaries
from fluctus.kpis.models import EventKind


@dataclass(frozen=True, slots=True)
class Event(Shape):
    """An event."""

    id: int
    title: str
    kind: EventKind
    text: str
    first: str
    last: str
    everywhere: bool
    kpis: list[str]
    version: int


@dataclass(frozen=True, slots=True)
class StateRow(Shape):
    """A state of the world: how many times it held, and the first and the last day of these."""

    title: str
    times: int
    first: str
    last: str


@dataclass(frozen=True, slots=True)
class Events(Shape):
    """A stretch of the events of a workspace, newest first, and its states with all their times.

    The times of a state stand among the events where it is asked for; ``states`` are then none.
    """

    count: int
    start: int
    events: list[Event]
    states: list[StateRow]


@dataclass(frozen=True, slots=True)
class Pin(Shape):
    """Events that are told at one place of the lane."""

    first: str
    last: str
    count: int
    events: list[Event]


@dataclass(frozen=True, slots=True)
class BrokenEvent(Shape):
    """A part of a file that is no event."""

    line: int
    detail: str
    remedy: str


@dataclass(frozen=True, slots=True)
class CalendarRead(Shape):
    """What a calendar file would bring."""

    new: int
    changed: int
    same: int
    repeated: int
    """Events made of repeats."""
    broken: list[BrokenEvent]
    broken_count: int
    sample: list[Event]


@dataclass(frozen=True, slots=True)
class EventImport(Shape):
    """A calendar file that was brought in."""

    id: int
    added: int
    changed: int


@dataclass(frozen=True, slots=True)
class StateSpan(Shape):
    """Days on which a state held, both included."""

    first: str
    last: str


@dataclass(frozen=True, slots=True)
class StateComparison(Shape):
    """A KPI in a state of the world and out of it."""

    title: str
    joined: str
    """How many days of the state fall on periods of the chart, and which do not."""
    spans: list[StateSpan]
    summaries: Summaries


@dataclass(frozen=True, slots=True)
class States(Shape):
    """States that are told with a KPI, and one of them compared where it was asked for."""

    titles: list[str]
    compared: StateComparison | None
