"""The history of a chart: what was done, by whom and why, and the way back."""

from datetime import datetime
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.models import ChartChange, Kpi, Observation
from fluctus.kpis.state import ChartState
from tests.conftest import Api, golden, join, ok, revision

VALUES = golden("shift recalculated")["values"]


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s', direction='lower', target=19)}"


def test_the_history_names_every_act_and_brings_an_earlier_state_back(api: Api, ramp: str) -> None:
    first = api.get(f"{ramp}/analysis").json()
    ok(api.send("PATCH", ramp, {"target": 21}, 1))
    ok(api.send("PATCH", ramp, {"rules": ["run"]}, 2))
    ok(api.send("POST", f"{ramp}/undo", revision=3))
    iris = Api(join("iris", "marrowick"), "marrowick")
    ok(iris.send("POST", f"{ramp}/redo", revision=4))
    ok(api.send("PATCH", ramp, {"unit": "sec"}, 5))
    history = ok(api.get(f"{ramp}/history"))
    assert len(history["acts"]) == 3
    assert history["older"] is False
    acts = history["acts"]
    assert [act["summary"] for act in acts] == [
        "Changed the unit",
        "Changed the rules",
        "Changed the target to 21 s",
    ]
    assert [(act["author"], act["turned_by"]) for act in acts] == [
        ("isla", ""),
        ("isla", "iris"),
        ("isla", ""),
    ]
    back = ok(api.send("POST", f"{ramp}/history", {"act": acts[-1]["id"]}, 6))
    assert (back["kpi"]["target"], back["kpi"]["unit"]) == (21, "s")
    assert back["kpi"]["rules"] == first["kpi"]["rules"]
    came = ok(api.send("POST", f"{ramp}/history", {"act": None}, 7))
    assert came["kpi"]["target"] == 19
    same = api.send("POST", f"{ramp}/history", {"act": None}, 8)
    assert same.status_code == 409
    undone = ok(api.send("POST", f"{ramp}/undo", revision=8))
    assert undone["kpi"]["target"] == 21
    assert api.send("POST", f"{ramp}/history", {"act": 10**6}, 9).status_code == 404


