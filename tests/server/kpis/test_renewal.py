"""Periods that end: what a write keeps of a chart, the clock keeps too, once and in its zone."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from django.db import connection

from fluctus.accounts.models import Workspace
from fluctus.core import MadeFrom
from fluctus.findings.models import Entry, Finding
from fluctus.http import clock
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.chart.queries import observations_of
from fluctus.kpis.chart.renewal import renew_ended
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.derived.services import derive
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.state import ChartState, SegmentState
from fluctus.kpis.values.services import Edit, edit_values
from fluctus.messages.models import Happening, Topic
from fluctus.overview.models import KpiSummary
from tests.conftest import Api, join, ok

STEADY = [20.0, 22, 21, 23, 20, 22, 21, 23, 21, 20, 22, 21]
ZONES = [
    "UTC",
    "Pacific/Kiritimati",
    "Pacific/Pago_Pago",
    "America/St_Johns",
    "Asia/Kathmandu",
    "Australia/Lord_Howe",
    "Africa/Casablanca",
]


def with_a_last_value(
    api: Api, zone_name: str, grain: Grain, inside: datetime, last: float = 99.0
) -> tuple[Kpi, datetime]:
    """Make a KPI with a last value far above its limits in the period under way at ``inside``.

    Returns it and the end of that period.
    """
    calendar = Calendar(ZoneInfo(zone_name))
    (start,) = calendar.starts(np.array([inside.timestamp()]), grain)
    begin = datetime.fromtimestamp(start, UTC)
    periods = [calendar.following(begin, grain, -n) for n in range(len(STEADY), -1, -1)]
    rows = [
        {"period": period.timestamp(), "value": value}
        for period, value in zip(periods, [*STEADY, last], strict=True)
    ]
    workspace = Workspace.objects.get(slug="marrowick")
    state = ChartState(f"Ramp {Kpi.objects.count()}", time_zone=zone_name)
    kpi, _ = create_kpi(workspace, state, grain, frame_of(rows), Actor(None, inside))
    return kpi, calendar.following(begin, grain)


@pytest.mark.parametrize("zone", ZONES)
@pytest.mark.parametrize("grain", list(Grain))
def test_a_period_that_ends_raises_what_a_write_would(api: Api, zone: str, grain: Grain) -> None:
    # Beside a change of clocks in some of these zones.
    kpi, end = with_a_last_value(api, zone, grain, datetime(2026, 10, 3, 15, 40, tzinfo=UTC))
    assert not Finding.objects.exists()
    assert kpi.renew_at == end
    assert renew_ended(end - timedelta(seconds=1)) == 0
    assert not Finding.objects.exists()
    assert renew_ended(end) == 1
    kpi.refresh_from_db()
    (finding,) = Finding.objects.filter(rule="outside_limits")
    assert finding.last == kpi.observations.order_by("-period")[0].period
    # From the next year on, days are told with their year; of what ends with it they are already.
    year = datetime(2027, 1, 1, tzinfo=ZoneInfo(zone))
    assert kpi.renew_at == (year if end < year else None)
    assert kpi.revision == 1
    assert KpiSummary.objects.get(kpi=kpi).what != "Steady"
    # Once, however often it is looked for.
    before = list(Entry.objects.values_list("pk")), finding.version
    assert renew_ended(year - timedelta(seconds=1)) == 0
    assert renew_ended(end + timedelta(days=900)) == int(end < year)
    assert renew_ended(end + timedelta(days=901)) == 0
    finding.refresh_from_db()
    assert (list(Entry.objects.values_list("pk")), finding.version) == before


def test_a_value_ahead_of_its_time_takes_part_only_once_its_period_is_over(api: Api) -> None:
    kpi, end = with_a_last_value(
        api, "Europe/London", Grain.WEEK, datetime(2026, 10, 7, 12, tzinfo=UTC)
    )
    start = end - timedelta(days=7)
    kpi.renew_at = start
    kpi.save()
    assert renew_ended(start) == 1
    kpi.refresh_from_db()
    assert kpi.renew_at == end


def test_no_sentence_claims_what_the_log_does_not_hold(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    kpi, end = with_a_last_value(
        api, "Europe/London", Grain.WEEK, datetime(2026, 10, 7, 12, tzinfo=UTC)
    )
    path = f"/kpis/{kpi.slug}/analysis"

    def detail(at: datetime) -> str:
        monkeypatch.setattr(clock, "now", lambda: at)
        return str(ok(api.get(path))["sentence"]["detail"])

    assert "cause" not in detail(end - timedelta(minutes=1))
    # It has ended, and no worker has been here yet: the chart shows it, the log does not.
    between = detail(end + timedelta(seconds=30))
    assert "finding" in between
    assert "cause" not in between
    renew_ended(end + timedelta(seconds=40))
    assert "without a cause" in detail(end + timedelta(minutes=1))


def test_one_that_cannot_be_renewed_holds_up_no_other(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    inside = datetime(2026, 10, 7, 12, tzinfo=UTC)
    # Two of one moment are renewed together, one in half a transaction of its own.
    broken, end = with_a_last_value(api, "UTC", Grain.WEEK, inside)
    with_a_last_value(api, "Africa/Abidjan", Grain.WEEK, inside)
    with_a_last_value(api, "Europe/London", Grain.DAY, inside)
    real = observations_of

    def broken_chart(kpi: Kpi, state: ChartState, now: datetime) -> Any:
        if kpi.pk == broken.pk:
            raise ZeroDivisionError
        return real(kpi, state, now)

    monkeypatch.setattr("fluctus.kpis.chart.renewal.observations_of", broken_chart)
    assert renew_ended(end) == 2
    assert Finding.objects.filter(kpi=broken).count() == 0
    monkeypatch.undo()
    assert renew_ended(end) == 1


def test_who_slept_for_weeks_finds_in_order_what_became_knowable_when(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    woken = datetime(2026, 11, 23, 9, tzinfo=UTC)
    monkeypatch.setattr(clock, "now", lambda: woken)
    ends = {}
    for zone, grain, day in [
        ("Europe/London", Grain.WEEK, 21),
        ("Pacific/Kiritimati", Grain.DAY, 7),
        ("America/St_Johns", Grain.DAY, 7),
        ("Europe/London", Grain.DAY, 30),
    ]:
        inside = datetime(2026, 10, day, 12, tzinfo=UTC)
        kpi, end = with_a_last_value(api, zone, grain, inside)
        ends[kpi.pk] = end
    Kpi.objects.update(revision=2)
    # What is made from one follows it in a transaction of its own.
    source = Kpi.objects.get(pk=max(ends))
    made, _ = derive(
        MadeFrom.MULTIPLE, [source], "Twice", 2.0, Actor(None, ends[source.pk] - timedelta(hours=1))
    )
    ends[made.pk] = ends[source.pk]
    assert renew_ended(woken) == len(ends)
    found = list(Finding.objects.filter(rule="outside_limits").order_by("pk"))
    assert {row.kpi_id: row.knowable_at for row in found} == ends
    moments = [row.knowable_at for row in found]
    assert moments == sorted(moments)
    told = Happening.objects.filter(topic=Topic.BEYOND_LIMITS).exclude(kpi=made)
    assert {row.kpi_id: row.at for row in told} == {
        pk: end for pk, end in ends.items() if pk != made.pk
    }


YEAR_ZONES = ["Europe/London", "America/St_Johns", "Australia/Lord_Howe"]


def test_a_year_by_hand_finds_each_thing_once_at_its_minute(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each value comes in the middle of its week, and is found when the week is over: also where
    a clock changes meanwhile, and for weeks in which the workers were out."""
    first = datetime(2026, 12, 2, 12, tzinfo=UTC)
    monkeypatch.setattr(clock, "now", partial(_same, first))
    workspace = Workspace.objects.get(slug="marrowick")
    happens: list[tuple[datetime, Kpi | None, str, float]] = []
    ends: dict[tuple[int, datetime], datetime] = {}
    out = (datetime(2027, 6, 13, tzinfo=UTC), datetime(2027, 6, 16, tzinfo=UTC))
    for zone in YEAR_ZONES:
        calendar = Calendar(ZoneInfo(zone))
        (start,) = calendar.starts(np.array([first.timestamp()]), Grain.WEEK)
        begin = datetime.fromtimestamp(start, UTC)
        weeks = [calendar.following(begin, Grain.WEEK, n) for n in range(-30, 54)]
        names = [str(week.astimezone(calendar.zone).date()) for week in weeks]
        rows = [
            {"period": week.timestamp(), "value": 20.0 + n * 7 % 5}
            for n, week in enumerate(weeks[:30])
        ]
        # Held against these, by one rule: each value far off is a finding of its own.
        state = ChartState(
            zone,
            time_zone=zone,
            rules=("outside_limits",),
            segments=(SegmentState(window=(names[0], names[29])),),
        )
        kpi, _ = create_kpi(workspace, state, Grain.WEEK, frame_of(rows), Actor(None, first))
        far_off = 0
        for n in range(30, 83):
            hours = (weeks[n + 1] - weeks[n]).total_seconds() / 3600
            spike = hours != 168 or weeks[n] < out[0] < weeks[n + 1] or n == 40
            far_off += spike
            value = 99.0 if spike else 20.0 + n * 7 % 5
            happens.append((weeks[n] + timedelta(days=3), kpi, names[n], value))
            happens.append((weeks[n + 1], None, "", 0.0))
            if spike:
                ends[kpi.pk, weeks[n]] = weeks[n + 1]
        assert far_off == 4, zone
    found: dict[tuple[int, datetime], datetime] = {}
    for moment, written, week, value in sorted(happens, key=lambda each: each[0]):
        if written is not None:
            monkeypatch.setattr(clock, "now", partial(_same, moment))
            edit_values(written, [Edit(week, value=value)], Actor(None, moment))
            assert _known() == found
            continue
        now = out[1] if out[0] < moment < out[1] else moment
        renew_ended(moment - timedelta(seconds=1))
        assert _known() == found
        monkeypatch.setattr(clock, "now", partial(_same, now))
        renew_ended(now)
        found |= {key: end for key, end in ends.items() if end <= now}
        assert _known() == found
    assert found == ends
    told = Happening.objects.filter(topic=Topic.BEYOND_LIMITS, gone=False)
    assert sorted(told.values_list("at", flat=True)) == sorted(ends.values())


