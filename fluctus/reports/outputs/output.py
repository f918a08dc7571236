"""What a kind of thing handed over is."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from fluctus.jobs.life import Progress
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.contents import Contents, Size
from fluctus.reports.models import Format, Report


@dataclass(frozen=True, slots=True)
class FromPictures:
    """Made from chapters, with their charts drawn at a size; returns the file and its pages.

    The libraries that it takes are loaded when one is made first: most processes never need them.
    """

    size: Size
    setting: str
    """What is said while it is set."""
    make: Callable[[Contents, Asked], tuple[bytes, int]]


@dataclass(frozen=True, slots=True)
class FromCharts:
    """Made from charts as they are kept, without pictures; returns the file."""

    make: Callable[[Report, Asked, list[tuple[Kpi, Chart]], datetime, Progress], bytes]


@dataclass(frozen=True, slots=True)
class Output:
    """All that a kind of thing handed over is."""

    format: Format
    words: str
    """As the record tells of one: ``slides``, ``a workbook``."""
    suffix: str
    media_type: str
    way: FromPictures | FromCharts
    previewed: bool = False
    """Whether its pages can be looked at before it is taken."""
