"""What rules cost in false alarms, and what makes values unfit for a chart."""

import math
from typing import Any

import numpy as np
import pytest

from fluctus.core import CORE_RULES, Rule, SegmentSettings, Series, Settings, Spread, analyse
from fluctus.core.judgment import (
    Doubt,
    Fitness,
    ReviewAnswer,
    ReviewQuestion,
    advise_shift,
    doubts_of,
    false_alarms,
)
from fluctus.core.words import NumberStyle, Words, advise

NOISE = np.random.default_rng(11).normal(20, 2, 60).round(2)


def test_one_point_at_a_time_is_outside_as_often_as_the_normal_distribution_says() -> None:
    alone = false_alarms([Rule.OUTSIDE_LIMITS])
    beyond = math.erfc(2.660 * 2 / math.sqrt(math.pi) / math.sqrt(2))
    for points in (1, 10, 50, 100, 400):
        wanted = 1 - (1 - beyond) ** points
        # Four standard errors of 20,000 runs, or of the rate past the simulated points.
        error = 4 * math.sqrt(wanted * (1 - wanted) / 20_000) + (0.03 if points > 100 else 0)
        assert alone.chance(points) == pytest.approx(wanted, abs=error)
    assert alone.average_points == pytest.approx(1 / beyond, rel=0.06)


@pytest.mark.parametrize("length", [7, 8, 9])
def test_runs_come_as_often_as_a_coin_falls_on_one_side(length: int) -> None:
    """The chance of a run of k in n tosses, by a plain loop over the run so far."""
    state, quiet = {1: 1.0}, [1.0, 1.0]
    for _ in range(2, 101):
        nxt: dict[int, float] = {1: sum(state.values()) / 2}
        for run, chance in state.items():
            if run + 1 < length:
                nxt[run + 1] = chance / 2
        state = nxt
        quiet.append(sum(state.values()))
    alarms = false_alarms([Rule.RUN], length)
    for points in (length - 1, length, 20, 60, 100):
        assert alarms.chance(points) == pytest.approx(1 - quiet[points], abs=0.014)
    assert alarms.average_points == pytest.approx(2**length - 1, rel=0.06)


def test_more_rules_cry_wolf_more_and_none_never() -> None:
    none, core, every = map(false_alarms, (frozenset[Rule](), CORE_RULES, frozenset(Rule)))
    assert none.chance(1000) == 0
    assert none.average_points == math.inf
    chances = [[one.chance(n) for n in range(0, 300, 7)] for one in (core, every)]
    for own in chances:
        assert own == sorted(own)
        assert own[0] == 0
    assert all(a <= b for a, b in zip(*chances, strict=True))
    assert every.average_points < core.average_points
    assert false_alarms(CORE_RULES) is core  # kept, not computed again


def doubts(values: Any, aside: Any = None, starts: tuple[int, ...] = (), **more: Any) -> Any:
    segments = tuple(SegmentSettings(start) for start in (0, *starts))
    chart = analyse(Series(values, aside), Settings(segments))
    return {one.check: one for one in doubts_of(chart, **more)}


def test_steady_values_are_fit() -> None:
    assert doubts(NOISE) == {}
    assert doubts([]) == {}
    assert set(doubts([7.0] * 20)) <= {Fitness.FEW_VALUES}


