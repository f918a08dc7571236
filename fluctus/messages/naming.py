"""Word to whoever is named: in a remark, an event, or what is said of a shift.

Noted in the transaction that writes the words. A name that is taken out again takes the word
back, unless it has been sent.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.contrib.auth.models import User

from fluctus.accounts.models import Workspace
from fluctus.accounts.naming import named_in
from fluctus.accounts.queries import name_of
from fluctus.findings.models import Entry
from fluctus.http import clock
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Event, Kpi
from fluctus.messages.models import Happening, Topic
from fluctus.messages.wishes import members_of


@dataclass(frozen=True, slots=True)
class Words:
    """What somebody has written: what it is known by, where it stands, and of which KPI."""

    workspace: Workspace
    key: str
    text: str
    where: str
    path: str
    at: datetime
    author: User | None = None
    kpi: Kpi | None = None


def note_remark(sender: type[Entry], instance: Entry, **_: Any) -> None:
    """Let those know whom a remark names."""
    if instance.remark and "@" in instance.text:
        finding = instance.finding
        _note(
            Words(
                finding.kpi.workspace,
                f"named remark {instance.pk}",
                instance.text,
                f"a remark on {finding.kpi.name}, {finding}",
                f"/charts/{finding.kpi.slug}?finding={finding.pk}",
                instance.at,
                instance.author,
                finding.kpi,
            )
        )


def note_event(sender: type[Event], instance: Event, *, created: bool, **_: Any) -> None:
    """Let those know whom an event names; one that was changed may do so no more."""
    text = f"{instance.title}\n{instance.text}"
    if "@" in text or not created:
        _note(
            Words(
                instance.workspace,
                f"named event {instance.pk}",
                text,
                f"the event {instance.title}",
                "/events",
                clock.now(),
                instance.author,
            )
        )


def follow_shifts(charted: Sequence[Charted]) -> None:
    """Let those know whom the words on a shift name; those of a chart just made are history."""
    rows = [
        each for each in charted if each.kpi.revision > 1 and len(each.chart.state.segments) > 1
    ]
    noted = Happening.objects.filter(
        kpi__in=[each.kpi.pk for each in rows], key__startswith="named shift ", gone=False
    )
    named = set(noted.values_list("kpi", flat=True))
    for each in rows:
        for segment in each.chart.state.segments:
            words = segment.what_changed
            if segment.start is not None and ("@" in words or each.kpi.pk in named):
                _note(
                    Words(
                        each.kpi.workspace,
                        f"named shift {each.kpi.pk} {segment.start}",
                        words,
                        f"a shift of {each.kpi.name}",
                        f"/charts/{each.kpi.slug}",
                        each.at,
                        kpi=each.kpi,
                    )
                )


def _note(words: Words) -> None:
    named = {
        f"{words.key} {person.pk}": person
        for person in members_of(words.workspace)
        if person != words.author and named_in(person)(words.text)
    }
    noted = Happening.objects.filter(
        workspace=words.workspace, key__startswith=f"{words.key} ", topic=Topic.YOURS
    )
    noted.filter(gone=False).exclude(key__in=named).update(gone=True)
    by = f"{name_of(words.author)} names you" if words.author else "You are named"
    Happening.objects.bulk_create(
        [
            Happening(
                workspace=words.workspace,
                topic=Topic.YOURS,
                key=key,
                at=words.at,
                kpi=words.kpi,
                person=person,
                text=f"{by} in {words.where}: {' '.join(words.text.split())}"[:500],
                path=words.path,
            )
            for key, person in named.items()
        ],
        # Who has been told is not told again, and finds the words as they are now.
        update_conflicts=True,
        unique_fields=["workspace", "key"],
        update_fields=["text", "gone"],
    )
