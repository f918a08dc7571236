"""The periods of a chart's settings as positions in its series, and why they cannot be."""

from collections.abc import Iterable
from datetime import datetime

import numpy as np

from fluctus.core import (
    Centre,
    Direction,
    Pattern,
    Rule,
    Season,
    SegmentSettings,
    Settings,
    Spread,
)
from fluctus.core.analysis import MIN_VALUES_FOR_LIMITS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis import periods
from fluctus.kpis.calendar import Grain
from fluctus.kpis.models import DrawnAs
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import NAMES, Follows, seasons_of
from fluctus.kpis.state import ChartState

CANNOT_DRAW = "These limits cannot be computed as asked."


def core_settings(observations: Observations, state: ChartState) -> Settings:
    """Turn the periods of a state into positions.

    Raises RefusalError for a shift outside the data or on a period without a
    value, two shifts on one period, a baseline outside its segment, and bounds
    that cross.
    """
    _refuse_crossed(state)
    starts = _starts(observations, state)
    stops = [*starts[1:], len(observations)]
    segments = []
    for number, segment in enumerate(state.segments):
        window = None
        if segment.window is not None:
            bounds = (starts[number], stops[number])
            window = _window(observations, segment.window, number, bounds)
        pattern, season = _pattern(observations, Follows(segment.follows), number)
        segments.append(
            SegmentSettings(
                starts[number],
                window,
                Centre(segment.centre),
                Spread(segment.spread),
                pattern,
                season,
            )
        )
    holds = state.drawn_as == DrawnAs.STEPS
    return Settings(
        segments=tuple(segments),
        # A value that holds has no average to be on one side of.
        rules=frozenset() if holds else frozenset(map(Rule, state.rules)),
        run_length=state.run_length,
        floor=state.floor,
        ceiling=state.ceiling,
        direction=Direction(state.direction),
        holds=holds,
    )


def _refuse_crossed(state: ChartState) -> None:
    """Refuse two ends of which the lower is not below the higher."""
    for name, low, high, field in (
        ("floor is not below the ceiling", state.floor, state.ceiling, "floor"),
        ("target range ends below where it begins", state.target, state.target_high, "target_high"),
        ("axis ends below where it begins", state.axis_low, state.axis_high, "axis_high"),
    ):
        if low is not None and high is not None and low >= high:
            raise RefusalError(CANNOT_DRAW, Issue(f"The {name}.", "Change one of them.", field))
    if state.target is None and state.target_high is not None:
        raise RefusalError(
            CANNOT_DRAW,
            Issue("The target range has no low side.", "Write one, or a single target.", "target"),
        )


def read_period(
    observations: Observations, text: str, field: str, grain: Grain | None = None
) -> datetime:
    """Read a period of the grain shown, or of ``grain``; raises RefusalError where it is none."""
    return periods.read_period(
        text, grain or observations.grain, observations.zone, CANNOT_DRAW, field
    )


def seasons_at(
    observations: Observations, kinds: Iterable[Follows], first: int = 0
) -> dict[Follows, Season]:
    """Return where in each season the values from ``first`` on are.

    Without those that their grain does not have.
    """
    if not len(observations):
        return {}
    calendar, grain = observations.calendar, observations.grain
    following = calendar.following(observations.period(-1), grain).timestamp()
    return seasons_of(kinds, observations.instants[first:], following, calendar, grain)


def season_at(observations: Observations, follows: Follows) -> Season | None:
    """Return where in a season each value is; None where its grain does not have it."""
    return seasons_at(observations, [follows]).get(follows)


def _pattern(
    observations: Observations, follows: Follows, number: int
) -> tuple[Pattern, Season | None]:
    if follows is Follows.LEVEL:
        return Pattern.LEVEL, None
    if follows is Follows.TREND:
        return Pattern.TREND, None
    season = season_at(observations, follows)
    if season is None:
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                f"A {observations.grain} has no {NAMES[follows]} of its own.",
                "Let the limits follow a longer season.",
                f"segments.{number}.follows",
            ),
        )
    return Pattern.SEASON, season


def _starts(observations: Observations, state: ChartState) -> list[int]:
    first, *later = state.segments or (None,)
    if first is None or first.start is not None or any(segment.start is None for segment in later):
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                "The first segment, and only that one, has no start.",
                "Give each later segment the period it starts at.",
                "segments",
            ),
        )
    starts = [0]
    for number, segment in enumerate(later, 1):
        field = f"segments.{number}.start"
        period = read_period(observations, str(segment.start), field)
        position = observations.position_of(period)
        if position is None or position == 0:
            raise RefusalError(CANNOT_DRAW, _no_shift_there(observations, period, field))
        if position in starts:
            raise RefusalError(
                CANNOT_DRAW,
                Issue(
                    f"There is a shift at {observations.label(position)} already.",
                    "Move one of them to another period, or remove it.",
                    field,
                ),
            )
        starts.append(position)
    if starts != sorted(starts):
        raise RefusalError(
            CANNOT_DRAW,
            Issue("Segments must be in order of time.", "Sort them by their starts.", "segments"),
        )
    return starts


def _no_shift_there(observations: Observations, period: datetime, field: str) -> Issue:
    name = observations.name(period)
    count = len(observations)
    if count < 2:
        return Issue("A shift needs at least two values.", "Add data first.", field)
    between = f"Choose a period from {observations.label(1)} to {observations.label(count - 1)}."
    if period == observations.period(0):
        return Issue(
            f"{name} is the first value, with nothing before to shift from.", between, field
        )
    if period < observations.period(0):
        return Issue(f"{name} is before the first value.", between, field)
    if period > observations.period(-1):
        return Issue(f"{name} is after the last value.", between, field)
    following = int(np.searchsorted(observations.instants, period.timestamp()))
    return Issue(
        f"There is no value at {name}.",
        f"The next value is at {observations.label(following)}; put the shift there.",
        field,
    )


def _window(
    observations: Observations, window: tuple[str, str], number: int, segment: tuple[int, int]
) -> tuple[int, int]:
    field = f"segments.{number}.window"
    start, stop = segment
    first, last = (
        observations.position_of(read_period(observations, text, field)) for text in window
    )
    if first is None or last is None or not start <= first <= last < stop:
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                "The baseline is not inside its segment, or ends on a period without a value.",
                f"Choose values from {observations.label(start)} "
                f"to {observations.label(stop - 1)}.",
                field,
            ),
        )
    # A baseline that is carried over to longer periods, or to a part, has what there is.
    chosen = observations.grain is observations.stored and not observations.part
    count = int((~observations.no_part[first : last + 1]).sum())
    if chosen and count < MIN_VALUES_FOR_LIMITS:
        left_out = last + 1 - first - count
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                f"A baseline needs {MIN_VALUES_FOR_LIMITS} values for limits; "
                f"this one has {count}{' that take part' if left_out else ''}.",
                "Take in more of them.",
                field,
            ),
        )
    return first, last + 1
