"""Values that are due: found by the calendar, judged as typed, saved and taken back as one."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from fluctus.findings.models import Finding
from fluctus.http import clock
from fluctus.intake.models import Import
from fluctus.kpis.models import Kpi, Observation
from fluctus.messages.happening import note_time
from fluctus.messages.models import Happening, How, Topic, Wish
from fluctus.messages.wishes import wishes_of
from tests.conftest import Api, csv_of, join, ok

WEEKS = [20.0 + (number * 7 % 5) for number in range(30)]
"""Through the week of 27 July 2026."""
DUE_ON = datetime(2026, 8, 12, 9, tzinfo=UTC)
"""A Wednesday: the week of 3 August is over."""


@pytest.fixture
def at(monkeypatch: pytest.MonkeyPatch) -> Callable[[datetime], None]:
    def move(now: datetime) -> None:
        monkeypatch.setattr(clock, "now", lambda: now)

    return move


def due(api: Api) -> list[tuple[str, str, str]]:
    return [
        (row["kpi"], row["period"], row["breakdown"]) for row in ok(api.get("/fill-in"))["values"]
    ]


def send(api: Api, *rows: dict[str, Any]) -> Any:
    return api.send("POST", "/fill-in", {"rows": list(rows)})


def days(first: datetime, count: int, but: set[int]) -> str:
    every = (first + timedelta(days=n) for n in range(count))
    rows = [
        f"{day:%Y-%m-%d},{20 + n % 5}" for n, day in enumerate(every) if day.weekday() not in but
    ]
    return "Day,Delay\n" + "\n".join(rows)


@pytest.mark.django_db
def test_what_is_over_and_has_no_value_is_due(api: Api, at: Callable[[datetime], None]) -> None:
    slug = api.add_kpi("Crossing time", WEEKS, unit="min")
    at(datetime(2026, 8, 8, 9, tzinfo=UTC))
    assert due(api) == []
    at(DUE_ON)
    assert due(api) == [(slug, "2026-08-03", "")]
    (row,) = ok(api.get("/fill-in"))["values"]
    assert (row["last"], row["filled_by"]) == ("23.0\N{NO-BREAK SPACE}min", None)
    assert row["expected"].endswith("on average 22.0\N{NO-BREAK SPACE}min")
    at(DUE_ON + timedelta(days=21))
    assert [period for _, period, _ in due(api)] == [
        "2026-08-03",
        "2026-08-10",
        "2026-08-17",
        "2026-08-24",
    ]
    # One that nobody has written to for long is told by itself.
    at(DUE_ON + timedelta(days=70))
    told = ok(api.get("/fill-in"))
    assert (told["count"], [rest["kpi"] for rest in told["resting"]]) == (0, [slug])


@pytest.mark.django_db
def test_days_on_which_nothing_happens_are_not_due(
    api: Api, at: Callable[[datetime], None]
) -> None:
    first = datetime(2026, 6, 1, tzinfo=UTC)
    made = api.bring_in(days(first, 61, but={5, 6}), {"name": "Delay"}, grain="day")
    assert made.status_code == 201, made.content
    # Friday 31 July is the last; a Saturday and a Sunday follow.
    at(datetime(2026, 8, 4, 9, tzinfo=UTC))
    assert [period for _, period, _ in due(api)] == ["2026-08-03"]


@pytest.mark.django_db
def test_each_part_is_due_and_what_others_bring_is_not(
    api: Api, at: Callable[[datetime], None]
) -> None:
    table = "Week,Quay,Left behind\n" + "\n".join(
        f"{datetime(2026, 1, 5) + timedelta(weeks=n):%Y-%m-%d},{quay},{n % 4 + 1}"
        for n in range(30)
        for quay in ("Ainsey", "Marrow")
    )
    assert api.bring_in(table, {"name": "Left behind"}, grain="week").status_code == 201
    source = api.add_kpi("Crossing time", WEEKS)
    made = api.send(
        "POST",
        "/kpis/derived",
        {"by": "multiple", "source": source, "times": 2, "details": {"name": "Twice"}},
    )
    hours = "Hour,Queue\n" + "\n".join(
        f"{datetime(2026, 7, 31) + timedelta(hours=n):%Y-%m-%d %H:%M},{n % 9}" for n in range(60)
    )
    assert api.bring_in(hours, {"name": "Queue"}).status_code == 201
    at(DUE_ON)
    rows = {(kpi, part) for kpi, _, part in due(api)}
    assert rows == {("left-behind", "Ainsey"), ("left-behind", "Marrow"), (source, "")}, (
        made.content
    )


@pytest.mark.django_db
def test_what_is_typed_is_judged_by_the_limits(api: Api) -> None:
    slug = api.add_kpi("Crossing time", WEEKS, unit="min")
    rows = [{"kpi": slug, "value": value} for value in (22.0, 31.0, 12.0, 2200.0)]
    told = ok(api.send("POST", "/fill-in/judge", {"rows": [*rows, {"kpi": "nowhere", "value": 1}]}))
    assert [each["stands"] for each in told] == ["within", "above", "below", "far", "unknown"]
    assert [each["asks"] for each in told] == [False, True, True, True, False]
    chart = ok(api.get(f"/kpis/{slug}/analysis"))
    upper = chart["segments"][-1]["upper"]
    assert 22 < upper < 31
    assert told[1]["text"] == f"Above the upper limit, {upper:.1f}\N{NO-BREAK SPACE}min"
    assert "A slip?" in told[3]["text"]


@pytest.mark.django_db
def test_values_of_many_are_saved_and_taken_back_as_one(
    api: Api, at: Callable[[datetime], None]
) -> None:
    one = api.add_kpi("Crossing time", WEEKS)
    two = api.add_kpi("Turnaround", [value / 2 for value in WEEKS])
    at(DUE_ON)
    answer = send(
        api,
        {"kpi": two, "period": "2026-08-03", "value": 10.7},
        {
            "kpi": one,
            "period": "2026-08-03",
            "value": 34.0,
            "note": "fog",
            "cause": "fog on Monday",
        },
    )
    number = ok(answer)["number"]
    assert ok(answer)["saved"] == 2
    assert due(api) == []
    added = Observation.objects.get(kpi__slug=one, value=34.0)
    assert (added.note, added.typed) == ("fog", True)
    finding = Finding.objects.get(kpi__slug=one, cause="fog on Monday")
    assert finding.state == "explained"
    # Sent again, since the answer was lost: nothing changes, and nobody is told of a conflict.
    again = send(
        api,
        {"kpi": two, "period": "2026-08-03", "value": 10.7},
        {"kpi": one, "period": "2026-08-03", "value": 34.0, "note": "fog"},
    )
    assert ok(again) == {"number": None, "saved": 0}
    (listed, *_) = ok(api.get("/imports"))
    assert (listed["file_name"], listed["read_as"]) == (
        "Filled in by hand, 2 values",
        "typed by hand",
    )
    ok(api.send("POST", f"/imports/{number}/undo", {}))
    assert not Observation.objects.filter(value__in=[34.0, 10.7]).exists()
    assert len(due(api)) == 2


@pytest.mark.django_db
def test_who_comes_second_is_told_which_rows_and_nothing_of_theirs_is_saved(
    api: Api, at: Callable[[datetime], None]
) -> None:
    one = api.add_kpi("Crossing time", WEEKS)
    two = api.add_kpi("Turnaround", WEEKS)
    at(DUE_ON)
    ewan = Api(join("ewan", "marrowick"), "marrowick")
    ok(send(ewan, {"kpi": two, "period": "2026-08-03", "value": 21.5}))
    mine = [
        {"kpi": one, "period": "2026-08-03", "value": 22.5},
        {"kpi": two, "period": "2026-08-03", "value": 23.5},
        {"kpi": one, "period": "not a week", "value": 1.0},
    ]
    refused = send(api, *mine)
    assert refused.status_code == 412
    issues = {issue["field"]: issue["detail"] for issue in refused.json()["issues"]}
    assert set(issues) == {"rows.1.value", "rows.2.period"}
    assert "21.5" in issues["rows.1.value"]
    assert not Observation.objects.filter(kpi__slug=one, value=22.5).exists()
    assert Import.objects.filter(kind="typed").count() == 1
    # Theirs stays, or mine is written over it, as somebody decides who has seen it.
    ok(send(api, mine[0], mine[1] | {"over": True}))
    assert (
        Observation.objects.get(kpi__slug=two, period__gte=DUE_ON - timedelta(days=10)).value
        == 23.5
    )


@pytest.mark.django_db
def test_a_ratio_is_typed_with_both_numbers(api: Api, at: Callable[[datetime], None]) -> None:
    table = "Week,Late,Sailings\n" + "\n".join(
        f"{datetime(2026, 1, 5) + timedelta(weeks=n):%Y-%m-%d},{n % 5 + 3},98" for n in range(30)
    )
    roles = {"Late": "numerator", "Sailings": "denominator", "Week": "period"}
    made = api.bring_in(table, {"name": "Late share"}, grain="week", roles=roles)
    assert made.status_code == 201, made.content
    slug = made.json()["parts"][0]["slug"]
    at(DUE_ON)
    both = {"kpi": slug, "numerator": 40, "denominator": 98}
    (told,) = ok(api.send("POST", "/fill-in/judge", {"rows": [both]}))
    assert told["stands"] in ("above", "far")
    ok(send(api, both | {"period": "2026-08-03"}))
    newest = Observation.objects.filter(kpi__slug=slug).latest("period")
    assert (newest.numerator, newest.denominator) == (40, 98)


@pytest.mark.django_db
def test_somebody_can_be_made_to_see_to_it(api: Api, at: Callable[[datetime], None]) -> None:
    slug = api.add_kpi("Crossing time", WEEKS)
    join("ewan", "marrowick")
    join("una", "elsewhere")
    at(DUE_ON)
    body = {"kpis": [slug], "username": "ewan"}
    assert api.send("POST", "/fill-in/by", body).status_code == 204
    (row,) = ok(api.get("/fill-in"))["values"]
    assert row["filled_by"] == {"username": "ewan", "name": "ewan"}
    assert api.send("POST", "/fill-in/by", body | {"username": "una"}).status_code == 404
    assert api.send("POST", "/fill-in/by", body | {"username": None}).status_code == 204
    assert Kpi.objects.get().filled_by is None
    other = Api(join("ira", "harbour"), "harbour")
    assert due(other) == []
    assert send(other, {"kpi": slug, "period": "2026-08-03", "value": 1.0}).status_code == 404


@pytest.mark.django_db
def test_who_sees_to_a_value_hears_at_once_that_it_is_late(
    api: Api, at: Callable[[datetime], None]
) -> None:
    slug = api.add_kpi("Crossing time", WEEKS)
    ewan, una = join("ewan", "marrowick"), join("una", "marrowick")
    api.send("POST", "/fill-in/by", {"kpis": [slug], "username": "ewan"})
    kpi = Kpi.objects.select_related("workspace").get()
    late = DUE_ON + timedelta(days=14)
    note_time(late)
    happening = Happening.objects.get(kpi=kpi, topic=Topic.LATE)
    assert happening.path == "/fill-in"
    wishes = wishes_of(kpi.workspace, [ewan, una])
    assert wishes[ewan.pk].how(happening, late) is How.AT_ONCE
    assert wishes[una.pk].how(happening, late) is How.DIGEST
    Wish.objects.create(workspace=kpi.workspace, person=ewan, how={Topic.LATE: How.HERE})
    assert wishes_of(kpi.workspace, [ewan])[ewan.pk].how(happening, late) is How.HERE


@pytest.mark.django_db
def test_what_is_asked_of_the_database_does_not_grow(
    api: Api, at: Callable[[datetime], None]
) -> None:
    def asked() -> int:
        with CaptureQueriesContext(connection) as queries:
            ok(api.get("/fill-in"))
        return len(queries)

    at(DUE_ON)
    api.bring_in(csv_of(WEEKS), {"name": "First"}, grain="week")
    few = asked()
    for number in range(6):
        api.bring_in(csv_of(WEEKS), {"name": f"Other {number}"}, grain="week")
    assert ok(api.get("/fill-in"))["count"] == 7
    assert asked() == few
    part = ok(api.get("/fill-in", start=5, most=1))
    assert (part["count"], part["kpis"], [row["kpi"] for row in part["values"]]) == (
        7,
        1,
        ["other-4"],
    )
    assert ok(api.get("/fill-in", most=0))["values"] == []
    assert send(api, *({"kpi": "first", "period": "x"} for _ in range(201))).status_code == 400
    assert send(api).status_code == 400
