"""KPIs made from others: ratio, sum, difference, multiple; they follow, and never average."""

import csv
import io
from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

import pytest
from openpyxl import load_workbook

from fluctus.http import clock
from fluctus.jobs.life import Progress
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi, Observation
from fluctus.reports.workbook.book import as_workbook
from tests.conftest import Api, join, ok, revision

QUAYS = ("Ainsey", "Holmsand")
FIRST = date(2026, 1, 5)


def by_quay(
    api: Api, name: str, amounts: Mapping[str, Sequence[float | None]], grain: str = "week"
) -> str:
    step = 7 if grain == "week" else 1
    rows = [
        f"{FIRST + timedelta(days=step * n)},{quay},{value}"
        for quay, values in amounts.items()
        for n, value in enumerate(values)
        if value is not None
    ]
    table = "\n".join([f"Week,Quay,{name}", *rows])
    answer = api.bring_in(table, {"name": name, "aggregation": "sum"}, grain=grain)
    assert answer.status_code == 201, answer.content
    kpi = Kpi.objects.get(slug=answer.json()["parts"][0]["slug"])
    if kpi.aggregation != "sum":
        path = f"/kpis/{kpi.slug}"
        ok(api.send("PATCH", path, {"aggregation": "sum"}, revision(api, path)))
    return str(kpi.slug)


ON_TIME = {"Ainsey": [40.0, 38, 41, 39, 40, 36], "Holmsand": [5.0, 9, 6, 8, 7, 9]}
DEPARTURES = {"Ainsey": [42.0, 42, 42, 42, 42, 42], "Holmsand": [10.0, 10, 10, 10, 10, 10]}


@pytest.fixture
def both(api: Api) -> tuple[str, str]:
    return by_quay(api, "On time", ON_TIME), by_quay(api, "Departures", DEPARTURES)


def make(api: Api, first: str, **asked: object) -> dict[str, Any]:
    return dict(ok(api.send("POST", f"/kpis/{first}/derivation", asked)))


def chart(api: Api, slug: str, **query: object) -> dict[str, Any]:
    return dict(ok(api.get(f"/kpis/{slug}/analysis", **query)))


def loops(weeks: range) -> float:
    on_time = sum(values[n] for values in ON_TIME.values() for n in weeks)
    return 100 * on_time / sum(values[n] for values in DEPARTURES.values() for n in weeks)


def test_a_share_is_the_ratio_of_sums_at_every_grain_and_over_every_part(
    api: Api, both: tuple[str, str]
) -> None:
    first, second = both
    preview = ok(
        api.send(
            "POST", f"/kpis/{first}/derivation/preview", {"made_by": "ratio", "second": second}
        )
    )
    assert preview["name"] == "On time of departures"
    assert (preview["unit"], preview["times"], preview["newest_of"]) == ("%", 100, [45, 52])
    slug = make(api, first, made_by="ratio", second=second)["slug"]
    weekly = chart(api, slug)
    assert weekly["points"]["value"] == pytest.approx([loops(range(n, n + 1)) for n in range(6)])
    assert weekly["points"]["numerator"] == [45, 47, 47, 47, 47, 45]
    assert weekly["points"]["denominator"] == [52] * 6
    assert (weekly["kpi"]["ceiling"], weekly["kpi"]["aggregation"]) == (100, "ratio")
    quarter = chart(api, slug, by="quarter")
    assert quarter["points"]["value"] == pytest.approx([loops(range(6))])
    for quay in QUAYS:
        part = chart(api, slug, by="quarter", breakdown=quay)["points"]
        assert part["value"] == pytest.approx([100 * sum(ON_TIME[quay]) / sum(DEPARTURES[quay])])
    # A selection, and a place on a map, are ratios of sums as well.
    span = "2026-01-05/2026-01-19"
    summary = ok(api.get(f"/kpis/{slug}/summary", spans=span))
    (row,) = [row for row in summary["rows"] if row["name"] == "Ratio of sums"]
    assert row["texts"][0] == f"{loops(range(3)):.1f}% (139 of 156)"
    assert summary["columns"][0]["heading"] == f"3 weeks, {row['texts'][0]}"
    # Side by side the parts are averaged over periods; the whole is not averaged over parts.
    parts = ok(api.get(f"/kpis/{slug}/parts"))["parts"]
    assert {part["name"] for part in parts} == set(QUAYS)
    rows = list(csv.DictReader(io.StringIO(api.get(f"/kpis/{slug}/analysis.csv").content.decode())))
    for row in rows:
        fraction = 100 * float(row["numerator"]) / float(row["denominator"])
        assert float(row["value"]) == pytest.approx(fraction, rel=1e-12)


