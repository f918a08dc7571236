"""Parts, pairs and happenings side by side, computed again by plain loops."""

import math
import random
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import Direction, Series, Settings, Side, analyse
from fluctus.core.context import MeetsTarget
from fluctus.core.context.pairs import (
    LONGEST_LAG,
    Numbered,
    correlation,
    lag_curve,
    line_through,
    pair_up,
    without_season,
    without_trend,
)
from fluctus.core.judgment import compare_parts, verdict_of
from fluctus.core.judgment.coincidence import (
    SEED,
    SHIFTS,
    Timeline,
    fell_together,
    most_by_chance,
)
from fluctus.core.words import (
    Attention,
    NumberStyle,
    Tally,
    Words,
    in_short,
    say_chance,
    say_equation,
    say_pair,
    say_parts,
    say_tally,
)

MINUTES = NumberStyle("min", 0, 1, 1)

# --- Do the parts differ? ------------------------------------------------------------

few_numbers = st.lists(st.integers(0, 40).map(float), min_size=0, max_size=12)


def ranges_of(values: list[float]) -> list[float]:
    return [abs(b - a) for a, b in pairwise(values)]


@given(st.lists(few_numbers, min_size=1, max_size=5))
def test_parts_are_held_against_all_as_plain_loops_do(parts: list[list[float]]) -> None:
    compared = compare_parts(
        [np.array(part) for part in parts], [np.array(ranges_of(part)) for part in parts]
    )
    judged = [part for part in parts if len(part) >= 5]
    if len(judged) < 2:
        assert compared is None
        return
    assert compared is not None
    every = [value for part in judged for value in part]
    average = sum(every) / len(every)
    mean_ranges = [sum(ranges_of(part)) / (len(part) - 1) for part in judged]
    spread = sum(mean_ranges) / len(mean_ranges)
    assert compared.average == pytest.approx(average, abs=1e-9)
    assert compared.mean_range == pytest.approx(spread, abs=1e-9)
    for part, judgment in zip(parts, compared.parts, strict=True):
        if len(part) < 5:
            assert judgment is None
            continue
        assert judgment is not None
        room = 2.660 * spread / math.sqrt(len(part))
        own = sum(part) / len(part)
        assert judgment.average == pytest.approx(own, abs=1e-9)
        assert judgment.lower == pytest.approx(average - room, abs=1e-9)
        assert judgment.upper == pytest.approx(average + room, abs=1e-9)
        if abs(own - average - room) > 1e-9 and abs(average - own - room) > 1e-9:
            assert judgment.side == (own > average + room) - (own < average - room)


def test_a_part_that_differs_is_said_with_both_numbers() -> None:
    parts: list[list[float]] = [
        [12, 13, 12, 13, 12],
        [10, 9, 10, 9, 10],
        [8, 9, 8, 9, 8],
        [1.0, 50.0],
    ]
    compared = compare_parts(
        [np.array(part, float) for part in parts],
        [np.array(ranges_of(part), float) for part in parts],
    )
    assert compared is not None
    assert [part and part.side for part in compared.parts] == [Side.UPPER, 0, Side.LOWER, None]
    said = say_parts(compared, ["Ainsey", "Holmsand", "Marrowick", "Skerry"], MINUTES)
    nbsp = "\N{NO-BREAK SPACE}"
    assert said.startswith(f"Ainsey is higher than chance explains: 12.4 against 10.1{nbsp}min.")
    assert "Skerry" not in said
    assert say_parts(None, [], MINUTES).startswith("There are too few values")


def test_parts_of_one_process_do_not_differ() -> None:
    values = [np.array([10.0, 14.0, 9.0, 12.0, 11.0]), np.array([11.0, 9.0, 13.0, 12.0, 10.0])]
    compared = compare_parts(values, [np.abs(np.diff(part)) for part in values])
    assert say_parts(compared, ["A", "B"], MINUTES) == (
        "The two parts do not differ by more than chance explains."
    )


# --- Pairs ---------------------------------------------------------------------------


def numbered(periods: list[int], values: list[float]) -> Numbered:
    return Numbered(np.array(periods, np.intp), np.array(values, float))


def pearson(xs: list[float], ys: list[float]) -> float | None:
    n = len(xs)
    mx, my = sum(xs) / n, sum(ys) / n
    top = sum((x - mx) * (y - my) for x, y in zip(xs, ys, strict=True))
    size = math.sqrt(sum((x - mx) ** 2 for x in xs) * sum((y - my) ** 2 for y in ys))
    return top / size if size > 0 else None


