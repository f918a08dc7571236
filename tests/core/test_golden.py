"""Every worked case, to a relative error of 1e-9."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from fluctus.core import (
    Analysis,
    Centre,
    Rule,
    SegmentSettings,
    Series,
    Settings,
    Spread,
    analyse,
    analyse_many,
)

CASES: list[dict[str, Any]] = json.loads(Path(__file__).with_name("golden.json").read_text())[
    "cases"
]


def series_of(case: dict[str, Any]) -> Series:
    aside = np.zeros(len(case["values"]), bool)
    aside[case.get("set_aside", [])] = True
    return Series([np.nan if v is None else v for v in case["values"]], aside)


def settings_of(case: dict[str, Any]) -> Settings:
    windows = case.get("limit_windows", {})
    starts = [0, *case.get("segment_starts", [])]
    centre = Centre(case.get("centre", "mean"))
    spread = Spread(case.get("spread", "mean_range"))
    return Settings(
        segments=tuple(
            SegmentSettings(
                start, tuple(windows[str(i)]) if str(i) in windows else None, centre, spread
            )
            for i, start in enumerate(starts)
        ),
        rules=frozenset(Rule),
        run_length=case.get("run_length", 8),
        floor=case.get("floor"),
        ceiling=case.get("ceiling"),
    )


def check(result: Analysis, case: dict[str, Any]) -> None:
    expected = case["expect"]
    assert len(result.segments) == len(expected["segments"])
    for segment, want in zip(result.segments, expected["segments"], strict=True):
        assert (segment.start, segment.stop, segment.n) == (want["start"], want["end"], want["n"])
        got = {
            "average": segment.average,
            "range": segment.spread,
            "upper": segment.upper,
            "lower": segment.lower,
            "range_limit": segment.range_limit,
        }
        for name, number in got.items():
            assert number == (
                None if want[name] is None else pytest.approx(want[name], rel=1e-9, abs=1e-12)
            ), name
    ranges = [None if np.isnan(r) else r for r in result.moving_ranges]
    assert [r is None for r in ranges] == [r is None for r in expected["moving_ranges"]]
    assert [r for r in ranges if r is not None] == pytest.approx(
        [r for r in expected["moving_ranges"] if r is not None], rel=1e-9, abs=1e-12
    )
    flagged = {rule: result.signals.flagged(Rule(rule)).tolist() for rule in expected["signals"]}
    assert flagged == expected["signals"]


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    check(analyse(series_of(case), settings_of(case)), case)


@pytest.mark.parametrize("run_length", [7, 8, 9])
def test_worked_cases_as_one_batch(run_length: int) -> None:
    cases = [case for case in CASES if case.get("run_length", 8) == run_length]
    assert cases
    batch = analyse_many([series_of(c) for c in cases], [settings_of(c) for c in cases])
    for result, case in zip(batch, cases, strict=True):
        check(result, case)
