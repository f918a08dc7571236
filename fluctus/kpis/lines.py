"""Lines and bands that people put on a chart, as plain data."""

from dataclasses import dataclass
from enum import StrEnum

from fluctus.core.context import Reference, Statistic

MOST_LINES = 24
"""More lines on one chart tell nobody anything."""


class LineSource(StrEnum):
    """What a line is made from: a level of the values shown, or a course over them."""

    CONSTANT = Statistic.CONSTANT.value
    MEAN = Statistic.MEAN.value
    MEDIAN = Statistic.MEDIAN.value
    PERCENTILE = Statistic.PERCENTILE.value
    MINIMUM = Statistic.MINIMUM.value
    MAXIMUM = Statistic.MAXIMUM.value
    SUM = Statistic.SUM.value
    PERCENT_OF_MAXIMUM = Statistic.PERCENT_OF_MAXIMUM.value
    MOVING_AVERAGE = "moving_average"
    ROLLING_BAND = "rolling_band"
    COARSER_MEAN = "coarser_mean"
    TREND = "trend"
    YEAR_BEFORE = "year_before"
    SEGMENT_BEFORE = "segment_before"

    @property
    def statistic(self) -> Statistic | None:
        """The statistic that it is a level of; None for a course."""
        return None if self in COURSES else Statistic(self.value)


COURSES = (
    LineSource.MOVING_AVERAGE,
    LineSource.ROLLING_BAND,
    LineSource.COARSER_MEAN,
    LineSource.TREND,
    LineSource.YEAR_BEFORE,
    LineSource.SEGMENT_BEFORE,
)


class Per(StrEnum):
    """What the length of an average over time is counted in."""

    PERIOD = "period"
    HOUR = "hour"
    DAY = "day"
    WEEK = "week"
    MONTH = "month"
    QUARTER = "quarter"
    YEAR = "year"


class LineColor(StrEnum):
    """The colors of lines, told apart by dashes and names as well."""

    INDIGO = "indigo"
    SLATE = "slate"
    CLAY = "clay"
    OCHRE = "ochre"
    INK = "ink"


class Dash(StrEnum):
    """How a line is broken up."""

    SOLID = "solid"
    DASHED = "dashed"
    DOTTED = "dotted"
    LONG = "long"


class Weight(StrEnum):
    """How strong a line is."""

    FAINT = "faint"
    THIN = "thin"
    MEDIUM = "medium"
    STRONG = "strong"


class Marks(StrEnum):
    """Which values are marked at a line."""

    NONE = "none"
    ABOVE = "above"
    BELOW = "below"


class LabelShows(StrEnum):
    """What the tag of a line shows."""

    BOTH = "both"
    NAME = "name"
    VALUE = "value"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class LineState:
    """A line as a person sets it.

    ``number`` is a constant, a percentile or a percent. ``length`` counts what an average over
    time takes, in ``per``; a coarser mean takes it by ``per``. ``deviations`` is half the width
    of a rolling band. ``decimals`` None leaves them to the values.
    """

    key: str
    made: str
    name: str = ""
    number: float = 0.0
    factor: float = 1.0
    amount: float = 0.0
    length: int = 4
    per: str = Per.PERIOD.value
    deviations: float = 2.0
    color: str = LineColor.INDIGO.value
    dash: str = Dash.DASHED.value
    weight: str = Weight.THIN.value
    shows: str = LabelShows.BOTH.value
    decimals: int | None = None
    hidden: bool = False
    in_front: bool = False
    marks: str = Marks.NONE.value
    shaded: bool = False
    """Whether the space between the values and the line is shaded, or columns are split at it."""

    @property
    def reference(self) -> Reference | None:
        """The reference value that it is; None for a course."""
        statistic = LineSource(self.made).statistic
        if statistic is None:
            return None
        return Reference(statistic, self.number, self.factor, self.amount)


@dataclass(frozen=True, slots=True)
class BandState:
    """The space between two lines, by their keys; they may be hidden themselves."""

    key: str
    bottom: str
    top: str
    name: str = ""
    color: str = LineColor.SLATE.value
    hidden: bool = False


@dataclass(frozen=True, slots=True)
class TargetStep:
    """A day from which on the target is ``level``, or a range from it to ``high``."""

    day: str
    level: float
    high: float | None = None


MOST_VIEWS, MOST_STEPS = 20, 60


@dataclass(frozen=True, slots=True)
class ViewState:
    """A way of looking at a chart that is kept by name.

    ``hidden`` names what is not shown: ``average``, ``limits``, ``target``, or lines by their
    keys. ``by`` is the grain, ``breakdown`` the part; ``first`` and ``last`` bound the dates.
    None takes all there is.
    """

    name: str
    hidden: tuple[str, ...] = ()
    by: str | None = None
    breakdown: str | None = None
    first: str | None = None
    last: str | None = None
