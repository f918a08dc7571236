"""Values far off: asked about before anything is saved, and on the chart until somebody answers."""

from typing import Any

import pytest

from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, csv_of, ok, revision

STEADY = [10, 11, 10, 12, 11, 10, 9, 10, 11, 10, 12, 9, 10, 11, 10, 9, 11, 10, 12, 10.0]
SLIP = [*STEADY[:12], 11_000.0, *STEADY[12:]]
PERIOD = "2026-03-30"


def plain(text: str) -> str:
    return text.replace("\N{NO-BREAK SPACE}", " ")


@pytest.mark.parametrize(
    ("said", "headline"),
    [
        ({}, "New: 11,000.0 s on 30 Mar is some 1,100 times the others."),
        ({"mended": {PERIOD: 11.0}}, "New: 10.4 s on average."),
        ({"aside": [PERIOD]}, "New: 10.4 s on average."),
        (
            {"right": [PERIOD]},
            "Eight weeks in a row sit below the average of 533.7 s; values as uneven as these do "
            "so by chance.",
        ),
    ],
)
def test_a_value_far_off_is_asked_about_first_at_intake(
    api: Api, said: dict[str, Any], headline: str
) -> None:
    key = ok(api.read(csv_of(SLIP), grain="week"))["kpis"][0]["key"]
    chosen = {key: {"details": {"name": "New"}, **said}}
    read = ok(api.read(csv_of(SLIP), grain="week", kpis=chosen))
    assert plain(read["chart"]["sentence"]["headline"]) == headline
    asked = [] if said else [(12, PERIOD, "11,000.0 s")]
    assert [
        (one["position"], one["period"], plain(one["value"])) for one in read["chart"]["far_off"]
    ] == asked
    made = ok(api.bring_in(csv_of(SLIP), grain="week", kpis=chosen))
    chart = ok(api.get(f"/kpis/{made['parts'][0]['slug']}/analysis"))
    assert plain(chart["sentence"]["headline"]) == headline
    row = Observation.objects.get(period__date="2026-03-30")
    assert row.value == (11.0 if "mended" in said else 11_000.0)
    assert (row.set_aside, bool(row.reason)) == ("aside" in said, "aside" in said)
    # What was said of a single value is said of that one, not of the next table.
    again = ok(api.read(csv_of([*SLIP, 10]), grain="week", kpis={key: {}}))
    assert len(again["chart"]["far_off"]) == 1


def test_what_is_no_period_is_refused_by_name(api: Api) -> None:
    key = ok(api.read(csv_of(SLIP), grain="week"))["kpis"][0]["key"]
    answer = api.read(csv_of(SLIP), grain="week", kpis={key: {"aside": ["soon"]}})
    assert answer.status_code == 422
    assert answer.json()["issues"][0]["found"] == "soon"


def test_on_the_chart_it_is_asked_until_somebody_says_that_it_is_right(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Ramp', SLIP)}"
    chart = ok(api.get(f"{path}/analysis"))
    assert [one["label"] for one in chart["far_off"]] == ["30 Mar"]
    # Nothing is said of what is to come, nor of what a target takes.
    assert "expect" not in chart["sentence"]["detail"]
    told = ok(api.get(f"{path}/reach", target=12.0))["text"]
    assert told == "Say which way is wanted, and it can be told what a target takes."
    right = ok(api.send("PATCH", path, {"confirmed": [PERIOD]}, revision(api, path)))
    assert right["far_off"] == []
    assert right["confirmed"] == [PERIOD]
    acts = ok(api.get(f"{path}/history"))["acts"]
    assert acts[0]["summary"] == "Said that the value of 30 Mar 2026 is right"
    ok(api.send("POST", f"{path}/undo", revision=revision(api, path)))
    assert len(ok(api.get(f"{path}/analysis"))["far_off"]) == 1
    refused = api.send("PATCH", path, {"confirmed": ["soon"]}, revision(api, path))
    assert refused.status_code == 422
    assert Kpi.objects.get().confirmed == []


@pytest.mark.parametrize(
    "values", [[0, 0, 0, 1, 0, 0, 0, 0, 2, 0, 0, 9], [182.0] * 8 + [196.0] * 8, [3.0] * 20]
)
def test_values_that_limits_say_little_of_raise_no_finding(api: Api, values: list[float]) -> None:
    path = f"/kpis/{api.add_kpi('Berth fee', values)}"
    assert ok(api.get(f"{path}/analysis"))["happenings"] == []
    assert ok(api.get("/findings"))["count"] == 0
