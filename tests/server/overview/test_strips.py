"""All KPIs at once: how each stands, in which order, and what fell together."""

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test.utils import CaptureQueriesContext

from fluctus.accounts.models import Workspace
from fluctus.core import Rule
from fluctus.findings.models import Finding, Look
from fluctus.http import clock
from fluctus.http.rendering import as_json
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import chart_of, forget
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.state import ChartState, SegmentState
from fluctus.overview.models import HandOrder, KpiSummary
from fluctus.overview.strips.drawing import Dates, cut, small_chart
from tests.conftest import Api, csv_of, join, ok, revision

STEADY = [10, 11, 10, 12, 11, 10, 9, 10, 11, 10, 12, 9, 10, 11, 10, 9, 11, 10, 12, 10.0]
RUN = [*STEADY, *([13] * 9)]
SPIKE = [*STEADY[:12], 18.0, *STEADY[12:]]
NBSP = "\N{NO-BREAK SPACE}"
NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)


@pytest.fixture(autouse=True)
def june(monkeypatch: pytest.MonkeyPatch) -> None:
    """Stop the clock shortly after the values end."""
    monkeypatch.setattr(clock, "now", lambda: NOON)


@pytest.fixture
def kpis(api: Api) -> Api:
    """Four KPIs: steady, waiting for a decision, with a finding, and one that misses its target."""
    api.add_kpi("Steady one", STEADY, group="Quays", direction="lower", target=20)
    api.add_kpi("Waits", RUN, group="Vessels")
    api.add_kpi("Spiked", SPIKE, group="Quays")
    api.add_kpi("Never", STEADY, group="vessels", direction="lower", target=2)
    return api


def names(answer: dict[str, Any]) -> list[str]:
    return [row["name"] for row in answer["rows"]]


def test_the_overview_counts_and_says_how_all_stand(kpis: Api) -> None:
    seen = ok(kpis.get("/overview"))
    counts = seen["counts"]
    assert (counts["all"], counts["waits"], counts["never"], counts["new"]) == (4, 1, 1, 0)
    assert seen["sentence"].startswith("No KPI has a new finding. One waits for a decision")
    rows = {row["name"]: row for row in seen["rows"]}
    assert rows["Waits"]["what"] == "Run of 9 above average"
    assert rows["Waits"]["mark"] == "run"
    assert rows["Spiked"]["what"] == "Above the upper limit"
    assert rows["Spiked"]["more"].endswith("no cause yet")
    assert (rows["Never"]["what"], rows["Never"]["more"]) == ("Steady", f"cannot meet 2.0{NBSP}s")
    chart = rows["Spiked"]["chart"]
    assert chart["period"][12] == "2026-03-30"
    assert chart["marks"][0] == {"index": 12, "mark": "outside", "title": "Above the upper limit"}
    (segment,) = chart["segments"]
    analysis = ok(kpis.get("/kpis/spiked/analysis"))["segments"][0]
    assert [segment[side] for side in ("lower", "average", "upper")] == [
        analysis[side] for side in ("lower", "average", "upper")
    ]


def test_chips_narrow_orders_sort_and_groups_fold(kpis: Api) -> None:
    for shows, wanted in (("waits", ["Waits"]), ("never", ["Never"]), ("new", [])):
        assert names(ok(kpis.get("/overview", shows=shows))) == wanted
    assert names(ok(kpis.get("/overview", order="name"))) == [
        "Never",
        "Spiked",
        "Steady one",
        "Waits",
    ]
    assert names(ok(kpis.get("/overview", order="target")))[0] == "Never"
    assert names(ok(kpis.get("/overview")))[0] == "Waits"
    grouped = ok(kpis.get("/overview", order="group"))
    assert [group["name"] for group in grouped["groups"]] == ["Quays", "Vessels", "vessels"]
    assert [row["group"] for row in grouped["rows"]] == ["Quays", "Quays", "Vessels", "vessels"]
    folded = ok(kpis.get("/overview", order="group", folded=["Quays", "vessels"]))
    assert (names(folded), folded["count"]) == (["Waits"], 1)
    assert sum(group["count"] for group in folded["groups"]) == 4
    assert names(ok(kpis.get("/overview", group="Quays", order="name"))) == [
        "Spiked",
        "Steady one",
    ]


