"""What can be added to a chart: drawn on its own values, and nothing that is there already."""

import math
from statistics import fmean, quantiles
from typing import Any

from tests.conftest import Api, ok, revision

VALUES = [20.0, 24.0, 21.5, 23.0, 19.5, 22.0, 25.5, 20.5, 21.0, 23.5, 22.5, 18.5]
SETTINGS = (
    *("key", "made", "number", "factor", "amount", "length", "per"),
    *("color", "dash", "weight", "hidden"),
)


def offers(api: Api, slug: str, **query: Any) -> dict[str, Any]:
    answer = ok(api.get(f"/kpis/{slug}/offers", **query))
    return {one["title"]: one for one in answer["offers"]}


def add(api: Api, slug: str, *offered: dict[str, Any]) -> None:
    """Add what is offered, as the browser does."""
    path = f"/kpis/{slug}"
    lines = [
        {name: line[name] for name in SETTINGS} | {"key": f"{line['key']} {number}"}
        for number, one in enumerate(offered)
        for line in one["lines"]
    ]
    ok(api.send("PATCH", path, {"lines": lines}, revision=revision(api, path)))


def test_offers_are_drawn_on_the_values_shown(api: Api) -> None:
    slug = api.add_kpi("Ramp seals", VALUES)
    found = offers(api, slug)
    mean = fmean(VALUES)
    (above,) = found["Average \N{MULTIPLICATION SIGN} 1.25"]["lines"]
    assert math.isclose(above["level"], 1.25 * mean, rel_tol=1e-9)
    highest, lowest = found["Highest and lowest"]["lines"]
    assert (highest["level"], lowest["level"]) == (max(VALUES), min(VALUES))
    band = found["A band of the middle half"]
    assert band["is_band"]
    sides = [line["level"] for line in band["lines"]]
    assert [round(side, 9) for side in sides] == [
        round(quantiles(VALUES, n=4, method="inclusive")[n], 9) for n in (0, 2)
    ]
    (moving,) = found["Moving average of 4 weeks"]["lines"]
    answer = api.get(f"/kpis/{slug}/offers").json()
    assert answer["value"] == VALUES
    assert moving["course"][:3] == [None, None, None]
    assert math.isclose(moving["course"][3], fmean(VALUES[:4]), rel_tol=1e-9)
    # There is no year before, and no segment.
    assert not [title for title in found if "before" in title]


def test_what_is_there_already_is_not_offered_again(api: Api) -> None:
    slug = api.add_kpi("Ramp seals", VALUES)
    found = offers(api, slug)
    add(api, slug, *found.values())
    assert offers(api, slug) == {}
    # Nor is a level that lies on another one: here on the target.
    other = api.add_kpi("Ramp bolts", VALUES, target=round(1.25 * fmean(VALUES), 2))
    assert "Average \N{MULTIPLICATION SIGN} 1.25" not in offers(api, other)


def test_a_level_that_cannot_be_or_would_draw_the_values_flat_is_not_offered(api: Api) -> None:
    close = api.add_kpi("Seal thickness", [1000 + value / 1000 for value in VALUES])
    assert not [title for title in offers(api, close) if title.startswith("Average")]
    percent = api.add_kpi("Seals that hold", [90 + value / 4 for value in VALUES], ceiling=100)
    assert not [title for title in offers(api, percent) if title.startswith("Average")]
    wanted = api.add_kpi("Crossings", VALUES, direction="higher")
    assert "Average \N{MULTIPLICATION SIGN} 0.75" in offers(api, wanted)


def test_values_that_say_nothing_are_offered_nothing(api: Api) -> None:
    same = api.add_kpi("Berths", [6.0] * 12)
    assert set(offers(api, same)) <= {"Moving average of 4 weeks"}
    one = api.add_kpi("Tugs", [6.0])
    assert offers(api, one) == {}


def test_a_long_chart_is_pictured_small_with_its_extremes(api: Api) -> None:
    values = [20.0 + n % 7 for n in range(600)]
    values[123], values[457] = 41.0, 3.0
    slug = api.add_kpi("Lashings", values)
    answer = api.get(f"/kpis/{slug}/offers").json()
    assert len(answer["value"]) <= 82
    assert {41.0, 3.0} <= set(answer["value"])
    shown = api.get(f"/kpis/{slug}/offers", weeks=52).json()
    assert max(shown["value"]) < 41
