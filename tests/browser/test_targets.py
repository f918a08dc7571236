"""What is pressed is large enough, by a mouse and a finger; nothing is wider than a phone."""

import pytest
from playwright.sync_api import Browser, Page
from pytest_django.live_server_helper import LiveServer

from tests.browser.conftest import another_window

SCREENS = (
    "",
    "charts/turnaround-at-quay",
    "charts/turnaround-at-quay/values",
    "charts/turnaround-at-quay/history",
    "findings",
    "fill-in",
    "events",
    "compare/parts?kpi=vehicles-left-behind",
    "pages",
    "improvements",
    "for-you",
    "data",
    "new",
    "reports",
    "messages",
    "people",
    "links",
    "tokens",
    "account",
    "meeting?kpi=turnaround-at-quay",
)
SMALL = """(least) => [...document.querySelectorAll(
    'a[href], button, input, select, textarea, summary, [role=button], [role=slider]'
)].flatMap((each) => {
    const box = each.getBoundingClientRect()
    const style = getComputedStyle(each)
    const unseen = box.width < 2 || box.height < 2 || style.visibility === 'hidden' ||
        style.opacity === '0' || each.closest('.unseen, [inert]') || box.bottom < 0
    // A link in a sentence is as high as its line; parts of a drawing stand as close as its points.
    const within = each.tagName === 'A' && style.display === 'inline'
    if (unseen || within || (least > 24 && each.closest('svg'))) return []
    const around = getComputedStyle(each, '::before')
    const [wide, high] = ['width', 'height'].map((side) => Math.max(
        box[side], around.position === 'absolute' ? parseFloat(around[side]) || 0 : 0))
    return wide < least - 0.6 || high < least - 0.6
        ? [`${each.tagName} ${each.getAttribute('aria-label') ?? each.textContent} ${wide}x${high}`]
        : []
})"""


@pytest.mark.parametrize(("width", "least"), [(1280, 24), (390, 44)])
def test_what_is_pressed_is_large_enough(
    demo: Page, browser: Browser, live_server: LiveServer, width: int, least: int
) -> None:
    small: dict[str, list[str]] = {}
    with another_window(browser, live_server, demo, width) as page:
        for screen in SCREENS:
            page.goto(f"/marrowick/{screen}")
            page.locator("main h1").first.wait_for()
            page.wait_for_load_state("networkidle")
            found = page.evaluate(SMALL, least)
            if found:
                small[screen] = found
            assert page.evaluate("document.documentElement.scrollWidth") <= width, screen
    assert not small, "\n".join(f"{screen}: {each}" for screen, each in small.items())
