"""Lets the demo's KPIs be fed by the booking office, up to this hour from the start."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final
from zoneinfo import ZoneInfo

import polars as pl
from django.contrib.auth.models import User
from django.db import transaction

from demo.booking_office.figures import TABLES, Figures
from demo.scenario import ISLA, TIME_ZONE
from fluctus.accounts.models import Role, Workspace
from fluctus.feeds.models import Feed, FeedKpi, FeedState
from fluctus.feeds.sources.address import ADDRESS
from fluctus.feeds.timing import next_fetch
from fluctus.http.requests import checked
from fluctus.intake.kept.shape import kept_shape, shape_of
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.reading import read
from fluctus.intake.understanding.shares import PERCENT, ratio_key
from fluctus.jobs.schedule import Every, Schedule
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.services import ImportMode, write_frame
from fluctus.tables.formats.opening import open_table


@dataclass(frozen=True, slots=True)
class DemoFeed:
    """A feed of the demo: which table, fetched how and when, into which KPIs by key."""

    name: str
    table: str
    file: str
    schedule: Schedule
    kpis: dict[str, str]
    roles: dict[str, ColumnRole] | None = None
    share: bool = False
    options: dict[str, Any] | None = None


BY_HAND: Final = {"Waste (kg)": "galley-waste", "Engines (h)": "engine-hours"}
"""What the crew weighs and reads off, and somebody types: of the newest week nobody has yet."""
SHARE: Final = {"No-shows": ColumnRole.NUMERATOR, "Bookings": ColumnRole.DENOMINATOR}
FEEDS: Final = (
    DemoFeed(
        "Weekly figures",
        "weekly",
        "weekly.csv",
        Schedule(Every.WEEK, 370, 0),
        {
            "Turnaround (min)": "turnaround-at-quay",
            "On time (%)": "departures-on-time",
            "Ramp cycle (s)": "ramp-cycle",
            "Fuel (L)": "fuel-per-crossing",
            "Stops": "unplanned-stops",
        },
        roles={"Waste (kg)": ColumnRole.IGNORE, "Engines (h)": ColumnRole.IGNORE},
    ),
    DemoFeed(
        "Left behind, by quay",
        "left-behind",
        "left-behind.json",
        Schedule(Every.WEEKDAY, 375),
        {"Left behind": "vehicles-left-behind"},
        options={"pages": "link"},
    ),
    DemoFeed(
        "Bookings",
        "no-shows",
        "no-shows.csv",
        Schedule(Every.WEEKDAY, 380),
        {ratio_key("No-shows"): "no-shows-of-bookings"},
        roles=SHARE,
        share=True,
    ),
    DemoFeed(
        "Passengers",
        "passengers",
        "passengers.xlsx",
        Schedule(Every.DAY, 15),
        {"Passengers": "passengers-a-day"},
    ),
    DemoFeed(
        "Fees", "fees", "fees.csv", Schedule(Every.MONTH, 390, day=2), {"Fee (a call)": "berth-fee"}
    ),
    DemoFeed("Gate", "gate", "gate.csv", Schedule(Every.HOUR, 5), {"Gate cycle (s)": "gate-cycle"}),
)


def set_feeds_up(workspace: Workspace, office: str, now: datetime) -> int:
    """Bring in what the booking office has by now, and let it be fetched; returns how many."""
    isla = User.objects.get(username=ISLA)
    local = now.astimezone(ZoneInfo(TIME_ZONE))
    made = 0
    for demo in FEEDS:
        figures = TABLES[demo.table](local)
        kpis = {kpi.slug: kpi for kpi in Kpi.objects.filter(workspace=workspace)}
        fed = {key: kpis[slug] for key, slug in demo.kpis.items() if slug in kpis}
        if figures.rows and fed:
            with transaction.atomic():
                _set_up(workspace, demo, figures, fed, office, Actor(isla, now, Role.OWNER))
            made += 1
    _type_by_hand(workspace, local, Actor(isla, now, Role.OWNER))
    return made


def _type_by_hand(workspace: Workspace, local: datetime, actor: Actor) -> None:
    """Write what was typed up to the week before the newest, which is due."""
    reading = read(open_table(TABLES["weekly"](local).as_csv()).grid, Mapping(time_zone=TIME_ZONE))
    for found in reading.kpis:
        kpi = Kpi.objects.filter(workspace=workspace, slug=BY_HAND.get(found.key, "")).first()
        typed = found.points.frame.sort("period").head(-1).with_columns(typed=pl.lit(value=True))
        if kpi is not None and typed.height:
            write_frame(kpi, typed, ImportMode.UPDATE, actor, "Typed by hand")


def _set_up(
    workspace: Workspace,
    demo: DemoFeed,
    figures: Figures,
    fed: dict[str, Kpi],
    office: str,
    actor: Actor,
) -> None:
    grid = open_table(figures.as_csv()).grid
    reading = read(
        grid,
        Mapping(
            time_zone=TIME_ZONE,
            roles=dict(demo.roles or {}),
            share=demo.share,
            # In percent, as the file of the demo was read.
            kpis={key: KpiChoice(factor=PERCENT) for key in demo.kpis} if demo.share else {},
        ),
    )
    asked = {"address": f"{office}/{demo.file}", **(demo.options or {})}
    feed = Feed.objects.create(
        workspace=workspace,
        person=actor.person,
        name=demo.name,
        source=ADDRESS.name,
        options=ADDRESS.hidden(checked(ADDRESS.form, asked), {})[0],
        state=FeedState.ON,
        made_at=actor.now,
        mapping=reading.mapping.for_the_next().to_json(),
        columns=kept_shape(shape_of(reading)),
        schedule=demo.schedule.to_json(),
        time_zone=TIME_ZONE,
    )
    in_table = {kpi.key: kpi for kpi in reading.kpis}
    for key, kpi in fed.items():
        found = in_table[key]
        write_frame(kpi, found.points.frame, ImportMode.UPDATE, actor, f"Brought in {demo.file}")
        FeedKpi.objects.create(feed=feed, key=key, unit=found.unit[:60], kpi=kpi)
    feed.next_at = next_fetch(feed, actor.now)
    feed.save(update_fields=["next_at"])
