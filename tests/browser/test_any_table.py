"""Tables as people leave them, from the paste to the chart: told, asked about, remembered."""

import re
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from playwright.sync_api import Page, Response, Route, expect

from fluctus.kpis.models import Observation
from tests.browser.conftest import notice, tag

Accessible = Callable[[Page], None]

PIVOT = """Quay\tYear\tMonth\tCars landed
Ainsey\t2025\tNov\t31
\t\tDec\t42
\t2026\tJan\t28
Ainsey Total\t\t\t101
Holmsand\t2025\tNov\t55
\t\tDec\t61
\t2026\tJan\t47
Holmsand Total\t\t\t163
Grand Total\t\t\t264"""
WEEKS = "\n".join(f"2026-0{n // 4 + 1}-{n % 4 * 7 + 5:02}\t{20 + n % 3}" for n in range(8))
TWO_TABLES = f"Week\tTurnaround two (min)\n{WEEKS}\n\nWeek\tFuel two (L)\n{WEEKS}"
INCIDENTS = """Date\tKind\tWhat
2026-01-05\tDoor\tBow door stuck
2026-01-05\tRadar\tRadar blank
2026-01-06\tDoor\tBow door slow
2026-01-08\tDoor\tSide door stuck
2026-01-08\tRadar\tRadar noise"""
LOGGER = "Time\tGate two (s)\n" + "\n".join(
    f"2026-03-{28 + n // 24} {n % 24:02}:00\t{15 + n % 3}" for n in range(48)
)
OFFLINE = f"Week\tRamp two (s)\n{WEEKS}\n2026-03-30\toffline"


def read_table(page: Page, table: str) -> None:
    page.goto("/marrowick/new")
    page.get_by_label("Paste the table here").fill(table)
    page.get_by_role("button", name="Read this table").click()


def save(page: Page) -> None:
    page.get_by_role("button", name="Save", exact=False).last.click()
    expect(page).to_have_url(re.compile("/charts/"))
    expect(tag(page, "average")).to_be_visible()


def values_of(name: str) -> list[tuple[str, float]]:
    """The values of a KPI that was brought in, by part."""
    rows = Observation.objects.filter(kpi__name=name).order_by("breakdown", "value")
    return [(part, float(value)) for part, value in rows.values_list("breakdown", "value")]


def test_a_pivot_is_filled_down_and_its_totals_are_left_out(
    demo: Page, accessible: Accessible
) -> None:
    read_table(demo, PIVOT)
    told = demo.get_by_role("list", name="What was understood")
    expect(told).to_contain_text("Quay is filled down into 4 rows")
    expect(told).to_contain_text("Year and Month are the period together")
    accessible(demo)
    told.get_by_role("button", name="Undo: Quay is filled down").click()
    expect(demo.get_by_text("2 rows share a period")).to_be_visible()
    told.get_by_role("button", name="Do it: Quay is filled down").click()
    expect(demo.get_by_text("2 rows share a period")).to_have_count(0)
    save(demo)
    assert values_of("Cars landed") == [
        *[("Ainsey", 28.0), ("Ainsey", 31.0), ("Ainsey", 42.0)],
        *[("Holmsand", 47.0), ("Holmsand", 55.0), ("Holmsand", 61.0)],
    ]


def test_two_tables_on_a_sheet_are_brought_in_one_by_one(demo: Page) -> None:
    read_table(demo, TWO_TABLES)
    chosen = demo.get_by_role("combobox", name="Table on the sheet")
    expect(chosen).to_have_value("Rows 1 to 9: Week, Turnaround two (min)")
    chosen.click()
    demo.get_by_role("option", name="Fuel two").click()
    expect(demo.get_by_role("textbox", name="Name", exact=True)).to_have_value("Fuel two")
    save(demo)
    assert len(values_of("Fuel two")) == 8


def test_a_list_of_incidents_is_counted(demo: Page) -> None:
    read_table(demo, INCIDENTS)
    expect(demo.get_by_role("textbox", name="Name", exact=True)).to_have_value("Events")
    demo.get_by_role("textbox", name="Name", exact=True).fill("Incidents of the Petrel")
    save(demo)
    counted = values_of("Incidents of the Petrel")
    assert sum(count for _, count in counted) == 5
    assert len(counted) == 8  # Two kinds on four days, none among them.


