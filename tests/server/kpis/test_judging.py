"""Comparisons, patterns, candidates, baselines and trials of a chart."""

from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.kpis.models import ChartChange, Kpi, Observation
from tests.conftest import Api, golden, ok, revision

VALUES = golden("shift recalculated")["values"]
STEADY = [20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0, 20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0]


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s', direction='lower', target=19)}"


# --- comparisons and patterns -------------------------------------------------------


def test_any_two_segments_and_any_date_are_compared(api: Api, ramp: str) -> None:
    segments = [{"start": None, "name": "Before"}, {"start": "2026-03-30", "name": "Drill"}]
    body = ok(api.send("PATCH", ramp, {"segments": segments}, 1))
    compared = ok(api.get(f"{ramp}/comparison", before=0, after=1))
    assert compared == body["comparison"]
    rows = {row["name"]: row for row in compared["rows"]}
    first, second = body["segments"]
    was, now = round(first["average"], 1), round(second["average"], 1)
    assert rows["Average"]["before"] == f"{was:.1f}"
    assert rows["Average"]["change"] == f"{now - was:+.1f}".replace("-", "\u2212")
    assert rows["Average"]["percent"].endswith("%")
    assert rows["Meets target"]["change"].endswith("points")
    assert (
        compared["sentence"]
        .replace("\u00a0", " ")
        .startswith(
            f"Ramp cycle went from {was:.1f} to {now:.1f} s on average, {was - now:.1f} s less ("
        )
    )
    back = ok(api.get(f"{ramp}/comparison", before=1, after=0))
    assert (back["before"], back["after"]) == ("Drill", "Before")
    assert "more (" in back["sentence"]
    # Nothing is kept by asking.
    dated = ok(api.get(f"{ramp}/comparison", at="2026-02-16"))
    assert (dated["before"], dated["after"]) == ("Before, before", "After")
    assert ok(api.get(f"{ramp}/comparison", at="2026-03-30"))["rows"] == compared["rows"]
    assert len(api.get(f"{ramp}/analysis").json()["segments"]) == 2
    assert api.get(f"{ramp}/comparison", before=0, after=7).status_code == 404
    for at in ("2026-01-05", "1999-01-04", "soon"):
        assert api.get(f"{ramp}/comparison", at=at).status_code == 422


def drift(n: int = 40) -> list[float]:
    return [30 + 0.5 * k + (0.4, -0.3, 0.1, -0.5, 0.3)[k % 5] for k in range(n)]


