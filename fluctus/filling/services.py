"""Values of several KPIs saved together: all of them or none, and taken back as one."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding, FindingPresence, FindingState
from fluctus.findings.services import change_finding
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.intake.models import Import, ImportKind, ImportPart
from fluctus.jobs.models import JobStatus
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, from_text
from fluctus.kpis.models import DataChange, Kpi, Observation
from fluctus.kpis.values.difference import Counts
from fluctus.kpis.values.services import Edit, ImportMode, edit_values, values_at

NOT_SAVED = "The values were not saved."


@dataclass(frozen=True, slots=True)
class Row:
    """A value as a person typed it for a KPI; ``over`` is whether it replaces what is there."""

    kpi: str
    edit: Edit
    cause: str = ""
    over: bool = False


@transaction.atomic
def fill_in(workspace: Workspace, rows: Sequence[Row], actor: Actor) -> Import | None:
    """Save typed values, all or none; returns what takes them back as one, None if all are there.

    Raises RefusalError (412) naming every row that somebody else has typed meanwhile, and (422)
    every other one that cannot be. One that was sent before, of which the answer was lost, is
    there already and is no conflict.
    """
    kpis = {
        kpi.slug: kpi
        for kpi in Kpi.objects.filter(workspace=workspace, slug__in={row.kpi for row in rows})
    }
    by_kpi: dict[str, list[tuple[int, Row]]] = {}
    for number, row in enumerate(rows):
        if row.kpi not in kpis:
            raise NotThereError("KPI")
        by_kpi.setdefault(row.kpi, []).append((number, row))
    done = Import(
        workspace=workspace,
        person=actor.person,
        kind=ImportKind.TYPED,
        mode=ImportMode.UPDATE,
        size=0,
        role=actor.role,
        status=JobStatus.DONE,
        progress=1.0,
    )
    parts: list[ImportPart] = []
    issues: list[Issue] = []
    stale = False
    # In one order for everybody, so that two who fill in never wait for each other.
    for slug in sorted(by_kpi, key=lambda slug: kpis[slug].pk):
        try:
            part = _fill_one(kpis[slug], by_kpi[slug], done, actor)
        except RefusalError as error:
            stale |= error.status == 412
            issues += error.issues
        else:
            parts += [part] if part is not None else []
    if issues:
        title = "Somebody else has typed some of these meanwhile." if stale else NOT_SAVED
        raise RefusalError(title, *issues, status=412 if stale else 422)
    if not parts:
        return None
    done.rows = sum(part.counts["new"] + part.counts["changed"] for part in parts)
    done.file_name = f"Filled in by hand, {done.rows} {'value' if done.rows == 1 else 'values'}"
    done.save()
    ImportPart.objects.bulk_create(parts)
    return done


def _fill_one(
    kpi: Kpi, numbered: Sequence[tuple[int, Row]], done: Import, actor: Actor
) -> ImportPart | None:
    # What is no period is refused with the others that cannot be.
    keys = {number: (_start(kpi, row.edit.period), row.edit.breakdown) for number, row in numbered}
    known = values_at(kpi, [(at, part) for at, part in keys.values() if at is not None])
    left, edits = [], []
    for number, row in numbered:
        at, part = keys[number]
        there = None if at is None else known.get((at, part))
        if there is not None and _is_same(there, row.edit):
            continue
        seen = there.written_by_id if there is not None and row.over else row.edit.seen
        left.append((number, row))
        edits.append(replace(row.edit, seen=seen))
    if not edits:
        return None
    try:
        kept = edit_values(kpi, edits, actor)
    except RefusalError as error:
        numbers = [number for number, _ in left]
        issues = [_of_row(issue, numbers) for issue in error.issues]
        raise RefusalError(error.title, *issues, status=error.status) from error
    act = DataChange.objects.filter(kpi=kpi).latest("pk")
    for _, row in left:
        if row.cause:
            _explain(kept.kpi, row, actor)
    counts = Counts(new=act.added, changed=act.changed, same=0, missing=0)
    return ImportPart(
        whole=done,
        kpi=kept.kpi,
        name=kept.kpi.name,
        created=False,
        change=act,
        revision=kept.kpi.revision,
        counts=asdict(counts),
    )


def _start(kpi: Kpi, period: str) -> datetime | None:
    try:
        return from_text(period, Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    except (ValueError, OverflowError):
        return None


def _is_same(there: Observation, edit: Edit) -> bool:
    if edit.denominator is not None:
        same = (there.numerator, there.denominator) == (edit.numerator, edit.denominator)
    else:
        same = there.value == edit.value
    return same and there.note == edit.note


def _of_row(issue: Issue, numbers: Sequence[int]) -> Issue:
    """Name the row of all that were sent, of which a KPI has seen its own alone."""
    _, _, rest = issue.field.partition(".")
    at, _, what = rest.partition(".")
    number = numbers[int(at)] if at.isdigit() and int(at) < len(numbers) else numbers[0]
    return replace(issue, field=f"rows.{number}.{what or 'value'}")


def _explain(kpi: Kpi, row: Row, actor: Actor) -> None:
    """Give the finding that a value has brought its cause, where there is one without."""
    start = _start(kpi, row.edit.period)
    found = Finding.objects.filter(
        kpi=kpi,
        presence=FindingPresence.PRESENT,
        state__in=[FindingState.OPEN, FindingState.LOOKING],
        first__lte=start,
        last__gte=start,
    ).first()
    if found is not None:
        changes = {"state": FindingState.EXPLAINED, "cause": row.cause}
        change_finding(found, found.version, changes, actor.person)


@transaction.atomic
def give_to(workspace: Workspace, slugs: Sequence[str], username: str | None) -> int:
    """Make a member responsible for the values of some KPIs, or nobody; returns of how many.

    Raises NotThereError for who is no member.
    """
    person = None
    if username is not None:
        person = User.objects.filter(username=username, workspaces=workspace).first()
        if person is None:
            raise NotThereError("person")
    rows = Kpi.objects.filter(workspace=workspace, slug__in=slugs)
    return rows.update(filled_by=person)
