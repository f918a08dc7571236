"""What a kind of line is, and what is drawn of one."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from fluctus.core.arrays import Bools, Floats
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.lines import LineSource, LineState


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


def nothing_wrong(form: dict[str, Any]) -> dict[str, str]:
    """Refuse nothing of a line."""
    return {}


@dataclass(frozen=True, slots=True)
class LineKind:
    """All that a kind of line is.

    ``draw`` is given the chart, the line as a person has set it, and from where to where values
    are shown. ``wrong`` returns what of a form cannot be, by field.
    """

    made: LineSource
    draw: Callable[[Chart, LineState, int, int], Overlay]
    wrong: Callable[[dict[str, Any]], dict[str, str]] = nothing_wrong
    on_other_scale: bool = False
    """Whether it is on another scale than the values, and has a panel of its own."""
    compared: bool = False
    """Whether the values are told apart from it, point by point."""


def included_in(chart: Chart, start: int, stop: int) -> Bools:
    """Return which of the values shown take part, shape (n,)."""
    shown = np.zeros(len(chart.observations), np.bool_)
    shown[start:stop] = True
    return shown & chart.analysis.series.included


def over_shown(chart: Chart, included: Bools) -> str:
    count = int(included.sum())
    return f"of the {chart.words.periods(count)} shown"


def last_shown(course: Floats, start: int, stop: int) -> float | None:
    """Return where a course is at the last point shown that has one."""
    there = np.flatnonzero(~np.isnan(course[start:stop]))
    return float(course[start + there[-1]]) if len(there) else None
