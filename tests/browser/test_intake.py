"""From a paste or a file to a chart, and what happens on bad input."""

from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from fluctus.kpis.models import Kpi, Observation
from tests.browser.conftest import tag, tag_value
from tests.conftest import csv_of, golden, join

CASE = golden("shift recalculated")
TABLE = csv_of(CASE["values"])


@pytest.fixture
def intake(demo: Page) -> Page:
    demo.get_by_role("link", name="New KPI").click()
    expect(demo.get_by_role("heading", name="New KPI")).to_be_visible()
    return demo


def test_a_paste_becomes_a_chart_and_a_shift_changes_its_limits(
    intake: Page, accessible: Callable[[Page], None]
) -> None:
    intake.get_by_label("Paste the table here").fill(TABLE)
    expect(intake.get_by_text("24 rows · comma-separated · 24 values by week")).to_be_visible()
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


def test_bad_rows_are_named_and_nothing_is_saved_until_they_are_dealt_with(intake: Page) -> None:
    kpis, rows = Kpi.objects.count(), Observation.objects.count()
    bad = TABLE.replace("2026-01-19,23", "2026-01-19,twenty").replace("2026-02-02", "02/02/2026")
    intake.get_by_label("Paste the table here").fill(bad)
    problems = intake.get_by_role("alert")
    expect(problems).to_contain_text("2 rows cannot be read")
    expect(problems.get_by_role("row").nth(1)).to_contain_text("twenty")
    expect(problems.get_by_role("row").nth(2)).to_contain_text("02/02/2026")
    expect(intake.get_by_role("button", name="Save")).to_be_disabled()
    assert (Kpi.objects.count(), Observation.objects.count()) == (kpis, rows)
    problems.get_by_label("Leave these rows out").check()
    intake.get_by_role("button", name="Save 22 values as a KPI").click()
    # The name is the demo's already: refused, kept on the form, and nothing saved.
    expect(intake.get_by_text("There is a KPI named Ramp cycle already.")).to_be_visible()
    assert Kpi.objects.count() == kpis
    intake.get_by_label("Name", exact=True).fill("Stern ramp")
    intake.get_by_role("button", name="Save 22 values as a KPI").click()
    expect(intake.get_by_role("heading", name="Stern ramp")).to_be_visible()
    assert Observation.objects.count() == rows + 22


def test_a_file_that_is_no_table_says_what_it_is(intake: Page, tmp_path: Path) -> None:
    picture = tmp_path / "chart.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(100))
    intake.locator("input[type=file]").set_input_files(picture)
    expect(intake.get_by_role("alert")).to_contain_text("This is a PNG picture, not a text file.")
    table = tmp_path / "ramp.csv"
    table.write_text("Datum;Rampe (s)\n05.01.2026;1,5\n13.01.2026;2,5\n21.01.2026;3,5\n")
    intake.locator("input[type=file]").set_input_files(table)
    expect(intake.get_by_text("3 rows · semicolon-separated · 3 values by day")).to_be_visible()
    expect(tag(intake, "average")).to_contain_text("2.5")


def test_columns_are_chosen_otherwise_and_the_chart_follows(intake: Page) -> None:
    two = "Week\tMeter\tHours\n" + "\n".join(
        f"2026-03-{2 + 7 * n:02d}\t{1000 + 40 * n}\t{6 + n % 2}" for n in range(4)
    )
    intake.get_by_label("Paste the table here").fill(two)
    expect(tag(intake, "average")).to_contain_text("1,060.0")
    intake.get_by_role("combobox", name="Value", exact=True).click()
    intake.get_by_role("option", name="Hours (numbers)").click()
    expect(tag(intake, "average")).to_contain_text("6.5")
    expect(intake.get_by_label("Name", exact=True)).to_have_value("Hours")


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
    expect(page.get_by_role("heading", name="No KPIs yet")).to_be_visible()
    accessible(page)
    page.goto("/holmsand/charts/nothing")
    expect(page.get_by_role("alert")).to_contain_text("There is no such KPI here.")
    page.get_by_role("button", name="Account").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
