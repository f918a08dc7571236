"""Comparisons through the API: parts, goals, pairs, places and shares."""

import math
import statistics
from datetime import date, timedelta
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from fluctus.kpis.calendar import Calendar, Grain, period_numbers, start_of_day
from fluctus.overview.compare.places import country_of
from tests.conftest import Api, file_of, join, ok

QUAYS = {
    "Ainsey": [12.0, 13, 12, 14, 12, 13, 12, 13, 12, 11],
    "Holmsand": [8.0, 9, 8, 10, 9, 8, 9, 8, 10, 9],
    "Skerry": [30.0, 31, 30],
}
WEEKS = [date(2026, 1, 5) + timedelta(weeks=n) for n in range(40)]


def table(parts: dict[str, list[float]]) -> str:
    rows = [
        f"{WEEKS[n]},{name},{value}" for name, own in parts.items() for n, value in enumerate(own)
    ]
    return "\n".join(["Week,Quay,Left behind", *rows])


def bring(api: Api, parts: dict[str, list[float]], **details: Any) -> str:
    wanted = {"name": "Left behind", "direction": "lower"} | details
    roles = {"Quay": "breakdown"}
    made = ok(api.bring_in(table(parts), wanted, grain="week", roles=roles))
    return f"/kpis/{made['parts'][0]['slug']}"


@pytest.fixture
def left(api: Api) -> str:
    return bring(api, QUAYS)


def test_parts_are_compared_each_by_its_own_chart(api: Api, left: str) -> None:
    seen = ok(api.get(f"{left}/parts"))
    parts = {part["name"]: part for part in seen["parts"]}
    assert list(parts) == ["Ainsey", "Holmsand", "Skerry"]
    own = QUAYS["Ainsey"]
    ranges = [abs(b - a) for a, b in pairwise(own)]
    assert parts["Ainsey"]["average"] == pytest.approx(statistics.mean(own))
    assert parts["Ainsey"]["mean_range"] == pytest.approx(statistics.mean(ranges))
    chart = ok(api.get(f"{left}/analysis", breakdown="Ainsey"))
    assert parts["Ainsey"]["upper"] == chart["segments"][0]["upper"]
    total = sum(sum(values) for values in QUAYS.values())
    assert seen["adds_up"]
    assert parts["Skerry"]["share"] == pytest.approx(91 / total)
    # Skerry has too few values, and is left out of what the others are held against.
    judged = [QUAYS["Ainsey"], QUAYS["Holmsand"]]
    spread = statistics.mean(
        statistics.mean(abs(b - a) for a, b in pairwise(values)) for values in judged
    )
    average = statistics.mean(judged[0] + judged[1])
    assert seen["average"] == pytest.approx(average)
    assert parts["Skerry"]["side"] is None
    assert parts["Ainsey"]["chance_upper"] == pytest.approx(
        average + 2.660 * spread / math.sqrt(10)
    )
    assert (parts["Ainsey"]["side"], parts["Holmsand"]["side"]) == (1, -1)
    assert seen["answer"].startswith("Ainsey is higher than chance explains: 12.4 against 10.6.")


def test_parts_are_chosen_ordered_and_cut_to_dates(api: Api, left: str) -> None:
    order = [part["name"] for part in ok(api.get(f"{left}/parts", order="average"))["parts"]]
    assert order == ["Skerry", "Ainsey", "Holmsand"]
    chosen = ok(api.get(f"{left}/parts", part=["Skerry"]))
    assert [part["name"] for part in chosen["parts"]] == ["Skerry"]
    assert chosen["rest"] == ["Ainsey", "Holmsand"]
    assert chosen["answer"].startswith("There are too few values")
    cut = ok(api.get(f"{left}/parts", first="2026-02-02", last="2026-02-22"))
    assert [part["n"] for part in cut["parts"]] == [3, 3, 0]
    assert cut["parts"][0]["chart"]["period"] == ["2026-02-02", "2026-02-09", "2026-02-16"]
    assert api.get(f"{left}/parts", part=["Nowhere"]).status_code == 422
    plain = f"/kpis/{api.add_kpi('Plain', [1, 2, 3, 4, 5, 6.0])}"
    refused = api.get(f"{plain}/parts")
    assert refused.status_code == 422
    assert "a column of names" in refused.json()["issues"][0]["remedy"]


