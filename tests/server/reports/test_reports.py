"""Reports: what is in them, how they are set, and what becomes of them when things go wrong."""

import io
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from typing import Any

import numpy as np
import pypdfium2
import pytest
from django.db import connection
from django.test import Client
from pptx import Presentation

from fluctus.accounts.models import Role
from fluctus.accounts.services import add_person
from fluctus.http.refusals import RefusalError
from fluctus.jobs import life
from fluctus.jobs.models import JobStatus
from fluctus.kpis.models import Kpi
from fluctus.reports import drawing, jobs
from fluctus.reports.asked import MOST_CHARTS
from fluctus.reports.contents import gather
from fluctus.reports.drawing import Renderer
from fluctus.reports.models import Report
from fluctus.reports.paper.pdf import page_as_png
from tests.conftest import Api, join, ok, revision
from tests.jobs import no_jobs, work

VALUES = [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]


@pytest.fixture
def api(working_api: Api) -> Api:
    return working_api


def made(api: Api, **asked: Any) -> dict[str, Any]:
    """Ask for a report, let it be made, and return it."""
    report = ok_or_accepted(api.send("POST", "/reports", {"title": "How it ran"} | asked))
    work()
    return dict(ok(api.get(f"/reports/{report['id']}")))


def ok_or_accepted(answer: Any) -> Any:
    assert answer.status_code == 202, answer.content
    return answer.json()


def taken(api: Api, report: dict[str, Any]) -> bytes:
    answer = api.get(f"/reports/{report['id']}/file")
    assert answer.status_code == 200, answer.content
    return bytes(answer.content)


def text_of(pdf: bytes) -> str:
    with closing(pypdfium2.PdfDocument(pdf)) as document:
        pages = []
        for number in range(len(document)):
            # Closed here, not by the collector, which may run in another thread meanwhile.
            with closing(document[number]) as page, closing(page.get_textpage()) as text:
                pages.append(text.get_text_range())
    return " ".join("\n".join(pages).split())


def shift_and_explain(api: Api, path: str) -> None:
    """Give a chart a shift, and its finding a cause, an action and a person."""
    later = {"start": "2026-03-02", "name": "Drill", "what_changed": "Two hands"}
    segments = [{"start": None, "name": "Before"}, later]
    ok(api.send("PATCH", path, {"segments": segments}, revision(api, path)))
    (finding, *_) = ok(api.get(f"{path}/findings"))
    said = {"state": "explained", "cause": "A seal", "action": "Spare seals", "person": "isla"}
    headers = {"If-Match": f'"{finding["version"]}"'}
    answer = api.client.patch(
        f"{api.base}/findings/{finding['id']}", said, "application/json", headers=headers
    )
    assert answer.status_code == 200


def fonts_of(document: pypdfium2.PdfDocument) -> dict[str, bool]:
    """The fonts of a document's texts, and whether each comes with it."""
    return {
        item.get_font().get_base_name(): item.get_font().is_embedded
        for page in document
        for item in page.get_objects()
        if isinstance(item, pypdfium2.PdfTextObj)
    }


def test_a_report_says_what_the_chart_says(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES, group="Quays")
    other = api.add_kpi("Fuel", [1, 2, 3, 2, 1, 2])
    path = f"/kpis/{slug}"
    shift_and_explain(api, path)
    report = made(
        api,
        scope="kpis",
        kpis=[slug, other],
        author="Isla Corrie",
        intro="For Monday.",
        texts={slug: "First the ramp."},
    )
    assert report["status"] == "done", report
    assert [(row["name"], row["revision"]) for row in report["shows"]] == [
        ("Ramp cycle", Kpi.objects.get(slug=slug).revision),
        ("Fuel", 1),
    ]
    pdf = taken(api, report)
    document = pypdfium2.PdfDocument(pdf)
    assert len(document) == report["pages"]
    outline = [item.get_title() for item in document.get_toc()]
    assert outline[0] == "How it ran"
    assert document.is_tagged()
    text = text_of(pdf)
    chart = ok(api.get(f"{path}/analysis"))
    for part in (
        "How it ran",
        "Isla Corrie",
        "For Monday.",
        "First the ramp.",
        chart["sentence"]["headline"],
        chart["comparison"]["sentence"],
        "Cause: A seal",
        "Action: Spare seals",
        "With isla",
        "In numbers",
        "How this was computed",
        "plus and minus 2.660 times",
        "3.268 (3.865) times",
        f"1 of {report['pages']}",
        chart["segments"][0]["how"],
    ):
        assert " ".join(part.split()) in text, part
    # The texts of the chart are text, in the picture.
    assert "Upper limit" in text
    fonts = fonts_of(document)
    assert all(fonts.values())
    assert any("Hanken" in name for name in fonts)
    nameless = made(api, scope="kpis", kpis=[slug], names=False)
    assert "With isla" not in text_of(taken(api, nameless))


