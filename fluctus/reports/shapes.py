"""What the API answers with of reports."""

from dataclasses import dataclass
from datetime import datetime

from fluctus.http.refusals import Issue
from fluctus.http.shapes import Shape
from fluctus.jobs.models import JobStatus
from fluctus.reports.asked import Paper
from fluctus.reports.models import Format, Scope


@dataclass(frozen=True, slots=True)
class ShownKpi(Shape):
    """A KPI that a report shows, as it was then."""

    slug: str
    name: str
    revision: int


@dataclass(frozen=True, slots=True)
class ReportProblem(Shape):
    """Why a report was not made."""

    title: str
    issues: list[Issue]


@dataclass(frozen=True, slots=True)
class Report(Shape):
    """A report, made or on its way."""

    id: int
    title: str
    format: Format
    scope: Scope
    paper: Paper
    person: str
    at: datetime
    status: JobStatus
    stage: str
    progress: float
    problem: ReportProblem | None
    pages: int
    shows: list[ShownKpi]
    left_out: list[str]


@dataclass(frozen=True, slots=True)
class Reports(Shape):
    """A stretch of the reports, newest first."""

    count: int
    start: int
    reports: list[Report]
