"""Context on the chart: lines, bands, averages over time, columns, selections, a fixed axis."""

import re
import statistics
from collections.abc import Callable
from datetime import UTC, datetime

from playwright.sync_api import Locator, Page, expect

from fluctus.accounts.models import Workspace
from fluctus.kpis.calendar import Grain
from fluctus.kpis.models import Kpi, Observation
from tests.browser.conftest import choose, open_kpi, tag, tag_value
from tests.gallery import Shape, hang

Accessible = Callable[[Page], None]
TWELVE = [21.0, 19.5, 22.5, 18.0, 19.5, 20.0, 23.0, 17.5, 19.0, 21.5, 20.5, 30.0]


def twelve_months(page: Page) -> Kpi:
    """Hang twelve made-up months in the demo's workspace and open them."""
    start = datetime(2025, 1, 1, tzinfo=UTC)
    shape = Shape("Crane hours", TWELVE, Grain.MONTH, {"unit": "h"}, start=start)
    kpi = hang(Workspace.objects.get(slug="marrowick"), shape)
    page.goto(f"/marrowick/charts/{kpi.slug}")
    expect(tag(page, "average")).to_be_visible()
    return kpi


def add(page: Page, what: str) -> None:
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_role("menuitem", name=what).click()


def choose_option(card: Locator, label: str, option: str) -> None:
    card.get_by_role("combobox", name=label).click()
    card.get_by_role("option", name=option, exact=True).click()


def line_tag(page: Page, name: str) -> Locator:
    return page.locator('[data-line^="line "]').filter(has_text=name)


def pull(page: Page, start: float, stop: float) -> None:
    """Select over the plot, from one share of its width to another."""
    box = page.locator("[data-part=plot]").bounding_box()
    assert box
    y = box["y"] + 40
    page.mouse.move(box["x"] + box["width"] * start, y)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * (start + stop) / 2, y, steps=4)
    page.mouse.move(box["x"] + box["width"] * stop, y, steps=4)
    page.mouse.up()


def test_what_is_offered_is_added_at_once_and_not_offered_again(
    demo: Page, accessible: Accessible
) -> None:
    kpi = twelve_months(demo)
    demo.get_by_role("button", name="Add", exact=True).click()
    offered = demo.get_by_role("menuitem").filter(has=demo.locator("svg"))
    expect(offered.first).to_be_visible()
    titles = offered.all_inner_texts()
    assert {"Average \N{MULTIPLICATION SIGN} 1.25", "A band of the middle half"} <= set(titles)
    accessible(demo)
    offered.filter(has_text="A band of the middle half").click()
    expect(demo.locator("[data-band]")).to_have_count(1)
    demo.get_by_role("button", name="Add", exact=True).click()
    expect(offered).to_have_count(len(titles) - 1)
    # By keys: the first of the pictures.
    demo.keyboard.press("Home")
    demo.keyboard.press("Enter")
    expect(line_tag(demo, "mean")).to_contain_text("26.3")
    kpi.refresh_from_db()
    assert [line["made"] for line in kpi.lines] == ["percentile", "percentile", "mean"]
    assert [line["hidden"] for line in kpi.lines] == [True, True, False]
    demo.get_by_role("button", name=re.compile("^Undo")).click()
    expect(line_tag(demo, "mean")).to_have_count(0)
    demo.get_by_role("button", name=re.compile("^Undo")).click()
    expect(demo.locator("[data-band]")).to_have_count(0)
    kpi.refresh_from_db()
    assert (kpi.lines, kpi.bands) == ([], [])


def test_an_average_line_and_a_band_up_to_a_quarter_more(
    demo: Page, accessible: Accessible
) -> None:
    kpi = twelve_months(demo)
    mean = statistics.fmean(TWELVE)
    demo.get_by_role("application").focus()
    demo.keyboard.press("l")
    card = demo.get_by_role("dialog", name="Line")
    card.get_by_label("Times").fill("1")
    expect(card.get_by_role("status")).to_have_text(f"Mean of the 12 months shown: {mean:.1f} h")
    card.get_by_role("button", name="Add line").click()
    expect(card).to_have_count(0)
    add(demo, "A line")
    expect(card.get_by_label("Times")).to_have_value("1.25")
    assert mean * 1.25 == 26.25
    expect(card.get_by_role("status")).to_contain_text("26.3 h")
    card.get_by_label("Name").fill("Median plus 20%")
    expect(card.get_by_role("alert")).to_contain_text("The name says median; the line is mean")
    accessible(demo)
    card.get_by_label("Name").fill("Watch")
    card.get_by_role("button", name="Add line").click()
    expect(card).to_have_count(0)
    expect(line_tag(demo, "Watch")).to_contain_text("26.3")
    add(demo, "A band between two lines")
    band = demo.get_by_role("dialog", name="Band")
    band.get_by_role("button", name="Add band").click()
    expect(demo.locator("[data-band]")).to_have_count(1)
    # Hidden, both lines leave the band between them.
    line_tag(demo, "Watch").click()
    card.get_by_role("button", name="Hide").click()
    expect(line_tag(demo, "Watch")).to_have_count(0)
    expect(demo.locator("[data-band]")).to_have_count(1)
    demo.get_by_role("button", name=re.compile("^Undo")).click()
    expect(line_tag(demo, "Watch")).to_be_visible()
    kpi.refresh_from_db()
    assert [line["factor"] for line in kpi.lines] == [1, 1.25]


