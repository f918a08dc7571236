"""The weekly ten minutes: by keys, by hand on a phone, without a line, and two at once."""

import re
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.contrib.auth.models import User
from playwright.sync_api import Locator, Page, expect

from fluctus.findings.models import Finding
from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, csv_of, join, ok

WEEKS = [20.0 + number * 7 % 5 for number in range(30)]
TODAY = datetime.now(ZoneInfo("Europe/London")).date()
LAST_MONDAY = TODAY - timedelta(days=TODAY.weekday(), weeks=1)
"""The first day of the newest week that is over."""
NAMES = ("Berths used", "Crossing time", "Deck wash", "Lost property")


@pytest.fixture
def due(demo: Page) -> Page:
    """The demo with four KPIs before all others, of which the newest week is due."""
    api = Api(User.objects.get(username="demo"), "marrowick")
    start = str(LAST_MONDAY - timedelta(weeks=len(WEEKS)))
    for name in NAMES:
        details = {"name": name, "group": "A quay", "unit": "min"}
        made = api.bring_in(csv_of(WEEKS, start), details, grain="week")
        assert made.status_code == 201, made.content
    demo.goto("/marrowick/fill-in")
    expect(field(demo, "Crossing time")).to_be_visible()
    return demo


def field(page: Page, name: str) -> Locator:
    return page.get_by_role("textbox", name=re.compile(f"^{name}, Week of"))


def newest(name: str) -> Observation | None:
    return Observation.objects.filter(kpi__name=name, period__date__gte=LAST_MONDAY).first()


def value_of(name: str) -> float | None:
    found = newest(name)
    return None if found is None else found.value


def test_values_are_typed_by_keys_judged_saved_as_one_and_taken_back(
    due: Page, accessible: Callable[[Page], None]
) -> None:
    field(due, "Berths used").focus()
    due.keyboard.type("22.5")
    row = due.get_by_role("listitem").filter(has=field(due, "Berths used"))
    expect(row.get_by_text("Within its limits")).to_be_visible()
    due.keyboard.press("Enter")
    expect(field(due, "Crossing time")).to_be_focused()
    due.keyboard.type("39")
    row = due.get_by_role("listitem").filter(has=field(due, "Crossing time"))
    expect(row.get_by_text("Above the upper limit, 28.3")).to_be_visible()
    accessible(due)
    # What is asked for comes before the next value.
    due.keyboard.press("Enter")
    expect(row.get_by_label("What happened?")).to_be_focused()
    due.keyboard.type("fog on Tuesday")
    due.keyboard.press("Enter")
    expect(field(due, "Deck wash")).to_be_focused()
    due.keyboard.type("nonsense")
    expect(due.get_by_text("Not a number")).to_be_visible()
    due.keyboard.press("Control+Enter")
    expect(due.get_by_text("2 values saved.")).to_be_visible()
    # What could not be read stays where it was typed.
    expect(field(due, "Berths used")).to_have_count(0)
    expect(field(due, "Deck wash")).to_have_value("nonsense")
    saved = newest("Crossing time")
    assert saved is not None
    assert (saved.value, saved.note, value_of("Deck wash")) == (39.0, "fog on Tuesday", None)
    assert Finding.objects.get(kpi__name="Crossing time", cause="fog on Tuesday")
    due.get_by_role("button", name="Undo").click()
    expect(field(due, "Berths used")).to_be_visible()
    assert (value_of("Berths used"), value_of("Crossing time")) == (None, None)


def test_a_column_is_pasted_and_what_has_no_row_is_told(due: Page) -> None:
    field(due, "Berths used").focus()
    due.evaluate(
        """() => {
          const data = new DataTransfer()
          data.setData('text/plain', '21.5\\tquiet\\n22.5\\n23.5\\n24.5\\n' + '9\\n'.repeat(400))
          document.activeElement.dispatchEvent(
            new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
        }"""
    )
    for name, text in zip(NAMES, ("21.5", "22.5", "23.5", "24.5"), strict=True):
        expect(field(due, name)).to_have_value(text)
    expect(due.get_by_text("of what was pasted found no row")).to_be_visible()


def test_without_a_line_it_is_kept_on_the_device_and_sent_when_it_is_back(due: Page) -> None:
    field(due, "Lost property").fill("21.5")
    due.context.set_offline(True)
    expect(due.get_by_text("No connection: what you type here is kept")).to_be_visible()
    due.get_by_role("button", name=re.compile("^Save 1 value")).click()
    expect(due.get_by_text("Fluctus cannot be reached.").first).to_be_visible()
    assert value_of("Lost property") is None
    due.context.set_offline(False)
    expect(due.get_by_text("1 value saved.")).to_be_visible()
    expect(field(due, "Lost property")).to_have_count(0)
    assert value_of("Lost property") == 21.5
    # What is typed is there after a reload, on this device.
    field(due, "Deck wash").fill("24")
    due.reload()
    expect(field(due, "Deck wash")).to_have_value("24")


def test_who_comes_second_decides_whose_value_stays(due: Page) -> None:
    field(due, "Crossing time").fill("25")
    field(due, "Deck wash").fill("23")
    ewan = Api(join("ewan", "marrowick"), "marrowick")
    theirs = [
        {"kpi": Kpi.objects.get(name=name).slug, "period": str(LAST_MONDAY), "value": 21.0}
        for name in ("Crossing time", "Deck wash")
    ]
    ok(ewan.send("POST", "/fill-in", {"rows": theirs}))
    due.get_by_role("button", name="Save 2 values").click()
    left = due.get_by_role("region", name="Filled in by others meanwhile")
    expect(left.get_by_text("is now 21, written by ewan")).to_have_count(2)
    assert (value_of("Crossing time"), value_of("Deck wash")) == (21.0, 21.0)
    left.get_by_role("listitem").filter(has_text="Deck wash").get_by_role(
        "button", name="Keep theirs"
    ).click()
    left.get_by_role("button", name="Write mine").click()
    due.get_by_role("button", name="Save 1 value").click()
    expect(left).to_have_count(0)
    expect(due.get_by_text("1 value saved.")).to_be_visible()
    assert (value_of("Crossing time"), value_of("Deck wash")) == (25.0, 21.0)


def test_a_phone_has_room_for_it_and_somebody_is_made_to_see_to_it(
    due: Page, accessible: Callable[[Page], None]
) -> None:
    due.set_viewport_size({"width": 390, "height": 800})
    expect(field(due, "Crossing time")).to_be_visible()
    sizes: Any = due.evaluate(
        """() => ({
          wide: document.documentElement.scrollWidth,
          low: [...document.querySelectorAll('main input, main ul button')]
            .map((one) => one.getBoundingClientRect().height).filter((height) => height < 44),
        })"""
    )
    assert sizes["wide"] <= 390
    assert sizes["low"] == []
    accessible(due)
    due.get_by_role("button", name="Who sees to Crossing time").click()
    due.get_by_role("menuitem", name="Isla").click()
    expect(due.get_by_role("button", name="Who sees to Crossing time")).to_contain_text("by Isla")
    assert Kpi.objects.get(name="Crossing time").filled_by is not None
