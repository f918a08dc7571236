"""From a KPI's observations and a chart state to its analysis, and why it cannot be."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np

from fluctus.core import (
    Analysis,
    Centre,
    Direction,
    Pattern,
    Rule,
    Season,
    SegmentSettings,
    Series,
    Settings,
    Spread,
    UnfitPatternError,
    analyse,
)
from fluctus.core.analysis.arrays import Floats
from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.judgment.fitness import Doubt, doubts_of
from fluctus.core.words.wording import Words
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, from_text
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import NAMES, SEASONS, Follows, season_of
from fluctus.kpis.state import ChartState, SegmentState

CANNOT_DRAW = "These limits cannot be computed as asked."


@dataclass(frozen=True, slots=True)
class Chart:
    """A chart with everything that it is made from."""

    observations: Observations
    state: ChartState
    analysis: Analysis
    words: Words
    doubts: tuple[Doubt, ...]
    """Why the values may be unfit for a chart."""


def make_chart(
    observations: Observations,
    state: ChartState,
    breakdowns: Mapping[str, Floats] | None = None,
) -> Chart:
    """Analyse ``observations`` under ``state``; raises RefusalError where it cannot be.

    At a coarser grain than the stored one, segments begin with the first whole
    period after their shift. ``breakdowns`` are the values of each, where these
    are known and several make up the chart.
    """
    carried = observations.grain is not observations.stored or bool(observations.part)
    if carried:
        observations, state = at_grain(observations, state)
    if observations.summed:
        state = replace(state, ceiling=None)
    return _made(observations, state, breakdowns, carried=carried)


def _made(
    observations: Observations,
    state: ChartState,
    breakdowns: Mapping[str, Floats] | None,
    *,
    carried: bool,
) -> Chart:
    settings = core_settings(observations, state)
    words = Words(
        name=f"{state.name}, {observations.part}" if observations.part else state.name,
        unit=state.unit,
        decimals=state.decimals,
        grain=observations.grain.value,
        label=observations.label,
        segments=tuple(segment.name for segment in state.segments),
        target=target_now(observations, state),
        settled=_settled(observations, state),
    )
    series = Series(observations.values, observations.no_part)
    try:
        analysis = analyse(series, settings)
    except UnfitPatternError as error:
        if carried:
            # What the stored values carry, fewer and longer periods need not.
            level = [replace(one, follows=Follows.LEVEL.value) for one in state.segments]
            remark = "At this grain there are too few values for limits that follow a pattern."
            data = replace(observations, remarks=(*observations.remarks, remark))
            return _made(data, replace(state, segments=tuple(level)), breakdowns, carried=True)
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                str(error), "Let the limits of this segment follow nothing, or another pattern.",
                f"segments.{error.segment}.follows",
            ),
        ) from None  # fmt: skip
    missing = observations.missing_periods
    doubts = doubts_of(analysis, missing_periods=missing, breakdowns=breakdowns)
    return Chart(observations, state, analysis, words, tuple(doubts))


def _settled(observations: Observations, state: ChartState) -> frozenset[int]:
    """Return where limits were kept after a review, as far as there are values."""
    periods = [
        _period(observations, one.period, "kept_limits", observations.stored)
        for one in state.kept_limits
    ]
    places = (observations.position_of(period) for period in periods)
    return frozenset(place for place in places if place is not None)


def with_aside(observations: Observations, aside: Mapping[str, str | None]) -> Observations:
    """Set values aside, by period with a reason, or put them back where the reason is None."""
    flags, reasons = observations.set_aside.copy(), dict(observations.reasons)
    for text, reason in aside.items():
        position = observations.position_of(_period(observations, text, "aside"))
        if position is None:
            raise RefusalError(CANNOT_DRAW, Issue("There is no value at this period.", found=text))
        flags[position] = reason is not None
        reasons.pop(position, None)
        if reason is not None:
            reasons[position] = reason
    return replace(observations, set_aside=flags, reasons=reasons)


def with_values(observations: Observations, values: Mapping[str, float]) -> Observations:
    """Replace values, by period; what is stored stays as it is."""
    changed = observations.values.copy()
    for text, value in values.items():
        position = observations.position_of(_period(observations, text, "values"))
        if position is None:
            raise RefusalError(CANNOT_DRAW, Issue("There is no value at this period.", found=text))
        changed[position] = value
    return replace(observations, values=changed)


def target_now(observations: Observations, state: ChartState) -> float | None:
    """Return the target in force: the newest of those that came with the values, or the KPI's."""
    if observations.targets is not None:
        known = observations.targets[~np.isnan(observations.targets)]
        return float(known[-1])
    return None if observations.summed else state.target