def test_a_constant_is_questioned_pointed_to_and_pulled(demo: Page) -> None:
    kpi = twelve_months(demo)
    add(demo, "A line")
    card = demo.get_by_role("dialog", name="Line")
    choose_option(card, "Made from", "Constant")
    card.get_by_label("Level, h").fill("220")
    expect(card.get_by_role("alert")).to_contain_text("Did you mean 22.0")
    card.get_by_role("button", name="Add line").click()
    expect(card).to_have_count(0)
    edge = demo.get_by_role("button", name=re.compile("is above what is shown"))
    expect(edge).to_be_visible()
    edge.click()
    far = line_tag(demo, "Constant")
    expect(far).to_be_visible()
    far.click()
    card.get_by_label("Level, h").fill("25")
    card.get_by_role("button", name="Save line").click()
    expect(card).to_have_count(0)
    expect(line_tag(demo, "Constant")).to_contain_text("25.0")
    box = line_tag(demo, "Constant").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y + 30, steps=5)
    demo.mouse.up()
    expect(demo.get_by_role("button", name=re.compile("^Undo: Changed a line"))).to_be_visible()
    expect(line_tag(demo, "Constant")).not_to_contain_text("25.0")
    kpi.refresh_from_db()
    assert 17 < kpi.lines[0]["number"] < 25


def test_a_target_range_with_the_outliers_alone_labeled(demo: Page) -> None:
    twelve_months(demo)
    add(demo, "A target")
    card = demo.get_by_role("dialog", name="Target")
    card.get_by_label("Target, h").fill("17")
    card.get_by_label("Up to, where it is a range").fill("16")
    expect(card.get_by_text("Has to be above the target.")).to_be_visible()
    card.get_by_label("Up to, where it is a range").fill("24")
    card.get_by_role("button", name="Save target").click()
    expect(demo.get_by_role("button", name="Target 17.0 to 24.0 h")).to_be_visible()
    demo.get_by_role("button", name="Axis: how values are drawn").click()
    axis = demo.get_by_role("dialog", name="How values are drawn")
    choose_option(axis, "Values that are labeled", "Those outside the target")
    axis.get_by_role("button", name="Save").click()
    expect(demo.locator('[data-part="beyond"]')).to_have_count(1)
    expect(demo.locator('[data-part="labels"] text')).to_have_text(["30.0"])


def test_a_moving_average_is_slid_and_nothing_is_kept_until_it_is_saved(demo: Page) -> None:
    kpi = twelve_months(demo)
    add(demo, "A line")
    card = demo.get_by_role("dialog", name="Line")
    choose_option(card, "Made from", "Moving average")
    said = card.get_by_role("status")
    expect(said).to_have_text(
        f"Moving average of the last 4 months: {statistics.fmean(TWELVE[-4:]):.1f} h"
    )
    slider = card.get_by_role("slider")
    for _ in range(5):
        slider.press("ArrowRight")
    expect(said).to_have_text(
        f"Moving average of the last 9 months: {statistics.fmean(TWELVE[-9:]):.1f} h"
    )
    expect(card.get_by_role("alert")).to_contain_text("It begins in Sep 2025")
    demo.keyboard.press("Escape")
    expect(line_tag(demo, "Moving average")).to_have_count(0)
    kpi.refresh_from_db()
    assert kpi.lines == []


