"""What the lines that people put on a chart come to, over the values that are shown."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from fluctus.core.arrays import Bools, Floats
from fluctus.core.context import (
    Statistic,
    Windows,
    group_means,
    last_stretch,
    last_values,
    moving_average,
    moving_deviation,
    reference_level,
    trend_line,
)
from fluctus.core.words import TIMES, doubt_level, doubt_name, plain, say_made
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.lines import LineState, Made, Per

SECONDS = {
    Per.HOUR: 3_600,
    Per.DAY: 86_400,
    Per.WEEK: 604_800,
    Per.MONTH: 2_629_746,
    Per.QUARTER: 7_889_238,
    Per.YEAR: 31_556_952,
}
"""Lengths of time, those of the calendar as they are on average."""


@dataclass(frozen=True, slots=True, eq=False)
class Overlay:
    """A line drawn: level at ``level``, or over the values with ``course`` of shape (n,).

    NaN where a course has not begun, or has ended. ``low`` and ``high`` are the sides of a band
    around it. ``note`` says what is to be known or doubted of it.
    """

    says: str
    over: str
    level: float | None
    course: Floats | None = None
    low: Floats | None = None
    high: Floats | None = None
    note: str = ""
    instead: float | None = None


def overlay_of(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw a line over the values shown, from ``start`` to ``stop``."""
    made = Made(line.made)
    if line.reference is not None:
        return _level(chart, line, start, stop)
    if made is Made.TREND:
        return _trend(chart, start, stop)
    if made is Made.COARSER_MEAN:
        return _coarser_mean(chart, line, start, stop)
    if made is Made.YEAR_BEFORE:
        return _year_before(chart, start, stop)
    if made is Made.SEGMENT_BEFORE:
        return _segment_before(chart, start, stop)
    return _over_time(chart, line, start, stop)


def _included(chart: Chart, start: int, stop: int) -> Bools:
    """Return which of the values shown take part, shape (n,)."""
    shown = np.zeros(len(chart.observations), np.bool_)
    shown[start:stop] = True
    return shown & chart.analysis.series.included


def _over_shown(chart: Chart, included: Bools) -> str:
    count = int(included.sum())
    return f"of the {chart.words.periods(count)} shown"


