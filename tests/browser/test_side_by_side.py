"""Comparisons and pages in use."""

import re
from collections.abc import Callable

import numpy as np
import pytest
from django.db.models import F
from playwright.sync_api import Locator, Page, expect

from fluctus.kpis.models import Kpi, Observation
from fluctus.overview.models import Page as Sheet

Accessible = Callable[[Page], None]


def go(page: Page, path: str) -> None:
    page.goto(f"/marrowick/{path}")


def table_row(page: Page, name: str) -> Locator:
    return page.get_by_role("row").filter(has=page.get_by_role("button", name=name, exact=True))


# --- comparisons --------------------------------------------------------------------


def test_parts_are_compared_and_one_is_brought_out(demo: Page, accessible: Accessible) -> None:
    demo.get_by_role("link", name="Compare").click()
    demo.get_by_text(re.compile(r"Worth a look: \d")).click()
    accessible(demo)
    demo.get_by_role("link", name="By its parts: Vehicles left behind").click()
    # Once something is chosen it is out of the way.
    expect(demo.get_by_text("Worth a look")).to_have_count(0)
    expect(demo.get_by_text("Marrowick is higher than chance explains")).to_be_visible()
    expect(demo.locator("[data-part-of]")).to_have_count(3)
    # Equal axes: the same ticks at the same height.
    ticks = [
        part.locator("text").all_inner_texts()[:3] for part in demo.locator("[data-part-of]").all()
    ]
    assert ticks[0] == ticks[1] == ticks[2]
    accessible(demo)
    table_row(demo, "Holmsand").hover()
    expect(demo.locator('[data-part-of="Holmsand"]')).to_have_attribute("data-strong", "true")
    expect(table_row(demo, "Marrowick")).to_contain_text("44%")
    demo.get_by_role("combobox", name="Order of the parts").click()
    demo.get_by_role("option", name="Highest average first").click()
    expect(demo.locator("[data-part-of]").first).to_have_attribute("data-part-of", "Marrowick")
    # On one plot, by click, by key.
    demo.get_by_text("One plot", exact=True).click()
    plot = demo.get_by_role("img", name="Vehicles left behind by its parts")
    expect(plot.locator("[data-line-of]")).to_have_count(3)
    demo.get_by_role("button", name="Marrowick", exact=True).click()
    expect(plot.locator("[data-line-of]")).to_have_count(2)
    demo.keyboard.press("ArrowDown")
    expect(demo.get_by_role("button", name="Ainsey", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    accessible(demo)
    demo.get_by_role("link", name="Share of a total").click()
    expect(demo.get_by_text(re.compile("^Marrowick has 44% of"))).to_be_visible()
    accessible(demo)


PEOPLE = """Person\t2026-01-05\t2026-01-12\t2026-01-19\t2026-01-26\t2026-02-02\t2026-02-09
Isla\t12.1\t11.8\t12.6\t12.2\t11.9\t12.4
Rhona\t10.2\t10.6\t9.9\t10.1\t10.4\t10.0
Goal\t11\t11\t11\t11\t11\t11"""


def test_people_with_a_goal_are_pasted_and_seen_against_it(
    demo: Page, accessible: Accessible
) -> None:
    go(demo, "new")
    demo.get_by_role("textbox").first.fill(PEOPLE)
    demo.get_by_role("button", name="Read this table").click()
    demo.get_by_role("textbox", name="Name").fill("Errors a shift")
    demo.get_by_role("combobox", name="Wanted direction").click()
    demo.get_by_role("option", name="Lower is better").click()
    demo.get_by_role("button", name="Save 12 values").click()
    expect(demo).to_have_url(re.compile("compare/parts.*plot=one"))
    plot = demo.get_by_role("img", name="Errors a shift by its parts")
    expect(plot.locator('[data-part="goal"]')).to_contain_text("goal 11")
    expect(table_row(demo, "Isla")).to_contain_text("0%")
    expect(table_row(demo, "Rhona")).to_contain_text("100%")
    accessible(demo)


def test_kpis_against_a_goal_by_unit(demo: Page, accessible: Accessible) -> None:
    go(demo, "compare/goal?kpi=ramp-cycle&kpi=gate-cycle&kpi=turnaround-at-quay&kpi=gone")
    expect(demo.get_by_text("Gone since: gone.")).to_be_visible()
    seconds = demo.get_by_role("img", name="KPIs in s", exact=True)
    expect(seconds.locator("[data-line-of]")).to_have_count(2)
    expect(demo.get_by_role("img", name="KPIs in min")).to_be_visible()
    demo.get_by_role("textbox", name="Goal").fill("38")
    expect(seconds.locator('[data-part="goal"]')).to_contain_text("goal 38")
    expect(table_row(demo, "Ramp cycle")).to_contain_text("goal 38.0")
    demo.get_by_role("textbox", name="Axis from").fill("30")
    demo.get_by_role("textbox", name="to", exact=True).fill("50")
    expect(demo).to_have_url(re.compile("low=30&high=50"))
    expect(seconds).to_contain_text("45")
    accessible(demo)


def weekly(slug: str) -> dict[str, float]:
    """The values of a weekly KPI that take part, by period."""
    rows = Observation.objects.filter(kpi__slug=slug, set_aside=False).order_by("period")
    return {f"{period:%F}": value for period, value in rows.values_list("period", "value")}


def test_a_scatter_has_the_equation_that_its_numbers_have(
    demo: Page, accessible: Accessible
) -> None:
    go(demo, "compare/pair?x=ramp-cycle&y=turnaround-at-quay&weeks=all")
    x, y = weekly("ramp-cycle"), weekly("turnaround-at-quay")
    both = [period for period in x if period in y]
    slope, start = np.polyfit([x[p] for p in both], [y[p] for p in both], 1)
    equation = demo.locator('[data-part="equation"]')
    expect(equation).to_contain_text(f"n {len(both)}")
    said = (equation.text_content() or "").replace("\u2212", "-").replace("\u00a0", " ")
    found = re.search(r"= ([\d.]+) min ([-+]) ([\d.]+) min for each s of Ramp cycle", said)
    assert found is not None, said
    assert float(found[1]) == pytest.approx(start, abs=0.06)
    assert float(f"{found[2]}{found[3]}") == pytest.approx(slope, abs=0.006)
    expect(demo.get_by_text("Going together is not causing")).to_be_visible()
    expect(demo.locator('[data-part="off"]').first).to_contain_text("31 Aug")
    accessible(demo)
    lag = demo.get_by_role("slider", name="Lag")
    lag.focus()
    demo.keyboard.press("ArrowRight")
    expect(equation).to_contain_text(f"n {len(both) - 1}")
    expect(demo).to_have_url(re.compile("lag=1"))
    # What cannot be paired says what to do.
    demo.get_by_role("combobox", name="Up").click()
    demo.get_by_role("option", name="Ramp cycle").click()
    expect(demo.get_by_role("alert")).to_contain_text("It is the same KPI twice.")


def test_a_map_needs_no_network_and_lights_its_charts(demo: Page, accessible: Accessible) -> None:
    asked: list[str] = []
    demo.on("request", lambda request: asked.append(request.url))
    go(demo, "compare/places")
    map_ = demo.get_by_role("img", name="Map of Vehicles left behind by place")
    expect(map_.locator("[data-place-of]")).to_have_count(3)
    table_row(demo, "Ainsey").hover()
    expect(map_.locator('[data-place-of="Ainsey"] text')).to_have_attribute("font-weight", "700")
    accessible(demo)
    assert {url.split("/")[2] for url in asked if url.startswith("http")} == {
        demo.url.split("/")[2]
    }
    demo.get_by_role("button", name="Say where they are").click()
    box = demo.get_by_role("dialog", name="Where the parts are")
    box.get_by_role("textbox").fill("name,latitude,longitude\nAinsey,151.2,-20.1")
    box.get_by_role("button", name="Keep these places").click()
    expect(box.get_by_role("alert")).to_contain_text("Row 2")
    expect(box.get_by_role("alert")).to_contain_text("past the pole")
    expect(box.get_by_role("button", name="Exchange latitude and longitude")).to_be_visible()
    box.get_by_role("textbox").fill("name,latitude,longitude\nAinsey,57.0,-20.0")
    box.get_by_role("button", name="Keep these places").click()
    expect(box).to_have_count(0)
    # Areas go only once that is confirmed.
    demo.get_by_role("button", name="Remove areas").click()
    demo.get_by_role("button", name="Remove islands.geojson").click()
    expect(demo.get_by_role("button", name="Remove areas")).to_have_count(0)


# --- pages --------------------------------------------------------------------------


def test_a_page_is_built_arranged_and_reopened(demo: Page, accessible: Accessible) -> None:
    # From a chart in one act, onto a page that is made for it.
    demo.get_by_role("button", name="More").click()
    demo.get_by_role("menuitem", name="Add to a page").click()
    window = demo.get_by_role("dialog", name="Add to a page")
    window.get_by_role("textbox", name="Title of a new page").fill("For the board")
    window.get_by_role("button", name="Make it").click()
    demo.get_by_role("button", name="Open the page").click()
    expect(demo.get_by_role("heading", name="For the board", level=1)).to_be_visible()
    expect(demo.get_by_role("heading", name=re.compile("Turnaround at quay: 19.4"))).to_be_visible()
    # From a comparison, and text.
    go(demo, "compare/shares")
    demo.get_by_role("button", name="Add to a page").click()
    demo.get_by_role("button", name="For the board").click()
    demo.get_by_role("button", name="Open the page").click()
    expect(demo.get_by_role("region", name="Vehicles left behind")).to_contain_text("Marrowick has")
    demo.get_by_role("button", name="Add text").click()
    demo.get_by_role("textbox", name="Text").fill(
        "# Why\n\nThe **drill**. <script>alert(1)</script> [bad](javascript:alert(1))"
    )
    demo.get_by_role("button", name="Keep the text").click()
    text = demo.get_by_role("region", name="text")
    expect(text.get_by_role("heading", name="Why")).to_be_visible()
    expect(text.locator("strong")).to_have_text("drill")
    assert text.locator("script").count() == 0
    assert text.locator('a[href^="javascript"]').count() == 0
    accessible(demo)
    # Arranged by keys.
    demo.get_by_role("button", name="Arrange", exact=True).click()
    chart = demo.get_by_role("region", name="Turnaround at quay")
    chart.focus()
    demo.keyboard.press("Shift+ArrowLeft")
    expect(demo.get_by_role("button", name="Undo: Arranged the panels")).to_be_visible()
    accessible(demo)
    sheet = Sheet.objects.get(title="For the board")
    assert [panel["w"] for panel in sheet.state["panels"]] == [1, 2, 2]
    demo.get_by_role("textbox", name="Title").fill("For the owners")
    demo.keyboard.press("Enter")
    demo.get_by_role("button", name="Done").click()
    expect(demo.get_by_role("heading", name="For the owners")).to_be_visible()
    demo.reload()
    expect(demo.get_by_role("heading", name="For the owners")).to_be_visible()
    half = demo.get_by_role("region", name="Turnaround at quay").bounding_box()
    whole = demo.get_by_role("region", name="text").bounding_box()
    assert half is not None
    assert whole is not None
    assert half["width"] < 0.6 * whole["width"]
    # Taken back, twice.
    demo.get_by_role("button", name="Undo: Renamed").click()
    expect(demo.get_by_role("heading", name="For the board")).to_be_visible()
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name="Redo: Arranged the panels")).to_be_enabled()
    # Each panel leads to where it came from.
    demo.get_by_role("link", name=re.compile("^Turnaround at quay: ")).click()
    expect(demo).to_have_url(re.compile("charts/turnaround-at-quay"))


