"""Improvements over HTTP: computed states as data come, bad input, roles, history, totals."""

from datetime import date, timedelta
from typing import Any

import pytest

from fluctus.accounts.models import Membership, Role
from fluctus.improvements.models import Aim, ImprovementAct
from fluctus.kpis.models import Kpi
from tests.conftest import Api, csv_of, join, ok, revision

FIRST = date(2026, 1, 5)
WOBBLE = [0.4, -0.3, 0.1, -0.5, 0.3, 0.0, -0.2, 0.5, -0.1, -0.2]


def level(value: float, count: int) -> list[float]:
    return [value + WOBBLE[n % 10] for n in range(count)]


def week(number: int) -> str:
    return (FIRST + timedelta(weeks=number)).isoformat()


def write_down(api: Api, slug: str, began: str, status: int = 201, **more: Any) -> dict[str, Any]:
    aim = {"kpi": slug, "wanted": "lower"} | more.pop("aim", {})
    form = {"name": "Lanes marked", "began": began, "aims": [aim]} | more
    answer = api.send("POST", "/improvements", form)
    assert answer.status_code == status, answer.content
    return dict(answer.json())


def aim_of(api: Api, number: int) -> dict[str, Any]:
    return dict(ok(api.get(f"/improvements/{number}"))["aims"][0])


@pytest.fixture
def slug(api: Api) -> str:
    return api.add_kpi("Turnaround", level(20, 20), direction="lower", unit="min")


def more(api: Api, slug: str, values: list[float]) -> None:
    assert api.bring_in(csv_of(values), into=slug).status_code == 201


def test_its_state_follows_the_data_from_nothing_to_held_and_to_faded(api: Api, slug: str) -> None:
    made = write_down(api, slug, week(20), aim={"amount": 3.0, "worth": 10, "worth_unit": "€"})
    number = made["id"]
    assert made["aims"][0]["says"].startswith("Nothing to go by yet: no value since 25 May 2026")
    values = level(20, 20)
    seen = []
    for value, count in ((17, 2), (17, 4), (17, 8), (19.9, 10)):
        values += level(value, count)
        more(api, slug, values)
        seen.append(aim_of(api, number)["state"])
    assert seen == ["sign", "moved", "held", "faded"]
    aim = aim_of(api, number)
    brought = sum(20 - value + (sum(level(20, 20)) / 20 - 20) for value in values[20:])
    assert aim["brought"] == pytest.approx(brought, abs=1e-9)
    assert (aim["n"], aim["m"], aim["average"]) == (20, 24, pytest.approx(20.0, abs=1e-9))
    assert "worth €" in aim["says"]
    assert aim["drawn"]["course"][-1] == pytest.approx(brought, abs=1e-9)
    texts = [act["text"] for act in ok(api.get(f"/improvements/{number}"))["acts"]]
    assert [text.partition(".")[0] for text in texts[:-1]] == [
        "Turnaround: faded",
        "Turnaround: it held",
        "Turnaround: it moved",
        "Turnaround: a sign",
    ]
    # What fades is said to its owner.
    assert ok(api.get("/for-you"))["faded"] == []
    path = f"/improvements/{number}"
    version = ok(api.get(path))["version"]
    ok(api.send("PATCH", path, {"owner": "isla"}, version))
    (faded,) = ok(api.get("/for-you"))["faded"]
    assert (faded["name"], faded["kpi_name"]) == ("Lanes marked", "Turnaround")
    (total,) = ok(api.get("/improvements"))["totals"]
    assert total["brought"] == pytest.approx(10 * brought)


def test_the_baseline_is_the_segment_before_and_the_shift_is_proposed_once(
    api: Api, slug: str
) -> None:
    more(api, slug, level(24, 8) + level(20, 12) + level(17, 12))
    path = f"/kpis/{slug}"
    segments = [{"start": None}, {"start": week(8), "name": "New boats"}]
    ok(api.send("PATCH", path, {"segments": segments}, revision(api, path)))
    number = write_down(api, slug, week(20))["id"]
    aim = aim_of(api, number)
    assert (aim["n"], aim["average"]) == (12, pytest.approx(sum(level(20, 12)) / 12))
    assert (aim["state"], aim["proposes"]) == ("held", week(20))
    segments.append({"start": week(20), "name": "Lanes"})
    ok(api.send("PATCH", path, {"segments": segments}, revision(api, path)))
    aim = aim_of(api, number)
    assert (aim["n"], aim["state"], aim["proposes"]) == (12, "held", None)


def test_a_period_that_it_began_within_is_on_neither_side(api: Api, slug: str) -> None:
    more(api, slug, level(20, 20) + level(17, 4))
    number = write_down(api, slug, (FIRST + timedelta(weeks=20, days=2)).isoformat())["id"]
    aim = aim_of(api, number)
    assert (aim["n"], aim["m"]) == (20, 3)


@pytest.mark.parametrize(
    ("began", "changes", "field", "says"),
    [
        ("2026-01-05", {}, "began", "has no value before 5 January 2026"),
        ("2025-06-01", {}, "began", "Choose a day after 5 Jan"),
        (week(20), {"aim": {"wanted": "higher"}}, "aims.0.wanted", "lower is better"),
        (week(20), {"aim": {"amount": -2.0}}, "aims.0.amount", "above 0"),
        (week(20), {"aim": {"worth": -1.0}}, "aims.0.worth", "above 0"),
        (week(20), {"aim": {"by": week(19)}}, "aims.0.by", "before it begins"),
        (week(20), {"aim": {"kpi": "no-such"}}, "aims.0.kpi", "no such KPI"),
        (week(20), {"aims": []}, "aims", "moves no KPI"),
        (week(20), {"owner": "nobody"}, "owner", "not in this workspace"),
        (week(20), {"name": "  "}, "name", ""),
        ("yesterday", {}, "began", ""),
    ],
)
def test_what_nothing_could_come_of_is_refused_and_named(
    api: Api, slug: str, began: str, changes: dict[str, Any], field: str, says: str
) -> None:
    refused = api.send(
        "POST",
        "/improvements",
        {"name": "Lanes", "began": began}
        | {"aims": [{"kpi": slug, "wanted": "lower"} | changes.pop("aim", {})]}
        | changes,
    )
    assert refused.status_code in (400, 422), refused.content
    (issue,) = refused.json()["issues"]
    assert issue["field"] == field
    assert says in f"{issue['detail']} {issue['remedy']}"
    assert Aim.objects.count() == 0


