"""How soon a change would show, and what a target takes, in words."""

import math

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.settings import Direction
from fluctus.core.judgment.reach import TargetReach
from fluctus.core.judgment.time_to_signal import TimeToSignal, smallest_change, time_to_signal
from fluctus.core.words.wording import Words

HALF, MOST = 0.5, 0.8


def say_how_soon(analysis: Analysis, words: Words, change: float) -> tuple[TimeToSignal, str]:
    """Say by when a lasting ``change`` of the average, in the KPI's unit, would have shown.

    Raises ValueError where there are no limits, or no spread, to judge a change by.
    """
    sigma = _sigma(analysis)
    rules, run_length = analysis.settings.rules, analysis.settings.run_length
    time = time_to_signal(rules, run_length, change / sigma)
    if not rules:
        return time, "Without a rule no change would show."
    half, most = (_periods(time.points_until(share), words) for share in (HALF, MOST))
    if not change:
        return time, (
            f"With no change, half of such processes would show a false signal within {half}, "
            f"8 in 10 within {most}."
        )
    way = "rose" if change > 0 else "fell"
    text = (
        f"If the average {way} by {words.numbers.small_amount(abs(change))} from now on, half of "
        f"such changes would show within {half}, 8 in 10 within {most}."
    )
    last = analysis.segments[-1]
    held = last.lower_clipped if change < 0 else last.upper_clipped
    return (
        time,
        f"{text} The limit on that side cannot be crossed: it takes longer." if held else text,
    )


def say_smallest(analysis: Analysis, words: Words, periods: int) -> tuple[float | None, str]:
    """Say which lasting change 8 in 10 times shows within so many ``periods``; None: none does.

    Raises ValueError as ``say_how_soon`` does.
    """
    sigma = _sigma(analysis)
    rules, run_length = analysis.settings.rules, analysis.settings.run_length
    smallest = smallest_change(rules, run_length, periods, MOST)
    within = words.periods(periods)
    if smallest is None:
        return None, f"With these rules no change shows 8 in 10 times within {within}."
    change = smallest * sigma
    return change, (
        f"A lasting change of {words.numbers.small_amount(change)} either way would show 8 in 10 "
        f"times within {within}; of a smaller one you would know later."
    )


def _sigma(analysis: Analysis) -> float:
    sigma = analysis.segments[-1].sigma
    if not sigma:
        raise ValueError("without limits there is nothing to judge a change by")
    return sigma


def _periods(points: float, words: Words) -> str:
    return "more time than there is" if math.isinf(points) else words.periods(int(points))


def say_reach(
    reach: TargetReach | None,
    analysis: Analysis,
    words: Words,
    target: float,
    *,
    ahead: bool = True,
) -> str:
    """Say what it would take for every period to meet a target.

    ``ahead`` tells whether anything may be said of what is to come.
    """
    direction = analysis.settings.direction
    if direction is Direction.NEITHER:
        return "Say which way is wanted, and it can be told what a target takes."
    if not ahead:
        return "What a target takes is told of a process that keeps to its limits."
    if reach is None:
        return "What a target takes is told of limits that follow nothing, once there are some."
    numbers, grain = words.numbers, words.grain
    over = "over" if direction is Direction.HIGHER else "under"
    every = f"Every {grain} {over} {numbers.amount(target)}"
    if reach.met:
        return f"{every} is what the process does as it is."
    last = analysis.segments[-1]
    average = (
        f"{every} takes an average of {numbers.level_amount(reach.average)} at the present spread"
    )
    if reach.spread is None:
        return f"{average}; no spread would do at the present average."
    return (
        f"{average}, or moving ranges of {numbers.level(reach.spread)} "
        f"in place of {numbers.level(last.spread or 0.0)}."
    )
