"""Bringing tables in and taking imports back: each all or nothing."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from django.db import connections, transaction

from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.hooks import place_keepers
from fluctus.intake.models import UNDER_WAY, Import, ImportPart, ImportStatus, Upload
from fluctus.intake.queries import later_edits
from fluctus.intake.readings import read_whole
from fluctus.intake.understanding.kpis import KpiRead
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.places import places_in
from fluctus.intake.understanding.reading import Reading
from fluctus.intake.uploads import forget
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.keeping import keep_values, locked, refuse_derived
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.models import Kpi, Raises
from fluctus.kpis.record.log import record
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.difference import Counts
from fluctus.kpis.values.services import ImportMode, write_frame
from fluctus.kpis.values.taking_back import take_values_back

NOTHING_SAVED = "Some rows stand in the way; nothing was saved."
KEPT_LEFT_OUT = 200
Report = Callable[[str, float], None]
"""Told how far an import is: its stage, and the share that is done."""


class CancelledError(Exception):
    """The person has asked for the import to stop."""


@transaction.atomic
def plan_import(
    upload: Upload, actor: Actor, mapping: Mapping, mode: ImportMode, into: Kpi | None = None
) -> Import:
    """Note down an import that is to be carried out; raises RefusalError where it cannot be."""
    if into is not None:
        refuse_derived(into, NOTHING_SAVED)
    return Import.objects.create(
        workspace=upload.workspace, person=actor.person, upload=upload, file_name=upload.name,
        size=upload.size, checksum=upload.checksum, mapping=mapping.to_json(), into=into, mode=mode,
    )  # fmt: skip


def carry_out(planned: Import, actor: Actor, report: Report = lambda stage, share: None) -> None:
    """Bring a planned import in: all of it, or nothing.

    Raises RefusalError for what cannot be, CancelledError when it is to stop,
    and leaves it to the caller to note either down.
    """
    assert planned.upload is not None, "an upload is kept until its import has ended"
    report("Reading the table", 0.1)
    mapping = Mapping.from_json(planned.mapping)
    reading = read_whole(planned.upload, mapping)
    if reading.problem_count and not reading.mapping.leave_out:
        raise RefusalError(NOTHING_SAVED, *reading.problems)
    chosen = [kpi for kpi in reading.chosen if kpi.points.frame.height]
    if not chosen:
        raise RefusalError(
            "There are no values to save.",
            Issue(
                "No row has both a date and a value.",
                "Check what each column is for, and how dates and numbers are written.",
            ),
        )
    if planned.into is None:
        _refuse_same_names(reading, chosen)
    report("Saving the values", 0.45)
    with transaction.atomic():
        parts = (
            [_add(planned, chosen[0], actor, report)]
            if planned.into is not None
            else [_create(planned, reading, kpi, actor, report) for kpi in chosen]
        )
        report("Finishing", 0.95)
        if places := places_in(reading.table):
            for keeper in place_keepers:
                keeper(planned.workspace, places)
        _note_done(planned, reading, parts)
    forget(planned.upload)
    planned.refresh_from_db()


def _refuse_same_names(reading: Reading, chosen: list[KpiRead]) -> None:
    """Raise RefusalError where two KPIs of one table would have one name."""
    names = [state_for(reading, kpi).name.strip() for kpi in chosen]
    folded = [name.lower() for name in names]
    twice = next((n for n, name in enumerate(folded) if name and folded.index(name) < n), None)
    if twice is not None:
        raise RefusalError(
            "Two KPIs of this table have the same name.",
            Issue(f"{names[twice]} is given twice.", "Give one of them another name.", "name"),
        )


def _note_done(planned: Import, reading: Reading, parts: list[ImportPart]) -> None:
    """Note down what an import has done; raises CancelledError where it has been stopped."""
    # Locked last, since reports of progress come from elsewhere and would wait for it.
    row = Import.objects.select_for_update(of=("self",)).get(pk=planned.pk)
    if row.status not in UNDER_WAY:
        raise CancelledError
    located = reading.table.located
    ImportPart.objects.bulk_create(parts)
    row.mapping = reading.mapping.to_json()
    row.columns = list(located.names)
    row.rows = len(located)
    row.left_out = _left_out(reading)
    row.left_out_count = located.left_out_count + reading.problem_count
    row.status, row.stage, row.progress = ImportStatus.DONE, "", 1.0
    row.save()


def _saving(report: Report) -> Callable[[float], None]:
    return lambda share: report("Saving the values", 0.45 + 0.45 * share)


def _add(planned: Import, kpi: KpiRead, actor: Actor, report: Report) -> ImportPart:
    assert planned.into is not None, "the caller has seen that there is one"
    summary = f"Brought in {planned.file_name or 'a paste'}"
    change, difference = write_frame(
        planned.into, kpi.points.frame, ImportMode(planned.mode), actor, summary, _saving(report)
    )
    planned.into.refresh_from_db()
    return ImportPart(
        whole=planned, kpi=planned.into, name=planned.into.name, created=False, change=change,
        revision=planned.into.revision, counts=asdict(difference.counts()),
    )  # fmt: skip


def _create(
    planned: Import, reading: Reading, kpi: KpiRead, actor: Actor, report: Report
) -> ImportPart:
    state = state_for(reading, kpi)
    if not state.name.strip():
        raise RefusalError(
            "A KPI has no name.", Issue("A name is missing.", "Give it a name.", "name")
        )
    summary = f"Came with {planned.file_name or 'a paste'}"
    frame = kpi.points.frame
    created, change = create_kpi(
        planned.workspace, state, reading.grain, frame, actor, summary, _saving(report)
    )
    return ImportPart(
        whole=planned, kpi=created, name=created.name, created=True, change=change,
        revision=created.revision,
        counts=asdict(Counts(new=frame.height, changed=0, same=0, missing=0)),
    )  # fmt: skip


def state_for(reading: Reading, kpi: KpiRead) -> ChartState:
    """Return the chart state of a KPI to be made: what is chosen, and what is proposed."""
    mapping = reading.mapping
    proposed = {
        "name": kpi.name,
        "unit": kpi.unit,
        "decimals": kpi.decimals,
        "aggregation": kpi.choice.aggregation,
        "time_zone": mapping.time_zone,
        "first_weekday": mapping.first_weekday or 0,
        "first_month": mapping.first_month,
        "floor": kpi.floor,
        # By the hour there would be a finding every few days by chance alone.
        "raises": Raises.BEYOND_LIMITS if reading.grain is Grain.HOUR else Raises.EVERYTHING,
    }
    return ChartState.from_json(proposed | kpi.choice.details)


def _left_out(reading: Reading) -> list[dict[str, Any]]:
    rows = [asdict(row) for row in reading.table.located.left_out]
    rows += [
        {"line": issue.row, "why": issue.detail, "text": issue.found} for issue in reading.problems
    ]
    return sorted(rows, key=lambda row: row["line"] or 0)[:KEPT_LEFT_OUT]


def note_failure(planned: Import, error: RefusalError) -> None:
    """Note down why an import has failed; one that has ended otherwise stays as it is."""
    Import.objects.filter(pk=planned.pk, status__in=UNDER_WAY).update(
        status=ImportStatus.FAILED,
        stage="",
        problem={"title": error.title, "issues": [asdict(issue) for issue in error.issues]},
    )


def note_cancelled(planned: Import) -> None:
    """Note down that an import was stopped; nothing of it was saved."""
    stopped = Import.objects.filter(pk=planned.pk, status__in=(*UNDER_WAY, ImportStatus.CANCELLED))
    if stopped.update(status=ImportStatus.CANCELLED, stage="") and planned.upload is not None:
        forget(planned.upload)


@transaction.atomic
def ask_to_cancel(planned: Import) -> Import:
    """Ask an import on its way to stop; one that has not begun stops at once."""
    row = Import.objects.select_for_update(of=("self",)).get(pk=planned.pk)
    if row.status == ImportStatus.WAITING:
        row.status = ImportStatus.CANCELLED
    elif row.status != ImportStatus.RUNNING:
        raise RefusalError(
            "This import cannot be cancelled.",
            Issue(f"It is {row.status}.", "Undo it instead." if row.status == "done" else ""),
            status=409,
        )
    row.cancel_asked = True
    row.save(update_fields=["status", "cancel_asked"])
    return row


def reporter(planned: Import) -> Report:
    """Return what tells the person how far an import is, and learns whether to go on.

    On a connection of its own: what an import does stays unseen until all of it is done.
    """
    side = connections.create_connection("default")

    def report(stage: str, share: float) -> None:
        with side.cursor() as cursor:
            cursor.execute(
                "UPDATE intake_import SET stage = %s, progress = %s WHERE id = %s "
                "AND status = 'running' RETURNING cancel_asked",
                [stage, share, planned.pk],
            )
            row = cursor.fetchone()
        side.close()
        if row is None or row[0]:
            raise CancelledError

    return report


@transaction.atomic
def undo_import(done: Import, actor: Actor, later: str | None) -> Import:
    """Take back everything that an import did.

    ``later`` says what becomes of edits made since to what it wrote: "keep" or
    "discard". Raises RefusalError with status 409 when there are some and it
    does not say; then nothing has changed.
    """
    row = Import.objects.select_for_update(of=("self",)).get(pk=done.pk)
    if row.standing != ImportStatus.DONE:
        raise RefusalError(
            "This import cannot be undone.",
            Issue(f"It is {row.standing}.", "Look at the list of imports again."),
            status=409,
        )
    parts = list(row.parts.select_related("kpi", "change"))
    lost = [text for part in parts for text in later_edits(part)]
    if lost and later is None:
        raise RefusalError(
            "Undoing this import would touch what was done since.",
            *(Issue(text, "Keep these edits, or undo them too.") for text in lost),
            status=409,
            later_edits=lost,
        )
    for part in parts:
        _undo_part(row, part, actor, later)
    row.status = ImportStatus.UNDONE
    row.save(update_fields=["status"])
    return row


def _undo_part(done: Import, part: ImportPart, actor: Actor, later: str | None) -> None:
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
    act = take_values_back(kpi, change, actor, later_too=later == "discard")
    summary = f"Undid the import of {done.file_name or 'a paste'}"
    kept = keep_values(kpi, actor, summary)
    record(kpi, actor, summary, before, kept.chart.state, act)
