"""What the API answers with of values."""

from dataclasses import dataclass

from fluctus.accounts.shapes import NamedPerson
from fluctus.core.analysis import Mark
from fluctus.http.shapes import Shape
from fluctus.kpis.chart.kpi_shapes import NextPeriod


@dataclass(frozen=True, slots=True)
class Value(Shape):
    """One value, and the act that wrote it."""

    period: str
    breakdown: str
    value: float | None
    """None of a period that has none."""
    numerator: float | None
    denominator: float | None
    """Of a ratio, both numbers that it is made of."""
    target: float | None
    target_high: float | None
    """The high side, where the target is a range; ``target`` is then its low side."""
    rows: int
    """How many rows of its source it stands for."""
    note: str
    set_aside: bool
    reason: str
    typed: bool
    """Whether a person typed it: a feed leaves it then."""
    version: int | None
    author: str
    at: str
    act: str


@dataclass(frozen=True, slots=True)
class Values(Shape):
    """A stretch of the values of a KPI, in order of time."""

    count: int
    start: int
    values: list[Value]
    next: NextPeriod | None
    fed: bool
    """Whether a feed brings values of it."""
    writers: list[NamedPerson]
    """Who has written values of it."""
    revision: int


@dataclass(frozen=True, slots=True)
class ValueOnChart(Shape):
    """What the chart says of the point that a value belongs to."""

    period: str
    position: int
    moving_range: float | None
    mark: Mark | None
    says: list[str]
    """The titles of its signals, the weightiest first."""
    segment: str
    met: bool | None
    """Whether the target was met; null where there is none to meet."""


@dataclass(frozen=True, slots=True)
class ValuesOnChart(Shape):
    """What the chart says of a stretch of values, in their order; null of what it does not show."""

    start: int
    values: list[ValueOnChart | None]
    segments: int
    """How many the chart has."""
    revision: int


@dataclass(frozen=True, slots=True)
class Version(Value):
    """What a value was, and the act that ended it; null for the present one."""

    ended_by: str | None
    ended_at: str | None
    ended_author: str | None


@dataclass(frozen=True, slots=True)
class SavedValues(Shape):
    """The KPI's revision after a write of values."""

    revision: int
