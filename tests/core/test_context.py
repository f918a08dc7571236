"""Lines over the values and summaries of them, computed again by plain loops."""

import math
import statistics
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core.arrays import Floats
from fluctus.core.context import (
    Reference,
    Statistic,
    group_means,
    last_stretch,
    last_values,
    moving_average,
    moving_deviation,
    reference_level,
    trend_line,
)
from fluctus.core.context.summary import NO_VALUES, summarise_values
from fluctus.core.words import NumberStyle, doubt_level, doubt_name, say_made

TWELVE = [21.0, 19.5, 22.5, 18.0, 19.5, 20.0, 23.0, 17.5, 19.0, 21.5, 20.5, 18.5]
DAY = 86_400.0
MINUTES = NumberStyle("min", 0, 1, 2)
finite = st.floats(-1e6, 1e6).map(lambda value: round(value, 4))


def test_reference_values_of_twelve_months() -> None:
    values = np.array(TWELVE)
    ordered = sorted(TWELVE)

    def level(
        statistic: Statistic, number: float = 0, factor: float = 1, amount: float = 0
    ) -> float | None:
        return reference_level(Reference(statistic, number, factor, amount), values)

    assert level(Statistic.CONSTANT, 20) == 20
    assert level(Statistic.MEAN, factor=1.25) == pytest.approx(sum(TWELVE) / 12 * 1.25, rel=1e-12)
    assert level(Statistic.MEDIAN, amount=-2) == pytest.approx((ordered[5] + ordered[6]) / 2 - 2)
    # The 90th of twelve lies 0.9 of the way through the eleven steps between them: at 9.9.
    assert level(Statistic.PERCENTILE, 90) == pytest.approx(
        ordered[9] + 0.9 * (ordered[10] - ordered[9])
    )
    assert level(Statistic.MINIMUM) == 17.5
    assert level(Statistic.MAXIMUM) == 23
    assert level(Statistic.SUM) == pytest.approx(240.5)
    assert level(Statistic.PERCENT_OF_MAXIMUM, 80) == pytest.approx(18.4)
    nothing = np.array([])
    assert reference_level(Reference(Statistic.MEAN), nothing) is None
    assert reference_level(Reference(Statistic.CONSTANT, 4, 2, 1), nothing) == 9


@given(st.lists(st.tuples(finite, st.booleans()), min_size=1, max_size=40), st.integers(1, 12))
def test_moving_averages_take_the_last_values_that_take_part(
    rows: list[tuple[float, bool]], count: int
) -> None:
    values = np.array([value for value, _ in rows])
    included = np.array([part for _, part in rows])
    windows = last_values(included, count)
    average, deviation = moving_average(values, windows), moving_deviation(values, windows)
    seen: list[float] = []
    for n, (value, part) in enumerate(rows):
        if part:
            seen.append(value)
        if not part or len(seen) < count:
            assert math.isnan(average[n])
            assert math.isnan(deviation[n])
            continue
        window = seen[-count:]
        assert average[n] == pytest.approx(statistics.fmean(window), rel=1e-9, abs=1e-9)
        if count > 1:
            assert deviation[n] == pytest.approx(statistics.stdev(window), rel=1e-6, abs=1e-6)


def test_long_windows_are_summed_as_exactly(monkeypatch: pytest.MonkeyPatch) -> None:
    values = 1e6 + np.random.default_rng(3).normal(0, 1, 3000)
    windows = last_values(np.ones(3000, np.bool_), 700)
    exact = moving_average(values, windows), moving_deviation(values, windows)
    monkeypatch.setattr("fluctus.core.context.smoothing.MOST_GATHERED", 0)
    running = moving_average(values, windows), moving_deviation(values, windows)
    for one, other in zip(exact, running, strict=True):
        np.testing.assert_allclose(one, other, rtol=1e-9)


def test_a_length_of_time_keeps_its_meaning_at_any_grain() -> None:
    days: Floats = np.arange(28.0) * DAY
    values = np.arange(28.0)
    everything = np.ones(28, np.bool_)
    seven = moving_average(values, last_stretch(everything, days, 7 * DAY, DAY))
    assert np.isnan(seven[:6]).all()
    np.testing.assert_allclose(seven[6:], np.arange(28)[6:] - 3)
    # A day is missing: of the seven days, six have a value.
    there = np.array([n for n in range(28) if n != 10])
    gap = moving_average(values[there], last_stretch(everything[there], days[there], 7 * DAY, DAY))
    assert gap[there.tolist().index(12)] == pytest.approx((6 + 7 + 8 + 9 + 11 + 12) / 6)
    # By week, seven days are the week itself; the clock was put forward in the second.
    weeks: Floats = np.array([0.0, 7 * DAY, 14 * DAY - 3600, 21 * DAY - 3600])
    own = last_stretch(np.ones(4, np.bool_), weeks, 7 * DAY, 7 * DAY)
    np.testing.assert_array_equal(moving_average(np.array([4.0, 6, 8, 1]), own), [4, 6, 8, 1])
    longer = last_stretch(np.ones(4, np.bool_), weeks, 400 * DAY, 7 * DAY)
    assert np.isnan(moving_average(np.array([4.0, 6, 8, 1]), longer)).all()


