"""What a table leaves open or a file leaves out, through the API: asked, answered, remembered."""

import io

import xlsxwriter

from fluctus.intake.models import Import
from fluctus.intake.understanding.mapping import Mapping
from tests.conftest import Api, join, ok

DAYS = "\n".join(f"2026-01-{day:02},{day % 4 + 10}" for day in range(5, 25))
WITH_A_WORD = f"Day,Gate cycle (s)\n{DAYS}\n2026-01-25,offline"


def test_a_word_for_no_value_is_answered_once_for_a_workspace(api: Api) -> None:
    first = ok(api.read(WITH_A_WORD))
    (question,) = first["questions"]
    assert "offline" in question["asks"]
    (answer,) = question["answers"]
    again = ok(api.read(WITH_A_WORD, **answer["changes"]))
    assert (again["questions"], again["problem_count"], again["missing"]) == ([], 0, 1)
    ok(api.bring_in(WITH_A_WORD, {"name": "Gate"}, **answer["changes"]))
    # The next table of the workspace needs no answer; it says so, and can be told otherwise.
    other = ok(api.read(WITH_A_WORD.replace("Gate cycle", "Ramp cycle")))
    (step,) = [one for one in other["sentences"] if one["done"] is not None]
    assert (other["problem_count"], step["done"]) == (0, True)
    assert "offline" in step["says"]
    back = ok(api.read(WITH_A_WORD, taken_back=[step["key"]]))
    assert back["problem_count"] == 1
    # Others have answered nothing.
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    assert ok(stranger.read(WITH_A_WORD))["problem_count"] == 1


def test_the_month_that_begins_a_year_is_kept_for_the_workspace(api: Api) -> None:
    table = "Year,Revenue\nFY22/23,1200\nFY23/24,1300\nFY24/25,1250"
    assert [one["key"] for one in ok(api.read(table))["questions"]] == ["first_month"]
    ok(api.bring_in(table, {"name": "Revenue"}, first_month=7))
    assert Import.objects.get().mapping["first_month"] == 7
    later = ok(api.read(table.replace("Revenue", "Costs")))
    assert later["mapping"]["first_month"] == 7


def test_more_kpis_than_one_import_makes_are_all_listed_and_chosen_from(api: Api) -> None:
    names = [f"Sensor {n}" for n in range(70)]
    rows = [f"2026-01-{day:02}," + ",".join("1.5" for _ in names) for day in range(5, 12)]
    table = "\n".join(["Day," + ",".join(names), *rows])
    read = ok(api.read(table))
    assert len(read["kpis"]) == 70
    assert sum(kpi["choice"]["include"] for kpi in read["kpis"]) == 60
    every = {name: {"include": True} for name in names}
    refused = api.bring_in(table, kpis=every)
    assert refused.status_code == 422
    assert "70 are chosen; at most 60" in refused.json()["issues"][0]["detail"]
    few = {name: {"include": name == "Sensor 65"} for name in names}
    assert [part["name"] for part in ok(api.bring_in(table, kpis=few))["parts"]] == ["Sensor 65"]


def test_what_a_spreadsheet_hides_or_cannot_tell_is_counted_and_named(api: Api) -> None:
    made = io.BytesIO()
    with xlsxwriter.Workbook(made) as book:
        cover = book.add_worksheet("Cover")
        cover.write_column(0, 0, ["Report", "Version", "Made by"])
        cover.write_column(0, 1, ["Gate", "2", "Isla"])
        sheet = book.add_worksheet("Data")
        sheet.write_row(0, 0, ["Day", "Stops", "Secret", "Sum", "Ref no"])
        for row in range(1, 11):
            sheet.write_row(row, 0, [f"2026-01-{row + 4:02}", row, 99])
            sheet.write_formula(row, 3, f"=B{row + 1}*2", None, "")
            sheet.write_number(row, 4, 4700 + row)
        sheet.set_row(4, None, None, {"hidden": True})
        sheet.set_column(2, 2, None, None, {"hidden": True})
    read = ok(api.read(made.getvalue()))
    assert read["sheet"] == "Data"
    assert read["remarks"] == [
        "1 row hidden in the file, from row 5 on, left out",
        "1 column hidden in the file left out: C",
        "10 formulas without a result, the first in D2: open the file where it was made and "
        "save it again",
        "1 column is not used: Ref no",
    ]
    (stops,) = [kpi for kpi in read["kpis"] if kpi["key"] == "Stops"]
    assert stops["value_count"] == 9


