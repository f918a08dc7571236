"""What fell together, and how often so much would by chance.

The happenings of each series are shifted in time by a random number of its own periods, around
the dates it has (the circular shift of P. Diggle, *Statistical Analysis of Spatial and Temporal
Point Patterns*, 3rd ed., CRC Press, 2013): what each series does by itself stays as it is, and
only what the series do together is left to chance.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import numpy.typing as npt

from fluctus.core.arrays import Ints

SHIFTS: Final = 2_000
SEED: Final = 1876
AT_ONCE: Final = 4_000_000
"""Numbers that are sorted in one go, so that memory stays small."""
OFF: Final = 2**60
"""Where ends and beginnings go that a shift does without."""

Times = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Timeline:
    """When things happened in a series: ``times`` (n,) in whole seconds, in order.

    They lie from ``begin`` to before ``end``, on a grid of ``step`` seconds.
    """

    times: Times
    begin: int
    end: int
    step: int


@dataclass(frozen=True, slots=True)
class Together:
    """Timeline of several series within a stretch, with the chance of as many.

    ``members`` (m, 2) are series and the number of the happening in it, in order of time;
    ``chance`` is the share of the shifts in which as many series, or more, fell together
    somewhere.
    """

    members: Ints
    series: int
    chance: float


def fell_together(
    series: Sequence[Timeline], within: int, fewest: int = 2, most_told: int | None = None
) -> tuple[Together, ...]:
    """Find where happenings of ``fewest`` series or more lie within so many seconds.

    The stretch with most series comes first; what is in one is in no other. No more than
    ``most_told`` are looked for, since each takes a walk through all that is left.
    """
    found = _stretches(series, within, fewest, most_told) if series else []
    if not found:
        return ()
    most = most_by_chance(series, within)
    return tuple(
        Together(members, count, float((most >= count).mean())) for members, count in found
    )


def _stretches(
    series: Sequence[Timeline], within: int, fewest: int, most_told: int | None
) -> list[tuple[Ints, int]]:
    times = np.concatenate([one.times for one in series])
    of = np.repeat(np.arange(len(series)), [len(one.times) for one in series])
    number = np.concatenate([np.arange(len(one.times)) for one in series])
    order = np.lexsort((of, times))
    times, of, number = times[order], of[order], number[order]
    found: list[tuple[Ints, int]] = []
    while len(times) and len(found) != most_told:
        stops = np.searchsorted(times, times + within, side="right")
        counts = _different(of, stops)
        start = int(np.argmax(counts))
        count = int(counts[start])
        if count < fewest:
            break
        stop = int(stops[start])
        found.append((np.column_stack((of[start:stop], number[start:stop])), count))
        kept = np.r_[0:start, stop : len(times)]
        times, of, number = times[kept], of[kept], number[kept]
    return found


def _different(of: Ints, stops: Ints) -> Ints:
    """Count the different series from each place to its stop, with two hands."""
    held: dict[int, int] = {}
    counts = np.zeros(len(of), np.intp)
    stop = 0
    for start in range(len(of)):
        while stop < stops[start]:
            held[of[stop]] = held.get(of[stop], 0) + 1
            stop += 1
        counts[start] = len(held)
        held[of[start]] -= 1
        if not held[of[start]]:
            del held[of[start]]
    return counts


def most_by_chance(series: Sequence[Timeline], within: int) -> Ints:
    """Return the most series that fell together in each of 2,000 shifts, shape (2000,).

    Of a series, the stretches that begin up to ``within`` before one of its happenings are one
    interval each, or one for several. A shift turns them around; the most that cover one place
    are found by sorting where intervals begin and end.
    """
    some = [one for one in series if len(one.times)]
    intervals = [_intervals(one, within) for one in some]
    starts = np.concatenate([first for first, _ in intervals])
    stops = np.concatenate([last for _, last in intervals])
    of = np.repeat(np.arange(len(some)), [len(first) for first, _ in intervals])
    spans = np.array([one.end - one.begin for one in some])
    begins = np.array([one.begin for one in some])
    steps = np.array([one.step for one in some])
    random = np.random.default_rng(SEED)
    turns = random.integers(0, np.maximum(1, spans // steps), size=(SHIFTS, len(some))) * steps
    most = np.empty(SHIFTS, np.intp)
    rows = max(1, AT_ONCE // (4 * len(starts)))
    for first in range(0, SHIFTS, rows):
        turn = turns[first : first + rows][:, of]
        a = (starts + turn) % spans[of]
        b = (stops + turn) % spans[of]
        # One that runs over the end of its dates goes on at their beginning.
        over = b < a
        low = begins[of]
        keys = np.concatenate(
            (
                2 * (low + a),
                2 * (low + b) + 1,
                np.where(over, 2 * low, 2 * OFF),
                np.where(over, 2 * (low + spans[of]) + 1, 2 * OFF - 1),
            ),
            axis=1,
        )
        # Beginnings are even and ends odd, so that at one place beginnings come first.
        keys.sort(axis=1)
        most[first : first + rows] = np.cumsum(1 - 2 * (keys & 1), axis=1).max(axis=1)
    return most


def _intervals(timeline: Timeline, within: int) -> tuple[Times, Times]:
    """Return where the stretches that hold one of the happenings begin, counted from its start."""
    at = np.unique(timeline.times) - timeline.begin
    span = timeline.end - timeline.begin
    # From each to the one before it, around the end; of a single one, all the way round.
    gaps = (at - np.roll(at, 1) - 1) % span + 1
    fresh = gaps > within
    if not fresh.any():
        return np.zeros(1, np.int64), np.full(1, span - 1, np.int64)
    return (at[fresh] - within) % span, at[np.roll(fresh, -1)][_in_turn(fresh)]


def _in_turn(fresh: npt.NDArray[np.bool_]) -> Ints:
    """Pair each beginning with the end that follows it, around the end of the dates."""
    firsts, lasts = np.flatnonzero(fresh), np.flatnonzero(np.roll(fresh, -1))
    return np.searchsorted(lasts, firsts) % len(lasts)
