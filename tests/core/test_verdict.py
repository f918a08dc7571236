"""The evidence behind the sentence, by worked cases and by plain loops."""

import itertools
import json
import math
import random
from pathlib import Path
from statistics import NormalDist
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from fluctus.core import CORE_RULES, Pattern, Rule, SegmentSettings, Series, Settings, analyse
from fluctus.core.context.pairs import Numbered, correlation, effective_count, lag_curve, pair_up
from fluctus.core.judgment import (
    Verdict,
    against_placements,
    evidence_at,
    far_off,
    findings_by_chance,
    happenings_of,
    shift_candidates,
    verdict_of,
)
from fluctus.core.judgment.evidence import season_test
from fluctus.core.judgment.regression import Design
from fluctus.core.judgment.shift_evidence import (
    KEPT,
    LOOKED_AT,
    best_split,
    changes_of,
    normal_scores,
    simulated_threshold,
    threshold,
)
from tests.core.drawn import season, seasons

GOLDEN = json.loads((Path(__file__).parent / "golden_verdict.json").read_text())
FEW = st.lists(st.integers(-40, 40).map(lambda n: n / 4), min_size=8, max_size=40)


@pytest.mark.parametrize("case", GOLDEN["shift"])
def test_the_evidence_of_a_shift_is_that_of_the_worked_cases(case: dict[str, Any]) -> None:
    split = best_split(np.array(case["values"]))
    assert split is not None
    assert split.split_at == case["place"]
    assert split.gain == pytest.approx(case["gain"], rel=1e-9)
    assert split.following == pytest.approx(case["r"], rel=1e-9, abs=1e-12)
    assert split.held_gain == pytest.approx(case["held_gain"], rel=1e-9)
    # The threshold is that of random orders: near to those of the cases.
    assert split.threshold == pytest.approx(case["threshold_about"], rel=0.15)
    assert split.is_evidence is (case["share_of_orders_beyond"] < 0.01)


@pytest.mark.parametrize("case", GOLDEN["season"])
def test_the_evidence_of_a_season_is_that_of_the_worked_cases(case: dict[str, Any]) -> None:
    test = season_test(
        np.array(case["values"]),
        np.array(case["places"]),
        np.array(case["cycles"]),
        case["length"],
    )
    assert test is not None
    assert test.following == pytest.approx(case["rho"], rel=1e-9, abs=1e-12)
    assert test.ratio == pytest.approx(case["f"], rel=1e-9)
    assert list(test.degrees) == case["degrees"]
    assert test.chance == pytest.approx(case["chance"], rel=1e-7)
    assert (test.cycles, test.foretold) == (case["full_cycles"], case["better"])
    assert test.fall == pytest.approx(case["fall"], rel=1e-9)
    assert test.holds is case["proposed"]


@pytest.mark.parametrize("case", GOLDEN["together"])
def test_pairs_that_follow_each_other_say_less_as_in_the_worked_cases(
    case: dict[str, Any],
) -> None:
    order = np.arange(len(case["a"]))
    first, second = (Numbered(order, np.array(case[name])) for name in ("a", "b"))
    pairs = pair_up(first, second)
    assert correlation(pairs) == pytest.approx(case["r"], rel=1e-9)
    assert effective_count(pairs) == pytest.approx(case["effective_n"], rel=1e-9)
    at = lag_curve(first, second, longest=0)[0]
    assert at.noise == pytest.approx(case["band"], rel=1e-9)
    assert at.effective == pytest.approx(case["effective_n"], rel=1e-9)


@given(FEW)
def test_the_best_split_is_the_one_that_plain_loops_find(values: list[float]) -> None:
    split = best_split(np.array(values))
    assert split is not None
    n = len(values)
    ranks = [
        sum(other < value for other in values) + (values.count(value) + 1) / 2 for value in values
    ]
    raw = [NormalDist().inv_cdf((rank - 0.5) / n) for rank in ranks]
    mean = sum(raw) / n
    deviation = math.sqrt(sum((z - mean) ** 2 for z in raw) / n)
    scores = [z / deviation for z in raw] if deviation > 1e-9 else [0.0] * n
    assert normal_scores(np.array(values)) == pytest.approx(scores, abs=1e-9)
    middle = sum(scores) / n
    gains = {k: (sum(scores[:k]) - k * middle) ** 2 * n / (k * (n - k)) for k in range(3, n - 2)}
    best = max(gains.values())
    assert split.gain == pytest.approx(best, abs=1e-9)
    assert gains[split.split_at] == pytest.approx(best, abs=1e-9)
    # Whatever the scale, and however unevenly it is stretched: only the order counts.
    stretched = best_split(np.exp(np.array(values)))
    assert stretched is not None
    assert stretched.held_gain == pytest.approx(split.held_gain, abs=1e-9)


