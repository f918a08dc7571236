"""Pages: made, arranged, taken back, and what becomes of what they show."""

from typing import Any

import pytest

from fluctus.overview.models import Page
from tests.conftest import Api, join, ok, revision

VALUES = [10, 11, 10, 12, 11, 10, 9, 10.0]


@pytest.fixture
def sheet(api: Api) -> dict[str, Any]:
    api.add_kpi("Ramp cycle", VALUES)
    panels = [{"kind": "chart", "kpis": ["ramp-cycle"]}, {"kind": "text", "text": "# Monday"}]
    made: dict[str, Any] = ok(api.send("POST", "/pages", {"title": "Monday", "panels": panels}))
    return made


def change(api: Api, sheet: dict[str, Any], **changes: Any) -> Any:
    return api.send("PATCH", f"/pages/{sheet['id']}", changes, revision=sheet["revision"])


def arranged(sheet: dict[str, Any]) -> list[dict[str, Any]]:
    """The panels as they are sent back."""
    return [{k: v for k, v in panel.items() if k != "gone"} for panel in sheet["panels"]]


def test_a_page_is_made_changed_undone_and_told(api: Api, sheet: dict[str, Any]) -> None:
    assert [(panel["kind"], panel["y"], panel["names"]) for panel in sheet["panels"]] == [
        ("chart", 0, ["Ramp cycle"]),
        ("text", 9, []),
    ]
    dates = {"first": "2026-01-05", "last": "2026-02-02"}
    renamed = ok(change(api, sheet, title="Tuesday", dates=dates))
    assert (renamed["title"], renamed["revision"]) == ("Tuesday", 2)
    assert renamed["dates"] == dates | {"weeks": None}
    panels = arranged(renamed)
    panels[0] |= {"w": 1, "h": 12}
    moved = ok(change(api, renamed, panels=panels, equal_axes=True))
    assert (moved["panels"][0]["w"], moved["equal_axes"]) == (1, True)
    assert moved["history"]["undo"] == "Arranged the panels; Made the axes equal"
    path = f"/pages/{sheet['id']}"
    back = ok(api.send("POST", f"{path}/undo", revision=3))
    assert (back["panels"][0]["w"], back["equal_axes"], back["title"]) == (2, False, "Tuesday")
    again = ok(api.send("POST", f"{path}/redo", revision=4))
    assert again["panels"] == moved["panels"]
    acts = ok(api.get(f"{path}/history"))
    assert [act["summary"] for act in acts] == [
        "Arranged the panels; Made the axes equal",
        "Renamed the page Tuesday; Changed the dates",
    ]
    assert api.send("POST", f"{path}/redo", revision=5).status_code == 409
    assert api.send("DELETE", path, revision=5).status_code == 204
    assert ok(api.get("/pages"))["count"] == 0


def test_a_stale_change_overwrites_nothing_but_a_panel_can_be_added(
    api: Api, sheet: dict[str, Any]
) -> None:
    rhona = Api(join("rhona", "marrowick"), "marrowick")
    ok(change(rhona, sheet, title="Rhona's"))
    stale = change(api, sheet, title="Isla's")
    assert stale.status_code == 412
    assert "rhona: Renamed the page Rhona's" in stale.json()["issues"][0]["detail"]
    added = ok(api.send("POST", f"/pages/{sheet['id']}/panels", {"kind": "overview"}))
    assert (added["title"], added["panels"][-1]["kind"]) == ("Rhona's", "overview")
    assert api.send("DELETE", f"/pages/{sheet['id']}", revision=1).status_code == 412


@pytest.mark.parametrize(
    ("panel", "status", "said"),
    [
        ({"kind": "chart", "kpis": ["ramp-cycle"]}, 409, "on the page already"),
        ({"kind": "chart", "kpis": ["gone"]}, 422, "no KPI gone"),
        ({"kind": "chart", "kpis": []}, 422, "shows 1 KPI."),
        ({"kind": "pair", "kpis": ["ramp-cycle"]}, 422, "shows 2 KPIs"),
        ({"kind": "film"}, 400, "not a valid choice"),
        ({"kind": "text", "text": "x" * 20_001}, 400, "no more than 20000"),
    ],
)
def test_panels_that_cannot_be_are_refused(
    api: Api, sheet: dict[str, Any], panel: dict[str, Any], status: int, said: str
) -> None:
    refused = api.send("POST", f"/pages/{sheet['id']}/panels", panel)
    assert refused.status_code == status
    assert said in refused.content.decode()
    assert len(ok(api.get(f"/pages/{sheet['id']}"))["panels"]) == 2


def test_the_same_with_other_dates_is_another_panel(api: Api, sheet: dict[str, Any]) -> None:
    panel = {"kind": "chart", "kpis": ["ramp-cycle"], "dates": {"weeks": 4}}
    added = ok(api.send("POST", f"/pages/{sheet['id']}/panels", panel))
    assert added["panels"][-1]["dates"] == {"first": None, "last": None, "weeks": 4}


def test_two_hundred_panels_are_too_many(api: Api, sheet: dict[str, Any]) -> None:
    texts = [
        {"kind": "text", "key": f"k{n}", "text": str(n), "x": 0, "y": n * 2, "w": 2, "h": 2}
        for n in range(200)
    ]
    refused = change(api, sheet, panels=texts)
    assert refused.status_code == 422
    assert "another page" in refused.json()["issues"][0]["remedy"]
    assert len(ok(change(api, sheet, panels=texts[:60]))["panels"]) == 60
    twice = [texts[0], texts[0]]
    assert (
        "one key"
        in change(api, ok(api.get(f"/pages/{sheet['id']}")), panels=twice).content.decode()
    )


def test_a_kpi_that_is_gone_is_named_and_its_panel_stays(api: Api, sheet: dict[str, Any]) -> None:
    rev = revision(api, "/kpis/ramp-cycle")
    assert api.send("DELETE", "/kpis/ramp-cycle?name=Ramp%20cycle", revision=rev).status_code == 204
    seen = ok(api.get(f"/pages/{sheet['id']}"))
    assert seen["panels"][0]["gone"] == ["Ramp cycle"]
    panels = arranged(seen)
    panels[0]["h"] = 4
    assert ok(change(api, seen, panels=panels))["panels"][0]["gone"] == ["Ramp cycle"]


def test_pages_are_of_their_workspace(api: Api, sheet: dict[str, Any]) -> None:
    mallory = join("mallory", "elsewhere")
    path = f"/pages/{sheet['id']}"
    for other in (Api(mallory, "marrowick"), Api(mallory, "elsewhere")):
        for method, where in (
            ("GET", path),
            ("PATCH", path),
            ("DELETE", path),
            ("POST", f"{path}/undo"),
            ("GET", f"{path}/history"),
        ):
            assert other.send(method, where, {}, revision=1).status_code == 404
        panel = {"kind": "text", "text": "x"}
        assert other.send("POST", f"{path}/panels", panel).status_code == 404
    elsewhere = Api(mallory, "elsewhere")
    stolen = {"title": "Mine", "panels": [{"kind": "chart", "kpis": ["ramp-cycle"]}]}
    assert elsewhere.send("POST", "/pages", stolen).status_code == 422
    assert Page.objects.count() == 1
