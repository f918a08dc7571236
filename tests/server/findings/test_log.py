"""The log of findings across KPIs: filtered, counted, exported, and what is new in it."""

import csv
import io
from datetime import timedelta
from typing import Any

import pytest
from django.test import Client

from fluctus.accounts.services import add_person
from fluctus.findings.models import Finding
from fluctus.http import clock
from tests.conftest import Api, join, ok
from tests.server.findings.log import STEADY, change, log, one_of


def test_the_log_is_filtered_counted_and_exported(api: Api, ramp: str) -> None:
    other = api.add_kpi("=Waste", [*STEADY[:3], 40.0, *STEADY[3:], 41.0], direction="higher")
    change(api, one_of(api, ramp), cause="=1+1", person="isla")
    everything = log(api)
    assert {f["kpi"] for f in everything["findings"]} == {ramp, other}
    firsts = [f["first"] for f in everything["findings"]]
    assert firsts == sorted(firsts, reverse=True)
    assert {f["kpi"] for f in log(api, kpi=other)["findings"]} == {other}
    assert [f["kpi"] for f in log(api, person="isla")["findings"]] == [ramp]
    assert log(api, person="")["count"] == everything["count"] - 1
    assert {f["favorable"] for f in log(api, favorable="true")["findings"]} == {True}
    late = log(api, since="2026-04-01")["findings"]
    assert late
    assert all(f["last"] >= "2026-03-30" for f in late)
    assert log(api, until="2025-12-01")["count"] == 0
    assert api.get("/findings", since="soon").status_code == 400
    file = api.get("/findings.csv", kpi=ramp)
    rows = list(csv.DictReader(io.StringIO(file.content.decode("utf-8-sig"))))
    assert len(rows) == log(api, kpi=ramp)["count"]
    assert "'=1+1" in {row["cause"] for row in rows}
    every = api.get("/findings.csv").content.decode()
    assert "\n=" not in every
    assert ",=" not in every


def test_a_page_of_the_log_costs_the_same_whatever_there_is(
    api: Api, ramp: str, django_assert_num_queries: Any
) -> None:
    def queries() -> None:
        with django_assert_num_queries(8):
            api.get("/findings")

    queries()
    first = Finding.objects.filter(kpi__slug=ramp).first()
    assert first is not None
    Finding.objects.bulk_create(
        Finding(
            kpi_id=first.kpi_id,
            rule=first.rule,
            side=first.side,
            first=first.first,
            last=first.last,
            points=1,
            in_last_segment=True,
            title="One more",
            text="",
            label="",
        )
        for _ in range(300)
    )
    queries()
    assert len(log(api)["findings"]) == 100
    assert log(api, start=300)["count"] == log(api)["count"]


def test_who_belongs_to_several_workspaces_sees_which_have_news(
    api: Api, ramp: str, django_assert_num_queries: Any
) -> None:
    there = Api(add_person("isla", None, "corran"), "corran")
    stranger = Api(join("iris", "durness"), "durness")
    there.add_kpi("Fuel", STEADY)

    def news(of: Api = api) -> Any:
        return ok(of.client.get("/api/v1/news"))

    # To somebody who has not looked yet nothing is news.
    assert news() == []
    for each in (api, there, stranger):
        assert each.send("POST", "/findings/new").status_code == 204
    there.add_kpi("Stops", [*STEADY[:6], 40.0, *STEADY[6:], *STEADY])
    stranger.add_kpi("Others", [*STEADY[:6], 40.0, *STEADY[6:], *STEADY])
    with django_assert_num_queries(3):
        assert news() == [{"workspace": "corran", "new": 1}]
    api.add_kpi("Turnaround", [*STEADY[:6], 40.0, *STEADY[6:], *STEADY])
    assert news() == [{"workspace": "corran", "new": 1}, {"workspace": "marrowick", "new": 1}]
    # What has a cause, or was looked through, is no news; nor is what one has left.
    (row,) = log(there)["findings"]
    change(there, row, state="explained", cause="Gale")
    assert news() == [{"workspace": "marrowick", "new": 1}]
    assert news(stranger) == [{"workspace": "durness", "new": 1}]
    assert api.send("POST", "/findings/new").status_code == 204
    assert news() == []
    assert Client().get("/api/v1/news").status_code == 401


def test_the_log_begins_with_what_is_new_to_the_person_who_looks(
    api: Api, ramp: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    iris = Api(join("iris", "marrowick"), "marrowick")
    for each in (api, iris):
        # To somebody who has not looked yet nothing is news.
        assert each.get("/findings/new").json() == {"new": 0, "open": 1}
        assert each.send("POST", "/findings/new").status_code == 204
    known = log(api)["findings"][0]["id"]
    old = api.add_kpi("Turnaround", [*STEADY[:6], 40.0, *STEADY[6:], *STEADY])
    assert api.get("/findings/new").json() == {"new": 1, "open": 2}
    later = clock.now() + timedelta(hours=1)
    monkeypatch.setattr("fluctus.findings.api.clock.now", lambda: later)
    assert api.send("POST", "/findings/new").status_code == 204
    seen = log(api)
    # Newer in time or not, what is new comes first, and stays so while the person looks.
    assert [(f["kpi"], f["is_new"]) for f in seen["findings"]] == [(old, True), (ramp, False)]
    assert (seen["new"], seen["since"] is not None) == (1, True)
    assert api.send("POST", "/findings/new").status_code == 204
    assert log(api)["new"] == 1
    assert api.get("/findings/new").json()["new"] == 0
    assert iris.get("/findings/new").json()["new"] == 1
    # What has a cause comes after what has none.
    (row,) = (f for f in log(api)["findings"] if f["id"] == known)
    change(api, row, state="explained", cause="Gale")
    monkeypatch.setattr("fluctus.findings.api.clock.now", lambda: later + timedelta(days=2))
    api.send("POST", "/findings/new")
    assert [f["kpi"] for f in log(api)["findings"]] == [old, ramp]


def test_several_get_one_cause_all_of_them_or_none(api: Api, ramp: str) -> None:
    api.add_kpi("Turnaround", [*STEADY[:3], 40.0, *STEADY[3:]])
    rows = log(api)["findings"]
    seen = [{"id": row["id"], "version": row["version"]} for row in rows]
    cause = {"state": "explained", "cause": "Gale on both days"}
    stale = [seen[0], seen[1] | {"version": 7}]
    refused = api.send("POST", "/findings/several", {"findings": stale, "changes": cause})
    assert refused.status_code == 412
    assert [issue["field"] for issue in refused.json()["issues"]] == ["findings.1"]
    assert rows[1]["title"] in refused.json()["issues"][0]["detail"]
    assert {row["cause"] for row in log(api)["findings"]} == {""}
    unsaid = {"findings": seen, "changes": {"state": "explained"}}
    assert api.send("POST", "/findings/several", unsaid).json()["issues"][0]["field"] == "cause"
    given = api.send("POST", "/findings/several", {"findings": seen, "changes": cause})
    assert given.status_code == 200
    assert {row["cause"] for row in log(api)["findings"]} == {"Gale on both days"}
    assert {kpi["unexplained"] for kpi in api.get("/kpis").json()["kpis"]} == {0}
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    foreign = {"findings": seen, "changes": {"cause": "Mine"}}
    assert stranger.send("POST", "/findings/several", foreign).status_code == 412
    assert "Mine" not in {row["cause"] for row in log(api)["findings"]}
