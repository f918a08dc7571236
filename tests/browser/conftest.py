"""The real interface: the built application, served, in Debian's Chromium."""

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect
from pytest_django.live_server_helper import LiveServer

from fluctus.kpis.models import Kpi
from tests.demo_database import SIGNED_IN

# The page runs its own event loop, which Django takes for asynchronous code.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

POLICY = "Content Security Policy"

# More tests run at once than there are processors: what is waited for may be long in coming.
expect.set_options(timeout=20_000)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    quiet = (
        "--no-sandbox --disable-gpu --disable-dev-shm-usage --disable-quic --no-first-run "
        "--disable-background-networking --disable-component-update --disable-sync"
    )
    return browser_type_launch_args | {
        "executable_path": "/usr/bin/chromium",
        "args": quiet.split(),
    }


@pytest.fixture
def page(browser: Browser, live_server: LiveServer, settings: Any) -> Iterator[Page]:
    """A page of its own at 1280x800; a script error on it, or what its policy refuses, fails it."""
    settings.SITE_ADDRESS = live_server.url
    context: BrowserContext = browser.new_context(
        base_url=live_server.url,
        viewport={"width": 1280, "height": 800},
        reduced_motion="reduce",
        timezone_id="Europe/London",
        locale="en-GB",
    )
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on("console", lambda said: errors.append(said.text) if POLICY in said.text else None)
    yield page
    context.close()
    assert errors == []


@pytest.fixture
def demo(filled_with_demo: None, page: Page, live_server: LiveServer) -> Page:
    """The demo workspace as its person sees it, with turnaround open."""
    page.context.add_cookies(
        [{"name": "sessionid", "value": SIGNED_IN, "url": live_server.url, "httpOnly": True}]
    )
    page.goto("/marrowick/charts/turnaround-at-quay")
    expect(page.get_by_role("heading", name="Turnaround at quay")).to_be_visible()
    expect(tag(page, "average")).to_be_visible()
    return page


@contextmanager
def another_window(
    browser: Browser, live_server: LiveServer, page: Page, width: int = 1280
) -> Iterator[Page]:
    """A second window of the same person; a narrow one is a phone's, and pressed by a finger."""
    phone = width < 600
    context = browser.new_context(
        base_url=live_server.url,
        viewport={"width": width, "height": 844 if phone else 800},
        storage_state=page.context.storage_state(),
        reduced_motion="reduce",
        has_touch=phone,
        is_mobile=phone,
    )
    yield context.new_page()
    context.close()


def set_up(page: Page, what: str) -> None:
    """Open one of the cards in which a KPI is set up, from the menu of its chart."""
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name=what).click()


def tag(page: Page, line: str) -> Any:
    """The tag of a line at the right edge of the chart."""
    return page.locator(f'[data-line="{line}"]')


def tag_value(page: Page, line: str) -> float:
    """The number on a line's tag."""
    return float((tag(page, line).locator("text").last.text_content() or "").replace(",", ""))


def revision_of(kpi: str) -> int:
    """How often a chart has been changed."""
    return Kpi.objects.get(slug=kpi).revision


def open_kpi(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="KPIs").get_by_role("link", name=name).click()
    expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()
    expect(tag(page, "average")).to_be_visible()


def choose(page: Page, *keys: str) -> None:
    """Walk the points of the chart with keys."""
    page.get_by_role("application").focus()
    for key in keys:
        page.keyboard.press(key)


@pytest.fixture
def accessible() -> Callable[[Page], None]:
    """Asserts that axe finds nothing serious on a page."""

    def check(page: Page) -> None:
        found = Axe().run(page).response["violations"]
        serious = [
            (one["id"], [node["html"][:160] for node in one["nodes"]][:3])
            for one in found
            if one["impact"] in ("serious", "critical")
        ]
        assert serious == []

    return check


def notice(page: Page, text: str) -> Locator:
    return page.get_by_role("alert").filter(has_text=text).last
