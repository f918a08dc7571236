"""Shift candidates: places where a new segment is worth asking about.

The first point of each run, and the change points of a least-squares search.
The program proposes; only a person recalculates.
"""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis, Segment, analyse
from fluctus.core.analysis.constants import MEAN_RANGE_PER_SIGMA
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Settings
from fluctus.core.arrays import Floats, Ints
from fluctus.core.judgment.change_points import change_points

SEARCHED: Final = 2000
"""Newest values of a segment that the search looks at: its cost can grow with their square."""

LIKELY: Final = 7.35
"""Places whose sum of squares is within this many sigma² of the least hold the change with a
chance of about 95 %: (1 - exp(-7.35 / 2))² = 0.95; Y.-C. Yao, *Annals of Statistics* 15 (1987)
1321-1328."""


@dataclass(frozen=True, slots=True)
class Levels:
    """Average and limits of a stretch, in the KPI's unit; None where there is none."""

    average: float | None
    lower: float | None
    upper: float | None


@dataclass(frozen=True, slots=True)
class Candidate:
    """A place where the process may have shifted.

    ``position`` is the first of the new behavior, likely between ``first`` and
    ``last``; ``located`` tells whether that range is less than half of the
    stretch between its neighbours, so that it says something. ``run`` tells
    whether a run begins here. ``support`` counts the included values from here
    to the next candidate or the segment's end.
    """

    position: int
    first: int
    last: int
    located: bool
    run: bool
    support: int
    before: Levels
    after: Levels


def shift_candidates(analysis: Analysis) -> list[Candidate]:
    """Find the shift candidates of every segment, in order of time."""
    signals = analysis.signals
    runs = np.unique(signals.firsts[signals.numbers_of({Rule.RUN})]).tolist()
    return [
        candidate
        for segment in analysis.segments
        for candidate in _candidates(
            analysis, segment, [run for run in runs if segment.start < run < segment.stop]
        )
    ]


def _candidates(analysis: Analysis, segment: Segment, runs: Collection[int]) -> list[Candidate]:
    if not segment.spread:
        return []
    positions = np.flatnonzero(analysis.series.included[: segment.stop]).astype(np.intp)
    positions = positions[positions >= segment.start]
    searched = positions[-SEARCHED:]
    values = analysis.judged[searched]
    sigma = segment.spread / MEAN_RANGE_PER_SIGMA
    changes = change_points(values, sigma)
    starts = [int(np.searchsorted(searched, run)) for run in runs if run >= searched[0]]
    places: dict[int, tuple[int, int, bool]] = {}
    edges = [0, *changes, len(values)]
    for before, change, after in zip(edges, changes, edges[2:], strict=False):
        low, high = _likely(values, before, change, after, sigma)
        run = next((start for start in starts if low <= start <= high), None)
        places[change if run is None else run] = (low, high, run is not None)
    covered = [(low, high) for low, high, _ in places.values()]
    for start in starts:
        if start > 0 and not any(low <= start <= high for low, high in covered):
            before = max(edge for edge in edges if edge < start)
            after = min(edge for edge in edges if edge > start)
            places[start] = (*_likely(values, before, start, after, sigma), True)
    order = sorted(places)
    return [
        Candidate(
            position=int(searched[position]),
            first=int(searched[places[position][0]]),
            last=int(searched[places[position][1]]),
            located=2 * (places[position][1] - places[position][0]) < after - before,
            run=places[position][2],
            support=after - position,
            before=_levels(analysis, searched[before:position]),
            after=_levels(analysis, searched[position:after]),
        )
        for before, position, after in zip(
            [0, *order], order, [*order[1:], len(values)], strict=False
        )
    ]


def _likely(values: Floats, before: int, change: int, after: int, sigma: float) -> tuple[int, int]:
    """Return the first and the last place that the change between two others may be at."""
    stretch = values[before:after]
    n = len(stretch)
    sums, counts = np.cumsum(stretch)[:-1], np.arange(1, n)
    # What a step lowers the sum of squares by, at each place.
    gain = (sums - counts * stretch.mean()) ** 2 * n / (counts * (n - counts))
    near = np.flatnonzero(gain >= gain[change - before - 1] - LIKELY * sigma**2) + before + 1
    return min(int(near[0]), change), max(int(near[-1]), change)


def _levels(analysis: Analysis, positions: Ints) -> Levels:
    bounds = Settings(floor=analysis.settings.floor, ceiling=analysis.settings.ceiling)
    (segment,) = analyse(Series(analysis.judged[positions]), bounds).segments
    return Levels(segment.average, segment.lower, segment.upper)
