"""Pairs that go together are found, with their lag; what chance alone shows is not."""

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core.context import Numbered, go_together
from fluctus.core.context.going_together import CHANCE, FEWEST_PAIRS

Random = np.random.Generator
SETS, MANY, WEEKS = 120, 12, 104


def numbered(values: np.ndarray, first: int = 0) -> Numbered:
    return Numbered(np.arange(first, first + len(values)), values)


def followed(random: Random, n: int) -> np.ndarray:
    values = random.normal(size=n)
    for at in range(1, n):
        values[at] = 0.6 * values[at - 1] + 0.8 * values[at]
    return values


@pytest.mark.parametrize(
    "drawn",
    [
        lambda random, n: random.normal(size=n),
        followed,
        lambda random, n: np.exp(1.5 * random.normal(size=n)),
        lambda random, n: random.poisson(1.0, size=n).astype(float),
        lambda random, n: np.cumsum(random.normal(size=n)),
        lambda random, n: random.normal(size=30),
    ],
    ids=["normal", "follows itself", "skewed", "counts", "walk", "few"],
)
def test_of_series_that_have_nothing_to_do_with_each_other_none_go_together(
    drawn: Callable[[Random, int], np.ndarray],
) -> None:
    """In no more sets than the bound lets, with four standard errors of room."""
    found = 0
    for seed in range(SETS):
        random = np.random.default_rng(seed)
        found += bool(go_together([numbered(drawn(random, WEEKS)) for _ in range(MANY)]))
    assert found <= SETS * CHANCE + 4 * np.sqrt(SETS * CHANCE)


@pytest.mark.parametrize("way", [1, -1])
@pytest.mark.parametrize("lag", [0, 1, 7, 12])
def test_one_that_follows_another_is_found_with_its_lag(lag: int, way: int) -> None:
    random = np.random.default_rng(lag)
    series = [random.normal(size=WEEKS) for _ in range(MANY)]
    led = way * 0.8 * series[2][: WEEKS - lag]
    series[5][lag:] = led + 0.6 * series[5][lag:]
    # One slip of a thousand times as much neither makes nor hides it.
    series[5][50] = 1e4
    (found,) = go_together([numbered(each) for each in series])
    assert {found.first, found.second} == {2, 5}
    assert found.lag == lag
    assert lag == 0 or (found.first, found.second) == (2, 5)
    assert found.n == WEEKS - lag
    assert np.sign(found.correlation) == way


@given(st.integers(0, 10_000), st.integers(0, 5))
def test_whatever_is_there_or_missing_each_pair_is_told_once_and_from_enough(
    seed: int, many: int
) -> None:
    random = np.random.default_rng(seed)
    shared = random.normal(size=80)
    series = []
    for _ in range(many):
        kept = np.sort(random.choice(80, size=random.integers(0, 81), replace=False))
        noise = random.choice([0.0, 0.3, 3.0])
        values = np.round(shared + noise * random.normal(size=80), random.integers(0, 4))[kept]
        series.append(Numbered(kept + 1_000_000, values))
    found = go_together(series)
    pairs = [frozenset((each.first, each.second)) for each in found]
    assert len(set(pairs)) == len(pairs)
    for each in found:
        assert each.first != each.second
        assert each.n >= FEWEST_PAIRS
        assert -1 <= each.correlation <= 1
        assert 0 <= each.chance < CHANCE
    assert [each.chance for each in found] == sorted(each.chance for each in found)