@pytest.mark.parametrize("paper", ["A4", "letter"])
def test_nothing_is_cut_whatever_is_in_it(api: Api, paper: str) -> None:
    long = "W" * 60
    title = "<b>Bold & co</b> " + "A title that goes on " * 8
    slug = api.add_kpi(f"{long} {long}"[:118], VALUES, unit="m/s" * 6)
    words = "<script>alert(1)</script> " + "word " * 900 + long * 20
    report = made(
        api,
        title=title[:200],
        scope="kpis",
        kpis=[slug],
        intro=words[:4990],
        texts={slug: words[:4990]},
        paper=paper,
    )
    pdf = taken(api, report)
    text = text_of(pdf)
    assert "<b>Bold & co</b>" in text
    assert "<script>alert(1)</script>" in text
    document = pypdfium2.PdfDocument(pdf)
    sizes = {tuple(round(side) for side in page.get_size()) for page in document}
    assert sizes == {(595, 842) if paper == "A4" else (612, 792)}
    for number, page in enumerate(document):
        # Ink at the edge of the paper would go on beyond it.
        ink = np.asarray(page.render(scale=0.8).to_pil().convert("L")) < 200
        margin = 12
        assert not ink[:, :margin].any(), f"page {number + 1}, left"
        assert not ink[:, -margin:].any(), f"page {number + 1}, right"
        assert not ink[:margin].any(), f"page {number + 1}, top"
        assert not ink[-margin:].any(), f"page {number + 1}, bottom"


