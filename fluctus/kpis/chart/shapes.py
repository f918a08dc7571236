"""What the API answers with of charts."""

from dataclasses import dataclass

from fluctus.core import Centre, Firmness, Rule, Side, Spread
from fluctus.core.analysis import Judges, Mark
from fluctus.core.judgment import Fitness, Nature, ReviewAnswer
from fluctus.http.shapes import FloatColumn, FullColumn, IntColumn, Shape
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.asking_shapes import Candidate, FarOff
from fluctus.kpis.chart.kpi_shapes import History, Kpi, NextPeriod, Strip, TargetStep
from fluctus.kpis.lines import Dash, LabelShows, LineColor, LineSource, Marks, Per, Weight
from fluctus.kpis.seasons import Follows


@dataclass(frozen=True, slots=True)
class Basis(Shape):
    """The stretch that limits come from, by the positions and the periods of both its ends."""

    first: int
    last: int
    first_period: str
    last_period: str


@dataclass(frozen=True, slots=True)
class Segment(Shape):
    """A segment with its settings and limits; ``first`` and ``stop`` are positions, half open."""

    start: str | None
    name: str
    what_changed: str
    centre: Centre
    spread: Spread
    window: list[str] | None
    """First and last period of the baseline; null where all of the segment is taken."""
    follows: Follows
    review: dict[str, ReviewAnswer]
    """Answers to the questions of the shift review, by question."""
    label: str
    """Name of the period it starts at, for people."""
    first: int
    stop: int
    n: int
    """Included values of the limit window."""
    average: float | None
    average_range: float | None
    upper: float | None
    lower: float | None
    upper_clipped: bool
    lower_clipped: bool
    range_limit: float | None
    sigma: float | None
    firmness: Firmness
    advice: str
    """What the answers of its review advise."""
    how: str
    """How its numbers were made, in words."""
    basis: Basis | None
    firmer: str | None
    """What limits from all values would be, once these are firmer."""


@dataclass(frozen=True, slots=True)
class Points(Shape):
    """The points to draw, in columns of one length."""

    position: IntColumn
    period: list[str]
    value: FullColumn
    moving_range: FloatColumn
    distance: FloatColumn
    """Value minus the central line."""
    numerator: FloatColumn | None
    """Of a ratio, both numbers that it is made of, where they are known."""
    denominator: FloatColumn | None
    centre: FloatColumn | None
    """Central line at each point; null where all segments are level."""
    upper: FloatColumn | None
    lower: FloatColumn | None


@dataclass(frozen=True, slots=True)
class SetAside(Shape):
    """A value that takes no part, and why."""

    position: int
    reason: str


@dataclass(frozen=True, slots=True)
class Signal(Shape):
    """A signal and the numbers it was judged by."""

    rule: Rule
    mark: Mark
    judges: Judges
    """Whether its points are marked among the values or the moving ranges."""
    side: Side
    segment: int
    points: tuple[int, ...]
    """Those that are drawn; all of them unless the view is thinned."""
    count: int
    """How many it flags."""
    stands_for: int
    """Signals near it, itself one of them, that it is drawn for."""
    label: str
    title: str
    text: str
    level: float | None
    sigmas: float | None
    favorable: bool | None


@dataclass(frozen=True, slots=True)
class Happening(Shape):
    """Signals that say the same thing, which are one finding."""

    signals: list[int]
    """Places among the signals of the answer, the weightiest first."""
    first: str
    """Its first period and its last."""
    last: str
    lead_first: str
    """Those of the signal that it leads with."""
    lead_last: str
    position: int
    """Where its weightiest signal begins."""
    label: str
    mark: Mark
    title: str
    text: str
    evidence: list[str]
    """What else says the same, by title."""


@dataclass(frozen=True, slots=True)
class Sentence(Shape):
    """What the chart says."""

    headline: str
    detail: str


@dataclass(frozen=True, slots=True)
class ComparisonRow(Shape):
    """One number before and after, as text."""

    name: str
    before: str
    after: str
    change: str
    percent: str


@dataclass(frozen=True, slots=True)
class Comparison(Shape):
    """Two segments side by side."""

    before: str
    after: str
    numbers: list[int]
    """Numbers of the two segments."""
    rows: list[ComparisonRow]
    evidence: str
    """Whether they differ by more than chance; empty where it is not asked."""
    sentence: str
    """The comparison, to paste in a report."""


@dataclass(frozen=True, slots=True)
class Pattern(Shape):
    """What speaks for limits that follow something, in words, and whether it is enough."""

    follows: Follows
    proposed: bool
    title: str
    text: str
    share: float
    """Share of the variance that it explains."""


@dataclass(frozen=True, slots=True)
class Note(Shape):
    """What somebody noted of a value."""

    position: int
    text: str


@dataclass(frozen=True, slots=True)
class Gap(Shape):
    """Periods without a value just before a position."""

    position: int
    missing: int


