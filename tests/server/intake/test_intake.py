"""From a table to a KPI, into one that is there, and back: all or nothing each time."""

import math
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fluctus.intake.models import Import, Upload
from fluctus.intake.understanding.row_problems import KEPT
from fluctus.kpis.models import Kpi, Observation, PastValue
from tests.conftest import Api, csv_of, join, ok, revision

LEFT = "Week,Quay,Left behind,Note\n" + "\n".join(
    f"2026-{1 + n // 4:02d}-{5 + 7 * (n % 4):02d},{quay},{n % 3 + k},"
    for n in range(8)
    for k, quay in enumerate(("Ainsey", "Holmsand"))
)


def kept() -> list[Any]:
    fields = ("period", "breakdown", "value", "note", "set_aside", "reason", "written_by")
    return list(Observation.objects.order_by("period", "breakdown").values_list(*fields))


@pytest.fixture
def left(api: Api) -> str:
    answer = api.bring_in(LEFT, {"name": "Left behind"}, grain="week")
    assert answer.status_code == 201, answer.content
    return str(answer.json()["parts"][0]["slug"])


@pytest.mark.parametrize(
    ("table", "issue"),
    [
        ("Week,x\n2026-01-05,1\n2026-01-12,twelve\n2026-01-19,3", (3, "x", "twelve", "3:1")),
        ("Week,x\n2026-01-05,1\n01/12/2026,2\n2026-01-19,3", (3, "Week", "01/12/2026", "3:0")),
        (
            "Week,x\n2026-01-05,1\n\n2026-01-05,2\n2026-01-12,3\n2026-01-19,3\n2026-01-26,4",
            (4, "Week", "2026-01-05", ""),
        ),
    ],
)
def test_a_row_that_cannot_be_read_stops_the_import_until_it_is_dealt_with(
    api: Api, table: str, issue: tuple[int, str, str, str]
) -> None:
    (found,) = api.read(table).json()["problems"]
    assert (found["row"], found["column"], found["found"], found["field"]) == issue
    assert found["remedy"]
    refused = api.bring_in(table, {"name": "Ramp"})
    assert refused.status_code == 422
    assert refused.json()["issues"] == [found]
    assert Kpi.objects.count() == Import.objects.count() == 0
    assert api.bring_in(table, {"name": "Ramp"}, leave_out=True).status_code == 201
    assert Observation.objects.count() == table.count("\n") - 1 - table.count("\n\n")
    (one,) = api.get("/imports").json()
    assert one["left_out_count"] == 1
    assert one["left_out"][0]["line"] == issue[0]


def test_a_cell_is_put_right_without_the_file(api: Api) -> None:
    table = "Week,x\n2026-01-05,1\n2026-01-12,twelve\n2026-01-19,3"
    fixed = api.bring_in(table, {"name": "Ramp"}, fixes={"3:1": "12"})
    assert fixed.status_code == 201
    assert [row[2] for row in kept()] == [1, 12, 3]
    assert api.read(table, fixes={"x:y": "12"}).status_code == 400


def test_several_kpis_come_in_together_or_not_at_all(api: Api) -> None:
    table = "Week,Ramp (s),Fuel (L),Crew\n2026-01-05,41,320,6\n2026-01-12,40,318,6"
    chosen: dict[str, Any] = {"Crew": {"include": False}}
    assert api.bring_in(table, kpis=chosen).status_code == 201
    assert list(Kpi.objects.order_by("id").values_list("name", "unit")) == [
        ("Ramp", "s"),
        ("Fuel", "L"),
    ]
    again = api.bring_in(table, kpis=chosen | {"Ramp (s)": {"details": {"name": "New ramp"}}})
    assert again.status_code == 422
    assert "Fuel already" in again.json()["detail"]
    assert Kpi.objects.count() == 2
    nameless = "2026-01-05,41\n2026-01-12,40"
    assert api.bring_in(nameless).json()["issues"][0]["field"] == "name"


def test_the_same_table_twice_changes_nothing(api: Api, left: str) -> None:
    before = kept()
    read = api.read(LEFT, into=left).json()
    assert read["difference"]["counts"] == {
        "new": 0,
        "changed": 0,
        "same": 16,
        "missing": 0,
        "typed": 0,
    }
    again = api.bring_in(LEFT, into=left).json()
    assert again["parts"][0]["counts"]["same"] == 16
    assert kept() == before
    assert Kpi.objects.get().revision == 1


