"""A package brought into a workspace: all of it, or nothing."""

from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding, FindingState
from fluctus.findings.services import BY_HAND, change_finding
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, from_text
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.events.state import EventState, keep_event
from fluctus.kpis.models import Event, Kpi
from fluctus.reports.package.reading import Package, PackedKpi


@transaction.atomic
def bring_package(workspace: Workspace, package: Package, actor: Actor) -> list[Kpi]:
    """Make the KPIs of a package, with their events and what was said of their findings.

    A KPI whose name is taken gets a number behind it. Raises RefusalError where settings do
    not fit to values.
    """
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    made: dict[str, Kpi] = {}
    # What others are made from comes first.
    for packed in sorted(package.kpis, key=lambda kpi: kpi.source is not None):
        made[packed.slug] = _make(workspace, packed, made, actor)
    _bring_events(workspace, package, made, actor)
    for row in package.findings:
        if row["kpi"] in made:
            _bring_finding(made[row["kpi"]], row, actor)
    return list(made.values())


def _make(workspace: Workspace, packed: PackedKpi, made: dict[str, Kpi], actor: Actor) -> Kpi:
    state = replace(packed.state, name=_free_name(workspace, packed.state.name.strip()))
    source = made.get(packed.source) if packed.source else None
    kpi, _ = create_kpi(
        workspace, state, packed.grain, packed.frame, actor, "Came with a data package",
        source=source,
    )  # fmt: skip
    return kpi


def _free_name(workspace: Workspace, name: str) -> str:
    names = Kpi.objects.filter(workspace=workspace).values_list("name", flat=True)
    taken = {each.casefold() for each in names}
    chosen, number = name, 2
    while chosen.casefold() in taken:
        chosen, number = f"{name[:112]} ({number})", number + 1
    return chosen


def _bring_events(
    workspace: Workspace, package: Package, made: dict[str, Kpi], actor: Actor
) -> None:
    """Bring the events; one that is there already is told with the new KPIs as well."""
    there = {event.uid: event for event in Event.objects.filter(workspace=workspace)}
    for row in package.events:
        kpis = [made[slug].pk for slug in row["kpis"] if slug in made]
        if row["uid"] in there:
            there[row["uid"]].kpis.add(*kpis)
            continue
        state = EventState(
            row["title"], row["kind"], row["text"], _day(row["first"]), _day(row["last"]),
            # Of another workspace's "all" it is told with those that come.
            False, tuple(sorted({kpi.pk for kpi in made.values()} if row["everywhere"] else kpis)),
        )  # fmt: skip
        keep_event(workspace, None, state, uid=row["uid"], author=actor.person)


def _day(day: Any) -> str:
    return day if isinstance(day, str) else str(day.isoformat())


def _bring_finding(kpi: Kpi, row: dict[str, str], actor: Actor) -> None:
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
    if finding is not None and changes and actor.person is not None:
        change_finding(finding, finding.version, changes, actor.person)
