"""Writes of findings by people, each one transaction."""

from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.accounts.queries import name_of
from fluctus.findings.matching import count_unexplained
from fluctus.findings.models import Entry, Finding, FindingState, Look
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.models import Kpi

NOT_SAVED = "The finding was not saved."
STILL_LOOKING = timedelta(minutes=30)
"""Somebody who looks again within this time has not been away."""
BY_HAND = (FindingState.OPEN, FindingState.LOOKING, FindingState.EXPLAINED)
"""States that people give; the others come of setting points aside and of shifts."""
STATE_WORDS = {
    FindingState.OPEN: "no cause yet",
    FindingState.LOOKING: "being looked into",
    FindingState.EXPLAINED: "explained",
    FindingState.ASIDE: "set aside",
    FindingState.SHIFT: "became a shift",
}


@transaction.atomic
def change_finding(
    finding: Finding, version: int, changes: dict[str, Any], author: User | None
) -> Finding:
    """Change what people make of a finding, and note it in its history; without an author as data.

    Raises RefusalError (412) where somebody else has changed it since
    ``version``, for an explained one without a cause, for a state that only
    the data gives, and for a person of another workspace.
    """
    # The KPI first, as every write to a chart does, so that two never wait for each other.
    kpi = Kpi.objects.select_for_update(no_key=True).get(pk=finding.kpi_id)
    row = Finding.objects.select_for_update(of=("self",), no_key=True).filter(pk=finding.pk).first()
    if row is None:
        raise NotThereError("finding")
    if row.version != version:
        raise RefusalError(
            "This finding has changed since you opened it.",
            Issue(
                _meanwhile(row),
                "Nothing was changed. Look at it as it is now, then make your change again.",
            ),
            status=412,
            revision=row.version,
        )
    if _make_of(row, changes, kpi, author):
        count_unexplained([kpi])
    return row


@transaction.atomic
def change_findings(
    workspace: Workspace, seen: dict[int, int], changes: dict[str, Any], author: User
) -> list[Finding]:
    """Change what people make of several findings, all of them or none.

    ``seen`` has the version of each that the author saw. Raises RefusalError as
    ``change_finding`` does, naming those that somebody else has changed or that are gone.
    """
    kpis = Kpi.objects.filter(
        pk__in=Finding.objects.filter(pk__in=seen, kpi__workspace=workspace).values("kpi")
    )
    # In one order for everybody, so that two never wait for each other.
    locked = {kpi.pk: kpi for kpi in kpis.order_by("pk").select_for_update(no_key=True)}
    rows = {
        row.pk: row
        for row in Finding.objects.filter(pk__in=seen, kpi__in=locked)
        .order_by("pk")
        .select_for_update(of=("self",), no_key=True)
    }
    stale = [
        Issue(
            f"{row}, has changed since you saw it. {_meanwhile(row)}"
            if row
            else "This finding is no longer there.",
            "Leave it out, or look at it as it is now.",
            f"findings.{number}",
        )
        for number, (pk, version) in enumerate(seen.items())
        if (row := rows.get(pk)) is None or row.version != version
    ]
    if stale:
        raise RefusalError("Nothing was changed.", *stale[:20], status=412)
    for row in rows.values():
        _make_of(row, changes, locked[row.kpi_id], author)
    count_unexplained(list(locked.values()))
    return list(
        Finding.objects.filter(pk__in=rows)
        .select_related("kpi", "person")
        .order_by("-first", "-pk")
    )


def note_look(person: User, workspace: Workspace, now: datetime) -> None:
    """Note that a person looks through the findings.

    To one who goes on looking the same stay new.
    """
    look, first = Look.objects.get_or_create(
        person=person, workspace=workspace, defaults={"since": now, "at": now}
    )
    if first:
        return
    if now - look.at > STILL_LOOKING:
        look.since = look.at
    look.at = now
    look.save(update_fields=["since", "at"])


def _meanwhile(row: Finding) -> str:
    last = Entry.objects.filter(finding=row).order_by("-pk").first()
    return f"Meanwhile: {name_of(last.author) or 'the data'}: {last.text}." if last else ""


def _make_of(row: Finding, changes: dict[str, Any], kpi: Kpi, author: User | None) -> bool:
    """Change a locked finding and note it; tells whether anything is changed."""
    changes_in_words = [
        text for name, value in changes.items() if (text := _change(row, name, value, kpi)) != ""
    ]
    if row.state == FindingState.EXPLAINED and not row.cause.strip():
        raise RefusalError(
            NOT_SAVED, Issue("An explained finding has a cause.", "Say what it was.", "cause")
        )
    if not changes_in_words:
        return False
    row.version += 1
    row.save()
    Entry.objects.create(finding=row, author=author, text="; ".join(changes_in_words)[:2000])
    return True


def _change(row: Finding, name: str, value: Any, kpi: Kpi) -> str:
    """Change one thing; returns what that was, in words, empty where nothing changes."""
    if name == "person":
        value = _member(value, kpi)
    if getattr(row, name) == value:
        return ""
    if name == "state":
        if value not in BY_HAND:
            raise RefusalError(
                NOT_SAVED,
                Issue(
                    f"A finding is {STATE_WORDS[value]} by what is done on its chart.",
                    "Set its points aside there, or review the shift.",
                    "state",
                ),
            )
        row.state_before = ""
    setattr(row, name, value)
    if name == "state":
        return f"Now {STATE_WORDS[value]}"
    if name == "person":
        return f"Given to {name_of(value)}" if value else "Given to nobody"
    if name == "due":
        return f"Due {value.isoformat()}" if value else "No due date"
    return f"{name.capitalize()}: {value}" if value else f"{name.capitalize()} removed"


def _member(name: str | None, kpi: Kpi) -> User | None:
    if not name:
        return None
    person = User.objects.filter(workspaces=kpi.workspace_id, username=name).first()
    if person is None:
        raise RefusalError(
            NOT_SAVED,
            Issue(f"{name} is not in this workspace.", "Choose somebody who is.", "person"),
        )
    return person


def add_remark(finding: Finding, text: str, author: User) -> Entry:
    """Add a remark."""
    return Entry.objects.create(finding=finding, author=author, remark=True, text=text)
