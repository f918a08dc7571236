"""Bringing tables in and taking imports back: each all or nothing."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from typing import Any

from django.db import transaction

from fluctus.accounts.models import Role
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.hooks import carriers, followers, place_keepers
from fluctus.intake.models import Import, ImportPart, Upload
from fluctus.intake.queries import written_since
from fluctus.intake.readings import read_whole
from fluctus.intake.understanding.kpis import MOST_KPIS, KpiRead
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.places import places_in
from fluctus.intake.understanding.reading import Reading
from fluctus.intake.uploads import forget
from fluctus.jobs.life import Progress, held, held_to_end
from fluctus.jobs.models import JobStatus
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.keeping import keep_values, locked, refuse_derived
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.events.calendar_files import take_events_back
from fluctus.kpis.models import Kpi, Raises
from fluctus.kpis.origin import Origin
from fluctus.kpis.record.log import record
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.difference import Counts
from fluctus.kpis.values.services import ImportMode, write_frame
from fluctus.kpis.values.taking_back import take_values_back

NOBODY_WATCHES = Progress()
NOTHING_SAVED = "Some rows stand in the way; nothing was saved."
KEPT_LEFT_OUT = 200


@transaction.atomic
def plan_import(
    upload: Upload,
    actor: Actor,
    mapping: Mapping,
    mode: ImportMode,
    into: Kpi | None = None,
    targets: dict[str, Kpi] | None = None,
) -> Import:
    """Note down an import that is to be carried out; raises RefusalError where it cannot be.

    ``targets`` are the KPIs that values go to, by key, of a table that comes by itself: what
    people have typed stays then.
    """
    if into is not None:
        refuse_derived(into, NOTHING_SAVED)
    return Import.objects.create(
        workspace=upload.workspace,
        person=actor.person,
        upload=upload,
        file_name=upload.name,
        size=upload.size,
        checksum=upload.checksum,
        mapping=mapping.to_json(),
        into=into,
        targets=None if targets is None else {key: kpi.pk for key, kpi in targets.items()},
        mode=mode,
        role=actor.role,
    )


def carry_out(planned: Import, actor: Actor, progress: Progress = NOBODY_WATCHES) -> None:
    """Bring a planned import in: all of it, or nothing.

    Raises RefusalError for what cannot be, CancelledError when it is to stop,
    and leaves it to the caller to note either down.
    """
    carriers[planned.kind](planned, actor, progress)
    if planned.upload is not None:
        forget(planned.upload)
    planned.refresh_from_db()


def bring_table_in(planned: Import, actor: Actor, progress: Progress) -> None:
    """Bring the values of a table in."""
    assert planned.upload is not None, "an upload is kept until its import has ended"
    progress("Reading the table", 0.1)
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
    goals = _goals(planned, chosen)
    if goals is None:
        _refuse_too_many(chosen)
        _refuse_same_names(reading, chosen)
    progress("Saving the values", 0.45)
    made = chosen if goals is None else [kpi for kpi, _ in goals]
    saving = _Saving(progress, sum(kpi.points.frame.height for kpi in made))
    with transaction.atomic():
        parts = (
            [_create(planned, reading, kpi, actor, saving) for kpi in made]
            if goals is None
            else [_add(planned, kpi, goal, actor, saving) for kpi, goal in goals]
        )
        progress("Finishing", 0.95)
        if places := places_in(reading.table):
            for keeper in place_keepers:
                keeper(planned.workspace, places)
        _note_table_read(planned, reading, parts)


def _goals(planned: Import, chosen: list[KpiRead]) -> list[tuple[KpiRead, Kpi]] | None:
    """Return which KPI the values of each go to; None where new ones are made.

    In one order for everybody, so that two that write to several never wait for each other.
    """
    if planned.into is not None:
        return [(chosen[0], planned.into)]
    if planned.targets is None:
        return None
    kpis = Kpi.objects.in_bulk(planned.targets.values())
    there = [(kpi, kpis.get(planned.targets.get(kpi.key, 0))) for kpi in chosen]
    found = [(kpi, goal) for kpi, goal in there if goal is not None]
    return sorted(found, key=lambda pair: pair[1].pk)


def _refuse_too_many(chosen: list[KpiRead]) -> None:
    """Raise RefusalError for more KPIs than one import makes."""
    if len(chosen) > MOST_KPIS:
        raise RefusalError(
            "These are too many KPIs at once.",
            Issue(
                f"{len(chosen):,} are chosen; at most {MOST_KPIS} can come with one table.",
                "Choose fewer, and bring the others in after them.",
                "kpis",
            ),
        )


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


def _note_table_read(planned: Import, reading: Reading, parts: list[ImportPart]) -> None:
    located = reading.table.located
    with note_done(planned, parts) as row:
        row.mapping = reading.mapping.to_json()
        row.columns = list(located.names)
        row.rows = len(located)
        row.left_out = _left_out(reading)
        row.left_out_count = located.left_out_count + reading.problem_count
    for follow in followers:
        follow(row, parts)


@contextmanager
def note_done(planned: Import, parts: list[ImportPart]) -> Iterator[Import]:
    """Note what an import has done, and what is set of it meanwhile.

    Raises CancelledError where it has been stopped.
    """
    row = held_to_end(planned)
    ImportPart.objects.bulk_create(parts)
    yield row
    row.save()


@dataclass(slots=True)
class _Saving:
    """How far the values of an import are saved: of all its KPIs together."""

    progress: Progress
    values: int
    """How many there are."""
    saved: int = 0
    """How many of the KPIs before."""

    def of(self, count: int) -> Callable[[float], None]:
        """Return what is told which share of the next ``count`` values is saved."""
        before = self.saved
        self.saved += count

        def tell(share: float) -> None:
            done = before + round(share * count)
            left = self.values - done
            stage = f"Saving the values: {done:,} of {self.values:,}, {left:,} left"
            self.progress(stage, 0.45 + 0.45 * done / max(1, self.values))

        return tell


def _add(planned: Import, kpi: KpiRead, goal: Kpi, actor: Actor, saving: _Saving) -> ImportPart:
    summary = f"Brought in {planned.file_name or 'a paste'}"
    frame = kpi.points.frame
    change, difference = write_frame(
        goal,
        frame,
        ImportMode(planned.mode),
        actor,
        summary,
        saving.of(frame.height),
        keep_typed=planned.targets is not None,
    )
    goal.refresh_from_db()
    return ImportPart(
        whole=planned,
        kpi=goal,
        key=kpi.key,
        name=goal.name,
        created=False,
        change=change,
        revision=goal.revision,
        counts=asdict(difference.counts()),
    )


def _create(
    planned: Import, reading: Reading, kpi: KpiRead, actor: Actor, saving: _Saving
) -> ImportPart:
    state = state_for(reading, kpi)
    if not state.name.strip():
        raise RefusalError(
            "A KPI has no name.", Issue("A name is missing.", "Give it a name.", "name")
        )
    summary = f"Came with {planned.file_name or 'a paste'}"
    frame = kpi.points.frame
    created, change = create_kpi(
        planned.workspace,
        state,
        kpi.grain,
        frame,
        actor,
        summary,
        saving.of(frame.height),
        Origin(times=kpi.times),
    )
    return ImportPart(
        whole=planned,
        kpi=created,
        key=kpi.key,
        name=created.name,
        created=True,
        change=change,
        revision=created.revision,
        counts=asdict(Counts(new=frame.height, changed=0, same=0, missing=0)),
    )


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
        "first_month": mapping.first_month or 1,
        "floor": kpi.floor,
        "confirmed": kpi.choice.right,
        # By the hour there would be a finding every few days by chance alone.
        "raises": Raises.BEYOND_LIMITS if kpi.grain is Grain.HOUR else Raises.EVERYTHING,
    }
    return ChartState.from_json(proposed | kpi.choice.details)


def _left_out(reading: Reading) -> list[dict[str, Any]]:
    rows = [asdict(row) for row in reading.table.located.left_out]
    rows += [
        {"line": issue.row, "why": issue.detail, "text": issue.found} for issue in reading.problems
    ]
    return sorted(rows, key=lambda row: row["line"] or 0)[:KEPT_LEFT_OUT]


def drop_table_of(stopped: Import) -> None:
    """Forget the table of an import that was stopped; nothing of it was saved."""
    if stopped.upload is not None:
        forget(stopped.upload)


@transaction.atomic
def undo_import(done: Import, actor: Actor, later: str | None) -> Import:
    """Take back everything that an import did.

    ``later`` says what becomes of what people have written since: "keep" or "discard".
    Raises RefusalError with status 409 when there is any and it does not say, and with 403
    where discarding it would delete what only an owner may; then nothing has changed.
    """
    row = held(done)
    if row.outcome != JobStatus.DONE:
        raise RefusalError(
            "This import cannot be undone.",
            Issue(f"It is {row.outcome}.", "Look at the list of imports again."),
            status=409,
        )
    parts = list(row.parts.select_related("kpi", "change"))
    # Before looking at what people have written: nobody writes to a KPI that is held. In one
    # order for everybody, so that two never wait for each other.
    for part in sorted(parts, key=lambda part: part.kpi_id or 0):
        if part.kpi is not None:
            part.kpi = locked(part.kpi)
    written = {part.pk: written_since(part) for part in parts}
    lost = [text for texts in written.values() for text in texts]
    if lost and later is None:
        raise RefusalError(
            "Undoing this import would touch what was done since.",
            *(Issue(text, "Keep these edits, or undo them too.") for text in lost),
            status=409,
            later_edits=lost,
        )
    for part in parts:
        _undo_part(row, part, actor, later, untouched=not written[part.pk])
    if row.events is not None:
        take_events_back(row.workspace, row.events.pk)
        row.events = None
    row.status = JobStatus.UNDONE
    row.save(update_fields=["status", "events"])
    return row


def _undo_part(
    done: Import, part: ImportPart, actor: Actor, later: str | None, *, untouched: bool
) -> None:
    if part.kpi is None:
        return
    kpi = part.kpi
    if part.created and (untouched or later == "discard"):
        # One that was just made goes again with whoever made it; what others have written to
        # since is a KPI of the workspace.
        needed = Role.EDITOR if untouched else Role.OWNER
        actor.refuse_below(needed, f"Deleting {kpi.name}")
        note(
            kpi.workspace,
            actor.person,
            actor.now,
            AuditEvent.DELETION,
            f"Deleted the KPI {kpi.name} by undoing the import of {done.file_name or 'a paste'}",
        )
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
