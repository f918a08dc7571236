"""Many series laid end to end, so that one pass over one array serves them all.

The computation sees only *included* values, packed without gaps, and the
borders of the segments among them. A single series is the case of one.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Centre, Pattern, SegmentSettings, Settings, Spread
from fluctus.core.arrays import Bools, Floats, Ints

WHOLE_SEGMENT = (-1, -1)


@dataclass(frozen=True, slots=True)
class Choices:
    """What the settings say of each of s segments, in columns of shape (s,).

    ``starts`` and ``windows`` (s, 2) count from the start of the series; a
    window of -1 is the whole segment. ``counts`` has a number per series.
    """

    counts: Ints
    starts: Ints
    windows: Ints
    median_centre: Bools
    median_range: Bools
    floor: Floats
    ceiling: Floats
    holds: Bools


def choices_of(settings: Settings | Sequence[Settings], series: int) -> Choices:
    """Put the settings of ``series`` series into columns; one ``Settings`` stands for all."""
    shared = isinstance(settings, Settings)
    each = [settings] if isinstance(settings, Settings) else settings
    rows = [(chosen, segment) for chosen in each for segment in chosen.segments]
    columns = (
        np.array([len(chosen.segments) for chosen in each], np.intp),
        np.array([segment.start for _, segment in rows], np.intp),
        np.array([segment.window or WHOLE_SEGMENT for _, segment in rows], np.intp),
        np.array([segment.centre is Centre.MEDIAN for _, segment in rows]),
        np.array([segment.spread is Spread.MEDIAN_RANGE for _, segment in rows]),
        np.array([_bound(chosen.floor, segment, -np.inf) for chosen, segment in rows]),
        np.array([_bound(chosen.ceiling, segment, np.inf) for chosen, segment in rows]),
        np.array([chosen.holds for chosen, _ in rows]),
    )
    if not shared or series == 1:
        return Choices(*columns)
    counts, starts, windows, *rest = columns
    return Choices(
        np.tile(counts, series),
        np.tile(starts, series),
        np.tile(windows, (series, 1)),
        *(np.tile(column, series) for column in rest),
    )


def _bound(bound: float | None, segment: SegmentSettings, none: float) -> float:
    # Limits that follow a pattern meet a bound at some positions only: see ``Examined.bounded``.
    return none if bound is None or segment.pattern is not Pattern.LEVEL else bound


@dataclass(frozen=True, slots=True)
class Layout:
    """Flat arrays over n positions, m included values and s segments.

    ``borders`` (s + 1) are the segments' edges among the positions, ``packed``
    (s + 1) the same among the included values; ``windows`` (s, 2) are the
    limit windows among the included values. ``ranges`` (n) are all moving
    ranges, NaN where there is none; ``included_ranges`` (m) is NaN where the
    moving range takes no part. ``series_starts`` and ``segment_starts`` have
    one edge more than there are series.
    """

    values: Floats
    included: Floats
    positions: Ints | None
    """Positions of the included values; None when every position is included."""
    ranges: Floats
    included_ranges: Floats
    series_starts: Ints
    segment_starts: Ints
    borders: Ints
    packed: Ints
    windows: Ints

    def position_of(self, included: Ints) -> Ints:
        """Turn places among the included values into positions."""
        return included if self.positions is None else self.positions[included]


def lay_out(series: Sequence[Series], choices: Choices) -> Layout:
    """Lay ``series`` end to end, cut into segments by ``choices``.

    Raises ValueError for a segment that starts past its series, or a limit
    window that is not inside its segment.
    """
    pieces = [single.values for single in series]
    values = pieces[0] if len(pieces) == 1 else np.concatenate(pieces)
    series_starts = _edges(np.fromiter(map(len, pieces), np.intp, len(pieces)))
    segment_starts = _edges(choices.counts)
    borders, windows = _segment_borders(series_starts, segment_starts, choices)
    if all(single.complete for single in series):
        ranges = _moving_ranges(values, borders)
        return Layout(
            values,
            values,
            None,
            ranges,
            ranges,
            series_starts,
            segment_starts,
            borders,
            borders,
            windows,
        )
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
        values,
        values[positions],
        positions,
        ranges,
        included_ranges,
        series_starts,
        segment_starts,
        borders,
        np.searchsorted(positions, borders).astype(np.intp),
        np.searchsorted(positions, windows).astype(np.intp),
    )


def _edges(lengths: Ints) -> Ints:
    return np.concatenate(([0], np.cumsum(lengths))).astype(np.intp)


def _segment_borders(
    series_starts: Ints, segment_starts: Ints, choices: Choices
) -> tuple[Ints, Ints]:
    """Return the segments' edges (s + 1) and limit windows (s, 2) among all positions."""
    offsets = np.repeat(series_starts[:-1], choices.counts)
    starts = offsets + choices.starts
    ends = np.repeat(series_starts[1:], choices.counts)
    if ((starts >= ends) & (choices.starts > 0)).any():
        raise ValueError("a segment starts past the last value of its series")
    stops = np.append(starts[1:], series_starts[-1:])
    last_of_series = segment_starts[1:] - 1
    stops[last_of_series] = series_starts[1:]
    whole = np.stack((starts, stops), axis=1)
    windows = np.where(choices.windows < 0, whole, choices.windows + offsets[:, None])
    inside = (starts <= windows[:, 0]) & (windows[:, 0] <= windows[:, 1])
    if not (inside & (windows[:, 1] <= stops)).all():
        raise ValueError("a limit window is not inside its segment")
    return np.append(starts, series_starts[-1:]), windows


def _moving_ranges(values: Floats, borders: Ints) -> Floats:
    ranges = np.empty_like(values)
    if len(values):
        np.subtract(values[1:], values[:-1], out=ranges[1:])
        np.abs(ranges, out=ranges)
        firsts = borders[:-1]
        ranges[firsts[firsts < len(values)]] = np.nan
    return ranges
