"""Fewer points for the same picture.

Of the points that fall in one column of pixels, a line through the first, the
last, the lowest and the highest covers the same pixels as a line through all.
Source: U. Jugel, Z. Jerzak, G. Hackenbroich and V. Markl, "M4: a
visualization-oriented time series data aggregation", *PVLDB* 7 (2014) 797-808.
"""

import numpy as np

from fluctus.core.arrays import Bools, Floats, Ints


def thin(times: Floats, lines: list[Floats], pixels: int, keep: Bools) -> Ints:
    """Choose the positions to draw of a chart ``pixels`` wide, in order.

    ``times`` (n,) rise; each of ``lines`` (n,) is drawn over them, NaN where
    it has no point; ``keep`` (n,) marks positions to keep whatever they are
    worth to the lines. Raises ValueError when ``pixels`` is not positive.
    """
    if pixels < 1:
        raise ValueError(f"a chart must be at least one pixel wide, not {pixels}")
    if len(times) <= 2 * pixels:
        return np.arange(len(times))
    width = times[-1] - times[0]
    column = np.minimum((times - times[0]) / width * pixels, pixels - 1).astype(np.intp)
    chosen = keep.copy()
    for line in lines:
        present = np.flatnonzero(~np.isnan(line))
        if not len(present):
            continue
        order = present[np.lexsort((line[present], column[present]))]
        chosen[_edges_of_columns(order, column)] = True
        chosen[_edges_of_columns(present, column)] = True
    return np.flatnonzero(chosen)


def _edges_of_columns(positions: Ints, column: Ints) -> Ints:
    """First and last of each stretch of ``positions`` that shares a column."""
    new = np.flatnonzero(np.diff(column[positions])) + 1
    return np.concatenate((positions[:1], positions[new], positions[new - 1], positions[-1:]))