def test_columns_split_at_the_median_tell_three_numbers(demo: Page) -> None:
    twelve_months(demo)
    add(demo, "A line")
    card = demo.get_by_role("dialog", name="Line")
    choose_option(card, "Made from", "Median")
    card.get_by_role("button", name="How it is drawn").click()
    card.get_by_label("Shade between the values and it").check()
    card.get_by_role("button", name="Add line").click()
    expect(card).to_have_count(0)
    expect(line_tag(demo, "Median")).to_be_visible()
    demo.get_by_role("application").focus()
    demo.keyboard.press("f")
    expect(demo.locator('[data-part="columns"] rect')).to_have_count(12 + 6)
    median = statistics.median(TWELVE)
    demo.keyboard.press("Home")
    readout = demo.get_by_role("application")
    expect(readout).to_contain_text("Value21.0")
    assert median == 20.25
    expect(readout).to_contain_text("Above Median0.8")
    expect(readout).to_contain_text("Up to it20.3")


def test_a_selection_is_pulled_grown_by_keys_and_matches_the_table(
    demo: Page, accessible: Accessible
) -> None:
    pull(demo, 0.3, 0.5)
    selection = demo.get_by_role("region", name="Selection")
    heading = selection.get_by_role("heading")
    expect(heading).to_contain_text("mean")
    accessible(demo)
    demo.get_by_role("application").focus()
    demo.keyboard.press("Escape")
    expect(selection).to_have_count(0)
    demo.keyboard.press("Home")
    demo.keyboard.press("s")
    for _ in range(3):
        demo.keyboard.press("Shift+ArrowRight")
    stored = Observation.objects.filter(kpi__slug="turnaround-at-quay").order_by("period")[:4]
    mean = sum(row.value for row in stored) / 4
    expect(heading).to_contain_text(f"4 weeks, mean {mean:.1f} min")
    expect(selection.get_by_role("row", name="Mean", exact=False).first).to_contain_text(
        f"{mean:.1f}"
    )
    # Times are no amounts, and a sum of means is a sum of nothing.
    expect(selection.get_by_role("row", name=re.compile("^Total"))).to_have_count(0)
    expect(selection).to_contain_text("placements of these periods in time")
    selection.get_by_role("button", name="Show only these dates").click()
    expect(demo).to_have_url(re.compile("from=2025-10-.*to=2025-"))
    # What is selected is still there, and everything comes back with one key.
    expect(heading).to_contain_text(f"{mean:.1f}")
    expect(demo.get_by_role("img", name=re.compile("All dates"))).to_be_visible()
    demo.get_by_role("application").focus()
    demo.keyboard.press("0")
    expect(demo).not_to_have_url(re.compile("from="))


def test_selected_values_are_set_aside_as_one_act_and_come_back(demo: Page) -> None:
    average = tag_value(demo, "average")
    pull(demo, 0.85, 0.95)
    selection = demo.get_by_role("region", name="Selection")
    selection.get_by_role("button", name="Set aside").click()
    expect(demo.get_by_text(re.compile("values are set aside"))).to_be_visible()
    expect(demo.get_by_role("button", name=re.compile("^Undo: Set 7 values aside"))).to_be_visible()
    demo.keyboard.press("Control+z")
    expect(demo.get_by_role("button", name=re.compile("^Redo: Set 7 values aside"))).to_be_visible()
    assert tag_value(demo, "average") == average


def test_a_fixed_axis_tells_what_new_values_leave_it(demo: Page) -> None:
    kpi = twelve_months(demo)
    demo.get_by_role("button", name="Axis: how values are drawn").click()
    axis = demo.get_by_role("dialog", name="How values are drawn")
    axis.get_by_label("Axis from").fill("30")
    axis.get_by_label("to", exact=True).fill("15")
    expect(axis.get_by_text("Has to be above where it begins.")).to_be_visible()
    axis.get_by_label("Axis from").fill("15")
    axis.get_by_label("to", exact=True).fill("31")
    axis.get_by_role("button", name="Save").click()
    expect(axis).to_have_count(0)
    expect(demo.get_by_text("The axis is fixed")).to_have_count(0)
    demo.get_by_label(re.compile("next value")).or_(
        demo.get_by_placeholder(re.compile("next value"))
    ).first.fill("44")
    demo.get_by_role("button", name="Add value").click()
    expect(demo.get_by_text(re.compile("The axis is fixed: 1 above it"))).to_be_visible()
    assert Observation.objects.filter(kpi=kpi).count() == 13
    # Pulled up by its lower half, the axis begins further down.
    box = demo.get_by_role("button", name="Axis: how values are drawn").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.75
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y - 50, steps=5)
    demo.mouse.up()
    expect(demo.get_by_role("button", name="Undo: Changed the axis")).to_be_visible()
    kpi.refresh_from_db()
    assert kpi.axis_high == 31
    assert kpi.axis_low is not None
    assert kpi.axis_low < 12


