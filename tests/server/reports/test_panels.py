"""Panels of every kind: on a page, at a link, on paper, on slides and in what has no pictures."""

from io import BytesIO
from typing import Any
from xml.etree import ElementTree
from zipfile import ZipFile

import pytest
from django.test import Client
from pptx import Presentation

from fluctus.kpis.models import Kpi
from fluctus.overview.panels.registry import KINDS
from fluctus.reports.drawing import a_renderer
from tests.conftest import Api, ok
from tests.server.overview.test_compare import bring
from tests.server.reports.test_reports import made, taken, text_of

VALUES = [10, 11, 10, 12, 11, 10, 9, 10.0, 11, 12]
QUAYS = {"Marrowick": VALUES, "Holmsand": [value + 4 for value in VALUES]}


@pytest.fixture
def api(working_api: Api) -> Api:
    return working_api


@pytest.fixture
def sheet(api: Api) -> int:
    """A page with a panel of every kind."""
    left = bring(api, QUAYS, aggregation="sum").rpartition("/")[2]
    one = api.add_kpi("Ramp cycle", VALUES, unit="s", target=12)
    two = api.add_kpi("Gate cycle", VALUES[::-1], unit="s")
    api.send("PUT", "/places", {"text": "name,latitude,longitude\nMarrowick,57,-5\nHolmsand,58,-4"})
    kpis: dict[str, list[str]] = {
        "chart": [one],
        "number": [one],
        "parts": [left],
        "shares": [left],
        "places": [left],
        "goal": [one, two],
        "pair": [one, two],
        "overview": [],
        "improvements": [],
        "text": [],
    }
    assert set(kpis) == set(KINDS)
    aims = [{"kpi": one, "wanted": "higher"}]
    api.send("POST", "/improvements", {"name": "Hoist", "began": "2026-02-09", "aims": aims})
    panels = [
        {"kind": kind, "kpis": of, "text": "# Read *this*" if kind == "text" else ""}
        for kind, of in kpis.items()
    ]
    return int(ok(api.send("POST", "/pages", {"title": "All", "panels": panels}))["id"])


def panels_of(api: Api, number: int) -> list[dict[str, Any]]:
    panels = ok(api.get(f"/pages/{number}"))["panels"]
    return [{k: v for k, v in panel.items() if k != "gone"} for panel in panels]


def shown(api: Api, panels: list[dict[str, Any]], **more: Any) -> list[dict[str, Any]]:
    return list(ok(api.send("POST", "/panels", {"panels": panels} | more)))


def test_a_page_asks_once_and_each_says_what_it_says_on_its_own_screen(
    api: Api, sheet: int
) -> None:
    contents = {one["kind"]: one for one in shown(api, panels_of(api, sheet))}
    assert set(contents) == set(KINDS)
    assert all(one["problem"] == "" for one in contents.values())
    chart = ok(api.get("/kpis/ramp-cycle/analysis?width=600"))
    assert contents["chart"]["title"] == chart["sentence"]["headline"]
    assert contents["chart"]["answer"]["chart"]["segments"] == chart["segments"]
    assert contents["number"]["answer"]["text"] == "12.0\N{NO-BREAK SPACE}s"
    (slug,) = Kpi.objects.exclude(slug__endswith="cycle").values_list("slug", flat=True)
    assert contents["parts"]["answer"] == ok(api.get(f"/kpis/{slug}/parts"))
    assert contents["shares"]["answer"] == ok(api.get(f"/kpis/{slug}/shares"))
    assert contents["places"]["answer"]["placed"] == ok(api.get(f"/kpis/{slug}/places"))
    both = {"kpi": ["ramp-cycle", "gate-cycle"]}
    assert contents["goal"]["answer"] == ok(api.get("/compare/goal", **both))
    pair = ok(api.get("/compare/pair", x="ramp-cycle", y="gate-cycle"))
    assert contents["pair"]["answer"] == pair
    assert contents["pair"]["title"] == pair["sentence"]
    assert [row["name"] for row in contents["overview"]["answer"]["rows"]]
    ledger = ok(api.get("/improvements"))["improvements"]
    assert contents["improvements"]["answer"]["rows"] == ledger


