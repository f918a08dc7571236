"""People: somebody is invited, joins, looks and adjusts for themselves, and cannot save it."""

import re
from collections.abc import Callable
from typing import Any

import pyotp
import pytest
from django.contrib.auth.models import User
from playwright.sync_api import Browser, Page, expect
from pytest_django.live_server_helper import LiveServer

from demo.staff_directory.directory import Directory
from fluctus.accounts.models import Membership
from tests.browser.conftest import revision_of, tag
from tests.directory import directory
from tests.jobs import work

__all__ = ["directory"]
Accessible = Callable[[Page], None]


@pytest.fixture(autouse=True)
def mailbox(settings: Any) -> None:
    """Letters go where they go in the demo; pytest-django keeps them elsewhere."""
    settings.EMAIL_BACKEND = "demo.mailbox.backend.MailboxBackend"


def go(page: Page, place: str) -> None:
    page.get_by_role("button", name="Account and appearance").click()
    page.get_by_role("menuitem", name=place).click()


def invite(demo: Page, accessible: Accessible) -> str:
    """Invite Mairi as viewer; returns the address in her letter."""
    go(demo, "People")
    demo.get_by_label("Invite by mail").fill("mairi@marrowick.example")
    accessible(demo)
    demo.get_by_role("button", name="Invite", exact=True).click()
    expect(demo.get_by_text("A letter is on its way to mairi@marrowick.example")).to_be_visible()
    expect(demo.get_by_role("table", name="Record")).to_contain_text(
        "Invited mairi@marrowick.example as viewer"
    )
    # The letter is in the demo's mailbox.
    go(demo, "Mailbox of the demo")
    letter = demo.get_by_role("article").filter(has_text="to mairi@marrowick.example")
    address = letter.get_by_role("link").get_attribute("href") or ""
    assert "/join#" in address
    return address


def join(guest: Page, address: str, accessible: Accessible) -> None:
    """Follow an invitation and make an account, after a password that does not hold."""
    guest.goto(address)
    expect(guest.get_by_role("heading", name="Join Marrowick Ferries")).to_be_visible()
    accessible(guest)
    guest.get_by_label("Your name, as others see it").fill("Mairi Sloan")
    guest.get_by_label("Name to sign in with").fill("mairi")
    guest.get_by_role("textbox", name="Password").fill("mairi")
    guest.get_by_role("button", name="Join").click()
    expect(guest.get_by_role("alert")).to_contain_text("too short")
    guest.get_by_role("textbox", name="Password").fill("ferry in the fog")
    guest.get_by_role("button", name="Join").click()
    expect(guest.get_by_role("heading", name="Overview")).to_be_visible()
    assert Membership.objects.get(person__username="mairi").role == "viewer"


def test_an_invited_viewer_slides_a_moving_average_and_cannot_save_it(
    demo: Page, browser: Browser, accessible: Accessible
) -> None:
    guest = browser.new_context(
        viewport={"width": 1280, "height": 800}, reduced_motion="reduce"
    ).new_page()
    join(guest, invite(demo, accessible), accessible)
    # What she may not do is not offered.
    rail = guest.get_by_role("navigation", name="KPIs")
    expect(rail.get_by_role("link", name="New KPI")).to_have_count(0)
    rail.get_by_role("link", name=re.compile("^Turnaround at quay")).click()
    expect(tag(guest, "average")).to_be_visible()
    for name in ("Add data", "Undo"):
        expect(guest.get_by_role("link", name=name)).to_have_count(0)
    before = revision_of("turnaround-at-quay")

    guest.get_by_role("application").focus()
    guest.keyboard.press("l")
    guest.get_by_role("combobox", name="Made from").click()
    guest.get_by_role("option", name="Moving average", exact=True).click()
    slider = guest.get_by_role("slider", name="Of the last")
    slider.focus()
    for _ in range(3):
        guest.keyboard.press("ArrowRight")
    expect(guest.get_by_role("status").filter(has_text="of the last")).to_be_visible()
    guest.get_by_role("button", name="Add line").click()
    bar = guest.get_by_role("form", name="Trial")
    expect(bar).to_contain_text("Only on your screen")
    expect(bar.get_by_role("button", name=re.compile("Keep"))).to_have_count(0)
    expect(guest.locator('[data-line^="line "]')).to_have_count(1)
    assert revision_of("turnaround-at-quay") == before
    bar.get_by_role("button", name="Discard").click()
    expect(bar).to_have_count(0)
    guest.context.close()

    # Taken out again, she sees nothing of it.
    go(demo, "People")
    demo.get_by_role("button", name="Remove Mairi Sloan").click()
    demo.get_by_role("dialog").get_by_role("button", name="Remove Mairi Sloan").click()
    expect(demo.get_by_role("button", name="Remove Mairi Sloan")).to_have_count(0)
    assert not Membership.objects.filter(person__username="mairi").exists()