@dataclass(frozen=True, slots=True)
class Doubt(Shape):
    """Why values may be unfit for a chart: what was found, what it means, what to do."""

    check: Fitness
    title: str
    text: str
    remedy: str


@dataclass(frozen=True, slots=True)
class KeptLimits(Shape):
    """A decision that the process has not shifted at a period, which is named for people."""

    period: str
    reason: str
    review: dict[str, ReviewAnswer]
    label: str


@dataclass(frozen=True, slots=True)
class Levels(Shape):
    """What of a chart moves under a dragging hand: its limits, and what they say."""

    points: Points | None
    """None where the points are those of the chart that is dragged on."""
    segments: list[Segment]
    signals: list[Signal]
    happenings: list[Happening]
    """Those that are findings, in order of time."""
    finding_count: int
    """Happenings in all, shown or not."""
    sentence: Sentence
    comparison: Comparison | None


@dataclass(frozen=True, slots=True)
class Line(Shape):
    """A line that a person has put on a chart, with what it comes to."""

    key: str
    made: LineSource
    name: str
    number: float
    factor: float
    amount: float
    length: int
    per: Per
    deviations: float
    color: LineColor
    dash: Dash
    weight: Weight
    shows: LabelShows
    decimals: int | None
    hidden: bool
    in_front: bool
    marks: Marks
    shaded: bool
    says: str
    """How it is made: ``90th percentile``."""
    over: str
    """What it is made over: ``of the 52 weeks shown``."""
    level: float | None
    """Where it is at the last point shown; null where there is nothing of it."""
    text: str
    """That level as text, and with its unit."""
    amount_text: str
    other_scale: bool
    """Whether it is on another scale than the values, and drawn in a panel of its own."""
    course: FloatColumn | None
    """Its height at each point drawn; null where it is level."""
    differences: FloatColumn | None
    """How far each value drawn is from what it is laid over, where that is of another time."""
    low: FloatColumn | None
    high: FloatColumn | None
    """The sides of a rolling band at each point drawn."""
    note: str
    """What is to be known or doubted of it; empty where nothing is."""
    instead: float | None
    """The number that may be meant, where the one typed is far off the values."""
    beyond: IntColumn
    """Positions drawn that are marked, being beyond it."""
    above: FloatColumn | None
    """How much of each value drawn is above it, where it is shaded; the rest of it is ``under``."""
    under: FloatColumn | None


@dataclass(frozen=True, slots=True)
class Band(Shape):
    """The space between two lines, by their keys."""

    key: str
    bottom: str
    top: str
    name: str
    color: LineColor
    hidden: bool
    says: str
    """Between which lines it is."""
    note: str


@dataclass(frozen=True, slots=True)
class View(Shape):
    """A way of looking at a chart that is kept by name."""

    name: str
    hidden: tuple[str, ...]
    """What is not shown: average, limits, target, or lines by their keys."""
    by: Grain | None
    breakdown: str | None
    first: str | None
    last: str | None


@dataclass(frozen=True, slots=True)
class Axis(Shape):
    """Where the axis of the values is fixed, and what lies outside of it."""

    low: float | None
    high: float | None
    below: int
    above: int
    """Values shown that lie outside."""
    note: str


@dataclass(frozen=True, slots=True)
class Chart(Levels):
    """Everything a chart draws and says."""

    points: Points
    kpi: Kpi
    count: int
    """Values in all, shown or not."""
    basis: str
    """How each value was made, in words."""
    remarks: tuple[str, ...]
    """What could not keep its meaning at this grain."""
    incomplete: int | None
    """Position of a last period that is not over and takes no part."""
    next: NextPeriod | None
    targets: FloatColumn | None
    """Targets of the points drawn, where they change over time."""
    targets_high: FloatColumn | None
    """The high sides of those that are ranges."""
    target_now: float | None
    target_high_now: float | None
    off_target: IntColumn
    """Positions drawn whose values do not meet their own target."""
    lines: list[Line]
    """Those that people have put on it, in their order."""
    bands: list[Band]
    target_steps: list[TargetStep]
    """Days from which on the target is another one, as a person has set it."""
    views: list[View]
    axis: Axis
    strip: Strip | None
    """All dates, where only some of them are shown."""
    notes: list[Note]
    gaps: list[Gap]
    """Where periods are missing among those shown; none where values come irregularly."""
    shown: list[int]
    """First position shown, and one past the last."""
    set_aside: list[SetAside]
    hollow_ranges: IntColumn
    doubts: list[Doubt]
    nature: Nature | None
    """What kind of values these are, where limits by period say little of them."""
    kept_limits: list[KeptLimits]
    confirmed: tuple[str, ...]
    """Periods of values far off of which somebody has said that they are right."""
    far_off: list[FarOff]
    """Values far off the others that nobody has said anything of."""
    candidates: list[Candidate]
    patterns: list[Pattern]


@dataclass(frozen=True, slots=True)
class SavedChart(Chart):
    """A chart as it is saved."""

    history: History