def test_dates_are_zoomed_with_the_wheel_and_typed(demo: Page) -> None:
    box = demo.locator("[data-part=plot]").bounding_box()
    assert box
    demo.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + 60)
    demo.keyboard.down("Control")
    demo.mouse.wheel(0, -240)
    demo.keyboard.up("Control")
    expect(demo).to_have_url(re.compile("from=.*to="))
    average = tag_value(demo, "average")
    demo.get_by_role("button", name=re.compile("^by week, ")).click()
    demo.get_by_role("menuitemradio", name="Last 12 months").click()
    expect(demo.get_by_role("button", name="by week, last 12 months")).to_be_visible()
    # Limits are those of the segment, whatever is in view.
    assert tag_value(demo, "average") == average


def test_gale_days_over_departures_in_and_out(demo: Page, accessible: Accessible) -> None:
    open_kpi(demo, "Departures on time")
    demo.get_by_role("button", name="Add", exact=True).click()
    demo.get_by_role("menuitem", name="In and out of Gale warning").click()
    panel = demo.get_by_role("region", name="State of the world")
    expect(panel).to_contain_text(re.compile(r"Gale warning held on \d+ days; \d+ of them fall on"))
    expect(panel.get_by_role("columnheader", name="In Gale warning")).to_be_visible()
    expect(panel.get_by_role("columnheader", name="Out of Gale warning")).to_be_visible()
    expect(demo.locator('[data-part="stripes"] rect').first).to_be_visible()
    accessible(demo)
    panel.get_by_role("button", name="Close").click()
    expect(demo.locator('[data-part="stripes"]')).to_have_count(0)


def test_a_date_is_moved_and_before_and_after_follow(demo: Page) -> None:
    choose(demo, "Home", *["ArrowRight"] * 10)
    demo.get_by_role("button", name="Compare before and after").click()
    handle = demo.get_by_role("slider", name="Date to compare before and after")
    selection = demo.get_by_role("region", name="Selection")
    values = selection.get_by_role("row", name=re.compile("^Values"))
    expect(values).to_contain_text("Values1047")
    handle.press("ArrowRight")
    expect(values).to_contain_text("Values1146")
    typed = selection.get_by_label("Compare before and after")
    typed.fill("18/05/2026")
    typed.press("Enter")
    expect(values).to_contain_text("Values3126")


def test_a_view_keeps_a_look_and_adjusting_it_changes_nothing_kept(
    demo: Page, accessible: Accessible
) -> None:
    demo.get_by_role("button", name="Natural process limits").click()
    demo.get_by_role("button", name=re.compile("^by week")).click()
    demo.get_by_role("menuitemradio", name="Last 13 weeks").click()
    demo.get_by_role("button", name="Views").click()
    demo.get_by_role("menuitem", name="Keep what is shown as a view…").click()
    naming = demo.get_by_role("dialog", name="Keep this view")
    naming.get_by_label("Name").fill("For the board")
    accessible(demo)
    naming.get_by_role("button", name="Keep view").click()
    expect(demo.get_by_role("button", name="View: For the board")).to_be_visible()
    expect(demo).to_have_url(re.compile("view=For\\+the\\+board"))
    # Looked at otherwise, the view stays as it is kept.
    demo.get_by_role("button", name="Average", exact=True).click()
    expect(tag(demo, "average")).to_have_count(0)
    (kept,) = Kpi.objects.get(slug="turnaround-at-quay").views
    assert kept["hidden"] == ["limits"]
    demo.get_by_role("button", name="View: For the board").click()
    demo.get_by_role("menuitem", name="Show For the board as it is kept").click()
    expect(tag(demo, "average")).to_be_visible()
    expect(tag(demo, "upper")).to_have_count(0)
    # A colleague who is sent the address sees the same.
    address = demo.url
    demo.evaluate("localStorage.clear()")
    demo.goto(address)
    expect(demo.get_by_role("button", name="by week, last 13 weeks")).to_be_visible()
    expect(tag(demo, "upper")).to_have_count(0)
    demo.get_by_role("button", name="View: For the board").click()
    demo.get_by_role("menuitemradio", name="As the chart is kept").click()
    expect(tag(demo, "upper")).to_be_visible()
    expect(demo.get_by_role("button", name="by week, all dates")).to_be_visible()
