"""What to know of a chart in one short line and a quieter second one, for lists of many."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import RULES, Mark
from fluctus.core.context.comparison import included_in
from fluctus.core.context.target import MeetsTarget
from fluctus.core.judgment.nature import Nature, nature_of
from fluctus.core.judgment.predictability import predictability_of
from fluctus.core.words.sentence import Beside, open_question
from fluctus.core.words.wording import Words, counted


class Attention(StrEnum):
    """How a process stands, as lists sort it."""

    STEADY = "steady"
    WAITS = "waits"
    """For a decision on a shift."""
    NOT_PREDICTABLE = "not_predictable"
    UNJUDGED = "unjudged"
    """Too few values, or values that limits say little of."""


@dataclass(frozen=True, slots=True)
class InShort:
    """``what`` is the one line, ``more`` the quieter one.

    ``mark`` is the shape of what waits for a decision. ``off_target`` is how far the average is
    on the wrong side of the target, in sigmas, below 0 on the good side; None without either.
    """

    what: str
    more: str
    attention: Attention
    reach: MeetsTarget
    off_target: float | None
    mark: Mark | None = None


UNJUDGED = {
    Nature.ALL_EQUAL: "Never varies",
    Nature.RARE: "Rare: too rare for this grain",
    Nature.HOLDS: "Holds until changed",
}


def in_short(analysis: Analysis, words: Words, beside: Beside) -> InShort:
    """Say what to know of a chart, about its last segment: what waits, or how it stands."""
    last = analysis.segments[-1]
    if last.average is None:
        return InShort("No values yet", "", Attention.UNJUDGED, MeetsTarget.UNKNOWN, None)
    kind = Nature.HOLDS if analysis.settings.holds else nature_of(analysis.series)
    if kind is not None:
        return InShort(UNJUDGED[kind], "", Attention.UNJUDGED, MeetsTarget.UNKNOWN, None)
    if last.upper is None:
        return InShort(
            "Too few values",
            f"{words.periods(last.n)} so far",
            Attention.UNJUDGED,
            MeetsTarget.UNKNOWN,
            None,
        )
    reach, off = _reach(analysis, words), _off_target(analysis, words)
    run = open_question(analysis, words)
    if run is not None:
        side = "above" if run.side is Side.UPPER else "below"
        what = f"Run of {len(run.points)} {side} average"
        mark = RULES[run.rule].mark
        return InShort(what, _since(run.points[0], words), Attention.WAITS, reach, off, mark)
    kept = predictability_of(analysis)
    if kept is not None and not kept.is_predictable:
        more = f"{kept.beyond:,} of {words.periods(kept.count)} beyond limits"
        return InShort("Not predictable", more, Attention.NOT_PREDICTABLE, MeetsTarget.UNKNOWN, off)
    if beside.candidate is not None:
        more = _since(beside.candidate, words)
        return InShort("May have shifted", more, Attention.WAITS, reach, off)
    what = "Steady"
    if len(analysis.segments) > 1:
        what = f"Steady since {words.label(last.start)}"
    return InShort(what, _target(analysis, words, reach), Attention.STEADY, reach, off)


def _since(position: int, words: Words) -> str:
    return f"from {words.label(position)}, not decided yet"


def _reach(analysis: Analysis, words: Words) -> MeetsTarget:
    target, expected = words.wanted(analysis.settings.direction), analysis.expected()
    if target is None or expected.upper is None or expected.lower is None:
        return MeetsTarget.UNKNOWN
    return target.met_between(expected.lower, expected.upper)


def _off_target(analysis: Analysis, words: Words) -> float | None:
    target, last = words.wanted(analysis.settings.direction), analysis.segments[-1]
    if target is None or last.average is None or not last.sigma:
        return None
    below = -np.inf if target.low is None else target.low - last.average
    above = -np.inf if target.high is None else last.average - target.high
    return float(max(below, above) / last.sigma)


def _target(analysis: Analysis, words: Words, reach: MeetsTarget) -> str:
    target = words.wanted(analysis.settings.direction)
    if target is None:
        named = words.segments[-1] if len(analysis.segments) > 1 else ""
        return named or "no target set"
    if reach is MeetsTarget.ALWAYS:
        return f"always meets {words.target_amount}"
    if reach is MeetsTarget.NEVER:
        return f"cannot meet {words.target_amount}"
    included = included_in(analysis, len(analysis.segments) - 1)
    missed = float(1 - target.met_by(analysis.series.values[included]).mean())
    how_often = "most" if missed > 0.5 else "some"
    return f"misses {words.target_amount} {how_often} {words.grain}s"


@dataclass(frozen=True, slots=True)
class Tally:
    """How many KPIs of ``count`` are in each way; one can be in several."""

    count: int
    new: int
    waits: int
    never: int
    steady: int
    not_predictable: int
    late: int


def say_tally(tally: Tally) -> str:
    """Say how all KPIs stand, as the overview opens: what is new first."""
    if not tally.count:
        return ""
    new = _counted(tally.new, "has a new finding", "have new findings")
    rest = [
        _counted(tally.waits, "waits for a decision on a shift", "wait for a decision on a shift"),
        _counted(tally.never, "cannot meet its target", "cannot meet their target"),
        _counted(tally.not_predictable, "is not predictable", "are not predictable"),
        _counted(tally.late, "is late with its data", "are late with their data"),
        _counted(tally.steady, "is steady", "are steady"),
    ]
    said = [part for part in rest if part]
    sentence = f"{new or 'No KPI has a new finding'}."
    if not said:
        return sentence
    joined = ", ".join(part.lower() for part in said[:-1])
    joined = f"{joined}, and {said[-1].lower()}" if joined else said[-1].lower()
    return f"{sentence} {joined[0].upper()}{joined[1:]}."


def _counted(count: int, one: str, many: str) -> str:
    return "" if not count else f"{counted(count)} {one if count == 1 else many}"
