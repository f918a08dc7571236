"""What the API answers with of a KPI itself: in the list, and beside its chart."""

from dataclasses import dataclass

from fluctus.core import Aggregation, Direction, MadeFrom, Rule
from fluctus.core.analysis import Mark
from fluctus.core.words import ShownIn
from fluctus.http.shapes import FullColumn, Shape
from fluctus.kpis.calendar import Grain
from fluctus.kpis.models import DrawnAs, Raises, ValueLabels


@dataclass(frozen=True, slots=True)
class StripSignal(Shape):
    """The mark of the newest recent signal; a negative index is left of the strip."""

    rule: Rule
    mark: Mark
    strip_index: int


@dataclass(frozen=True, slots=True)
class KpiRow(Shape):
    """A KPI in the rail."""

    slug: str
    name: str
    group: str
    unit: str
    count: int
    latest: str
    """The latest value with its unit, as text."""
    latest_period: str | None
    strip: list[int]
    """The newest values, as percent of the way from the lowest to the highest of them."""
    parts: int
    """How many parts it has values of."""
    signal: StripSignal | None
    unexplained: int
    """Findings of its last segment that have no cause on record."""


@dataclass(frozen=True, slots=True)
class Kpis(Shape):
    """A stretch of the KPIs of a workspace in the order they came, of ``count``."""

    count: int
    start: int
    kpis: list[KpiRow]


@dataclass(frozen=True, slots=True)
class Numbers(Shape):
    """How numbers are written: in ten to the ``power`` of a ``unit``."""

    unit: str
    power: int
    decimals: int
    """Decimals of values as shown."""
    level_decimals: int
    """Decimals of averages and limits."""


@dataclass(frozen=True, slots=True)
class Source(Shape):
    """A KPI that another one is made from."""

    slug: str
    name: str


@dataclass(frozen=True, slots=True)
class Derivation(Shape):
    """How a KPI is made from others, and from which."""

    by: MadeFrom
    sources: list[Source]
    follows: bool
    """Whether all of them are there still, so that its values are theirs."""
    left_out: list[str]
    """What could not be made, in words."""


@dataclass(frozen=True, slots=True)
class Kpi(Shape):
    """A KPI and the settings of its chart."""

    slug: str
    """Empty for one that is not saved yet."""
    name: str
    group: str
    unit: str
    decimals: int
    """Decimals of the values in full."""
    shown_in: ShownIn
    drawn_as: DrawnAs
    raises: Raises
    direction: Direction
    grain: Grain
    """The grain that is shown."""
    stored_grain: Grain
    grains: list[Grain]
    """Grains it can be shown at."""
    breakdowns: list[str]
    aggregation: Aggregation
    time_zone: str
    first_weekday: int
    first_month: int
    floor: float | None
    ceiling: float | None
    target: float | None
    target_high: float | None
    axis_low: float | None
    axis_high: float | None
    value_labels: ValueLabels
    dots: bool
    """Whether routine points are drawn."""
    faint: bool
    """Whether the values stand back behind the lines."""
    rules: tuple[Rule, ...]
    run_length: int
    revision: int
    derivation: Derivation | None
    """How it is made from others; null where its values are its own."""
    times: float
    """What the numerators of a ratio are multiplied by."""
    numbers: Numbers
    """How its numbers are written."""


@dataclass(frozen=True, slots=True)
class Derived(Shape):
    """A KPI that was made from another one."""

    slug: str
    name: str
    left_out: list[str]
    """What could not be made, in words."""


@dataclass(frozen=True, slots=True)
class DerivedPreview(Shape):
    """What a KPI would be that is made from others."""

    name: str
    unit: str
    times: float
    grain: Grain
    count: int
    parts: list[str]
    newest: float | None
    """Its newest value; and the numerator and denominator of that, of a ratio."""
    newest_of: list[float] | None
    left_out: list[str]


@dataclass(frozen=True, slots=True)
class History(Shape):
    """What undo and redo would do; null where there is nothing."""

    undo: str | None
    redo: str | None


@dataclass(frozen=True, slots=True)
class NextPeriod(Shape):
    """The period after the last one."""

    period: str
    label: str


@dataclass(frozen=True, slots=True)
class TargetStep(Shape):
    """A day from which on the target is another one, or a range."""

    day: str
    level: float
    high: float | None


@dataclass(frozen=True, slots=True)
class Strip(Shape):
    """All values of a chart, thinned to what a small strip can show."""

    period: list[str]
    value: FullColumn