def test_it_follows_both_and_says_what_it_leaves_out(api: Api, both: tuple[str, str]) -> None:
    first, second = both
    slug = make(api, first, made_by="ratio", second=second)["slug"]
    last = ok(api.get(f"/kpis/{second}/values"))["values"][-2:]
    edits = [
        {
            "period": row["period"],
            "breakdown": row["breakdown"],
            "value": value,
            "seen": row["version"],
        }
        for row, value in zip(last, (0.0, 0.0), strict=True)
    ]
    ok(api.send("POST", f"/kpis/{second}/values", {"edits": edits}))
    made = chart(api, slug)["kpi"]["derivation"]
    assert made["left_out"] == ["9 Feb 2026 is without a ratio: Departures is 0 there."]
    # A week that one of them has not is missing.
    more = "Week,Quay,On time\n2026-02-16,Ainsey,30\n2026-02-16,Holmsand,9"
    assert api.bring_in(more, into=first, mode="add").status_code == 201
    (gone, _) = chart(api, slug)["kpi"]["derivation"]["left_out"]
    assert gone == "16 Feb 2026 is left out: Departures has no value there."
    history = ok(api.get(f"/kpis/{slug}/history"))["acts"]
    assert history[0]["summary"].startswith("Followed Departures")
    # It is not written to by hand, and says whose values to change.
    edit = {"period": "2026-01-05", "breakdown": "Ainsey", "value": 3.0}
    refused = api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]})
    assert refused.status_code == 409
    assert "follows On time and Departures" in refused.json()["detail"]
    # What is deleted leaves it as it is.
    Kpi.objects.get(slug=second).delete()
    alone = chart(api, slug)["kpi"]["derivation"]
    assert (alone["by"], alone["follows"]) == ("ratio", False)
    assert Observation.objects.filter(kpi__slug=slug).count() == 10
    assert api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]}).status_code in (200, 412)


def test_a_part_above_its_whole_undoes_the_write(api: Api, both: tuple[str, str]) -> None:
    first, second = both
    make(api, first, made_by="ratio", second=second)
    row = ok(api.get(f"/kpis/{first}/values"))["values"][0]
    edit = {
        "period": row["period"],
        "breakdown": row["breakdown"],
        "value": 60.0,
        "seen": row["version"],
    }
    refused = api.send("POST", f"/kpis/{first}/values", {"edits": [edit]})
    assert refused.status_code == 422
    assert "60 of 42" in refused.json()["issues"][0]["detail"]
    assert ok(api.get(f"/kpis/{first}/values"))["values"][0]["value"] == row["value"]


def test_sums_differences_and_multiples_of_parts(api: Api, both: tuple[str, str]) -> None:
    first, second = both
    late = make(api, second, made_by="difference", second=first, name="Late")["slug"]
    assert chart(api, late)["points"]["value"] == [7, 5, 5, 5, 5, 7]
    part = chart(api, late, breakdown="Holmsand", by="month")["points"]["value"]
    assert part == [5 + 1 + 4 + 2, 3 + 1]
    total = make(api, late, made_by="sum", second=first)["slug"]
    assert chart(api, total)["points"]["value"] == [52] * 6
    double = make(api, total, made_by="multiple", times=2.5)["slug"]
    assert chart(api, double)["points"]["value"] == [130] * 6
    # A write goes through all that is made from what is made from it.
    rows = ok(api.get(f"/kpis/{first}/values"))["values"]
    edit = {
        "period": rows[0]["period"],
        "breakdown": "Ainsey",
        "value": 30.0,
        "seen": rows[0]["version"],
    }
    ok(api.send("POST", f"/kpis/{first}/values", {"edits": [edit]}))
    assert chart(api, late)["points"]["value"][0] == 17
    assert chart(api, double)["points"]["value"][0] == 130


def test_the_coarser_grain_is_taken_and_what_stops_within_it_is_not(api: Api) -> None:
    daily = by_quay(api, "Passengers", {"Ainsey": [10.0] * 25}, grain="day")
    weekly = by_quay(api, "Crossings", {"Ainsey": [7.0] * 4})
    made = make(api, daily, made_by="ratio", second=weekly)
    weeks = chart(api, made["slug"])
    assert weeks["kpi"]["unit"] == "passengers per crossing"
    assert weeks["points"]["value"] == [10, 10, 10]
    assert made["left_out"] == ["26 Jan 2026 is left out: Passengers has no value there."]