def test_a_finding_is_new_until_its_person_has_looked(kpis: Api) -> None:
    person = User.objects.get(username="isla")
    workspace = Kpi.objects.get(slug="spiked").workspace
    before = NOON - timedelta(days=400)
    Look.objects.create(person=person, workspace=workspace, since=before, at=before)
    Finding.objects.update(found_at=NOON - timedelta(days=1))
    seen = ok(kpis.get("/overview", shows="new"))
    assert set(names(seen)) == {"Spiked", "Waits"}
    assert seen["sentence"].startswith("Two have new findings.")
    Look.objects.update(at=NOON)
    assert names(ok(kpis.get("/overview", shows="new"))) == []


def test_data_that_does_not_come_is_late(
    kpis: Api, monkeypatch: pytest.MonkeyPatch, settings: Any
) -> None:
    settings.SESSION_IDLE_DAYS = settings.SESSION_DAYS = 1_000
    # The spiked one has values up to the week of 25 May: the next is due 17 days later.
    for day, late in ((10, ["Never", "Steady one"]), (30, ["Never", "Spiked", "Steady one"])):
        monkeypatch.setattr(clock, "now", lambda day=day: NOON + timedelta(days=day - 1))
        assert names(ok(kpis.get("/overview", shows="late", order="name"))) == late


def test_an_order_by_hand_is_a_persons_own(kpis: Api) -> None:
    move = {"slug": "never", "next_to": "spiked", "after": False, "order": "name"}
    assert kpis.send("PUT", "/overview/order", move).status_code == 204
    assert names(ok(kpis.get("/overview", order="hand"))) == [
        "Never",
        "Spiked",
        "Steady one",
        "Waits",
    ]
    move = {"slug": "waits", "next_to": "never", "after": False, "order": "hand"}
    assert kpis.send("PUT", "/overview/order", move).status_code == 204
    assert names(ok(kpis.get("/overview", order="hand")))[0] == "Waits"
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    assert names(ok(rhona.get("/overview", order="hand")))[0] == "Steady one"
    kpis.add_kpi("Another", STEADY)
    assert names(ok(kpis.get("/overview", order="hand")))[-1] == "Another"
    move["next_to"] = "gone"
    assert kpis.send("PUT", "/overview/order", move).status_code == 404
    assert HandOrder.objects.count() == 1


def test_groups_are_arranged_by_hand_each_person_their_own(api: Api) -> None:
    for name, group in (("Ramp", "Quays"), ("Fuel", "Vessels"), ("Gate", "Quays"), ("Odd", "")):
        api.add_kpi(name, STEADY, group=group)

    def seen(by: Api) -> tuple[list[str], list[str]]:
        overview = ok(by.get("/overview", order="group"))
        return [group["name"] for group in overview["groups"]], names(overview)

    assert seen(api) == (["", "Quays", "Vessels"], ["Odd", "Ramp", "Gate", "Fuel"])
    move = {"group": "Vessels", "next_to": "Quays", "after": False}
    assert api.send("PUT", "/overview/groups", move).status_code == 204
    move = {"group": "", "next_to": "Quays", "after": True}
    assert api.send("PUT", "/overview/groups", move).status_code == 204
    assert seen(api) == (["Vessels", "Quays", ""], ["Fuel", "Ramp", "Gate", "Odd"])
    # Folded or filtered, the order holds; a group that comes later is the last.
    assert names(ok(api.get("/overview", order="group", folded="Quays"))) == ["Fuel", "Odd"]
    api.add_kpi("Crew", STEADY, group="A new one")
    assert seen(api)[0] == ["Vessels", "Quays", "", "A new one"]
    # The order of KPIs by hand is another one, and stays.
    move = {"slug": "gate", "next_to": "ramp", "after": False, "order": "group"}
    assert api.send("PUT", "/overview/order", move).status_code == 204
    assert seen(api)[0][0] == "Vessels"
    assert names(ok(api.get("/overview", order="hand"))) == ["Fuel", "Gate", "Ramp", "Odd", "Crew"]
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    assert seen(rhona)[0] == ["", "A new one", "Quays", "Vessels"]
    for gone in ({"group": "Gone", "next_to": "Quays"}, {"group": "Quays", "next_to": "Gone"}):
        assert api.send("PUT", "/overview/groups", gone).status_code == 404


