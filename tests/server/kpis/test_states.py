"""States of the world beside a KPI: brought in as a table, joined by date, compared in and out."""

import statistics
from datetime import date, timedelta
from typing import Any

import pytest

from tests.conftest import Api, file_of, join, ok

VALUES = [10.0, 14.0, 11.0, 15.0, 10.0, 9.0, 16.0, 10.0, 11.0, 10.0]
"""Of ten days from 5 January 2026 on."""
GALES = "Day,Warning\n2026-01-06,Gale\n2026-01-08,Gale\n2026-01-11,Gale\n2026-02-20,Gale\n"


def upload(api: Api, path: str, table: str, **more: Any) -> Any:
    body = {"file": file_of(table.encode(), "warnings.csv"), **more}
    return api.client.post(f"{api.base}{path}", body)


@pytest.fixture
def kpi(api: Api) -> str:
    days = [date(2026, 1, 5) + timedelta(days=n) for n in range(10)]
    rows = [f"{day},{value}" for day, value in zip(days, VALUES, strict=True)]
    answer = api.bring_in("\n".join(["Day,Delay (min)", *rows]), {"name": "Delay"}, grain="day")
    return f"/kpis/{ok(answer)['parts'][0]['slug']}"


def test_a_table_of_days_is_previewed_brought_in_and_taken_back(api: Api, kpi: str) -> None:
    read = ok(upload(api, "/events/read", GALES))
    assert (read["new"], read["broken"]) == (4, [])
    assert {event["kind"] for event in read["sample"]} == {"state"}
    act = ok(upload(api, "/events/imports", GALES))
    assert act["added"] == 4
    assert ok(upload(api, "/events/imports", GALES))["added"] == 0
    assert ok(api.get(f"{kpi}/states")) == {"titles": ["Gale"], "compared": None}
    assert api.send("DELETE", f"/events/imports/{act['id']}").status_code == 204
    assert ok(api.get(f"{kpi}/states"))["titles"] == []


def test_a_state_is_one_row_among_events_and_its_times_are_asked_for(api: Api, kpi: str) -> None:
    ok(upload(api, "/events/imports", GALES))
    drill = {"title": "Drill in a gale", "first": "2026-02-01", "kind": "change"}
    ok(api.send("POST", "/events", drill | {"everywhere": True}))
    told = ok(api.get("/events"))
    gale = {"title": "Gale", "times": 4, "first": "2026-01-06", "last": "2026-02-20"}
    assert told["states"] == [gale]
    assert ([event["title"] for event in told["events"]], told["count"]) == (
        ["Drill in a gale"],
        1,
    )
    times = ok(api.get("/events", state="Gale"))
    assert ([event["first"] for event in times["events"]], times["states"]) == (
        ["2026-02-20", "2026-01-11", "2026-01-08", "2026-01-06"],
        [],
    )
    assert ok(api.get("/events", search="drill"))["states"] == []
    assert ok(api.get("/events", search="gal"))["states"] == [gale]
    # Another event of the name is no time of the state, and nobody else has it.
    assert ok(api.get("/events", state="Drill in a gale"))["count"] == 0
    elsewhere = Api(join("mallory", "elsewhere"), "elsewhere")
    assert ok(elsewhere.get("/events"))["states"] == []
    assert ok(elsewhere.get("/events", state="Gale"))["count"] == 0


def test_a_kpi_is_compared_in_and_out_of_a_state(api: Api, kpi: str) -> None:
    ok(upload(api, "/events/imports", GALES))
    compared = ok(api.get(f"{kpi}/states", state="Gale"))["compared"]
    inside = [VALUES[n] for n in (1, 3, 6)]
    outside = [value for n, value in enumerate(VALUES) if n not in (1, 3, 6)]
    names = [column["name"] for column in compared["summaries"]["columns"]]
    assert names == ["In Gale", "Out of Gale"]
    rows = {row["name"]: row["texts"] for row in compared["summaries"]["rows"]}
    assert rows["Values"] == ["3", "7"]
    assert rows["Mean"][0].startswith(f"{statistics.fmean(inside):.1f}")
    assert rows["Mean"][1].startswith(f"{statistics.fmean(outside):.1f}")
    assert compared["joined"] == (
        "Gale held on 4 days; 3 of them fall on 3 days of this chart. "
        "No value is there for 20 Feb 2026."
    )
    weekly = ok(api.get(f"{kpi}/states", state="Gale", by="week"))["compared"]
    assert "A week counts where it held on any of its days." in weekly["joined"]
    monthly = ok(api.get(f"{kpi}/states", state="Gale", by="month"))["compared"]
    assert monthly["summaries"]["rows"][0]["texts"][0] == "0"  # The month is not over.


def test_what_is_no_state_or_not_theirs_is_refused(api: Api, kpi: str) -> None:
    reversed_span = "From,To,State\n2026-01-09,2026-01-05,Gale\n"
    refused = upload(api, "/events/imports", reversed_span)
    assert refused.status_code == 422
    assert refused.json()["issues"][0]["row"] == 2
    assert upload(api, "/events/read", "Name,Score\nAinsey,4\n").status_code == 422
    assert api.get(f"{kpi}/states", state="Fog").status_code == 404
    stranger = Api(join("rory", "elsewhere"), "elsewhere")
    assert stranger.get(f"{kpi}/states").status_code == 404
