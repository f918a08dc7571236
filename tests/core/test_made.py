"""What made a value, held to plain loops: the parts add up, for any that come and go."""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fluctus.core.arrays import Bools
from fluctus.core.judgment import PartTable, Whole, fraction_parts, what_made_it
from fluctus.core.judgment.contributions import ratio_parts
from fluctus.core.shaping import FORMULAS, MadeFrom, above_whole, small_denominators
from fluctus.core.words import NumberStyle, say_halves, say_what_made_it

CASES = json.loads((Path(__file__).parent / "golden_verdict.json").read_text())["ratio_parts"]
NAMES = ("Marrowick", "Ainsey", "Holmsand", "Petrel", "Dunlin")
amounts = st.one_of(st.just(math.nan), st.floats(0, 1e4).map(lambda value: round(value, 3)))


@st.composite
def tables(draw: st.DrawFn, whole: Whole) -> tuple[PartTable, Bools, Bools]:
    m, p = draw(st.integers(1, 5)), draw(st.integers(6, 14))
    cells = draw(st.lists(amounts, min_size=m * p, max_size=m * p))
    weights = draw(st.lists(st.integers(0, 50), min_size=m * p, max_size=m * p))
    table = PartTable(
        whole, np.array(cells).reshape(m, p), np.array(weights, np.float64).reshape(m, p)
    )
    looked_at = np.arange(p) >= p - draw(st.integers(1, 3))
    return table, ~looked_at, looked_at


@pytest.mark.parametrize("case", CASES)
def test_worked_cases_of_rates_and_weights(case: dict[str, Any]) -> None:
    sides = [np.array(case[name], np.float64) for name in ("num", "den", "num0", "den0")]
    rate, weight = ratio_parts(*sides)
    assert rate == pytest.approx(case["rate"], abs=1e-9)
    assert weight == pytest.approx(case["weight"], abs=1e-9)
    assert rate.sum() + weight.sum() == pytest.approx(case["whole"], abs=1e-9)


@settings(max_examples=60)
@given(tables(Whole.SUM))
def test_parts_of_a_sum_are_their_values_less_their_averages(
    drawn: tuple[PartTable, Bools, Bools],
) -> None:
    table, window, looked_at = drawn
    made = what_made_it(table, window, looked_at)
    for part, row in enumerate(table.amounts):
        now = [0 if math.isnan(v) else v for v in row[looked_at]]
        usual = [0 if math.isnan(v) else v for v in row[window]]
        expected = sum(now) / len(now) - sum(usual) / len(usual)
        assert made.brought[part] == pytest.approx(expected, abs=1e-9)
    assert made.brought.sum() == pytest.approx(made.value - made.usual, abs=1e-9)


def mean_of(table: PartTable, period: int) -> float | None:
    pairs = [
        (v, w)
        for v, w in zip(table.amounts[:, period], table.weights[:, period], strict=True)
        if not math.isnan(v) and w > 0
    ]
    total = sum(w for _, w in pairs)
    return sum(v for v, _ in pairs) / total if total else None


@settings(max_examples=60)
@given(tables(Whole.MEAN))
def test_parts_of_a_mean_add_up_to_it(drawn: tuple[PartTable, Bools, Bools]) -> None:
    table, window, looked_at = drawn
    # An amount of a mean is a value times its weight: without one there is no value.
    table = PartTable(
        Whole.MEAN, np.where(table.weights > 0, table.amounts, math.nan), table.weights
    )
    sides = [
        [mean for p in np.flatnonzero(side) if (mean := mean_of(table, int(p))) is not None]
        for side in (window, looked_at)
    ]
    if not all(sides):
        return
    usual, value = (sum(side) / len(side) for side in sides)
    made = what_made_it(table, window, looked_at)
    assert (made.usual, made.value) == pytest.approx((usual, value), abs=1e-6)
    assert made.brought.sum() == pytest.approx(made.value - made.usual, abs=1e-9 * max(1, value))


def test_with_steady_weights_a_part_of_a_mean_brings_its_difference_by_its_share() -> None:
    values = np.array([[20.0, 22, 21, 19, 20, 30], [10.0, 11, 10, 9, 10, 11]])
    weights = np.array([[3.0] * 6, [1.0] * 6])
    window = np.arange(6) < 5
    made = what_made_it(PartTable(Whole.MEAN, values * weights, weights), window, ~window)
    for part, share in ((0, 0.75), (1, 0.25)):
        own = values[part, 5] - values[part, :5].mean()
        assert made.brought[part] == pytest.approx(own * share)


