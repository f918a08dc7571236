"""What the API answers with of acts."""

from dataclasses import dataclass

from fluctus.http.shapes import Shape
from fluctus.kpis.models import ActState


@dataclass(frozen=True, slots=True)
class Act(Shape):
    """An act on a chart."""

    id: int
    at: str
    author: str
    summary: str
    state: ActState
    turned_by: str
    turned_at: str | None
    settings: bool
    """Whether it changed settings, not values or events alone."""


@dataclass(frozen=True, slots=True)
class Acts(Shape):
    """The acts on a chart, newest first."""

    acts: list[Act]
    older: bool
    """Whether there are older ones than these."""
