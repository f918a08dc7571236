"""Levels of the values shown: a constant, or a statistic of them."""

from typing import Any

import numpy as np

from fluctus.core.arrays import Bools, Floats
from fluctus.core.context import Statistic, reference_level
from fluctus.core.words import doubt_level, doubt_name, say_made
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import (
    LineKind,
    Overlay,
    included_in,
    nothing_wrong,
    over_shown,
)
from fluctus.kpis.lines import LineSource, LineState


def _level(chart: Chart, line: LineState, start: int, stop: int) -> Overlay:
    reference, numbers = line.reference, chart.words.numbers
    assert reference is not None, "the caller has seen that it is a level"
    included = included_in(chart, start, stop)
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
    over = "" if constant else over_shown(chart, included)
    return Overlay(
        says, over, level, _running_sum(chart, line, included), note=note, instead=instead
    )


def _running_sum(chart: Chart, line: LineState, included: Bools) -> Floats | None:
    """Return how a sum of what is shown grows, period by period; None for any other level."""
    if line.made != LineSource.SUM or line.factor != 1 or not included.any():
        return None
    parts = np.where(included, chart.observations.values, 0.0)
    grown: Floats = np.cumsum(parts) * line.factor + line.amount
    first, last = np.flatnonzero(included)[[0, -1]]
    outside = np.ones(len(grown), np.bool_)
    outside[first : last + 1] = False
    return np.where(outside, np.nan, grown)


def _wrong_percentile(form: dict[str, Any]) -> dict[str, str]:
    if 0 <= form["number"] <= 100:
        return {}
    return {"number": "A percentile is from 0 to 100; the 100th is the maximum."}


def _wrong_percent(form: dict[str, Any]) -> dict[str, str]:
    return {} if 0 < form["number"] <= 1000 else {"number": "Write a percent from 0 to 1,000."}


WRONG = {LineSource.PERCENTILE: _wrong_percentile, LineSource.PERCENT_OF_MAXIMUM: _wrong_percent}
LEVELS = tuple(
    LineKind(
        LineSource(statistic.value),
        _level,
        WRONG.get(LineSource(statistic.value), nothing_wrong),
        on_other_scale=statistic is Statistic.SUM,
    )
    for statistic in Statistic
)