def test_each_doubt_has_its_number() -> None:
    assert doubts(NOISE[:12])[Fitness.FEW_VALUES] == Doubt(Fitness.FEW_VALUES, 12, 17)
    coarse = np.array([3.0, 3, 4, 3, 3, 3, 4, 4, 3, 3, 3, 3, 4, 3, 3, 3, 3, 4])
    spread = sum(abs(a - b) for a, b in zip(coarse[1:], coarse[:-1], strict=True)) / 17
    step = doubts(coarse)[Fitness.COARSE_STEP]
    assert (step.number, step.bound) == (1, pytest.approx(spread / 1.128))
    drift = NOISE + np.arange(60)
    mean = sum(drift) / 60
    lag = sum((a - mean) * (b - mean) for a, b in zip(drift[1:], drift[:-1], strict=True))
    own = doubts(drift)[Fitness.AUTOCORRELATION]
    assert own.number == pytest.approx(lag / sum((v - mean) ** 2 for v in drift))
    assert own.bound == pytest.approx(2 / math.sqrt(60))
    # A shift is no dependence once the limits follow it.
    shifted = np.concatenate((NOISE, NOISE + 30))
    assert Fitness.AUTOCORRELATION in doubts(shifted)
    assert Fitness.AUTOCORRELATION not in doubts(shifted, starts=(60,))
    jumps = NOISE.copy()
    jumps[10::12] += 60
    ranges = sorted(abs(np.diff(jumps)))
    inflated = doubts(jumps)[Fitness.INFLATED_LIMITS]
    assert inflated.number == pytest.approx(sum(ranges) / 59 / (ranges[29] * 3.145 / 2.660))
    aside = np.zeros(60, bool)
    aside[:7] = True
    assert doubts(NOISE, aside)[Fitness.MANY_SET_ASIDE].number == pytest.approx(7 / 60)
    assert Fitness.MANY_SET_ASIDE not in doubts(NOISE, aside & (np.arange(60) < 6))
    assert doubts(1000 + np.cumsum(NOISE))[Fitness.RUNNING_TOTAL].number == 1
    assert doubts(NOISE, missing_periods=3)[Fitness.MISSING_PERIODS].number == 3
    apart = doubts(NOISE, breakdowns={"Ainsey": NOISE[:30], "Holmsand": NOISE[30:] + 9})
    assert apart[Fitness.MIXED_BREAKDOWNS].number > 3
    alike = doubts(NOISE, breakdowns={"Ainsey": NOISE[:30], "Holmsand": NOISE[:30]})
    assert alike == {}


def test_ranges_that_touch_a_set_aside_value_inflate_nothing() -> None:
    values = NOISE.copy()
    values[::9] += 70
    aside = np.zeros(60, bool)
    aside[::9] = True
    assert Fitness.INFLATED_LIMITS in doubts(values)
    assert Fitness.INFLATED_LIMITS not in doubts(values, aside)
    # Nor are limits inflated that come from the median range.
    median = Settings((SegmentSettings(spread=Spread.MEDIAN_RANGE),))
    own = {one.check for one in doubts_of(analyse(Series(values), median))}
    assert Fitness.INFLATED_LIMITS not in own


def test_every_doubt_says_what_to_do() -> None:
    words = Words("Ramp cycle", NumberStyle("s"), "week", str)
    for check in Fitness:
        advice = advise(Doubt(check, 1.5, 0.5), words)
        assert advice.title
        assert advice.remedy.endswith(".")
        assert advice.text[0].isupper() or advice.text[0].isdigit()
    one = advise(Doubt(Fitness.MISSING_PERIODS, 1, 0), words)
    assert one.text == "1 week between the first and the last has no value."
    assert "5 weeks between" in advise(Doubt(Fitness.MISSING_PERIODS, 5, 0), words).text
    drifting = advise(Doubt(Fitness.AUTOCORRELATION, 0.5, 0.3), words)
    assert drifting.title == "Values depend on the ones before"
    assert "correlation is 0.50, beyond 0.30" in drifting.text
    swinging = advise(Doubt(Fitness.AUTOCORRELATION, -0.5, 0.3), words)
    assert swinging.title == "Values swing back and forth"
    assert "\N{MINUS SIGN}0.50, beyond \N{MINUS SIGN}0.30" in swinging.text


def test_only_four_times_yes_speaks_for_new_limits() -> None:
    every = dict.fromkeys(ReviewQuestion, ReviewAnswer.YES)
    assert advise_shift(every) == "All four speak for recalculating from here."
    said = {advise_shift(every)}
    for question in ReviewQuestion:
        for answer in (ReviewAnswer.NO, ReviewAnswer.UNSURE):
            said.add(advise_shift(every | {question: answer}))
        missing = {one: answer for one, answer in every.items() if one is not question}
        assert "Four times yes" in advise_shift(missing)
    assert len(said) == 9
    # A no weighs more than a doubt, wherever it comes.
    doubtful = every | {
        ReviewQuestion.DIFFERENT: ReviewAnswer.UNSURE,
        ReviewQuestion.LASTING: ReviewAnswer.NO,
    }
    assert advise_shift(doubtful) == advise_shift(every | {ReviewQuestion.LASTING: ReviewAnswer.NO})
