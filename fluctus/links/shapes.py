"""What the API answers with of links."""

from dataclasses import dataclass
from datetime import datetime

from fluctus.http.shapes import Shape
from fluctus.links.models import Extra, LinkKind
from fluctus.overview.panels.contents import PanelContent


@dataclass(frozen=True, slots=True)
class LinkRow(Shape):
    """A link, for the people of its workspace."""

    id: int
    kind: LinkKind
    title: str
    person: str
    made_at: datetime
    expires: datetime | None
    has_password: bool
    embeddable: bool
    names: bool
    frozen: bool
    opened: int
    opened_at: datetime | None
    status: str
    """``open``, ``expired``, ``revoked`` or ``gone``."""
    shows: list[Extra]


@dataclass(frozen=True, slots=True)
class Links(Shape):
    """The links of a workspace, and which other sites may show them in a frame."""

    links: list[LinkRow]
    frames: list[str]


@dataclass(frozen=True, slots=True)
class NewLink(Shape):
    """A link that was just made; its address is told this once."""

    link: LinkRow
    address: str


@dataclass(frozen=True, slots=True)
class Shared(Shape):
    """What a link shows."""

    kind: LinkKind
    title: str
    workspace: str
    made_at: datetime
    by: str
    """Who made it; "" where people are not named."""
    frozen: bool
    """Whether it shows what there was when it was made."""
    things: list[PanelContent]
    pages: int
    """Of a report: how many pages it has to look at."""
    file: str
    """Of a report: what its file is."""


@dataclass(frozen=True, slots=True)
class LinkKey(Shape):
    """What opens a link with a password, for some hours."""

    key: str