def test_of_four_hundred_people_the_first_are_shown_and_the_rest_listed(api: Api) -> None:
    many = {f"Person {n:03}": [float(n % 7), 3.0, 4.0, 5.0, 4.0, 3.0] for n in range(400)}
    path = bring(api, many, name="Errors")
    seen = ok(api.get(f"{path}/parts"))
    assert (len(seen["parts"]), len(seen["rest"])) == (24, 376)
    too_many = api.get(f"{path}/parts", part=[f"Person {n:03}" for n in range(25)])
    assert too_many.status_code == 422
    assert "Choose 24" in too_many.json()["issues"][0]["remedy"]
    shares = ok(api.get(f"{path}/shares"))
    assert shares["parts"][-1]["name"] == "All others"
    assert sum(part["total"] for part in shares["parts"]) == pytest.approx(
        sum(sum(values) for values in many.values())
    )


def test_people_are_held_against_the_goal_of_their_table(api: Api) -> None:
    head = "Person," + ",".join(str(week) for week in WEEKS[:8])
    rows = [
        "Isla,12,11,12,13,12,11,12,12",
        "Rhona,9,10,9,8,9,10,9,9",
        "Goal," + ",".join(["11"] * 8),
    ]
    made = ok(api.bring_in("\n".join([head, *rows]), {"name": "Errors", "direction": "lower"}))
    (part,) = made["parts"]
    seen = ok(api.get(f"/kpis/{part['slug']}/parts"))
    people = {one["name"]: one for one in seen["parts"]}
    assert set(people) == {"Isla", "Rhona"}
    assert people["Isla"]["chart"]["target"] == 11
    assert people["Isla"]["share_met"] == pytest.approx(2 / 8)
    assert people["Rhona"]["share_met"] == 1


def test_kpis_of_one_unit_share_a_plot_and_a_goal(api: Api) -> None:
    one = api.add_kpi("One", [10, 12, 14, 9, 11, 13.0], unit="min", direction="lower", target=12)
    two = api.add_kpi("Two", [8, 7, 9, 8, 20, 8.0], unit="min", direction="lower", target=12)
    other = api.add_kpi("Other", [90, 91, 92.0], unit="%", direction="higher")
    asked = {"kpi": [two, one, other, "gone"]}
    seen = ok(api.get("/compare/goal", **asked))
    assert seen["gone"] == ["gone"]
    minutes, percent = seen["panels"]
    assert (minutes["goal"], [line["name"] for line in minutes["lines"]]) == (12, ["Two", "One"])
    assert [line["share_met"] for line in minutes["lines"]] == pytest.approx([5 / 6, 4 / 6])
    assert (percent["goal"], percent["lines"][0]["judged_by"]) == (None, "")
    typed = ok(api.get("/compare/goal", **asked, goal=9))
    assert [line["share_met"] for line in typed["panels"][0]["lines"]] == pytest.approx(
        [5 / 6, 1 / 6]
    )
    assert api.get("/compare/goal", kpi=[f"k{n}" for n in range(25)]).status_code == 400


def test_a_scatter_pairs_the_same_periods_with_a_lag_and_fits_a_line(api: Api) -> None:
    xs = [3, 5, 4, 8, 6, 9, 7, 5, 6, 4, 8, 7.0] * 3
    # Two weeks later the other is twice that, and one more; one week is far off.
    ys = [1.0, 1.0] + [2 * x + 1 for x in xs[:-2]]
    ys[7] = 40.0
    x, y = api.add_kpi("Ramp cycle", xs, unit="s"), api.add_kpi("Turnaround", ys, unit="min")
    seen = ok(api.get("/compare/pair", x=x, y=y, lag=2))
    assert (seen["n"], seen["grain"], seen["lag"]) == (34, "week", 2)
    pairs = list(zip(xs[:-2], ys[2:], strict=True))
    mx, my = (statistics.mean(side) for side in zip(*pairs, strict=True))
    slope = sum((a - mx) * (b - my) for a, b in pairs) / sum((a - mx) ** 2 for a, _ in pairs)
    assert seen["line"]["slope"] == pytest.approx(slope)
    assert seen["line"]["start"] == pytest.approx(my - slope * mx)
    assert [seen["points"]["label"][n] for n in seen["points"]["off"]] == ["23 Feb"]
    assert [point["n"] for point in seen["curve"]] == [36 - lag for lag in range(13)]
    assert "not causing" in seen["caution"]
    nbsp = "\N{NO-BREAK SPACE}"
    assert f"{nbsp}min for each s of Ramp cycle" in seen["line"]["equation"]


