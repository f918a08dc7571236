"""Refreshes docs/screenshots from a running application that holds the untouched demo.

``script/start`` in one terminal, ``.venv/bin/python -m demo.screenshots`` in another.
"""

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from demo.generate import DATA

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
CHROMIUM = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
)
TABLE = """Gangway log of Marrowick Ferries\t\t\t

Week\tGangway turnaround (min)\tCars turned away\tRemark
05/01/2026\t22,4\t11\t
12/01/2026\t20,6\t9\tfog
19/01/2026\t21,9\t12\t
26/01/2026\ttwelve\t8\t
02/02/2026\t22,8\t10\t
09/02/2026\t23,1\t14\tgale
16/02/2026\t21,2\t9\t
23/02/2026\t20,1\t7\t
02/03/2026\t22,2\t10\t
Total\t196,7\t90\t"""


def newer_weeks() -> str:
    """The weeks of vehicles left behind, one counted anew and one more."""
    lines = (DATA / "vehicles-left-behind.csv").read_text().splitlines()
    lines[-5] = lines[-5].rsplit(",", 1)[0] + ",9"
    quays = (("Marrowick", 5), ("Ainsey", 2), ("Holmsand", 4))
    return "\n".join([*lines, *(f"2026-11-16,{quay},{count}" for quay, count in quays)])


def read_table(page: Page, address: str, table: str) -> None:
    """Paste a table and wait for the chart it makes."""
    page.goto(address)
    page.get_by_label("Paste the table here").fill(table)
    page.get_by_role("button", name="Read this table").click()
    page.locator("[data-line=average]").wait_for()
    page.get_by_role("link", name="Passengers a day").wait_for()
    page.wait_for_timeout(700)


def page_of(browser: Browser, address: str, *, scheme: str = "light", width: int = 1280) -> Page:
    """Open the demo on a page of its own."""
    context = browser.new_context(
        base_url=address,
        viewport={"width": width, "height": 800 if width > 600 else 844},
        color_scheme=scheme,  # type: ignore[arg-type]
        reduced_motion="reduce",
        timezone_id="Europe/London",
        locale="en-GB",
    )
    page = context.new_page()
    page.goto("/")
    page.get_by_role("button", name="Look around").wait_for()
    return page


def enter(page: Page) -> Page:
    """Sign in to the demo and wait for the overview."""
    page.get_by_role("button", name="Look around").click()
    page.locator("[data-row]").first.wait_for()
    page.wait_for_timeout(600)
    return page


def open_chart(page: Page, slug: str) -> Page:
    """Open another chart."""
    page.goto(f"/marrowick/charts/{slug}")
    page.locator("[data-line=average]").wait_for()
    page.wait_for_timeout(600)
    return page


def keep(page: Page, name: str) -> None:
    """Write the picture."""
    page.screenshot(path=FOLDER / f"{name}.png")


def show_others(page: Page) -> None:
    """Picture a meeting that is built up, a report, and what waits for a person."""
    page.goto("/marrowick/meeting?kpi=turnaround-at-quay")
    page.locator("[data-line=average]").wait_for()
    page.keyboard.press("u")
    for _ in range(3):
        page.wait_for_timeout(500)
        page.keyboard.press("ArrowRight")
    page.wait_for_timeout(600)
    keep(page, "meeting")
    open_chart(page, "turnaround-at-quay")
    page.get_by_role("button", name="Hand over").click()
    page.get_by_role("menuitem", name="Report, slides").click()
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("link", name="Take the PDF").wait_for(timeout=60_000)
    page.wait_for_timeout(2000)
    keep(page, "report")
    page.goto("/marrowick/fill-in")
    fields = page.locator("input[data-due]")
    fields.nth(0).fill("61")
    fields.nth(1).fill("42")
    page.get_by_text("Within its limits").wait_for()
    page.wait_for_timeout(600)
    keep(page, "fill-in")


