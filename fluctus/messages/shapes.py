"""What the API answers with of messages."""

from dataclasses import dataclass
from datetime import datetime

from fluctus.http.shapes import Shape
from fluctus.jobs.schedule import Schedule
from fluctus.messages.models import DeliveryState, How, Topic


@dataclass(frozen=True, slots=True)
class Told(Shape):
    """Something that has happened."""

    id: int
    topic: Topic
    at: datetime
    text: str
    path: str
    """Where it can be seen, below the workspace."""


@dataclass(frozen=True, slots=True)
class WishAnswer(Shape):
    """What a person wants to hear of, of a KPI, of a group, or of everything."""

    kpi: str | None
    kpi_name: str
    group: str
    how: dict[str, How]
    quiet_until: datetime | None


@dataclass(frozen=True, slots=True)
class DigestAnswer(Shape):
    """When a person gets the digest."""

    schedule: Schedule
    when: str
    time_zone: str
    next_at: datetime
    even_if_nothing: bool
    no_mail: bool
    refused: str
    """What their mail server said when it refused their address for good; "" where it did not."""


@dataclass(frozen=True, slots=True)
class Messages(Shape):
    """What a person hears of, and how."""

    told: list[Told]
    """What has happened lately, newest first."""
    default: dict[str, How]
    wishes: list[WishAnswer]
    digest: DigestAnswer
    followed: bool
    """Whether there is an address by which a program follows."""
    mail: str
    """Where mail goes to; "" where none is sent."""


@dataclass(frozen=True, slots=True)
class LetterAnswer(Shape):
    """A letter as it would be sent."""

    subject: str
    text: str
    html: str
    sends: bool
    """Whether it would be sent as it is: with nothing to tell there is no letter."""


@dataclass(frozen=True, slots=True)
class ScheduledRow(Shape):
    """A report that is made by itself."""

    id: int
    title: str
    says: str
    """When it is made, and to whom it goes."""
    next_at: datetime
    last_report: int | None
    """The number of the last one."""
    problem: str


@dataclass(frozen=True, slots=True)
class NewAddress(Shape):
    """Addresses that were just made, for programs that follow; told once."""

    findings: str
    events: str


@dataclass(frozen=True, slots=True)
class Changes(Shape):
    """What is another one as soon as something of a workspace has changed."""

    stamp: str


@dataclass(frozen=True, slots=True)
class DeliveryRow(Shape):
    """One message to a webhook."""

    id: int
    at: datetime
    what: str
    state: DeliveryState
    tries: int
    sent_at: datetime | None
    answer: str


@dataclass(frozen=True, slots=True)
class WebhookRow(Shape):
    """A webhook with its last deliveries."""

    id: int
    name: str
    address: str
    topics: list[Topic]
    ended: str
    deliveries: list[DeliveryRow]


@dataclass(frozen=True, slots=True)
class NewWebhook(Shape):
    """A webhook that was just made; its secret is told once."""

    webhook: WebhookRow
    secret: str