def test_what_cannot_be_paired_is_refused_with_what_to_do(api: Api) -> None:
    early = api.add_kpi("Early", [1, 2, 3, 4, 5, 6.0])
    rows = "\n".join(f"{WEEKS[n]},{n}" for n in range(30, 36))
    late = ok(api.bring_in(f"Week,x\n{rows}", {"name": "Late"}, grain="week"))["parts"][0]["slug"]
    same = api.add_kpi("Same", [1, 3, 2, 4, 6, 5.0])
    for query, said in (
        ({"x": early, "y": late}, "no week in common"),
        ({"x": early, "y": early}, "same KPI twice"),
        (
            {"x": early, "y": same, "lag": 9},
            "A lag of 9 weeks",
        ),
        ({"x": early, "y": late, "by": "day"}, "no values by day"),
    ):
        refused = api.get("/compare/pair", **query)
        assert refused.status_code == 422
        assert said in refused.json()["issues"][0]["detail"]
        assert refused.json()["issues"][0]["remedy"]
    assert api.get("/compare/pair", x=early, y=late, lag=13).status_code == 400


def test_what_both_follow_is_taken_out_unless_asked_otherwise(api: Api) -> None:
    noise = [0.3, -0.5, 0.1, 0.6, -0.2, -0.4, 0.5, 0.0, -0.6, 0.2]
    x = api.add_kpi("Falls", [90 - n + noise[n % 10] for n in range(40)])
    y = api.add_kpi("Falls too", [150 - 2 * n + noise[(n * 3) % 10] for n in range(40)])
    seen = ok(api.get("/compare/pair", x=x, y=y))
    assert seen["on_residuals"]
    assert "Both have a trend" in seen["warning"]
    plain = ok(api.get("/compare/pair", x=x, y=y, as_they_are=True))
    assert plain["on_residuals"] is False
    assert plain["warning"] == seen["warning"].replace("what is left without", "all of it")
    assert plain["line"]["r_squared"] > 0.95
    assert seen["line"]["r_squared"] < 0.4


def test_what_is_worth_comparing_is_found_before_anybody_asks(api: Api, left: str) -> None:
    random = np.random.default_rng(3)
    wind = random.normal(20, 3, 100)
    waits = random.normal(40, 1, 100)
    waits[2:] += 1.5 * (wind[:-2] - 20)
    # A shift that both have is no reason to go together, and neither is a season.
    calm = np.concatenate((random.normal(5, 1, 50), random.normal(15, 1, 50)))
    calls = np.concatenate((random.normal(50, 2, 50), random.normal(90, 2, 50)))
    slugs = {
        name: api.add_kpi(name, values.round(3).tolist(), unit=unit, target=25.0)
        for name, values, unit in (
            ("Wind", wind, "knots"),
            ("Wait", waits, "min"),
            ("Calm days", calm, "days"),
            ("Calls", calls, "calls"),
            ("Boarding", random.normal(12, 1, 100), "min"),
        )
    }
    for name in ("Calm days", "Calls"):
        path = f"/kpis/{slugs[name]}"
        shift = {"start": str(date(2026, 1, 5) + timedelta(weeks=50)), "name": "After"}
        ok(api.send("PATCH", path, {"segments": [{"start": None}, shift]}, revision=1))
    told = ok(api.get("/compare/suggestions"))
    (pair,) = told["pairs"]
    assert (pair["x"], pair["y"], pair["lag"]) == (slugs["Wind"], slugs["Wait"], 2)
    assert pair["says"].startswith("Where Wind is high, Wait is high 2 weeks later: r 0.")
    (parts,) = told["parts"]
    assert parts["kpis"] == [left.rsplit("/", 1)[1]]
    (goal,) = told["goals"]
    assert set(goal["kpis"]) == {slugs["Wait"], slugs["Boarding"]}
    assert "6 KPIs" in told["how"]
    stranger = Api(join("calum", "elsewhere"), "elsewhere")
    nothing = ok(stranger.get("/compare/suggestions"))
    assert [nothing[kind] for kind in ("parts", "pairs", "goals")] == [[], [], []]


