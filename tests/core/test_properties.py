"""What must hold for any series, and the rules once more as plain loops."""

import dataclasses
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fluctus.core import (
    Analysis,
    Direction,
    Rule,
    SegmentSettings,
    Series,
    Settings,
    Side,
    analyse,
    analyse_many,
)
from fluctus.core.arrays import median_reaches

# Whole numbers of eighths: exact in binary, so that sums and shifts add no rounding of their own.
VALUES = st.lists(
    st.one_of(st.integers(-400, 400).map(lambda n: n / 8), st.just(float("nan"))), max_size=90
)
ALL = frozenset(Rule)


@st.composite
def charts(draw: st.DrawFn) -> tuple[Series, Settings]:
    values = draw(VALUES)
    aside = [draw(st.sampled_from((False,) * 9 + (True,))) for _ in values]
    starts = sorted(draw(st.sets(st.integers(1, max(1, len(values) - 1)), max_size=3)))
    edges = [0, *(s for s in starts if s < len(values)), len(values)]
    segments = []
    for start, stop in pairwise(edges):
        window = None
        if draw(st.booleans()) and stop > start:
            first = draw(st.integers(start, stop - 1))
            window = (first, draw(st.integers(first, stop)))
        segments.append(SegmentSettings(start, window))
    return Series(values, aside), Settings(
        tuple(segments) or (SegmentSettings(),), ALL, draw(st.sampled_from((7, 8, 9)))
    )


def flags(result: Analysis) -> dict[Rule, list[int]]:
    return {rule: result.signals.flagged(rule).tolist() for rule in Rule}


def numbers(result: Analysis) -> list[tuple[float | None, ...]]:
    return [(s.average, s.upper, s.lower, s.spread, s.range_limit) for s in result.segments]


@given(charts(), st.integers(-64, 64))
def test_adding_a_constant_moves_the_chart_and_flags_nothing_new(
    chart: tuple[Series, Settings], constant: int
) -> None:
    series, chosen = chart
    before, after = (
        analyse(series, chosen),
        analyse(Series(series.values + constant, series.set_aside), chosen),
    )
    assert flags(after) == flags(before)
    for a, b in zip(before.segments, after.segments, strict=True):
        for level in ("average", "upper", "lower"):
            was, now = getattr(a, level), getattr(b, level)
            assert now == (None if was is None else pytest.approx(was + constant, abs=1e-9))
        assert b.spread == pytest.approx(a.spread, abs=1e-9)


@given(charts(), st.sampled_from((0.25, 4.0, 1024.0)))
def test_scaling_scales(chart: tuple[Series, Settings], factor: float) -> None:
    series, chosen = chart
    before = analyse(series, chosen)
    after = analyse(Series(series.values * factor, series.set_aside), chosen)
    assert flags(after) == flags(before)
    for was, now in zip(numbers(before), numbers(after), strict=True):
        assert now == tuple(None if n is None else pytest.approx(n * factor) for n in was)


@given(charts())
def test_reversing_the_wanted_direction_changes_only_the_words(
    chart: tuple[Series, Settings],
) -> None:
    series, chosen = chart
    higher = analyse(series, dataclasses.replace(chosen, direction=Direction.HIGHER))
    lower = analyse(series, dataclasses.replace(chosen, direction=Direction.LOWER))
    assert numbers(higher) == numbers(lower)
    for a, b in zip(higher.signals, lower.signals, strict=True):
        assert dataclasses.replace(a, favorable=None) == dataclasses.replace(b, favorable=None)
        assert a.favorable is (None if b.favorable is None else not b.favorable)


@given(charts(), st.data())
def test_points_outside_a_window_never_move_its_limits(
    chart: tuple[Series, Settings], data: st.DataObject
) -> None:
    series, chosen = chart
    before = analyse(series, chosen)
    for number, segment in enumerate(chosen.segments):
        bounds = before.segments[number]
        first, stop = segment.window or (bounds.start, bounds.stop)
        moved = series.values.copy()
        outside = [i for i in range(len(moved)) if not first <= i < stop]
        if outside:
            moved[data.draw(st.sampled_from(outside))] = data.draw(st.integers(-999, 999))
        after = analyse(Series(moved, series.set_aside), chosen)
        assert numbers(after)[number] == numbers(before)[number]


@given(charts(), st.integers(-400, 400))
def test_appending_a_point_never_changes_earlier_segments(
    chart: tuple[Series, Settings], value: int
) -> None:
    series, chosen = chart
    aside = None if series.set_aside is None else np.append(series.set_aside, False)
    before = analyse(series, chosen)
    after = analyse(Series(np.append(series.values, value), aside), chosen)
    assert after.segments[:-1] == before.segments[:-1]
    last = len(before.segments) - 1
    assert [s for s in after.signals if s.segment < last] == [
        s for s in before.signals if s.segment < last
    ]


@given(st.lists(charts(), min_size=1, max_size=6))
def test_a_batch_is_its_charts_one_by_one(many: list[tuple[Series, Settings]]) -> None:
    chosen = [dataclasses.replace(s, run_length=8) for _, s in many]
    batch = analyse_many([series for series, _ in many], chosen)
    for result, (series, _), own in zip(batch, many, chosen, strict=True):
        alone = analyse(series, own)
        assert numbers(result) == numbers(alone)
        assert list(result.signals) == list(alone.signals)


def windows(points: list[int], length: int) -> list[list[int]]:
    return [points[i : i + length] for i in range(len(points) - length + 1)]


