"""The manual: opened from where somebody stands, searched, asked for a page that is not there."""

from collections.abc import Callable

from playwright.sync_api import Page, expect


def test_each_screen_opens_its_place_in_the_manual_which_can_be_searched(
    demo: Page, accessible: Callable[[Page], None]
) -> None:
    with demo.expect_popup() as opened:
        demo.get_by_role("link", name="Help for this screen").click()
    manual = opened.value
    expect(manual.get_by_role("heading", name="Read a chart")).to_be_visible()
    accessible(manual)
    # Its pictures are those of the README.
    pages = manual.get_by_role("navigation", name="Pages")
    pages.get_by_role("link", name="Fill in by hand").click()
    expect(manual.get_by_role("heading", name="Fill in by hand", level=1)).to_be_visible()
    pages.get_by_role("link", name="Find out why").click()
    expect(manual.get_by_role("heading", name="Find out why", level=1)).to_be_visible()
    manual.wait_for_load_state("load")
    shown = manual.evaluate(
        "() => [...document.images].every((image) => image.complete && image.naturalWidth > 100)"
    )
    assert shown
    manual.get_by_label("Search").fill("moving range")
    manual.get_by_label("Search").press("Enter")
    found = manual.get_by_role("status").get_by_role("link", name="Words")
    expect(found.first).to_be_visible()
    accessible(manual)
    assert manual.goto("/help/nothing.html").status == 404  # type: ignore[union-attr]
    expect(manual.get_by_role("heading", name="There is no such page")).to_be_visible()
    manual.goto("/help")
    expect(manual.get_by_role("heading", name="Begin", level=1)).to_be_visible()
    manual.set_viewport_size({"width": 360, "height": 740})
    assert manual.evaluate("() => document.documentElement.scrollWidth") <= 360