def test_a_week_and_a_day_meet_at_the_longer_grain(api: Api) -> None:
    days = [date(2026, 1, 5) + timedelta(days=n) for n in range(28)]
    rows = "\n".join(f"{day},{n % 7}" for n, day in enumerate(days))
    daily = ok(api.bring_in(f"Day,x\n{rows}", {"name": "Daily"}, grain="day"))["parts"][0]["slug"]
    weekly = api.add_kpi("Weekly", [5, 6, 7, 8.0])
    seen = ok(api.get("/compare/pair", x=daily, y=weekly))
    assert (seen["grain"], seen["n"]) == ("week", 4)
    assert seen["grains"][0] == "week"


PLACES = "name,latitude,longitude\nAinsey,57.07,-20.1\nHolmsand,57.38,-19.7\n"


def test_places_are_kept_and_parts_found_on_the_map(api: Api, left: str) -> None:
    assert ok(api.get(f"{left}/places"))["unplaced"] == ["Ainsey", "Holmsand", "Skerry"]
    assert ok(api.send("PUT", "/places", {"text": PLACES})) == {"kept": 2}
    seen = ok(api.get(f"{left}/places", measure="total"))
    placed = {part["name"]: part for part in seen["parts"]}
    assert (placed["Ainsey"]["latitude"], placed["Ainsey"]["value"]) == (57.07, 124)
    assert seen["unplaced"] == ["Skerry"]
    assert ok(api.send("PUT", "/places", {"text": PLACES.replace("57.07", "57.1")})) == {"kept": 2}
    assert ok(api.get(f"{left}/places"))["parts"][0]["latitude"] == 57.1
    stranger = Api(join("mallory", "elsewhere"), "elsewhere")
    own = bring(stranger, QUAYS)
    assert ok(stranger.get(f"{own}/places"))["unplaced"] == ["Ainsey", "Holmsand", "Skerry"]


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("name,latitude,longitude\nAinsey,151.2,-33.9", 2, "exchange them"),
        ("name,latitude,longitude\nAinsey,57.0,x", 2, "57.21 and -5.98"),
        ("name,latitude,longitude\nAinsey,57.0,1\nAinsey,58.0,1", 3, "Leave one"),
        ("name,latitude,longitude\nAinsey,57.0,200", 2, "-180 to 180"),
        ("name,north,east\nAinsey,57.0,1", None, "Name them so"),
        ("latitude,longitude\n57.0,1", None, "such as quay"),
    ],
)
def test_places_that_cannot_be_are_refused_by_line(
    api: Api, left: str, text: str, line: int | None, said: str
) -> None:
    refused = api.send("PUT", "/places", {"text": text})
    assert refused.status_code == 422
    (issue,) = refused.json()["issues"]
    assert issue["row"] == line
    assert said in issue["remedy"]
    assert ok(api.get(f"{left}/places"))["unplaced"] == ["Ainsey", "Holmsand", "Skerry"]


def test_exchanged_coordinates_are_kept_once_that_is_said(api: Api, left: str) -> None:
    text = "name,latitude,longitude\nAinsey,151.2,-33.9"
    assert ok(api.send("PUT", "/places", {"text": text, "exchange": True})) == {"kept": 1}
    ainsey = ok(api.get(f"{left}/places"))["parts"][0]
    assert (ainsey["latitude"], ainsey["longitude"]) == (-33.9, 151.2)


