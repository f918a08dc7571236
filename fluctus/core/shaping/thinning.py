"""Fewer points for nearly the same picture.

Of the points that fall in one column, the lowest and the highest show how far the line goes
there. Source: U. Jugel, Z. Jerzak, G. Hackenbroich and V. Markl, "M4: a
visualization-oriented time series data aggregation", *PVLDB* 7 (2014) 797-808; without the
first and the last of each column, which matter where columns are as narrow as pixels.
"""

import numpy as np

from fluctus.core.arrays import Bools, Floats, Ints


def thin(times: Floats, values: Floats, ranges: Floats, columns: int, keep: Bools) -> Ints:
    """Choose the positions to draw of a chart in so many ``columns`` of equal time, in order.

    ``times`` (n,) rise; ``values`` and ``ranges`` (n,) are drawn over them, NaN where there is
    no point. Of each column the lowest and the highest value and the largest range are drawn,
    of all the first and the last, and those that ``keep`` (n,) marks. Raises ValueError when
    ``columns`` is not positive.
    """
    if columns < 1:
        raise ValueError(f"a chart must have at least one column, not {columns}")
    if len(times) <= 2 * columns:
        return np.arange(len(times))
    chosen = keep.copy()
    chosen[[0, -1]] = True
    edges = times[0] + (times[-1] - times[0]) * (np.arange(columns) / columns)
    # Those of columns without a point fall together.
    starts = np.unique(np.searchsorted(times, edges))
    chosen[_extremes(values, starts, np.fmin)] = True
    chosen[_extremes(values, starts, np.fmax)] = True
    chosen[_extremes(ranges, starts, np.fmax)] = True
    return np.flatnonzero(chosen)


def _extremes(line: Floats, starts: Ints, extreme: np.ufunc) -> Ints:
    """Return where a line has its first extreme in each column that begins at ``starts``.

    ``extreme`` passes over NaN, which equals nothing where a column has nothing else.
    """
    reached = extreme.reduceat(line, starts)
    lengths = np.diff(np.append(starts, len(line)))
    there = np.flatnonzero(line == np.repeat(reached, lengths))
    column = np.searchsorted(starts, there, side="right")
    return there[np.flatnonzero(np.diff(column, prepend=0))]
