"""How much the analysis costs, beside the least it could cost and beside pandas.

One run, the same arrays for all. The floor is what any program must do to get
the average and the mean moving range: ``x.mean()`` and ``abs(diff(x)).mean()``.
"""

import gc
import time
import tracemalloc
from collections.abc import Callable

import numpy as np
import pandas as pd

from fluctus.core import CORE_RULES, Rule, Series, Settings, analyse, analyse_many
from fluctus.core.analysis import constants as k
from fluctus.core.judgment import POINTS, RUNS, false_alarms

N = 1_000_000
ROUNDS = 25


def floor(x: np.ndarray) -> tuple[float, float]:
    return float(x.mean()), float(np.abs(np.diff(x)).mean())


def with_pandas(x: np.ndarray) -> int:
    """The same average, limits and core rules, as a careful analyst would write them."""
    s = pd.Series(x)
    ranges = s.diff().abs()
    centre, spread = s.mean(), ranges.mean()
    half = k.MEAN_RANGE_TO_LIMITS * spread
    flags = (s > centre + half) | (s < centre - half)
    flags |= ranges > k.MEAN_RANGE_TO_RANGE_LIMIT * spread
    side = np.sign(s - centre)
    runs = (side != side.shift()).cumsum()
    flags |= (runs.map(runs.value_counts()) >= 8) & (side != 0)
    for beyond in (s > centre + half / 2, s < centre - half / 2):
        enough = beyond.rolling(4).sum() >= 3
        covered = enough.astype(float)[::-1].rolling(4, min_periods=1).max()[::-1] > 0
        flags |= covered & beyond
    return int(flags.sum())


def in_turn(*jobs: Callable[[], object]) -> list[float]:
    """Best time of each job, in ms, taking turns so that all meet the same machine."""
    best = [float("inf")] * len(jobs)
    for _ in range(ROUNDS):
        for number, job in enumerate(jobs):
            start = time.perf_counter()
            job()
            best[number] = min(best[number], (time.perf_counter() - start) * 1000)
    return best


def main() -> None:
    x = np.random.default_rng(20261124).normal(20, 1.5, N)
    series = Series(x)
    short = [Series(part) for part in x.reshape(-1, 100)]
    gc.disable()
    # Two comparisons, each among its own: pandas leaves the memory allocator in a state that
    # costs whatever comes after it.
    alone, batch = in_turn(lambda: analyse(series), lambda: analyse_many(short))
    least, single_time, pandas_ = in_turn(
        lambda: floor(x), lambda: analyse(series), lambda: with_pandas(x)
    )
    gc.enable()
    tracemalloc.start()
    analyse(series)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    print(f"floor (mean and mean moving range), {N:,} values   {least:8.2f} ms")
    print(f"analyse, core rules                                {single_time:8.2f} ms")
    print(f"analyse_many, 10,000 x 100 values                  {batch:8.2f} ms")
    print(f"pandas, the same                                   {pandas_:8.2f} ms")
    print(f"analyse / floor           {single_time / least:6.2f}   (at most 8)")
    print(f"pandas / analyse          {pandas_ / single_time:6.2f}   (at least 5)")
    print(f"batch / one series        {batch / alone:6.2f}   (at most 2)")
    print(f"peak memory / input       {peak / x.nbytes:6.2f}   (at most 8)")


def simulation() -> None:
    """The false alarms of a new set of rules, beside analysing the same runs one by one."""
    rules = CORE_RULES | {Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA, Rule.SIX_TRENDING}
    start = time.perf_counter()
    false_alarms(rules)
    new = time.perf_counter() - start
    start = time.perf_counter()
    false_alarms(rules)
    again = time.perf_counter() - start
    some = RUNS // 100
    values = np.random.default_rng(1).standard_normal((some, POINTS))
    settings = Settings(rules=rules)
    start = time.perf_counter()
    for run in values:
        analyse(Series(run), settings)
    one_by_one = (time.perf_counter() - start) * RUNS / some
    print(f"false alarms of a new set of rules, {RUNS:,} runs of {POINTS} points")
    print(f"  simulated                {new:6.2f} s   (at most 3)")
    print(f"  asked again              {again * 1e6:6.0f} µs")
    print(f"  one by one, from {some:,}      {one_by_one:6.2f} s")


if __name__ == "__main__":
    main()
    simulation()