@pytest.mark.parametrize("answer", ["It does not change", "It changes"])
def test_a_loggers_clock_that_does_not_change_is_asked_about(demo: Page, answer: str) -> None:
    read_table(demo, LOGGER)
    expect(
        demo.get_by_text("Does this clock stay as it is when summer time begins?")
    ).to_be_visible()
    demo.get_by_role("button", name=answer).click()
    if answer == "It changes":
        expect(demo.get_by_role("alert")).to_contain_text("has a value in row")
        return
    save(demo)
    assert len(values_of("Gate two")) == 48


def test_what_was_answered_for_one_table_holds_for_the_next(demo: Page) -> None:
    read_table(demo, OFFLINE)
    expect(demo.get_by_text("“offline” stands where a number should")).to_be_visible()
    demo.get_by_role("button", name="No value there").click()
    expect(demo.get_by_role("alert")).to_have_count(0)
    save(demo)
    read_table(demo, OFFLINE.replace("Ramp", "Gangway"))
    told = demo.get_by_role("list", name="What was understood")
    expect(told).to_contain_text("“offline” is no value (1)")
    expect(demo.get_by_role("button", name="Save", exact=False).last).to_be_enabled()


def test_a_table_without_dates_is_read_for_a_period(demo: Page) -> None:
    read_table(demo, "Quay\tCars\nAinsey\t3\nHolmsand\t4")
    demo.get_by_role("textbox", name="For which period is this table?").fill("May 2026")
    demo.get_by_role("button", name="Read it for that period").click()
    expect(demo.get_by_role("button", name="Save 2 values as a KPI")).to_be_enabled()


def test_a_table_is_read_the_same_way_the_second_time_and_says_what_differs(
    demo: Page, accessible: Accessible, tmp_path: Path
) -> None:
    rows = "\n".join(f"0{day}/01/2026\t2{day % 3},5\t{day}" for day in range(1, 9))
    read_table(demo, f"Day\tGangway kept (min)\tCars kept\n{rows}")
    told = demo.get_by_role("list", name="What was understood")
    expect(told).to_contain_text("01/01/2026 is 1 January 2026")
    # Changed in its sentences, and undone and redone by keys.
    told.get_by_role("button", name="Otherwise: Gangway kept").click()
    demo.get_by_role("menuitem", name="Cars kept is left out").click()
    expect(told).to_contain_text("Gangway kept (min) holds the values")
    demo.keyboard.press("Control+z")
    expect(told).to_contain_text("Cars kept hold the values")
    demo.keyboard.press("Control+Shift+z")
    expect(told).to_contain_text("Gangway kept (min) holds the values")
    demo.get_by_role("button", name="Keep this reading by name").click()
    demo.get_by_label("Keep this reading as").fill("Gangway report")
    accessible(demo)
    demo.get_by_role("button", name="Keep it").click()
    expect(demo.get_by_text("Kept as Gangway report")).to_be_visible()
    # The next one, with its columns in another order and one more.
    turned = "\n".join(
        "\t".join([line.split("\t")[1], line.split("\t")[0], line.split("\t")[2], "7"])
        for line in rows.split("\n")
    )
    read_table(demo, f"Gangway kept (min)\tDay\tCars kept\tTrucks kept\n{turned}")
    expect(demo.get_by_text("Read as Gangway report")).to_be_visible()
    expect(demo.get_by_role("list", name="What differs")).to_have_text("Column Trucks kept is new.")
    expect(told).to_contain_text("Gangway kept (min) and Trucks kept hold the values")
    # As a file, removed, and back.
    demo.get_by_role("link", name="Data", exact=True).click()
    kept = demo.get_by_role("list", name="Readings").get_by_role("listitem")
    with demo.expect_download() as download:
        kept.get_by_role("link", name="Export").click()
    file = tmp_path / "reading.json"
    download.value.save_as(file)
    kept.get_by_role("button", name="Remove Gangway report").click()
    expect(kept).to_have_count(0)
    with demo.expect_file_chooser() as chooser:
        demo.get_by_role("button", name="Bring in a reading").click()
    chooser.value.set_files(file)
    expect(kept).to_contain_text("Known by: Day, Gangway kept (min), Cars kept")
    with demo.expect_file_chooser() as chooser:
        demo.get_by_role("button", name="Bring in a reading").click()
    chooser.value.set_files(file)
    expect(demo.get_by_text("There is a reading called Gangway report")).to_be_visible()
    accessible(demo)
    demo.get_by_role("button", name="Leave it").click()
    kept.get_by_role("button", name="Remove Gangway report").click()
    notice(demo, "is removed").get_by_role("button", name="Undo").click()
    expect(kept).to_have_count(1)


