"""Shifts and baselines that rest on values which are there, after data has gone."""

from dataclasses import replace

import numpy as np

from fluctus.http.refusals import RefusalError
from fluctus.kpis.calendar import from_text
from fluctus.kpis.chart.analysis.chart import make_chart
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import Follows
from fluctus.kpis.state import ChartState, SegmentState


def fit_segments(observations: Observations, state: ChartState) -> ChartState:
    """Return a state whose shifts and baselines rest on values that are there.

    When data goes, a shift keeps its place at the next value, and one without
    any value left goes; a baseline that lost an end gives way to all values,
    and a pattern that they carry no more to level limits.
    """
    segments = _with_values(observations, state)
    level = Follows.LEVEL.value
    bare = [replace(segment, window=None, follows=level) for segment in segments]
    for number, segment in enumerate(segments):
        for fitting in (
            segment,
            replace(segment, window=None),
            replace(segment, follows=level),
            bare[number],
        ):
            alone = (*bare[:number], fitting, *bare[number + 1 :])
            segments[number] = fitting
            if fitting == bare[number] or _fits(observations, replace(state, segments=alone)):
                break
    return replace(state, segments=tuple(segments))


def _with_values(observations: Observations, state: ChartState) -> list[SegmentState]:
    """Return the segments that have a value, each from its first one on."""
    segments, starts = list(state.segments[:1]), {0}
    for segment in state.segments[1:]:
        period = from_text(str(segment.start), observations.stored, observations.zone)
        position = int(np.searchsorted(observations.instants, period.timestamp()))
        if position not in starts and position < len(observations):
            starts.add(position)
            segments.append(replace(segment, start=observations.text(position)))
    return segments


def _fits(observations: Observations, state: ChartState) -> bool:
    try:
        make_chart(observations, state)
    except RefusalError:
        return False
    return True
