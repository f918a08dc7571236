"""Writes of findings by people, each one transaction."""

from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.queries import name_of
from fluctus.findings.matching import count_unexplained
from fluctus.findings.models import Entry, Finding, FindingState
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.models import Kpi

NOT_SAVED = "The finding was not saved."
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
    finding: Finding, version: int, changes: dict[str, Any], author: User
) -> Finding:
    """Change what people make of a finding, and note it in its history.

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
        last = Entry.objects.filter(finding=row).order_by("-pk").first()
        raise RefusalError(
            "This finding has changed since you opened it.",
            Issue(
                f"Meanwhile: {name_of(last.author) or 'the data'}: {last.text}." if last else "",
                "Nothing was changed. Look at it as it is now, then make your change again.",
            ),
            status=412,
            revision=row.version,
        )
    changes_in_words = [
        text for name, value in changes.items() if (text := _change(row, name, value, kpi)) != ""
    ]
    if row.state == FindingState.EXPLAINED and not row.cause.strip():
        raise RefusalError(
            NOT_SAVED, Issue("An explained finding has a cause.", "Say what it was.", "cause")
        )
    if not changes_in_words:
        return row
    row.version += 1
    row.save()
    Entry.objects.create(finding=row, author=author, text="; ".join(changes_in_words)[:2000])
    count_unexplained(kpi)
    return row


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
                    "Set its points aside there, or review the shift.", "state",
                ),
            )  # fmt: skip
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
