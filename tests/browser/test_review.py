"""The shift review: by mouse to new limits, by keyboard alone to kept ones, and reopened."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from fluctus.kpis.models import Kpi, Segment
from tests.browser.conftest import tag_value


@pytest.fixture
def stops(demo: Page) -> Page:
    demo.get_by_role("link", name="Unplanned stops").click()
    expect(demo.get_by_text("Something changed around 14 Sep.")).to_be_visible()
    return demo


def test_a_whole_review_by_mouse(stops: Page, accessible: Callable[[Page], None]) -> None:
    stops.get_by_role("button", name="Show Run of 9 above average").click()
    stops.get_by_role("button", name="Put a shift at this point").click()
    form = stops.get_by_role("form", name="Process shift")
    expect(form).to_contain_text("9 weeks so far")
    expect(form.get_by_role("row", name="Average")).to_contain_text("2.69")
    expect(form.get_by_role("row", name="Average")).to_contain_text("4.44")
    expect(form).to_contain_text("9 weeks give provisional limits")
    for question in range(4):
        form.get_by_role("group").nth(question).get_by_role("button", name="Yes").click()
    expect(form.get_by_role("status")).to_have_text("All four speak for recalculating from here.")
    accessible(stops)
    form.get_by_label("First period of the shift").fill("2026-09-21")
    expect(form).to_contain_text("8 weeks so far")
    form.get_by_label("First period of the shift").fill("2026-09-14")
    expect(form).to_contain_text("9 weeks so far")
    form.get_by_label("Name of the new segment").fill("Fewer engineers")
    form.get_by_label("What changed").fill("Two posts not filled.")
    form.get_by_role("button", name="Recalculate from 14 Sep").click()
    expect(form).to_have_count(0)
    assert tag_value(stops, "average") == 4.44
    kept = Segment.objects.get(name="Fewer engineers")
    assert set(kept.review.values()) == {"yes"}
    assert kept.what_changed == "Two posts not filled."
    # It can be read again, and an answer changed.
    stops.get_by_role("button", name="Fewer engineers").first.click()
    card = stops.get_by_role("dialog", name="Segment")
    card.get_by_text("The review of this shift").click()
    expect(card.get_by_text("All four speak for recalculating from here.")).to_be_visible()
    last = card.get_by_role("group", name="Is it meant to last?")
    last.get_by_role("button", name="No", exact=True).click()
    card.get_by_role("button", name="Save segment").click()
    expect(card).to_have_count(0)
    assert Segment.objects.get(name="Fewer engineers").review["lasting"] == "no"


def test_a_review_by_keyboard_alone_that_keeps_the_limits(stops: Page) -> None:
    before = tag_value(stops, "average")
    stops.get_by_role("application").focus()
    stops.keyboard.press("End")
    stops.keyboard.press(",")
    stops.keyboard.press("r")
    form = stops.get_by_role("form", name="Process shift")
    expect(form).to_contain_text("14 Sep 2026")
    last = form.get_by_role("group", name="Is it meant to last?")
    last.get_by_role("button", name="No", exact=True).press("Enter")
    expect(form.get_by_role("status")).to_contain_text("What does not last is no new process")
    form.get_by_role("button", name="Keep limits").press("Enter")
    record = form.get_by_role("button", name="Record that the limits stay")
    expect(record).to_be_disabled()
    form.get_by_label("Why the limits are kept").press_sequentially("Two engineers on leave")
    record.press("Enter")
    expect(form).to_have_count(0)
    assert tag_value(stops, "average") == before
    expect(stops.get_by_text("Something changed around 14 Sep.")).to_have_count(0)
    (decided,) = Kpi.objects.get(slug="unplanned-stops").kept_limits
    assert decided == {
        "period": "2026-09-14",
        "reason": "Two engineers on leave",
        "review": {"lasting": "no"},
    }
    stops.reload()
    expect(stops.get_by_role("heading", name="Limits kept at 14 Sep")).to_be_visible()
    stops.get_by_role("button", name="Reopen the review").press("Enter")
    expect(form.get_by_label("What changed")).to_have_value("Two engineers on leave")
    form.get_by_role("button", name="Recalculate from 14 Sep").press("Enter")
    expect(form).to_have_count(0)
    assert Kpi.objects.get(slug="unplanned-stops").kept_limits == []
    assert tag_value(stops, "average") == 4.44
