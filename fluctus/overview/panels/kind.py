"""What a kind of panel is: one module of ``panels.kinds`` says all of it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from fluctus.accounts.models import Workspace
from fluctus.http.shapes import Shape
from fluctus.kpis.events.queries import ALL_TOLD, Told
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.panel import Panel


@dataclass(frozen=True, slots=True)
class Audience:
    """What is told to those who look, beside values and limits: members are told everything."""

    member: bool = True
    notes: bool = True
    reasons: bool = True
    told: Told = ALL_TOLD


MEMBERS = Audience()


@dataclass(frozen=True, slots=True)
class Look:
    """How a panel is looked at: where, when, over which dates, how wide, and by whom.

    ``dates`` has ``first`` and ``last`` as days, or ``weeks``; without any it is all dates.
    """

    workspace: Workspace
    now: datetime
    dates: dict[str, Any] = field(default_factory=dict)
    width: int = 600
    audience: Audience = MEMBERS


@dataclass(frozen=True, slots=True)
class Table:
    """What a picture shows, in words: headings, and rows of as many texts."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, slots=True)
class Content:
    """What a panel says: a title that is a sentence, more of it, and what is drawn."""

    title: str
    detail: str
    answer: Shape
    table: Table | None = None
    """The same for paper and for those who do not see the picture; None where it says it all."""


@dataclass(frozen=True, slots=True)
class PanelKind:
    """All that a kind of panel is.

    ``kpis`` is how many KPIs it is of, at least and at most; ``height`` how many rows of the
    grid a new one takes. ``answer`` is given those of its KPIs that there are, in order, and
    raises RefusalError where it has nothing to show.
    """

    name: str
    kpis: tuple[int, int]
    height: int
    answers: type[Shape]
    answer: Callable[[Panel, Sequence[Kpi], Look], Content]
    does_without: bool = False
    """Whether it shows the others when some of its KPIs are gone."""
    repeats: bool = False
    """Whether a page may have the same twice."""
    whole_chapter: bool = False
    """Whether a report tells all of its KPI, with findings and events, beside the picture."""
    picture: bool = True
    """Whether it is drawn; what is not is read."""

    def takes(self, count: int) -> bool:
        """Tell whether a panel of this kind can be of so many KPIs."""
        least, most = self.kpis
        return least <= count <= most

    @property
    def kpis_in_words(self) -> str:
        """How many KPIs it is of."""
        least, most = self.kpis
        return (
            f"{least} KPI{'' if least == 1 else 's'}"
            if least == most
            else f"{least} to {most} KPIs"
        )