def test_staff_sign_in_through_their_directory(
    demo: Page,
    browser: Browser,
    live_server: LiveServer,
    directory: Directory,
    accessible: Accessible,
) -> None:
    """Connected from the account, taken with an invitation, refused to who is not known here."""
    rhona = User.objects.get(username="demo-rhona")
    rhona.set_password("a calm crossing home")
    rhona.save()
    guest = browser.new_context(base_url=live_server.url, reduced_motion="reduce").new_page()
    guest.goto("/marrowick/findings")
    through = guest.get_by_role("button", name="Sign in through the Marrowick staff directory")
    expect(through).to_be_visible()
    accessible(guest)
    guest.get_by_label("Name", exact=True).fill("demo-rhona")
    guest.get_by_role("textbox", name="Password").fill("a calm crossing home")
    guest.get_by_role("button", name="Sign in", exact=True).click()
    heading = guest.get_by_role("heading", name="Findings", level=1)
    expect(heading).to_be_visible()
    guest.goto("/marrowick/account")
    guest.get_by_role("button", name="Connect with the Marrowick staff directory").click()
    guest.get_by_role("link", name="Rhona Baird").click()
    expect(guest.get_by_text("as rhona@marrowick.example, since")).to_be_visible()
    accessible(guest)
    go(guest, "Sign out")

    through.click()
    guest.get_by_role("link", name="Ewan Munro").click()
    said = guest.get_by_role("alert").filter(has_text="Nobody here signs in as ewan@")
    expect(said).to_be_visible()
    guest.goto("/marrowick/findings")
    through.click()
    guest.get_by_role("link", name="Rhona Baird").click()
    # Where she wanted to be.
    expect(heading).to_be_visible()
    guest.context.close()

    newcomer = browser.new_context(base_url=live_server.url, reduced_motion="reduce").new_page()
    newcomer.goto(invite(demo, accessible))
    newcomer.get_by_role("button", name="Join through the Marrowick staff directory").click()
    newcomer.get_by_role("link", name="Morag Sinclair").click()
    expect(newcomer.get_by_role("heading", name="Overview")).to_be_visible()
    newcomer.goto("/marrowick/account")
    # Nobody is asked for a password that they do not have.
    expect(newcomer.get_by_role("button", name="Say again who you are")).to_be_visible()
    expect(newcomer.get_by_label("Your password now")).to_have_count(0)
    newcomer.context.close()


def set_up_device(page: Page, accessible: Accessible) -> str:
    """Switch a second step on by what the page shows; returns one of the codes for later."""
    page.get_by_role("button", name="Set it up").click()
    dialog = page.get_by_role("dialog", name="Set up your device")
    expect(dialog.get_by_role("img", name="The secret")).to_be_visible()
    accessible(page)
    secret = dialog.get_by_role("code").inner_text().replace(" ", "")
    dialog.get_by_label("Code").fill(pyotp.TOTP(secret).now())
    dialog.get_by_role("button", name="Switch it on").click()
    kept = page.get_by_role("dialog", name="Keep these codes").get_by_role("code").inner_text()
    accessible(page)
    page.get_by_role("button", name="I have kept them").click()
    expect(page.get_by_text("10 recovery codes left.")).to_be_visible()
    return kept.split()[0]


def sign_in_with(page: Page, code: str, accessible: Accessible) -> None:
    """Sign out and in again, with the password and then a code."""
    go(page, "Sign out")
    page.get_by_label("Name", exact=True).fill("demo-rhona")
    page.get_by_role("textbox", name="Password").fill("a calm crossing home")
    page.get_by_role("button", name="Sign in", exact=True).click()
    expect(page.get_by_role("heading", name="One more step")).to_be_visible()
    accessible(page)
    # Whoever reloads has the second step before them still.
    page.reload()
    page.get_by_label("Code").fill(code)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Overview")).to_be_visible()


def test_a_forgotten_password_and_the_account(
    demo: Page, browser: Browser, live_server: LiveServer, accessible: Accessible
) -> None:
    rhona = User.objects.get(username="demo-rhona")
    rhona.set_password("the words of rhona")
    rhona.save()
    guest = browser.new_context(base_url=live_server.url, reduced_motion="reduce").new_page()
    guest.goto("/")
    guest.get_by_role("link", name="I have forgotten my password").click()
    guest.get_by_label("Name or mail address").fill("rhona@marrowick.example")
    guest.get_by_role("button", name="Send a letter").click()
    expect(guest.get_by_role("status").filter(has_text="a letter is on its way")).to_be_visible()
    work()
    demo.goto("/marrowick/mailbox")
    link = demo.get_by_role("article").filter(has_text="rhona@").get_by_role("link")
    guest.goto(link.get_attribute("href") or "")
    guest.get_by_role("textbox", name="New password").fill("a calm crossing home")
    guest.get_by_role("button", name="Set the password").click()
    guest.get_by_role("link", name="Sign in with it").click()
    guest.get_by_label("Name", exact=True).fill("demo-rhona")
    guest.get_by_role("textbox", name="Password").fill("a calm crossing home")
    guest.get_by_role("button", name="Sign in", exact=True).click()
    expect(guest.get_by_role("heading", name="Overview")).to_be_visible()
    guest.goto("/marrowick/account")
    expect(guest.get_by_role("table", name="Browsers")).to_contain_text("(this one)")
    accessible(guest)
    secret = set_up_device(guest, accessible)
    sign_in_with(guest, secret, accessible)
    guest.goto("/marrowick/tokens")
    guest.get_by_label("What is it for?").fill("Ramp meter")
    guest.get_by_role("button", name="Make a token").click()
    expect(guest.get_by_role("table", name="Tokens")).to_contain_text("not yet")
    accessible(guest)
    guest.goto("/marrowick/people")
    expect(guest.get_by_text("You are editor here.")).to_be_visible()
    guest.context.close()
