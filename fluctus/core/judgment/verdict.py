"""What is to be made of a chart: everything the sentence claims, worked out in one place.

What is asked about first is a value far off. Then the patterns: a season, a trend, what changed
beside them. Only where none of these explains why values are beyond the limits is a process not
predictable; and of what is to come something is said only where nothing of this is open.
"""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final, TypeAlias

import numpy as np

from fluctus.core.analysis.analyse import Analysis, analyse
from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.patterns import (
    Relatives,
    UnfitPatternError,
    fit_line,
    seasonal_relatives,
)
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Pattern, Season, SegmentSettings, Settings
from fluctus.core.analysis.signals import Signal
from fluctus.core.arrays import Floats, Ints, taken
from fluctus.core.judgment.candidates import Change, changes_in
from fluctus.core.judgment.evidence import (
    MOST_WEIGHED,
    can_carry,
    proposed_trend,
    weigh_season,
)
from fluctus.core.judgment.far_off import far_off
from fluctus.core.judgment.nature import nature_of
from fluctus.core.judgment.predictability import (
    Predictability,
    predictability_of,
    with_limits_in_force,
)
from fluctus.core.judgment.shift_evidence import LOOKED_AT, best_split

FOLLOWING: Final = 0.3
"""From this autocorrelation on, values are said to follow the ones before."""
SKEWED: Final = 1.0
"""From this skewness on, values are said to be uneven."""

SeasonsFrom: TypeAlias = Callable[[int], Mapping[str, Season]]
"""Returns the seasons that values can have, by a key: of those from a position on."""


def no_seasons(_first: int) -> Mapping[str, Season]:
    """Return none, where values have no season to look for."""
    return {}


@dataclass(frozen=True, slots=True)
class FarOff:
    """Values far off the others, nobody having said yet whether they are right.

    ``middle`` is the median of the others, ``low`` and ``high`` their ends.
    """

    positions: tuple[int, ...]
    middle: float
    low: float
    high: float


class Because(StrEnum):
    """Why a run is no evidence that something changed."""

    UNEVEN = "uneven"
    FOLLOWING = "following"
    SHORT = "short"


@dataclass(frozen=True, slots=True)
class Offered:
    """A pattern that limits could follow, on its evidence.

    ``key`` names a season among those that were given; None is a trend. Of ``before`` values
    beyond the limits as they are, ``after`` would remain.
    """

    key: str | None
    before: int
    after: int


@dataclass(frozen=True, slots=True)
class OutNow:
    """The newest ``count`` included values are beyond a limit, on one side."""

    side: Side
    first: int
    count: int


class Leads(StrEnum):
    """What is said first of a chart: the first of these that there is."""

    FAR_OFF = "far_off"
    CHANGE = "change"
    PATTERN = "pattern"
    """The process follows what its limits do not."""
    NOT_PREDICTABLE = "not_predictable"
    OUT_NOW = "out_now"
    RUN = "run"
    LEVEL = "level"


@dataclass(frozen=True, slots=True)
class Verdict:
    """What there is to say of the last segment of a chart; None where there is nothing."""

    far_off: FarOff | None = None
    kept: Predictability | None = None
    without_right: Predictability | None = None
    """How it would keep to its limits without the far-off values that are right."""
    right: tuple[int, ...] = ()
    """Positions of the far-off values that somebody has said are right."""
    change: Change | None = None
    """The newest change with evidence that nobody has decided on."""
    changes: tuple[Change, ...] = ()
    """All changes with evidence beside the pattern that is offered, in order of time."""
    settles: bool = False
    """Whether what came after the change keeps to limits of its own."""
    offered: Offered | None = None
    run: Signal | None = None
    """A run that lasts, of which no evidence shows that anything changed."""
    because: Because = Because.SHORT
    out_now: OutNow | None = None

    @property
    def is_predictable(self) -> bool:
        """Whether the process keeps to its limits, as far as they are there."""
        return self.kept is None or self.kept.is_predictable

    @property
    def leads(self) -> Leads:
        """What is said first, in a sentence as in a list."""
        if self.far_off is not None:
            return Leads.FAR_OFF
        if self.change is not None and (self.is_predictable or self.settles):
            return Leads.CHANGE
        if not self.is_predictable:
            return Leads.NOT_PREDICTABLE if self.offered is None else Leads.PATTERN
        if self.out_now is not None:
            return Leads.OUT_NOW
        return Leads.LEVEL if self.run is None else Leads.RUN

    @property
    def tells_ahead(self) -> bool:
        """Whether anything may be said of what is to come: nothing that matters is open."""
        open_questions = (self.far_off, self.change, self.offered)
        return self.is_predictable and all(each is None for each in open_questions)


