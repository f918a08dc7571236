"""Periods without a value, between those that have one."""

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import TypeAlias

import numpy as np

from fluctus.core.arrays import Floats, Ints
from fluctus.kpis.calendar import MONTHS_LONG, Calendar, Grain

SECONDS_AN_HOUR = 3_600
SECONDS_A_DAY = 86_400
HOURS_A_WEEK = 168
EVERY_HOUR = 400
"""Values that have all hours of a week among them, where there are values of all of them."""
CENTURY = 36_525 * SECONDS_A_DAY

Usual: TypeAlias = tuple[list[int], list[int]]
"""The weekdays and hours that there are values of."""


def missing_before(instants: Floats, grain: Grain, calendar: Calendar) -> Ints:
    """Count the missing periods between each of n values and the one before it, shape (n,).

    ``instants`` (n,) are the starts of their periods. Only periods that could have a value
    count: a KPI that has no Sundays, or no hours at night, does not miss them.
    """
    if len(instants) < 2:
        return np.zeros(len(instants), np.intp)
    if grain is Grain.HOUR:
        return _hours(instants, calendar)
    if grain in MONTHS_LONG:
        local = calendar.local(instants)
        months = local.dt.year().to_numpy().astype(np.intp) * 12 + local.dt.month().to_numpy()
        return _between(months // MONTHS_LONG[grain])
    # Days that a clock change makes longer or shorter still round to whole ones.
    days = np.rint((instants - instants[0]) / SECONDS_A_DAY).astype(np.intp)
    if grain is Grain.WEEK:
        return _between(days // 7)
    every = np.arange(days[0], days[-1] + 1)
    usual = np.isin(every % 7, np.unique(days % 7))
    passed = np.cumsum(usual).astype(np.intp)
    return _between(passed[days - days[0]])


def _between(numbers: Ints) -> Ints:
    """Count what lies between successive ``numbers``."""
    between: Ints = np.maximum(0, np.diff(numbers, prepend=numbers[:1] - 1) - 1)
    return between


def _hours(instants: Floats, calendar: Calendar) -> Ints:
    """Count the missing hours on the weekdays and at the times of day that there are.

    Every hour that passes is one, whatever a clock change calls it. Of a longer
    stretch than a century the last one is looked at.
    """
    first = int(np.searchsorted(instants, instants[-1] - CENTURY))
    looked_at = instants[first:]
    missing = np.zeros(len(instants), np.intp)
    # All of them an hour apart: none is missing, and nothing need be looked up.
    if bool((np.diff(looked_at) == SECONDS_AN_HOUR).all()):
        return missing
    newest = calendar.local(looked_at[-EVERY_HOUR:])
    if newest.dt.weekday().n_unique() * newest.dt.hour().n_unique() == HOURS_A_WEEK:
        # Any hour could have a value.
        hours_on = np.diff(looked_at, prepend=looked_at[0]) / SECONDS_AN_HOUR
        # Where clocks change by half an hour, one hour of theirs is one and a half long.
        missing[first:] = np.maximum(0, np.floor(hours_on + 0.25).astype(np.intp) - 1)
        return missing
    days, hours = _usual(looked_at, calendar)
    passed = np.arange(looked_at[0], looked_at[-1] + 1, SECONDS_AN_HOUR)
    passed_local = calendar.local(passed)
    usual = passed_local.dt.weekday().is_in(days) & passed_local.dt.hour().is_in(hours)
    # The last that has begun: where clocks change by half an hour, hours begin between two of them.
    places = np.searchsorted(passed, looked_at, side="right") - 1
    missing[first:] = _between(np.cumsum(usual.to_numpy())[places])
    return missing


def missing_periods(
    instants: Floats, missing: Ints, grain: Grain, calendar: Calendar, start: int, count: int
) -> list[datetime]:
    """Return the starts of ``count`` missing periods from number ``start`` on, in order.

    Of those that ``missing``, (n,), which is what ``missing_before`` returns, counts.
    """
    if not missing.any():
        return []
    passed = np.cumsum(missing)
    usual = _usual(instants, calendar) if grain in (Grain.DAY, Grain.HOUR) else None
    if usual and grain is Grain.DAY:
        # A day begins at another hour where midnight is skipped.
        usual = usual[0], list(range(24))
    found: list[datetime] = []
    for gap in np.flatnonzero((missing > 0) & (passed > start)).tolist():
        skipped = max(0, start - int(passed[gap] - missing[gap]))
        between = (float(instants[gap - 1]), float(instants[gap]))
        found += list(_in_gap(*between, grain, calendar, usual))[skipped:]
        if len(found) >= count:
            break
    return found[:count]


def _in_gap(
    after: float, before: float, grain: Grain, calendar: Calendar, usual: Usual | None
) -> Iterator[datetime]:
    """Go through the periods between two values that could have one; without ``usual``, all."""
    period, end = (datetime.fromtimestamp(at, UTC) for at in (after, before))
    while (period := calendar.following(period, grain)) < end:
        local = period.astimezone(calendar.zone)
        if usual is None or (local.isoweekday() in usual[0] and local.hour in usual[1]):
            yield period


def _usual(instants: Floats, calendar: Calendar) -> Usual:
    local = calendar.local(instants[int(np.searchsorted(instants, instants[-1] - CENTURY)) :])
    return local.dt.weekday().unique().to_list(), local.dt.hour().unique().to_list()
