"""What the API answers with of pages."""

from dataclasses import dataclass

from fluctus.http.shapes import Shape
from fluctus.kpis.chart.kpi_shapes import History
from fluctus.overview.panels.contents import KindName


@dataclass(frozen=True, slots=True)
class PageRow(Shape):
    """A page in the list of them."""

    id: int
    title: str
    panels: int
    changed_at: str


@dataclass(frozen=True, slots=True)
class Pages(Shape):
    """A stretch of the pages of a workspace, those changed last first."""

    count: int
    start: int
    pages: list[PageRow]


@dataclass(frozen=True, slots=True)
class PageDates(Shape):
    """Days, or the newest weeks; all null is all that there are."""

    first: str | None
    last: str | None
    weeks: int | None


@dataclass(frozen=True, slots=True)
class PanelOptions(Shape):
    """How a panel shows what it does, as in the address of the screen it came from."""

    order: str
    measure: str
    goal: float | None
    lag: int
    by: str
    parts: list[str]
    one_plot: bool


@dataclass(frozen=True, slots=True)
class PagePanel(Shape):
    """A panel of a page."""

    key: str
    kind: KindName
    kpis: list[str]
    names: list[str]
    """What its KPIs are called, or were when they were put there."""
    gone: list[str]
    """The names of those that are no longer there."""
    view: str
    group: str
    text: str
    options: PanelOptions
    dates: PageDates | None
    """Its own; null for those of the page."""
    x: int
    y: int
    w: int
    h: int


@dataclass(frozen=True, slots=True)
class PageDetail(Shape):
    """A page with its panels."""

    id: int
    title: str
    revision: int
    dates: PageDates
    equal_axes: bool
    panels: list[PagePanel]
    history: History


@dataclass(frozen=True, slots=True)
class PageAct(Shape):
    """Something that was done to a page."""

    id: int
    author: str
    at: str
    summary: str
    undone: bool
