"""A package brought into a workspace: all of it, or nothing."""

from dataclasses import asdict, dataclass, replace
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding, FindingState
from fluctus.findings.services import BY_HAND, change_finding
from fluctus.intake.jobs import leave_to_worker
from fluctus.intake.models import Import, ImportKind, ImportPart, Upload
from fluctus.intake.services import note_done
from fluctus.intake.uploads import raw_of
from fluctus.jobs.life import Progress
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, from_text
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.derived.registry import DERIVED_KINDS
from fluctus.kpis.events.state import EventState, keep_event
from fluctus.kpis.models import DataChange, Event, EventImport, Kpi
from fluctus.kpis.origin import OF_ITS_OWN, Origin
from fluctus.kpis.values.difference import Counts
from fluctus.reports.package.improvements import bring_improvements
from fluctus.reports.package.reading import Package, PackedKpi, read_package


@transaction.atomic
def plan_package(upload: Upload, actor: Actor) -> Import:
    """Note down a package that is to be brought in, and leave it to a worker."""
    planned = Import.objects.create(
        workspace=upload.workspace,
        person=actor.person,
        upload=upload,
        file_name=upload.name,
        size=upload.size,
        checksum=upload.checksum,
        kind=ImportKind.PACKAGE,
        role=actor.role,
    )
    leave_to_worker(planned)
    return planned


def bring_package_in(planned: Import, actor: Actor, progress: Progress) -> None:
    """Make the KPIs of a package, with their events and what was said of their findings.

    All of them, or none. A KPI whose name is taken gets a number behind it. Raises RefusalError
    for what cannot be read, and where settings do not fit to values.
    """
    assert planned.upload is not None, "an upload is kept until its import has ended"
    progress("Reading the package", 0.05)
    with TemporaryDirectory(prefix="package-") as folder:
        package = read_package(
            raw_of(planned.upload), Path(folder), still_wanted=progress.still_wanted
        )
        with transaction.atomic():
            brought = bring_package(planned.workspace, package, actor, planned.file_name, progress)
            with note_done(planned, [_part(planned, *made) for made in brought.kpis]) as row:
                row.events = brought.events
                row.rows = sum(change.added for _, change in brought.kpis)


@dataclass(frozen=True, slots=True)
class Brought:
    """What came of a package: its KPIs with the act that wrote their values, and its events."""

    kpis: list[tuple[Kpi, DataChange]]
    events: EventImport | None


@transaction.atomic
def bring_package(
    workspace: Workspace, package: Package, actor: Actor, file_name: str, progress: Progress
) -> Brought:
    """Make what is in a package: all of it, or nothing."""
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    created: dict[str, Kpi] = {}
    kpis: list[tuple[Kpi, DataChange]] = []
    for number, packed in enumerate(package.kpis):
        progress(f"Making {packed.state.name}", 0.1 + 0.8 * number / package.count)
        kpi, change = _make(workspace, packed, created, actor)
        created[packed.slug] = kpi
        kpis.append((kpi, change))
    progress("Telling what happened", 0.92)
    events = _bring_events(workspace, package, created, actor, file_name)
    for row in package.findings:
        if row["kpi"] in created:
            _bring_finding(created[row["kpi"]], row)
    bring_improvements(workspace, package.improvements, created, actor)
    for kpi, _ in kpis:
        # Others of the package may have been made from it, or told with it.
        kpi.refresh_from_db()
    return Brought(kpis, events)


def _part(planned: Import, kpi: Kpi, change: DataChange) -> ImportPart:
    counts = Counts(new=change.added, changed=0, same=0, missing=0)
    return ImportPart(
        whole=planned,
        kpi=kpi,
        name=kpi.name,
        created=True,
        change=change,
        revision=kpi.revision,
        counts=asdict(counts),
    )


def _make(
    workspace: Workspace, packed: PackedKpi, created: dict[str, Kpi], actor: Actor
) -> tuple[Kpi, DataChange]:
    state = replace(packed.state, name=_free_name(workspace, packed.state.name.strip()))
    return create_kpi(
        workspace,
        state,
        packed.grain,
        packed.frame,
        actor,
        "Came with a data package",
        origin=_origin(packed, created),
    )


def _origin(packed: PackedKpi, created: dict[str, Kpi]) -> Origin:
    """Let a KPI follow those of the package that it is made from, where all of these came."""
    if packed.origin is None:
        return OF_ITS_OWN
    sources = [created[slug] for slug in packed.origin.sources if slug in created]
    if len(sources) != DERIVED_KINDS[packed.origin.made_by].sources:
        return Origin(times=packed.origin.times)
    return Origin.of(packed.origin.made_by, sources, packed.origin.times, packed.origin.left_out)


def _free_name(workspace: Workspace, name: str) -> str:
    names = Kpi.objects.filter(workspace=workspace).values_list("name", flat=True)
    taken = {each.casefold() for each in names}
    chosen, number = name, 2
    while chosen.casefold() in taken:
        chosen, number = f"{name[:112]} ({number})", number + 1
    return chosen


def _bring_events(
    workspace: Workspace, package: Package, created: dict[str, Kpi], actor: Actor, file_name: str
) -> EventImport | None:
    """Bring the events; one that is there already is told with the new KPIs as well."""
    there = {event.uid: event for event in Event.objects.filter(workspace=workspace)}
    act: EventImport | None = None
    for row in package.events:
        kpis = [created[slug].pk for slug in row["kpis"] if slug in created]
        if row["uid"] in there:
            there[row["uid"]].kpis.add(*kpis)
            continue
        state = EventState(
            row["title"],
            row["kind"],
            row["text"],
            _day(row["first"]),
            _day(row["last"]),
            # Of another workspace's "all" it is told with those that come.
            False,
            tuple(sorted({kpi.pk for kpi in created.values()} if row["everywhere"] else kpis)),
        )
        if act is None:
            act = EventImport.objects.create(
                workspace=workspace, author=actor.person, file_name=file_name[:200]
            )
        there[row["uid"]] = keep_event(
            workspace, None, state, uid=row["uid"], author=actor.person, brought_by=act
        )
        act.added += 1
    if act is not None:
        act.save(update_fields=["added"])
    return act


def _day(day: Any) -> str:
    return day if isinstance(day, str) else str(day.isoformat())


def _bring_finding(kpi: Kpi, row: dict[str, str]) -> None:
    """Say of a finding what was said of it where it comes from; one that is not there is none."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    try:
        first, last = (from_text(row[name], grain, zone) for name in ("first", "last"))
    except (ValueError, OverflowError):
        return
    finding = Finding.objects.filter(kpi=kpi, first=first, last=last, rule=row["rule"]).first()
    changes = {name: row[name][:500] for name in ("cause", "action") if row[name]}
    if row["state"] in BY_HAND and row["state"] != FindingState.OPEN:
        changes["state"] = row["state"]
    if changes.get("state") == FindingState.EXPLAINED and "cause" not in changes:
        del changes["state"]
    if finding is not None and changes:
        change_finding(finding, finding.version, changes, None)
