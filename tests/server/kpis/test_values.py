"""Values by hand: written, pasted, set aside, removed and brought back; never over another's."""

from datetime import date, timedelta
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.kpis.models import DataChange, Kpi, Observation
from tests.conftest import Api, join

VALUES = [10.0, 11, 9, 10, 12, 10, 11, 9, 10, 11]


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s')}"


def rows(api: Api, path: str) -> Any:
    return api.get(f"{path}/values").json()["values"]


def write(api: Api, path: str, *edits: dict[str, Any]) -> Any:
    return api.send("POST", f"{path}/values", {"edits": edits})


def seen(row: Any, **changes: Any) -> dict[str, Any]:
    own = {
        name: row[name] for name in ("period", "breakdown", "value", "note", "set_aside", "reason")
    }
    return own | {"seen": row["version"]} | changes


def test_the_next_value_is_one_number(api: Api, ramp: str) -> None:
    chart = api.get(f"{ramp}/analysis").json()
    assert chart["next"] == {"period": "2026-03-16", "label": "16 Mar"}
    assert write(api, ramp, {"period": "2026-03-16", "value": 9.5}).status_code == 200
    after = api.get(f"{ramp}/analysis").json()
    assert after["points"]["value"][-1] == 9.5
    assert after["history"]["undo"] == "Added the value of 16 Mar 2026"
    assert after["kpi"]["revision"] == 2
    ahead = [{"period": f"+{n}", "value": n} for n in (1, 2)]
    assert write(api, ramp, *ahead).status_code == 200
    assert [row["period"] for row in rows(api, ramp)[-2:]] == ["2026-03-23", "2026-03-30"]


def test_a_stale_value_is_refused_with_what_it_is_now(api: Api, ramp: str) -> None:
    old = rows(api, ramp)[0]
    colleague = Api(join("magnus", "marrowick"), "marrowick")
    assert write(colleague, ramp, seen(old, value=20)).status_code == 200
    other = rows(api, ramp)[1]
    stale = write(api, ramp, seen(other, value=5), seen(old, value=30))
    assert stale.status_code == 412
    (issue,) = stale.json()["issues"]
    assert issue["detail"].startswith("The value of 5 Jan 2026 is now 20, written by magnus")
    assert issue["field"] == "edits.1.value"
    assert [row["value"] for row in rows(api, ramp)[:2]] == [20, 11]
    # Others' edits of other values are no conflict.
    assert write(api, ramp, seen(other, value=5)).status_code == 200


def test_a_value_is_set_aside_with_a_reason_and_put_back(api: Api, ramp: str) -> None:
    before = api.get(f"{ramp}/analysis").json()["segments"][0]["average"]
    row = rows(api, ramp)[4]
    without = write(api, ramp, seen(row, set_aside=True))
    assert "with a reason" in without.json()["detail"]
    write(api, ramp, seen(row, set_aside=True, reason="Gale, ramp closed"))
    chart = api.get(f"{ramp}/analysis").json()
    assert chart["set_aside"] == [{"position": 4, "reason": "Gale, ramp closed"}]
    assert chart["segments"][0]["average"] == pytest.approx((sum(VALUES) - 12) / 9)
    assert chart["history"]["undo"] == "Set 2 Feb 2026 aside: Gale, ramp closed"
    write(api, ramp, seen(rows(api, ramp)[4], set_aside=False))
    assert api.get(f"{ramp}/analysis").json()["segments"][0]["average"] == before


def test_what_a_value_has_been_is_kept(api: Api, ramp: str) -> None:
    row = rows(api, ramp)[0]
    write(api, ramp, seen(row, value=20, note="recounted"))
    write(api, ramp, seen(rows(api, ramp)[0], remove=True))
    history = api.get(f"{ramp}/values/history", period="2026-01-05").json()
    assert [(v["value"], v["note"], v["ended_by"]) for v in history] == [
        (20, "recounted", "Removed the value of 5 Jan 2026"),
        (10, "", "Changed the value of 5 Jan 2026"),
    ]
    api.send("POST", f"{ramp}/undo", revision=3)
    history = api.get(f"{ramp}/values/history", period="2026-01-05").json()
    assert (history[0]["value"], history[0]["ended_by"]) == (20, None)
    assert api.get(f"{ramp}/values/history", period="soon").status_code == 404