def _level(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    reference, numbers = line.reference, chart.words.numbers
    assert reference is not None, "the caller has seen that it is a level"
    included = _included(chart, start, stop)
    values = chart.observations.values[included]
    level = reference_level(reference, values)
    says = say_made(reference, numbers)
    note, instead = doubt_name(line.name, reference, says) or "", None
    constant = reference.statistic is Statistic.CONSTANT
    if constant and len(values) and level is not None:
        far = doubt_level(level, float(values.min()), float(values.max()), numbers)
        if far is not None:
            note, instead = far.text, far.instead
    if level is None:
        note = "There are no values in these dates to make it from."
    over = "" if constant else _over_shown(chart, included)
    return Overlay(
        says, over, level, _running_sum(chart, line, included), note=note, instead=instead
    )


def _running_sum(chart: Chart, line: LineState, included: Bools) -> Floats | None:
    """Return how a sum of what is shown grows, period by period; None for any other level."""
    if not is_apart(line) or not included.any():
        return None
    parts = np.where(included, chart.observations.values, 0.0)
    grown: Floats = np.cumsum(parts) * line.factor + line.amount
    first, last = np.flatnonzero(included)[[0, -1]]
    outside = np.ones(len(grown), np.bool_)
    outside[first : last + 1] = False
    return np.where(outside, np.nan, grown)


def is_apart(line: LineState) -> bool:
    """Tell whether a line is on another scale than the values, and has a panel of its own."""
    return Made(line.made) is Made.SUM and line.factor == 1


def _over_time(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    """Draw a moving average, or a band of deviations around one."""
    data, included = chart.observations, chart.analysis.series.included
    windows = _windows(chart, line, included)
    average = moving_average(data.values, windows)
    length = _length(chart, line)
    says, over, low, high = "moving average", f"of the last {length}", None, None
    if Made(line.made) is Made.ROLLING_BAND:
        half = line.deviations * moving_deviation(data.values, windows)
        low, high = average - half, average + half
        says = f"moving average ± {plain(line.deviations)} {TIMES} standard deviation"
    return Overlay(
        says,
        over,
        _last(average, start, stop),
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
    if Made(line.made) is Made.ROLLING_BAND:
        notes.append("It tells how much values vary around their average; it is no set of limits.")
    begins = int(full[0])
    if begins > 0:
        notes.append(
            f"It begins {chart.words.preposition} {chart.words.label(begins)}, "
            f"once there are {length}."
        )
    return " ".join(notes)


def _trend(chart: Chart, start: int, stop: int) -> Overlay:
    data, numbers = chart.observations, chart.words.numbers
    included = _included(chart, start, stop)
    over = _over_shown(chart, included)
    # Missing periods count, as on the axis; periods of a calendar are one step each.
    counted = np.arange(len(data), dtype=np.float64) + np.cumsum(chart.missing_before)
    counted -= counted[start] if start < len(counted) else 0
    fitted = trend_line(counted[included], data.values[included])
    if fitted is None:
        return Overlay("trend line", over, None, note="A line needs two values.")
    course = np.full(len(data), np.nan)
    course[start:stop] = fitted.at(counted[start:stop])
    slope = fitted.line.slope
    sign = "+" if slope >= 0 else "\N{MINUS SIGN}"
    explained = "" if fitted.r_squared is None else f", R² {fitted.r_squared:.2f}"
    says = (
        f"trend line {numbers.level_amount(fitted.line.start)} {sign} "
        f"{numbers.small_amount(abs(slope))} a {chart.words.grain}{explained}"
    )
    return Overlay(says, over, _last(course, start, stop), course)


def _coarser_mean(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    data, grain = chart.observations, Grain(line.per)
    if grain not in coarser_grains(data.grain) or grain is data.grain:
        note = f"By {data.grain} there is no mean of a {grain}: choose a longer one."
        return Overlay(f"mean of each {grain}", "", None, note=note)
    groups = data.calendar.starts(data.instants, grain)
    means = group_means(data.values, chart.analysis.series.included, groups)
    return Overlay(f"mean of each {grain}", "", _last(means, start, stop), means)


def _year_before(chart: Chart, start: int, stop: int) -> Overlay:
    """Draw the values of the same periods a year before; weeks are those of 52 weeks before."""
    data = chart.observations
    earlier = data.calendar.year_before(data.instants, data.grain)
    positions = np.searchsorted(data.instants, earlier)
    there = (positions < len(data)) & (
        data.instants[np.minimum(positions, len(data) - 1)] == earlier
    )
    course = np.full(len(data), np.nan)
    course[there] = data.values[positions[there]]
    over = "52 weeks before" if data.grain is Grain.WEEK else "a year before"
    note = "" if there[start:stop].any() else "No value shown has one of a year before."
    return Overlay(f"same {data.grain} {over}", "", _last(course, start, stop), course, note=note)


def _segment_before(chart: Chart, start: int, stop: int) -> Overlay:
    """Draw the values of the segment before each, from its first one on."""
    values, segments = chart.observations.values, chart.analysis.segments
    course = np.full(len(values), np.nan)
    for before, segment in pairwise(segments):
        count = min(before.stop - before.start, segment.stop - segment.start)
        course[segment.start : segment.start + count] = values[before.start : before.start + count]
    note = "" if len(segments) > 1 else "There is no shift, and so no segment before."
    return Overlay("segment before", "", _last(course, start, stop), course, note=note)


def _last(course: Floats, start: int, stop: int) -> float | None:
    """Return where a course is at the last point shown that has one."""
    there = np.flatnonzero(~np.isnan(course[start:stop]))
    return float(course[start + there[-1]]) if len(there) else None
