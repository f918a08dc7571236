"""Values made from values: the difference of a running total, and how to recognize one."""

from enum import StrEnum

import numpy as np

from fluctus.core.arrays import Bools, Floats, Ints

FEWEST_STEPS = 6
FEWEST_TO_TELL = 10
"""Steps of each meter, where only a reset says that it is one."""
DROPS_SHARE = 0.03
"""A running total rises or stays at nearly every step, but for one reset each or so many ..."""
RISING_SHARE = 0.6
OFTEN_SHARE = 1 / 3
NEXT_TO_NOTHING = 0.25
"""A reset leaves at most this share of what a meter showed."""
LONG_WAY = 4.0
"""... and on the whole goes further than this many of its largest ordinary steps."""


class Drop(StrEnum):
    """What a fall of a running total means."""

    RESET = "reset"
    NEGATIVE = "negative"


def differences(readings: Floats, groups: Ints, drop: Drop) -> tuple[Floats, Bools]:
    """Return the amount between successive readings, and where a meter was reset.

    ``readings`` (n,) are in time order within each of ``groups`` (n,), which
    come one after the other; a missing reading (NaN) is passed over. The first
    of a group has no amount. At a fall, ``Drop.RESET`` takes the new reading as
    the amount since the reset and marks it; ``Drop.NEGATIVE`` keeps the fall.
    """
    amounts = np.full(len(readings), np.nan)
    resets = np.zeros(len(readings), np.bool_)
    earlier, later = _successive(readings, groups)
    steps = readings[later] - readings[earlier]
    if drop is Drop.RESET:
        fell = steps < 0
        steps = np.where(fell, readings[later], steps)
        resets[later[fell]] = True
    amounts[later] = steps
    return amounts, resets


def _successive(readings: Floats, groups: Ints) -> tuple[Ints, Ints]:
    """Return the positions of each reading that there is and of the next one of its group."""
    present = np.flatnonzero(~np.isnan(readings))
    earlier, later = present[:-1], present[1:]
    same = groups[earlier] == groups[later]
    return earlier[same], later[same]


def _steps(readings: Floats, groups: Ints) -> tuple[Floats, Floats]:
    """Return each reading that there is, of each group but its last, and the one after it."""
    if len(groups) and groups[0] == groups[-1] and not np.isnan(readings).any():
        return readings[:-1], readings[1:]
    earlier, later = _successive(readings, groups)
    return readings[earlier], readings[later]


def was_reset(readings: Floats, groups: Ints) -> bool:
    """Tell whether ``readings`` (n,) fall as a meter does: each time to next to nothing.

    Of a few readings nothing can be told: values that rise by chance, and fall once, are many.
    """
    before, after = _steps(readings, groups)
    fell = after < before
    enough = len(after) >= FEWEST_TO_TELL * len(np.unique(groups))
    return enough and bool(fell.any() and (after[fell] <= before[fell] * NEXT_TO_NOTHING).all())


def is_running_total(readings: Floats, groups: Ints, *, often: bool = False) -> bool:
    """Tell whether ``readings`` look like a meter or a cumulative count.

    They rise at nearly every step within their group, but for a reset, and what
    they rise in all is far more than a process that drifts would: many times a
    usual step. Where ``often``, it may be reset every few steps, each time to next to nothing.
    """
    before, after = _steps(readings, groups)
    steps = after - before
    if len(steps) < FEWEST_STEPS:
        return False
    drops = int((steps < 0).sum())
    meters = 1 if groups[0] == groups[-1] else len(np.unique(groups))
    if not often and drops > max(meters, len(steps) * DROPS_SHARE):
        return False
    rises = steps[steps > 0]
    if often and drops > meters:
        fell = steps < 0
        few = drops <= len(steps) * OFTEN_SHARE
        return few and bool((after[fell] <= before[fell] * NEXT_TO_NOTHING).all())
    if drops > max(meters, len(steps) * DROPS_SHARE) or len(rises) < len(steps) * RISING_SHARE:
        return False
    return bool(rises.sum() > LONG_WAY * np.quantile(rises, 0.9))