def test_a_shift_moves_with_its_values_and_comes_back_with_them(api: Api, ramp: str) -> None:
    shift = [{"start": None}, {"start": "2026-02-09", "name": "New ramp"}]
    api.send("PATCH", ramp, {"segments": shift}, revision=1)
    write(api, ramp, seen(rows(api, ramp)[5], remove=True))
    assert api.get(f"{ramp}/analysis").json()["segments"][1]["start"] == "2026-02-16"
    gone = [seen(row, remove=True) for row in rows(api, ramp)[5:]]
    write(api, ramp, *gone)
    assert len(api.get(f"{ramp}/analysis").json()["segments"]) == 1
    for revision in (4, 5):
        body = api.send("POST", f"{ramp}/undo", revision=revision).json()
    assert body["segments"][1]["start"] == "2026-02-09"
    assert [row["value"] for row in rows(api, ramp)] == VALUES


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        ({"period": "soon", "value": 1}, "not a period"),
        ({"period": "2026-03-16"}, "value is missing"),
    ],
)
def test_bad_values_are_refused_and_leave_nothing(
    api: Api, ramp: str, edit: dict[str, Any], says: str
) -> None:
    answer = write(api, ramp, {"period": "2026-03-23", "value": 1}, edit)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert Observation.objects.count() == len(VALUES)
    twice = write(api, ramp, *[{"period": "2026-03-23", "value": n} for n in (1, 2)])
    assert "written twice" in twice.json()["detail"]
    assert write(api, ramp, {"period": "2026-03-23", "value": 1e999}).status_code == 400
    assert write(api, ramp).status_code == 400
    assert DataChange.objects.count() == 1


ACTS = st.lists(
    st.one_of(
        st.tuples(st.just("write"), st.integers(0, 5), st.integers(0, 9)),
        st.tuples(st.just("remove"), st.integers(0, 5), st.just(0)),
        st.tuples(st.just("undo"), st.just(0), st.just(0)),
        st.tuples(st.just("redo"), st.just(0), st.just(0)),
    ),
    max_size=14,
)


@given(acts=ACTS)
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_acts_undone_and_redone_are_as_a_list_of_states_says(
    api: Api, acts: list[tuple[str, int, int]]
) -> None:
    Kpi.objects.all().delete()
    path = f"/kpis/{api.add_kpi('Ramp cycle', [1.0, 2.0, 3.0])}"
    states = [{period: row.value for period, row in stored().items()}]
    at = 0
    for act, place, value in acts:
        now = stored()
        period = (
            f"2026-01-{5 + 7 * place:02d}" if place < 4 else f"2026-02-{2 + 7 * (place - 4):02d}"
        )
        own = now.get(period)
        if act in ("undo", "redo"):
            revision = Kpi.objects.get().revision
            answer = api.send("POST", f"{path}/{act}", revision=revision)
            step = at - 1 if act == "undo" else at + 1
            possible = 0 <= step < len(states)
            assert answer.status_code == (200 if possible else 409)
            at = step if possible else at
        else:
            edit = {
                "period": period,
                "value": float(value),
                "seen": own and own.written_by_id,
                "remove": act == "remove",
            }
            assert write(api, path, edit).status_code == 200
            if act == "remove" and own is None:
                continue
            after = {p: row.value for p, row in now.items() if p != period}
            if act == "write":
                after[period] = float(value)
            states = [*states[: at + 1], after]
            at += 1
        assert {period: row.value for period, row in stored().items()} == states[at]


def stored() -> dict[str, Observation]:
    return {row.period.date().isoformat(): row for row in Observation.objects.all()}


def test_pages_of_values_are_of_one_size_from_either_end(api: Api) -> None:
    days = [date(2020, 1, 1) + timedelta(days=n) for n in range(700)]
    table = "Day,x\n" + "\n".join(f"{day},{n * 300 % 701}" for n, day in enumerate(days))
    api.bring_in(table, {"name": "Long"}, grain="day")
    queries = []
    for start in (0, 200, 400, 600, 800):
        with CaptureQueriesContext(
            connection,
        ) as asked:
            page = api.get("/kpis/long/values", start=start).json()
        queries.append(len(asked))
        assert [row["value"] for row in page["values"]] == [
            n * 300 % 701 for n in range(start, min(start + 200, 700))
        ]
        assert page["count"] == 700
    assert len(set(queries[:4])) == 1