def test_without_limits_it_says_what_it_takes_and_how_soon_one_would_know(
    api: Api, slug: str
) -> None:
    few = api.add_kpi("Gate", [3.0, 4, 3])
    assert write_down(api, few, week(3))["aims"][0]["state"] == "no_baseline"
    asked = {"began": week(20), "wanted": "lower", "amount": 3}
    expected = ok(api.get("/improvements/expected", kpi=slug, **asked))
    assert "on average over 20 weeks before it" in expected["baseline"]
    assert "fell by 3.0\u00a0min" in expected["how_soon"]
    assert "8 in 10 within" in expected["how_soon"]
    few_asked = ok(api.get("/improvements/expected", kpi=few, **asked | {"began": week(3)}))
    assert few_asked["problem"].startswith("A baseline takes five values of Gate")


def test_two_in_the_same_time_are_named_and_their_worth_is_counted_once(
    api: Api, slug: str
) -> None:
    more(api, slug, level(20, 20) + level(17, 10))
    worth = {"worth": 1.0, "worth_unit": "€"}
    first = write_down(api, slug, week(20), aim=worth)
    second = write_down(api, slug, week(20), name="Second mate", aim=worth)
    assert aim_of(api, second["id"])["together_with"] == ["Lanes marked"]
    assert aim_of(api, first["id"])["together_with"] == ["Second mate"]
    ledger = ok(api.get("/improvements"))
    assert ledger["totals"][0]["count"] == 1
    later = write_down(api, slug, week(29), name="Later", aim={"by": week(40)})
    early = write_down(api, slug, week(10), name="Early", aim={"by": week(15)})
    assert "Early" not in aim_of(api, later["id"])["together_with"]
    assert aim_of(api, early["id"])["together_with"] == []


def test_a_stale_edit_is_a_conflict_and_what_is_removed_comes_back(api: Api, slug: str) -> None:
    made = write_down(api, slug, week(20))
    path = f"/improvements/{made['id']}"
    ok(api.send("PATCH", path, {"name": "Lanes painted"}, made["version"]))
    stale = api.send("PATCH", path, {"name": "Lanes"}, made["version"])
    assert stale.status_code == 412
    assert "Named Lanes painted" in stale.json()["issues"][0]["detail"]
    removed = api.send("DELETE", path, None, made["version"] + 1)
    assert removed.status_code == 204
    assert ok(api.get("/improvements"))["improvements"] == []
    ok(api.send("POST", f"{path}/back"))
    assert len(ok(api.get("/improvements"))["improvements"]) == 1
    said = list(ImprovementAct.objects.order_by("pk").values_list("text", flat=True))
    assert said == ["Written down", "Named Lanes painted", "Removed", "Brought back"]
    # Another date is held against another baseline at once.
    version = ok(api.get(path))["version"]
    changed = ok(api.send("PATCH", path, {"began": week(10)}, version))
    assert (changed["aims"][0]["n"], changed["aims"][0]["m"]) == (10, 10)


def test_another_workspace_sees_and_moves_nothing(api: Api, slug: str) -> None:
    made = write_down(api, slug, week(20))
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    theirs = stranger.add_kpi("Theirs", level(20, 20))
    assert stranger.get(f"/improvements/{made['id']}").status_code == 404
    assert (
        stranger.get("/improvements/expected", kpi=slug, began=week(3), wanted="lower").status_code
        == 404
    )
    aims = [{"kpi": theirs, "wanted": "lower"}]
    refused = api.send("PATCH", f"/improvements/{made['id']}", {"aims": aims}, made["version"])
    assert refused.status_code == 422
    finding = ok(stranger.get("/findings"))["findings"]
    assert finding == []
    viewer = join("vera", "marrowick")
    Membership.objects.filter(person=viewer).update(role=Role.VIEWER)
    looks = Api(viewer, "marrowick")
    assert len(ok(looks.get("/improvements"))["improvements"]) == 1
    form = {"name": "No", "began": week(20), "aims": [{"kpi": slug, "wanted": "lower"}]}
    assert looks.send("POST", "/improvements", form).status_code == 403


def test_deleting_its_kpi_leaves_the_improvement_and_says_so(api: Api, slug: str) -> None:
    made = write_down(api, slug, week(20))
    Kpi.objects.get(slug=slug).delete()
    assert ok(api.get(f"/improvements/{made['id']}"))["aims"] == []
    assert len(ok(api.get("/improvements"))["improvements"]) == 1


def test_it_is_made_from_a_finding(api: Api) -> None:
    slug = api.add_kpi("Ramp", [*level(20, 12), 29.0, *level(20, 3)])
    finding = ok(api.get(f"/kpis/{slug}/findings"))[0]
    made = write_down(api, slug, week(14), finding=finding["id"])
    assert made["made_of"]["finding"] == finding["id"]
    assert made["made_of"]["says"].endswith("of Ramp")