def fit_segments(observations: Observations, state: ChartState) -> ChartState:
    """Return a state whose shifts and baselines rest on values that are there.

    When data goes, a shift keeps its place at the next value, and one without
    any value left goes; a baseline that lost an end gives way to all values,
    and a pattern that they carry no more to level limits.
    """
    kept = list(state.segments[:1])
    taken = {0}
    for one in state.segments[1:]:
        period = from_text(str(one.start), observations.stored, observations.zone)
        position = int(np.searchsorted(observations.instants, period.timestamp()))
        if position in taken or position >= len(observations):
            continue
        taken.add(position)
        kept.append(replace(one, start=observations.text(position)))
    level = Follows.LEVEL.value
    bare = [replace(one, window=None, follows=level) for one in kept]
    for number, one in enumerate(kept):
        for fitting in (one, replace(one, window=None), replace(one, follows=level), bare[number]):
            alone = (*bare[:number], fitting, *bare[number + 1 :])
            kept[number] = fitting
            if fitting == bare[number] or _fits(observations, replace(state, segments=alone)):
                break
    return replace(state, segments=tuple(kept))


def _fits(observations: Observations, state: ChartState) -> bool:
    try:
        make_chart(observations, state)
    except RefusalError:
        return False
    return True


def at_grain(observations: Observations, state: ChartState) -> tuple[Observations, ChartState]:
    """Carry segments and baselines over to a coarser grain or a part, and say what cannot be."""
    data, remarks = observations, []
    kept: list[SegmentState] = []
    mixed: dict[int, str] = {}
    starts: set[int] = {0}
    for number, one in enumerate(state.segments):
        if number == 0:
            kept.append(one)
            continue
        instant = _stored_instant(data, str(one.start))
        position = int(np.searchsorted(data.instants, instant))
        before = position - 1
        name = one.name or f"the segment from {one.start}"
        if before >= 0 and data.instants[before] < instant and _holds(data, before, instant):
            mixed[before] = f"Mixes before and after {name}"
        if position in starts or position >= len(data):
            remarks.append(f"{name[0].upper()}{name[1:]} has no whole {data.grain} of its own.")
            continue
        starts.add(position)
        kept.append(replace(one, start=data.text(position)))
    segments = []
    for one in kept:
        window = None if one.window is None else _coarse_window(data, one.window)
        if Follows(one.follows) in NAMES and Follows(one.follows) not in SEASONS[data.grain]:
            remarks.append(f"A {data.grain} has no {NAMES[Follows(one.follows)]} of its own.")
            one = replace(one, follows=Follows.LEVEL.value)  # noqa: PLW2901
        if one.window is not None and window is None:
            remarks.append(f"The baseline holds no whole {data.grain}; all of the segment is used.")
        segments.append(replace(one, window=window))
    if mixed:
        data = data.with_mixed(mixed)
    data = replace(data, remarks=(*data.remarks, *remarks))
    return data, replace(state, segments=tuple(segments))


def _stored_instant(data: Observations, text: str) -> float:
    return from_text(text, data.stored, data.zone).timestamp()


def _holds(data: Observations, position: int, instant: float) -> bool:
    """Tell whether the period at ``position`` has not ended by ``instant``."""
    return data.calendar.following(data.period(position), data.grain).timestamp() > instant