series = st.dictionaries(st.integers(0, 30), st.integers(-20, 20).map(float), max_size=25)


@given(series, series, st.integers(0, LONGEST_LAG))
def test_pairs_are_those_present_in_both_so_many_periods_apart(
    x: dict[int, float], y: dict[int, float], lag: int
) -> None:
    one, other = (numbered(sorted(s), [s[p] for p in sorted(s)]) for s in (x, y))
    pairs = pair_up(one, other, lag)
    expected = [(x[p], y[p + lag]) for p in sorted(x) if p + lag in y]
    assert list(zip(pairs.x.tolist(), pairs.y.tolist(), strict=True)) == expected
    curve = lag_curve(one, other)
    assert [point.lag for point in curve] == list(range(LONGEST_LAG + 1))
    point = curve[lag]
    assert point.n == len(expected)
    if len(expected) < 3:
        assert (point.correlation, point.noise) == (None, None)
        return
    r = pearson([a for a, _ in expected], [b for _, b in expected])
    assert point.correlation == (r if r is None else pytest.approx(r, abs=1e-9))
    if r is None:
        assert (point.noise, point.effective) == (None, None)
        return
    follow = [following([pair[side] for pair in expected]) for side in (0, 1)]
    effective = len(expected) * (1 - follow[0] * follow[1]) / (1 + follow[0] * follow[1])
    assert point.effective == pytest.approx(effective)
    assert point.noise == pytest.approx(2 / math.sqrt(effective))


def following(values: list[float]) -> float:
    """The lag-1 autocorrelation, made up for its bias."""
    n, mean = len(values), sum(values) / len(values)
    off = [value - mean for value in values]
    total = sum(each * each for each in off)
    if n <= 3 or not total:
        return 0.0
    r = sum(a * b for a, b in pairwise(off)) / total
    return min(0.95, max(0.0, (n * r + 1) / (n - 3)))


@given(st.lists(st.tuples(st.integers(-50, 50), st.integers(-50, 50)), min_size=3, max_size=30))
def test_the_line_is_that_of_least_squares(points: list[tuple[int, int]]) -> None:
    xs, ys = [float(x) for x, _ in points], [float(y) for _, y in points]
    periods = list(range(len(points)))
    line = line_through(pair_up(numbered(periods, xs), numbered(periods, ys)))
    if len(set(xs)) == 1:
        assert line is None
        return
    assert line is not None
    n, mx, my = len(xs), sum(xs) / len(xs), sum(ys) / len(ys)
    slope = sum((x - mx) * (y - my) for x, y in zip(xs, ys, strict=True)) / sum(
        (x - mx) ** 2 for x in xs
    )
    start = my - slope * mx
    assert line.slope == pytest.approx(slope, abs=1e-9)
    assert line.start == pytest.approx(start, abs=1e-7)
    left = [y - start - slope * x for x, y in zip(xs, ys, strict=True)]
    total = sum((y - my) ** 2 for y in ys)
    assert line.r_squared == pytest.approx(
        1 - sum(e * e for e in left) / total if total else 0, abs=1e-9
    )
    room = 2.660 * sum(abs(b - a) for a, b in pairwise(left)) / (n - 1)
    for off, residual in zip(line.off, left, strict=True):
        if abs(abs(residual) - room) > 1e-7:
            assert bool(off) == (abs(residual) > room > 1e-12)


def test_large_numbers_lose_no_digits_of_the_line() -> None:
    xs = [1e9 + k for k in range(20)]
    ys = [3 * k + 7.0 for k in range(20)]
    line = line_through(pair_up(numbered(list(range(20)), xs), numbered(list(range(20)), ys)))
    assert line is not None
    assert line.slope == pytest.approx(3, rel=1e-9)
    assert line.r_squared == pytest.approx(1)


@pytest.mark.parametrize("scale", [1e-300, 1e-160, 1e-9, 1e9, 1e160, 1e300])
def test_how_pairs_go_together_rests_on_no_unit(scale: float) -> None:
    random.seed(1877)
    x = [random.gauss(5, 1) for _ in range(40)]
    y = [value + random.gauss(0, 1) for value in x]
    periods = list(range(40))
    expected = correlation(pair_up(numbered(periods, x), numbered(periods, y)))
    assert expected is not None
    scaled = numbered(periods, [value * scale for value in x])
    assert correlation(pair_up(scaled, numbered(periods, y))) == pytest.approx(expected, rel=1e-9)