NEXT = (
    LEFT.replace("2026-01-05,Ainsey,0,", "2026-01-05,Ainsey,5,recounted").replace(
        "2026-02-26,Holmsand,2,\n", ""
    )
    + "\n2026-03-05,Ainsey,1,"
)


@pytest.mark.parametrize(
    ("mode", "values"), [("add", (0, 17)), ("update", (5, 17)), ("replace", (5, 16))]
)
def test_new_changed_and_missing_values_become_what_is_chosen(
    api: Api, left: str, mode: str, values: tuple[int, int]
) -> None:
    missing = NEXT.replace("2026-01-12,Holmsand,2,\n", "")
    read = api.read(missing, into=left).json()
    assert read["difference"]["counts"] == {
        "new": 1,
        "changed": 1,
        "same": 14,
        "missing": 1,
        "typed": 0,
    }
    assert (read["difference"]["new"], read["difference"]["changed"]) == ([8], [0])
    assert read["chart"]["count"] == 9
    api.bring_in(missing, into=left, mode=mode)
    rows = kept()
    assert (rows[0][2], len(rows)) == values
    assert rows[0][3] == ("" if mode == "add" else "recounted")


def test_a_table_like_the_last_is_read_the_same_way(api: Api, left: str) -> None:
    answer = api.upload(NEXT, into=left).json()
    assert answer["last"]["roles"]["Quay"] == "breakdown"
    assert answer["last_import"].startswith("a paste, ")
    other = api.upload("Day,x\n2026-03-02,1", into=left).json()
    assert other["last"] is None
    assert api.upload(NEXT, into="nothing").status_code == 404


def test_an_import_is_kept_and_gives_back_what_it_replaced(api: Api, left: str) -> None:
    Observation.objects.filter(value=5).update(value=5)
    before = kept()
    done = api.bring_in(NEXT.encode(), into=left, mode="replace").json()
    assert (done["status"], done["person"], done["file_name"]) == ("done", "isla", "table.csv")
    assert len(done["checksum"]) == 64
    assert "Quay as the breakdown" in done["read_as"]
    assert kept() != before
    undone = api.send("POST", f"/imports/{done['id']}/undo")
    assert undone.json()["status"] == "undone"
    assert kept() == before
    assert api.send("POST", f"/imports/{done['id']}/undo").status_code == 409


def edit(api: Api, slug: str, **changes: Any) -> Any:
    row = Observation.objects.get(kpi__slug=slug, period__date="2026-01-05", breakdown="Ainsey")
    one = {
        "period": "2026-01-05",
        "breakdown": "Ainsey",
        "value": row.value,
        "seen": row.written_by_id,
    }
    answer = api.send("POST", f"/kpis/{slug}/values", {"edits": [one | changes]})
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.mark.parametrize(("later", "value"), [("keep", 7), ("discard", 0)])
def test_an_undo_that_would_touch_later_edits_says_so(
    api: Api, left: str, later: str, value: float
) -> None:
    before = len(kept())
    done = api.bring_in(NEXT, into=left).json()
    edit(api, left, value=7)
    after = kept()
    asked = api.send("POST", f"/imports/{done['id']}/undo")
    assert asked.status_code == 409
    assert "1 value was edited in Left behind since." in asked.json()["later_edits"]
    assert kept() == after
    assert api.send("POST", f"/imports/{done['id']}/undo", {"later": later}).status_code == 200
    rows = kept()
    assert (len(rows), rows[0][2]) == (before, value)
    # The undo is an act on the chart like any other, and can itself be taken back.
    revision = Kpi.objects.get().revision
    api.send("POST", f"/kpis/{left}/undo", revision=revision)
    assert kept() == after
    api.send("POST", f"/kpis/{left}/redo", revision=revision + 1)
    assert kept() == rows


def test_undoing_the_import_that_made_a_kpi_removes_it(api: Api, left: str) -> None:
    (one,) = api.get("/imports").json()
    edit(api, left, note="looked at")
    asked = api.send("POST", f"/imports/{one['id']}/undo")
    assert asked.status_code == 409
    assert api.send("POST", f"/imports/{one['id']}/undo", {"later": "discard"}).status_code == 200
    assert Kpi.objects.count() == Observation.objects.count() == PastValue.objects.count() == 0
    (one,) = api.get("/imports").json()
    assert (one["status"], one["parts"][0]["slug"]) == ("undone", None)