def test_areas_come_from_a_file_and_countries_by_name(api: Api, left: str) -> None:
    ring = "[[-20.2,57],[-20,57],[-20,57.1],[-20.2,57.1],[-20.2,57]]"
    feature = (
        '{"type":"Feature","properties":{"name":"ainsey"},'
        f'"geometry":{{"type":"Polygon","coordinates":[{ring}]}}}}'
    )
    content = f'{{"type":"FeatureCollection","features":[{feature}]}}'.encode()
    kept = ok(api.client.post(f"{api.base}/areas", {"file": file_of(content, "isles.geojson")}))
    assert kept == {"names": ["ainsey"], "matched": ["Ainsey"]}
    seen = ok(api.get(f"{left}/places"))
    assert (seen["parts"][0]["area"], seen["areas_file"]) == ("ainsey", "isles.geojson")
    (area,) = ok(api.get("/areas"))["features"]
    assert area["properties"] == {"name": "ainsey"}
    assert api.send("DELETE", "/areas").status_code == 204
    assert ok(api.get("/areas"))["features"] == []
    assert [country_of(name) for name in ("Norway", "NO", "NOR", "Ainsey")] == [
        "578",
        "578",
        "578",
        None,
    ]


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"{", "damaged"),
        (b'{"type":"FeatureCollection","features":[]}', "no GeoJSON with areas"),
        (b"[1]", "no GeoJSON with areas"),
        (
            b'{"type":"Feature","properties":{},"geometry":{"type":"Polygon",'
            b'"coordinates":[[[0,0],[1,0],[1,1],[0,0]]]}}',
            "no names",
        ),
        (
            b'{"type":"Feature","properties":{"name":"A"},"geometry":{"type":"Polygon",'
            b'"coordinates":[[[57,120],[58,120],[58,121],[57,120]]]}}',
            "past the pole",
        ),
        (
            b'{"type":"Feature","properties":{"name":"A"},"geometry":{"type":"Polygon",'
            b'"coordinates":[[["x",0],[1,0],[1,1],[0,0]]]}}',
            "border of A cannot be read",
        ),
        (b" " * 9_000_000, "9 MB"),
    ],
)
def test_areas_that_cannot_be_are_refused(api: Api, content: bytes, said: str) -> None:
    refused = api.client.post(f"{api.base}/areas", {"file": file_of(content, "x.geojson")})
    assert refused.status_code == 422
    (issue,) = refused.json()["issues"]
    assert said in issue["detail"]
    assert issue["remedy"]
    assert ok(api.get("/areas"))["features"] == []


def test_shares_add_up_to_the_whole_period_by_period(api: Api, left: str) -> None:
    seen = ok(api.get(f"{left}/shares"))
    assert [part["name"] for part in seen["parts"]] == ["Ainsey", "Skerry", "Holmsand"]
    whole = ok(api.get(f"{left}/analysis"))["points"]["value"]
    columns = zip(*(part["values"] for part in seen["parts"]), strict=True)
    assert [sum(column) for column in columns] == whole
    assert sum(part["share"] for part in seen["parts"]) == pytest.approx(1)
    assert seen["sentence"].startswith("Ainsey has 41% of")
    mean = bring(api, QUAYS, name="Delay", target=3)
    change = {"aggregation": "mean"}
    rev = ok(api.get(f"{mean}/analysis"))["kpi"]["revision"]
    ok(api.send("PATCH", mean, change, revision=rev))
    refused = api.get(f"{mean}/shares")
    assert refused.status_code == 422
    assert "what adds up" in refused.json()["issues"][0]["remedy"]


def test_places_come_with_the_data_that_has_their_coordinates(api: Api) -> None:
    rows = [
        f"{WEEKS[n]},{name},{5 + n},{north},{east}"
        for n in range(6)
        for name, north, east in (("Ainsey", 57.07, -20.1), ("Holmsand", 57.38, -19.7))
    ]
    text = "\n".join(["Week,Quay,Left behind,Latitude,Longitude", *rows])
    made = ok(api.bring_in(text, grain="week"))
    assert [part["name"] for part in made["parts"]] == ["Left behind"]
    seen = ok(api.get(f"/kpis/{made['parts'][0]['slug']}/places"))
    assert [(part["latitude"], part["longitude"]) for part in seen["parts"]] == [
        (57.07, -20.1),
        (57.38, -19.7),
    ]


def test_weeks_that_begin_on_other_days_meet_those_of_the_nearest_monday() -> None:
    monday = date(2026, 1, 5)
    for offset, week in ((-4, -1), (-3, 0), (-1, 0), (0, 0), (3, 0), (4, 1)):
        zone = ZoneInfo("Europe/London")
        days = [monday, monday + timedelta(days=offset)]
        instants = np.array([start_of_day(day, zone).timestamp() for day in days])
        first, other = period_numbers(instants, Grain.WEEK, Calendar(zone)).tolist()
        assert other - first == week
