"""What the API answers with of what made a value."""

from dataclasses import dataclass
from enum import StrEnum

from fluctus.core import Side
from fluctus.http.shapes import Shape
from fluctus.kpis.chart.kpi_shapes import Numbers


class SharedBy(StrEnum):
    """Among what a difference is shared out."""

    PARTS = "parts"
    NUMBERS = "numbers"
    """The numerator and the denominator of a ratio."""
    SOURCES = "sources"
    """The KPIs that it is the sum or the difference of."""


@dataclass(frozen=True, slots=True)
class Bar(Shape):
    """What one part brought; ``start`` and ``stop`` are where its bar begins and ends."""

    name: str
    brought: float
    rate: float | None
    """Of a ratio: what its rate gave, and what its weight among the denominators."""
    weight: float | None
    now: float | None
    before: float | None
    beyond: Side
    """The side of its own limits that it is on."""
    stands_out: bool
    start: float
    stop: float
    stands_for: int
    """Parts that it sums; 1 for a part."""


@dataclass(frozen=True, slots=True)
class SharedOut(Shape):
    """A difference shared out, from ``usual`` to ``value``, and what is to be said of it."""

    by: SharedBy
    says: str
    usual: float
    value: float
    bars: list[Bar]


@dataclass(frozen=True, slots=True)
class Contributions(Shape):
    """What made a value, by what concentrates it most first; none where it has no parts."""

    label: str
    than: str
    """What the value is held against, in words."""
    numbers: Numbers
    shared_out: list[SharedOut]
    says: str
    """Why there is nothing to share it out among; else empty."""
    how: str
