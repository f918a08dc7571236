"""Refreshes docs/screenshots from a running application that holds the untouched demo.

``script/start`` in one terminal, ``.venv/bin/python -m demo.screenshots`` in another.
"""

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
CHROMIUM = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking"
)
TABLE = """Week\tGangway turnaround (min)
2026-01-05\t22.4
2026-01-12\t20.6
2026-01-19\t21.9
2026-01-26\ttwelve
2026-02-02\t22.8
2026-02-09\t23.1
2026-02-16\t21.2
2026-02-23\t20.1
2026-03-02\t22.2"""


def page_of(browser: Browser, address: str, *, scheme: str = "light", width: int = 1280) -> Page:
    """Open the demo on a page of its own."""
    context = browser.new_context(
        base_url=address,
        viewport={"width": width, "height": 800 if width > 600 else 844},
        color_scheme=scheme,  # type: ignore[arg-type]
        reduced_motion="reduce",
        timezone_id="Europe/London",
    )
    page = context.new_page()
    page.goto("/")
    page.get_by_role("button", name="Look around").wait_for()
    return page


def enter(page: Page) -> Page:
    """Sign in to the demo and wait for its first chart."""
    page.get_by_role("button", name="Look around").click()
    page.locator("[data-line=average]").wait_for()
    page.wait_for_timeout(400)
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


def main(address: str) -> None:
    """Write all pictures."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=CHROMIUM.split()
        )
        page = page_of(browser, address)
        keep(page, "sign-in")
        keep(enter(page), "chart")
        page.get_by_role("button", name="Show Above the upper limit").click()
        page.wait_for_timeout(300)
        keep(page, "readout")
        open_chart(page, "unplanned-stops")
        page.get_by_role("button", name="Show Run of 9 above average").click()
        page.get_by_role("button", name="Put a shift at this point").click()
        page.wait_for_timeout(900)
        keep(page, "shift")
        page.keyboard.press("Escape")
        keep(open_chart(page, "gate-cycle"), "long-chart")
        page.goto("/marrowick/new")
        page.get_by_label("Paste the table here").fill(TABLE)
        page.locator("[data-line=average]").wait_for()
        page.set_viewport_size({"width": 1280, "height": 1150})
        page.wait_for_timeout(600)
        keep(page, "new-kpi")
        keep(enter(page_of(browser, address, scheme="dark")), "dark")
        keep(enter(page_of(browser, address, width=390)), "phone")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8421")
