"""What a set of rules costs and finds, and what a target takes, as the API answers with them."""

import math

from fluctus.core.judgment import TimeToSignal, target_reach
from fluctus.core.words import (
    HALF,
    MOST,
    percent_of_all,
    roughly,
    say_how_soon,
    say_reach,
    say_smallest,
)
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.chart import asked_shapes as shapes
from fluctus.kpis.chart.analysis.chart import Chart


def false_alarms_answer(alarms: TimeToSignal, points: int, grain: str) -> shapes.FalseAlarms:
    """Return what a set of rules costs, in numbers and in words."""
    chance, average = alarms.chance(points), alarms.average_points
    if math.isinf(average):
        text = "Without a rule there is no false alarm, and nothing is found either."
    else:
        text = (
            f"In {points:,} {grain}s, a process with no change would show a signal with a chance "
            f"of {percent_of_all(chance)}; on average the "
            f"first comes after some {roughly(average)} {grain}s."
        )
    return shapes.FalseAlarms(
        points=points,
        chance=chance,
        average_points=None if math.isinf(average) else average,
        text=text,
    )


def how_soon_answer(chart: Chart, change: float | None, within: int | None) -> shapes.HowSoon:
    """Return when a ``change`` would show, or the smallest that shows ``within`` some periods.

    Raises RefusalError where there are no limits to judge a change by.
    """
    sigma = chart.analysis.segments[-1].sigma
    try:
        if change is None:
            smallest, text = say_smallest(chart.analysis, chart.words, within or 1)
            return shapes.HowSoon(smallest, sigma, None, None, text)
        time, text = say_how_soon(chart.analysis, chart.words, change)
    except ValueError as error:
        raise RefusalError(
            "It cannot be said how soon a change would show.",
            Issue(f"{str(error).capitalize()}.", "Come back when the chart has limits.", "change"),
        ) from None
    half, most = (_finite(time.points_until(share)) for share in (HALF, MOST))
    return shapes.HowSoon(change, sigma, half, most, text)


def _finite(points: float) -> float | None:
    return None if math.isinf(points) else points


def reach_answer(chart: Chart, target: float) -> shapes.Reach:
    """Return what it would take for every period to meet a target."""
    # Of what is to come nothing is said while the limits do not hold.
    ahead = chart.verdict.tells_ahead
    reach = target_reach(chart.analysis, target) if ahead else None
    return shapes.Reach(
        target=target,
        average=None if reach is None else reach.average,
        spread=None if reach is None else reach.spread,
        met=reach is not None and reach.met,
        text=say_reach(reach, chart.analysis, chart.words, target, ahead=ahead),
    )
