"""What came of an improvement: its state, and what it has brought so far.

The baseline is held against all that came after its date: its limits are not touched by it. The
band of what it brought is that of a sum of m values less m times an average of n: the variance of
a difference of independent sums (G. W. Snedecor and W. G. Cochran, *Statistical Methods*, 8th ed.,
Iowa State University Press, 1989).
"""

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis, analyse
from fluctus.core.analysis.constants import MEAN_RANGE_TO_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import RULES, Judges
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import SegmentSettings, Settings
from fluctus.core.arrays import Floats
from fluctus.core.judgment.candidates import likely_range
from fluctus.core.judgment.predictability import predictability_of
from fluctus.core.judgment.shift_evidence import LOOKED_AT, best_split, changes_of

EARLY: Final = 4
"""With fewer values since, and no signal, it is too early to say anything."""
TO_HOLD: Final = 10
"""Values that its own segment has at least before it is said to have held."""
HALF_BACK: Final = 0.5


class ImprovementState(StrEnum):
    """What has come of an improvement on a KPI; never typed by a person."""

    NO_BASELINE = "no_baseline"
    TOO_EARLY = "too_early"
    NO_SIGN = "no_sign"
    SIGN = "sign"
    MOVED = "moved"
    HELD = "held"
    FADED = "faded"
    OTHER_WAY = "other_way"


@dataclass(frozen=True, slots=True, eq=False)
class Improvement:
    """What has come of an improvement, of n values before it and m since.

    ``average``, ``lower``, ``upper`` and ``sigma`` are those of its baseline. ``brought`` is how
    far the values since are off the average, counted positive on the wanted side, in the unit of
    the KPI times periods, give or take ``band``; ``course`` (m,) and ``course_band`` (m,) are these
    after each value. ``moved_at`` counts the values since before the level changed, ``faded_at``
    those before it went back; None where it did not.
    """

    state: ImprovementState
    n: int
    m: int
    average: float = math.nan
    lower: float | None = None
    upper: float | None = None
    sigma: float = math.nan
    brought: float = 0.0
    band: float = 0.0
    course: Floats | None = None
    course_band: Floats | None = None
    moved_at: int | None = None
    faded_at: int | None = None
    now: float = math.nan
    """The average of the level that it is at now: of the values since the last change."""


def brought_so_far(baseline: Floats, since: Floats, wanted: Side) -> tuple[Floats, Floats]:
    """Return what each of m values has brought so far, and the noise band of that, shapes (m,).

    The sums over the values of (baseline average - value), positive on the ``wanted`` side, and
    2 sigma sqrt(m + m² / n), with sigma a third of 2.660 times the mean moving range of the n
    baseline values.
    """
    n = len(baseline)
    sigma = _sigma(baseline)
    counts = np.arange(1, len(since) + 1)
    course = np.cumsum((since - baseline.mean()) * int(wanted))
    return course, 2 * sigma * np.sqrt(counts + counts**2 / n)


def _sigma(values: Floats) -> float:
    return MEAN_RANGE_TO_LIMITS / 3 * float(np.abs(np.diff(values)).mean())


def improvement_on(
    baseline: Floats, since: Floats, wanted: Side, settings: Settings, allowed: int | None = None
) -> Improvement:
    """Tell what has come of an improvement.

    ``baseline`` (n,) are the included values of the segment in force before it, ``since`` (m,)
    those from its date on; ``allowed`` is how many of these the expected effect had time to show
    in, None for all. ``settings`` give rules and bounds; their segments are not used.
    """
    n, m = len(baseline), len(since)
    if n < MIN_VALUES_FOR_LIMITS:
        return Improvement(ImprovementState.NO_BASELINE, n, m)
    window = SegmentSettings(
        window=(0, n), centre=settings.segments[-1].centre, spread=settings.segments[-1].spread
    )
    analysis = analyse(
        Series(np.concatenate([baseline, since])), replace(settings, segments=(window,))
    )
    segment = analysis.segments[0]
    course, band = brought_so_far(baseline, since, wanted)
    found = Improvement(
        ImprovementState.TOO_EARLY,
        n,
        m,
        average=float(baseline.mean()),
        lower=segment.lower,
        upper=segment.upper,
        sigma=_sigma(baseline),
        brought=float(course[-1]) if m else 0.0,
        band=float(band[-1]) if m else 0.0,
        course=course,
        course_band=band,
        now=float(since.mean()) if m else math.nan,
    )
    return _settled(found, analysis, baseline, since, wanted, allowed)


def _settled(
    found: Improvement,
    analysis: Analysis,
    baseline: Floats,
    since: Floats,
    wanted: Side,
    allowed: int | None,
) -> Improvement:
    n, m = found.n, found.m
    signals = _signals_since(analysis, n)
    if m < EARLY and not signals:
        return found
    for side, state in ((wanted, ImprovementState.MOVED), (-wanted, ImprovementState.OTHER_WAY)):
        moved_at = _moved(baseline, since, Side(side))
        if moved_at is not None:
            moved = replace(
                found, state=state, moved_at=moved_at, now=float(since[moved_at:].mean())
            )
            return _what_followed(moved, since, wanted) if side == wanted else moved
    sign = any(
        side == wanted and (allowed is None or first - n < allowed) for first, side in signals
    )
    return replace(found, state=ImprovementState.SIGN if sign else ImprovementState.NO_SIGN)


def _signals_since(analysis: Analysis, n: int) -> list[tuple[int, Side]]:
    """Return where and on which side the signals are that begin after ``n`` values."""
    return [
        (signal.points[0], signal.side)
        for signal in analysis.signals
        if signal.points[0] >= n and RULES[signal.rule].judges is not Judges.RANGES
    ]


def _moved(baseline: Floats, since: Floats, side: Side) -> int | None:
    """Return how many values since came before the level moved to a side; None where it did not.

    What came back in the meantime is no less of a move: the values up to each later change are
    looked at as well.
    """
    for stop in (*changes_of(since), len(since)):
        values = np.concatenate([baseline, since[:stop]])[-LOOKED_AT:]
        split = best_split(values)
        if split is None or not split.is_evidence:
            continue
        before = len(values) - stop
        at, level = split.split_at, float(values[split.split_at :].mean())
        _, last = likely_range(values, 0, at, len(values), _sigma(values))
        # Its place may be the date or later; what came before that was not made by it.
        if last >= before and (level - float(baseline.mean())) * side > 0:
            return max(0, at - before)
    return None


def _what_followed(moved: Improvement, since: Floats, wanted: Side) -> Improvement:
    assert moved.moved_at is not None
    own = since[moved.moved_at :]
    edges = [0, *changes_of(own), len(own)]
    levels = [float(own[a:b].mean()) for a, b in pairwise(edges)]
    best = levels[0]
    for number, level in enumerate(levels[1:], start=1):
        back = (best - level) * wanted
        if back > 0 and back >= HALF_BACK * (best - moved.average) * wanted:
            return replace(
                moved,
                state=ImprovementState.FADED,
                faded_at=moved.moved_at + edges[number],
                now=levels[-1],
            )
        best = max(best * wanted, level * wanted) * wanted
    moved = replace(moved, now=levels[-1])
    went_back = any((a - b) * wanted > 0 for a, b in pairwise(levels))
    if len(own) < TO_HOLD or went_back:
        return moved
    keeping = predictability_of(analyse(Series(own)))
    held = keeping is not None and keeping.is_predictable
    return replace(moved, state=ImprovementState.HELD) if held else moved
