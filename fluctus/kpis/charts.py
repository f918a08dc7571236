"""From a KPI's observations and a chart state to its analysis, and why it cannot be."""

from dataclasses import dataclass
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.core import (
    Analysis,
    Centre,
    Direction,
    Rule,
    SegmentSettings,
    Series,
    Settings,
    Spread,
    analyse,
)
from fluctus.core.arrays import Bools, Floats
from fluctus.core.wording import Words
from fluctus.kpis.periods import Grain, from_text, label, to_text
from fluctus.kpis.state import ChartState
from fluctus.refusals import Issue, RefusalError

CANNOT_DRAW = "These limits cannot be computed as asked."


@dataclass(frozen=True, slots=True)
class Observations:
    """A KPI's values in time order.

    ``instants`` are the starts of their periods, in whole seconds since 1970:
    numbers are read and searched many times faster than datetimes.
    """

    instants: Floats
    values: Floats
    set_aside: Bools
    reasons: dict[int, str]
    """Why a value is set aside, by its position."""
    grain: Grain
    zone: ZoneInfo

    def __len__(self) -> int:
        return len(self.values)

    def period(self, position: int) -> datetime:
        """Return the start of the period at ``position``; negative counts from the end."""
        return datetime.fromtimestamp(self.instants[position], self.zone)

    def text(self, position: int) -> str:
        """Write the period at ``position``."""
        return to_text(self.period(position), self.grain, self.zone)

    def label(self, position: int) -> str:
        """Name the period at ``position`` for people."""
        return self.name(self.period(position))

    def name(self, period: datetime) -> str:
        """Name any period for people."""
        beside = self.period(-1) if len(self) else datetime.now(UTC)
        return label(period, self.grain, self.zone, beside)

    def position_of(self, period: datetime) -> int | None:
        """Return where ``period`` is; None where it has no value."""
        position = int(np.searchsorted(self.instants, period.timestamp()))
        found = position < len(self) and self.instants[position] == period.timestamp()
        return position if found else None


@dataclass(frozen=True, slots=True)
class Chart:
    """A chart with everything that it is made from."""

    observations: Observations
    state: ChartState
    analysis: Analysis
    words: Words


def make_chart(observations: Observations, state: ChartState) -> Chart:
    """Analyse ``observations`` under ``state``; raises RefusalError where it cannot be."""
    settings = core_settings(observations, state)
    words = Words(
        name=state.name,
        unit=state.unit,
        decimals=state.decimals,
        grain=observations.grain.value,
        label=observations.label,
        segments=tuple(segment.name for segment in state.segments),
        target=state.target,
    )
    series = Series(observations.values, observations.set_aside)
    return Chart(observations, state, analyse(series, settings), words)


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
        segments.append(
            SegmentSettings(starts[number], window, Centre(one.centre), Spread(one.spread))
        )
    return Settings(
        segments=tuple(segments),
        rules=frozenset(map(Rule, state.rules)),
        run_length=state.run_length,
        floor=state.floor,
        ceiling=state.ceiling,
        direction=Direction(state.direction),
    )


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
    return first, last + 1


def _period(observations: Observations, text: str, field: str) -> datetime:
    try:
        return from_text(text, observations.grain, observations.zone)
    except (ValueError, OverflowError):
        raise RefusalError(
            CANNOT_DRAW,
            Issue("This is not a period.", "Write a date, as in 2026-05-18.", field, found=text),
        ) from None