def verdict_of(
    analysis: Analysis,
    seasons: SeasonsFrom = no_seasons,
    both: Mapping[str, tuple[str, str]] | None = None,
    settled: Collection[int] = (),
    right: Collection[int] = (),
) -> Verdict:
    """Judge the last segment of a chart.

    ``seasons`` are those that its grain can have; ``both`` has for a key the two seasons that
    it is made of. ``settled`` are the positions at which a person decided that
    nothing shifted, ``right`` those of far-off values that are right.
    """
    last = analysis.segments[-1]
    if last.average is None or analysis.settings.holds or nature_of(analysis.series) is not None:
        return Verdict()
    if last.upper is None or last.lower is None:
        return Verdict()
    positions = analysis.included_in(len(analysis.segments) - 1)
    values = taken(analysis.adjusted, positions)
    far = far_off(values)
    asked = np.array([at for at in far if int(positions[at]) not in right], np.intp)
    is_left = np.ones(len(values), np.bool_)
    is_left[asked] = False
    rest = positions[is_left]
    kept = predictability_of(analysis)
    offered, left = _patterns(analysis, rest, kept, seasons, both or {})
    changes = changes_in(left, rest)
    open_changes = [
        change
        for change in changes
        if not any(change.first <= position <= change.last for position in settled)
    ]
    change = open_changes[-1] if open_changes else None
    run = None if len(asked) or change is not None else _lasting_run(analysis, settled)
    answered = tuple(int(positions[at]) for at in np.setdiff1d(far, asked))
    return Verdict(
        far_off=_asked(values, positions, asked),
        kept=kept,
        without_right=_without(analysis, answered) if answered else None,
        right=answered,
        change=change,
        changes=tuple(changes),
        settles=change is not None and _settles(analysis, change),
        offered=offered,
        run=run,
        because=Because.SHORT if run is None else _why_no_evidence(taken(analysis.adjusted, rest)),
        out_now=_out_now(analysis, positions),
    )


def _asked(values: Floats, positions: Ints, asked: Ints) -> FarOff | None:
    if not len(asked):
        return None
    others = np.delete(values, asked)
    return FarOff(
        tuple(int(positions[at]) for at in asked),
        float(np.median(others)),
        float(others.min()),
        float(others.max()),
    )


def _without(analysis: Analysis, positions: Collection[int]) -> Predictability | None:
    aside = ~analysis.series.included
    aside[list(positions)] = True
    return predictability_of(analyse(Series(analysis.series.values, aside), analysis.settings))


def _patterns(
    analysis: Analysis,
    positions: Ints,
    kept: Predictability | None,
    seasons: SeasonsFrom,
    both: Mapping[str, tuple[str, str]],
) -> tuple[Offered | None, Floats]:
    """Return the pattern that limits could follow, and what it leaves of the judged values."""
    values = taken(analysis.adjusted, positions)
    if analysis.segments[-1].pattern is not Pattern.LEVEL or not len(positions):
        return None, values
    offered, left = None, values
    key = _season(analysis.series.values, positions, seasons, both)
    if key is not None:
        season = seasons(0)[key]
        relatives = seasonal_relatives(analysis.series.values, positions, season)
        left = _taken_out(values, relatives, season.places[positions])
        offered = _offer(analysis, kept, key, season)
    trend = proposed_trend(left, positions)
    if trend is None:
        return offered, left
    if key is None:
        offered = _offer(analysis, kept, None, None)
    line = fit_line(positions.astype(np.float64), left)
    return offered, left - line.slope * (positions - positions.mean())