def by_quay() -> str:
    return "Day,Quay,Left\n" + "\n".join(
        f"2026-{1 + n // 28:02d}-{1 + n % 28:02d},{quay},{n % 5 + k}"
        for n in range(84)
        for k, quay in enumerate(("Ainsey", "Holmsand"))
    )


def test_a_kpi_is_shown_at_coarser_grains_and_by_breakdown(api: Api) -> None:
    slug = api.bring_in(by_quay(), {"name": "Left", "target": 9}).json()["parts"][0]["slug"]
    path = f"/kpis/{slug}/analysis"
    whole = api.get(path).json()
    assert whole["points"]["value"][:3] == [1, 3, 5]
    assert whole["kpi"]["breakdowns"] == ["Ainsey", "Holmsand"]
    assert whole["kpi"]["grains"] == ["day", "week", "month", "quarter", "year"]
    month = api.get(path, by="month").json()
    days = [2 * (n % 5) + 1 for n in range(84)]
    assert month["points"]["value"] == [sum(days[:28]), sum(days[28:56]), sum(days[56:])]
    assert month["basis"] == "monthly sum of 168 daily values"
    assert month["target_now"] is None  # what is wanted of a day says nothing of a month
    assert any("Target" in remark for remark in month["remarks"])
    one = api.get(path, breakdown="Holmsand", by="month").json()
    assert one["points"]["value"][0] == sum(n % 5 + 1 for n in range(28))
    assert one["next"] is None
    assert one["sentence"]["headline"].startswith("Left, Holmsand: ")
    for query in ({"by": "hour"}, {"breakdown": "Skerry"}):
        assert api.get(path, **query).status_code == 422
    assert api.get(path, by="fortnight").status_code == 400


def test_segments_begin_with_the_first_whole_period_of_a_coarser_grain(api: Api) -> None:
    table = "Day,x\n" + "\n".join(
        f"2026-{1 + n // 28:02d}-{1 + n % 28:02d},{10 if n < 70 else 4}" for n in range(168)
    )
    mean = {"x": {"aggregation": "mean", "details": {"name": "Left"}}}
    path = f"/kpis/{api.bring_in(table, kpis=mean).json()['parts'][0]['slug']}"
    shift = {"start": "2026-03-15", "name": "New ramp", "window": ["2026-03-20", "2026-05-28"]}
    late = {"start": "2026-06-20", "name": "Too late"}
    api.send("PATCH", path, {"segments": [{"start": None}, shift, late]}, revision=1)
    body = api.get(f"{path}/analysis", by="month").json()
    assert [one["start"] for one in body["segments"]] == [None, "2026-04-01"]
    assert [one["average"] for one in body["segments"]] == [10, 4]
    assert body["set_aside"][0] == {"position": 2, "reason": "Mixes before and after New ramp"}
    assert "Too late has no whole month of its own." in body["remarks"]
    # The settings themselves stay as they were.
    assert len(api.get(f"{path}/analysis").json()["segments"]) == 3


def test_the_zone_and_the_calendar_are_settings(api: Api, ramp: str) -> None:
    before = [row["period"] for row in rows(api, ramp)]
    body = api.send("PATCH", ramp, {"time_zone": "Pacific/Auckland", "first_month": 4}, revision=1)
    assert body.status_code == 200
    assert [row["period"] for row in rows(api, ramp)] == before
    first = Observation.objects.order_by("period")[0]
    assert first.period.isoformat() == "2026-01-04T11:00:00+00:00"
    year = api.get(f"{ramp}/analysis", by="year").json()
    assert year["points"]["period"] == ["2025-04-01"]
    api.send("POST", f"{ramp}/undo", revision=2)
    assert Observation.objects.order_by("period")[0].period.isoformat() == (
        "2026-01-05T00:00:00+00:00"
    )


