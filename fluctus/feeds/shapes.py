"""What the API answers with of feeds."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from fluctus.feeds.models import FeedState, FetchOutcome
from fluctus.http.refusals import Issue
from fluctus.http.shapes import Shape
from fluctus.intake.shapes import Uploaded
from fluctus.jobs.models import JobStatus
from fluctus.jobs.schedule import Schedule


@dataclass(frozen=True, slots=True)
class FedKpi(Shape):
    """A KPI that a feed feeds, and how fresh it is."""

    slug: str
    name: str
    newest: str | None
    """Its newest period, in words."""
    late: bool


@dataclass(frozen=True, slots=True)
class FetchRow(Shape):
    """One time that a feed has fetched."""

    id: int
    began: datetime
    seconds: float | None
    by_hand: bool
    status: JobStatus
    stage: str
    progress: float
    outcome: FetchOutcome
    says: str
    """What came of it, in words."""
    size: int
    rows: int
    touched: int
    """Values that it has added or changed."""
    remarks: list[str]
    issues: list[Issue]
    brought: int | None
    """The number of the import, which can be undone."""


@dataclass(frozen=True, slots=True)
class FeedRow(Shape):
    """A feed as the list shows it: a line of text that can be read aloud."""

    id: int
    name: str
    state: FeedState
    says: str
    owner: str
    source: str
    revision: int
    next_at: datetime | None
    kpis: list[FedKpi]
    differs: list[str]
    """What of the table that waits does not fit."""
    waits: bool
    """Whether a table waits for a decision."""
    last: FetchRow | None
    fetching: bool


@dataclass(frozen=True, slots=True)
class FeedDetails(Shape):
    """A feed with its last fetches, newest first."""

    feed: FeedRow
    options: dict[str, Any]
    schedule: Schedule
    time_zone: str
    when: str
    fetches: list[FetchRow]


@dataclass(frozen=True, slots=True)
class LookedAtFeed(Shape):
    """A source that was looked at: the draft of its feed, and its table as an upload."""

    draft: int
    name: str
    uploaded: Uploaded


@dataclass(frozen=True, slots=True)
class SetUpFeed(Shape):
    """A feed that was set up, and the import of its first table."""

    feed: int
    brought: int
    under_way: bool
    """Whether that takes long: the feed begins once it is done."""


@dataclass(frozen=True, slots=True)
class When(Shape):
    """A schedule in words, and its next three times."""

    says: str
    next_times: list[datetime]
    """None where it follows the arrivals of values."""