def test_dates_are_those_of_the_panel_or_else_of_the_page(api: Api, sheet: int) -> None:
    chart, *_, words = panels_of(api, sheet)
    own = chart | {"key": "own", "dates": {"first": "2026-01-05", "last": "2026-01-19"}}
    both = shown(api, [chart, own, words], dates={"weeks": 5})
    counts = [len(one["answer"]["chart"]["points"]["period"]) for one in both[:2]]
    assert counts == [5, 3]


def test_what_cannot_be_shown_says_why_and_the_others_are_shown(api: Api, sheet: int) -> None:
    Kpi.objects.get(slug="gate-cycle").delete()
    contents = {one["kind"]: one for one in shown(api, panels_of(api, sheet))}
    assert contents["pair"]["answer"] is None
    assert contents["pair"]["title"] == "Gate cycle is gone"
    # Of several, those that there are.
    assert contents["goal"]["answer"]["gone"] == ["Gate cycle"]
    assert contents["chart"]["problem"] == ""
    no_parts = {"kind": "parts", "kpis": ["ramp-cycle"], "key": "x", "x": 0, "y": 0, "w": 1, "h": 3}
    (said,) = shown(api, [no_parts])
    assert said["answer"] is None
    assert "of the whole alone" in said["problem"]
    elsewhere = no_parts | {"kind": "chart", "kpis": ["none-such"]}
    assert "none-such" in shown(api, [elsewhere])[0]["title"]
    assert api.send("POST", "/panels", {"panels": [no_parts | {"kind": "x"}]}).status_code == 400
    # More names than KPIs, fewer KPIs than it takes.
    odd = [no_parts | {"names": ["A", "B", "C"]}, no_parts | {"kind": "pair", "key": "y"}]
    assert [one["answer"] for one in shown(api, odd)] == [None, None]
    assert shown(api, odd)[1]["problem"] == "One of this kind shows 2 KPIs."


def test_a_link_shows_all_of_them(api: Api, sheet: int) -> None:
    made_link = ok(api.send("POST", "/links", {"kind": "page", "page": sheet}))
    secret = made_link["address"].rpartition("/")[2]
    things = ok(Client().get(f"/api/v1/shared/{secret}"))["things"]
    assert {thing["kind"] for thing in things} == set(KINDS)
    assert all(thing["answer"] for thing in things)


def test_each_is_drawn_as_one_sound_picture(api: Api, sheet: int) -> None:
    names = {"parts": "Holmsand", "places": "Holmsand", "goal": "Gate cycle", "pair": "Gate cycle"}
    with a_renderer() as renderer:
        for content in shown(api, panels_of(api, sheet)):
            if not KINDS[content["kind"]].picture:
                continue
            picture = ElementTree.fromstring(renderer.draw(content, 680, 400))  # noqa: S314 - ours
            assert (picture.get("width"), picture.get("height")) == ("680", "400")
            written = " ".join(picture.itertext())
            assert names.get(content["kind"], "") in written
            assert "NaN" not in ElementTree.tostring(picture, "unicode"), content["kind"]


def test_paper_and_slides_have_a_picture_and_a_table_of_each(api: Api, sheet: int) -> None:
    report = made(api, scope="page", page=sheet)
    assert report["left_out"] == []
    text = text_of(taken(api, report))
    contents = {one["kind"]: one for one in shown(api, panels_of(api, sheet))}
    for one in contents.values():
        assert " ".join(one["title"].split()) in text, one["kind"]
    assert "Read *this*" in text
    assert "Holmsand" in text
    slides = made(api, scope="page", page=sheet, format="slides")
    deck = Presentation(BytesIO(taken(api, slides)))
    pictures = [
        shape._element.nvPicPr.cNvPr.get("descr")
        for slide in deck.slides
        for shape in slide.shapes
        if shape.shape_type == 13
    ]
    drawn = [kind for kind in KINDS.values() if kind.picture]
    assert len(pictures) == len(drawn)


def test_what_has_no_pictures_has_the_kpis_of_all_panels(api: Api, sheet: int) -> None:
    package = made(api, scope="page", page=sheet, format="package")
    names = ZipFile(BytesIO(taken(api, package))).namelist()
    folders = {name.split("/")[1] for name in names if name.startswith("kpis/")}
    assert folders == set(Kpi.objects.values_list("slug", flat=True))
