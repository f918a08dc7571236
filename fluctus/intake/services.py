"""Bringing tables in and taking imports back: each all or nothing."""

from collections.abc import Callable
from dataclasses import asdict, replace
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import connections, transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.models import Import, ImportPart, Upload
from fluctus.intake.queries import later_edits
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import KpiRead, Reading, read
from fluctus.intake.uploads import forget, opened
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.services import create_kpi, locked, record, renew, take_values_back
from fluctus.kpis.models import Kpi
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.services import Mode, write_frame
from fluctus.tables.formats.opening import Opened

NOTHING_SAVED = "Some rows cannot be read; nothing was saved."
KEPT_LEFT_OUT = 200
Report = Callable[[str, float], None]
"""Told how far an import is: its stage, and the share that is done."""


class CancelledError(Exception):
    """The person has asked for the import to stop."""


@transaction.atomic
def plan_import(
    workspace: Workspace,
    person: User,
    upload: Upload,
    mapping: Mapping,
    mode: Mode,
    into: Kpi | None = None,
) -> Import:
    """Note down an import that is to be carried out."""
    return Import.objects.create(
        workspace=workspace, person=person, upload=upload, file_name=upload.name,
        size=upload.size, checksum=upload.checksum, mapping=mapping.to_json(), into=into, mode=mode,
    )  # fmt: skip


def is_long(upload: Upload) -> bool:
    """Tell whether bringing it in takes long enough to be done in the background."""
    return upload.size > settings.LONG_IMPORT_BYTES


def carry_out(one: Import, report: Report = lambda stage, share: None) -> None:
    """Bring a planned import in: all of it, or nothing.

    Raises RefusalError for what cannot be, CancelledError when it is to stop,
    and leaves it to the caller to note either down.
    """
    assert one.upload is not None, "an upload is kept until its import has ended"
    report("Reading the table", 0.05)
    mapping = Mapping.from_json(one.mapping)
    table = opened(one.upload, mapping.sheet)
    report("Understanding the table", 0.2)
    reading = read(table.grid, mapping)
    if reading.problem_count and not reading.made.leave_out:
        raise RefusalError(NOTHING_SAVED, *reading.problems)
    chosen = [kpi for kpi in reading.chosen if kpi.points.height]
    if not chosen:
        raise RefusalError(
            "There are no values to save.", Issue("No row has both a date and a value.")
        )
    report("Saving the values", 0.45)
    with transaction.atomic():
        parts = (
            [_add(one, chosen[0], report)]
            if one.into is not None
            else [_create(one, reading, kpi, report) for kpi in chosen]
        )
        report("Finishing", 0.95)
        # Locked last, since reports of progress come from elsewhere and would wait for it.
        row = Import.objects.select_for_update(of=("self",)).get(pk=one.pk)
        if row.status not in (Import.Status.WAITING, Import.Status.RUNNING):
            raise CancelledError
        ImportPart.objects.bulk_create(parts)
        row.mapping = reading.made.to_json()
        row.columns = list(reading.found.names)
        row.rows = len(reading.found)
        row.left_out = _left_out(reading)
        row.left_out_count = reading.found.left_out_count + reading.problem_count
        row.status, row.stage, row.progress = Import.Status.DONE, "", 1.0
        row.save()
    forget(one.upload)
    one.refresh_from_db()


def _saving(report: Report) -> Callable[[float], None]:
    return lambda share: report("Saving the values", 0.45 + 0.45 * share)


def _add(one: Import, kpi: KpiRead, report: Report) -> ImportPart:
    assert one.into is not None, "the caller has seen that there is one"
    summary = f"Brought in {one.file_name or 'a paste'}"
    change, difference = write_frame(
        one.into, kpi.points, Mode(one.mode), one.person, summary, _saving(report)
    )
    one.into.refresh_from_db()
    return ImportPart(
        whole=one, kpi=one.into, name=one.into.name, created=False, change=change,
        revision=one.into.revision, counts=difference.counts(),
    )  # fmt: skip


def _create(one: Import, reading: Reading, kpi: KpiRead, report: Report) -> ImportPart:
    state = state_for(reading, kpi)
    if not state.name.strip():
        raise RefusalError(
            "A KPI has no name.", Issue("A name is missing.", "Give it a name.", "name")
        )
    grain = reading.made.grain
    assert grain is not None, "a reading has settled the grain"
    summary = f"Came with {one.file_name or 'a paste'}"
    made, change = create_kpi(
        one.workspace, state, grain, kpi.points, one.person, summary, _saving(report)
    )
    counts = {"new": kpi.points.height, "changed": 0, "same": 0, "missing": 0}
    return ImportPart(
        whole=one, kpi=made, name=made.name, created=True, change=change,
        revision=made.revision, counts=counts,
    )  # fmt: skip