def test_parts_that_change_their_names_and_wholes_without_parts(api: Api) -> None:
    first = by_quay(api, "On time", ON_TIME)
    other = {"Ainsey North": DEPARTURES["Ainsey"], "Holmsand": DEPARTURES["Holmsand"]}
    second = by_quay(api, "Departures", other)
    made = make(api, first, made_by="ratio", second=second)
    assert made["left_out"] == [
        "Made of the whole: On time and Departures have other parts, such as Ainsey of On time."
    ]
    whole = chart(api, made["slug"])
    assert whole["kpi"]["breakdowns"] == []
    assert whole["points"]["value"][0] == pytest.approx(loops(range(1)))


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"made_by": "ratio"}, "It takes another KPI."),
        ({"made_by": "ratio", "second": "on-time"}, "On time and itself make nothing new."),
        ({"made_by": "ratio", "second": "fuel", "times": 0}, "times a number above 0"),
        ({"made_by": "multiple"}, "A multiple takes a number other than 0 and 1."),
        ({"made_by": "sum", "second": "fuel"}, "On time is in no unit, Fuel in L."),
        ({"made_by": "ratio", "second": "share"}, "Share is a ratio itself"),
        ({"made_by": "difference", "second": "share"}, "Ratios are not added up"),
    ],
)
def test_what_cannot_be_made_says_why(
    api: Api, both: tuple[str, str], asked: dict[str, Any], says: str
) -> None:
    api.add_kpi("Fuel", [1.0] * 6, unit="L", aggregation="sum")
    make(api, both[0], made_by="ratio", second=both[1], name="Share")
    count = Kpi.objects.count()
    refused = api.send("POST", "/kpis/on-time/derivation", asked)
    assert refused.status_code == 422, refused.content
    assert says in refused.json()["issues"][0]["detail"]
    assert Kpi.objects.count() == count


def test_another_workspace_is_no_source(api: Api, both: tuple[str, str]) -> None:
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    theirs = stranger.add_kpi("Theirs", [1.0, 2, 3])
    asked = {"made_by": "ratio", "second": theirs}
    assert api.send("POST", f"/kpis/{both[0]}/derivation", asked).status_code == 404
    assert stranger.send("POST", f"/kpis/{both[0]}/derivation/preview", asked).status_code == 404


def test_both_numbers_of_a_ratio_are_typed(api: Api) -> None:
    rows = "\n".join(f"{FIRST + timedelta(days=7 * n)},{90 + n},{98 + n}" for n in range(6))
    read = ok(api.read(f"Week,On time,Departures\n{rows}", grain="week"))
    offer = read["offer"]
    assert (
        offer["says"]
        == "On time looks like a part of Departures: 555 of 603 in all, and never more."
    )
    answer = api.bring_in(
        f"Week,On time,Departures\n{rows}",
        grain="week",
        share=True,
        roles=offer["roles"],
        kpis={offer["key"]: offer["choice"]},
    )
    slug = ok(answer)["parts"][0]["slug"]
    shown = chart(api, slug)
    assert shown["kpi"]["name"] == "On time of departures"
    assert shown["points"]["numerator"] == [90, 91, 92, 93, 94, 95]
    last = ok(api.get(f"/kpis/{slug}/values"))["values"][-1]
    assert (last["numerator"], last["denominator"]) == (95, 103)
    edit = {"period": "+1", "numerator": 80, "denominator": 90}
    ok(api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]}))
    assert chart(api, slug)["points"]["value"][-1] == pytest.approx(100 * 80 / 90)
    for wrong, says in (
        ({"numerator": 91, "denominator": 90}, "91 of 90, and a part is never more"),
        ({"numerator": 9}, "takes both numbers"),
        ({"numerator": 9, "denominator": 0}, "no ratio by 0"),
    ):
        refused = api.send("POST", f"/kpis/{slug}/values", {"edits": [{"period": "+1"} | wrong]})
        assert refused.status_code == 422
        assert says in refused.json()["issues"][0]["detail"]
    # A table whose part is above its whole names the row and the column.
    more = "Week,On time,Departures\n2026-02-23,99,98\n2026-03-02,90,95"
    read = ok(api.read(more, into=slug, grain="week", roles=offer["roles"]))
    (issue,) = read["problems"]
    assert (issue["row"], issue["column"]) == (2, "On time")
    assert issue["detail"].startswith("99 of 98: On time is a part of Departures")
    refused = api.bring_in(more, into=slug, grain="week", roles=offer["roles"])
    assert refused.status_code == 422
    kept = api.bring_in(more, into=slug, grain="week", roles=offer["roles"], leave_out=True)
    assert kept.status_code == 201
    assert chart(api, slug)["points"]["numerator"][-1] == 90


@pytest.mark.parametrize(
    ("head", "rows", "offered"),
    [
        ("Week,Defects,Units", [(3 + n % 4, 200 + n) for n in range(8)], True),
        ("Week,Late orders,Orders", [(3 + n % 4, 20 + n) for n in range(8)], True),
        ("Week,Calls answered,Calls", [(30 - n % 4, 31 + n) for n in range(8)], True),
        ("Week,Turnaround,Passengers", [(20 + n % 3, 400 + n) for n in range(8)], False),
        ("Week,Defects,Units", [(300, 200 + n) for n in range(8)], False),
        ("Week,Late (min),Departures", [(3, 20 + n) for n in range(8)], False),
        ("Week,Ainsey,Holmsand", [(3, 20 + n) for n in range(8)], False),
    ],
)
def test_a_part_and_its_whole_are_offered_by_name_and_numbers(
    api: Api, head: str, rows: list[tuple[int, int]], offered: bool
) -> None:
    lines = [f"{FIRST + timedelta(days=7 * n)},{a},{b}" for n, (a, b) in enumerate(rows)]
    read = ok(api.read("\n".join([head, *lines])))
    assert (read["offer"] is not None) is offered


