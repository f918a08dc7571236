"""Where limits come from, how firm they are, and the numbers each rule judges by."""

import dataclasses
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import (
    CORE_RULES,
    EXTENDED_RULES,
    RULES,
    Centre,
    Direction,
    Firmness,
    Rule,
    SegmentSettings,
    Series,
    Settings,
    Side,
    Signal,
    Spread,
    analyse,
    analyse_many,
)
from fluctus.core.analysis import constants
from fluctus.core.analysis.ties import differs, just_above, just_below
from fluctus.core.arrays import sum_slices

ALL = frozenset(Rule)
BASE = [10.0, 11, 9, 10, 11, 10, 9, 10, 11, 10, 9, 10, 11, 9, 10, 11, 10, 9]
BASELINE = Settings((SegmentSettings(0, (0, 18)),), ALL)
"""BASE as a baseline: average 10, mean moving range 19 / 17."""
SIGMA = 2.660 * 19 / 17 / 3


def signals_of(after: list[float], settings: Settings = BASELINE) -> dict[Rule, Signal]:
    """The last signal of each rule among the values that follow the baseline."""
    chart = analyse(Series([*BASE, *after]), settings)
    return {s.rule: s for s in chart.signals if s.points[-1] >= len(BASE)}


def test_the_factors_are_what_their_source_derives() -> None:
    """d2, the median of ranges of two and D4, from the normal distribution itself."""
    d2 = 2 / math.sqrt(math.pi)  # mean distance of two normal values, in sigma
    d3 = math.sqrt(2 - d2**2)  # and its standard deviation
    assert pytest.approx(3 / d2, abs=2e-3) == constants.MEAN_RANGE_TO_LIMITS
    assert pytest.approx(1 + 3 * d3 / d2, abs=2e-3) == constants.MEAN_RANGE_TO_RANGE_LIMIT
    d4 = 0.6744897501960817 * math.sqrt(2)  # median distance of two normal values
    assert pytest.approx(3 / d4, abs=2e-3) == constants.MEDIAN_RANGE_TO_LIMITS
    assert pytest.approx((d2 + 3 * d3) / d4, abs=5e-3) == constants.MEDIAN_RANGE_TO_RANGE_LIMIT


def test_a_process_that_does_not_change_is_seldom_outside_its_limits() -> None:
    values = np.random.default_rng(1).normal(20, 1.5, 200_000)
    chart = analyse(Series(values), Settings(rules=ALL))
    (segment,) = chart.segments
    assert segment.sigma == pytest.approx(1.5, rel=0.01)
    share = len(chart.signals.flagged(Rule.OUTSIDE_LIMITS)) / len(values)
    assert 0.002 < share < 0.0035  # 0.0027 with sigma known exactly


@pytest.mark.parametrize(
    ("count", "firmness"),
    [(0, "none"), (4, "none"), (5, "provisional"), (16, "provisional"), (17, "firm")],
)
def test_limits_firm_up_with_the_values_they_rest_on(count: int, firmness: str) -> None:
    (segment,) = analyse(Series(BASE[:count])).segments
    assert segment.firmness is Firmness(firmness)
    assert (segment.upper is None) == (firmness == "none")
    # Values that are missing or set aside do not count.
    aside = [False] * count + [True, False]
    (segment,) = analyse(Series([*BASE[:count], 99, float("nan")], aside)).segments
    assert segment.n == count
    assert segment.firmness is Firmness(firmness)


def test_no_included_moving_range_gives_no_limits() -> None:
    every_other = [n % 2 == 1 for n in range(18)]
    chart = analyse(Series(BASE, every_other), Settings(rules=ALL))
    (segment,) = chart.segments
    assert segment.n == 9
    assert (segment.spread, segment.upper, segment.sigma) == (None, None, None)
    assert segment.average == pytest.approx(np.mean(BASE[::2]))
    assert {signal.rule for signal in chart.signals} <= {Rule.RUN}


def test_a_window_takes_only_ranges_with_both_values_in_it() -> None:
    values = [0.0, 100, 101, 102, 103, 104, 0]
    (segment,) = analyse(Series(values), Settings((SegmentSettings(0, (1, 6)),))).segments
    assert segment.average == 102
    assert segment.spread == 1.0
    assert segment.n == 5


