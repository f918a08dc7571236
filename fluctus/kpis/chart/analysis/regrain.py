"""Segments and baselines, set at the stored grain, carried over to a coarser one or to a part."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from fluctus.kpis.chart.analysis.positions import read_period
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import NAMES, SEASONS, Follows
from fluctus.kpis.state import ChartState, SegmentState


def carry_over(data: Observations, state: ChartState) -> tuple[Observations, ChartState]:
    """Return observations and state at the grain that is shown.

    A segment begins with the first whole period after its shift; a period that
    mixes two segments takes no part. What cannot keep its meaning is said in the
    remarks of the observations.
    """
    kept, mixed, remarks = _segments(data, state.segments)
    segments = []
    for segment in kept:
        follows = Follows(segment.follows)
        if follows in NAMES and follows not in SEASONS[data.grain]:
            remarks.append(f"A {data.grain} has no {NAMES[follows]} of its own.")
            follows = Follows.LEVEL
        window = None if segment.window is None else _window(data, segment.window)
        if segment.window is not None and window is None:
            remarks.append(f"The baseline holds no whole {data.grain}; all of the segment is used.")
        segments.append(replace(segment, follows=follows.value, window=window))
    if mixed:
        data = data.with_mixed(mixed)
    data = replace(data, remarks=(*data.remarks, *remarks))
    return data, replace(state, segments=tuple(segments))


def _segments(
    data: Observations, segments: Sequence[SegmentState]
) -> tuple[list[SegmentState], dict[int, str], list[str]]:
    """Return the segments that have a whole period, which periods are mixed, and remarks."""
    kept, starts = [segments[0]], {0}
    mixed: dict[int, str] = {}
    remarks: list[str] = []
    for segment in segments[1:]:
        instant = _instant(data, str(segment.start))
        position = int(np.searchsorted(data.instants, instant))
        before = position - 1
        name = segment.name or f"the segment from {segment.start}"
        if before >= 0 and data.instants[before] < instant and _reaches(data, before, instant):
            mixed[before] = f"Mixes before and after {name}"
        if position in starts or position >= len(data):
            remarks.append(f"{name[0].upper()}{name[1:]} has no whole {data.grain} of its own.")
            continue
        starts.add(position)
        kept.append(replace(segment, start=data.text(position)))
    return kept, mixed, remarks


def _instant(data: Observations, text: str) -> float:
    return read_period(data, text, "segments", data.stored).timestamp()


def _reaches(data: Observations, position: int, instant: float) -> bool:
    """Tell whether the period at ``position`` has not ended by ``instant``."""
    return data.calendar.following(data.period(position), data.grain).timestamp() > instant


def _window(data: Observations, window: tuple[str, str]) -> tuple[str, str] | None:
    """Return the whole periods inside a baseline; None where it holds none."""
    first, last = (_instant(data, text) for text in window)
    ends = read_period(data, window[1], "segments", data.stored)
    end = data.calendar.following(ends, data.stored).timestamp()
    start = int(np.searchsorted(data.instants, first))
    stop = int(np.searchsorted(data.instants, last, side="right"))
    while stop > start and _reaches(data, stop - 1, end):
        stop -= 1
    return (data.text(start), data.text(stop - 1)) if stop > start else None
