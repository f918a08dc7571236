"""The time between events, as a KPI that follows the one that counts them."""

from datetime import date, timedelta
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core.shaping import time_between
from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, csv_of, ok

BETWEEN = {"made_by": "time_between"}
STOPS = [0.0, 1, 0, 0, 2, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0]


@given(st.lists(st.integers(0, 3), max_size=30), st.integers(0, 40))
def test_each_event_but_the_first_is_as_far_as_the_calendar_says(
    counts: list[int], first: int
) -> None:
    numbers = np.arange(first, first + 2 * len(counts), 2)
    places, apart = time_between(numbers, np.array(counts, np.intp))
    events = [n for n, count in enumerate(counts) for _ in range(count)]
    assert places.tolist() == events[1:]
    assert apart.tolist() == [2 * (b - a) for a, b in pairwise(events)]


@pytest.fixture
def stops(api: Api) -> str:
    return api.add_kpi("Unplanned stops", STOPS, direction="lower", decimals=0)


def values(slug: str) -> list[float]:
    rows = Observation.objects.filter(kpi__slug=slug).order_by("period")
    return list(rows.values_list("value", flat=True))


def test_a_rare_count_offers_the_time_between_events_and_it_follows(api: Api, stops: str) -> None:
    chart = ok(api.get(f"/kpis/{stops}/analysis"))
    assert chart["nature"] == "rare"
    assert "too rare to chart by week" in chart["sentence"]["headline"]
    made = api.send("POST", f"/kpis/{stops}/derivation", BETWEEN)
    assert made.status_code == 201, made.content
    slug = made.json()["slug"]
    assert values(slug) == [21, 0, 42, 56]
    between = ok(api.get(f"/kpis/{slug}/analysis"))
    kpi = between["kpi"]
    assert (kpi["unit"], kpi["direction"], kpi["floor"]) == ("days", "higher", 0)
    assert kpi["derivation"]["sources"] == [{"slug": stops, "name": "Unplanned stops"}]
    assert (kpi["grain"], between["incomplete"], between["gaps"]) == ("day", None, [])
    # New data of the source come through, and are named in its history.
    longer = api.bring_in(csv_of([*STOPS, 0.0, 3.0]), into=stops)
    assert longer.status_code == 201
    assert values(slug) == [21, 0, 42, 56, 35, 0, 0]
    (act, *_) = ok(api.get(f"/kpis/{slug}/history"))["acts"]
    assert act["summary"].startswith("Followed Unplanned stops")
    last = ok(api.get(f"/kpis/{stops}/values"))["values"][-1]
    edit = {"period": last["period"], "value": 0.0, "seen": last["version"]}
    ok(api.send("POST", f"/kpis/{stops}/values", {"edits": [edit]}))
    assert values(slug) == [21, 0, 42, 56]
    # Its own values are not written by hand.
    edit = {"period": "2026-02-02", "value": 3.0}
    refused = api.send("POST", f"/kpis/{slug}/values", {"edits": [edit]})
    assert (refused.status_code, "follows Unplanned stops" in refused.json()["detail"]) == (
        409,
        True,
    )
    assert api.bring_in(csv_of([1.0, 2.0]), into=slug).status_code == 409
    # Without its source it is a KPI like any other.
    Kpi.objects.get(slug=stops).delete()
    alone = ok(api.get(f"/kpis/{slug}/analysis"))["kpi"]["derivation"]
    assert (alone["follows"], alone["sources"]) == (False, [])


@pytest.mark.parametrize(
    ("counts", "says"),
    [
        ([0.0, 0, 1, 0, 0, 0], "one event so far"),
        ([0.0] * 6, "no events so far"),
        ([0.5, 0, 0, 1, 0, 0], "no counts of events"),
        ([30_000.0, 0, 0], "30,000 events"),
    ],
)
def test_what_has_no_time_between_says_so(api: Api, counts: list[float], says: str) -> None:
    slug = api.add_kpi("Stops", counts)
    refused = api.send("POST", f"/kpis/{slug}/derivation", BETWEEN)
    assert refused.status_code == 422
    assert says in refused.json()["issues"][0]["detail"]
    assert Kpi.objects.count() == 1


def test_days_over_a_clock_change_are_whole(api: Api) -> None:
    first = date(2026, 3, 26)
    rows = "\n".join(f"{first + timedelta(days=n)},{int(n in (0, 2, 5))}" for n in range(8))
    answer = api.bring_in(f"Day,Stops\n{rows}", {"name": "Stops"}, grain="day")
    assert answer.status_code == 201
    slug = answer.json()["parts"][0]["slug"]
    assert (
        api.send("POST", f"/kpis/{slug}/derivation", BETWEEN | {"name": "Days between"}).status_code
        == 201
    )
    assert values("days-between") == [2, 3]


def test_the_sentence_counts_intervals_not_days(api: Api) -> None:
    slug = api.add_kpi("Stops", [float(n % 3 == 0 and n % 2 == 0) for n in range(60)])
    made = ok(api.send("POST", f"/kpis/{slug}/derivation", BETWEEN))["slug"]
    said = ok(api.get(f"/kpis/{made}/analysis"))["sentence"]
    assert said["headline"].endswith("all 9 intervals are 42\u00a0days.")
