"""From a table to a KPI: what is understood, and what is refused before anything is saved."""

import math
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api


def understood(api: Api, text: str | bytes, **choices: Any) -> Any:
    answer = api.intake("read", text, **choices)
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.mark.parametrize(
    ("text", "delimiter", "periods", "values"),
    [
        ("Week,Ramp (s)\n2026-01-05,1.5\n2026-01-12,2", "comma",
         ["2026-01-05", "2026-01-12"], [1.5, 2]),
        ("Woche;Rampe\n05.01.2026;1.234,5\n12.01.2026;2,0\n19.01.2026;3,1", "semicolon",
         ["2026-01-05", "2026-01-12", "2026-01-19"], [1234.5, 2, 3.1]),
        ("day\tx\n1/13/2026\tn/a\n1/14/2026\t2", "tab", ["2026-01-14"], [2]),
        ("Jan 2026|4\nFeb 2026|n/a\nMar 2026|6", "bar", ["2026-01-01", "2026-03-01"], [4, 6]),
        ('When,"Count, all"\n18 May 2026,"1,234"\n19 May 2026,"2,345"', "comma",
         ["2026-05-18", "2026-05-19"], [1234, 2345]),
        ("2026-W05,1\n2026-W06,\u22122", "comma", ["2026-01-26", "2026-02-02"], [1, -2]),
        ("2026 Q1;95 %\n2026 Q2;96,5 %", "semicolon", ["2026-01-01", "2026-04-01"], [95, 96.5]),
        ("at,x\n2026-03-02 14:00,1\n2026-03-02 13:00,2", "comma",
         ["2026-03-02T13:00+00:00", "2026-03-02T14:00+00:00"], [2, 1]),
    ],
)  # fmt: skip
def test_what_people_paste_is_understood(
    api: Api, text: str, delimiter: str, periods: list[str], values: list[float]
) -> None:
    read = understood(api, text, leave_out=True)
    assert read["delimiter"] == delimiter
    assert read["chart"]["points"]["period"] == periods
    assert read["chart"]["points"]["value"] == values


def test_encodings_marks_and_names(api: Api) -> None:
    text = "Tag;Fähren (Stück)\n05.01.2026;1\n12.01.2026;2\n"
    for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
        read = understood(api, text.encode(encoding))
        assert (read["name"], read["unit"]) == ("Fähren", "Stück"), encoding


def test_day_first_or_month_first_is_asked_when_the_column_does_not_tell(api: Api) -> None:
    text = "d,x\n03/04/2026,1\n04/04/2026,2\n05/04/2026,3"
    read = understood(api, text)
    assert read["ambiguous_dates"]
    assert read["chart"]["points"]["period"][0] == "2026-04-03"
    other = understood(api, text, date_style="month_first", grain="day")
    assert other["chart"]["points"]["period"][0] == "2026-03-04"
    assert not understood(api, "d,x\n13/04/2026,1\n05/06/2026,2")["ambiguous_dates"]


