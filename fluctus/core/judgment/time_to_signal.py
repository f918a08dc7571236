"""How often a process would show a signal: with no change, and after one.

The price of a set of rules and its power. By simulation: independent normal values judged
against limits that are known exactly, from a fixed seed. L. S. Nelson, "The Shewhart control
chart: tests for special causes", *Journal of Quality Technology* 16 (1984) 237-239, and C. W.
Champ and W. H. Woodall, "Exact results for Shewhart control charts with supplementary runs
rules", *Technometrics* 29 (1987) 393-399, give such rates.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from fluctus.core.analysis import constants
from fluctus.core.analysis.finders import FINDERS, Examined
from fluctus.core.analysis.layout import Choices, lay_out
from fluctus.core.analysis.limits import Limits
from fluctus.core.analysis.rules import DEFAULT_RUN_LENGTH, RULES, Rule, flagged_to_signal
from fluctus.core.analysis.series import Series
from fluctus.core.arrays import Floats, Ints

SEED: Final = 1876
RUNS: Final = 20_000
POINTS: Final = 100
"""Points of each run; past them the process goes on at the rate of the last half of them."""

LARGEST_CHANGE: Final = 10.0
STEP: Final = 0.05
"""Changes in sigma that are told apart when the smallest one is looked for."""

MEAN_RANGE_OF_NORMAL: Final = 2 / math.sqrt(math.pi)
"""Mean moving range of independent normal values with a standard deviation of 1."""


@dataclass(frozen=True, slots=True)
class TimeToSignal:
    """How long a process shows none. ``quiet`` (n + 1) is the share of runs without one so far."""

    quiet: Floats
    rate: float
    """Chance of a first signal at one more point, once the start is past."""

    def chance(self, points: int) -> float:
        """Return the chance of at least one signal in so many points, from 0 to 1."""
        reached = min(points, len(self.quiet) - 1)
        still = float(self.quiet[reached]) * (1 - self.rate) ** (points - reached)
        return 1 - still

    @property
    def average_points(self) -> float:
        """Average number of points to the first signal; infinite where there is none."""
        # The sum of the chances of being quiet before each point; the rest is geometric.
        if self.rate == 0:
            return math.inf
        return float(self.quiet[:-1].sum()) + float(self.quiet[-1]) / self.rate

    def points_until(self, share: float) -> float:
        """Return the number of points by which a ``share`` of such processes has shown a signal.

        Infinite where so many never do.
        """
        reached = np.flatnonzero(1 - self.quiet >= share)
        if len(reached):
            return float(reached[0])
        if self.rate == 0:
            return math.inf
        # Past the simulated points, signals come at a steady rate.
        more = math.log((1 - share) / float(self.quiet[-1])) / math.log(1 - self.rate)
        return len(self.quiet) - 1 + math.ceil(more)


def false_alarms(rules: Iterable[Rule], run_length: int = DEFAULT_RUN_LENGTH) -> TimeToSignal:
    """Simulate a set of rules, or return what an earlier call has found."""
    return time_to_signal(rules, run_length, 0.0)


def time_to_signal(rules: Iterable[Rule], run_length: int, change: float) -> TimeToSignal:
    """Simulate a lasting change of the average by ``change`` sigma, limits held as they are.

    A change of 0 gives the false alarms. It is rounded to hundredths of sigma; what an
    earlier call has found is not simulated again.
    """
    # Up or down is the same: limits are symmetrical, and so is the normal distribution.
    return _simulate(frozenset(rules), run_length, round(abs(change), 2))


def expected_false_findings(rules: Iterable[Rule], run_length: int, values: int) -> float:
    """Return how many findings ``values`` values would show with no change."""
    return values / false_alarms(rules, run_length).average_points


def smallest_change(
    rules: Iterable[Rule], run_length: int, periods: int, share: float
) -> float | None:
    """Return the smallest change, in sigma, that a ``share`` of times shows within ``periods``.

    Found by halving, to a twentieth of sigma and never below it; None beyond ``LARGEST_CHANGE``.
    """
    rules = frozenset(rules)
    steps = round(LARGEST_CHANGE / STEP)

    def shows(step: int) -> bool:
        return time_to_signal(rules, run_length, step * STEP).chance(periods) >= share

    if not shows(steps):
        return None
    low, high = -1, steps
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if shows(middle) else (middle, high)
    return round(high * STEP, 2)


@lru_cache(maxsize=512)
def _simulate(rules: frozenset[Rule], run_length: int, change: float) -> TimeToSignal:
    values = np.random.default_rng(SEED).standard_normal(RUNS * POINTS) + change
    whole = np.full((RUNS, 2), -1, np.intp)
    nothing = np.zeros(RUNS, np.bool_)
    choices = Choices(
        counts=np.array([RUNS], np.intp),
        starts=np.arange(0, RUNS * POINTS, POINTS, dtype=np.intp),
        windows=whole,
        median_centre=nothing,
        median_range=nothing,
        floor=np.full(RUNS, -np.inf),
        ceiling=np.full(RUNS, np.inf),
        holds=nothing,
    )
    examined = Examined(lay_out([Series(values)], choices), _exact_limits(), run_length)
    first = np.full(RUNS, POINTS, np.intp)
    for rule in sorted(rules):
        needed = flagged_to_signal(rule, run_length)
        for flagged in FINDERS[rule](examined):
            _earliest(first, flagged.places, needed, RULES[rule].window)
    # first counts from 0: a signal at the first point ends the quiet before point 1 is over.
    ended = np.bincount(first, minlength=POINTS + 1)[:POINTS]
    quiet = 1 - np.concatenate(([0], np.cumsum(ended))) / RUNS
    half = POINTS // 2
    at_risk = float(quiet[half:POINTS].sum())
    rate = float(quiet[half] - quiet[POINTS]) / at_risk if at_risk else 1.0
    return TimeToSignal(quiet, rate)


def _earliest(first: Ints, flagged: Ints, needed: int, window: int) -> None:
    """Lower ``first`` to where each run has its ``needed``-th flagged value, in place.

    At the start of a run there is no signal before there is a whole ``window`` of values.
    """
    runs = flagged // POINTS
    heads = np.searchsorted(runs, np.arange(RUNS))
    counts = np.diff(np.append(heads, len(runs)))
    some = np.flatnonzero(counts >= needed)
    at = flagged[heads[some] + needed - 1] - some * POINTS
    first[some] = np.minimum(first[some], np.maximum(at, window - 1))


def _exact_limits() -> Limits:
    """Limits of a normal process with mean 0 and standard deviation 1, for every run."""

    def each(value: float) -> Floats:
        return np.full(RUNS, value)

    spread = MEAN_RANGE_OF_NORMAL
    half = constants.MEAN_RANGE_TO_LIMITS * spread
    never = np.zeros(RUNS, np.bool_)
    return Limits(
        n=np.full(RUNS, POINTS, np.intp),
        centre=each(0.0),
        spread=each(spread),
        upper=each(half),
        lower=each(-half),
        range_limit=each(constants.MEAN_RANGE_TO_RANGE_LIMIT * spread),
        sigma=each(half / 3),
        upper_clipped=never,
        lower_clipped=never,
    )
