"""Trended and seasonal limits against plain loops, what speaks for them, and shift candidates."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import (
    Pattern,
    Rule,
    Season,
    SegmentSettings,
    Series,
    Settings,
    Side,
    UnfitPatternError,
    analyse,
)
from fluctus.core.judgment import season_evidence, shift_candidates, trend_evidence

TREND = SegmentSettings(pattern=Pattern.TREND)


def season(length: int, n: int) -> Season:
    order = np.arange(n + 1)
    return Season(order[:-1] % length, order[:-1] // length, length, int(order[-1] % length))


def seasonal(length: int, n: int, **more: object) -> Settings:
    segment = SegmentSettings(pattern=Pattern.SEASON, season=season(length, n))
    return Settings((segment,), **more)  # type: ignore[arg-type]


def trended_by_hand(
    values: list[float | None], aside: set[int]
) -> tuple[float, float, float, list[float]]:
    """Slope, height at the start, mean moving range of the residuals, and the central line."""
    points = [(x, y) for x, y in enumerate(values) if y is not None and x not in aside]
    n = len(points)
    mean_x, mean_y = sum(x for x, _ in points) / n, sum(y for _, y in points) / n
    above = sum((x - mean_x) * (y - mean_y) for x, y in points)
    slope = above / sum((x - mean_x) ** 2 for x, _ in points)
    start = mean_y - slope * mean_x
    ranges, before = [], None
    for x, y in enumerate(values):
        if y is None:
            continue
        residual = y - start - slope * x
        # A range that touches a value set aside takes no part.
        if before is not None and not ({x, before[0]} & aside):
            ranges.append(abs(residual - before[1]))
        before = (x, residual)
    return slope, start, sum(ranges) / len(ranges), [start + slope * x for x in range(len(values))]


WORKED = [31.0, 33.5, 32.0, 35.0, 36.5, None, 37.0, 39.5, 60.0, 40.0, 43.5, 42.0, 44.5]


@pytest.mark.parametrize("aside", [set(), {8}])
def test_trended_limits_are_those_of_a_plain_loop(aside: set[int]) -> None:
    slope, start, spread, line = trended_by_hand(WORKED, aside)
    flags = [n in aside for n in range(len(WORKED))]
    values = [math.nan if v is None else v for v in WORKED]
    chart = analyse(Series(values, flags), Settings((TREND,)))
    (segment,) = chart.segments
    assert segment.trend is not None
    assert (segment.trend.slope, segment.trend.start) == pytest.approx((slope, start), rel=1e-9)
    assert segment.spread == pytest.approx(spread, rel=1e-9)
    lines = chart.lines()
    assert lines.centre == pytest.approx(line, rel=1e-9)
    assert lines.upper - lines.centre == pytest.approx([2.660 * spread] * len(line), rel=1e-9)
    assert lines.centre - lines.lower == pytest.approx([2.660 * spread] * len(line), rel=1e-9)
    assert segment.range_limit == pytest.approx(3.268 * spread, rel=1e-9)
    expected = chart.expected()
    assert expected.centre == pytest.approx(start + slope * len(line), rel=1e-9)
    # The value that stands out is told with its own number and the limit where it is.
    beyond = [one for one in chart.signals if one.rule is Rule.OUTSIDE_LIMITS]
    if aside:
        assert beyond == []
    else:
        assert (beyond[0].points, beyond[0].values) == ((8,), (60.0,))
        assert beyond[0].level == pytest.approx(line[8] + 2.660 * spread)
        assert beyond[0].sigmas == pytest.approx((60 - line[8]) / (2.660 * spread / 3))


def test_seasonal_limits_are_those_of_a_plain_loop() -> None:
    values = [10.0, 22.0, 33.0, 11.0, 19.0, 30.0, 9.0, 21.0, 60.0, 12.0, 20.0, 27.0]
    places: dict[int, list[float]] = {}
    for n, value in enumerate(values):
        places.setdefault(n % 3, []).append(value)
    mean = sum(values) / len(values)
    raw = [sum(own) / len(own) / mean for own in places.values()]
    relatives = [one * 3 / sum(raw) for one in raw]
    worked = [value / relatives[n % 3] for n, value in enumerate(values)]
    centre = sum(worked) / len(worked)
    spread = sum(abs(b - a) for a, b in itertools.pairwise(worked)) / (len(worked) - 1)
    chart = analyse(Series(values), seasonal(3, 12, floor=0))
    (segment,) = chart.segments
    assert segment.relatives == pytest.approx(relatives, rel=1e-9)
    assert (segment.average, segment.spread) == pytest.approx((centre, spread), rel=1e-9)
    lines = chart.lines()
    for n in range(12):
        assert lines.centre[n] == pytest.approx(centre * relatives[n % 3], rel=1e-9)
        assert lines.upper[n] == pytest.approx((centre + 2.66 * spread) * relatives[n % 3])
        # A lower limit below the floor is drawn at it.
        assert lines.lower[n] == pytest.approx(max(0, (centre - 2.66 * spread) * relatives[n % 3]))
    assert chart.moving_ranges[1:] == pytest.approx(np.abs(np.diff(worked)), rel=1e-9)
    # The next period is the first place of a new cycle.
    assert chart.expected().centre == pytest.approx(centre * relatives[0])


@given(
    st.lists(st.integers(-400, 400), min_size=6, max_size=40),
    st.integers(-30, 30),
    st.integers(-500, 500),
)
def test_a_line_added_to_the_values_changes_nothing_but_the_line(
    tenths: list[int], slope: int, start: int
) -> None:
    plain = [v / 10 for v in tenths]
    leaning = [v / 10 + slope * n + start for n, v in enumerate(tenths)]
    one, other = (analyse(Series(v), Settings((TREND,))) for v in (plain, leaning))
    assert one.segments[0].spread == pytest.approx(other.segments[0].spread, rel=1e-6, abs=1e-6)
    line = [slope * n + start for n in range(len(plain))]
    for drawn in ("centre", "upper", "lower"):
        added = getattr(other.lines(), drawn) - getattr(one.lines(), drawn)
        assert added == pytest.approx(line, abs=1e-6)


@given(st.integers(2, 7), st.integers(2, 5), st.integers(1, 9))
def test_a_season_without_noise_has_no_spread_and_no_signal(
    length: int, cycles: int, level: int
) -> None:
    values = [float((n % length + 1) * level) for n in range(length * cycles)]
    chart = analyse(Series(values), seasonal(length, len(values)))
    assert chart.segments[0].spread in (None, pytest.approx(0, abs=1e-9))
    assert chart.lines().centre == pytest.approx(values)
    assert sum(chart.segments[0].relatives) == pytest.approx(length)
    assert [one for one in chart.signals if one.rule is Rule.OUTSIDE_LIMITS] == []


VALUES = st.lists(
    st.one_of(st.integers(50, 950).map(lambda tenths: tenths / 10), st.none()),
    min_size=10,
    max_size=60,
)


@given(VALUES, st.data())
def test_every_rule_judges_what_is_left_once_the_pattern_is_taken_out(
    values: list[float | None], data: st.DataObject
) -> None:
    """Limits that follow a pattern are level limits of the values without it."""
    numbers = [math.nan if v is None else v for v in values]
    aside = data.draw(st.lists(st.booleans(), min_size=len(values), max_size=len(values)))
    follows = data.draw(st.sampled_from([TREND, *seasonal(2, len(values)).segments]))
    cut = data.draw(st.integers(0, len(values) - 1))
    segments = (follows,) if cut == 0 else (follows, SegmentSettings(cut))
    rules = frozenset(Rule)
    try:
        chart = analyse(Series(numbers, aside), Settings(segments, rules))
    except UnfitPatternError:
        return
    level = (SegmentSettings(),) if cut == 0 else (SegmentSettings(), SegmentSettings(cut))
    plain = analyse(Series(chart.adjusted, aside), Settings(level, rules))
    assert [(s.average, s.upper, s.lower, s.range_limit, s.n) for s in chart.segments] == [
        (s.average, s.upper, s.lower, s.range_limit, s.n) for s in plain.segments
    ]
    for rule in Rule:
        assert chart.signals.flagged(rule).tolist() == plain.signals.flagged(rule).tolist()
    # What is told of a signal is on the scale of the values, and its distance the same.
    for signal, same in zip(chart.signals, plain.signals, strict=True):
        if signal.rule is not Rule.RANGE_OUTSIDE_LIMIT:
            assert signal.values == tuple(numbers[point] for point in signal.points)
        assert signal.sigmas == (None if same.sigmas is None else pytest.approx(same.sigmas))
    # A line never reaches into the next segment.
    after = chart.lines().centre[cut or len(values) :]
    assert len({round(float(level), 9) for level in after if not math.isnan(level)}) <= 1


@given(VALUES, st.integers(0, 40), st.integers(60, 100))
def test_limits_that_follow_a_trend_stay_within_the_natural_bounds(
    values: list[float | None], floor: int, ceiling: int
) -> None:
    numbers = [math.nan if v is None else min(max(v, floor), ceiling) for v in values]
    settings = Settings((TREND,), floor=floor, ceiling=ceiling)
    try:
        chart = analyse(Series(numbers), settings)
    except UnfitPatternError:
        return
    lines = chart.lines()
    known = ~np.isnan(lines.upper)
    assert (lines.upper[known] <= ceiling).all()
    assert (lines.lower[known] >= floor).all()
    # A limit that is held at a bound cannot be exceeded.
    for signal in chart.signals:
        if signal.rule is Rule.OUTSIDE_LIMITS and signal.side is Side.UPPER:
            assert all(lines.upper[point] < ceiling for point in signal.points)
        elif signal.rule is Rule.OUTSIDE_LIMITS:
            assert all(lines.lower[point] > floor for point in signal.points)


def test_values_on_the_line_are_ties_whatever_the_rounding() -> None:
    chart = analyse(Series([100 + 0.1 * n for n in range(22)]), Settings((TREND,)))
    assert list(chart.signals) == []


@given(st.lists(st.integers(-300, 300), min_size=6, max_size=40), st.integers(2, 3))
def test_a_season_of_values_at_zero_or_below_is_taken_out_by_differences(
    tenths: list[int], length: int
) -> None:
    values = [value / 10 for value in tenths]
    chart = analyse(Series([0.0, *values]), seasonal(length, len(values) + 1))
    values = [0.0, *values]
    (segment,) = chart.segments
    assert not segment.relatives_are_ratios
    mean = sum(values) / len(values)
    of = [values[place::length] for place in range(length)]
    raw = [sum(each) / len(each) - mean for each in of]
    relatives = [each - sum(raw) / length for each in raw]
    assert segment.relatives == pytest.approx(relatives, abs=1e-9)
    assert chart.adjusted == pytest.approx(
        [value - relatives[at % length] for at, value in enumerate(values)], abs=1e-9
    )
    lines = chart.lines()
    if segment.average is not None:
        assert lines.centre == pytest.approx(
            [segment.average + relatives[at % length] for at in range(len(values))], abs=1e-9
        )
        in_cycle = [each.centre for each in chart.expected_in_cycle()]
        assert in_cycle == pytest.approx([segment.average + each for each in relatives], abs=1e-9)
        assert chart.expected().centre == pytest.approx(in_cycle[len(values) % length])


@pytest.mark.parametrize(
    ("values", "settings", "said"),
    [
        ([1.0, 2.0, 3.0, 4.0], Settings((TREND,)), "A line needs 5 values; there are 4."),
        ([5.0] * 11, seasonal(6, 11), "A season needs 2 full cycles"),
    ],
)
def test_what_values_do_not_carry_is_refused(
    values: list[float], settings: Settings, said: str
) -> None:
    with pytest.raises(UnfitPatternError, match=said) as refused:
        analyse(Series(values), settings)
    assert refused.value.segment == 0


def test_a_season_comes_with_seasonal_limits_only() -> None:
    with pytest.raises(ValueError, match="goes with seasonal limits"):
        SegmentSettings(pattern=Pattern.SEASON)
    with pytest.raises(ValueError, match="goes with seasonal limits"):
        SegmentSettings(season=season(3, 6))


def noise(n: int, seed: int = 7) -> np.ndarray:
    return np.random.default_rng(seed).normal(0, 1, n)


def test_a_trend_is_proposed_for_a_drift_and_not_for_steps() -> None:
    drift = trend_evidence(analyse(Series(noise(60) + 0.15 * np.arange(60))))
    assert drift is not None
    assert drift.proposed
    assert drift.slope == pytest.approx(0.15, abs=0.02)
    for steps in ([0.0] * 30 + [6.0] * 30, [0.0] * 20 + [5.0] * 20 + [9.0] * 20, [0.0] * 60):
        found = trend_evidence(analyse(Series(noise(60) + np.array(steps))))
        assert found is not None
        assert not found.proposed
    assert trend_evidence(analyse(Series([1.0, 2.0, 3.0]))) is None
    assert trend_evidence(analyse(Series([4.0] * 20))) is None


def test_a_season_is_proposed_only_where_places_differ_more_than_chance() -> None:
    n = 84
    wave = 50 + 8 * np.sin(np.arange(n) * 2 * np.pi / 7)
    real = season_evidence(analyse(Series(wave + noise(n))), season(7, n))
    assert real is not None
    assert real.proposed
    assert real.share > 0.9
    none = season_evidence(analyse(Series(50 + noise(n))), season(7, n))
    assert none is not None
    assert not none.proposed
    assert season_evidence(analyse(Series(50 + noise(10))), season(7, 10)) is None


def test_a_clear_shift_is_a_candidate_with_its_range_its_levels_and_its_support() -> None:
    values = np.concatenate((noise(32) * 0.75 + 21.6, noise(12, 3) * 0.75 + 17.0))
    (found,) = [one for one in shift_candidates(analyse(Series(values))) if one.evidence]
    assert found.position == 32
    assert found.first <= 32 <= found.last
    assert found.last - found.first <= 2
    assert found.support == 12
    before, after = values[:32], values[32:]
    assert found.before.average == pytest.approx(before.mean())
    assert found.after.average == pytest.approx(after.mean())
    half = 2.66 * np.abs(np.diff(after)).mean()
    assert found.after.upper == pytest.approx(after.mean() + half)


def test_every_run_that_does_not_open_its_segment_is_a_candidate() -> None:
    values = [10, 11, 9, 10, 11, 9, 10, 9, 11, 9, *[10.4, 10.6] * 5, 9, 10, 9]
    chart = analyse(Series(values))
    starts = {one.points[0] for one in chart.signals if one.rule is Rule.RUN and one.points[0]}
    found = shift_candidates(chart)
    assert starts
    assert starts <= {place for one in found for place in range(one.first, one.last + 1)}
    assert all(one.run for one in found if one.position in starts)


def test_steady_values_seldom_have_a_change_point() -> None:
    found = sum(
        any(not one.run for one in shift_candidates(analyse(Series(20 + noise(60, seed)))))
        for seed in range(200)
    )
    assert found <= 12


def test_values_set_aside_and_missing_move_no_candidate_off_its_value() -> None:
    values = np.concatenate((noise(20) + 30, noise(20, 9) + 20))
    values[5] = np.nan
    aside = np.zeros(40, bool)
    aside[[20, 21]] = True
    (found,) = [one for one in shift_candidates(analyse(Series(values, aside))) if one.evidence]
    assert found.position == 22
    assert found.support == 18