def test_a_point_is_set_aside_from_the_chart_once_its_effect_was_seen(api: Api, ramp: str) -> None:
    before = api.get(f"{ramp}/analysis").json()
    aside = {"aside": {"2026-02-02": "to be set aside"}}
    preview = api.send("POST", f"{ramp}/preview", aside).json()
    assert preview["segments"][0]["average"] == pytest.approx((sum(VALUES) - 12) / 9)
    assert api.get(f"{ramp}/analysis").json() == before
    act = {"period": "2026-02-02", "reason": "Gale, ramp closed"}
    assert api.send("POST", f"{ramp}/aside", act | {"reason": " "}, revision=1).status_code == 422
    kept = api.send("POST", f"{ramp}/aside", act, revision=1).json()
    assert kept["segments"] == preview["segments"]
    assert kept["history"]["undo"] == "Set 2 Feb 2026 aside: Gale, ramp closed"
    assert api.send("POST", f"{ramp}/aside", act, revision=1).status_code == 412
    back = api.send("POST", f"{ramp}/preview", {"aside": {"2026-02-02": None}}).json()
    assert back["segments"] == before["segments"]
    put = api.send("POST", f"{ramp}/aside", act | {"reason": None}, revision=2).json()
    assert (put["segments"], put["set_aside"]) == (before["segments"], [])
    gone = api.send("POST", f"{ramp}/aside", act | {"period": "2020-01-06"}, revision=3)
    assert gone.status_code == 404
    unknown = api.send("POST", f"{ramp}/preview", {"aside": {"2020-01-06": "x"}})
    assert unknown.status_code == 422


def test_a_point_of_the_whole_is_every_breakdown_of_its_period(api: Api) -> None:
    slug = api.bring_in(by_quay(), {"name": "Left"}).json()["parts"][0]["slug"]
    act = {"period": "2026-01-03", "reason": "Gale"}
    body = api.send("POST", f"/kpis/{slug}/aside", act, revision=1).json()
    assert body["set_aside"] == [{"position": 2, "reason": "Gale"}]
    assert Observation.objects.filter(set_aside=True).count() == 2
    one = act | {"period": "2026-01-04", "breakdown": "Ainsey"}
    api.send("POST", f"/kpis/{slug}/aside", one, revision=2)
    assert Observation.objects.filter(set_aside=True).count() == 3
    # A sum that lacks a part is not what it would be.
    whole = api.get(f"/kpis/{slug}/analysis").json()["set_aside"]
    assert whole[1]["reason"] == "1 of its 2 values set aside: Gale"


def test_what_rules_cost_and_what_speaks_against_a_chart_is_said(api: Api, ramp: str) -> None:
    asked = {"rules": ["outside_limits", "run"], "run_length": 8}
    cost = api.get(f"{ramp}/false-alarms", **asked).json()
    assert cost["points"] == 10
    assert 0 < cost["chance"] < 0.1
    assert cost["text"].startswith("In 10 weeks, a process with no change would show a signal")
    assert api.get(f"{ramp}/false-alarms").json()["average_points"] is None
    assert api.get(f"{ramp}/false-alarms", rules="none").status_code == 400
    titles = [one["title"] for one in api.get(f"{ramp}/analysis").json()["doubts"]]
    assert titles == ["Few values"]
    write(api, ramp, seen(rows(api, ramp)[3], remove=True))
    doubts = api.get(f"{ramp}/analysis").json()["doubts"]
    assert doubts[1]["text"] == "1 week between the first and the last has no value."


def test_days_that_a_kpi_never_has_are_not_missing(api: Api) -> None:
    weekdays = [d for n in range(60) if (d := date(2026, 1, 5) + timedelta(days=n)).weekday() < 5]
    table = "Day,x\n" + "\n".join(f"{d},{n * 7 % 5}" for n, d in enumerate(weekdays) if n != 20)
    slug = api.bring_in(table, {"name": "Weekdays"}).json()["parts"][0]["slug"]
    (missing,) = [
        one["text"]
        for one in api.get(f"/kpis/{slug}/analysis").json()["doubts"]
        if one["title"] == "Periods are missing"
    ]
    assert missing.startswith("1 day ")