def test_medians_resist_one_wild_value() -> None:
    wild = [*BASE[:17], 500.0]
    choice = SegmentSettings(0, None, Centre.MEDIAN, Spread.MEDIAN_RANGE)
    (segment,) = analyse(Series(wild), Settings((choice,))).segments
    assert segment.average == 10.0
    assert segment.spread == 1.0
    assert segment.upper == pytest.approx(10 + 3.145)
    assert segment.range_limit == 3.865


@pytest.mark.parametrize(
    ("floor", "ceiling", "upper", "lower", "clipped"),
    [
        (None, None, 10 + 3 * SIGMA, 10 - 3 * SIGMA, (False, False)),
        (8.0, None, 10 + 3 * SIGMA, 8.0, (False, True)),
        (None, 12.0, 12.0, 10 - 3 * SIGMA, (True, False)),
        (8.0, 12.0, 12.0, 8.0, (True, True)),
        (0.0, 100.0, 10 + 3 * SIGMA, 10 - 3 * SIGMA, (False, False)),
    ],
)
def test_a_bound_clips_a_limit_and_leaves_sigma(
    floor: float | None,
    ceiling: float | None,
    upper: float,
    lower: float,
    clipped: tuple[bool, bool],
) -> None:
    bounded = dataclasses.replace(BASELINE, floor=floor, ceiling=ceiling)
    chart = analyse(Series([*BASE, 50.0, -50.0]), bounded)
    (segment,) = chart.segments
    assert segment.upper == pytest.approx(upper)
    assert segment.lower == pytest.approx(lower)
    assert (segment.upper_clipped, segment.lower_clipped) == clipped
    assert segment.sigma == pytest.approx(SIGMA)
    # A clipped limit cannot be exceeded; the other still can.
    sides = {s.side for s in chart.signals if s.rule is Rule.OUTSIDE_LIMITS}
    assert sides == {
        side for side, cut in zip((Side.UPPER, Side.LOWER), clipped, strict=True) if not cut
    }


@pytest.mark.parametrize(
    ("rule", "after", "side", "level", "points"),
    [
        (Rule.OUTSIDE_LIMITS, [13.1], Side.UPPER, 3, [18]),
        (Rule.OUTSIDE_LIMITS, [6.9, 6.8], Side.LOWER, -3, [18, 19]),
        (Rule.RUN, [10.1] * 8, Side.UPPER, 0, [*range(18, 26)]),
        (Rule.NEAR_LIMIT, [11.6, 10, 11.6, 11.6], Side.UPPER, 1.5, [18, 20, 21]),
        (Rule.NEAR_LIMIT, [8.4, 8.4, 8.4, 8.4], Side.LOWER, -1.5, [18, 19, 20, 21]),
        (Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA, [12.1, 10, 12.1], Side.UPPER, 2, [18, 20]),
        (
            Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA,
            [8.9, 8.9, 10, 8.9, 8.9],
            Side.LOWER,
            -1,
            [17, 18, 19, 21, 22],
        ),
        (Rule.SIX_TRENDING, [9.1, 9.2, 9.3, 9.4, 9.5], Side.UPPER, None, [*range(17, 23)]),
        (Rule.FIFTEEN_WITHIN_ONE_SIGMA, [10.5, 9.5] * 8, Side.NEITHER, None, None),
        (Rule.EIGHT_BEYOND_ONE_SIGMA, [11.2, 8.8] * 4, Side.NEITHER, None, None),
        (Rule.FOURTEEN_ALTERNATING, [10.5, 9.5] * 7, Side.NEITHER, None, None),
    ],
)
def test_each_rule_says_what_it_judged_by(
    rule: Rule, after: list[float], side: Side, level: float | None, points: list[int] | None
) -> None:
    signal = signals_of(after)[rule]
    assert signal.side is side
    assert signal.centre == pytest.approx(10)
    assert signal.level == (None if level is None else pytest.approx(10 + level * SIGMA))
    if points is not None:
        assert list(signal.points) == points
    assert len(signal.values) == len(signal.points)


def test_a_range_signal_is_judged_by_its_ranges_and_never_favorable() -> None:
    settings = dataclasses.replace(BASELINE, direction=Direction.HIGHER)
    signal = signals_of([14.0], settings)[Rule.RANGE_OUTSIDE_LIMIT]
    assert signal.values == (5.0,)
    assert signal.level == pytest.approx(3.268 * 19 / 17)
    assert (signal.favorable, signal.sigmas) == (None, None)


