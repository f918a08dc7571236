"""Puts the scenario into a workspace, the way a person would: files in, shifts recorded."""

from dataclasses import replace
from datetime import date
from zoneinfo import ZoneInfo

import polars as pl

from demo.generate import DATA
from demo.scenario import EVENTS, KPIS, TIME_ZONE, DemoKpi
from fluctus.accounts.models import Workspace
from fluctus.intake.mapping import KpiChoice, Mapping, Role
from fluctus.intake.reading import read
from fluctus.intake.services import state_for
from fluctus.kpis.eventing import EventState, keep_event
from fluctus.kpis.events import bring_events
from fluctus.kpis.models import Kpi
from fluctus.kpis.periods import Grain, from_text
from fluctus.kpis.services import create_kpi
from fluctus.kpis.state import SegmentState
from fluctus.tables.calendar_file import read_calendar
from fluctus.tables.opening import open_table


def load_kpi(workspace: Workspace, demo: DemoKpi) -> Kpi:
    """Read the file of one KPI and save it with its story."""
    raw = (DATA / demo.file).read_bytes()
    choice = KpiChoice(aggregation=demo.aggregation, difference=demo.difference)
    mapping = Mapping(
        roles={demo.value_column: Role.VALUE}, time_zone=TIME_ZONE,
        kpis={demo.value_column: choice},
    )  # fmt: skip
    reading = read(open_table(raw).grid, mapping)
    grain, zone = Grain(str(reading.made.grain)), ZoneInfo(TIME_ZONE)
    segments = [SegmentState(name=demo.first_segment)]
    segments += [SegmentState(one.start, one.name, one.what_changed) for one in demo.shifts]
    (read_kpi,) = (kpi for kpi in reading.kpis if kpi.key == demo.value_column)
    details = {
        name: getattr(demo, name)
        for name in ("name", "group", "unit", "decimals", "direction", "floor", "ceiling", "target")
    }
    state = replace(state_for(reading, read_kpi), **details, segments=tuple(segments))
    reasons = {
        from_text(text, grain, zone).timestamp(): reason for text, reason in demo.set_aside.items()
    }
    reason = pl.col("period").replace_strict(reasons, default="", return_dtype=pl.String)
    frame = read_kpi.points.with_columns(reason.alias("reason"), (reason != "").alias("set_aside"))
    kpi, _ = create_kpi(workspace, state, grain, frame, None)
    return kpi


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
    for demo in KPIS:
        load_kpi(workspace, demo)
    load_events(workspace)
    return len(KPIS)
