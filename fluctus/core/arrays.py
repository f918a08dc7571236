"""Names for the arrays that the computation works on, and work on their slices."""

from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

Floats: TypeAlias = NDArray[np.float64]
Bools: TypeAlias = NDArray[np.bool_]
Ints: TypeAlias = NDArray[np.intp]


def taken(values: Floats, positions: Ints) -> Floats:
    """Return ``values`` at ``positions``, which rise: shape of these, not to be written to.

    Where these follow each other nothing is copied, which takes longer than most of what is done
    with them.
    """
    if not len(positions) or positions[-1] - positions[0] + 1 != len(positions):
        return values[positions]
    return values[positions[0] : positions[-1] + 1]


def indices_of_slices(starts: Ints, stops: Ints) -> Ints:
    """Return the indices of the slices from ``starts`` to ``stops`` (shape s each), end to end."""
    lengths = stops - starts
    heads = np.cumsum(lengths) - lengths
    return np.repeat(starts - heads, lengths) + np.arange(lengths.sum())


def sum_slices(values: Floats, starts: Ints, stops: Ints) -> Floats:
    """Sum ``values[start:stop]`` for each pair of ``starts`` and ``stops`` (shape s each).

    Slices are in order and do not overlap; an empty one sums to 0. Sums are
    pairwise, as with ``values.sum()``, so long slices lose no digits.
    """
    sums = np.zeros(len(starts))
    filled = np.flatnonzero(stops > starts)
    if len(filled) == 0:
        return sums
    edges = np.stack((starts[filled], stops[filled]), axis=1).ravel()
    # reduceat runs its last slice to the end of the array and refuses an edge there.
    if edges[-1] == len(values):
        edges = edges[:-1]
    sums[filled] = np.add.reduceat(values, edges)[::2]
    return sums


def median_reaches(values: Floats, bound: float) -> bool:
    """Tell by counting alone that the median of ``values``, shape (n,), is no less than ``bound``,
    which is not negative.

    False leaves it open. Many times faster than the median itself; a bound within the rounding
    of it counts as open.
    """
    below = np.count_nonzero(values < bound * (1 + 1e-9))
    return bool(2 * below < len(values) - 1)
