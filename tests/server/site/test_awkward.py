"""A workspace with one of each awkward value: every screen opens, whatever is on it."""

from datetime import UTC, datetime
from typing import Any

import pytest

from fluctus.kpis.models import Kpi, Observation
from fluctus.tables.meaning.numbers import LARGEST
from tests.conftest import Api, ok, revision

AWKWARD: dict[str, list[float]] = {
    "One": [20.0],
    "Two": [20.0, 21.0],
    "All equal": [5.0] * 12,
    "All zero": [0.0] * 12,
    "Huge": [LARGEST, -LARGEST, 1.0, LARGEST, 3.0, 4.0, 5.0, 6.0],
    "Tiny": [1e-300, 2e-300, 1e-300, 3e-300, 1e-300, 2e-300, 1e-300],
    "Mixed": [1e-9, 1e12, -1e12, 0.0, 1e-9, 1e12, 3.0, 4.0],
    "Counts": [0.0, 0, 1, 0, 0, 2, 0, 0, 0, 1, 0, 0],
}
SCREENS = (
    "/overview",
    "/overview?weeks=52",
    "/overview/together",
    "/overview/together?within=30",
    "/kpis",
    "/findings",
    "/events",
    "/imports",
    "/pages",
    "/for-you",
    "/links",
    "/compare/goal?kpi=one&kpi=huge&kpi=ancient",
    "/compare/pair?x=huge&y=tiny",
    "/compare/pair?x=ancient&y=mixed",
)
OF_ONE = (
    "/analysis",
    "/analysis?by=year",
    "/analysis.csv",
    "/values",
    "/history",
    "/patterns",
    "/offers",
    "/findings",
    "/states",
    "/parts",
    "/shares",
    "/places",
    "/build-up",
    "/reach?target=1",
    "/false-alarms",
    "/lane?first=1800-01-01&last=2200-12-31&width=800",
    "/comparison",
    "/summary?spans=1800-01-01/2200-12-31",
)


@pytest.fixture
def awkward(api: Api) -> Api:
    slugs = [api.add_kpi(name, values) for name, values in AWKWARD.items()]
    # Put there by a version that kept any date.
    ancient = Kpi.objects.get(slug=api.add_kpi("Ancient", [20.0, 21, 22, 23, 24, 25]))
    first = Observation.objects.filter(kpi=ancient).order_by("period")[0]
    Observation.objects.filter(pk=first.pk).update(period=datetime(1, 1, 1, tzinfo=UTC))
    Kpi.objects.filter(pk=ancient.pk).update(revision=2)
    ancient.summary.oldest = datetime(1, 1, 1, tzinfo=UTC)
    ancient.summary.save()
    for slug, at in zip(slugs[:2], ("1800-01-06", "2200-12-22"), strict=True):
        ok(api.send("POST", f"/kpis/{slug}/values", {"edits": [{"period": at, "value": 9.0}]}))
    ok(
        api.send(
            "POST", f"/kpis/{slugs[3]}/values", {"edits": [{"period": "2026-04-06", "value": 1e15}]}
        )
    )
    event = {"title": "Long ago", "first": "1800-01-01", "last": "2200-12-31", "everywhere": True}
    ok(api.send("POST", f"/kpis/{slugs[0]}/lane", event, revision(api, f"/kpis/{slugs[0]}")))
    return api


def test_every_screen_opens_whatever_is_on_it(awkward: Api) -> None:
    failed = []
    for path in SCREENS:
        answer = awkward.get(path)
        if answer.status_code == 404 or answer.status_code >= 500:
            failed.append((path, answer.status_code))
    for kpi in Kpi.objects.all():
        for path in OF_ONE:
            answer = awkward.get(f"/kpis/{kpi.slug}{path}")
            # What cannot be computed of the one is said on its own screen alone.
            if answer.status_code == 404 or (answer.status_code >= 500 and kpi.slug != "ancient"):
                failed.append((kpi.slug + path, answer.status_code))
    assert failed == []
    rows = {row["slug"]: row for row in ok(awkward.get("/overview"))["rows"]}
    assert set(rows) == set(Kpi.objects.values_list("slug", flat=True))


def test_dates_are_kept_within_what_every_screen_can_compute(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", [20.0, 21, 22, 23, 24, 25])
    for period in ("0001-01-01", "1799-12-30", "2201-01-05", "9999-12-31"):
        answer = api.send(
            "POST", f"/kpis/{slug}/values", {"edits": [{"period": period, "value": 1.0}]}
        )
        assert answer.status_code == 422, period
        (issue,) = answer.json()["issues"]
        assert issue["remedy"] == "Write one of the years 1800 to 2200."
    ahead = api.send(
        "POST", f"/kpis/{slug}/values", {"edits": [{"period": "+99999", "value": 1.0}]}
    )
    assert ahead.status_code == 422
    assert api.get("/findings", since="0001-01-01").status_code == 400


def test_a_count_that_cannot_be_followed_is_refused_and_changes_nothing(api: Api) -> None:
    slug = api.add_kpi("Accidents", [0.0, 0, 1, 0, 0, 2, 0, 0, 0, 1])
    path = f"/kpis/{slug}"
    made = api.send(
        "POST",
        f"{path}/derivation",
        {"made_by": "time_between", "name": "Between"},
        revision(api, path),
    )
    assert made.status_code in (200, 201), made.content
    for value in (1e12, 2.5, -1.0):
        refused = api.send(
            "POST", f"{path}/values", {"edits": [{"period": "2026-03-16", "value": value}]}
        )
        assert refused.status_code == 422, value
        assert refused.json()["title"].startswith("Between cannot follow this")
    assert Observation.objects.filter(kpi__slug=slug).count() == 10


def test_long_waits_are_no_place(api: Api) -> None:
    table = "Week,Long waits,Late arrivals,Lat\n" + "\n".join(
        f"2026-0{n}-05,{10 + n},{20 + n},{30 + n}" for n in range(1, 8)
    )
    read: dict[str, Any] = ok(api.read(table))
    assert [kpi["name"] for kpi in read["kpis"]] == ["Long waits", "Late arrivals", "Lat"]
