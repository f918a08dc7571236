"""Many values become one, and running totals become amounts: by plain loops."""

import math
import statistics
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import Aggregation, Drop, Parts, aggregate, coarser, differences, is_running_total

NAN = float("nan")
# Eighths are exact in binary, so that sums in any order are the same.
VALUE = st.one_of(st.integers(-400, 400).map(lambda n: n / 8), st.just(NAN))
GROUPS = st.lists(
    st.lists(st.tuples(VALUE, st.integers(1, 5), VALUE, VALUE), min_size=1, max_size=6),
    min_size=1,
    max_size=8,
)
Row = tuple[float, int, float, float]


def parts_of(groups: list[list[Row]]) -> tuple[Parts, Any]:
    values, rows, numerators, denominators = zip(
        *(row for own in groups for row in own), strict=True
    )
    edges = np.cumsum([0, *map(len, groups)])
    return Parts(
        np.array(values), np.array(rows, np.intp), np.array(numerators), np.array(denominators)
    ), edges


def by_loop(own: list[Row], how: Aggregation) -> float:
    present = [(value, rows) for value, rows, _, _ in own if not math.isnan(value)]
    values = [value for value, _ in present]
    if how is Aggregation.RATIO:
        over = [row[2] for row in own if not math.isnan(row[2])]
        under = [row[3] for row in own if not math.isnan(row[3])]
        return sum(over) / sum(under) if over and under and sum(under) else NAN
    if how is Aggregation.COUNT:
        return float(sum(rows for _, rows in present))
    if not values:
        return NAN
    loops: dict[Aggregation, Callable[[], float]] = {
        Aggregation.SUM: lambda: sum(values),
        Aggregation.MEAN: lambda: sum(v * r for v, r in present) / sum(r for _, r in present),
        Aggregation.MEDIAN: lambda: statistics.median(values),
        Aggregation.MINIMUM: lambda: min(values),
        Aggregation.MAXIMUM: lambda: max(values),
        Aggregation.FIRST: lambda: values[0],
        Aggregation.LAST: lambda: values[-1],
    }
    return loops[how]()


@given(GROUPS, st.sampled_from(list(Aggregation)))
def test_each_stretch_becomes_what_a_plain_loop_makes_of_it(
    groups: list[list[Row]], how: Aggregation
) -> None:
    parts, edges = parts_of(groups)
    made = aggregate(parts, edges, how)
    assert made.values.tolist() == pytest.approx(
        [by_loop(own, how) for own in groups], rel=1e-12, nan_ok=True
    )


@given(
    GROUPS,
    st.sampled_from(
        [
            Aggregation.SUM,
            Aggregation.MEAN,
            Aggregation.MINIMUM,
            Aggregation.MAXIMUM,
            Aggregation.FIRST,
            Aggregation.LAST,
            Aggregation.COUNT,
            Aggregation.RATIO,
        ]
    ),
)
def test_going_by_way_of_a_finer_grain_makes_no_difference(
    groups: list[list[Row]], how: Aggregation
) -> None:
    """A mean of means is the mean of the rows, a ratio never the mean of ratios."""
    parts, edges = parts_of(groups)
    everything = np.array([0, edges[-1]])
    finer = aggregate(parts, edges, how)
    twice = aggregate(finer, np.array([0, len(groups)]), coarser(how))
    assert twice.values.tolist() == pytest.approx(
        aggregate(parts, everything, how).values.tolist(), rel=1e-9, abs=1e-9, nan_ok=True
    )


def test_nothing_becomes_nothing() -> None:
    empty = np.array([])
    parts = Parts(empty, empty.astype(np.intp), empty, empty)
    assert len(aggregate(parts, np.array([0]), Aggregation.MEAN).values) == 0


@given(st.lists(st.lists(VALUE, max_size=8), min_size=1, max_size=5), st.sampled_from(list(Drop)))
def test_differences_are_between_successive_readings_of_one_meter(
    meters: list[list[float]], drop: Drop
) -> None:
    readings = np.array([value for own in meters for value in own])
    groups = np.repeat(np.arange(len(meters)), [len(own) for own in meters])
    amounts, resets = differences(readings, groups, drop)
    wanted: list[float] = []
    for own in meters:
        last = NAN
        for value in own:
            step = value - last
            wanted.append(value if step < 0 and drop is Drop.RESET else step)
            last = last if math.isnan(value) else value
    assert amounts.tolist() == pytest.approx(wanted, nan_ok=True)
    fell = [not math.isnan(a) and r > 0 for a, r in zip(amounts, resets, strict=True)]
    assert resets.tolist() == fell
    if drop is Drop.NEGATIVE:
        assert not resets.any()


@pytest.mark.parametrize(
    ("readings", "running"),
    [
        ([1000 + 45 * n for n in range(12)], True),
        ([*(1000 + 45 * n for n in range(12)), 30, 76, 121], True),
        ([0, 0, 3, 3, 7, 9, 12, 12, 15, 21], True),
        ([20 + math.sin(n) for n in range(30)], False),
        ([100 + n * 0.1 + (-1) ** n for n in range(40)], False),
        ([n * 7 % 90 for n in range(60)], False),
        ([5.0] * 20, False),
        ([1, 2, 3], False),
    ],
)
def test_running_totals_are_told_from_values(readings: list[float], running: bool) -> None:
    values = np.array(readings, dtype=np.float64)
    assert is_running_total(values, np.zeros(len(values), np.intp)) is running
    # Two meters one after the other are still meters: the step between them does not count.
    twice = np.concatenate((values, values))
    groups = np.repeat([0, 1], len(values)).astype(np.intp)
    assert is_running_total(twice, groups) is running


def test_a_meter_that_is_reset_every_few_steps_falls_to_next_to_nothing() -> None:
    daily = np.array([40.0 * (n % 8 + 1) for n in range(40)])
    saw = np.array([100 + 40.0 * (n % 8 + 1) for n in range(40)])
    one = np.zeros(40, np.intp)
    assert is_running_total(daily, one, often=True)
    assert not is_running_total(daily, one)
    assert not is_running_total(saw, one, often=True)