def test_a_table_without_dates_asks_for_its_period(api: Api) -> None:
    table = "Quay,Cars\nAinsey,3\nHolmsand,4"
    refused = api.read(table)
    assert refused.status_code == 422
    assert refused.json()["issues"][0]["field"] == "period"
    # The next table of the layout is of another one.
    assert Mapping(period="2026-05").for_the_next().period is None
    read = ok(api.read(table, period="2026-05"))
    assert (read["mapping"]["grain"], read["kpis"][0]["breakdowns"]) == (
        "month",
        ["Ainsey", "Holmsand"],
    )


def test_names_that_are_too_long_are_cut_and_said_before_anything_is_saved(api: Api) -> None:
    heading, quay = "How many cars " * 400, "the long quay " * 20
    rows = "\n".join(f"2026-01-{day:02},{quay},{day}" for day in range(5, 25))
    table = f"Day,Quay,{heading}\n{rows}"
    read = ok(api.read(table))
    assert [remark.split(" that ")[0] for remark in read["remarks"]] == [
        "1 heading with a name",
        "1 part with a name",
    ]
    (part,) = ok(api.bring_in(table))["parts"]
    assert part["name"].endswith("\N{HORIZONTAL ELLIPSIS}")
    assert part["counts"]["new"] == 20


def test_what_was_understood_is_told_in_order_with_why_and_what_else(api: Api) -> None:
    rows = "\n".join(
        f"{day}. {month} 2026;{quay};{day},5"
        for month in ("Januar", "März", "mayo")
        for day in range(1, 9)
        for quay in ("Ainsey", "Holmsand")
    )
    read = ok(api.read(f"Report;;\nTag;Kai;Load (t)\n{rows}"))
    told = {one["key"]: one for one in read["sentences"]}
    assert list(told) == ["names", "period", "grain", "breakdown", "values", "mark"]
    assert told["names"]["says"] == "The names of the columns are in row 2"
    assert "months in German and, in some rows, in Spanish" in told["period"]["why"]
    assert told["breakdown"]["says"] == "Kai tells the parts apart"
    # Each alternative is taken as it is, and then said to have been chosen.
    for key in ("grain", "breakdown", "mark"):
        other = told[key]["alternatives"][0]
        again = ok(api.read(f"Report;;\nTag;Kai;Load (t)\n{rows}", **other["changes"]))
        assert told[key]["says"] not in [one["says"] for one in again["sentences"]], key
    weekly = ok(api.read(f"Report;;\nTag;Kai;Load (t)\n{rows}", grain="week"))
    assert [one["why"] for one in weekly["sentences"] if one["key"] == "grain"] == [
        "That was chosen."
    ]


def test_values_of_no_part_beside_those_of_parts_are_told(api: Api) -> None:
    days = range(5, 25)
    parts = "\n".join(f"2026-01-{day:02},{quay},{day}" for day in days for quay in ("A", "B"))
    (part,) = ok(api.bring_in(f"Day,Quay,Cars\n{parts}", {"name": "Cars"}))["parts"]
    whole = "\n".join(f"2026-01-{day:02},{day}" for day in days)
    read = ok(api.read(f"Day,Cars\n{whole}", into=part["slug"]))
    assert any("are of none of them" in remark for remark in read["remarks"])
    again = ok(api.read(f"Day,Quay,Cars\n{parts}", into=part["slug"]))
    assert again["remarks"] == []
