"""Events in use: on the lane of a chart, in the list of all, and from a calendar file."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from fluctus.kpis.models import Event
from tests.browser.conftest import choose, notice, open_kpi

Accessible = Callable[[Page], None]


def test_an_event_is_added_with_a_key_dragged_and_undone(
    demo: Page, accessible: Accessible
) -> None:
    open_kpi(demo, "Galley waste")
    choose(demo, "End", *["ArrowLeft"] * 6, "e")
    form = demo.get_by_role("dialog", name="Event")
    form.get_by_label("What happened").fill("New supplier")
    form.get_by_text("Change", exact=True).click()
    accessible(demo)
    form.get_by_role("button", name="Add event").click()
    expect(form).to_have_count(0)
    pin = demo.get_by_role("button", name="New supplier, 28 Sep 2026. Open.")
    expect(pin).to_be_visible()
    box = pin.bounding_box()
    assert box is not None
    x, y = box["x"] + 8, box["y"] + 9
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x - 60, y, steps=6)
    demo.mouse.up()
    expect(pin).to_have_count(0)
    moved = demo.get_by_role("button", name=re.compile("New supplier, .* Open"))
    expect(moved).to_be_visible()
    first = Event.objects.get(title="New supplier").first.isoformat()
    assert "2026-08-20" < first < "2026-09-10"
    demo.keyboard.press("Control+z")
    expect(pin).to_be_visible()
    # By keyboard: opened, given a last day, told with another KPI as well.
    pin.press("Enter")
    form.get_by_label("Last day").fill("2026-10-04")
    form.get_by_role("combobox", name="Told with").fill("Fuel")
    demo.get_by_role("option", name="Fuel per crossing").click()
    form.get_by_role("button", name="Save event").click()
    expect(form).to_have_count(0)
    span = "New supplier, 28 Sep 2026 to 4 Oct 2026. Open."
    expect(demo.get_by_role("button", name=span)).to_be_visible()
    open_kpi(demo, "Fuel per crossing")
    expect(demo.get_by_role("button", name=span)).to_be_visible()
    demo.get_by_role("button", name=span).click()
    form.get_by_role("button", name="Remove").click()
    expect(demo.get_by_role("button", name=span)).to_have_count(0)
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name=span)).to_be_visible()


def test_a_calendar_with_a_broken_event_comes_in_without_it(
    demo: Page, accessible: Accessible, tmp_path: Path
) -> None:
    file = tmp_path / "drills.ics"
    file.write_text(
        "BEGIN:VCALENDAR\n"
        "BEGIN:VEVENT\nUID:1\nSUMMARY:Fire drill\nDTSTART;VALUE=DATE:20260302\n"
        "RRULE:FREQ=MONTHLY;COUNT=3\nEND:VEVENT\n"
        "BEGIN:VEVENT\nUID:2\nSUMMARY:Odd\nDTSTART;VALUE=DATE:2026xx05\nEND:VEVENT\n"
        "END:VCALENDAR\n"
    )
    demo.get_by_role("link", name="Events").click()
    # A state is one row, whose times unfold.
    gale = demo.get_by_role("button", name=re.compile(r"Gale warning \d+ times"))
    gale.click()
    times = demo.get_by_role("table", name="Times of Gale warning")
    expect(times.get_by_role("row").nth(1)).to_contain_text("Gale warning")
    accessible(demo)
    gale.press("Enter")
    expect(times).to_have_count(0)
    demo.locator('input[type="file"]').set_input_files(file)
    found = demo.get_by_role("region", name="Calendar file")
    expect(found).to_contain_text("3 new events")
    expect(found).to_contain_text("3 events of these come of repeats")
    expect(found).to_contain_text("Line 8: DTSTART: Wrong date format 2026xx05")
    accessible(demo)
    found.get_by_role("button", name="Bring in those that can be read").click()
    expect(demo.get_by_text("3 events brought in, 0 changed.")).to_be_visible()
    demo.get_by_label("Search the events").fill("drill")
    rows = demo.get_by_role("table", name="Events").get_by_role("row")
    expect(rows.filter(has_text="Fire drill")).to_have_count(3)
    demo.get_by_role("button", name="Take the new ones back").click()
    expect(rows.filter(has_text="Fire drill")).to_have_count(0)


def test_an_event_is_added_in_the_list_changed_removed_and_each_taken_back(
    demo: Page, accessible: Accessible
) -> None:
    demo.get_by_role("link", name="Events").click()
    rows = demo.get_by_role("table", name="Events").get_by_role("row")
    expect(rows.first).to_be_visible()
    demo.keyboard.press("e")
    form = demo.get_by_role("dialog", name="New event")
    form.get_by_label("What happened").fill("Fog at Ainsey")
    accessible(demo)
    first, last = form.get_by_label("First day"), form.get_by_label("Last day")
    first.fill("20/09/2026")
    # By keys to the next day; Escape closes the calendar alone.
    first.press("ArrowDown")
    expect(demo.get_by_role("button", name="20 September 2026")).to_be_focused()
    demo.keyboard.press("ArrowRight")
    demo.keyboard.press("Enter")
    expect(first).to_have_value("21/09/2026")
    expect(first).to_be_focused()
    last.click()
    expect(demo.locator("[data-day-calendar]")).to_be_visible()
    demo.keyboard.press("Escape")
    expect(demo.locator("[data-day-calendar]")).to_have_count(0)
    last.fill("2026-09-22")
    form.get_by_text("Some KPIs").click()
    expect(form.get_by_role("button", name="Add event")).to_be_disabled()
    form.get_by_role("combobox", name="Told with").fill("Dep")
    demo.get_by_role("option", name="Departures on time").click()
    form.get_by_role("button", name="Add event").click()
    expect(form).to_have_count(0)
    fog = rows.filter(has_text="Fog at Ainsey")
    expect(fog).to_contain_text("21 Sep 2026 to 22 Sep 2026")
    expect(fog).to_contain_text("Departures on time")
    notice(demo, "The event is added.").get_by_role("button", name="Undo").click()
    expect(fog).to_have_count(0)
    notice(demo, "The event is removed.").get_by_role("button", name="Undo").click()
    expect(fog).to_have_count(1)
    # Changed, while somebody else has: refused, and as it is now once it is opened again.
    fog.get_by_role("button", name="Fog at Ainsey").press("Enter")
    form = demo.get_by_role("dialog", name="Event")
    Event.objects.filter(title="Fog at Ainsey").update(text="Until noon", version=7)
    form.get_by_text("Incident", exact=True).click()
    form.get_by_role("button", name="Save event").click()
    expect(notice(demo, "This event has changed")).to_contain_text("It is now Fog at Ainsey")
    demo.keyboard.press("Escape")
    expect(fog).to_contain_text("Until noon")
    fog.get_by_role("button", name="Fog at Ainsey").click()
    form.get_by_text("Incident", exact=True).click()
    form.get_by_role("button", name="Save event").click()
    expect(fog).to_contain_text("Incident")
    notice(demo, "The event is saved.").get_by_role("button", name="Undo").click()
    expect(fog).to_contain_text("Note")
    open_kpi(demo, "Departures on time")
    expect(demo.get_by_role("button", name=re.compile("^Fog at Ainsey, 21 Sep"))).to_be_visible()