def test_what_both_share_can_be_taken_out() -> None:
    random.seed(1876)
    noise = [random.gauss(0, 1) for _ in range(80)]
    other = [random.gauss(0, 1) for _ in range(80)]
    periods = list(range(80))
    rising = [numbered(periods, [k * 0.5 + e for k, e in enumerate(n)]) for n in (noise, other)]
    assert (correlation(pair_up(rising[0], rising[1])) or 0) > 0.9
    left = [without_trend(one) for one in rising]
    assert abs(correlation(pair_up(left[0], left[1])) or 1) < 2 / math.sqrt(80)
    places = np.array([k % 4 for k in periods], np.intp)
    seasonal = [
        numbered(periods, [9.0 * (k % 4) + e for k, e in enumerate(n)]) for n in (noise, other)
    ]
    assert (correlation(pair_up(seasonal[0], seasonal[1])) or 0) > 0.9
    bare = [without_season(one, places) for one in seasonal]
    assert abs(correlation(pair_up(bare[0], bare[1])) or 1) < 2 / math.sqrt(80)


def test_a_pair_is_said_with_no_more_than_it_supports() -> None:
    periods = list(range(30))
    x, y = (
        numbered(periods, [float(k) for k in periods]),
        numbered(periods, [2.0 * k + 5 for k in periods]),
    )
    pairs = pair_up(x, y)
    line, at = line_through(pairs), lag_curve(x, y)[0]
    assert line is not None
    said = say_pair(line, at, ("Ramp cycle", "Turnaround"))
    # Two that rise all the time say as much together as two pairs would.
    assert said.startswith("Whether Ramp cycle and Turnaround go together cannot be told")
    random.seed(5)
    waves = numbered(periods, [random.gauss(0, 1) for _ in periods])
    same = numbered(periods, [2.0 * value + 5 for value in waves.values.tolist()])
    told = say_pair(
        line_through(pair_up(waves, same)), lag_curve(waves, same)[0], ("Ramp", "Waste")
    )
    assert told == (
        "Where Ramp is higher, Waste tends to be higher: a line explains 100% of its variance, "
        "over 30 pairs."
    )
    equation = say_equation(line, "Ramp cycle", "Turnaround", NumberStyle("s", 0, 1, 1), MINUTES)
    nbsp = "\N{NO-BREAK SPACE}"
    assert equation == f"Turnaround = 5.0{nbsp}min + 2.0{nbsp}min for each s of Ramp cycle"
    random.seed(5)
    loose = numbered(periods, [random.gauss(0, 1) for _ in periods])
    at = lag_curve(x, loose)[0]
    said = say_pair(line_through(pair_up(x, loose)), at, ("Ramp cycle", "Waste"))
    assert "do not go together more than chance explains" in said
    nothing = lag_curve(x, numbered([100], [1.0]))[0]
    assert "have 0 periods in common" in say_pair(None, nothing, ("Ramp cycle", "Waste"))


# --- What fell together --------------------------------------------------------------

DAY = 86_400
WEEK = 7 * DAY


def happening(weeks: list[int], span: int = 52) -> Timeline:
    return Timeline(np.array(sorted(weeks), np.int64) * WEEK, 0, span * WEEK, WEEK)


def most_at_once(moved: list[list[int]], within: int) -> int:
    """The most series with a happening in one stretch, by trying each stretch that can matter."""
    starts = {time for times in moved for time in times}
    return max(
        (
            sum(any(start <= time <= start + within for time in times) for times in moved)
            for start in starts
        ),
        default=0,
    )


def test_stretches_of_most_series_come_first_and_share_nothing() -> None:
    found = fell_together(
        [happening([3, 20]), happening([4, 30]), happening([3, 31]), happening([50])], WEEK
    )
    assert [together.series for together in found] == [3, 2]
    assert found[0].members.tolist() == [[0, 0], [2, 0], [1, 0]]
    assert found[1].members.tolist() == [[1, 1], [2, 1]]
    assert fell_together([], WEEK) == ()
    assert fell_together([happening([1, 2, 3])], WEEK) == ()


@given(
    st.lists(
        st.lists(st.integers(0, 19), min_size=1, max_size=4, unique=True), min_size=1, max_size=4
    ),
    st.integers(0, 8),
)
def test_most_by_chance_is_what_shifting_by_hand_finds(weeks: list[list[int]], within: int) -> None:
    span = 20
    most = most_by_chance([happening(own, span) for own in weeks], within * WEEK)
    assert len(most) == SHIFTS
    turns = np.random.default_rng(SEED).integers(0, span, size=(SHIFTS, len(weeks)))
    for world in range(0, SHIFTS, 400):
        # Each series goes around its dates, and so does a stretch that begins before their start.
        covered = [
            {(week + int(turn) - back) % span for week in own for back in range(within + 1)}
            for own, turn in zip(weeks, turns[world], strict=True)
        ]
        by_hand = max(sum(start in own for own in covered) for start in range(span))
        assert most[world] == by_hand


