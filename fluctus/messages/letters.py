"""Letters, written: one of a happening or of several, and the digest. Plain text and HTML alike."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from html import escape
from urllib.parse import urlsplit

from django.conf import settings
from django.contrib.auth.models import User
from django.core.signing import BadSignature, Signer

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.core.words import say_tally
from fluctus.messages.models import Happening, Topic
from fluctus.messages.pictures import PLACE, sentences_of
from fluctus.overview.models import KpiSummary
from fluctus.overview.strips.queries import Viewer, tally_of

MOST_LINES = 40
"""Happenings that a letter tells one by one; of more it says how many."""
HEADINGS = {
    Topic.YOURS: "Yours",
    Topic.SHIFT: "Waits for a decision",
    Topic.BEYOND_LIMITS: "Beyond the limits",
    Topic.OTHER_SIGNALS: "Other signals",
    Topic.REACH: "Targets",
    Topic.DUE: "Due",
    Topic.LATE: "Late",
    Topic.FEED: "Feeds",
}
_SIGNER = Signer(salt="no more mail of a workspace")


@dataclass(frozen=True, slots=True)
class Line:
    """A line of a letter, and where what it tells can be seen."""

    text: str
    address: str


@dataclass(frozen=True, slots=True)
class Part:
    """Lines of a letter below a heading."""

    heading: str
    lines: tuple[Line, ...]


@dataclass(frozen=True, slots=True)
class Letter:
    """A letter, before it is written as text and as HTML."""

    subject: str
    opening: str
    parts: tuple[Part, ...]
    closing: str
    sentences: tuple[tuple[str, str], ...] = ()
    """The charts that it shows, by slug, each with its sentence."""

    @property
    def text(self) -> str:
        """The letter as plain text, as good as the other."""
        blocks = [self.opening]
        for part in self.parts:
            lines = [f"- {line.text}\n  {line.address}" for line in part.lines]
            blocks.append("\n".join([part.heading, *lines]))
        if self.sentences:
            lines = [f"- {sentence}" for _, sentence in self.sentences]
            blocks.append("\n".join(["How they stand", *lines]))
        return "\n\n".join([*blocks, self.closing]) + "\n"

    @property
    def html(self) -> str:
        """The letter as a page: white, one column, as good without pictures."""
        parts = "".join(
            f"<h2 style='font-size:16px;margin:22px 0 6px'>{escape(part.heading)}</h2><ul "
            "style='padding-left:18px;margin:0'>"
            + "".join(
                f"<li style='margin:6px 0'><a style='color:#1f6f7a' href='{escape(line.address)}'>"
                f"{escape(line.text)}</a></li>"
                for line in part.lines
            )
            + "</ul>"
            for part in self.parts
        )
        return (
            "<!doctype html><html lang='en'><body style='font-family:Hanken Grotesk,Helvetica,"
            "Arial,sans-serif;color:#17262c;background:#ffffff;max-width:620px;margin:0 auto;"
            f"padding:16px;line-height:1.45'><p style='font-size:17px'>{escape(self.opening)}</p>"
            f"{parts}{PLACE}<p style='color:#5a6b72;font-size:13px;margin-top:28px'>"
            f"{escape(self.closing)}</p></body></html>"
        )


def letter_of(person: User, workspace: Workspace, told: Sequence[Happening]) -> Letter:
    """Write what a person hears of at once."""
    first = told[0].text.split(". ")[0].rstrip(".")
    subject = first if len(told) == 1 else f"{len(told)} things in {workspace.name}"
    opening = f"{name_of(person)}, this has happened in {workspace.name}."
    return Letter(subject[:150], opening, _parts(workspace, told), _closing(workspace))


def digest_of(
    person: User, workspace: Workspace, told: Sequence[Happening], now: datetime
) -> Letter:
    """Write the digest: how all KPIs stand, what has happened, what waits, what is late."""
    tally = tally_of(Viewer(person, workspace, now, None))
    waits = KpiSummary.objects.filter(kpi__workspace=workspace, attention="waits")
    decided = {row.kpi_id for row in told if row.topic == Topic.SHIFT}
    waiting = [
        Line(f"{row.kpi.name}: {row.what}", address_of(workspace, f"/charts/{row.kpi.slug}"))
        for row in waits.select_related("kpi").order_by("kpi__name")[:MOST_LINES]
        if row.kpi_id not in decided
    ]
    parts = _parts(workspace, told)
    if waiting:
        parts = (*parts, Part("Still waits for a decision", tuple(waiting)))
    said = tuple(sentences_of(told, now))
    opening = f"{workspace.name}: {say_tally(tally)}" if tally.count else workspace.name
    if not told:
        opening += " Nothing new has happened."
    subject = f"{workspace.name}: {_news(len(told))}"
    return Letter(subject, opening, parts, _closing(workspace), said)


def _news(count: int) -> str:
    return "nothing new" if not count else f"{count:,} {'thing' if count == 1 else 'things'} new"


def _parts(workspace: Workspace, told: Sequence[Happening]) -> tuple[Part, ...]:
    parts = []
    for topic, heading in HEADINGS.items():
        rows = [row for row in told if row.topic == topic]
        lines = [Line(row.text, address_of(workspace, row.path)) for row in rows[:MOST_LINES]]
        if len(rows) > MOST_LINES:
            more = f"and {len(rows) - MOST_LINES:,} more"
            lines.append(Line(more, address_of(workspace, "/findings")))
        if lines:
            parts.append(Part(heading, tuple(lines)))
    return tuple(parts)


def address_of(workspace: Workspace, path: str) -> str:
    """Return where something of a workspace can be seen."""
    return f"{settings.SITE_ADDRESS}/{workspace.slug}{path}"


def _closing(workspace: Workspace) -> str:
    return f"What you hear of, and when: {address_of(workspace, '/messages')}"


def unsubscribe_secret(person: User, workspace: Workspace) -> str:
    """Return what ends all mail of a workspace to a person, and does nothing else."""
    return _SIGNER.sign_object([workspace.pk, person.pk])


def unsubscribed_by(secret: str) -> tuple[int, int] | None:
    """Return the workspace and the person that a secret is for; None for none."""
    try:
        workspace, person = _SIGNER.unsign_object(secret)
    except (BadSignature, ValueError, TypeError):
        return None
    return int(workspace), int(person)


def message_id(key: str) -> str:
    """Return the number of a letter, the same however often it is sent."""
    return f"<{key}@{urlsplit(settings.SITE_ADDRESS).hostname or 'fluctus.invalid'}>"