def lay_over(page: Page) -> None:
    """Picture lines and a band on a chart."""
    open_chart(page, "galley-waste")
    for made, times in (("Mean", "0.9"), ("Mean", "1.25"), ("Moving average", None)):
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_role("menuitem", name="A line").click()
        card = page.get_by_role("dialog", name="Line")
        card.get_by_role("combobox", name="Made from").click()
        card.get_by_role("option", name=made, exact=True).click()
        if times:
            card.get_by_label("Times").fill(times)
        page.wait_for_timeout(700)
        card.get_by_role("button", name="Add line").click()
        card.wait_for(state="hidden")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name="A band between two lines").click()
    page.get_by_role("button", name="Add band").click()
    page.locator("[data-band]").wait_for()
    page.wait_for_timeout(600)
    keep(page, "context")
    for _ in range(4):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(900)


def side_by_side(page: Page) -> None:
    """Picture the overview with its hairline, comparisons, and a page."""
    strip = page.locator("[data-at='4'] [role=img]").bounding_box()
    assert strip, "the overview has strips"
    page.mouse.move(strip["x"] + strip["width"] * 0.86, strip["y"] + 20)
    page.wait_for_timeout(300)
    keep(page, "overview")
    for name, way in (
        ("parts", "parts?kpi=vehicles-left-behind"),
        ("places", "places?kpi=vehicles-left-behind"),
    ):
        page.goto(f"/marrowick/compare/{way}")
        page.get_by_role("main").get_by_role("img").first.wait_for()
        page.wait_for_timeout(1200)
        keep(page, name)
    page.goto("/marrowick/pages")
    page.get_by_role("link", name="Monday at the quays").click()
    page.locator("[data-part=points]").nth(1).wait_for()
    page.wait_for_timeout(900)
    keep(page, "page")


def judge(page: Page) -> None:
    """Picture findings, what made one, and what was done about others."""
    open_chart(page, "turnaround-at-quay")
    page.get_by_role("button", name="Open the finding Above the upper limit").click()
    page.get_by_role("complementary", name="Finding").get_by_text("Why it is flagged").wait_for()
    page.evaluate("window.scrollTo(0, 0)")
    page.wait_for_timeout(600)
    keep(page, "finding")
    open_chart(page, "no-shows-of-bookings")
    page.get_by_role("button", name="What made it").first.click()
    page.get_by_role("region", name="What made 28 Sep").wait_for()
    page.evaluate("window.scrollTo(0, 330)")
    page.wait_for_timeout(600)
    keep(page, "what-made-it")
    page.goto("/marrowick/improvements")
    page.get_by_role("article", name="Ramp drill").wait_for()
    page.wait_for_timeout(600)
    keep(page, "improvements")
    page.goto("/marrowick/findings")
    rows = page.get_by_role("list", name="Findings").get_by_role("button")
    rows.filter(has_text="Fuel per crossing").first.click()
    page.wait_for_timeout(900)
    keep(page, "findings")


def feed_itself(page: Page) -> None:
    """Show the feeds of the demo, and what one hears of."""
    page.goto("/marrowick/data")
    page.get_by_role("link", name="Weekly figures").click()
    page.get_by_role("button", name="Fetch now").click()
    page.get_by_text("by hand").first.wait_for()
    page.goto("/marrowick/data")
    page.wait_for_timeout(1200)
    keep(page, "feeds")
    page.goto("/marrowick/messages")
    page.get_by_text("Next: Mon").wait_for()
    keep(page, "messages")


def main(address: str) -> None:
    """Write all pictures."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=CHROMIUM.split()
        )
        page = page_of(browser, address)
        side_by_side(enter(page))
        keep(open_chart(page, "turnaround-at-quay"), "chart")
        judge(page)
        lay_over(page)
        open_chart(page, "unplanned-stops")
        page.get_by_role("button", name="Perhaps a shift from 14 Sep. Open.").click()
        page.get_by_role("button", name="Review this shift").click()
        page.wait_for_timeout(900)
        keep(page, "shift")
        page.keyboard.press("Escape")
        read_table(page, "/marrowick/new", TABLE)
        keep(page, "new-kpi")
        read_table(page, "/marrowick/charts/vehicles-left-behind/add", newer_weeks())
        keep(page, "add-data")
        page.goto("/marrowick/charts/turnaround-at-quay/values")
        page.wait_for_timeout(1200)
        keep(page, "values")
        feed_itself(page)
        # Last, since it leaves a report behind.
        show_others(page)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8421")