def test_slides_have_a_sentence_a_sharp_picture_and_notes(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    report = made(api, scope="kpis", kpis=[slug], format="slides")
    assert (report["status"], report["pages"]) == ("done", 2)
    deck = Presentation(io.BytesIO(taken(api, report)))
    first, second = deck.slides
    assert first.shapes.title.text_frame.text == "How it ran"
    chart = ok(api.get(f"/kpis/{slug}/analysis"))
    assert second.shapes.title.text_frame.text == chart["sentence"]["headline"]
    (picture,) = [shape for shape in second.shapes if shape.shape_type == 13]
    assert picture.image.size[0] >= 2_400
    assert chart["happenings"][0]["title"] in second.notes_slide.notes_text_frame.text
    assert api.get(f"/reports/{report['id']}/pages/1").status_code == 409


def test_pages_are_looked_at_and_there_are_no_others(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    report = made(api, scope="kpis", kpis=[slug])
    page = api.get(f"/reports/{report['id']}/pages/1")
    assert (page["Content-Type"], page.content[:4]) == ("image/png", b"\x89PNG")
    for number in (0, report["pages"] + 1, 99_999):
        assert api.get(f"/reports/{report['id']}/pages/{number}").status_code == 404
    with pytest.raises(IndexError):
        page_as_png(taken(api, report), -1, 1.0)


def test_what_a_report_shows_is_looked_up_when_it_is_made(api: Api) -> None:
    ramp = api.add_kpi("Ramp cycle", VALUES, group="Quays")
    api.add_kpi("Fuel", [1, 2, 3, 2, 1, 2], group="Vessels")
    page = ok(api.send("POST", "/pages", {"title": "Mondays"}))["id"]
    for panel in ({"kind": "text", "text": "Read this"}, {"kind": "chart", "kpis": [ramp]}):
        ok(api.send("POST", f"/pages/{page}/panels", panel))
    names = [
        [row["name"] for row in made(api, **asked)["shows"]]
        for asked in (
            {"scope": "all"},
            {"scope": "group", "group": "Vessels"},
            {"scope": "page", "page": page},
        )
    ]
    assert names == [["Ramp cycle", "Fuel"], ["Fuel"], ["Ramp cycle"]]
    whole = made(api, scope="page", page=page)
    assert "Read this" in text_of(taken(api, whole))
    # Again, with what there is by now: another report, and the first stays as it was.
    path = f"/kpis/{ramp}"
    ok(api.send("PATCH", path, {"name": "Ramp time"}, revision(api, path)))
    again = ok_or_accepted(api.send("POST", f"/reports/{whole['id']}/again"))
    work()
    shows = ok(api.get(f"/reports/{again['id']}"))["shows"]
    assert [row["name"] for row in shows] == ["Ramp time"]
    assert [row["name"] for row in ok(api.get(f"/reports/{whole['id']}"))["shows"]] == [
        "Ramp cycle"
    ]


def test_what_cannot_be_made_is_refused_at_once(api: Api) -> None:
    nothing = api.send("POST", "/reports", {"title": "x", "scope": "all"})
    assert (nothing.status_code, nothing.json()["title"]) == (422, "There is nothing to show.")
    slug = api.add_kpi("Ramp cycle", VALUES)
    kpi = Kpi.objects.get()
    Kpi.objects.bulk_create(
        Kpi(
            **{f.attname: getattr(kpi, f.attname) for f in Kpi._meta.fields if f.attname != "id"}
            | {"slug": f"k-{n}", "name": f"K {n}"}
        )
        for n in range(300)
    )
    many = api.send("POST", "/reports", {"title": "x", "scope": "all"})
    assert many.status_code == 422
    assert f"301 charts; {MOST_CHARTS} fit" in many.json()["issues"][0]["detail"]
    for wrong in (
        {"title": "x" * 10_000, "scope": "all"},
        {"scope": "all"},
        {"title": "x", "scope": "none"},
        {"title": "x", "scope": "kpis", "kpis": [slug], "first": "2026-02-01"},
        {"title": "x", "scope": "kpis", "kpis": [slug], "intro": "y" * 10_000},
    ):
        assert api.send("POST", "/reports", wrong).status_code == 400, wrong
    assert api.send("POST", "/reports", {"title": "x", "scope": "page"}).status_code == 404
    assert not Report.objects.exists()


def test_a_kpi_deleted_meanwhile_is_named_and_the_rest_is_made(api: Api) -> None:
    slugs = [api.add_kpi(name, VALUES) for name in ("Ramp cycle", "Fuel")]
    asked = {"title": "x", "scope": "kpis", "kpis": slugs}
    report = ok_or_accepted(api.send("POST", "/reports", asked))
    only = ok_or_accepted(api.send("POST", "/reports", asked | {"kpis": slugs[:1]}))
    Kpi.objects.get(slug=slugs[0]).delete()
    work()
    part = ok(api.get(f"/reports/{report['id']}"))
    assert part["status"] == "done"
    assert part["left_out"] == [f"{slugs[0]} has been deleted; it is not shown."]
    again = ok_or_accepted(api.send("POST", f"/reports/{report['id']}/again"))
    work()
    assert ok(api.get(f"/reports/{again['id']}"))["left_out"] == []
    failed = ok(api.get(f"/reports/{only['id']}"))
    assert (failed["status"], failed["problem"]["title"]) == (
        "failed",
        "There is nothing to show.",
    )
    assert api.get(f"/reports/{only['id']}/file").status_code == 409


def cancel_alone(number: int) -> None:
    life.cancel(Report(pk=number), "report", "")
    connection.close()


def test_a_report_is_cancelled_deleted_and_swept(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    asked = {"title": "x", "scope": "kpis", "kpis": [slug]}

    def number() -> int:
        return int(ok_or_accepted(api.send("POST", "/reports", asked))["id"])

    waiting = number()
    assert ok(api.send("POST", f"/reports/{waiting}/cancel"))["status"] == "cancelled"
    running = number()

    def slow(*args: Any) -> Any:
        # As a person's request comes, on a connection of its own.
        with ThreadPoolExecutor(1) as other:
            other.submit(cancel_alone, running).result()
        return gather(*args)

    monkeypatch.setattr("fluctus.reports.making.gather", slow)
    work()
    assert ok(api.get(f"/reports/{running}"))["status"] == "cancelled"
    monkeypatch.undo()
    deleted = number()
    assert api.send("DELETE", f"/reports/{deleted}").status_code == 204
    work()
    assert not Report.objects.filter(pk=deleted).exists()
    lost = number()
    no_jobs()
    assert jobs.sweep() == 1
    assert ok(api.get(f"/reports/{lost}"))["problem"]["title"] == "The report was interrupted."
    assert api.send("POST", f"/reports/{lost}/cancel").status_code == 409


def test_reports_are_their_workspace_s_and_those_of_others_are_kept(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    report = made(api, scope="kpis", kpis=[slug])
    mallory = Api(join("mallory", "elsewhere"), "elsewhere")
    for way in ("", "/file", "/pages/1"):
        assert mallory.get(f"/reports/{report['id']}{way}").status_code == 404
        assert Client().get(f"{api.base}/reports/{report['id']}{way}").status_code == 401
    assert (
        mallory.send(
            "POST", "/reports", {"title": "x", "scope": "kpis", "kpis": [slug]}
        ).status_code
        == 422
    )
    viewer = Api(add_person("mairi", "words that hold well", "marrowick", Role.VIEWER), "marrowick")
    assert viewer.send("DELETE", f"/reports/{report['id']}").status_code == 403
    own = made(viewer, scope="kpis", kpis=[slug])
    assert viewer.send("DELETE", f"/reports/{own['id']}").status_code == 204
    texts = [row["text"] for row in ok(api.get("/record"))["audit_events"]]
    assert "Asked for a report “How it ran”" in texts


def test_what_draws_is_started_again_when_it_dies_or_hangs(
    api: Api, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    slug = api.add_kpi("Ramp cycle", VALUES)
    answer = {"chart": ok(api.get(f"/kpis/{slug}/analysis?width=600")), "pins": [], "hidden": None}
    chart = {"kind": "chart", "answer": answer}
    renderer = Renderer()
    svg = renderer.draw(chart, 600, 400)
    assert svg.startswith("<svg")
    assert "var(--" not in svg
    process = renderer._started()
    process.kill()
    process.wait()
    assert renderer.draw(chart, 600, 400) == svg
    # A chart that it cannot draw is refused, and the next one is drawn.
    with pytest.raises(RefusalError, match="could not be drawn"):
        renderer.draw({"kind": "chart", "answer": {"chart": None}}, 600, 400)
    assert renderer.draw(chart, 600, 400) == svg
    renderer.stop()
    program = tmp_path / "hangs.mjs"
    program.write_text("setInterval(() => {}, 1000)")
    hangs, begun = Renderer(program, seconds=0.3), time.monotonic()
    with pytest.raises(RefusalError, match="could not be drawn"):
        hangs.draw(chart, 600, 400)
    assert hangs._process is None
    assert time.monotonic() - begun < 10
    dies = tmp_path / "dies.mjs"
    dies.write_text("process.exit(1)")
    with pytest.raises(RefusalError, match="could not be drawn"):
        Renderer(dies).draw(chart, 600, 400)
    monkeypatch.setattr(drawing, "_idle", [Renderer(dies)])
    report = made(api, scope="kpis", kpis=[slug])
    assert (report["status"], report["problem"]["title"]) == (
        JobStatus.FAILED,
        "The chart could not be drawn.",
    )