def test_a_chart_on_a_page_is_shown_in_another_view(demo: Page, accessible: Accessible) -> None:
    half = {"name": "Second half", "hidden": [], "first": "2026-06-01"}
    views = [half | dict.fromkeys(("last", "by", "breakdown"))]
    Kpi.objects.filter(slug="turnaround-at-quay").update(views=views, revision=F("revision") + 1)
    go(demo, "pages")
    demo.get_by_role("link", name="Monday at the quays").click()
    demo.get_by_role("button", name="Arrange", exact=True).click()
    chart = demo.get_by_role("region", name="Turnaround at quay")
    view = chart.get_by_role("combobox", name="View of Turnaround at quay")
    expect(view).to_have_value("")
    view.select_option("Second half")
    expect(chart.locator("svg text", has_text="Jan 26")).to_have_count(0)
    accessible(demo)
    demo.get_by_role("button", name=re.compile("^Undo: Changed")).click()
    expect(view).to_have_value("")


def test_panels_are_dragged_and_what_is_gone_says_so(demo: Page) -> None:
    go(demo, "pages")
    demo.get_by_role("link", name="Monday at the quays").click()
    demo.get_by_role("button", name="Arrange", exact=True).click()
    stops = demo.get_by_role("region", name="Unplanned stops")
    expect(stops).to_contain_text("Nine weeks in a row")
    demo.get_by_role("button", name="Undo: Arranged the panels").click()
    expect(demo.get_by_role("button", name="Redo: Arranged the panels")).to_be_enabled()
    stops.scroll_into_view_if_needed()
    box = stops.bounding_box()
    assert box is not None
    demo.mouse.move(box["x"] + 300, box["y"] + 40)
    demo.mouse.down()
    demo.mouse.move(box["x"] + 300, box["y"] - 60, steps=6)
    demo.mouse.move(box["x"] + 300, box["y"] - 400, steps=10)
    demo.mouse.up()
    expect(demo.get_by_role("button", name="Undo: Arranged the panels")).to_be_visible()
    Kpi.objects.get(slug="unplanned-stops").delete()
    demo.reload()
    expect(demo.get_by_role("heading", name="Unplanned stops is gone")).to_be_visible()


def test_a_page_reads_on_a_phone_and_shares_one_hairline(
    demo: Page, accessible: Accessible
) -> None:
    go(demo, "pages")
    demo.get_by_role("link", name="Monday at the quays").click()
    turnaround = demo.get_by_role("region", name="Turnaround at quay")
    on_time = demo.get_by_role("region", name="Departures on time")
    plot = turnaround.locator('[data-part="plot"]')
    expect(plot).to_be_visible()
    plot.hover(position={"x": 200, "y": 60})
    expect(turnaround.locator('[data-part="chosen"]')).to_have_count(1)
    expect(on_time.locator('[data-part="chosen"]')).to_have_count(1)
    demo.get_by_role("button", name="last 52 weeks").click()
    demo.get_by_role("menuitem", name="Last 12 weeks").click()
    expect(demo.get_by_role("article").first).to_contain_text("Last 12 weeks")
    demo.set_viewport_size({"width": 390, "height": 800})
    expect(demo.get_by_role("heading", name="Monday at the quays")).to_be_visible()
    expect(demo.get_by_role("button", name="KPIs")).to_be_visible()
    accessible(demo)
    assert demo.evaluate("document.documentElement.scrollWidth") <= 390
