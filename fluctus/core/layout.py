"""Many series laid end to end, so that one pass over one array serves them all.

The computation sees only *included* values, packed without gaps, and the
borders of the segments among them. A single series is the case of one.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.core.series import Series
from fluctus.core.settings import Settings, Spread


@dataclass(frozen=True, slots=True)
class Layout:
    """Flat arrays over n positions, m included values and s segments.

    ``borders`` (s + 1) are the segments' edges among the positions, ``packed``
    (s + 1) the same among the included values; ``windows`` (s, 2) are the
    limit windows among the included values. ``ranges`` (n) are all moving
    ranges, NaN where there is none; ``included_ranges`` (m) is NaN where the
    moving range takes no part.
    """

    values: Floats
    included: Floats
    positions: Ints | None
    """Positions of the included values; None when every position is included."""
    ranges: Floats
    included_ranges: Floats
    series_starts: Ints
    segment_counts: Ints
    borders: Ints
    packed: Ints
    windows: Ints

    def position_of(self, included: Ints) -> Ints:
        """Turn places among the included values into positions."""
        return included if self.positions is None else self.positions[included]


def lay_out(series: Sequence[Series], settings: Sequence[Settings]) -> Layout:
    """Lay ``series`` end to end, cut into the segments of their ``settings``.

    Raises ValueError for a segment that starts past its series, or a limit
    window that is not inside its segment.
    """
    lengths = np.fromiter((len(one) for one in series), np.intp, len(series))
    series_starts = np.concatenate(([0], np.cumsum(lengths))).astype(np.intp)
    values = series[0].values if len(series) == 1 else np.concatenate([s.values for s in series])
    counts = np.fromiter((len(one.segments) for one in settings), np.intp, len(settings))
    if (counts == 1).all() and all(one.segments[0].window is None for one in settings):
        borders = series_starts
        window_positions = np.stack((borders[:-1], borders[1:]), axis=1)
    else:
        borders, window_positions = _segment_borders(series_starts, settings)
    if all(one.complete for one in series):
        ranges = _moving_ranges(values, borders)
        return Layout(
            values, values, None, ranges, ranges, series_starts, counts,
            borders, borders, window_positions,
        )  # fmt: skip
    present = np.flatnonzero(~np.isnan(values)).astype(np.intp)
    aside = np.concatenate(
        [np.zeros(len(s), np.bool_) if s.set_aside is None else s.set_aside for s in series]
    )
    present_ranges = _moving_ranges(values[present], np.searchsorted(present, borders))
    ranges = np.full(len(values), np.nan)
    ranges[present] = present_ranges
    kept = ~aside[present]
    positions = present[kept]
    # A range touching a set-aside value is drawn but takes no part.
    untouched = kept.copy()
    untouched[1:] &= kept[:-1]
    included_ranges = np.where(untouched, present_ranges, np.nan)[kept]
    return Layout(
        values, values[positions], positions, ranges, included_ranges, series_starts, counts,
        borders, np.searchsorted(positions, borders).astype(np.intp),
        np.searchsorted(positions, window_positions).astype(np.intp),
    )  # fmt: skip


def _segment_borders(series_starts: Ints, settings: Sequence[Settings]) -> tuple[Ints, Ints]:
    starts: list[int] = []
    windows: list[tuple[int, int]] = []
    for number, one in enumerate(settings):
        offset, end = int(series_starts[number]), int(series_starts[number + 1])
        own = [offset + segment.start for segment in one.segments]
        if len(own) > 1 and own[-1] >= end:
            raise ValueError(
                f"segment {len(own) - 1} starts past the last value of series {number}"
            )
        for segment, first, stop in zip(one.segments, own, [*own[1:], end], strict=True):
            window = segment.window
            chosen = (first, stop) if window is None else (offset + window[0], offset + window[1])
            if not first <= chosen[0] <= chosen[1] <= stop:
                raise ValueError(f"the limit window {window} is not inside its segment")
            windows.append(chosen)
        starts += own
    return (
        np.array([*starts, int(series_starts[-1])], dtype=np.intp),
        np.array(windows, dtype=np.intp).reshape(-1, 2),
    )


def _moving_ranges(values: Floats, borders: Ints) -> Floats:
    ranges = np.empty_like(values)
    if len(values):
        np.subtract(values[1:], values[:-1], out=ranges[1:])
        np.abs(ranges, out=ranges)
        firsts = borders[:-1]
        ranges[firsts[firsts < len(values)]] = np.nan
    return ranges


def takes_median_range(settings: Sequence[Settings]) -> Bools:
    """Tell for each segment, over all series, whether its spread is the median moving range."""
    return np.array(
        [seg.spread is Spread.MEDIAN_RANGE for one in settings for seg in one.segments], np.bool_
    )
