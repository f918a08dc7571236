"""What the API answers with of improvements."""

from dataclasses import dataclass

from fluctus.core.judgment import ImprovementState
from fluctus.http.shapes import Shape
from fluctus.improvements.models import Wanted
from fluctus.kpis.chart.kpi_shapes import Numbers


@dataclass(frozen=True, slots=True)
class DrawnOutcome(Shape):
    """What is drawn of an outcome: values before and since, and what these have brought."""

    before: list[float]
    since: list[float]
    periods: list[str]
    """Those of the values since."""
    course: list[float]
    """What it had brought after each; and the band of that, give or take."""
    band: list[float]


@dataclass(frozen=True, slots=True)
class Aim(Shape):
    """A KPI that is to move, and what has come of that."""

    kpi: str
    kpi_name: str
    numbers: Numbers
    wanted: Wanted
    amount: float | None
    by: str | None
    worth: float | None
    worth_unit: str
    state: ImprovementState
    state_name: str
    state_since: str
    says: str
    n: int
    m: int
    average: float | None
    lower: float | None
    upper: float | None
    brought: float
    band: float
    moved: str | None
    """The first period of the new level."""
    proposes: str | None
    """Where a shift is proposed that nobody has decided on."""
    drawn: DrawnOutcome
    together_with: list[str]
    """Other improvements on this KPI in the same time: what they brought is theirs together."""


@dataclass(frozen=True, slots=True)
class MadeOf(Shape):
    """What an improvement was made from: words, and where that is."""

    says: str
    kpi: str
    finding: int | None


@dataclass(frozen=True, slots=True)
class Improvement(Shape):
    """A change somebody made, and what came of it."""

    id: int
    name: str
    text: str
    owner: str | None
    owner_name: str
    began: str
    made_of: MadeOf | None
    aims: list[Aim]
    version: int
    removed: bool


@dataclass(frozen=True, slots=True)
class ImprovementAct(Shape):
    """Something that was done to it, or came of it; ``author`` "" for the data."""

    at: str
    author: str
    text: str


@dataclass(frozen=True, slots=True)
class ImprovementDetail(Improvement):
    """An improvement with its history."""

    acts: list[ImprovementAct]


@dataclass(frozen=True, slots=True)
class Total(Shape):
    """What improvements brought that are worth the same, and its band, in words."""

    unit: str
    brought: float
    band: float
    count: int
    says: str


@dataclass(frozen=True, slots=True)
class Ledger(Shape):
    """The improvements of a workspace, by what asks for something first."""

    improvements: list[Improvement]
    totals: list[Total]


@dataclass(frozen=True, slots=True)
class Expected(Shape):
    """What there is to say of an improvement before it has begun."""

    baseline: str
    how_soon: str
    problem: str
    """Why nothing could come of it; empty where something can."""