def _same(moment: datetime) -> datetime:
    return moment


def _known() -> dict[tuple[int, datetime], datetime]:
    rows = Finding.objects.all()
    known = {(row.kpi_id, row.first): row.knowable_at for row in rows}
    assert len(known) == len(rows)
    return known


def test_charts_renewed_together_are_as_if_renewed_alone(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    inside = datetime(2026, 10, 7, 12, tzinfo=UTC)
    lasts = [99.0, 21.0, 24.0, -40.0, 22.5]
    kpis = [with_a_last_value(api, "UTC", Grain.WEEK, inside, last) for last in lasts * 2]
    _, end = kpis[0]
    alone, together = [kpi.pk for kpi, _ in kpis[:5]], [kpi.pk for kpi, _ in kpis[5:]]
    monkeypatch.setattr("fluctus.kpis.chart.renewal.AT_ONCE", 1)
    Kpi.objects.filter(pk__in=together).update(renew_at=None)
    assert renew_ended(end) == 5
    monkeypatch.setattr("fluctus.kpis.chart.renewal.AT_ONCE", 20)
    Kpi.objects.filter(pk__in=together).update(renew_at=end)
    assert renew_ended(end) == 5

    def kept(pk: int) -> list[Any]:
        kpi = Kpi.objects.filter(pk=pk).values(
            "digest", "proposals", "renew_at", "logged", "unexplained", "revision"
        )
        findings = Finding.objects.filter(kpi=pk).order_by("first", "pk")
        but = ("id", "kpi_id", "found_at")
        rows = [{k: v for k, v in row.items() if k not in but} for row in findings.values()]
        summary = KpiSummary.objects.filter(kpi=pk).values()[0]
        return [*kpi, *rows, {k: v for k, v in summary.items() if k not in but}]

    assert [kept(pk) for pk in alone] == [kept(pk) for pk in together]
    assert Finding.objects.filter(kpi__in=together).exists()


@pytest.mark.django_db(transaction=True)
def test_several_workers_renew_each_chart_once(transactional_db: None) -> None:
    api = Api(join("isla", "marrowick"), "marrowick")
    inside = datetime(2026, 10, 7, 12, tzinfo=UTC)
    ends = [with_a_last_value(api, zone, Grain.DAY, inside)[1] for zone in ZONES]

    def work(_: int) -> int:
        try:
            return renew_ended(max(ends))
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as workers:
        renewed = list(workers.map(work, range(4)))
    assert sum(renewed) == len(ZONES)
    assert Finding.objects.filter(rule="outside_limits").count() == len(ZONES)
    assert not Finding.objects.exclude(version=1).exists()
