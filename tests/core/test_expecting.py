"""What to expect: predictability, kinds of values, what a target takes, how soon one knows."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import event, given
from hypothesis import strategies as st

from fluctus.core import (
    CORE_RULES,
    Direction,
    Rule,
    SegmentSettings,
    Series,
    Settings,
    Spread,
    analyse,
)
from fluctus.core.judgment import Nature, nature_of, target_reach
from fluctus.core.judgment.predictability import predictability_of
from fluctus.core.judgment.time_to_signal import (
    expected_false_findings,
    false_alarms,
    smallest_change,
    time_to_signal,
)

SPIKY = st.lists(
    st.one_of(st.integers(0, 4), st.integers(0, 4), st.integers(0, 4), st.integers(0, 60)),
    min_size=1,
    max_size=80,
)


def tail(n: int, k: int) -> float:
    return sum(math.comb(n, i) * 0.01**i * 0.99 ** (n - i) for i in range(k, n + 1))


@given(SPIKY, st.sampled_from([None, 0.0]), st.booleans(), st.integers(0, 20))
def test_a_process_that_breaks_its_limits_too_often_is_not_predictable(
    values: list[int], floor: float | None, with_the_rule: bool, baseline: int
) -> None:
    window = (0, baseline) if 5 <= baseline <= len(values) else None
    settings = Settings(
        (SegmentSettings(window=window, spread=Spread.MEDIAN_RANGE),),
        floor=floor,
        rules=CORE_RULES if with_the_rule else frozenset({Rule.RUN}),
    )
    verdict = predictability_of(analyse(Series(values), settings))
    rest = values if window is None else values[: window[1]]
    if len(rest) < 5:
        assert verdict is None
        return
    ranges = sorted(abs(b - a) for a, b in pairwise(rest))
    half = len(ranges) // 2
    median = ranges[half] if len(ranges) % 2 else (ranges[half - 1] + ranges[half]) / 2
    centre = sum(rest) / len(rest)
    upper, lower = centre + 3.145 * median, centre - 3.145 * median
    clear = 1e-9 * max(map(abs, (centre, *values)), default=1)
    above = sum(value > upper + clear for value in values)
    below = sum(value < lower - clear for value in values)
    if floor is not None and lower < floor:
        below = 0
    assert verdict is not None
    assert (verdict.beyond, verdict.count) == (above + below, len(values))
    assert verdict.is_predictable is (tail(len(values), above + below) >= 0.001)
    event("predictable" if verdict.is_predictable else "not predictable")


@given(st.lists(st.sampled_from([0, 0, 0, 1, 1, 2, -1]), max_size=14))
def test_kinds_of_values_go_by_their_definitions(values: list[int]) -> None:
    kind = nature_of(Series(values))
    same = sum(a == b for a, b in pairwise(values))
    if len(values) < 2:
        assert kind is None
    elif len(set(values)) == 1:
        assert kind is Nature.ALL_EQUAL
    elif min(values) >= 0 and values.count(0) > len(values) / 2:
        assert kind is Nature.RARE
    elif len(values) >= 6 and same / (len(values) - 1) >= 0.75:
        assert kind is Nature.HOLDS
    else:
        assert kind is None
    event(str(kind))


@given(
    st.lists(st.integers(0, 200).map(lambda n: n / 10), min_size=6, max_size=40),
    st.integers(-50, 250).map(lambda n: n / 10),
    st.sampled_from([Direction.HIGHER, Direction.LOWER]),
    st.sampled_from([None, 0.0]),
)
def test_either_remedy_just_meets_the_target(
    values: list[float], target: float, direction: Direction, floor: float | None
) -> None:
    chart = analyse(Series(values), Settings(floor=floor, direction=direction))
    reach = target_reach(chart, target)
    average = sum(values) / len(values)
    spread = sum(abs(b - a) for a, b in pairwise(values)) / (len(values) - 1)
    assert reach is not None
    sign = 1 if direction is Direction.HIGHER else -1
    limit = average - sign * 2.66 * spread
    if floor is not None:
        limit = max(limit, floor)
    assert reach.average == pytest.approx(target + sign * abs(average - limit), abs=1e-9)
    if sign * (average - target) < -1e-9:
        assert reach.spread is None
    elif sign * (average - target) > 1e-9:
        assert reach.spread is not None
        # With such ranges, the limit falls on the target.
        assert average - sign * 2.66 * reach.spread == pytest.approx(target, abs=1e-9)
    if abs(limit - target) > 1e-9:
        assert reach.met is (sign * (limit - target) > 0)


def test_a_target_takes_nothing_where_no_way_is_wanted() -> None:
    assert target_reach(analyse(Series([1, 2, 1, 3, 2, 1])), 2.0) is None
    assert target_reach(analyse(Series([1, 2]), Settings(direction=Direction.LOWER)), 2.0) is None


def first_signal(values: list[float], limit: float, range_limit: float) -> int:
    """The point that completes the first signal of the core rules, from 1, by plain loops."""
    for n in range(len(values)):
        seen = values[: n + 1]
        if abs(seen[-1]) > limit:
            return n + 1
        if n and abs(seen[-1] - seen[-2]) > range_limit:
            return n + 1
        if n >= 7 and (all(v > 0 for v in seen[-8:]) or all(v < 0 for v in seen[-8:])):
            return n + 1
        for sign in (1, -1):
            if n >= 3 and sum(sign * v > limit / 2 for v in seen[-4:]) >= 3:
                return n + 1
    return len(values) + 1


@pytest.mark.parametrize("change", [0.0, 1.0, 2.5])
def test_how_soon_a_change_shows_agrees_with_plain_loops(change: float) -> None:
    spread = 2 / math.sqrt(math.pi)
    limit, range_limit = 2.66 * spread, 3.268 * spread
    runs = np.random.default_rng(7).normal(change, 1, (1500, 60)).tolist()
    firsts = sorted(first_signal(run, limit, range_limit) for run in runs)
    simulated = time_to_signal(CORE_RULES, 8, change)
    for share in (0.5, 0.8):
        plain = firsts[math.ceil(share * len(firsts)) - 1]
        if plain <= 60:
            # Three standard errors of a share of 1,500 runs, and of 20,000.
            by = simulated.points_until(share)
            room = 3.5 * math.sqrt(share * (1 - share)) * math.sqrt(1 / 1500 + 1 / 20000)
            assert sum(first <= by for first in firsts) / len(firsts) >= share - room
            assert sum(first <= by - 1 for first in firsts) / len(firsts) <= share + room


def test_no_change_is_a_false_alarm_and_a_larger_one_shows_sooner() -> None:
    assert time_to_signal(CORE_RULES, 8, 0.0) is false_alarms(CORE_RULES, 8)
    assert time_to_signal(CORE_RULES, 8, -1.0) is time_to_signal(CORE_RULES, 8, 1.0)
    soon = [time_to_signal(CORE_RULES, 8, change).points_until(0.8) for change in (0.5, 1, 2, 4)]
    assert soon == sorted(soon, reverse=True)
    assert soon[-1] == 1
    # Limits alone, exactly: each point with the chance of the normal tails.
    alone = false_alarms({Rule.OUTSIDE_LIMITS}, 8)
    outside = math.erfc(2.66 * 2 / math.sqrt(math.pi) / math.sqrt(2))
    assert alone.points_until(0.8) == pytest.approx(math.log(0.2) / math.log(1 - outside), rel=0.1)
    assert expected_false_findings(CORE_RULES, 8, 690) == pytest.approx(
        690 / false_alarms(CORE_RULES, 8).average_points
    )


def test_the_smallest_change_that_shows_in_time_shows_and_a_smaller_one_does_not() -> None:
    smallest = smallest_change(CORE_RULES, 8, 5, 0.8)
    assert smallest is not None
    assert time_to_signal(CORE_RULES, 8, smallest).points_until(0.8) <= 5
    assert time_to_signal(CORE_RULES, 8, smallest - 0.05).points_until(0.8) > 5
    # A run of eight is never there within five periods, whatever the change.
    assert smallest_change({Rule.RUN}, 8, 5, 0.8) is None
