"""What the API answers with of all KPIs at once."""

from dataclasses import dataclass

from fluctus.core import Direction
from fluctus.core.analysis import Mark
from fluctus.core.context import MeetsTarget
from fluctus.core.words import Attention
from fluctus.http.shapes import FloatColumn, FullColumn, IntColumn, Shape
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.kpi_shapes import Numbers


@dataclass(frozen=True, slots=True)
class StripSegment(Shape):
    """A segment as a strip draws it, from one of its points to another."""

    first: int
    last: int
    begins: bool
    """Whether a shift begins it within the dates shown."""
    name: str
    average: float | None
    lower: float | None
    upper: float | None


@dataclass(frozen=True, slots=True)
class StripMark(Shape):
    """A flagged point of a strip, by its place among the points."""

    index: int
    mark: Mark
    title: str


@dataclass(frozen=True, slots=True)
class SmallChart(Shape):
    """A chart made small: the points that are drawn, limits by segment, marks.

    Where limits follow a pattern, ``average``, ``lower`` and ``upper`` have them point by point.
    """

    grain: Grain
    numbers: Numbers
    period: list[str]
    value: FullColumn
    aside: IntColumn
    """The points that take no part, by their place."""
    average: FloatColumn | None
    lower: FloatColumn | None
    upper: FloatColumn | None
    segments: list[StripSegment]
    marks: list[StripMark]
    thinned: bool
    """Whether a point, or a mark, stands for those near it."""
    range: str
    """The lowest and the highest value shown, in words."""
    target: float | None
    target_high: float | None


@dataclass(frozen=True, slots=True)
class OverviewRow(Shape):
    """A KPI in the overview: its strip, and what to know of it."""

    slug: str
    name: str
    group: str
    unit: str
    direction: Direction
    latest: str
    latest_label: str
    what: str
    more: str
    mark: Mark | None
    attention: Attention
    reach: MeetsTarget
    late: bool
    is_new: bool
    """Whether it has a finding that this person has not looked at."""
    revision: int
    chart: SmallChart


@dataclass(frozen=True, slots=True)
class AttentionCounts(Shape):
    """How many KPIs are in each way; one can be in several."""

    all: int
    new: int
    waits: int
    never: int
    steady: int
    not_predictable: int
    out: int
    late: int


@dataclass(frozen=True, slots=True)
class GroupCount(Shape):
    """A group of KPIs, and how many of those asked for are in it."""

    name: str
    count: int


@dataclass(frozen=True, slots=True)
class Nearby(Shape):
    """How many findings are within a week of each day, from ``first`` on."""

    first: str
    counts: list[int]


@dataclass(frozen=True, slots=True)
class Overview(Shape):
    """A stretch of all KPIs, and how all of them stand."""

    sentence: str
    counts: AttentionCounts
    groups: list[GroupCount]
    count: int
    """How many are asked for, of which these rows are a stretch."""
    start: int
    rows: list[OverviewRow]
    first: str | None
    last: str | None
    """The days that are shown; null where there are no values."""
    oldest: str | None
    newest: str | None
    newest_period: str
    """The newest period that there is a value of, named; "" without values."""
    nearby: Nearby | None


@dataclass(frozen=True, slots=True)
class TogetherMember(Shape):
    """A finding or a shift that fell together with others."""

    kpi: str
    kpi_name: str
    what: str
    label: str
    period: str


@dataclass(frozen=True, slots=True)
class TogetherStretch(Shape):
    """What fell together within some days."""

    first: str
    last: str
    label: str
    title: str
    members: list[TogetherMember]
    events: list[str]
    chance: str
    explained: bool
    """Whether chance alone explains as much."""


@dataclass(frozen=True, slots=True)
class FellTogether(Shape):
    """Where findings and shifts of several KPIs fell together, those of most KPIs first."""

    within: int
    stretches: list[TogetherStretch]
    how: str
