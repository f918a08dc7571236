"""What made a value, over HTTP: parts that add up to what the chart shows, and what is said."""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.core import Aggregation
from fluctus.kpis.models import Kpi
from tests.conftest import Api, ok, revision

FIRST = date(2026, 1, 5)
QUAYS = ("Marrowick", "Ainsey", "Holmsand")


def by_part(
    api: Api, name: str, parts: Mapping[str, Sequence[float | None]], how: str = "sum"
) -> str:
    rows = [
        f"{FIRST + timedelta(days=7 * n)},{part},{value}"
        for part, values in parts.items()
        for n, value in enumerate(values)
        if value is not None
    ]
    table = "\n".join([f"Week,Quay,{name}", *rows])
    read = ok(api.read(table, grain="week"))
    choice = {read["kpis"][0]["key"]: {"aggregation": how, "details": {"name": name}}}
    answer = ok(api.bring_in(table, grain="week", kpis=choice))
    slug = str(answer["parts"][0]["slug"])
    assert Kpi.objects.get(slug=slug).aggregation == how
    return slug


def made(api: Api, slug: str, week: int, **query: object) -> dict[str, Any]:
    first = (FIRST + timedelta(days=7 * week)).isoformat()
    return dict(ok(api.get(f"/kpis/{slug}/contributions", first=first, **query)))


def left_behind(seed: int = 5) -> dict[str, list[float]]:
    random = np.random.default_rng(seed)
    return {quay: random.poisson(8 + 4 * n, 20).tolist() for n, quay in enumerate(QUAYS)}


cells = st.one_of(st.none(), st.integers(0, 400).map(lambda n: n / 4))


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.lists(st.lists(cells, min_size=9, max_size=9), min_size=2, max_size=4),
    st.sampled_from(["sum", "mean"]),
    st.sampled_from([None, "month"]),
)
def test_parts_that_come_and_go_add_up_to_the_chart(
    api: Api, parts: list[list[float | None]], how: str, by: str | None
) -> None:
    Kpi.objects.all().delete()
    named = {
        f"Part {n}": values for n, values in enumerate(parts) if any(v is not None for v in values)
    }
    if len(named) < 2:
        return
    slug = by_part(api, "Left behind", named, how)
    query = {} if by is None else {"by": by}
    chart = ok(api.get(f"/kpis/{slug}/analysis", **query))
    value, period = chart["points"]["value"][-1], chart["points"]["period"][-1]
    answer = ok(api.get(f"/kpis/{slug}/contributions", first=period, **query))
    (way,) = answer["shared_out"]
    assert way["value"] == pytest.approx(value, abs=1e-9)
    included = [v for n, v in enumerate(chart["points"]["value"]) if n != chart["incomplete"]]
    assert way["usual"] == pytest.approx(sum(included) / len(included), abs=1e-9)
    assert sum(bar["brought"] for bar in way["bars"]) == pytest.approx(
        way["value"] - way["usual"], abs=1e-9
    )
    assert way["bars"][-1]["stop"] == pytest.approx(value, abs=1e-9)


def test_a_spike_is_told_by_the_part_that_made_it(api: Api) -> None:
    parts = left_behind()
    parts["Ainsey"][12] = 40
    slug = by_part(api, "Left behind", parts)
    answer = made(api, slug, 12)
    (way,) = answer["shared_out"]
    assert way["says"].startswith("Of the ")
    assert "more than usual, Ainsey brought " in way["says"]
    first, *rest = way["bars"]
    assert (first["name"], first["beyond"], first["stands_out"]) == ("Ainsey", 1, True)
    assert rest[-1]["name"] in ("The others", "Marrowick", "Holmsand")
    # Set aside, it is what it was, beside a usual that it takes no part in.
    path, period = f"/kpis/{slug}", (FIRST + timedelta(days=84)).isoformat()
    aside = {"period": period, "reason": "a count twice"}
    ok(api.send("POST", f"{path}/aside", aside, revision(api, path)))
    (alone,) = made(api, slug, 12)["shared_out"]
    assert alone["value"] == way["value"]
    assert alone["usual"] < way["usual"]
    assert alone["bars"][0]["name"] == "Ainsey"
    quiet = made(api, slug, 5)["shared_out"][0]
    assert quiet["says"].startswith("Everywhere alike")


