"""What has come of an improvement on the chart of one KPI: its state, its sentence, its numbers."""

import math
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np

from fluctus.core import Side
from fluctus.core.arrays import Bools, Ints
from fluctus.core.judgment import Improvement as Found
from fluctus.core.judgment import ImprovementState, improvement_on
from fluctus.core.words import ImprovementWords, say_how_soon, say_improvement
from fluctus.improvements.models import Aim, Wanted
from fluctus.kpis.calendar import start_of_day
from fluctus.kpis.chart.analysis.chart import Chart

SIDES = {Wanted.LOWER: Side.LOWER, Wanted.HIGHER: Side.UPPER}
DRAWN_BEFORE = 30
MOST_DRAWN = 60
"""Values since that are drawn; more are drawn by some of them, evenly."""


@dataclass(frozen=True, slots=True, eq=False)
class Stretches:
    """Where the values before an improvement are, and those since; positions of included ones.

    A period that it began within is in neither.
    """

    before: Ints
    since: Ints
    allowed: int | None
    """Of those since, how many the expected effect had time to show in; None for all."""


def stretches_of(chart: Chart, began: date, by: date | None = None) -> Stretches:
    """Find the baseline, the segment in force before the day, and the values since."""
    data, analysis = chart.observations, chart.analysis
    day = start_of_day(began, data.zone).timestamp()
    included = analysis.series.included
    over = _over_by(chart, day)
    since = np.flatnonzero(included & (data.instants >= day))
    allowed = None
    if by is not None:
        end = start_of_day(by + timedelta(days=1), data.zone).timestamp()
        allowed = int((data.instants[since] < end).sum())
    earlier = np.flatnonzero(over)
    if not len(earlier):
        return Stretches(earlier, since, allowed)
    number = next(n for n, s in enumerate(analysis.segments) if earlier[-1] < s.stop)
    segment = analysis.segments[number]
    start, stop = analysis.settings.segments[number].window or (segment.start, segment.stop)
    here = np.zeros(len(data), np.bool_)
    here[start : min(stop, int(earlier[-1]) + 1)] = True
    return Stretches(np.flatnonzero(here & over & included), since, allowed)


def _over_by(chart: Chart, day: float) -> Bools:
    """Tell which periods have ended by a moment: the next one begins by then."""
    data = chart.observations
    over = data.instants < day
    last = np.flatnonzero(over)
    if len(last):
        end = data.calendar.following(data.period(int(last[-1])), data.grain).timestamp()
        over[last[-1]] = end <= day
    return over


def found_on(chart: Chart, began: date, wanted: Wanted, by: date | None) -> tuple[Found, Stretches]:
    """Return what has come of an improvement on a chart, and from which values."""
    at = stretches_of(chart, began, by)
    values = chart.analysis.adjusted
    settings = chart.analysis.settings
    return (
        improvement_on(values[at.before], values[at.since], SIDES[wanted], settings, at.allowed),
        at,
    )


def outcome_of(aim: Aim, chart: Chart) -> tuple[ImprovementState, dict[str, Any]]:
    """Return the state of an aim and all that is told and drawn of it, as plain data."""
    improvement, wanted = aim.improvement, Wanted(aim.wanted)
    found, at = found_on(chart, improvement.began, wanted, aim.by)
    data = chart.observations
    words = words_of(aim, chart, found, at)
    moved = None if found.moved_at is None else data.text(int(at.since[found.moved_at]))
    kept = {
        "n": found.n,
        "m": found.m,
        "average": _known(found.average),
        "lower": found.lower,
        "upper": found.upper,
        "brought": found.brought,
        "band": found.band,
        "says": say_improvement(found, SIDES[wanted], words),
        "moved": moved,
        "proposes": moved if _proposes(chart, found, at) else None,
        "drawn": _drawn(chart, found, at),
    }
    return found.state, kept


def words_of(aim: Aim, chart: Chart, found: Found, at: Stretches) -> ImprovementWords:
    """Return what an outcome is said with."""
    data = chart.observations
    faded = "" if found.faded_at is None else data.label(int(at.since[found.faded_at]))
    return ImprovementWords(
        chart.words.numbers,
        "value" if data.irregular else data.grain.value,
        f"{aim.improvement.began:%-d %b %Y}",
        faded,
        aim.worth,
        aim.worth_unit,
    )


def how_soon(chart: Chart, wanted: Wanted, amount: float) -> str:
    """Say when an expected effect would show; "" where there are no limits to tell by."""
    try:
        _, text = say_how_soon(chart.analysis, chart.words, amount * int(SIDES[wanted]))
    except ValueError:
        return ""
    return text


def _proposes(chart: Chart, found: Found, at: Stretches) -> bool:
    """Tell whether there is evidence of a shift that nobody has decided on."""
    if found.state not in (ImprovementState.MOVED, ImprovementState.HELD) or not len(at.since):
        return False
    first, last = int(at.before[-1]), int(at.since[-1])
    decided = any(first < segment.start <= last for segment in chart.analysis.segments)
    kept = any(first < position <= last for position in chart.words.settled)
    return not decided and not kept


def _drawn(chart: Chart, found: Found, at: Stretches) -> dict[str, Any]:
    """Return what its small chart draws: values before and since, and what these brought."""
    values, data = chart.analysis.adjusted, chart.observations
    before = at.before[-DRAWN_BEFORE:]
    step = max(1, math.ceil(len(at.since) / MOST_DRAWN))
    # From the newest back, so that the newest is always there.
    shown = np.arange(len(at.since))[::-1][::step][::-1]
    since = at.since[shown]
    course = [] if found.course is None else found.course[shown].tolist()
    band = [] if found.course_band is None else found.course_band[shown].tolist()
    return {
        "before": values[before].tolist(),
        "since": values[since].tolist(),
        "periods": data.texts(since),
        "course": course,
        "band": band,
    }


def _known(number: float) -> float | None:
    return None if math.isnan(number) else number