def test_small_denominators_are_said_to_swing(api: Api) -> None:
    below = [400, 390, 410, 400, 40, 405, 395, 400, 410, 400, 398, 402, 401, 399, 404, 38]
    above = [40, 38, 42, 40, 16, 40, 39, 41, 42, 40, 39, 41, 40, 40, 40, 12]
    lines = [
        f"{FIRST + timedelta(days=7 * n)},{a},{b}"
        for n, (a, b) in enumerate(zip(above, below, strict=True))
    ]
    read = ok(api.read("\n".join(["Week,Late,Departures", *lines])))
    offer = read["offer"]
    slug = ok(
        api.bring_in(
            "\n".join(["Week,Late,Departures", *lines]),
            share=True,
            grain="week",
            roles=offer["roles"],
            kpis={offer["key"]: offer["choice"]},
        )
    )["parts"][0]["slug"]
    shown = chart(api, slug)
    assert (
        "The denominators go from 38 to 410: values of periods with small ones swing more."
        in (shown["remarks"])
    )
    marked = [
        signal["points"] for signal in shown["signals"] if "smallest quarter" in signal["text"]
    ]
    assert marked
    assert {point for points in marked for point in points} <= {1, 4, 6, 15}
    assert [4] in marked


def test_calendars_go_together(api: Api, both: tuple[str, str]) -> None:
    first, second = both
    ratio = make(api, first, made_by="ratio", second=second)["slug"]
    double = make(api, first, made_by="multiple", times=2)["slug"]
    path = f"/kpis/{ratio}"
    for changes in ({"aggregation": "mean"}, {"time_zone": "Asia/Tokyo"}):
        refused = api.send("PATCH", path, changes, revision(api, path))
        assert refused.status_code == 409
        assert "from On time and Departures" in refused.json()["issues"][0]["detail"]
    path = f"/kpis/{first}"
    zone = {"time_zone": "Asia/Tokyo"}
    refused = api.send("PATCH", path, zone, revision(api, path))
    assert refused.status_code == 422
    assert "begin by other clocks" in refused.json()["issues"][0]["detail"]
    Kpi.objects.get(slug=ratio).delete()
    ok(api.send("PATCH", path, zone, revision(api, path)))
    moved = chart(api, double)
    assert moved["kpi"]["time_zone"] == "Asia/Tokyo"
    assert moved["points"]["period"] == chart(api, first)["points"]["period"]
    assert moved["points"]["value"] == [2 * value for value in chart(api, first)["points"]["value"]]


def test_a_workbook_computes_a_ratio_from_its_numbers(api: Api, both: tuple[str, str]) -> None:
    slug = make(api, both[0], made_by="ratio", second=both[1])["slug"]
    kpi = Kpi.objects.get(slug=slug)
    made = as_workbook("Shares", [(kpi.name, chart_of(kpi, clock.now()))], Progress())
    sheet = load_workbook(io.BytesIO(made)).worksheets[0]
    head = next(row for row in sheet.iter_rows() if row[0].value == "Period")
    columns = {cell.value: cell.column_letter for cell in head}
    row = head[0].row + 1
    above, below = (f"{columns[name]}{row}" for name in ("Numerator", "Denominator"))
    assert sheet[f"{columns['Value']}{row}"].value == f"=100*{above}/{below}"
    assert (sheet[above].value, sheet[below].value) == (45, 52)


@pytest.mark.parametrize("times", [1.7e-292, -3e-200])
def test_a_multiple_that_would_vanish_is_refused(api: Api, times: float) -> None:
    path = f"/kpis/{api.add_kpi('Ramp', [20, 21, 23])}"
    asked = {"made_by": "multiple", "times": times}
    refused = api.send("POST", f"{path}/derivation", asked, revision(api, path))
    assert (refused.status_code, refused.json()["issues"][0]["field"]) == (400, "times")


@pytest.mark.parametrize("times", [-1e-30, 4e17])
def test_multiples_at_the_ends_of_what_numbers_can_be_are_drawn(api: Api, times: float) -> None:
    rising = [20 + n * 0.8 + n % 3 for n in range(40)]
    slug = make(api, api.add_kpi("Ramp", rising), made_by="multiple", times=times)["slug"]
    assert chart(api, slug)["points"]["value"][0] == pytest.approx(20 * times)
