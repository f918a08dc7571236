"""The tables that an empty workspace offers: each shows what is said of it, and nothing else."""

from pathlib import Path
from typing import Any

import pytest

from fluctus.kpis.models import Kpi
from tests.conftest import Api, ok

SAMPLES = Path(__file__).parents[3] / "web/src/intake/samples"


def brought(api: Api, name: str) -> tuple[Kpi, Any]:
    made = api.bring_in((SAMPLES / f"{name}.csv").read_text())
    assert made.status_code == 201, made.content
    kpi = Kpi.objects.get(slug=made.json()["parts"][0]["slug"])
    return kpi, ok(api.get(f"/kpis/{kpi.slug}/analysis"))


@pytest.mark.django_db
def test_routine_asks_for_nothing(api: Api) -> None:
    kpi, chart = brought(api, "routine")
    assert (chart["signals"], kpi.proposals["candidates"], kpi.proposals["patterns"]) == (
        [],
        [],
        [],
    )
    assert (kpi.name, kpi.unit, kpi.grain) == ("Crossing time", "min", "week")


@pytest.mark.django_db
def test_a_signal_is_one_week(api: Api) -> None:
    kpi, chart = brought(api, "signal")
    (signal,) = [one for one in chart["signals"] if one["judges"] != "ranges"]
    assert (signal["rule"], signal["label"], signal["count"]) == ("outside_limits", "20 Jul", 1)
    assert (kpi.proposals["candidates"], kpi.unexplained) == ([], 1)


@pytest.mark.django_db
def test_a_shift_is_asked_about_where_it_is(api: Api) -> None:
    kpi, chart = brought(api, "shift")
    (candidate,) = kpi.proposals["candidates"]
    assert candidate["period"] == "2026-06-22"
    assert candidate["before"]["average"] - candidate["after"]["average"] > 3
    assert "Something changed around 22 Jun." in chart["sentence"]["headline"]


@pytest.mark.django_db
def test_a_season_is_offered_to_the_limits(api: Api) -> None:
    kpi, _ = brought(api, "season")
    assert [pattern["follows"] for pattern in kpi.proposals["patterns"]] == ["month"]
    assert kpi.proposals["candidates"] == []
