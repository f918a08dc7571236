"""Shift candidates: places where a new segment is worth asking about.

Changes of which there is evidence, the change points of a least-squares search, and the first
point of each run. The program proposes; only a person recalculates.
"""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis, analyse
from fluctus.core.analysis.constants import MEAN_RANGE_PER_SIGMA
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Settings
from fluctus.core.arrays import Floats, Ints, taken
from fluctus.core.judgment.change_points import change_points
from fluctus.core.judgment.shift_evidence import changes_of, split_gains

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
class Change:
    """A change of level with evidence: the first position of the new level.

    It likely lies from ``first`` to ``last``.
    """

    position: int
    first: int
    last: int


@dataclass(frozen=True, slots=True)
class Candidate:
    """A place where the process may have shifted.

    ``position`` is the first of the new behavior, likely between ``first`` and
    ``last``; ``evidence`` tells whether there is evidence that something changed, and ``run``
    whether a run begins here. ``support`` counts the included values from here
    to the next candidate or the segment's end.
    """

    position: int
    first: int
    last: int
    evidence: bool
    run: bool
    support: int
    before: Levels
    after: Levels


def changes_in(values: Floats, positions: Ints) -> list[Change]:
    """Find the changes with evidence in values at some positions, both of shape (n,)."""
    places = changes_of(values)
    if not places:
        return []
    sigma = float(np.abs(np.diff(values)).mean()) / MEAN_RANGE_PER_SIGMA
    edges = [0, *places, len(values)]
    changes = []
    for before, split_at, after in zip(edges, places, edges[2:], strict=False):
        first, last = likely_range(values, before, split_at, after, sigma)
        changes.append(Change(*(int(positions[at]) for at in (split_at, first, last))))
    return changes


def shift_candidates(
    analysis: Analysis,
    changes: Collection[Change] | None = None,
    *,
    evident_only: bool = False,
) -> list[Candidate]:
    """Find the shift candidates of every segment, in order of time.

    ``changes`` are those with evidence in the last segment, where they are known already, as
    those beside a season are. With ``evident_only`` it has no others: what a season or a value far
    off makes of it is no shift.
    """
    signals = analysis.signals
    runs = np.unique(signals.firsts[signals.numbers_of({Rule.RUN})]).tolist()
    found = []
    for number, segment in enumerate(analysis.segments):
        if not segment.spread:
            continue
        positions, is_last = analysis.included_in(number), number == len(analysis.segments) - 1
        evident = changes if is_last else None
        if evident is None:
            evident = changes_in(taken(analysis.adjusted, positions), positions)
        own_runs = [run for run in runs if segment.start < run < segment.stop]
        sigma = segment.spread / MEAN_RANGE_PER_SIGMA
        others = None if evident_only and is_last else own_runs
        found += _candidates(analysis, positions, sigma, evident, others)
    return found


def _candidates(
    analysis: Analysis,
    positions: Ints,
    sigma: float,
    changes: Collection[Change],
    runs: Collection[int] | None,
) -> list[Candidate]:
    """Put together the candidates of a segment; without ``runs`` those with evidence alone."""
    values = taken(analysis.adjusted, positions)
    offset = max(0, len(values) - SEARCHED)
    searched: list[int] = []
    if runs is not None:
        searched = [offset + at for at in change_points(values[offset:], sigma)]
    runs = runs or ()
    places = {change.position: (change.first, change.last) for change in changes}
    covered = list(places.values())
    starts = np.searchsorted(positions, list(runs)).tolist()
    edges = sorted({0, len(values), *searched})
    for split_at in [*searched, *starts]:
        position = int(positions[split_at])
        if split_at == 0 or any(first <= position <= last for first, last in covered):
            continue
        before = max(edge for edge in edges if edge < split_at)
        after = min(edge for edge in edges if edge > split_at)
        first, last = likely_range(values, before, split_at, after, sigma)
        places[position] = int(positions[first]), int(positions[last])
        covered.append(places[position])
    evident = {change.position for change in changes}
    order = sorted(places)
    at = np.searchsorted(positions, order).tolist()
    return [
        Candidate(
            position=position,
            first=places[position][0],
            last=places[position][1],
            evidence=position in evident,
            run=position in runs,
            support=after - here,
            before=_levels(analysis, positions[before:here]),
            after=_levels(analysis, positions[here:after]),
        )
        for position, before, here, after in zip(
            order, [0, *at], at, [*at[1:], len(values)], strict=False
        )
    ]


def likely_range(
    values: Floats, before: int, change: int, after: int, sigma: float
) -> tuple[int, int]:
    """Return the first and the last place that the change between two others may be at."""
    gain = split_gains(values[before:after])
    near = np.flatnonzero(gain >= gain.max() - LIKELY * sigma**2) + before + 1
    return min(int(near[0]), change), max(int(near[-1]), change)


def _levels(analysis: Analysis, positions: Ints) -> Levels:
    given = analysis.settings
    bounds = Settings(rules=frozenset(), floor=given.floor, ceiling=given.ceiling)
    (segment,) = analyse(Series(taken(analysis.adjusted, positions)), bounds).segments
    return Levels(segment.average, segment.lower, segment.upper)