def test_dates_are_the_newest_weeks_or_days_and_findings_near_each_are_counted(kpis: Api) -> None:
    seen = ok(kpis.get("/overview", weeks=4))
    # The run is of 29 weeks from 5 January on: its last one begins on 20 July.
    assert (seen["first"], seen["last"]) == ("2026-06-23", "2026-07-20")
    waits = next(row for row in seen["rows"] if row["name"] == "Waits")
    assert waits["chart"]["period"] == ["2026-06-29", "2026-07-06", "2026-07-13", "2026-07-20"]
    days = ok(kpis.get("/overview", first="2026-03-25", last="2026-04-10"))
    assert days["nearby"]["first"] == "2026-03-25"
    # The spike is on Monday 30 March: near from a week before to a week after.
    assert days["nearby"]["counts"] == [1] * 13 + [0] * 4
    refused = kpis.get("/overview", first="2026-04-10", last="2026-03-25")
    assert refused.status_code == 400


def test_what_fell_together_is_told_with_its_chance_and_events(api: Api) -> None:
    for name in ("One", "Two", "Three"):
        api.add_kpi(name, SPIKE)
    api.send(
        "PATCH",
        "/kpis/one",
        {"segments": [{"start": None}, {"start": "2026-02-02", "name": "New drill"}]},
        revision=revision(api, "/kpis/one"),
    )
    gale = {"title": "Gale", "kind": "incident", "first": "2026-03-30", "everywhere": True}
    ok(api.send("POST", "/events", gale))
    told = ok(api.get("/overview/together", within=7))
    (stretch,) = told["stretches"]
    assert stretch["title"] == "Three KPIs, 30 Mar 2026"
    assert {member["kpi_name"] for member in stretch["members"]} == {"One", "Two", "Three"}
    assert "Three or more fell together in" in stretch["chance"]
    assert "says nothing of a cause" in told["how"]
    wider = ok(api.get("/overview/together", within=60))["stretches"][0]
    assert "Shift: New drill" in [member["what"] for member in wider["members"]]
    assert wider["events"] == stretch["events"] == ["Gale"]
    assert ok(api.get("/overview/together", first="2026-05-01"))["stretches"] == []


def test_the_overview_asks_no_more_of_the_database_for_many_kpis(
    api: Api, django_assert_max_num_queries: Any
) -> None:
    for number in range(3):
        api.add_kpi(f"KPI {number}", STEADY)
    ok(api.get("/overview"))
    with django_assert_max_num_queries(14):
        ok(api.get("/overview"))
    for number in range(3, 9):
        api.add_kpi(f"KPI {number}", STEADY)
    ok(api.get("/overview"))
    with django_assert_max_num_queries(14):
        ok(api.get("/overview"))


def test_how_a_kpi_stands_is_kept_by_every_write_and_caught_up_with(kpis: Api) -> None:
    assert KpiSummary.objects.get(kpi__slug="spiked").what == "Steady"
    kpis.send(
        "PATCH",
        "/kpis/spiked",
        {"direction": "lower", "target": 2},
        revision=revision(kpis, "/kpis/spiked"),
    )
    assert KpiSummary.objects.get(kpi__slug="spiked").reach == "never"
    nothing = ok(Api(join("calum", "empty"), "empty").get("/overview"))
    assert (nothing["rows"], nothing["sentence"], nothing["first"]) == ([], "", None)