@pytest.mark.parametrize(
    ("direction", "up", "down"),
    [
        (Direction.HIGHER, True, False),
        (Direction.LOWER, False, True),
        (Direction.NEITHER, None, None),
    ],
)
def test_favorable_follows_the_wanted_direction(
    direction: Direction, up: bool | None, down: bool | None
) -> None:
    settings = dataclasses.replace(BASELINE, direction=direction)
    assert signals_of([14.0], settings)[Rule.OUTSIDE_LIMITS].favorable is up
    assert signals_of([6.0], settings)[Rule.OUTSIDE_LIMITS].favorable is down
    assert signals_of([10.1] * 8, settings)[Rule.RUN].favorable is up


@pytest.mark.parametrize("length", [7, 8, 9])
def test_a_run_has_the_length_that_was_set(length: int) -> None:
    settings = dataclasses.replace(BASELINE, run_length=length)
    assert Rule.RUN in signals_of([10.1] * length, settings)
    assert Rule.RUN not in signals_of([10.1] * (length - 1), settings)
    # A value on the centre ends it, a missing one does not.
    assert Rule.RUN not in signals_of([*[10.1] * (length - 1), 10.0, 10.1], settings)
    assert Rule.RUN in signals_of([10.1, float("nan"), *[10.1] * (length - 1)], settings)


def test_only_the_rules_asked_for_are_looked_at() -> None:
    wild = [*BASE, 30.0, -10.0, *[12.2] * 9]
    for rules in (CORE_RULES, EXTENDED_RULES, frozenset({Rule.RUN}), frozenset[Rule]()):
        chart = analyse(Series(wild), dataclasses.replace(BASELINE, rules=rules))
        assert {signal.rule for signal in chart.signals} <= rules
    assert CORE_RULES | EXTENDED_RULES == set(Rule) == set(RULES)
    assert not CORE_RULES & EXTENDED_RULES


def test_signals_can_be_indexed_and_sliced_like_any_sequence() -> None:
    chart = analyse(Series([*BASE, 30.0, 10.0, 31.0]), BASELINE)
    every = list(chart.signals)
    assert len(every) == len(chart.signals) > 2
    assert chart.signals[0] == every[0]
    assert chart.signals[-1] == every[-1]
    assert chart.signals[1:3] == every[1:3]
    with pytest.raises(IndexError):
        chart.signals[len(every)]


def test_a_batch_of_nothing_and_of_empty_series() -> None:
    assert list(analyse_many([])) == []
    empty, full = analyse_many([Series([]), Series(BASE)])
    assert empty.segments[0].average is None
    assert len(empty.signals) == 0
    assert full.segments[0].average == pytest.approx(10)
    assert analyse_many([Series(BASE)] * 3)[1:][0].segments == full.segments


FINITE = st.floats(-1e12, 1e12)


@given(FINITE, FINITE)
def test_moving_the_level_is_the_tolerance_of_the_definition(value: float, level: float) -> None:
    """A value is above a level when it is higher by more than 1e-9 of the larger magnitude."""
    larger = max(abs(value), abs(level))
    difference = value - level
    # Within rounding of the tolerance itself, either answer is right.
    if abs(abs(difference) - 1e-9 * larger) > 1e-15 * larger:
        above = bool(value > just_above(np.array([level]))[0])
        below = bool(value < just_below(np.array([level]))[0])
        assert above == (difference > 1e-9 * larger)
        assert below == (-difference > 1e-9 * larger)
        pair = np.array([value]), np.array([level])
        assert bool(differs(pair[0] - pair[1], *pair)[0]) == (above or below)


@given(st.lists(st.integers(-1000, 1000), max_size=60), st.data())
def test_sums_over_slices(values: list[int], data: st.DataObject) -> None:
    cuts = sorted(data.draw(st.lists(st.integers(0, len(values)), min_size=2, max_size=12)))
    starts, stops = np.array(cuts[:-1]), np.array(cuts[1:])
    sums = sum_slices(np.array(values, dtype=float), starts, stops)
    assert sums.tolist() == [sum(values[a:b]) for a, b in zip(starts, stops, strict=True)]


def test_the_input_is_not_touched_and_results_cannot_be() -> None:
    values = np.array(BASE)
    before = values.copy()
    chart: Any = analyse(Series(values, [False] * 17 + [True]), Settings(rules=ALL))
    assert (values == before).all()
    with pytest.raises(dataclasses.FrozenInstanceError):
        chart.segments[0].average = 3
    with pytest.raises(dataclasses.FrozenInstanceError):
        chart.settings.floor = 3