def _season(
    values: Floats,
    positions: Ints,
    seasons: SeasonsFrom,
    both: Mapping[str, tuple[str, str]],
) -> str | None:
    """Choose the season whose cycles foretell each other best; both where the second holds too."""
    # Of a long series the newest are weighed; where the others are is asked for where it matters.
    first = int(positions[-MOST_WEIGHED:][0])
    newest = positions[-MOST_WEIGHED:] - first
    found = {
        key: evidence
        for key, season in seasons(first).items()
        if key not in both
        and (evidence := weigh_season(values[first:], newest, season, likely_only=True)) is not None
    }
    proposed = {key: evidence for key, evidence in found.items() if evidence.proposed}
    if not proposed:
        return None

    def foretelling(key: str) -> float:
        return proposed[key].test.fall

    best, every = max(proposed, key=foretelling), seasons(0)
    for together, members in both.items():
        if best not in members or together not in every:
            continue
        (other,) = (member for member in members if member != best)
        holds = other in every and _holds_beside(values, positions, every[best], every[other])
        if holds and can_carry(values, positions, every[together]):
            return together
    return best


def _holds_beside(values: Floats, positions: Ints, first: Season, second: Season) -> bool:
    relatives = seasonal_relatives(values, positions, first)
    left = values.copy()
    left[positions] = _taken_out(values[positions], relatives, first.places[positions])
    evidence = weigh_season(left, positions, second)
    return evidence is not None and evidence.proposed


def _taken_out(values: Floats, relatives: Relatives, places: Ints) -> Floats:
    each = relatives.each[places]
    return values / each if relatives.are_ratios else values - each


def _offer(
    analysis: Analysis, kept: Predictability | None, key: str | None, season: Season | None
) -> Offered | None:
    """Try a season in the last segment, or a trend; None where more values are then beyond."""
    pattern = Pattern.TREND if season is None else Pattern.SEASON
    *before, last = analysis.settings.segments
    segments = (*before, replace(last, pattern=pattern, season=season))
    try:
        tried = analyse(analysis.series, replace(analysis.settings, segments=segments))
    except UnfitPatternError:
        return None
    then = predictability_of(tried)
    if kept is None or then is None or then.beyond > kept.beyond:
        return None
    return Offered(key, kept.beyond, then.beyond)


def _settles(analysis: Analysis, change: Change) -> bool:
    """Tell whether what came from a change on keeps to limits of its own."""
    part = slice(change.position, len(analysis.series))
    series = Series(analysis.adjusted[part], ~analysis.series.included[part])
    chosen = analysis.settings.segments[-1]
    settings = Settings(
        segments=(SegmentSettings(centre=chosen.centre, spread=chosen.spread),),
        floor=analysis.settings.floor,
        ceiling=analysis.settings.ceiling,
    )
    if int(series.included.sum()) < MIN_VALUES_FOR_LIMITS:
        return False
    kept = predictability_of(analyse(series, settings))
    return kept is None or kept.is_predictable


def newest_run(analysis: Analysis) -> Signal | None:
    """Return the newest run of the last segment; no other signal need be put together."""
    runs = analysis.signals.numbers_of([Rule.RUN])
    run = analysis.signals[int(runs[-1])] if len(runs) else None
    return run if run is not None and run.segment == len(analysis.segments) - 1 else None


def _lasting_run(analysis: Analysis, settled: Collection[int]) -> Signal | None:
    """Return the newest run of the last segment, where it is what the chart says now.

    One from a segment's first value leaves nothing before it, and an old one that the process
    came back from is history.
    """
    run = newest_run(analysis)
    if run is None or not set(settled).isdisjoint(run.points):
        return None
    starts_inside = run.points[0] > analysis.segments[run.segment].start
    lasts = run.points[-1] >= len(analysis.series) - len(run.points)
    return run if starts_inside and lasts else None


def _why_no_evidence(values: Floats) -> Because:
    values = values[-LOOKED_AT:]
    split = best_split(values)
    if split is None:
        return Because.SHORT
    if split.following >= FOLLOWING:
        return Because.FOLLOWING
    off = values - values.mean()
    deviation = float(np.sqrt((off**2).mean()))
    uneven = deviation > 0 and abs(float((off**3).mean())) / deviation**3 >= SKEWED
    return Because.UNEVEN if uneven else Because.SHORT


def _out_now(analysis: Analysis, positions: Ints) -> OutNow | None:
    """Return how many of the newest values are beyond a limit, on the side of the last one."""
    analysis = with_limits_in_force(analysis)
    found = analysis.signals.numbers_of([Rule.OUTSIDE_LIMITS])
    # No two of them share a value, so that the last to begin is the last to end.
    newest = analysis.signals[int(found[-1])] if len(found) else None
    if newest is None or newest.points[-1] != positions[-1]:
        return None
    return OutNow(newest.side, newest.points[0], len(newest.points))