def test_a_shift_is_held_against_what_was_before_and_two_dates_against_each_other(
    api: Api,
) -> None:
    parts = left_behind()
    parts["Holmsand"][10:] = [value + 15 for value in parts["Holmsand"][10:]]
    slug = by_part(api, "Left behind", parts)
    shift = made(api, slug, 10, shift="true")
    assert shift["than"] == "before 16 Mar"
    way = shift["shared_out"][0]
    expected = np.mean([sum(p[10:20][n] for p in parts.values()) for n in range(10)])
    before = np.mean([sum(p[:10][n] for p in parts.values()) for n in range(10)])
    assert (way["value"], way["usual"]) == pytest.approx((expected, before))
    assert "before 16 Mar, Holmsand brought 1" in way["says"]
    # The same once the shift is kept, when the segment before it is what there was.
    path = f"/kpis/{slug}"
    period = (FIRST + timedelta(days=70)).isoformat()
    segments = [{"start": None}, {"start": period, "name": "After"}]
    ok(api.send("PATCH", path, {"segments": segments}, revision(api, path)))
    kept = made(api, slug, 10, shift="true")["shared_out"][0]
    assert kept["bars"] == way["bars"]
    dates = made(api, slug, 12, against_first=FIRST.isoformat(), against_last="2026-01-19")
    assert dates["than"] == "from 5 Jan to 19 Jan"
    total = sum(bar["brought"] for bar in dates["shared_out"][0]["bars"])
    assert total == pytest.approx(
        dates["shared_out"][0]["value"] - dates["shared_out"][0]["usual"], abs=1e-9
    )


def test_a_rate_is_told_by_rate_and_weight_and_by_its_numbers(api: Api) -> None:
    on_time = {"Ainsey": [38.0, 39, 40, 38, 39, 40] * 3, "Holmsand": [9.0, 8, 9, 8, 9, 9] * 3}
    of_all = {"Ainsey": [42.0] * 18, "Holmsand": [10.0] * 18}
    on_time["Ainsey"][15] = 20.0
    first, second = by_part(api, "On time", on_time), by_part(api, "Departures", of_all)
    asked = {"made_by": "ratio", "second": second}
    slug = ok(api.send("POST", f"/kpis/{first}/derivation", asked))["slug"]
    answer = made(api, slug, 15)
    ways = {way["by"]: way for way in answer["shared_out"]}
    assert answer["shared_out"][0]["by"] == "parts"
    assert "less than usual, Ainsey brought" in ways["parts"]["says"]
    bar = ways["parts"]["bars"][0]
    assert bar["rate"] + bar["weight"] == pytest.approx(bar["brought"])
    for way in ways.values():
        assert sum(bar["brought"] for bar in way["bars"]) == pytest.approx(
            way["value"] - way["usual"], abs=1e-9
        )
    on, departures = ways["numbers"]["bars"]
    assert (on["name"], departures["name"]) == ("On time", "Departures")
    assert departures["brought"] == pytest.approx(0)
    late = ok(
        api.send("POST", f"/kpis/{second}/derivation", {"made_by": "difference", "second": first})
    )
    ways = {way["by"]: way for way in made(api, late["slug"], 15)["shared_out"]}
    assert [bar["name"] for bar in ways["sources"]["bars"]] == ["On time", "Departures"]
    assert ways["sources"]["says"].startswith("1")


def test_what_cannot_be_shared_out_says_why(api: Api) -> None:
    whole = api.add_kpi("Turnaround", [20.0, 21, 22, 20, 19, 21])
    assert "has no parts" in made(api, whole, 3)["says"]
    median = by_part(api, "Wait", left_behind(), Aggregation.MEDIAN.value)
    assert made(api, median, 3)["says"] == (
        "The median of several values is not made of what each part brings."
    )
    for query, field in (
        ({"first": "2099-01-01"}, "first"),
        ({"first": "no date"}, "first"),
        ({"first": FIRST.isoformat(), "against_first": FIRST.isoformat()}, "against_last"),
        ({"first": FIRST.isoformat(), "shift": "true"}, "first"),
    ):
        refused = api.get(f"/kpis/{whole}/contributions", **query)
        assert refused.status_code in (400, 422)
        assert refused.json()["issues"][0]["field"] == field
