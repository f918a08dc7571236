"""Averages over time: moving, with a band of deviations around them if wanted."""

import numpy as np

from fluctus.core.arrays import Bools
from fluctus.core.context import (
    Windows,
    last_stretch,
    last_values,
    moving_average,
    moving_deviation,
)
from fluctus.core.words import TIMES, plain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import LineKind, Overlay, last_shown
from fluctus.kpis.lines import LineSource, LineState, Per

SECONDS = {
    Per.HOUR: 3_600,
    Per.DAY: 86_400,
    Per.WEEK: 604_800,
    Per.MONTH: 2_629_746,
    Per.QUARTER: 7_889_238,
    Per.YEAR: 31_556_952,
}
"""Lengths of time, those of the calendar as they are on average."""


def _over_time(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw a moving average, or a band of deviations around one."""
    data, included = chart.observations, chart.analysis.series.included
    windows = _windows(chart, line, included)
    average = moving_average(data.values, windows)
    length = _length(chart, line)
    says, over, low, high = "moving average", f"of the last {length}", None, None
    if LineSource(line.made) is LineSource.ROLLING_BAND:
        half = line.deviations * moving_deviation(data.values, windows)
        low, high = average - half, average + half
        says = f"moving average ± {plain(line.deviations)} {TIMES} standard deviation"
    return Overlay(
        says,
        over,
        last_shown(average, start, stop),
        average,
        low,
        high,
        _note_of_windows(chart, line, windows, length),
    )


def _windows(chart: Chart, line: LineState, included: Bools) -> Windows:
    if Per(line.per) is Per.PERIOD:
        return last_values(included, line.length)
    length = float(line.length * SECONDS[Per(line.per)])
    return last_stretch(included, chart.observations.instants, length, _period(chart))


def _period(chart: Chart) -> float:
    """Return how long a period of the shown grain is on average, in seconds."""
    return float(SECONDS[Per(chart.observations.grain.value)])


def _length(chart: Chart, line: LineState) -> str:
    if Per(line.per) is Per.PERIOD:
        return chart.words.periods(line.length)
    return f"{line.length:,} {line.per}{'' if line.length == 1 else 's'}"


def _note_of_windows(chart: Chart, line: LineState, windows: Windows, length: str) -> str:
    """Say why a moving average begins late, or not at all, and what a rolling band is not."""
    full = np.flatnonzero(windows.full)
    if not len(full):
        return (
            f"It takes {length}; there are {chart.words.periods(int(windows.included.sum()))}. "
            "Choose a shorter one."
        )
    notes = []
    if Per(line.per) is not Per.PERIOD and line.length * SECONDS[Per(line.per)] < _period(chart):
        notes.append(f"A {chart.words.grain} is longer than {length}: it is the value itself.")
    if LineSource(line.made) is LineSource.ROLLING_BAND:
        notes.append("It tells how much values vary around their average; it is no set of limits.")
    begins = int(full[0])
    if begins > 0:
        notes.append(
            f"It begins {chart.words.preposition} {chart.words.label(begins)}, "
            f"once there are {length}."
        )
    return " ".join(notes)


MOVING_AVERAGE = LineKind(LineSource.MOVING_AVERAGE, _over_time)
ROLLING_BAND = LineKind(LineSource.ROLLING_BAND, _over_time)
