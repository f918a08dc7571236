"""Series of many kinds, drawn with a seed, with what truly happened in each known.

Shared by the tests of the verdict and the benchmark of its claims.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from fluctus.core import Season
from fluctus.core.judgment import SeasonsFrom

Random = np.random.Generator
Values = np.ndarray
LENGTHS = (30, 48, 60, 84, 120)


@dataclass(frozen=True)
class Drawn:
    """A series of one kind: where its level truly changed, and by how many sigma."""

    kind: str
    values: Values
    changes: tuple[int, ...] = ()
    size: float = 0.0
    seasonal: bool = False
    moves: bool = False
    """Whether its level truly moves, if at no one place: a trend, a fade."""
    season: Season | None = None


def season(n: int, length: int) -> Season:
    """Return a season of n successive values; the one after the last follows."""
    at = np.arange(n)
    return Season(at % length, at // length, length, n % length)


def seasons(**each: Season) -> SeasonsFrom:
    """Return seasons by their name, as a verdict asks for them."""
    return lambda first: {
        name: replace(one, places=one.places[first:], cycles=one.cycles[first:])
        for name, one in each.items()
    }


def _autocorrelated(random: Random, n: int, r: float) -> Values:
    values = np.empty(n)
    values[0] = random.normal()
    for at in range(1, n):
        values[at] = r * values[at - 1] + random.normal() * np.sqrt(1 - r * r)
    return values


def _outliers(random: Random, n: int, share: float, size: float) -> Values:
    far = random.random(n) < share
    return np.asarray(random.normal(0, 1, n) + far * size * random.choice([-1, 1], n))


def _wave(n: int, length: int, height: float) -> Values:
    return height / 2 * np.sin(2 * np.pi * np.arange(n) / length + 0.7)


def _profile(random: Random, n: int, length: int, height: float) -> Values:
    profile = random.uniform(0, 1, length)
    profile = (profile - profile.min()) / (profile.max() - profile.min()) * height
    return np.asarray(profile[np.arange(n) % length])


def _shares(random: Random, n: int, share: float, of: int) -> Values:
    return np.asarray(random.binomial(of, share, n) / of * 100)


Draw = Callable[[Random, int], Values]
STILL: dict[str, Draw] = {
    "normal": lambda r, n: r.normal(20, 2, n),
    "normal, far from zero": lambda r, n: r.normal(1e6, 3, n),
    "normal, about zero": lambda r, n: r.normal(0, 1, n),
    "even": lambda r, n: r.uniform(0, 10, n),
    "exponential": lambda r, n: r.exponential(4, n),
    "lognormal 0.6": lambda r, n: r.lognormal(2, 0.6, n),
    "lognormal 1.6": lambda r, n: r.lognormal(2, 1.6, n),
    "Pareto 1.2": lambda r, n: 1 + r.pareto(1.2, n),
    "Student 2": lambda r, n: 50 + r.standard_t(2, n),
    "Cauchy": lambda r, n: 50 + r.standard_cauchy(n),
    "3 % outliers": lambda r, n: 50 + _outliers(r, n, 0.03, 8),
    "one outlier": lambda r, n: np.where(np.arange(n) == r.integers(n), 900.0, r.normal(20, 2, n)),
    "Poisson 3": lambda r, n: r.poisson(3, n).astype(float),
    "Poisson 30": lambda r, n: r.poisson(30, n).astype(float),
    "geometric": lambda r, n: r.geometric(0.2, n).astype(float),
    "shares near 100": lambda r, n: _shares(r, n, 0.97, 60),
    "shares in the middle": lambda r, n: _shares(r, n, 0.4, 200),
    "coarse steps": lambda r, n: np.round(r.normal(20, 1.2, n)),
    "halves": lambda r, n: np.round(r.normal(5, 0.6, n) * 2) / 2,
    "bimodal": lambda r, n: r.choice([10.0, 20.0], n) + r.normal(0, 1, n),
    "autocorrelated 0.4": lambda r, n: 50 + _autocorrelated(r, n, 0.4),
    "autocorrelated 0.6": lambda r, n: 50 + _autocorrelated(r, n, 0.6),
    "autocorrelated 0.8": lambda r, n: 50 + _autocorrelated(r, n, 0.8),
    "autocorrelated -0.6": lambda r, n: 50 + _autocorrelated(r, n, -0.6),
    "alternating": lambda r, n: 20 + 2 * (-1.0) ** np.arange(n) + r.normal(0, 1, n),
    "wandering": lambda r, n: 100 + np.cumsum(r.normal(0, 1, n)),
    "with gaps": lambda r, n: np.where(r.random(n) < 0.15, np.nan, r.normal(20, 2, n)),
    "short": lambda r, n: r.normal(20, 2, 10 + n % 7),
    "growing spread": lambda r, n: r.normal(0, 1, n) * np.linspace(1, 3, n),
}
SEASONAL: dict[str, Draw] = {
    "season of 12, 4 sigma": lambda r, n: 50 + _profile(r, n, 12, 4) + r.normal(0, 1, n),
    "season of 12, 8 sigma": lambda r, n: 50 + _wave(n, 12, 8) + r.normal(0, 1, n),
    "season of 12 on a trend": lambda r, n: (
        50 + _wave(n, 12, 6) + 0.05 * np.arange(n) + r.normal(0, 1, n)
    ),
    "season about zero": lambda r, n: _wave(n, 12, 8) + r.normal(0, 1, n),
    "season of factors": lambda r, n: (100 + 30 * _wave(n, 12, 2)) * r.lognormal(0, 0.05, n),
}
MOVING: dict[str, Draw] = {
    "rising": lambda r, n: 50 + 5 * np.arange(n) / n + r.normal(0, 1, n),
    "falling steeply": lambda r, n: 50 - 12 * np.arange(n) / n + r.normal(0, 1, n),
    "fading to a plateau": lambda r, n: (
        50 + 6 * np.exp(-np.arange(n) / (n / 6)) + r.normal(0, 1, n)
    ),
}


def _stepped(
    kind: str, random: Random, n: int, at: tuple[float, ...], sizes: tuple[float, ...], base: Values
) -> Drawn:
    places = tuple(round(share * n) for share in at)
    values = base.copy()
    for place, size in zip(places, sizes, strict=True):
        values[place:] += size
    return Drawn(kind, values, places, min(abs(size) for size in sizes))


STEPPED: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = {
    "step of 2 in the middle": ((0.5,), (2.0,)),
    "step of 2 early": ((0.2,), (2.0,)),
    "step of 2 late": ((0.8,), (-2.0,)),
    "step of 3": ((0.4,), (-3.0,)),
    "step of 5": ((0.6,), (5.0,)),
    "step of 1": ((0.5,), (1.0,)),
    "two steps up": ((0.35, 0.7), (3.0, 3.0)),
    "up and back": ((0.35, 0.7), (4.0, -4.0)),
    "step in a season": ((0.5,), (3.0,)),
    "step of skewed values": ((0.5,), (3.0,)),
}


def draw(kind: str, number: int) -> Drawn:
    """Draw the series of a kind by its number: always the same."""
    random = np.random.default_rng([sum(map(ord, kind)), len(kind), number])
    n = LENGTHS[number % len(LENGTHS)]
    if kind in STEPPED:
        n = max(n, 48)
        base = 50 + random.normal(0, 1, n)
        if kind == "step in a season":
            base += _wave(n, 12, 6)
        if kind == "step of skewed values":
            base = 50 + random.exponential(1, n)
        drawn = _stepped(kind, random, n, *STEPPED[kind], base)
        return Drawn(
            kind,
            drawn.values,
            drawn.changes,
            drawn.size,
            seasonal=kind == "step in a season",
            season=season(n, 12),
        )
    group = next(group for group in (STILL, SEASONAL, MOVING) if kind in group)
    values = np.asarray(group[kind](random, n), np.float64)
    return Drawn(
        kind,
        values,
        # Two that take turns are a season of every even length.
        seasonal=kind in SEASONAL or kind == "alternating",
        moves=kind in MOVING or kind == "season of 12 on a trend",
        season=season(len(values), (12, 7, 4)[number % 3] if kind not in SEASONAL else 12),
    )


KINDS = (*STILL, *SEASONAL, *MOVING, *STEPPED)
