"""Puts the scenario into a workspace, the way a person would: files in, shifts recorded."""

from dataclasses import asdict, replace
from datetime import date
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User

from demo.generate import DATA
from demo.scenario import EVENTS, ISLA, JUDGMENTS, KPIS, TIME_ZONE, DemoKpi
from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding
from fluctus.findings.services import add_remark, change_finding
from fluctus.intake.services import state_for
from fluctus.intake.understanding.mapping import KpiChoice, Mapping, Role
from fluctus.intake.understanding.reading import read
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.services import change_chart, create_kpi
from fluctus.kpis.events.services import bring_events
from fluctus.kpis.events.state import EventState, keep_event
from fluctus.kpis.models import Kpi
from fluctus.kpis.state import SegmentState
from fluctus.kpis.values.services import set_aside
from fluctus.tables.calendar_file import read_calendar
from fluctus.tables.formats.opening import open_table


def load_kpi(workspace: Workspace, demo: DemoKpi, author: User) -> Kpi:
    """Read the file of one KPI and save it, then what ``author`` decided on its chart."""
    raw = (DATA / demo.file).read_bytes()
    choice = KpiChoice(aggregation=demo.aggregation, difference=demo.difference)
    mapping = Mapping(
        roles={demo.value_column: Role.VALUE}, time_zone=TIME_ZONE,
        kpis={demo.value_column: choice},
    )  # fmt: skip
    reading = read(open_table(raw).grid, mapping)
    (read_kpi,) = (kpi for kpi in reading.kpis if kpi.key == demo.value_column)
    details = {
        name: getattr(demo, name)
        for name in ("name", "group", "unit", "decimals", "direction", "floor", "ceiling", "target")
    }
    first = (SegmentState(name=demo.first_segment),)
    state = replace(state_for(reading, read_kpi), **details, segments=first)
    kpi, _ = create_kpi(workspace, state, Grain(str(reading.made.grain)), read_kpi.points, author)
    for period, reason in demo.set_aside.items():
        kpi = set_aside(kpi, kpi.revision, author, period, None, reason)
    if demo.shifts:
        changes = {"segments": [{"name": demo.first_segment}, *map(asdict, demo.shifts)]}
        kpi = change_chart(kpi, kpi.revision, changes, author)
    return kpi


def load_judgments(workspace: Workspace, people: dict[str, User]) -> None:
    """Record what the people of the scenario have made of some signals."""
    for one in JUDGMENTS:
        (finding,) = Finding.objects.filter(
            kpi__workspace=workspace, kpi__slug=one.kpi, rule=one.rule, label=one.label,
            standing=Finding.Standing.PRESENT,
        )  # fmt: skip
        changes = {"state": one.state, "cause": one.cause, "action": one.action,
                   "person": one.person, "due": one.due}  # fmt: skip
        change_finding(finding, finding.version, changes, people[one.author])
        if one.remark:
            add_remark(finding, one.remark, people[one.person or one.author])


def load_events(workspace: Workspace) -> None:
    """Save what happened: the scenario's own events, and the calendar of gale warnings."""
    numbers = dict(Kpi.objects.filter(workspace=workspace).values_list("slug", "pk"))
    for number, one in enumerate(EVENTS):
        state = EventState(
            one.title, one.kind, one.text, one.first, one.last or one.first, not one.kpis,
            tuple(sorted(numbers[slug] for slug in one.kpis)),
        )  # fmt: skip
        keep_event(workspace, None, state, uid=f"story-{number}@marrowick.example")
    gales = read_calendar(
        (DATA / "gales.ics").read_bytes(), ZoneInfo(TIME_ZONE), date(2027, 1, 1)
    ).events
    told = ("turnaround-at-quay", "departures-on-time", "passengers-a-day")
    bring_events(workspace, None, gales, "gales.ics", told)


def load_all(workspace: Workspace) -> int:
    """Save every KPI of the scenario; returns how many."""
    people = {one.username: one for one in User.objects.filter(workspaces=workspace)}
    for demo in KPIS:
        load_kpi(workspace, demo, people[ISLA])
    load_events(workspace)
    load_judgments(workspace, people)
    return len(KPIS)