def state_for(reading: Reading, kpi: KpiRead) -> ChartState:
    """Return the chart state of a KPI to be made: what is chosen, and what is proposed."""
    made = reading.made
    proposed = {
        "name": kpi.name,
        "unit": kpi.unit,
        "decimals": kpi.decimals,
        "aggregation": kpi.choice.aggregation,
        "time_zone": made.time_zone,
        "first_weekday": made.first_weekday or 0,
        "first_month": made.first_month,
    }
    return ChartState.from_json(proposed | kpi.choice.details)


def _left_out(reading: Reading) -> list[dict[str, Any]]:
    rows = [asdict(row) for row in reading.found.left_out]
    rows += [
        {"line": issue.row, "why": issue.detail, "text": issue.found} for issue in reading.problems
    ]
    return sorted(rows, key=lambda row: row["line"] or 0)[:KEPT_LEFT_OUT]


def note_failure(one: Import, error: RefusalError) -> None:
    """Note down why an import has failed."""
    Import.objects.filter(pk=one.pk).update(
        status=Import.Status.FAILED,
        stage="",
        problem={"title": error.title, "issues": [asdict(issue) for issue in error.issues]},
    )


def note_cancelled(one: Import) -> None:
    """Note down that an import was stopped; nothing of it was saved."""
    Import.objects.filter(pk=one.pk).update(status=Import.Status.CANCELLED, stage="")
    if one.upload is not None:
        forget(one.upload)


@transaction.atomic
def ask_to_cancel(one: Import) -> Import:
    """Ask an import on its way to stop; one that has not begun stops at once."""
    row = Import.objects.select_for_update(of=("self",)).get(pk=one.pk)
    if row.status == Import.Status.WAITING:
        row.status = Import.Status.CANCELLED
    elif row.status != Import.Status.RUNNING:
        raise RefusalError(
            "This import cannot be cancelled.",
            Issue(f"It is {row.status}.", "Undo it instead." if row.status == "done" else ""),
            status=409,
        )
    row.cancel_asked = True
    row.save(update_fields=["status", "cancel_asked"])
    return row


def reporter(one: Import) -> Report:
    """Return what tells the person how far an import is, and learns whether to go on.

    On a connection of its own: what an import does stays unseen until all of it is done.
    """
    side = connections.create_connection("default")

    def report(stage: str, share: float) -> None:
        with side.cursor() as cursor:
            cursor.execute(
                "UPDATE intake_import SET stage = %s, progress = %s WHERE id = %s "
                "RETURNING cancel_asked",
                [stage, share, one.pk],
            )
            row = cursor.fetchone()
        side.close()
        if row is None or row[0]:
            raise CancelledError

    return report


@transaction.atomic
def undo_import(one: Import, person: User, later: str | None) -> Import:
    """Take back everything that an import did.

    ``later`` says what becomes of edits made since to what it wrote: "keep" or
    "discard". Raises RefusalError with status 409 when there are some and it
    does not say; then nothing has changed.
    """
    row = Import.objects.select_for_update(of=("self",)).get(pk=one.pk)
    if row.standing != Import.Status.DONE:
        raise RefusalError(
            "This import cannot be undone.", Issue(f"It is {row.standing}."), status=409
        )
    parts = list(row.parts.select_related("kpi", "change"))
    lost = [text for part in parts for text in later_edits(part)]
    if lost and later is None:
        raise RefusalError(
            "Undoing this import would touch what was done since.",
            *(Issue(text, "Keep these edits, or undo them too.") for text in lost),
            status=409,
            more={"later_edits": lost},
        )
    for part in parts:
        _undo_part(row, part, person, later)
    row.status = Import.Status.UNDONE
    row.save(update_fields=["status"])
    return row


def _undo_part(one: Import, part: ImportPart, person: User, later: str | None) -> None:
    if part.kpi is None:
        return
    kpi = locked(part.kpi)
    if part.created and (later == "discard" or kpi.revision == part.revision):
        kpi.delete()
        return
    change = part.change
    if change is None or change.undone_by_id is not None:
        return
    before = state_of_kpi(kpi)
    act = take_values_back(kpi, change, person, later_too=later == "discard")
    summary = f"Undid the import of {one.file_name or 'a paste'}"
    after = renew(kpi, summary)
    record(kpi, person, summary, before, after, act)


def reading_for(
    upload: Upload, mapping: Mapping, most_rows: int | None = None
) -> tuple[Reading, Opened]:
    """Read an upload without saving anything; returns its table as well."""
    table = opened(upload, mapping.sheet)
    reading = read(table.grid, mapping, most_rows)
    return replace(reading, made=replace(reading.made, sheet=table.sheet or None)), table