def test_undo_and_redo_on_the_chart_turn_an_import_too(api: Api, left: str) -> None:
    before = kept()
    done = api.bring_in(NEXT, into=left).json()
    after = kept()
    body = api.send("POST", f"/kpis/{left}/undo", revision=2).json()
    assert body["history"]["redo"] == "Brought in a paste"
    assert kept() == before
    assert api.get(f"/imports/{done['id']}").json()["status"] == "undone"
    api.send("POST", f"/kpis/{left}/redo", revision=3)
    assert kept() == after
    assert api.get(f"/imports/{done['id']}").json()["status"] == "done"


def test_an_upload_is_its_persons_own_and_goes_when_it_has_come_in(api: Api) -> None:
    sent = api.upload(csv_of([1, 2, 3])).json()["id"]
    colleague = Api(join("magnus", "marrowick"), "marrowick")
    assert colleague.send("POST", f"/uploads/{sent}/read", {"mapping": {}}).status_code == 404
    assert api.send("POST", f"/uploads/{sent}/import", {"mapping": {}}).status_code == 201
    assert not Upload.objects.exists()
    assert api.send("POST", f"/uploads/{sent}/import", {"mapping": {}}).status_code == 404


def test_large_and_broken_uploads_are_bounded(api: Api, settings: Any) -> None:
    settings.MAX_UPLOAD_BYTES = 2000
    folders = set(settings.UPLOADS.iterdir())
    large = api.upload(b"Week,x\n" + b"2026-01-05,1\n" * 500)
    assert large.status_code == 413
    assert not Upload.objects.exists()
    assert set(settings.UPLOADS.iterdir()) == folders
    settings.MAX_UPLOAD_BYTES = 10_000_000
    many = "Week,x\n" + "2026-01-05,1\n" * (KEPT + 50)
    read = api.read(many, combine=False).json()
    assert read["problem_count"] == KEPT + 49
    assert len(read["problems"]) == KEPT
    assert len(read["first_rows"]) <= 12
    assert api.upload("").status_code == 422
    assert api.upload(b"\x89PNG\r\n\x1a\n" + bytes(64)).json()["detail"].startswith("This is a PNG")


def test_choices_are_checked(api: Api) -> None:
    table = "Week,x\n2026-01-05,1"
    for wrong in (
        {"time_zone": "Mars/Olympus"},
        {"grain": "fortnight"},
        {"header_rows": 9},
        {"kpis": {"x": {"details": {"decimals": -1}}}},
    ):
        assert api.read(table, **wrong).status_code == 400, wrong
    twice = api.read(table, roles={"Week": "period", "x": "period"})
    assert twice.status_code == 422
    assert "cannot both be the period" in twice.json()["detail"]
    half = api.read("Week,a,b\n2026-01-05,1,2", roles={"a": "numerator"})
    assert "needs a numerator and a denominator" in half.json()["detail"]


def test_values_are_kept_to_the_last_digit(api: Api) -> None:
    values = [0.1 + 0.2, math.pi * 1e9, -1e-12, 12345678.125]
    table = "Day,x\n" + "\n".join(f"2026-03-{28 + n},{v!r}" for n, v in enumerate(values))
    api.bring_in(table, {"name": "Exact"}, time_zone="Europe/London")
    rows = Observation.objects.order_by("period")
    assert [row.value for row in rows] == values
    # Across the clock change of 29 March, each day still starts at its own midnight.
    zone = ZoneInfo("Europe/London")
    assert {row.period.astimezone(zone).hour for row in rows} == {0}
    csv = api.get("/kpis/exact/analysis.csv").content.decode("utf-8-sig").splitlines()[1:]
    assert [float(line.split(",")[1]) for line in csv] == values


def test_an_analysis_that_comes_back_is_the_values_it_was_made_of(api: Api) -> None:
    values = [20.0, 21.5, 19.0, 22.0, 48.0, 20.5, 21.0, 19.5, 22.5, 20.0]
    slug = api.add_kpi("Ramp seals", values)
    path = f"/kpis/{slug}"
    line = {"key": "a", "made": "mean", "factor": 1.25, "name": "Watch"}
    ok(api.send("PATCH", path, {"lines": [line]}, revision=revision(api, path)))
    written = api.get(f"{path}/analysis.csv").content
    assert b"outside_limits" in written
    read = ok(api.read(written, into=slug))
    assert read["difference"]["counts"] == {
        **{"new": 0, "changed": 0, "same": 10, "missing": 0, "typed": 0}
    }
    assert [kpi["key"] for kpi in read["kpis"]] == ["value"]