@pytest.mark.parametrize("zone", ["Pacific/Auckland", "Pacific/Kiritimati", "America/Los_Angeles"])
def test_no_day_is_cut_off_in_other_zones(api: Api, zone: str) -> None:
    ok(api.bring_in(csv_of(SPIKE), {"name": "Afar"}, grain="week", time_zone=zone))
    (row,) = ok(api.get("/overview"))["rows"]
    assert (row["chart"]["period"][0], row["chart"]["period"][-1]) == ("2026-01-05", "2026-05-25")
    near = ok(api.get("/overview", first="2026-03-20", last="2026-04-10"))["nearby"]["counts"]
    assert sum(near) in (14, 15)
    (row,) = ok(api.get("/overview", first="2026-03-30", last="2026-03-30"))["rows"]
    assert row["chart"]["period"] == ["2026-03-30"]


def test_strips_are_cut_of_what_writes_have_kept(api: Api) -> None:
    random = np.random.default_rng(3)
    workspace = Workspace.objects.get(slug="marrowick")
    states: list[tuple[Grain, int, dict[str, Any]]] = [
        (Grain.WEEK, 80, {"segments": (SegmentState(), SegmentState("2025-06-02", "Drill"))}),
        (Grain.WEEK, 60, {"rules": tuple(rule.value for rule in Rule), "target": 21.0}),
        (Grain.DAY, 200, {"time_zone": "Pacific/Auckland"}),
        (Grain.DAY, 150, {"segments": (SegmentState(follows="weekday"),)}),
        (Grain.HOUR, 190, {"time_zone": "America/St_Johns"}),
        (Grain.MONTH, 40, {}),
        (Grain.DAY, 0, {}),
    ]
    kpis = []
    for number, (grain, count, settings) in enumerate(states):
        state = ChartState(f"KPI {number}", **settings)
        (last,) = state.calendar.starts(np.array([NOON.timestamp()]), grain)
        newest = datetime.fromtimestamp(float(last), UTC)
        rows = [
            {
                "period": state.calendar.following(newest, grain, -back).timestamp(),
                "value": float(random.normal(20 + 6 * (random.random() < 0.1), 1)),
                "set_aside": bool(random.random() < 0.05),
                "reason": "Fog",
            }
            for back in range(count, 0, -1)
        ]
        kpis.append(create_kpi(workspace, state, grain, frame_of(rows), Actor(None, NOON))[0])
    forget()
    for kpi in Kpi.objects.select_related("summary"):
        chart = chart_of(kpi, NOON)
        kept = kpi.summary.strip
        assert kept is not None
        for _ in range(40):
            first, last = (
                NOON.date() - timedelta(days=int(n)) for n in random.integers(-9, 700, 2)
            )
            for dates in (Dates(first, last), Dates(first), Dates(last=last), Dates()):
                mine = cut(kept, dates)
                assert as_json(mine) == as_json(small_chart(chart, dates)), (kpi, dates)
    forget()
    with CaptureQueriesContext(connection) as queries:
        assert len(ok(api.get("/overview", weeks=20))["rows"]) == len(states)
    assert not [q for q in queries if "kpis_observation" in q["sql"] or "kpis_block" in q["sql"]]


def test_a_strip_of_more_points_than_are_kept_is_drawn_of_its_chart(api: Api) -> None:
    slug = api.add_kpi("Long", STEADY * 15)
    kpi = Kpi.objects.select_related("summary").get(slug=slug)
    dates = Dates(NOON.date() - timedelta(days=100), NOON.date())
    kept = kpi.summary.strip
    assert kept is not None
    assert cut(kept, dates) is None
    (row,) = ok(api.get("/overview", first=dates.first, last=dates.last))["rows"]
    assert row["chart"] == json.loads(as_json(small_chart(chart_of(kpi, NOON), dates)))