def test_dates_without_a_year_are_counted_on_from_the_one_that_is_told(
    demo: Page, accessible: Accessible
) -> None:
    days = ["28 Dec", "29 Dec", "30 Dec", "31 Dec", "1 Jan", "2 Jan"]
    table = "\n".join(f"{day}\t{20 + n}" for n, day in enumerate(days))
    read_table(demo, f"Day\tStops over the year\n{table}")
    expect(demo.get_by_text("The dates have no year.")).to_be_visible()
    accessible(demo)
    demo.get_by_role("textbox", name="In which year is its first row?").fill("2025")
    demo.get_by_role("button", name="Count on from that year").click()
    told = demo.get_by_role("list", name="What was understood")
    expect(told).to_contain_text("the first is in 2025, and the others are counted on")
    told.get_by_role("button", name="Otherwise: The dates have no year").click()
    demo.get_by_role("menuitem", name="The first is in 2024").click()
    expect(told).to_contain_text("the first is in 2024")
    save(demo)
    periods = Observation.objects.filter(kpi__name="Stops over the year").order_by("period")
    assert [row.period.strftime("%Y-%m-%d") for row in periods][3:5] == [
        "2024-12-31",
        "2025-01-01",
    ]


def test_a_long_table_is_seen_by_its_first_rows_and_then_whole(demo: Page) -> None:
    start = datetime(2024, 1, 1, tzinfo=UTC)
    rows = "\n".join(
        f"{start + timedelta(hours=n):%Y-%m-%d %H:%M}\t{20 + n % 7}" for n in range(25_000)
    )
    answers: list[Response] = []

    def note(response: Response) -> None:
        if response.url.endswith("/read"):
            answers.append(response)

    demo.on("response", note)
    # The last row is wrong: the head does not say so, the whole does.
    table = f"Hour\tGate of a long table (s)\n{rows}\nsoon\t3".encode()
    demo.goto("/marrowick/new")
    demo.locator("input[type=file]").set_input_files(
        {"name": "gate.tsv", "mimeType": "text/plain", "buffer": table}
    )
    expect(demo.get_by_text("1 row cannot be read")).to_be_visible()
    # Their contents are asked for only now: meanwhile they might be seen before they are noted.
    assert [answer.json()["of_head"] for answer in answers] == [True, False]


def test_a_table_that_gets_no_answer_is_sent_again_and_can_be_stopped(demo: Page) -> None:
    sent: list[str] = []

    def lose(route: Route) -> None:
        sent.append(route.request.method)
        # The first is lost on its way, as where a connection is closed under it.
        if len(sent) == 1:
            route.abort("connectionreset")
        else:
            route.continue_()

    demo.route("**/uploads", lose)
    read_table(demo, f"Week\tSent again (min)\n{WEEKS}")
    expect(demo.get_by_text("No answer came. The table is sent again (1 of 3)")).to_be_visible()
    expect(demo.get_by_role("list", name="What was understood")).to_contain_text("Sent again")
    assert sent == ["POST", "POST"]
    demo.route("**/uploads", lambda route: None)
    demo.get_by_role("button", name="Use another table").click()
    demo.get_by_label("Paste the table here").fill(f"Week\tStopped (min)\n{WEEKS}")
    demo.get_by_role("button", name="Read this table").click()
    demo.get_by_role("button", name="Stop").click()
    expect(demo.get_by_role("button", name="Read this table")).to_be_enabled()
