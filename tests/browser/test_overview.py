"""All KPIs at once: by mouse, by keys alone, and with many of them."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from fluctus.kpis.models import Kpi, Segment
from fluctus.overview.models import HandOrder, KpiSummary

Accessible = Callable[[Page], None]


@pytest.fixture
def overview(demo: Page) -> Page:
    demo.get_by_role("link", name="Overview").click()
    expect(demo.get_by_role("heading", name="Overview")).to_be_visible()
    expect(demo.locator("[data-row]").first).to_be_visible()
    return demo


def row(page: Page, name: str) -> Locator:
    return page.locator("[data-at]").filter(has=page.get_by_role("link", name=name, exact=True))


def names(page: Page) -> list[str]:
    places = page.locator("[data-at]").all()
    found = [
        (int(place.get_attribute("data-at") or 0), place.locator("[data-row]").inner_text())
        for place in places
    ]
    return [name for _, name in sorted(found)]


def test_the_overview_by_mouse(overview: Page, accessible: Accessible) -> None:
    page = overview
    expect(page.get_by_text(re.compile(r"^No KPI has a new finding\. Three wait"))).to_be_visible()
    expect(row(page, "Unplanned stops")).to_contain_text("Run of 9 above average")
    expect(row(page, "Turnaround at quay").locator('[data-part="border"]')).to_have_count(1)
    accessible(page)
    # One hairline reads every row, and names the findings near it.
    box = row(page, "Turnaround at quay").get_by_role("img").bounding_box()
    assert box is not None
    for share in range(60, 100, 2):
        page.mouse.move(box["x"] + box["width"] * share / 100, box["y"] + 30)
        if page.get_by_role("status").filter(has_text="findings within a week of").count():
            break
    expect(page.get_by_role("status")).to_contain_text("findings within a week of")
    expect(row(page, "Turnaround at quay")).not_to_contain_text("9 Nov")
    # Chips narrow; the sentence stays that of all.
    page.get_by_role("button", name="To decide 3").click()
    expect(page.locator("[data-row]")).to_have_count(3)
    row(page, "Ramp cycle").get_by_role("link", name="Review").click()
    expect(page.get_by_role("heading", name="Ramp cycle", level=1)).to_be_visible()
    page.go_back()
    page.get_by_role("button", name="All 12").click()
    # Groups fold.
    page.get_by_role("combobox", name="Order").click()
    page.get_by_role("option", name="By group").click()
    # They are arranged by hand, which stays.
    groups = page.get_by_role("main").get_by_role("button", name=re.compile(r" · \d+$"))
    expect(groups.first).to_have_text(re.compile("^Company"))
    page.get_by_role("button", name="Move Quays up").click()
    expect(groups.first).to_have_text(re.compile("^Quays"))
    page.get_by_role("button", name="Move Quays down").click()
    expect(groups.first).to_have_text(re.compile("^Company"))
    page.get_by_role("main").get_by_role("button", name="Quays · 6").click()
    expect(row(page, "Turnaround at quay")).to_have_count(0)
    expect(row(page, "Fuel per crossing")).to_be_visible()
    # A stretch that is pulled along the axis is what is shown.
    axis = page.get_by_role("img", name="Dates. Pull along them")
    box = axis.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + 10, steps=4)
    page.mouse.up()
    expect(page).to_have_url(re.compile("first=2026-0.-..&last=2026-"))
    page.get_by_role("button", name=re.compile("2026 to ")).click()
    page.get_by_role("menuitem", name="Last 26 weeks").click()
    expect(page).to_have_url(re.compile("weeks=26"))


def test_what_fell_together_is_said_plainly(overview: Page, accessible: Accessible) -> None:
    overview.get_by_role("button", name="What fell together").click()
    told = overview.get_by_role("region", name="What fell together")
    # What chance explains is folded away, and all that fell together here is.
    expect(told).to_contain_text("Nothing fell together that chance does not explain")
    expect(told.get_by_role("heading")).to_have_count(0)
    told.get_by_text("no more than chance brings").first.click()
    expect(told.get_by_role("heading").first).to_contain_text("KPIs, ")
    expect(told).to_contain_text("random shifts")
    expect(told).to_contain_text("says nothing of a cause")
    accessible(overview)
    count = told.get_by_role("heading").count()
    told.get_by_role("combobox", name="Within").click()
    overview.get_by_role("option", name="the same day").click()
    expect(told.get_by_role("heading")).not_to_have_count(count)


def test_the_overview_by_keys_alone(overview: Page) -> None:
    page = overview
    first, second, third = names(page)[:3]
    page.locator("[data-row]").first.focus()
    page.keyboard.press("ArrowDown")
    expect(row(page, second).locator("[data-row]")).to_be_focused()
    # The hairline goes from period to period.
    page.keyboard.press("ArrowLeft")
    flag = page.get_by_role("status")
    expect(flag).to_contain_text("2026")
    before = flag.inner_text()
    page.keyboard.press("ArrowLeft")
    expect(flag).not_to_have_text(before)
    # V looks at the chart beside the list, and follows the arrows.
    page.keyboard.press("v")
    beside = page.get_by_role("complementary", name="A look at the chart")
    expect(beside.get_by_role("heading", name=second)).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(beside.get_by_role("heading", name=third)).to_be_visible()
    # The strips give way to it.
    strip = row(page, third).get_by_role("img").bounding_box()
    chart = beside.bounding_box()
    assert strip is not None
    assert chart is not None
    assert strip["x"] + strip["width"] < chart["x"]
    page.keyboard.press("Escape")
    expect(beside).to_have_count(0)
    # An order of one's own.
    page.keyboard.press("Alt+ArrowUp")
    expect(page).to_have_url(re.compile("order=hand"))
    expect(page.locator('[data-at="1"] [data-row]')).to_have_text(third)
    assert names(page)[:3] == [first, third, second]
    assert HandOrder.objects.get().slugs[1] == Kpi.objects.get(name=third).slug
    # Several are chosen and compared, and one is opened.
    page.locator("[data-row]").first.focus()
    page.keyboard.press("s")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("s")
    expect(page.get_by_role("region", name="Chosen KPIs")).to_contain_text("2 KPIs chosen")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=third, level=1)).to_be_visible()


def test_a_thousand_kpis_are_a_screen_at_a_time(overview: Page) -> None:
    page = overview
    kpi = Kpi.objects.get(slug="galley-waste")
    summary = kpi.summary
    many = Kpi.objects.bulk_create(
        Kpi(
            **{
                field.attname: getattr(kpi, field.attname)
                for field in Kpi._meta.concrete_fields
                if field.name != "id"
            }
            | {"slug": f"copy-{n}", "name": f"Copy {n:03}", "group": f"Group {n // 100}"}
        )
        for n in range(600)
    )
    Segment.objects.bulk_create(
        Segment(kpi=copy, centre="mean", spread="mean_range") for copy in many
    )
    KpiSummary.objects.bulk_create(
        KpiSummary(
            **{
                field.attname: getattr(summary, field.attname)
                for field in KpiSummary._meta.concrete_fields
            }
            | {"kpi_id": copy.pk}
        )
        for copy in many
    )
    page.reload()
    expect(page.get_by_text("612 KPIs")).to_be_visible()
    expect(page.locator("[data-row]").first).to_be_visible()
    assert page.locator("[data-at]").count() < 30
    assert page.get_by_role("navigation", name="KPIs").get_by_role("listitem").count() < 40
    page.get_by_role("combobox", name="Order").click()
    page.get_by_role("option", name="By name").click()
    page.locator("[data-row]").first.focus()
    page.keyboard.press("End")
    expect(page.locator('[data-at="611"] [data-row]')).to_be_focused()
    assert page.locator("[data-at]").count() < 40
    # The rail is narrowed down by typing.
    page.get_by_role("searchbox", name="Find a KPI").fill("copy 59")
    rail = page.get_by_role("navigation", name="KPIs")
    found = rail.locator('a[href*="/charts/"]')
    expect(found.first).to_contain_text("Copy 059")
    assert all("59" in name for name in found.all_inner_texts())


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_the_overview_holds_on_a_phone(overview: Page, accessible: Accessible, scheme: str) -> None:
    overview.emulate_media(color_scheme=scheme)  # type: ignore[arg-type]
    overview.set_viewport_size({"width": 390, "height": 800})
    overview.reload()
    expect(overview.locator("[data-row]").first).to_be_visible()
    wide = overview.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390
    accessible(overview)
