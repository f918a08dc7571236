"""Readings kept by name: a table of that shape is known again, and what differs is said."""

import json
from typing import Any

from fluctus.intake.models import KeptReading
from tests.conftest import Api, join, ok

ROWS = "\n".join(
    f"{day:02}/01/2026;{quay};{20 + day % 3},5;{day % 5}"
    for day in range(5, 20)
    for quay in ("Ainsey", "Holmsand")
)
TABLE = f"Day;Quay;Gangway (min);Cars left\n{ROWS}"


def keep(api: Api, text: str, name: str, *, replace: bool = False, **mapping: object) -> Any:
    """Upload a table and keep how it is read."""
    upload = ok(api.upload(text))["id"]
    body = {"name": name, "mapping": {"time_zone": "UTC", **mapping}, "replace": replace}
    return api.send("POST", f"/uploads/{upload}/keep", body)


def turned(text: str) -> str:
    """The same table with its columns the other way round."""
    return "\n".join(";".join(reversed(line.split(";"))) for line in text.split("\n"))


def test_a_table_is_known_again_whatever_the_order_of_its_columns(api: Api) -> None:
    roles = {"Cars left": "ignore"}
    ok(keep(api, TABLE, "Report of the quays", roles=roles, grain="week", first_weekday=2))
    again = ok(api.upload(turned(TABLE)))
    assert (again["recognized"]["name"], again["differs"]) == ("Report of the quays", [])
    read = ok(api.read(turned(TABLE), **again["last"]))
    assert [kpi["key"] for kpi in read["kpis"]] == ["Gangway (min)"]
    assert (read["mapping"]["grain"], read["mapping"]["first_weekday"]) == ("week", 2)


def test_what_differs_is_said_and_other_tables_are_not_taken_for_it(api: Api) -> None:
    ok(keep(api, TABLE, "Report of the quays"))
    other = TABLE.replace("Cars left", "Trucks left").replace(";0\n", ";none\n")
    assert ok(api.upload(other))["differs"] == [
        "Column Cars left is not there any more",
        "Column Trucks left is new",
    ]
    for unlike in ("Day;Crew\n2026-01-05;3\n2026-01-06;4", TABLE.replace("Day;", "Moment;")):
        assert ok(api.upload(unlike))["recognized"] is None
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    assert ok(stranger.upload(TABLE))["recognized"] is None


def test_a_reading_goes_to_a_file_and_comes_back_elsewhere(api: Api) -> None:
    ok(keep(api, TABLE, "Report of the quays", roles={"Cars left": "ignore"}))
    row = KeptReading.objects.get()
    file = ok(api.get(f"/readings/{row.pk}"))
    assert (file["format"], file["version"]) == ("fluctus-reading", 1)
    there = Api(join("mallory", "elsewhere"), "elsewhere")
    assert there.get(f"/readings/{row.pk}").status_code == 404
    ok(there.send("POST", "/readings", file))
    known = ok(there.upload(TABLE))
    assert known["recognized"]["name"] == "Report of the quays"
    assert known["last"] == file["mapping"]
    (listed,) = ok(there.get("/readings"))
    assert listed["columns"] == ["Day", "Quay", "Gangway (min)", "Cars left"]
    assert there.send("DELETE", f"/readings/{listed['id']}").status_code == 204
    assert ok(there.upload(TABLE))["recognized"] is None


def test_a_name_is_not_taken_twice_unless_it_is_replaced(api: Api) -> None:
    ok(keep(api, TABLE, "Quays"))
    refused = keep(api, TABLE, "quays", grain="week")
    assert refused.status_code == 409
    assert KeptReading.objects.get().mapping["grain"] == "day"
    ok(keep(api, TABLE, "quays", replace=True, grain="week"))
    assert KeptReading.objects.get().mapping["grain"] == "week"


def test_what_is_no_reading_is_refused_and_nothing_kept(api: Api) -> None:
    ok(keep(api, TABLE, "Quays"))
    file = ok(api.get(f"/readings/{KeptReading.objects.get().pk}"))
    nothing: dict[str, Any] = {}
    for wrong in (
        nothing,
        file | {"format": "other"},
        file | {"version": 2},
        file | {"columns": []},
        file | {"name": "x" * 81},
        json.loads(json.dumps(file).replace('"day"', '"fortnight"')),
    ):
        assert api.send("POST", "/readings", wrong).status_code in (400, 422), wrong
    assert KeptReading.objects.count() == 1


def test_a_table_that_tells_how_it_is_written_is_heeded(api: Api) -> None:
    ok(keep(api, TABLE, "Report of the quays"))
    other = "\n".join(
        ",".join([f"2026-01-{line[:2]}", *line.split(";")[1:]]).replace(",5,", ".5,")
        for line in ROWS.split("\n")
    )
    other = f"Day,Quay,Gangway (min),Cars left\n{other}"
    sent = ok(api.upload(other))
    assert sent["differs"] == [
        "Numbers have a point before the fraction, and had a comma",
        "Dates are written as 2026-05-18, and were as 18/5/2026",
    ]
    read = ok(api.read(other, **sent["last"]))
    assert read["problem_count"] == 0
    # So it is where a table goes into a KPI that had one before.
    (part,) = ok(api.bring_in(TABLE, {"name": "Gangway"}, roles={"Cars left": "ignore"}))["parts"]
    later = ok(api.upload(other, into=part["slug"]))
    assert later["last_import"] is not None
    assert later["differs"] == sent["differs"]
    assert later["last"]["decimal_mark"] is None
    # Numbers that can be read both ways are read as before.
    whole = other.replace(".5,", ",")
    assert ok(api.upload(whole))["last"]["decimal_mark"] == "comma"