def flagged_by_loops(result: Analysis) -> dict[Rule, set[int]]:
    """The ten rules as definitions.md words them, one value at a time."""
    found: dict[Rule, set[int]] = {rule: set() for rule in Rule}
    x, included = result.series.values, result.series.included
    present = [i for i in range(len(x)) if not np.isnan(x[i])]
    for segment in result.segments:
        points = [i for i in range(segment.start, segment.stop) if included[i]]
        c = segment.average
        if c is None:
            continue

        def beyond(level: float, side: int, points: list[int] = points) -> list[int]:
            return [i for i in points if (x[i] - level) * side > 1e-9 * max(abs(x[i]), abs(level))]

        def sequence(
            rule: Rule, good: set[int], need: int, length: int, points: list[int] = points
        ) -> None:
            for window in windows(points, length):
                if len(good & set(window)) >= need:
                    found[rule] |= good & set(window)

        length = result.settings.run_length
        for side in (1, -1):
            sequence(Rule.RUN, set(beyond(c, side)), length, length)
        if segment.sigma is None:
            continue
        s = segment.sigma
        for side in (1, -1):
            found[Rule.OUTSIDE_LIMITS] |= set(beyond(c + side * 3 * s, side))
            sequence(Rule.NEAR_LIMIT, set(beyond(c + side * 1.5 * s, side)), 3, 4)
            two, one = set(beyond(c + side * 2 * s, side)), set(beyond(c + side * s, side))
            sequence(Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA, two, 2, 3)
            sequence(Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA, one, 4, 5)
        outer = set(beyond(c + s, 1)) | set(beyond(c - s, -1))
        inner = set(beyond(c - s, 1)) & set(beyond(c + s, -1))
        sequence(Rule.EIGHT_BEYOND_ONE_SIGMA, outer, 8, 8)
        sequence(Rule.FIFTEEN_WITHIN_ONE_SIGMA, inner, 15, 15)
        for window in windows(points, 6):
            steps = np.sign(np.diff(x[window]))
            if abs(steps.sum()) == 5:
                found[Rule.SIX_TRENDING] |= set(window)
        for window in windows(points, 14):
            steps = np.sign(np.diff(x[window]))
            if (steps[1:] * steps[:-1] == -1).all():
                found[Rule.FOURTEEN_ALTERNATING] |= set(window)
        assert segment.range_limit is not None
        for i in points:
            earlier = [j for j in present if segment.start <= j < i]
            if earlier and included[earlier[-1]]:
                moving_range = abs(x[i] - x[earlier[-1]])
                limit = segment.range_limit
                if moving_range - limit > 1e-9 * max(moving_range, limit):
                    found[Rule.RANGE_OUTSIDE_LIMIT].add(i)
    return found


@given(charts())
@settings(max_examples=300)
def test_rules_are_what_plain_loops_find(chart: tuple[Series, Settings]) -> None:
    result = analyse(*chart)
    assert {rule: set(f) for rule, f in flags(result).items()} == flagged_by_loops(result)


@given(charts())
def test_signals_part_the_flagged_points(chart: tuple[Series, Settings]) -> None:
    result = analyse(*chart)
    heads = [signal.points[0] for signal in result.signals]
    assert heads == sorted(heads)
    for rule in Rule:
        points = [p for s in result.signals if s.rule is rule for p in s.points]
        assert set(points) == set(flags(result)[rule])
    for signal in result.signals:
        segment = result.segments[signal.segment]
        assert segment.start <= signal.points[0] <= signal.points[-1] < segment.stop
        assert signal.centre == segment.average
        if signal.level is not None and signal.side is not Side.NEITHER:
            assert all((v - signal.level) * signal.side > 0 for v in signal.values)


def test_a_signal_of_three_of_four_is_not_torn_at_the_odd_one() -> None:
    base = [10, 11, 9, 10, 11, 10, 9, 10, 11, 12.1, 10.5, 12.2, 12.0, 10, 9, 10, 11, 10]
    near = [s for s in analyse(Series(base)).signals if s.rule is Rule.NEAR_LIMIT]
    assert [s.points for s in near] == [(9, 11, 12)]
    assert near[0].level == pytest.approx(10.4333333333 + 1.33 * 1.1529411765)


@pytest.mark.parametrize(
    ("broken", "message"),
    [
        (lambda: Series([[1.0]]), "one dimension"),
        (lambda: Series([1.0, float("inf")]), "finite"),
        (lambda: Series([1.0, 2.0], [True]), "shape"),
        (lambda: Settings(segments=(SegmentSettings(3),)), "position 0"),
        (lambda: Settings(segments=(SegmentSettings(), SegmentSettings(0))), "in order"),
        (lambda: Settings(run_length=6), "run length"),
        (lambda: Settings(floor=1, ceiling=1), "below the ceiling"),
        (
            lambda: analyse(Series([1.0]), Settings((SegmentSettings(), SegmentSettings(1)))),
            "past the last",
        ),
        (lambda: analyse(Series([1.0]), Settings((SegmentSettings(0, (0, 2)),))), "window"),
        (lambda: analyse_many([Series([1.0])], []), "0 settings"),
    ],
)
def test_impossible_input_is_refused(broken, message: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(ValueError, match=message):
        broken()


@given(st.lists(st.integers(0, 9), min_size=1, max_size=40), st.floats(0, 10))
def test_a_median_that_reaches_a_bound_by_counting_does_so(each: list[int], bound: float) -> None:
    values = np.array(each, np.float64)
    if median_reaches(values, bound):
        assert np.median(values) >= bound
    # Where all but one are beyond it there is no doubt.
    assert median_reaches(np.append(np.full(3, bound + 1), values[:1]), bound)