def test_thresholds_that_are_kept_are_those_of_the_simulation() -> None:
    size = min(KEPT)
    assert threshold(size) == KEPT[size] == simulated_threshold(size)
    assert threshold(10**6) == threshold(LOOKED_AT)
    assert threshold(101) == threshold(105)


def test_what_random_order_brings_is_evidence_once_in_a_hundred_at_most() -> None:
    draw = np.random.default_rng(3)
    claimed = sum(bool(changes_of(draw.exponential(2, 50))) for _ in range(400))
    assert claimed <= 12
    found = sum(
        evidence_at(np.concatenate((draw.normal(0, 1, 30), draw.normal(2, 1, 30))), 30)
        for _ in range(50)
    )
    assert found == 50
    assert sum(evidence_at(draw.normal(0, 1, 60), 30) for _ in range(200)) <= 8


@given(st.lists(st.integers(0, 60), min_size=2, max_size=70), st.integers(0, 3))
def test_values_far_off_are_those_that_the_definition_names(whole: list[int], slips: int) -> None:
    values = [float(value) for value in whole]
    for n in range(min(slips, len(values))):
        values[n * 7 % len(values)] = 4000.0 * (n + 1)
    ordered = sorted(values)
    half = len(ordered) // 2
    middle = (ordered[half] + ordered[-half - 1]) / 2
    distances = [abs(value - middle) for value in values]
    spread = 1.4826 * (sorted(distances)[half] + sorted(distances)[-half - 1]) / 2
    different = sorted(set(values))
    step = min((b - a for a, b in itertools.pairwise(different)), default=math.inf)
    wanted = [at for at, each in enumerate(distances) if each > 10 * max(spread, step)]
    few = len(wanted) <= 3 and len(wanted) <= max(1, len(values) // 20)
    enough = len(values) >= 10
    assert far_off(np.array(values)).tolist() == (wanted if few and enough else [])


@given(
    st.lists(st.integers(-9, 9), min_size=4, max_size=40),
    st.data(),
)
def test_a_set_of_periods_is_held_against_all_its_placements(
    whole: list[int], data: st.DataObject
) -> None:
    values = [float(value) for value in whole]
    n = len(values)
    inside = data.draw(st.lists(st.booleans(), min_size=n, max_size=n))
    placed = against_placements(np.array(values), np.array(inside))
    if not any(inside) or all(inside):
        assert placed is None
        return
    assert placed is not None

    def apart(chosen: list[bool]) -> float:
        held = [value for value, is_in in zip(values, chosen, strict=True) if is_in]
        rest = [value for value, is_in in zip(values, chosen, strict=True) if not is_in]
        return abs(sum(held) / len(held) - sum(rest) / len(rest))

    turns = [inside[-turn:] + inside[:-turn] for turn in range(n)]
    found = apart(inside)
    assert (placed.as_large, placed.count) == (
        sum(apart(turn) >= found - 1e-9 * max(1, found) for turn in turns),
        n,
    )


@settings(max_examples=20)
@given(st.lists(st.integers(0, 30).map(float), min_size=8, max_size=30))
def test_what_chance_brings_is_the_mean_of_random_orders(values: list[float]) -> None:
    chart = analyse(Series(values))
    brought = findings_by_chance(chart, 0, CORE_RULES)
    draw = random.Random(5)  # noqa: S311 - to be the same each time
    counts = []
    for _ in range(200):
        order = draw.sample(values, len(values))
        counts.append(len(happenings_of(analyse(Series(order)))))
    # Two samples of 200 orders differ by chance; of what is rare, one of them may have seen none.
    error = math.sqrt(2 * max(float(np.var(counts)), brought) / 200)
    assert abs(brought - sum(counts) / 200) <= 4.5 * error + 0.01
    assert findings_by_chance(chart, 0, frozenset[Rule]()) == 0


def noise(n: int, seed: int = 3) -> np.ndarray:
    return np.random.default_rng(seed).normal(0, 1, n)


def test_equal_values_go_together_with_nothing_however_they_are_rounded() -> None:
    order = np.arange(60)
    equal = Numbered(order, np.full(60, 0.1) + 0.2)
    assert correlation(pair_up(equal, Numbered(order, noise(60)))) is None


@pytest.mark.parametrize(
    ("values", "claims"),
    [
        ([20.0, 5000.0], ()),
        ([20.0] * 19 + [21.0], ()),
        ([math.nan] * 30, ()),
        ([20 + n % 5 for n in range(9)] + [900.0], ("far_off",)),
        ([*noise(10000).tolist()[:-3], 9.0, 9.0, 9.0], ("change", "out_now")),
        (np.concatenate((noise(40), noise(40, 9) + 5)).tolist(), ("change",)),
    ],
)
def test_it_claims_nothing_that_it_cannot(values: list[float], claims: tuple[str, ...]) -> None:
    verdict = verdict_of(analyse(Series(values)), seasons(long=season(len(values), 366)))
    said = {name for name in ("far_off", "change", "offered", "run") if getattr(verdict, name)}
    assert said == set(claims) - {"out_now"}
    assert ("out_now" in claims) <= (verdict.out_now is not None)


def test_a_kpi_of_which_every_value_is_set_aside_is_judged_by_nothing() -> None:
    assert verdict_of(analyse(Series([1.0, 2, 3, 4, 5, 6], [True] * 6))) == Verdict()


def test_limits_by_hand_are_what_values_are_held_against() -> None:
    """A baseline whose limits the rest leaves is no reason to call the process a wild one."""
    values = np.concatenate((noise(30), noise(30, 5) + 6))
    settings = Settings((SegmentSettings(window=(0, 30)),))
    verdict = verdict_of(analyse(Series(values), settings))
    assert not verdict.is_predictable
    assert verdict.change is not None
    assert verdict.change.position == 30
    assert verdict.settles
    assert not verdict.tells_ahead


def test_a_decision_settles_a_change_and_a_value_that_is_right_is_asked_of_no_more() -> None:
    values = np.concatenate((noise(40), noise(40, 9) + 3))
    chart = analyse(Series(values))
    assert verdict_of(chart).change is not None
    assert verdict_of(chart, settled=[40]).change is None
    slip = analyse(Series([*noise(30).tolist(), 200.0, *noise(30, 4).tolist()]))
    asked = verdict_of(slip)
    assert asked.far_off is not None
    assert asked.far_off.positions == (30,)
    assert not asked.tells_ahead
    answered = verdict_of(slip, right=[30])
    assert answered.far_off is None
    assert answered.right == (30,)


@pytest.mark.parametrize("seed", range(6))
def test_a_season_is_offered_with_what_would_be_left_and_no_shift_beside_it(seed: int) -> None:
    n = 120
    wave = 50 + 12 * np.sin(np.arange(n) * 2 * np.pi / 12)
    chart = analyse(Series(wave + noise(n, seed)))
    verdict = verdict_of(chart, seasons(month=season(n, 12)))
    assert verdict.offered is not None
    assert verdict.offered.key == "month"
    assert verdict.change is None
    followed = Settings((SegmentSettings(pattern=Pattern.SEASON, season=season(n, 12)),))
    left = verdict_of(analyse(Series(wave + noise(n, seed)), followed)).kept
    assert left is not None
    assert verdict.offered.after == left.beyond
    assert verdict.offered.after <= verdict.offered.before
    # What the season makes of it, runs and levels, is no shift to ask about.
    assert len(shift_candidates(chart)) > 1
    assert shift_candidates(chart, verdict.changes, evident_only=True) == []


@given(
    st.integers(0, 2**32 - 1),
    st.integers(2, 14),
    st.integers(30, 300),
    st.none() | st.floats(-0.9, 0.99),
    st.sampled_from([0.0, 1e6]),
)
def test_what_places_leave_of_values_is_what_a_column_for_each_place_leaves(
    seed: int, length: int, n: int, following: float | None, level: float
) -> None:
    random = np.random.default_rng(seed)
    values = level + random.normal(size=n).cumsum()
    places = np.where(random.random(n) < 0.1, 0, np.arange(n) // int(random.integers(1, 4)))
    places %= length
    order = np.arange(n, dtype=np.float64)[:, None]
    # One place that nothing has stands for the months of a young KPI.
    left = Design(order, places, length + 1).residuals(values, following)
    dummies = (places[:, None] == np.arange(length)).astype(np.float64)
    columns, target = (
        each if following is None else each[1:] - following * each[:-1]
        for each in (np.column_stack((order, dummies)), values)
    )
    # Their level is of the places' columns; beside a million, less would be left of the rest.
    target = target - target.mean()
    fit, *_ = np.linalg.lstsq(columns, target, rcond=None)
    assert left == pytest.approx(target - columns @ fit, abs=1e-8)