@settings(max_examples=60)
@given(tables(Whole.RATIO))
def test_parts_of_a_ratio_add_up_for_any_that_come_and_go(
    drawn: tuple[PartTable, Bools, Bools],
) -> None:
    table, window, looked_at = drawn
    below = np.where(np.isnan(table.amounts), 0, table.weights)
    if not below[:, window].sum() or not below[:, looked_at].sum():
        return
    made = what_made_it(table, window, looked_at)
    above = np.nan_to_num(table.amounts)
    value = above[:, looked_at].sum() / below[:, looked_at].sum()
    usual = above[:, window].sum() / below[:, window].sum()
    assert (made.value, made.usual) == pytest.approx((value, usual), rel=1e-12)
    scale = max(1.0, value, usual)
    assert made.brought.sum() == pytest.approx(value - usual, abs=1e-9 * scale)


@given(st.lists(st.floats(1, 1e4), min_size=4, max_size=4))
def test_numerator_and_denominator_add_up(four: list[float]) -> None:
    above, below, above_before, below_before = four
    halves = fraction_parts(*four)
    expected = above / below - above_before / below_before
    assert halves.sum() == pytest.approx(expected, rel=1e-9, abs=1e-9)


def spiked(part: int, size: float, parts: int = 5, seed: int = 3) -> PartTable:
    values = np.random.default_rng(seed).normal(20, 1, (parts, 30))
    values[part, -1] += size
    return PartTable(Whole.SUM, values, np.ones_like(values))


def test_the_part_that_made_a_spike_is_named_and_ordinary_ones_are_the_others() -> None:
    window = np.arange(30) < 29
    made = what_made_it(spiked(2, 9), window, ~window)
    said = say_what_made_it(made, NAMES, NumberStyle("", 0, 0, 0))
    assert said.startswith("Of the ")
    assert " Holmsand brought " in said
    assert made.beyond.tolist()[2] == 1
    assert not made.ordinary[2]
    assert made.concentration > 0.3


def test_where_nothing_stands_out_that_is_said() -> None:
    """Of 400 parts some are beyond their own limits by chance; none of them is named."""
    window = np.arange(30) < 29
    alike = 0
    for seed in range(40):
        made = what_made_it(spiked(0, 0, parts=400, seed=seed), window, ~window)
        names = [f"Stop {n}" for n in range(400)]
        alike += say_what_made_it(made, names, NumberStyle()).startswith("Everywhere alike")
    assert alike >= 34


def test_words_for_parts_against_each_other_and_for_none_altogether() -> None:
    window = np.arange(30) < 29
    values = np.tile(20.0 + np.arange(30) % 2, (3, 1))
    values[:, :-1] -= values[:, :-1].mean(axis=1, keepdims=True) - 20
    values[:, -1] = [40, 0, 20]
    made = what_made_it(PartTable(Whole.SUM, values, values), window, ~window)
    said = say_what_made_it(made, NAMES, NumberStyle("kg", 0, 0, 0))
    assert said == (
        "No more and no less than usual altogether, but not in each part: "
        "Marrowick +20 and Ainsey \N{MINUS SIGN}20."
    )
    halves = say_halves(made, ["On time", "Departures", "Late"], NumberStyle(), "in May")
    assert halves == "No more and no less than in May altogether."


def test_arithmetic_of_two_and_what_is_said_of_denominators() -> None:
    first, second = np.array([92.0, 10, 3]), np.array([98.0, 0, 12])
    ratio = FORMULAS[MadeFrom.RATIO](first, second, 100.0)
    assert ratio[[0, 2]] == pytest.approx([9200 / 98, 25])
    assert math.isnan(ratio[1])
    assert FORMULAS[MadeFrom.DIFFERENCE](first, second, 1.0).tolist() == [-6, 10, -9]
    assert above_whole(first, second).tolist() == [False, True, False]
    every = np.ones(8, np.bool_)
    assert small_denominators(np.array([10.0, 11, 12, 40, 20, 30, 35, 12]), every) is None
    small = small_denominators(np.array([9.0, 11, 12, 40, 20, 30, 35, 12]), every)
    assert small is not None
    assert small.tolist() == [True, True] + [False] * 6
