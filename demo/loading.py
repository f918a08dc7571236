"""Puts the scenario into a workspace, the way a person would: files in, shifts recorded."""

from dataclasses import asdict, replace
from datetime import date, datetime
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User

from demo.generate import DATA
from demo.scenario import (
    EVENTS,
    IMPROVEMENTS,
    ISLA,
    JUDGMENTS,
    KPIS,
    PAGE_PANELS,
    PAGE_TITLE,
    TIME_ZONE,
    DemoKpi,
)
from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding, FindingPresence
from fluctus.findings.queries import has_rule
from fluctus.findings.services import add_remark, change_finding
from fluctus.improvements.services import AimState, create_improvement
from fluctus.intake.services import state_for
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.reading import read
from fluctus.intake.understanding.shares import PERCENT, ratio_key
from fluctus.kpis.actor import Actor
from fluctus.kpis.chart.services import change_chart, create_kpi
from fluctus.kpis.events.calendar_files import bring_events
from fluctus.kpis.events.state import EventState, keep_event
from fluctus.kpis.models import Kpi
from fluctus.kpis.origin import Origin
from fluctus.kpis.state import SegmentState
from fluctus.kpis.values.services import set_aside
from fluctus.overview.compare.services import keep_areas, keep_places
from fluctus.overview.pages.services import change_page, create_page
from fluctus.overview.pages.state import PageState
from fluctus.tables.area_file import read_areas
from fluctus.tables.calendar_file import Days, read_calendar
from fluctus.tables.formats.opening import open_table
from fluctus.tables.place_table import read_places


def load_kpi(workspace: Workspace, demo: DemoKpi, actor: Actor) -> Kpi:
    """Read the file of one KPI and save it, then what ``actor`` decided on its chart."""
    raw = (DATA / demo.file).read_bytes()
    choice = KpiChoice(aggregation=demo.aggregation, difference=demo.difference)
    roles, key = {demo.value_column: ColumnRole.VALUE}, demo.value_column
    if demo.denominator_column:
        roles = {
            demo.value_column: ColumnRole.NUMERATOR,
            demo.denominator_column: ColumnRole.DENOMINATOR,
        }
        key, choice = ratio_key(demo.value_column), replace(choice, factor=PERCENT)
    mapping = Mapping(
        roles=roles, time_zone=TIME_ZONE, kpis={key: choice}, share=bool(demo.denominator_column)
    )
    reading = read(open_table(raw).grid, mapping)
    (read_kpi,) = (kpi for kpi in reading.kpis if kpi.key == key)
    details = {
        name: getattr(demo, name)
        for name in ("name", "group", "unit", "decimals", "direction", "floor", "ceiling", "target")
    }
    first = (SegmentState(name=demo.first_segment),)
    state = replace(state_for(reading, read_kpi), **details, segments=first)
    frame, origin = read_kpi.points.frame, Origin(times=read_kpi.times)
    kpi, _ = create_kpi(workspace, state, reading.grain, frame, actor, origin=origin)
    for period, reason in demo.set_aside.items():
        kpi = set_aside(kpi, kpi.revision, actor, period, None, reason).kpi
    if demo.shifts:
        changes = {"segments": [{"name": demo.first_segment}, *map(asdict, demo.shifts)]}
        kpi = change_chart(kpi, kpi.revision, changes, actor).kpi
    return kpi


def load_judgments(workspace: Workspace, people: dict[str, User]) -> None:
    """Record what the people of the scenario have made of some signals."""
    for judgment in JUDGMENTS:
        (finding,) = Finding.objects.filter(
            has_rule(judgment.rule),
            kpi__workspace=workspace,
            kpi__slug=judgment.kpi,
            label=judgment.label,
            presence=FindingPresence.PRESENT,
        )
        changes = {
            name: getattr(judgment, name) for name in ("state", "cause", "action", "person", "due")
        }
        change_finding(finding, finding.version, changes, people[judgment.author])
        if judgment.remark:
            add_remark(finding, judgment.remark, people[judgment.person or judgment.author])


def load_events(workspace: Workspace, now: datetime) -> None:
    """Save what happened: the scenario's own events, and the calendar of gale warnings."""
    numbers = dict(Kpi.objects.filter(workspace=workspace).values_list("slug", "pk"))
    for number, event in enumerate(EVENTS):
        state = EventState(
            event.title,
            event.kind,
            event.text,
            event.first,
            event.last or event.first,
            not event.kpis,
            tuple(sorted(numbers[slug] for slug in event.kpis)),
        )
        keep_event(workspace, None, state, uid=f"story-{number}@marrowick.example")
    gales = read_calendar(
        (DATA / "gales.ics").read_bytes(),
        Days(date(2025, 1, 1), date(2027, 1, 1), ZoneInfo(TIME_ZONE)),
    ).events
    told = ("turnaround-at-quay", "departures-on-time", "passengers-a-day")
    bring_events(workspace, Actor(None, now), gales, "gales.ics", told)


def load_improvements(workspace: Workspace, actor: Actor) -> None:
    """Write down what was done in the scenario to move its KPIs."""
    for one in IMPROVEMENTS:
        form = {"name": one.name, "owner": one.owner, "began": one.began, "text": one.text}
        aim = AimState(one.kpi, one.wanted, one.amount, one.by, one.worth, one.worth_unit)
        create_improvement(workspace, form, [aim], actor)


def load_places(workspace: Workspace, author: User) -> None:
    """Save where the quays are, and the islands around them."""
    keep_places(workspace, read_places((DATA / "quays.csv").read_bytes()).places)
    islands = read_areas((DATA / "islands.geojson").read_bytes())
    keep_areas(workspace, "islands.geojson", islands, author)


def load_page(workspace: Workspace, actor: Actor) -> None:
    """Save the page that the lead shows on Mondays."""
    panels = [
        panel | {"kpis": tuple(panel.get("kpis", ())), "dates": None} for panel, _ in PAGE_PANELS
    ]
    page = create_page(workspace, PAGE_TITLE, panels)
    state = PageState.from_json(page.state)
    arranged = [
        asdict(replace(panel, x=x, y=y, w=w, h=h))
        for panel, (_, (x, y, w, h)) in zip(state.panels, PAGE_PANELS, strict=True)
    ]
    change_page(page, page.revision, {"panels": arranged}, actor)


def load_all(workspace: Workspace, now: datetime) -> int:
    """Save every KPI of the scenario; returns how many."""
    people = {person.username: person for person in User.objects.filter(workspaces=workspace)}
    for demo in KPIS:
        load_kpi(workspace, demo, Actor(people[ISLA], now))
    load_events(workspace, now)
    load_judgments(workspace, people)
    load_improvements(workspace, Actor(people[ISLA], now))
    load_places(workspace, people[ISLA])
    load_page(workspace, Actor(people[ISLA], now))
    return len(KPIS)