def test_older_acts_are_there_as_long_as_there_are_any(
    api: Api, ramp: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("fluctus.kpis.record.queries.PAGE", 2)
    for number in range(1, 5):
        ok(api.send("PATCH", ramp, {"target": 20 + number}, number))
    newest = ok(api.get(f"{ramp}/history"))
    assert (len(newest["acts"]), newest["older"]) == (2, True)
    oldest = ok(api.get(f"{ramp}/history", before=newest["acts"][-1]["id"]))
    assert (len(oldest["acts"]), oldest["older"]) == (2, False)


def test_a_state_of_another_time_zone_comes_back_with_its_periods(api: Api, ramp: str) -> None:
    segments = [{"start": None}, {"start": "2026-03-30"}]
    before = ok(api.send("PATCH", ramp, {"segments": segments}, 1))
    act = ok(api.get(f"{ramp}/history"))["acts"][0]["id"]
    ok(api.send("PATCH", ramp, {"time_zone": "Pacific/Auckland"}, 2))
    ok(api.send("PATCH", ramp, {"segments": [{"start": None}]}, 3))
    back = ok(api.send("POST", f"{ramp}/history", {"act": act}, 4))
    for part in ("points", "segments"):
        assert back[part] == before[part]
    assert back["kpi"]["time_zone"] == before["kpi"]["time_zone"]
    undone = ok(api.send("POST", f"{ramp}/undo", revision=5))
    assert undone["kpi"]["time_zone"] == "Pacific/Auckland"
    assert undone["points"] == before["points"] | {
        "distance": undone["points"]["distance"],
        "moving_range": undone["points"]["moving_range"],
    }


def test_an_act_says_why(api: Api, ramp: str) -> None:
    shift = {"start": "2026-03-30", "what_changed": "Two hands on the linkspan"}
    body = ok(api.send("PATCH", ramp, {"segments": [{"start": None}, shift]}, 1))
    why = "Put a shift at 30 Mar 2026: Two hands on the linkspan"
    assert body["history"]["undo"] == why
    held = {"start": None, "window": ["2026-01-05", "2026-02-16"]}
    body = ok(api.send("PATCH", ramp, {"segments": [held, shift]}, 2))
    assert body["history"]["undo"] == (
        "Took the limits of the first segment from 5 Jan 2026 to 16 Feb 2026"
    )
    kept = [{"period": "2026-02-16", "reason": "On leave"}]
    body = ok(api.send("PATCH", ramp, {"kept_limits": kept}, 3))
    assert body["history"]["undo"] == "Kept the limits at 16 Feb 2026: On leave"


def test_a_state_that_values_no_longer_carry_comes_back_as_far_as_it_can(
    api: Api, ramp: str
) -> None:
    ok(api.send("PATCH", ramp, {"segments": [{"start": None}, {"start": "2026-03-30"}]}, 1))
    act = ok(api.get(f"{ramp}/history"))["acts"][0]["id"]
    ok(api.send("PATCH", ramp, {"segments": [{"start": None}], "target": 20}, 2))
    values = ok(api.get(f"{ramp}/values"))["values"]
    edits = [
        {"period": one["period"], "remove": True, "seen": one["version"]}
        for one in values
        if one["period"] >= "2026-03-23"
    ]
    ok(api.send("POST", f"{ramp}/values", {"edits": edits}))
    back = ok(api.send("POST", f"{ramp}/history", {"act": act}, revision(api, ramp)))
    assert back["kpi"]["target"] == 19
    assert [one["start"] for one in back["segments"]] == [None]


def test_a_stale_act_is_told_what_everybody_did_meanwhile(api: Api, ramp: str) -> None:
    iris = Api(join("iris", "marrowick"), "marrowick")
    ok(iris.send("PATCH", ramp, {"target": 21}, 1))
    ok(iris.send("POST", f"{ramp}/undo", revision=2))
    gale = {"title": "Gale, ramp closed", "first": "2026-02-10"}
    ok(iris.send("POST", f"{ramp}/lane", gale, revision(api, ramp)))
    refused = api.send("PATCH", ramp, {"unit": "sec"}, 1)
    assert refused.status_code == 412
    assert refused.json()["issues"][0]["detail"] == (
        "Meanwhile: iris undid: Changed the target to 21 s; "
        "iris: Added the event Gale, ramp closed."
    )
    # On top of what there is now, the same act is kept.
    ok(api.send("PATCH", ramp, {"unit": "sec"}, refused.json()["revision"]))


# --- any state comes back -------------------------------------------------------------


PERIODS = st.sampled_from(["2026-01-12", "2026-02-16", "2026-03-02", "2026-04-06"])
ACTS = st.one_of(
    st.tuples(st.just("aside"), PERIODS, st.sampled_from(["Gale", "Strike", None])),
    st.tuples(st.just("type"), PERIODS, st.sampled_from([17.5, 21.5])),
    st.tuples(st.just("add"), st.none(), st.just(20.5)),
    st.tuples(st.just("shift"), PERIODS, st.none()),
    st.tuples(st.just("target"), st.none(), st.sampled_from([18.0, 20.0])),
    st.tuples(st.sampled_from(["undo", "redo"]), st.none(), st.none()),
)


def do(api: Api, path: str, kind: str, period: str | None = None, what: Any = None) -> Any:
    """Do an act; one that is not possible at the moment is refused and changes nothing."""
    now = Kpi.objects.get().revision
    if kind == "aside":
        return api.send("POST", f"{path}/aside", {"period": period, "reason": what}, now)
    if kind in ("type", "add"):
        edit: dict[str, Any] = {"period": period or "+1", "value": what}
        if period is not None:
            old = Observation.objects.get(period__date=period)
            edit |= {"seen": old.written_by_id, "set_aside": old.set_aside, "reason": old.reason}
        return api.send("POST", f"{path}/values", {"edits": [edit]})
    if kind == "shift":
        segments = [{"start": None}, {"start": period}]
        return api.send("PATCH", path, {"segments": segments}, now)
    if kind == "target":
        return api.send("PATCH", path, {"target": what}, now)
    return api.send("POST", f"{path}/{kind}", revision=now)


def state() -> tuple[ChartState, dict[datetime, str]]:
    """What a chart is brought back to: its settings, and why values are set aside."""
    aside = Observation.objects.filter(set_aside=True).values_list("period", "reason")
    return state_of_kpi(Kpi.objects.get()), dict(aside)


def values() -> dict[datetime, float]:
    return dict(Observation.objects.values_list("period", "value"))


@given(st.lists(ACTS, min_size=2, max_size=7), st.randoms(use_true_random=False))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_earlier_state_comes_back_and_no_value_is_touched(
    api: Api, acts: list[tuple[str, str | None, Any]], random: Any
) -> None:
    Kpi.objects.all().delete()
    path = f"/kpis/{api.add_kpi('Ramp cycle', VALUES, target=19)}"
    came = state()
    known: dict[int | None, tuple[ChartState, dict[datetime, str]]] = {}
    for act in acts:
        do(api, path, *act)
        newest = ChartChange.objects.order_by("id").last()
        if newest is not None:
            known.setdefault(None, came)
            known.setdefault(newest.pk, state())
    measured = values()
    for number, wanted in random.sample(list(known.items()), min(3, len(known))):
        was = state()
        now = Kpi.objects.get().revision
        answer = api.send("POST", f"{path}/history", {"act": number}, now)
        assert answer.status_code == (409 if was == wanted else 200), answer.content
        assert state() == wanted
        assert values() == measured
        if was != wanted:
            ok(do(api, path, "undo"))
            assert state() == was
            ok(do(api, path, "redo"))
            assert state() == wanted