def _coarse_window(data: Observations, window: tuple[str, str]) -> tuple[str, str] | None:
    first, last = (_stored_instant(data, text) for text in window)
    end = data.calendar.following(
        from_text(window[1], data.stored, data.zone), data.stored
    ).timestamp()
    start = int(np.searchsorted(data.instants, first))
    stop = int(np.searchsorted(data.instants, last, side="right"))
    while stop > start and _holds(data, stop - 1, end):
        stop -= 1
    return (data.text(start), data.text(stop - 1)) if stop > start else None


def core_settings(observations: Observations, state: ChartState) -> Settings:
    """Turn the periods of a state into positions.

    Raises RefusalError for a shift outside the data or on a period without a
    value, two shifts on one period, a baseline outside its segment, and bounds
    that cross.
    """
    if state.floor is not None and state.ceiling is not None and state.floor >= state.ceiling:
        raise RefusalError(
            CANNOT_DRAW,
            Issue("The floor is not below the ceiling.", "Change one of them.", "floor"),
        )
    starts = _starts(observations, state)
    stops = [*starts[1:], len(observations)]
    segments = []
    for number, one in enumerate(state.segments):
        window = None
        if one.window is not None:
            window = _window(observations, one.window, number, (starts[number], stops[number]))
        pattern, season = _pattern(observations, Follows(one.follows), number)
        segments.append(
            SegmentSettings(
                starts[number], window, Centre(one.centre), Spread(one.spread), pattern, season
            )
        )
    return Settings(
        segments=tuple(segments),
        rules=frozenset(map(Rule, state.rules)),
        run_length=state.run_length,
        floor=state.floor,
        ceiling=state.ceiling,
        direction=Direction(state.direction),
    )


def _pattern(
    observations: Observations, follows: Follows, number: int
) -> tuple[Pattern, Season | None]:
    if follows is Follows.LEVEL:
        return Pattern.LEVEL, None
    if follows is Follows.TREND:
        return Pattern.TREND, None
    season = known_season(observations, follows)
    if season is None:
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                f"A {observations.grain} has no {NAMES[follows]} of its own.",
                "Let the limits follow a longer season.", f"segments.{number}.follows",
            ),
        )  # fmt: skip
    return Pattern.SEASON, season


def known_season(observations: Observations, follows: Follows) -> Season | None:
    """Say where in a season each value is; None where its grain does not have it."""
    if not len(observations):
        return None
    calendar, grain = observations.calendar, observations.grain
    following = calendar.following(observations.period(-1), grain).timestamp()
    return season_of(follows, observations.instants, following, calendar, grain)


def _starts(observations: Observations, state: ChartState) -> list[int]:
    first, *later = state.segments or (None,)
    if first is None or first.start is not None or any(one.start is None for one in later):
        raise RefusalError(
            CANNOT_DRAW,
            Issue("The first segment, and only that one, has no start.", field="segments"),
        )
    starts = [0]
    for number, one in enumerate(later, 1):
        field = f"segments.{number}.start"
        period = _period(observations, str(one.start), field)
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
            CANNOT_DRAW, Issue("Segments must be in order of time.", field="segments")
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
    first, last = (observations.position_of(_period(observations, text, field)) for text in window)
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
    # One that is carried over to longer periods, or to a part, has what there is.
    chosen = observations.grain is observations.stored and not observations.part
    if chosen and last + 1 - first < MIN_VALUES_FOR_LIMITS:
        count = last + 1 - first
        raise RefusalError(
            CANNOT_DRAW,
            Issue(
                f"A baseline needs {MIN_VALUES_FOR_LIMITS} values for limits; "
                f"this one has {count}.",
                "Take in more of them.", field,
            ),
        )  # fmt: skip
    return first, last + 1


def _period(
    observations: Observations, text: str, field: str, grain: Grain | None = None
) -> datetime:
    try:
        return from_text(text, grain or observations.grain, observations.zone)
    except (ValueError, OverflowError):
        raise RefusalError(
            CANNOT_DRAW,
            Issue("This is not a period.", "Write a date, as in 2026-05-18.", field, found=text),
        ) from None
