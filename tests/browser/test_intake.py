"""From a paste or a file to a chart, into a chart that is there, and back."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from fluctus.kpis.models import Kpi, Observation
from tests.browser.conftest import tag, tag_value
from tests.conftest import csv_of, golden, join

CASE = golden("shift recalculated")
TABLE = csv_of(CASE["values"])
BOOK = Path(__file__).parents[1] / "tables" / "books" / "left-behind.xlsx"
AWKWARD = Path(__file__).parents[1] / "server" / "intake" / "awkward"


@pytest.fixture
def intake(demo: Page) -> Page:
    demo.get_by_role("link", name="New KPI").click()
    expect(demo.get_by_role("heading", name="New KPI")).to_be_visible()
    return demo


def paste(page: Page, table: str) -> None:
    page.get_by_label("Paste the table here").fill(table)
    page.get_by_role("button", name="Read this table").click()


def upload(page: Page, path: Path) -> None:
    page.locator("input[type=file]").set_input_files(path)


def role(page: Page, column: str) -> str:
    return page.get_by_role("button", name=re.compile(f"^{re.escape(column)} is the")).inner_text()


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label, exact=True).click()
    page.get_by_role("option", name=option).click()


def test_a_paste_becomes_a_chart_and_a_shift_changes_its_limits(
    intake: Page, accessible: Callable[[Page], None]
) -> None:
    accessible(intake)
    paste(intake, TABLE)
    expect(intake.get_by_text("a paste · comma-separated · 24 rows")).to_be_visible()
    expect(intake.get_by_label("Name", exact=True)).to_have_value("Ramp cycle")
    expect(intake.get_by_label("Unit")).to_have_value("s")
    accessible(intake)
    intake.get_by_label("Name", exact=True).fill("Bow door cycle")
    intake.get_by_role("button", name="Save 24 values as a KPI").click()
    expect(intake.get_by_role("heading", name="Bow door cycle")).to_be_visible()
    expect(intake.get_by_role("link", name="Bow door cycle")).to_be_visible()
    whole = tag_value(intake, "average")

    first, second = CASE["expect"]["segments"]
    start = CASE["segment_starts"][0]
    intake.get_by_role("application").focus()
    intake.keyboard.press("Home")
    for _ in range(start):
        intake.keyboard.press("ArrowRight")
    intake.get_by_role("button", name="Put a shift at this point").click()
    intake.get_by_role("button", name="Recalculate from").click()
    expect(intake.get_by_text("Limits recalculated from")).to_be_visible()
    for line in ("average", "upper", "lower", "range_limit"):
        assert tag_value(intake, line) == pytest.approx(second[line], abs=0.051), line
    row = intake.get_by_role("row", name="Average", exact=False).first
    expect(row).to_contain_text(f"{first['average']:.1f}")
    intake.get_by_role("button", name="Undo").click()
    expect(intake.get_by_role("slider")).to_have_count(0)
    assert tag_value(intake, "average") == whole


def test_a_messy_table_is_understood_put_right_in_place_and_saved_as_two_kpis(
    intake: Page, accessible: Callable[[Page], None]
) -> None:
    messy = (AWKWARD / "titles-above-totals-below.csv").read_text().replace("21,9", "twenty")
    kpis, rows = Kpi.objects.count(), Observation.objects.count()
    paste(intake, messy)
    expect(intake.get_by_text("2 rows not taken for data: 1 total, 1 note")).to_be_visible()
    names = ("Week", "Turnaround (min)", "Left behind", "Remark")
    assert [role(intake, name) for name in names] == ["Period", "Value", "Value", "Note"]
    problems = intake.get_by_role("alert")
    expect(problems).to_contain_text("1 row cannot be read")
    expect(intake.get_by_role("button", name="Save 2 KPIs")).to_be_disabled()
    accessible(intake)
    assert (Kpi.objects.count(), Observation.objects.count()) == (kpis, rows)
    cell = problems.get_by_label("Row 7, Turnaround (min): write it anew")
    cell.fill("21,9")
    cell.press("Enter")
    expect(problems).to_have_count(0)
    intake.get_by_role("button", name="Left behind", exact=True).click()
    expect(intake.get_by_text("the name says left")).to_be_visible()
    expect(tag(intake, "average")).to_contain_text("10.0")
    intake.get_by_label("Name", exact=True).fill("Cars left")
    intake.get_by_role("button", name="Save 2 KPIs").click()
    # The first name is free; nothing is saved of either where one is not.
    expect(intake.get_by_role("heading", name="Turnaround", exact=True)).to_be_visible()
    expect(intake.get_by_role("link", name="Cars left")).to_be_visible()
    assert (Kpi.objects.count(), Observation.objects.count()) == (kpis + 2, rows + 8)


def test_rows_are_left_out_and_a_name_that_is_taken_saves_nothing(intake: Page) -> None:
    kpis, rows = Kpi.objects.count(), Observation.objects.count()
    paste(intake, TABLE.replace("2026-01-19,23", "2026-01-19,twenty").replace("2026-02-02", "soon"))
    problems = intake.get_by_role("alert")
    expect(problems).to_contain_text("2 rows cannot be read")
    problems.get_by_role("button", name="Leave these rows out").click()
    intake.get_by_role("button", name="Save 22 values as a KPI").click()
    expect(intake.get_by_text("There is a KPI named Ramp cycle already.")).to_be_visible()
    assert Kpi.objects.count() == kpis
    intake.get_by_label("Name", exact=True).fill("Stern ramp")
    intake.get_by_role("button", name="Save 22 values as a KPI").click()
    expect(intake.get_by_role("heading", name="Stern ramp")).to_be_visible()
    assert Observation.objects.count() == rows + 22


def test_a_wide_table_by_keyboard_alone(intake: Page) -> None:
    box = intake.get_by_label("Paste the table here")
    box.fill((AWKWARD / "years-over-months.csv").read_text())
    box.press("Tab")
    intake.keyboard.press("Enter")
    expect(intake.get_by_text("Each column of a period became rows")).to_be_visible()
    expect(intake.get_by_role("list", name="KPIs in the table")).to_contain_text("Turnaround")
    head = intake.get_by_role("button", name="KPI is the KPI name")
    head.focus()
    intake.keyboard.press("Enter")
    intake.get_by_role("menuitem", name="Breakdown").press("Enter")
    expect(intake.get_by_role("list", name="KPIs in the table")).to_have_count(0)
    name = intake.get_by_label("Name", exact=True)
    name.fill("All of it")
    save = intake.get_by_role("button", name="Save 8 values as a KPI")
    expect(save).to_be_enabled()
    save.press("Enter")
    expect(intake.get_by_role("heading", name="All of it")).to_be_visible()
    intake.get_by_role("button", name="by month, the whole").click()
    intake.get_by_role("menuitemradio", name="Fuel (L)").click()
    expect(tag(intake, "average")).to_contain_text("321.3")
    expect(intake.get_by_text("Fuel (L) only")).to_be_visible()


def test_a_running_meter_is_recognized_and_can_be_shown_as_it_reads(intake: Page) -> None:
    paste(intake, (AWKWARD / "running-meter.csv").read_text())
    note = intake.get_by_text("This looks like a running total.")
    expect(note).to_be_visible()
    expect(tag(intake, "average")).to_contain_text("44.0")
    expect(intake.get_by_text("1 drop taken for a meter reset")).to_be_visible()
    intake.get_by_role("button", name="Show the readings instead").click()
    expect(tag(intake, "average")).to_contain_text("15,3")


def test_files_that_are_no_tables_say_what_they_are(intake: Page, tmp_path: Path) -> None:
    picture = tmp_path / "chart.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(100))
    upload(intake, picture)
    expect(intake.get_by_role("alert")).to_contain_text("This is a PNG picture, not a text file.")
    upload(intake, AWKWARD / "words-only.csv")
    expect(intake.get_by_role("status").first).to_contain_text("No column holds dates.")
    intake.get_by_role("button", name="Use another table").click()
    upload(intake, BOOK)
    expect(
        intake.get_by_text("left-behind.xlsx · XLSX spreadsheet, Left behind · 4 rows")
    ).to_be_visible()
    choose(intake, "Sheet", "Cover")
    expect(intake.get_by_role("alert")).to_contain_text("no rows below it.")
    choose(intake, "Sheet", "Left behind")
    expect(tag(intake, "average")).to_contain_text("5.25")


def test_new_values_come_into_a_kpi_are_seen_before_and_can_be_undone(
    demo: Page, tmp_path: Path, accessible: Callable[[Page], None]
) -> None:
    lines = (Path("demo") / "data" / "vehicles-left-behind.csv").read_text().splitlines()
    lines[-1] = lines[-1].rsplit(",", 1)[0] + ",19"
    newer = tmp_path / "left.csv"
    newer.write_text("\n".join([*lines, "2026-11-16,Ainsey,3", "2026-11-16,Holmsand,2"]))
    rows = Observation.objects.count()
    demo.get_by_role("link", name="Vehicles left behind").click()
    demo.get_by_role("link", name="Add data").click()
    expect(demo.get_by_role("heading", name="Add data to Vehicles left behind")).to_be_visible()
    upload(demo, newer)
    counts = demo.get_by_role("list", name="What comes in")
    expect(counts).to_contain_text("2 new")
    expect(counts).to_contain_text("1 changed")
    expect(demo.locator("[data-change=new]")).to_have_count(1)
    expect(demo.locator("[data-change=changed]")).to_have_count(1)
    accessible(demo)
    assert Observation.objects.count() == rows
    demo.get_by_role("button", name="Save 3 values").click()
    expect(demo.get_by_text("2 new values, 1 changed, 173 the same.")).to_be_visible()
    assert Observation.objects.count() == rows + 2

    # The next file of this layout is read in one step.
    demo.get_by_role("link", name="Add data").click()
    upload(demo, newer)
    expect(demo.get_by_text("Read the way left.csv, ")).to_be_visible()
    expect(demo.get_by_role("button", name="Nothing to save")).to_be_disabled()

    demo.get_by_role("link", name="Data", exact=True).click()
    expect(demo.get_by_role("heading", name="Data")).to_be_visible()
    entry = demo.get_by_role("listitem").filter(has_text="left.csv")
    entry.get_by_role("button", name="How it was read").click()
    expect(entry).to_contain_text("Quay as the breakdown")
    accessible(demo)
    entry.get_by_role("button", name="Undo this import").click()
    expect(entry).to_contain_text("undone")
    assert Observation.objects.count() == rows


def test_signing_in_by_name_and_an_empty_workspace(
    page: Page, db: None, accessible: Callable[[Page], None]
) -> None:
    join("isla", "holmsand")
    page.goto("/")
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    accessible(page)
    page.get_by_label("Name").fill("isla")
    page.get_by_label("Password", exact=True).fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("Name and password do not match.")
    page.get_by_label("Password", exact=True).fill("isla's own words")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Begin with a table")).to_be_visible()
    expect(page.get_by_label("Paste the table here")).to_be_visible()
    accessible(page)
    page.goto("/holmsand/charts/nothing")
    expect(page.get_by_role("alert")).to_contain_text("There is no such KPI here.")
    page.get_by_role("button", name="Account").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


def test_an_empty_workspace_begins_with_a_table_of_its_own_or_one_to_learn_from(
    page: Page, db: None, accessible: Callable[[Page], None]
) -> None:
    join("isla", "holmsand")
    page.goto("/")
    page.get_by_label("Name").fill("isla")
    page.get_by_label("Password", exact=True).fill("isla's own words")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="A shift").click()
    expect(page.get_by_role("button", name="Save")).to_be_enabled()
    accessible(page)
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("heading", name="Turnaround", level=1)).to_be_visible()
    # What the table is there to show is what the chart asks about.
    expect(page.get_by_text("shift", exact=False).first).to_be_visible()
    expect(page.get_by_role("navigation", name="KPIs").get_by_role("link")).not_to_have_count(0)
    # Three hints at the things themselves, once; none lies over its own.
    hint = page.get_by_role("complementary", name=re.compile("^Hint"))
    for number, at in enumerate(("[data-line=average]", "[data-line=upper]", "#next-value"), 1):
        expect(hint).to_have_accessible_name(f"Hint {number} of 3")
        beside, thing = hint.bounding_box(), page.locator(at).bounding_box()
        assert beside
        assert thing
        assert (
            beside["x"] + beside["width"] <= thing["x"]
            or beside["y"] >= thing["y"] + thing["height"]
        )
        accessible(page)
        hint.get_by_role("button", name=re.compile("Next|Understood")).click()
    expect(hint).to_have_count(0)
    # The words of the trade are told of this very chart.
    page.get_by_role("button", name="What the words mean").click()
    words = page.get_by_role("dialog", name="The words of this chart")
    expect(words).to_contain_text("Here it is")
    expect(words.locator("svg[aria-hidden]")).not_to_have_count(0)
    accessible(page)
    words.get_by_role("button", name="Close").click()
    page.reload()
    expect(page.locator("[data-line=average]")).to_be_visible()
    expect(hint).to_have_count(0)
