"""What a chart carries besides its numbers: set-aside values, digests, comparisons, words."""

import filecmp
import json
import subprocess
from pathlib import Path
from typing import Any

import pytest

from demo import generate
from demo.scenario import KPIS
from fluctus.accounts.models import Workspace
from fluctus.kpis.calendar import Grain
from fluctus.kpis.models import Kpi, Observation
from tests.conftest import Api, csv_of, golden
from tests.gallery import Shape, hang, noise

STEADY = [10.0, 11, 9, 10, 11, 10, 9, 10, 11, 10, 9, 10, 11, 9, 10, 11, 10, 9]


@pytest.fixture
def kpi(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', [*STEADY, 30.0, 10.0], unit='s')}"


def chart(api: Api, path: str, **query: Any) -> Any:
    answer = api.get(f"{path}/analysis", **query)
    assert answer.status_code == 200
    return answer.json()


def test_values_set_aside_are_marked_with_their_reason(api: Api, kpi: str) -> None:
    row = Observation.objects.get(value=30)
    Observation.objects.filter(pk=row.pk).update(set_aside=True, reason="Gale, ramp closed")
    body = chart(api, kpi)
    assert body["set_aside"] == [{"position": 18, "reason": "Gale, ramp closed"}]
    assert body["hollow_ranges"] == [18, 19]
    assert body["signals"] == []
    assert body["points"]["moving_range"][18] == 21
    assert body["segments"][0]["n"] == 19


def test_numbers_say_how_they_were_made(api: Api, kpi: str) -> None:
    made = chart(api, kpi)["segments"][0]["how"].replace("\xa0", " ")
    assert made.startswith("Average 11.0 s of 20 weeks from 5 Jan. Limits ")
    assert "2.660" in made
    assert "3.268" in made
    settings = {
        "segments": [
            {
                "start": None,
                "centre": "median",
                "spread": "median_range",
                "window": ["2026-01-05", "2026-02-09"],
            }
        ],
        "floor": 9.5,
    }
    body = api.send("PATCH", kpi, settings, revision=1).json()
    made = body["segments"][0]["how"].replace("\xa0", " ")
    assert made.startswith("Median 10.0 s of a baseline of 6 weeks.")
    assert "3.145" in made
    assert "held at the bound" in made
    assert "Provisional" in made
    few = f"/kpis/{api.add_kpi('Few', [1.0, 2.0])}"
    assert "Too few for limits" in chart(api, few)["segments"][0]["how"]


def test_before_and_after_compare_the_last_two_segments(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Ramp', [*STEADY, *(v - 5 for v in STEADY)], direction='lower')}"
    assert chart(api, path)["comparison"] is None
    shift = [{"start": None, "name": "Before"}, {"start": "2026-05-11"}]
    body = api.send("PATCH", path, {"segments": shift, "target": 8.0}, revision=1).json()
    comparison = body["comparison"]
    assert (comparison["before"], comparison["after"]) == ("Before", "From 11 May")
    rows = {row["name"]: (row["before"], row["after"]) for row in comparison["rows"]}
    assert rows["Average"] == ("10.00", "5.00")
    assert rows["Meets target"] == ("0%", "100%")
    # A segment too short for limits has none to compare.
    short = [*shift, {"start": "2026-08-31"}]
    body = api.send("PATCH", path, {"segments": short}, revision=2).json()
    (apart,) = (r for r in body["comparison"]["rows"] if r["name"] == "Limits apart")
    assert apart["after"] == "\u2014"


def test_a_window_shows_its_periods_and_changes_no_number(api: Api, kpi: str) -> None:
    whole = chart(api, kpi)
    part = chart(api, kpi, first="2026-01-20", last="2026-03-02")
    assert part["points"]["period"][0] == "2026-01-26"
    assert part["points"]["period"][-1] == "2026-03-02"
    assert part["shown"] == [3, 9]
    assert part["segments"] == whole["segments"]
    assert part["sentence"] == whole["sentence"]
    assert (part["signals"], part["happenings"]) == ([], [])
    assert part["finding_count"] == whole["finding_count"]
    nothing = chart(api, kpi, first="2030-01-01", last="2030-02-01")
    assert nothing["points"]["value"] == []
    backwards = chart(api, kpi, first="2026-03-02", last="2026-01-05")
    assert backwards["points"]["value"] == []
    for query in ({"width": 0}, {"width": "wide"}, {"width": 99999}):
        assert api.get(f"{kpi}/analysis", **query).status_code == 400


def test_an_update_changes_only_what_it_names(api: Api, kpi: str) -> None:
    before = chart(api, kpi)["kpi"]
    after = api.send("PATCH", kpi, {"target": 12.5}, revision=1).json()["kpi"]
    assert after == before | {"target": 12.5, "revision": 2}
    same = api.send("PATCH", kpi, {"target": 12.5}, revision=2)
    assert same.json()["kpi"]["revision"] == 2  # nothing changed, nothing to undo twice
    assert same["ETag"].startswith('"2.')


def test_a_kpi_of_one_value_and_of_equal_values(api: Api) -> None:
    one = chart(api, f"/kpis/{api.add_kpi('One', [5.0])}")
    assert one["points"]["moving_range"] == [None]
    assert "Limits come with 5 values; there is 1 so far." in one["sentence"]["detail"]
    equal = chart(api, f"/kpis/{api.add_kpi('Equal', [7.0] * 20)}")
    assert equal["signals"] == []
    assert equal["segments"][0]["upper"] == equal["segments"][0]["lower"] == 7


def test_slugs_are_made_of_names_and_stay_when_names_change(api: Api) -> None:
    assert api.add_kpi("Left on time, %", STEADY) == "left-on-time"
    assert api.add_kpi("Left on time", STEADY) == "left-on-time-2"
    assert api.add_kpi("\u6642\u9593", STEADY) == "kpi"
    api.send("PATCH", "/kpis/kpi", {"name": "Time"}, revision=1)
    assert Kpi.objects.get(name="Time").slug == "kpi"


def test_the_preview_of_a_table_is_the_chart_it_makes(api: Api) -> None:
    values = golden("shift not recalculated")["values"]
    details = {"name": "Ramp", "unit": "s", "direction": "lower", "floor": 0, "target": 20}
    chosen: dict[str, Any] = {"kpis": {"Ramp cycle (s)": {"details": details}}}
    preview = api.read(csv_of(values), **chosen).json()["chart"]
    slug = api.bring_in(csv_of(values), **chosen).json()["parts"][0]["slug"]
    saved = chart(api, f"/kpis/{slug}")
    for part in ("points", "segments", "signals", "sentence", "comparison"):
        assert saved[part] == preview[part]


def test_the_demo_files_are_what_the_generator_makes(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    kept = generate.DATA
    monkeypatch.setattr(generate, "DATA", tmp_path)
    generate.main()
    names = sorted(path.name for path in tmp_path.iterdir())
    assert names == sorted(path.name for path in kept.iterdir())
    others = {"gales.ics", "quays.csv", "islands.geojson"}
    assert {kpi.file for kpi in KPIS} | others == set(names)
    different = filecmp.cmpfiles(kept, tmp_path, names, shallow=False)[1:]
    assert different == ([], [])


@pytest.mark.parametrize(
    ("command", "says"),
    [
        (["script/start", "--fast"], "It takes --dev, or nothing."),
        (["script/person", "isla"], "takes a name and a workspace"),
    ],
)
def test_commands_say_how_they_are_used(command: list[str], says: str) -> None:
    done = subprocess.run(  # noqa: S603 - our own words
        command, capture_output=True, text=True, check=False
    )
    assert done.returncode == 1
    assert says in done.stderr


LARGEST = 120_000
"""Bytes of an answer, uncompressed, whatever the series and the width."""


@pytest.mark.parametrize("width", [400, 1000, 8000])
def test_an_answer_is_as_large_as_what_is_drawn(api: Api, width: int) -> None:
    workspace = Workspace.objects.get()
    flagged = Shape(
        "All flagged",
        [(5.0, 35.0)[n // 20 % 2] + n % 7 / 10 for n in range(20_000)],
        Grain.HOUR,
        {"unit": "s", "raises": "everything"},
        aside=frozenset(range(50, 9000, 3)),
        missing=frozenset(range(9_001, 19_000, 11)),
        cuts=tuple(range(1000, 15_000, 1_200)),
    )
    for shape in (Shape("Long", noise(30_000, 15, 2), Grain.HOUR), flagged):
        path = f"/kpis/{hang(workspace, shape).slug}"
        answer = api.get(f"{path}/analysis", width=width)
        assert answer.status_code == 200
        body = answer.json()
        sizes = {name: len(json.dumps(part)) for name, part in body.items()}
        assert len(answer.content) <= LARGEST, sizes
        assert sum(signal["stands_for"] for signal in body["signals"]) >= len(body["signals"])
        drawn = set(body["points"]["position"])
        assert all(set(signal["points"]) <= drawn for signal in body["signals"])
        levels = api.send("POST", f"{path}/preview/levels?width={width}", {"target": 20})
        assert levels.status_code == 200
        assert len(levels.content) <= LARGEST / 2
        assert levels.json()["points"] is None
