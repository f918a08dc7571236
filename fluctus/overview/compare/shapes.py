"""What the API answers with of comparisons."""

from dataclasses import dataclass

from fluctus.core import Direction, Side
from fluctus.http.shapes import FloatColumn, FullColumn, IntColumn, Shape
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.kpi_shapes import Numbers
from fluctus.overview.strips.shapes import SmallChart


@dataclass(frozen=True, slots=True)
class ComparedDates(Shape):
    """The days that are shown, of those that there are values of; null where there are none."""

    first: str | None
    last: str | None
    oldest: str | None
    newest: str | None


@dataclass(frozen=True, slots=True)
class StretchChoice(Shape):
    """A segment, whose days can be chosen to compare over."""

    name: str
    first: str
    last: str


@dataclass(frozen=True, slots=True)
class ComparedPart(Shape):
    """A part of a KPI: its chart made small, and its numbers over the dates shown."""

    name: str
    chart: SmallChart
    n: int
    average: float | None
    lower: float | None
    upper: float | None
    """Its natural process limits, of its last segment."""
    mean_range: float | None
    total: float | None
    share: float | None
    """Of the total of all parts, from 0 to 1; where the KPI adds up."""
    share_met: float | None
    """Of its values, those that meet the target, from 0 to 1."""
    findings: int
    newest: str
    """When its newest finding began, in words."""
    newest_at: str
    side: Side | None
    """Where its average is beside what chance explains; null for a part that is not judged."""
    chance_lower: float | None
    chance_upper: float | None


@dataclass(frozen=True, slots=True)
class Parts(Shape):
    """One KPI by its parts."""

    kpi: str
    name: str
    unit: str
    direction: Direction
    numbers: Numbers
    grain: Grain
    grains: list[Grain]
    adds_up: bool
    """Whether the values of the parts add up to those of the whole."""
    parts: list[ComparedPart]
    rest: list[str]
    """Parts that are not shown, by name."""
    dates: ComparedDates
    segments: list[StretchChoice]
    average: float | None
    """Of all values that are judged."""
    answer: str
    """Whether the parts differ."""
    how: str


@dataclass(frozen=True, slots=True)
class GoalLine(Shape):
    """A KPI on the plot of a unit."""

    kpi: str
    name: str
    chart: SmallChart
    n: int
    average: float | None
    share_met: float | None
    """Of its values, those that meet the goal, or its own target where there is none."""
    judged_by: str
    """What they are judged by, in words; empty where by nothing."""


@dataclass(frozen=True, slots=True)
class GoalPanel(Shape):
    """KPIs of one unit on one plot, with the goal that holds for them."""

    unit: str
    numbers: Numbers
    goal: float | None
    goal_text: str
    lines: list[GoalLine]


@dataclass(frozen=True, slots=True)
class AgainstGoal(Shape):
    """KPIs against a goal, those of other units in panels of their own."""

    panels: list[GoalPanel]
    gone: list[str]
    """Asked for, and not there."""
    uncomputed: list[str]
    """Names of those whose chart cannot be computed."""
    dates: ComparedDates


@dataclass(frozen=True, slots=True)
class PairSide(Shape):
    """One of two KPIs that are held against each other."""

    kpi: str
    name: str
    unit: str
    numbers: Numbers


@dataclass(frozen=True, slots=True)
class PairPoints(Shape):
    """Values of the same periods, so many periods apart: all of one length."""

    label: list[str]
    x: FullColumn
    y: FullColumn
    segment: IntColumn
    """The segment of y that each is in."""
    off: IntColumn
    """The places of those that fall off the line."""


@dataclass(frozen=True, slots=True)
class PairFit(Shape):
    """The least-squares line through the pairs."""

    start: float
    slope: float
    r_squared: float
    equation: str


@dataclass(frozen=True, slots=True)
class LagShape(Shape):
    """The correlation at a lag; ``noise`` is what chance leaves room for, to both sides."""

    lag: int
    n: int
    correlation: float | None
    noise: float | None
    effective: float | None
    """How many independent pairs would say as much."""


@dataclass(frozen=True, slots=True)
class Pair(Shape):
    """Two KPIs against each other."""

    x: PairSide
    y: PairSide
    grain: Grain
    grains: list[Grain]
    lag: int
    n: int
    told: int
    """Pairs that are drawn: very many are thinned."""
    points: PairPoints
    segments: list[str]
    line: PairFit | None
    curve: list[LagShape]
    off_count: int
    """Pairs off the line, of which the furthest are named."""
    sentence: str
    warning: str
    """What both share, so that they would go together anyway; empty where nothing is known."""
    on_residuals: bool
    """Whether what they share has been taken out of both."""
    caution: str
    how: str
    dates: ComparedDates


@dataclass(frozen=True, slots=True)
class PlacedPart(Shape):
    """A part on the map: by its coordinates, by an area, or by a country."""

    name: str
    value: float | None
    text: str
    latitude: float | None
    longitude: float | None
    area: str | None
    """The name of its area, of those that were brought in."""
    country: str | None
    """Its country's number in ISO 3166."""


@dataclass(frozen=True, slots=True)
class MeasureChoice(Shape):
    """A measure that parts can be shown by, and how it is called."""

    name: str
    label: str


@dataclass(frozen=True, slots=True)
class PlacedParts(Shape):
    """The parts of a KPI by place."""

    kpi: str
    name: str
    measure: str
    measures: list[MeasureChoice]
    """Those that can be chosen."""
    numbers: Numbers
    parts: list[PlacedPart]
    unplaced: list[str]
    areas_file: str
    """The file that areas came from; empty where there is none."""
    dates: ComparedDates


@dataclass(frozen=True, slots=True)
class PlacesKept(Shape):
    """What came of a table of places."""

    kept: int


@dataclass(frozen=True, slots=True)
class AreasKept(Shape):
    """What came of a file of areas."""

    names: list[str]
    matched: list[str]
    """Parts of the workspace's KPIs that have an area of their name."""


@dataclass(frozen=True, slots=True)
class SharePart(Shape):
    """What a part adds to the total; the values of its columns are in order of period."""

    name: str
    total: float
    share: float
    values: FloatColumn


@dataclass(frozen=True, slots=True)
class Shares(Shape):
    """Shares of a total, over the dates shown and period by period."""

    kpi: str
    name: str
    numbers: Numbers
    grain: Grain
    period: list[str]
    total: float
    parts: list[SharePart]
    dates: ComparedDates
    sentence: str


@dataclass(frozen=True, slots=True)
class SuggestedKpis(Shape):
    """KPIs that are worth a comparison: one by its parts, or several against a goal."""

    kpis: list[str]
    name: str
    says: str


@dataclass(frozen=True, slots=True)
class SuggestedPair(Shape):
    """Two KPIs that go together: y follows x by so many periods."""

    x: str
    y: str
    lag: int
    name: str
    says: str


@dataclass(frozen=True, slots=True)
class Suggestions(Shape):
    """What of a workspace is worth comparing, and how it was found."""

    parts: list[SuggestedKpis]
    pairs: list[SuggestedPair]
    goals: list[SuggestedKpis]
    how: str