def test_the_chance_is_the_share_of_shifts_with_as_many() -> None:
    rare = [happening([10]), happening([10]), happening([11])]
    (together,) = fell_together(rare, WEEK)
    assert together.series == 3
    # Two others within a week of the first: about (3 / 52) ** 2 of the shifts.
    assert 0 < together.chance < 0.01
    assert "rarely by chance" in say_chance(together)
    often = [happening(list(range(0, 52, 3))) for _ in range(3)]
    assert fell_together(often, WEEK)[0].chance > 0.9
    assert "no more than chance brings" in say_chance(fell_together(often, WEEK)[0])
    assert most_at_once([[10], [10], [11]], 1) == 3


# --- In short ------------------------------------------------------------------------


def words(**more: float) -> Words:
    return Words("Ramp cycle", MINUTES, "week", lambda position: f"week {position}", **more)  # type: ignore[arg-type]


def short(values: list[float], direction: Direction = Direction.LOWER, **more: float) -> object:
    analysis = analyse(Series(values), Settings(direction=direction))
    found = in_short(analysis, words(**more), verdict_of(analysis), "")
    return found.what, found.more, found.attention, found.reach


STEADY = [10, 11, 10, 12, 11, 10, 9, 10, 11, 10, 12, 9, 10, 11, 10, 9, 11, 10, 12, 10.0]


def test_a_chart_in_short_says_what_waits_before_how_it_stands() -> None:
    assert short(STEADY) == ("Steady", "no target set", Attention.STEADY, MeetsTarget.UNKNOWN)
    nbsp = "\N{NO-BREAK SPACE}"
    assert short(STEADY, target=20) == (
        "Steady",
        f"always meets 20.0{nbsp}min",
        Attention.STEADY,
        MeetsTarget.ALWAYS,
    )
    assert short(STEADY, target=2)[3] is MeetsTarget.NEVER  # type: ignore[index]
    missed = short(STEADY, target=9.5)
    assert missed[1:] == (  # type: ignore[index]
        f"missed 9.5{nbsp}min in 17 of 20 weeks",
        Attention.STEADY,
        MeetsTarget.SOMETIMES,
    )
    run = short([*STEADY, *([13] * 9)])
    assert run[0].startswith("Run of 9 above average")  # type: ignore[index]
    assert run[2] is Attention.WAITS  # type: ignore[index]
    assert short([])[:3] == ("No values yet", "", Attention.UNJUDGED)  # type: ignore[index]
    assert short([5, 6, 7])[2] is Attention.UNJUDGED  # type: ignore[index]
    assert short([3.0] * 20)[0] == "Never varies"  # type: ignore[index]
    wild = short(([10, 10.2] * 8 + [10, 30, 10.2, -10]) * 12)
    assert wild[2] is Attention.NOT_PREDICTABLE  # type: ignore[index]
    # What came after a change with evidence keeps to limits of its own: that is what waits.
    late = short([*(([10, 10.2] * 8 + [10, 30, 10.2, -10]) * 12), *([9.0] * 9)])
    assert late[1] == "changed between week 1 and week 248, not decided yet"  # type: ignore[index]
    assert late[2] is Attention.WAITS  # type: ignore[index]


def test_how_far_off_its_target_is_in_sigmas_below_zero_on_the_good_side() -> None:
    analysis = analyse(Series(STEADY), Settings(direction=Direction.LOWER))
    last = analysis.segments[-1]
    assert last.average is not None
    assert last.sigma is not None
    off = in_short(analysis, words(target=9.0), verdict_of(analysis), "").off_target
    assert off == pytest.approx((last.average - 9) / last.sigma)
    good = in_short(analysis, words(target=20.0), verdict_of(analysis), "").off_target
    assert good is not None
    assert good < 0


def test_the_tally_counts_what_there_is_and_leaves_out_the_rest() -> None:
    tally = Tally(count=12, new=2, waits=1, out=0, never=0, steady=8, not_predictable=0, late=0)
    assert say_tally(tally) == (
        "Two have new findings. One waits for a decision, and eight are steady."
    )
    assert say_tally(Tally(1, 0, 0, 0, 0, 0, 0, 0)) == "No KPI has a new finding."
    assert say_tally(Tally(0, 0, 0, 0, 0, 0, 0, 0)) == ""
