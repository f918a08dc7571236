"""What the API answers with of values that are due."""

from dataclasses import dataclass
from enum import StrEnum

from fluctus.accounts.shapes import NamedPerson
from fluctus.core import Aggregation
from fluctus.http.shapes import Shape
from fluctus.kpis.calendar import Grain


@dataclass(frozen=True, slots=True)
class DueValue(Shape):
    """A value that is due: of a period that is over, of a KPI or a part of it."""

    kpi: str
    name: str
    group: str
    unit: str
    aggregation: Aggregation
    grain: Grain
    period: str
    label: str
    breakdown: str
    last: str
    """The newest value, with its unit; empty where that part has none."""
    last_label: str
    expected: str
    """What the limits lead one to expect, in words; empty where they say nothing of it."""
    filled_by: NamedPerson | None


@dataclass(frozen=True, slots=True)
class Resting(Shape):
    """A KPI that is too far behind to be asked for; the first of them are told."""

    kpi: str
    name: str
    last_label: str


@dataclass(frozen=True, slots=True)
class Due(Shape):
    """What is due: of how many KPIs, and of a stretch of them from ``start`` on each value."""

    count: int
    start: int
    kpis: int
    """Of how many the values are told here."""
    values: list[DueValue]
    resting: list[Resting]


class Stands(StrEnum):
    """Where a value stands to the natural process limits."""

    WITHIN = "within"
    ABOVE = "above"
    BELOW = "below"
    FAR = "far"
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class ValueCheck(Shape):
    """How a value stands that is being typed."""

    stands: Stands
    text: str
    asks: bool
    """Whether a note is asked for."""


@dataclass(frozen=True, slots=True)
class FilledIn(Shape):
    """What came of values that were sent together."""

    number: int | None
    """The import that takes them back as one; null where all of them were there already."""
    saved: int