def test_a_trend_line_and_what_it_explains() -> None:
    periods, values = np.arange(12.0), np.array(TWELVE)
    fitted = trend_line(periods, values)
    assert fitted is not None
    x, y = 5.5, sum(TWELVE) / 12
    slope = sum((n - x) * (v - y) for n, v in enumerate(TWELVE)) / sum(
        (n - x) ** 2 for n in range(12)
    )
    start = y - slope * x
    left = sum((v - start - slope * n) ** 2 for n, v in enumerate(TWELVE))
    assert fitted.line.slope == pytest.approx(slope, rel=1e-9)
    assert fitted.at(np.array([11.0]))[0] == pytest.approx(start + 11 * slope, rel=1e-9)
    assert fitted.r_squared == pytest.approx(1 - left / sum((v - y) ** 2 for v in TWELVE))
    assert trend_line(periods[:1], values[:1]) is None
    level = trend_line(periods, np.full(12, 3.0))
    assert level is not None
    assert level.r_squared is None


def test_a_coarser_mean_is_a_step_over_each_of_its_periods() -> None:
    included = np.array([True, True, False, True, False])
    means = group_means(np.array([2.0, 4, 90, 7, 8]), included, np.array([0.0, 0, 0, 31, 59]))
    np.testing.assert_array_equal(means, [3, 3, 3, 7, np.nan])


def test_a_summary_of_twelve_months() -> None:
    ranges = [abs(b - a) for a, b in pairwise(TWELVE)]
    meets = np.array([value <= 20 for value in TWELVE])
    said = summarise_values(np.array(TWELVE), np.array(ranges), meets)
    assert said.n == 12
    assert said.total == pytest.approx(sum(TWELVE))
    assert said.mean == pytest.approx(statistics.fmean(TWELVE))
    assert said.median == statistics.median(TWELVE)
    assert said.modes == (19.5,)
    assert (said.minimum, said.maximum, said.range) == (17.5, 23, 5.5)
    assert said.deviation == pytest.approx(statistics.stdev(TWELVE))
    lower, _, upper = statistics.quantiles(TWELVE, n=4, method="inclusive")
    assert (said.lower_quartile, said.upper_quartile) == pytest.approx((lower, upper))
    assert (said.first, said.last, said.change) == (21, 18.5, -2.5)
    assert said.mean_range == pytest.approx(statistics.fmean(ranges))
    assert said.share_meeting_target == pytest.approx(7 / 12)


def test_summaries_of_little() -> None:
    nothing = np.array([])
    assert summarise_values(nothing, nothing) is NO_VALUES
    single = summarise_values(np.array([4.0]), nothing)
    assert (single.deviation, single.mean_range, single.modes) == (None, None, ())
    assert summarise_values(np.array([3.0, 1, 3, 1]), nothing).modes == (1, 3)


@pytest.mark.parametrize(
    ("reference", "said"),
    [
        (Reference(Statistic.MEAN, factor=1.25), "mean \N{MULTIPLICATION SIGN} 1.25"),
        (Reference(Statistic.PERCENTILE, 90), "90th percentile"),
        (Reference(Statistic.PERCENTILE, 2.5), "2.5th percentile"),
        (Reference(Statistic.PERCENT_OF_MAXIMUM, 80), "80% of the maximum"),
        (Reference(Statistic.MEDIAN, amount=-2), "median \N{MINUS SIGN} 2.00\N{NBSP}min"),
        (Reference(Statistic.CONSTANT, 20), "constant"),
        (Reference(Statistic.CONSTANT, 20, 0.5), "20.00\N{NBSP}min \N{MULTIPLICATION SIGN} 0.5"),
    ],
)
def test_a_line_says_how_it_is_made(reference: Reference, said: str) -> None:
    assert say_made(reference, MINUTES) == said


def test_names_that_claim_something_else_are_questioned() -> None:
    def doubt(name: str, reference: Reference) -> str | None:
        return doubt_name(name, reference, say_made(reference, MINUTES))

    mean = Reference(Statistic.MEAN, factor=1.25)
    assert (
        doubt("Median", mean)
        == "The name says median; the line is mean \N{MULTIPLICATION SIGN} 1.25."
    )
    assert (
        doubt("Average + 20%", mean)
        == "The name says 20; the line is mean \N{MULTIPLICATION SIGN} 1.25."
    )
    for good in ("Average + 25%", "1.25 x average", "125% of the average", "Alert", ""):
        assert doubt(good, mean) is None
    assert doubt("Average of 2024", mean) is None
    assert doubt("Best 10 ever", Reference(Statistic.PERCENTILE, 10)) is None
    assert doubt("Average of 2024", Reference(Statistic.CONSTANT, 18.2)) is None
    assert doubt("Highest", Reference(Statistic.PERCENT_OF_MAXIMUM, 80)) is None


def test_a_level_far_off_the_values_is_questioned() -> None:
    euros = NumberStyle("€", 0, 0, 0)
    far = doubt_level(1_700_000, 120_000, 170_000, euros)
    assert far is not None
    assert far.text == "10 times the highest value. Did you mean €170,000?"
    assert far.instead == 170_000
    assert doubt_level(200_000, 120_000, 170_000, euros) is None
    lost = doubt_level(5e30, 1, 2, euros)
    assert lost is not None
    assert lost.instead is None
    assert doubt_level(7, 0, 0, euros) is None