def test_limits_follow_a_trend_that_is_proposed_with_its_evidence(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Seal wear', drift(), unit='mm')}"
    chart = api.get(f"{path}/analysis").json()
    (proposed,) = chart["patterns"]
    assert proposed["follows"] == "trend"
    assert "R\u00b2" in proposed["text"]
    assert ok(api.get(f"{path}/patterns"))[0] == proposed
    assert chart["points"]["centre"] is None
    segments = [{"start": None, "follows": "trend"}]
    preview = ok(api.send("POST", f"{path}/preview", {"segments": segments}))
    body = ok(api.send("PATCH", path, {"segments": segments}, 1))
    assert body["points"] == preview["points"]
    centre = body["points"]["centre"]
    assert centre[-1] - centre[0] == pytest.approx(0.5 * 39, rel=0.02)
    assert "It rises by 0.50" in body["sentence"]["detail"].replace("\u00a0", " ")
    assert body["signals"] == []
    assert "least-squares line" in body["segments"][0]["how"]
    assert body["history"]["undo"] == "Let the limits of the first segment follow a trend"
    lines = api.get(f"{path}/analysis.csv").content.decode().splitlines()
    assert float(lines[1].split(",")[4]) == pytest.approx(centre[0])
    assert float(lines[-1].split(",")[4]) == pytest.approx(centre[-1])


def test_a_season_needs_its_grain_and_two_cycles(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Passengers', [20.0, 21, 22] * 10)}"

    def follow(kind: str) -> Any:
        return api.send(
            "POST", f"{path}/preview", {"segments": [{"start": None, "follows": kind}]}
        ).json()["issues"][0]

    assert follow("weekday")["detail"] == "A week has no day of the week of its own."
    short = follow("month")
    assert short["detail"] == "A season needs 2 full cycles of values; there are fewer."
    assert short["field"] == "segments.0.follows"
    assert short["remedy"]
    assert api.get(f"{path}/analysis").json()["segments"][0]["follows"] == "level"


def test_limits_go_back_to_level_when_their_values_go(api: Api) -> None:
    slug = api.add_kpi("Seal wear", drift(8))
    path = f"/kpis/{slug}"
    ok(api.send("PATCH", path, {"segments": [{"start": None, "follows": "trend"}]}, 1))
    values = ok(api.get(f"{path}/values"))["values"]
    edits = [
        {"period": one["period"], "remove": True, "seen": one["version"]} for one in values[:5]
    ]
    ok(api.send("POST", f"{path}/values", {"edits": edits}))
    left = api.get(f"{path}/analysis").json()
    assert (left["count"], left["segments"][0]["follows"]) == (3, "level")
    back = ok(api.send("POST", f"{path}/undo", revision=revision(api, path)))
    assert (back["count"], back["segments"][0]["follows"]) == (8, "trend")


def test_a_coarser_grain_says_where_it_cannot_follow(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Seal wear', drift(14))}"
    ok(api.send("PATCH", path, {"segments": [{"start": None, "follows": "trend"}]}, 1))
    monthly = ok(api.get(f"{path}/analysis", by="month"))
    assert any("follow a pattern" in remark for remark in monthly["remarks"])
    assert monthly["points"]["centre"] is None


# --- candidates and baselines -------------------------------------------------------

STEADY = [20.0, 21, 19, 20, 21, 20, 19, 20, 21, 19, 20, 21, 20, 19, 20, 21, 19, 20]
LOW = [12.0, 13, 11, 12, 13, 12, 11, 13, 12]


def test_a_candidate_is_offered_until_somebody_decides(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Stops', [*STEADY, *LOW])}"
    chart = api.get(f"{path}/analysis").json()
    (offered,) = (one for one in chart["candidates"] if one["evidence"])
    assert (offered["period"], offered["support"]) == ("2026-05-11", 9)
    assert "9 weeks from 11 May: 12.1 s on average" in offered["text"].replace("\u00a0", " ")
    assert [one["start"] for one in chart["segments"]] == [None]
    kept = [{"period": "2026-05-11", "reason": "Ferry on loan"}]
    body = ok(api.send("PATCH", path, {"kept_limits": kept}, 1))
    assert [one for one in body["candidates"] if one["evidence"]] == []
    ok(api.send("POST", f"{path}/undo", revision=2))
    segments = [{"start": None}, {"start": "2026-05-11"}]
    body = ok(api.send("PATCH", path, {"segments": segments}, 3))
    assert [one for one in body["candidates"] if one["evidence"]] == []


def test_the_sentence_asks_of_a_change_that_no_run_shows(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Stops', [*STEADY, *LOW[:6]])}"
    headline = api.get(f"{path}/analysis").json()["sentence"]["headline"].replace("\u00a0", " ")
    assert headline.endswith("Something changed around 11 May.")


def test_a_baseline_too_short_is_refused_and_a_firmer_one_is_told(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Stops', STEADY)}"

    def keep(first: str, last: str) -> Any:
        segments = [{"start": None, "window": [first, last]}]
        return api.send("PATCH", path, {"segments": segments}, revision(api, path))

    short = keep("2026-01-05", "2026-01-26").json()["issues"][0]
    assert short["detail"] == "A baseline needs 5 values for limits; this one has 4."
    aside = {"period": "2026-01-12", "reason": "Gale"}
    ok(api.send("POST", f"{path}/aside", aside, revision(api, path)))
    four = keep("2026-01-05", "2026-02-02").json()["issues"][0]
    assert four["detail"].endswith("this one has 4 that take part.")
    ok(api.send("POST", f"{path}/undo", revision=revision(api, path)))
    body = ok(keep("2026-01-05", "2026-02-23"))
    (segment,) = body["segments"]
    assert (segment["n"], segment["firmness"]) == (8, "provisional")
    assert (
        segment["firmer"]
        .replace("\u00a0", " ")
        .startswith(
            "18 weeks are there now, enough for firm limits: from all of them, 20.0 s on average"
        )
    )
    held = ok(keep("2026-01-05", "2026-05-04"))
    assert held["segments"][0]["firmer"] is None
    assert held["segments"][0]["n"] == 18


def test_all_points_set_aside_leave_a_chart_that_says_so(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Stops', [3.0, 4.0, 5.0])}"
    for period in ("2026-01-05", "2026-01-12", "2026-01-19"):
        body = ok(
            api.send(
                "POST", f"{path}/aside", {"period": period, "reason": "x"}, revision(api, path)
            )
        )
    assert body["sentence"]["headline"] == "Stops: no values to judge."
    assert body["candidates"] == []


# --- trials -------------------------------------------------------------------------


def test_a_trial_is_kept_as_one_act_and_undone_as_one(api: Api, ramp: str) -> None:
    trial: dict[str, Any] = {
        "settings": {"target": 21, "segments": [{"start": None}, {"start": "2026-03-30"}]},
        "values": {"2026-01-12": 99.5},
        "aside": {"2026-01-19": "Gale"},
    }
    preview = ok(
        api.send(
            "POST",
            f"{ramp}/preview",
            {**trial["settings"], "values": trial["values"], "aside": trial["aside"]},
        )
    )
    before = api.get(f"{ramp}/analysis").json()
    assert preview["points"]["value"][1] == 99.5
    assert before["points"]["value"][1] != 99.5
    kept = ok(api.send("POST", f"{ramp}/trial", trial, 1))
    for part in ("points", "set_aside", "target_now"):
        assert kept[part] == preview[part]
    assert kept["history"]["undo"].startswith("Kept a trial: ")
    assert "changed 2 values" in kept["history"]["undo"]
    back = ok(api.send("POST", f"{ramp}/undo", revision=kept["kpi"]["revision"]))
    for part in ("points", "segments", "set_aside", "target_now"):
        assert back[part] == before[part]
    again = ok(api.send("POST", f"{ramp}/redo", revision=back["kpi"]["revision"]))
    assert again["points"] == kept["points"]


WEEKS = st.sampled_from(["2026-01-12", "2026-02-02", "2026-03-09", "2026-04-06"])
TRIALS = st.fixed_dictionaries(
    {
        "settings": st.fixed_dictionaries(
            {},
            optional={
                "target": st.one_of(st.none(), st.integers(15, 25)),
                "rules": st.lists(
                    st.sampled_from(["run", "outside_limits", "near_limit"]),
                    min_size=1,
                    unique=True,
                ),
                "segments": WEEKS.map(lambda week: [{"start": None}, {"start": week}]),
            },
        ),
        "values": st.dictionaries(WEEKS, st.integers(10, 40), max_size=3),
        "aside": st.dictionaries(WEEKS, st.sampled_from(["Gale", None]), max_size=3),
    }
)


@given(TRIALS)
@settings(max_examples=30, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_tried_is_what_is_kept_and_one_step_back(api: Api, trial: dict[str, Any]) -> None:
    Kpi.objects.all().delete()
    path = f"/kpis/{api.add_kpi('Ramp cycle', VALUES, target=19)}"
    before = api.get(f"{path}/analysis").json()
    own = {name: trial[name] for name in ("values", "aside")}
    tried = api.send("POST", f"{path}/preview", trial["settings"] | own)
    kept = api.send("POST", f"{path}/trial", trial, 1)
    assert (tried.status_code, kept.status_code) == (200, 200), (tried.content, kept.content)
    parts = ("points", "segments", "signals", "set_aside", "target_now")
    now = {part: kept.json()[part] for part in parts}
    assert {part: tried.json()[part] for part in parts} == now
    if kept.json()["kpi"]["revision"] == 1:
        assert now == {part: before[part] for part in parts}  # Nothing was tried.
        return
    for act, wanted in (("undo", before), ("redo", kept.json()), ("undo", before)):
        turned = ok(api.send("POST", f"{path}/{act}", revision=revision(api, path)))
        assert {part: turned[part] for part in parts} == {part: wanted[part] for part in parts}
    assert ChartChange.objects.count() == 1


def test_a_trial_that_cannot_be_kept_changes_nothing(api: Api, ramp: str) -> None:
    before = list(Observation.objects.order_by("period").values_list("value", "set_aside"))
    for trial in (
        {"values": {"2026-01-13": 4}},
        {"values": {"soon": 4}},
        {"values": {"2026-01-12": 4}, "settings": {"segments": [{"start": "2026-01-05"}]}},
        {"values": {"2026-01-12": 4}, "aside": {"2026-01-19": " "}},
    ):
        assert api.send("POST", f"{ramp}/trial", trial, 1).status_code == 422
    assert api.send("POST", f"{ramp}/trial", {"values": {"2026-01-12": 4}}, 7).status_code == 412
    after = list(Observation.objects.order_by("period").values_list("value", "set_aside"))
    assert after == before
    assert ChartChange.objects.count() == 0


def test_how_soon_a_change_would_show_is_asked_both_ways(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Ramp cycle', STEADY)}"
    chart = api.get(f"{path}/analysis").json()
    sigma, rules = chart["segments"][-1]["sigma"], chart["kpi"]["rules"]
    asked = api.get(f"{path}/how-soon", rules=rules, change=-1.5 * sigma).json()
    assert asked["sigma"] == sigma
    assert 1 <= asked["half"] <= asked["most"] <= 20
    assert (
        f"within {asked['half']:.0f} weeks, 8 in 10 within {asked['most']:.0f} weeks."
        in (asked["text"])
    )
    assert "If the average fell by" in asked["text"]
    within = int(asked["most"])
    back = api.get(f"{path}/how-soon", rules=rules, within=within).json()
    assert back["change"] <= 1.55 * sigma
    assert f"8 in 10 times within {within} weeks" in back["text"]
    none = api.get(f"{path}/how-soon", rules=["run"], within=3).json()
    assert (none["change"], "no change shows" in none["text"]) == (None, True)
    assert "false signal" in api.get(f"{path}/how-soon", rules=rules, change=0).json()["text"]
    for bad in ({}, {"change": "NaN"}, {"change": 1, "within": 2}, {"within": 0}):
        refused = api.get(f"{path}/how-soon", rules=rules, **bad)
        assert refused.status_code == 400, bad
        assert refused.json()["issues"][0]["field"] in ("change", "within")
    short = f"/kpis/{api.add_kpi('Short', STEADY[:3])}"
    refused = api.get(f"{short}/how-soon", rules=rules, change=1)
    assert (refused.status_code, refused.json()["issues"][0]["field"]) == (422, "change")


def test_what_a_target_takes_is_told_in_its_two_remedies(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Ramp cycle', STEADY, direction='lower')}"
    segment = api.get(f"{path}/analysis").json()["segments"][-1]
    reach = segment["upper"] - segment["average"]
    asked = api.get(f"{path}/reach", target=segment["average"] + 1).json()
    assert asked["average"] == pytest.approx(segment["average"] + 1 - reach)
    assert asked["spread"] == pytest.approx(1 / 2.66)
    assert (asked["met"], "takes an average of" in asked["text"]) == (False, True)
    assert "in place of" in asked["text"]
    low = api.get(f"{path}/reach", target=segment["average"] - 1).json()
    assert (low["spread"], "no spread would do" in low["text"]) == (None, True)
    high = api.get(f"{path}/reach", target=segment["upper"] + 1).json()
    assert (high["met"], "as it is" in high["text"]) == (True, True)
    assert api.get(f"{path}/reach", target="NaN").status_code == 400
