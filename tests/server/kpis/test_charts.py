"""A KPI's chart over the API: what it says, and what changing it does."""

import json
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from fluctus.kpis.models import ActState, ChartChange, Kpi, Observation, Segment
from tests.conftest import Api, golden, join

FIRST = {"start": None, "name": "Before"}
SHIFT = {"start": "2026-03-30", "name": "New ramp drill"}
VALUES = golden("shift recalculated")["values"]


@pytest.fixture
def ramp(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s', direction='lower')}"


def chart(api: Api, path: str) -> Any:
    return api.get(f"{path}/analysis").json()


def levels(body: Any) -> list[tuple[float, float, float]]:
    return [(s["average"], s["lower"], s["upper"]) for s in body["segments"]]


def test_a_shift_recalculates_limits_as_in_the_worked_case(api: Api, ramp: str) -> None:
    answer = api.send("PATCH", ramp, {"segments": [FIRST, SHIFT]}, revision=1)
    assert answer.status_code == 200
    wanted = golden("shift recalculated")["expect"]["segments"]
    assert levels(answer.json()) == [
        pytest.approx((s["average"], s["lower"], s["upper"])) for s in wanted
    ]
    assert answer.json()["sentence"]["headline"].startswith(
        "Ramp cycle: 18.1\xa0s on average since New ramp drill on 30 Mar, "
        "3.9\xa0s less than before."
    )
    assert answer.json()["history"]["undo"] == "Put a shift at 30 Mar 2026"


def test_preview_shows_the_same_and_saves_nothing(api: Api, ramp: str) -> None:
    before = chart(api, ramp)
    preview = api.send("POST", f"{ramp}/preview", {"segments": [FIRST, SHIFT]}).json()
    assert chart(api, ramp) == before
    saved = api.send("PATCH", ramp, {"segments": [FIRST, SHIFT]}, revision=1).json()
    for part in ("points", "segments", "signals", "sentence", "comparison"):
        assert preview[part] == saved[part]


def test_undo_and_redo_walk_the_history(api: Api, ramp: str) -> None:
    plain = chart(api, ramp)
    api.send("PATCH", ramp, {"segments": [FIRST, SHIFT]}, revision=1)
    shifted = chart(api, ramp)
    api.send("PATCH", ramp, {"target": 20, "name": "Ramp"}, revision=2)
    assert api.send("POST", f"{ramp}/undo", revision=3).json()["kpi"]["name"] == "Ramp cycle"
    undone = api.send("POST", f"{ramp}/undo", revision=4).json()
    assert levels(undone) == levels(plain)
    assert undone["history"] == {"undo": None, "redo": "Put a shift at 30 Mar 2026"}
    assert api.send("POST", f"{ramp}/undo", revision=5).status_code == 409
    assert levels(api.send("POST", f"{ramp}/redo", revision=5).json()) == levels(shifted)
    # A new change closes the way forward, but its record stays.
    done = api.send("PATCH", ramp, {"target": 21}, revision=6).json()
    assert done["history"] == {"undo": "Changed the target to 21 s", "redo": None}
    assert ChartChange.objects.filter(state=ActState.REPLACED).count() == 1


def test_a_stale_change_is_refused_and_changes_nothing(api: Api, ramp: str) -> None:
    api.send("PATCH", ramp, {"target": 20}, revision=1)
    before = chart(api, ramp)
    named = f"{ramp}?name=Ramp+cycle"
    for method, path in (("PATCH", ramp), ("POST", f"{ramp}/undo"), ("DELETE", named)):
        answer = api.send(method, path, {"name": "Ramp cycle"}, revision=1)
        assert answer.status_code == 412
        assert answer["Content-Type"] == "application/problem+json"
        assert answer.json()["revision"] == 2
        assert "Meanwhile: isla: Changed the target to 20 s." in answer.json()["detail"]
    assert chart(api, ramp) == before
    assert api.send("PATCH", ramp, {"target": 1}).status_code == 428


@pytest.mark.parametrize(
    ("changes", "status", "field", "says"),
    [
        ({"segments": [FIRST, SHIFT | {"start": "2026-01-05"}]}, 422, "segments.1.start", "first"),
        ({"segments": [FIRST, SHIFT | {"start": "2025-12-29"}]}, 422, "segments.1.start", "before"),
        ({"segments": [FIRST, SHIFT | {"start": "2027-01-04"}]}, 422, "segments.1.start", "after"),
        ({"segments": [FIRST, SHIFT | {"start": "2026-03-31"}]}, 422, "segments.1.start", "no val"),
        ({"segments": [FIRST, SHIFT | {"start": "soon"}]}, 422, "segments.1.start", "not a period"),
        ({"segments": [FIRST, SHIFT, SHIFT]}, 422, "segments.2.start", "already"),
        ({"segments": [FIRST, SHIFT, SHIFT | {"start": "2026-02-02"}]}, 422, "segments", "order"),
        ({"segments": [SHIFT]}, 422, "segments", "no start"),
        ({"segments": []}, 422, "segments", "no start"),
        (
            {"segments": [FIRST, SHIFT | {"window": ["2026-02-02", "2026-04-06"]}]},
            422,
            "segments.1.window",
            "baseline",
        ),
        ({"floor": 5, "ceiling": 5}, 422, "floor", "ceiling"),
        ({"run_length": 6}, 400, "run_length", "valid choice"),
        ({"rules": ["astrology"]}, 400, "rules.0", "valid choice"),
        ({"target": "NaN"}, 400, "target", "number"),
        ({"decimals": 13}, 400, "decimals", "12"),
        ({"shown_in": "millions"}, 422, "shown_in", "nothing would be left"),
        ({"name": ""}, 400, "name", "blank"),
    ],
)
def test_impossible_settings_are_refused_with_a_reason(
    api: Api, ramp: str, changes: Any, status: int, field: str, says: str
) -> None:
    before = chart(api, ramp)
    for answer in (
        api.send("POST", f"{ramp}/preview", changes),
        api.send("PATCH", ramp, changes, revision=1),
    ):
        assert answer.status_code == status, answer.content
        (issue,) = answer.json()["issues"]
        assert issue["field"] == field
        assert says in issue["detail"]
    assert chart(api, ramp) == before


def test_nobody_reaches_into_another_workspace(api: Api, ramp: str) -> None:
    stranger = Api(join("mallory", "elsewhere"), "marrowick")
    rows = [Kpi.objects.values(), Segment.objects.values(), Observation.objects.values()]
    before = [list(row) for row in rows]
    answers = [
        stranger.get("/kpis"),
        stranger.get(f"{ramp}/analysis"),
        stranger.get(f"{ramp}/analysis.csv"),
        stranger.send("PATCH", ramp, {"target": 1}, revision=1),
        stranger.send("POST", f"{ramp}/preview", {}),
        stranger.send("POST", f"{ramp}/undo", revision=1),
        stranger.send("POST", f"{ramp}/redo", revision=1),
        stranger.send("DELETE", f"{ramp}?name=Ramp+cycle", revision=1),
        stranger.upload("Week,x\n2026-01-05,1"),
        stranger.get("/imports"),
    ]
    assert {answer.status_code for answer in answers} == {404}
    # The same slug in one's own workspace is not found either, rather than someone else's.
    own = Api(join("eve", "elsewhere"), "elsewhere")
    assert own.get(f"{ramp}/analysis").status_code == 404
    assert own.get("/kpis").json()["kpis"] == []
    own.client.logout()
    assert own.get("/kpis").status_code == 401
    assert [list(row.all()) for row in rows] == before


def test_queries_stay_flat_as_points_and_kpis_grow(api: Api, ramp: str) -> None:
    def count(path: str) -> int:
        with CaptureQueriesContext(connection) as queries:
            assert api.get(path).status_code == 200
        return len(queries)

    few = count("/kpis"), count(f"{ramp}/analysis")
    for n in range(5):
        slug = api.add_kpi(f"Longer {n}", [*VALUES * 5])
    assert (count("/kpis"), count(f"/kpis/{slug}/analysis")) == few
    # Six of the chart keep the answer: asked again, it is not made again.
    assert few <= (6, 12)
    assert count(f"{ramp}/analysis") <= 5


def test_a_long_chart_is_thinned_but_keeps_every_signal(api: Api) -> None:
    values = [float(20 + (n * 7919) % 13 / 10) for n in range(1500)]
    values[700] = 60.0
    path = f"/kpis/{api.add_kpi('Gate cycle', [*values])}"
    whole = api.get(f"{path}/analysis", width=100).json()
    assert whole["count"] == 1500
    assert len(whole["points"]["value"]) < 900
    flagged = {point for signal in whole["signals"] for point in signal["points"]}
    assert 700 in flagged
    assert flagged <= set(whole["points"]["position"])
    part = api.get(f"{path}/analysis", first="2030-01-07", last="2030-06-03", width=100).json()
    assert part["points"]["period"][0] == "2030-01-07"
    assert part["points"]["period"][-1] == "2030-06-03"
    assert part["points"]["position"] == list(range(*part["shown"]))
    assert part["segments"] == whole["segments"]
    assert api.get(f"{path}/analysis", first="soon").status_code == 422


def test_answers_are_what_their_description_says(api: Api, ramp: str) -> None:
    api.send("PATCH", ramp, {"segments": [FIRST, SHIFT], "target": 20}, revision=1)
    description = json.loads((Path("web") / "openapi.json").read_text())
    answers = {
        "SavedChart": chart(api, ramp),
        "Reading": api.read("Week,x\n2026-01-05,1\n2026-01-12,x\n2026-01-19,3").json(),
        "Uploaded": api.upload("Week,x\n2026-01-05,1").json(),
        "Import": api.get("/imports").json()[0],
        "Values": api.get(f"{ramp}/values").json(),
        "Problem": api.get("/kpis/none/analysis").json(),
        "Session": api.client.get("/api/v1/session").json(),
        "Kpis": api.get("/kpis").json(),
    }
    for name, body in answers.items():
        schema = as_json_schema(description["components"]["schemas"]) | {
            "$ref": f"#/components/schemas/{name}"
        }
        jsonschema.validate(body, schema)
        assert set(body) == set(description["components"]["schemas"][name]["properties"])


def as_json_schema(schemas: Any) -> dict[str, Any]:
    """OpenAPI says "nullable" where JSON Schema says "or null"."""

    def turn(node: Any) -> Any:
        if isinstance(node, list):
            return [turn(one) for one in node]
        if not isinstance(node, dict):
            return node
        inner = {key: turn(one) for key, one in node.items() if key != "nullable"}
        return {"anyOf": [inner, {"type": "null"}]} if node.get("nullable") else inner

    return {"components": {"schemas": turn(schemas)}}


def test_deleting_takes_the_name_and_everything_with_it(api: Api, ramp: str) -> None:
    assert api.send("DELETE", f"{ramp}?name=Ramp", revision=1).status_code == 422
    assert Kpi.objects.count() == 1
    assert api.send("DELETE", f"{ramp}?name=Ramp+cycle", revision=1).status_code == 204
    assert Observation.objects.count() == Segment.objects.count() == 0


def test_the_rail_follows_what_is_saved(api: Api, ramp: str) -> None:
    spike = api.add_kpi("Fuel per crossing", [10, 11, 10, 11, 10, 11, 10, 11, 10, 30], unit="L")
    rows = {row["slug"]: row for row in api.get("/kpis").json()["kpis"]}
    assert rows[spike]["latest"] == "30\xa0L"
    assert rows[spike]["signal"] == {
        "rule": "outside_limits",
        "mark": "outside",
        "strip_index": 9,
    }
    api.send("PATCH", f"/kpis/{spike}", {"rules": ["near_limit"], "unit": "kg"}, revision=1)
    row = api.get("/kpis").json()["kpis"][1]
    assert (row["latest"], row["signal"]) == ("30\xa0kg", None)


def test_exported_cells_cannot_run_as_formulas(api: Api, ramp: str) -> None:
    names = [FIRST | {"name": "=HYPERLINK(1)"}, SHIFT | {"name": "@now"}]
    api.send("PATCH", ramp, {"segments": names}, revision=1)
    answer = api.get(f"{ramp}/analysis.csv")
    assert "attachment" in answer["Content-Disposition"]
    header, *rows = [line.split(",") for line in answer.content.decode("utf-8-sig").splitlines()]
    assert len(rows) == len(VALUES)
    first, last = dict(zip(header, rows[0], strict=True)), dict(zip(header, rows[-1], strict=True))
    assert (first["segment"], last["segment"]) == ("'=HYPERLINK(1)", "'@now")
    wanted = golden("shift recalculated")["expect"]["segments"][1]
    assert float(last["upper_limit"]) == pytest.approx(wanted["upper"], rel=1e-9)
    assert first["moving_range"] == ""


def test_a_shift_keeps_its_review_and_kept_limits_keep_their_reason(api: Api, ramp: str) -> None:
    review = {"different": "yes", "reason_known": "unsure"}
    reviewed = SHIFT | {"review": review, "what_changed": "Two hands"}
    preview = api.send("POST", f"{ramp}/preview", {"segments": [FIRST, reviewed]}).json()
    assert preview["segments"][1]["advice"].startswith("Ask the people")
    body = api.send("PATCH", ramp, {"segments": [FIRST, reviewed]}, revision=1).json()
    assert body["segments"][1]["review"] == review
    api.send("POST", f"{ramp}/undo", revision=2)
    asked = chart(api, ramp)["sentence"]["headline"]
    assert "Something changed around 30 Mar" in asked
    kept = {"period": "2026-03-30", "reason": "Two on leave", "review": {"lasting": "no"}}
    body = api.send("PATCH", ramp, {"kept_limits": [kept]}, revision=3).json()
    assert body["kept_limits"] == [kept | {"label": "30 Mar"}]
    assert body["history"]["undo"] == "Kept the limits at 30 Mar 2026: Two on leave"
    # What has been decided is not asked again.
    assert "Something changed" not in body["sentence"]["headline"]
    for wrong in (
        {"kept_limits": [kept | {"review": {"why": "yes"}}]},
        {"kept_limits": [kept | {"review": {"lasting": "perhaps"}}]},
    ):
        assert api.send("PATCH", ramp, wrong, revision=4).status_code == 400
    bad = {"kept_limits": [kept | {"period": "soon"}]}
    assert api.send("PATCH", ramp, bad, revision=4).status_code == 422
    opened = api.send("PATCH", ramp, {"kept_limits": []}, revision=4).json()
    assert opened["history"]["undo"] == "Reopened the review of a shift"


def test_kpis_are_listed_in_stretches(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("fluctus.kpis.chart.queries.KPIS_AT_ONCE", 2)
    slugs = [api.add_kpi(f"Ramp {number}", VALUES) for number in range(5)]
    found: list[str] = []
    while len(found) < 5:
        page = api.get("/kpis", start=len(found)).json()
        assert (page["count"], page["start"]) == (5, len(found))
        found += [row["slug"] for row in page["kpis"]]
    assert found == slugs
    assert api.get("/kpis", start=9).json()["kpis"] == []
    assert api.get("/kpis", start=-1).status_code == 400