def test_the_hour_a_clock_change_repeats_is_two_periods(api: Api) -> None:
    hours = ["00:00", "01:00", "01:00", "02:00"]
    text = "at,x\n" + "\n".join(f"2026-10-25 {hour},{n}" for n, hour in enumerate(hours))
    read = understood(api, text, time_zone="Europe/London")
    assert read["problems"] == []
    assert read["chart"]["points"]["period"] == [
        "2026-10-25T00:00+01:00", "2026-10-25T01:00+01:00",
        "2026-10-25T01:00+00:00", "2026-10-25T02:00+00:00",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "row", "column", "found", "says"),
    [
        ("Week,x\n2026-01-05,1\n2026-01-12,twelve\n2026-01-19,3", 3, "x", "twelve", "not a number"),
        ("Week,x\n2026-01-05,1\n01/12/2026,2\n2026-01-19,3", 3, "Week", "01/12/2026", "not a date"),
        ("Week,x\n2026-01-05,1\n\n2026-01-05,2", 4, "Week", "2026-01-05", "in row 2 already"),
        ("Week,x\n2026-01-05,1\n,2\n2026-01-19,3", 3, "Week", "", "missing"),
        ("Week,x\n2026-01-05,1\n2026-01-12,1,234\n2026-01-19,3", 3, "", "", "3 cells"),
        ("Week,x\n2026-01-05,1\n2026-01-12,1e999\n2026-01-19,3", 3, "x", "1e999", "not a number"),
        ("Week,x\n2026-01-05,1\n2026-01-12,=1+1\n2026-01-19,3", 3, "x", "=1+1", "not a number"),
        ("Week,x\n2026-01-05,1\n0026-01-12,4\n2026-01-19,3", 3, "Week", "0026-01-12", "not a date"),
    ],
)  # fmt: skip
def test_a_row_that_cannot_be_read_is_named_and_stops_the_import(
    api: Api, text: str, row: int, column: str, found: str, says: str
) -> None:
    (issue,) = understood(api, text)["problems"]
    assert (issue["row"], issue["column"], issue["found"]) == (row, column, found)
    assert says in issue["detail"]
    assert issue["remedy"]
    refused = api.intake("kpis", text, {"name": "Ramp"})
    assert refused.status_code == 422
    assert refused.json()["issues"] == [issue]
    assert Kpi.objects.count() == Observation.objects.count() == 0
    kept = api.intake("kpis", text, {"name": "Ramp"}, leave_out=True)
    assert kept.status_code == 201
    assert Observation.objects.count() == len(text.split("\n")) - 2 - text.count("\n\n")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "nothing here"),
        ("  \n \n", "nothing here"),
        ("Week,x", "no rows"),
        (b"\x89PNG\r\n\x1a\n" + bytes(64), "PNG picture"),
        (b"PK\x03\x04" + bytes(64), "spreadsheet or an archive"),
        (bytes(range(256)) * 4, "binary"),
        ("name,colour\nPetrel,red\nDunlin,blue", "No column holds dates"),
        ("Week,x\n2026-01-05,red\n2026-01-12,blue", "No column holds numbers"),
        (",".join(map(str, range(300))) + "\n" + ",".join(["1"] * 300), "300 columns"),
        ('Week,x\n2026-01-05,"' + "9" * 200_000 + '"', "cannot be read as a row"),
    ],
)
def test_what_is_no_table_is_refused(api: Api, text: str | bytes, says: str) -> None:
    for answer in (api.intake("read", text), api.intake("kpis", text, {"name": "Ramp"})):
        assert answer.status_code == 422, answer.content
        assert says in answer.json()["detail"]
    assert Kpi.objects.count() == 0


def test_details_and_choices_are_checked(api: Api) -> None:
    text = "Week,x\n2026-01-05,1"
    assert api.intake("kpis", text).json()["issues"][0]["field"] == "name"
    assert api.intake("read", text, time_zone="Mars/Olympus").status_code == 400
    assert api.intake("read", text, period=7).status_code == 422
    assert api.intake("read", text, period=1, value=1).status_code == 422
    assert api.intake("read", text, {"decimals": -1}).status_code == 400
    assert api.client.post(f"{api.base}/intake/read", {"choices": "{"}).status_code == 400
    assert api.intake("kpis", text, {"name": "Ramp"}).status_code == 201
    taken = api.intake("kpis", text, {"name": "RAMP"})
    assert taken.status_code == 422
    assert "already" in taken.json()["detail"]
    assert Kpi.objects.count() == 1


def test_values_are_kept_to_the_last_digit(api: Api) -> None:
    values = [0.1 + 0.2, math.pi * 1e9, -1e-12, 12345678.125]
    text = "Day,x\n" + "\n".join(f"2026-03-{28 + n},{v!r}" for n, v in enumerate(values))
    api.intake("kpis", text, {"name": "Exact"}, time_zone="Europe/London")
    rows = Observation.objects.order_by("period")
    assert [row.value for row in rows] == values
    # Across the clock change of 29 March, each day still starts at its own midnight.
    zone = ZoneInfo("Europe/London")
    assert {row.period.astimezone(zone).hour for row in rows} == {0}
