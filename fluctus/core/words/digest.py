"""What to know of a chart in one short line and a quieter second one, for lists of many."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import RULES, Mark
from fluctus.core.analysis.signals import Signal
from fluctus.core.context.target import MeetsTarget
from fluctus.core.judgment.nature import Nature, nature_of
from fluctus.core.judgment.verdict import Leads, Verdict
from fluctus.core.words.claims import run_after, say_place
from fluctus.core.words.outlook import expected_to_meet, meets_in_cycle
from fluctus.core.words.wording import Words, counted


class Attention(StrEnum):
    """How a process stands, as lists sort it."""

    STEADY = "steady"
    WAITS = "waits"
    """For a decision: on a shift, on a pattern that limits could follow, on a value far off."""
    OUT = "out"
    """Its newest values are beyond a limit."""
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


def in_short(analysis: Analysis, words: Words, verdict: Verdict, pattern: str) -> InShort:
    """Say what to know of a chart, about its last segment: what waits, or how it stands.

    ``pattern`` names what limits are offered to follow.
    """
    last = analysis.segments[-1]
    if last.average is None:
        return InShort("No values yet", "", Attention.UNJUDGED, MeetsTarget.UNKNOWN, None)
    kind = Nature.HOLDS if analysis.settings.holds else nature_of(analysis.series)
    if kind is not None:
        return InShort(UNJUDGED[kind], "", Attention.UNJUDGED, MeetsTarget.UNKNOWN, None)
    off = _off_target(analysis, words)
    if last.upper is None:
        more = f"{words.periods(last.n)} so far"
        return InShort("Too few values", more, Attention.UNJUDGED, MeetsTarget.UNKNOWN, None)
    reach = _reach(analysis, words) if verdict.tells_ahead else MeetsTarget.UNKNOWN
    what, more, attention, run = _what_leads(analysis, words, verdict, pattern)
    if not what:
        since = f" since {words.label(last.start)}" if len(analysis.segments) > 1 else ""
        what, attention = f"Steady{since}", Attention.STEADY
        more = more or _target(analysis, words, reach)
    return InShort(what, more, attention, reach, off, RULES[run.rule].mark if run else None)


def _what_leads(
    analysis: Analysis, words: Words, verdict: Verdict, pattern: str
) -> tuple[str, str, Attention, Signal | None]:
    """Return what leads as in the sentence, with the run that shows it; "" where nothing does."""
    kept, change = verdict.kept, verdict.change
    beyond = f"{kept.beyond:,} of {words.periods(kept.count)} beyond limits" if kept else ""
    match verdict.leads:
        case Leads.FAR_OFF:
            assert verdict.far_off is not None, "that is what leads"
            newest = verdict.far_off.positions[-1]
            value = words.numbers.amount(float(analysis.series.values[newest]))
            more = f"{value} {words.preposition} {words.label(newest)}: is it right?"
            return "A value far off", more, Attention.WAITS, None
        case Leads.CHANGE:
            assert change is not None, "that is what leads"
            run = run_after(analysis, change)
            what = "Something changed" if run is None else _run(run)
            changed = "" if run is None else "changed "
            more = f"{changed}{say_place(change, words)}, not decided yet"
            return what, more, Attention.WAITS, run
        case Leads.PATTERN:
            assert verdict.offered is not None, "that is what leads"
            more = f"{beyond}, {verdict.offered.after:,} would remain"
            return f"Follows {pattern}", more, Attention.WAITS, None
        case Leads.NOT_PREDICTABLE:
            return "Not predictable", beyond, Attention.NOT_PREDICTABLE, None
        case Leads.OUT_NOW:
            assert verdict.out_now is not None, "that is what leads"
            out = verdict.out_now
            side = "Above the upper" if out.side is Side.UPPER else "Below the lower"
            since = words.label(out.first)
            more = f"{words.preposition} {since}" if out.count == 1 else f"since {since}"
            return f"{side} limit", more, Attention.OUT, None
        case Leads.RUN:
            assert verdict.run is not None, "that is what leads"
            return _run(verdict.run), "no evidence that it changed", Attention.STEADY, verdict.run
        case Leads.LEVEL:
            return "", "", Attention.STEADY, None


def _run(run: Signal) -> str:
    side = "above" if run.side is Side.UPPER else "below"
    return f"Run of {len(run.points)} {side} average"


def _reach(analysis: Analysis, words: Words) -> MeetsTarget:
    target = words.wanted(analysis.settings.direction)
    if target is None:
        return MeetsTarget.UNKNOWN
    in_cycle = set(meets_in_cycle(analysis, target))
    if in_cycle:
        return in_cycle.pop() if len(in_cycle) == 1 else MeetsTarget.SOMETIMES
    return expected_to_meet(analysis, target)


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
    if reach is MeetsTarget.UNKNOWN:
        return ""
    if reach is MeetsTarget.ALWAYS:
        return f"always meets {words.target_amount}"
    if reach is MeetsTarget.NEVER:
        return f"cannot meet {words.target_amount}"
    included = analysis.included_in(len(analysis.segments) - 1)
    missed = int((~target.met_by(analysis.series.values[included])).sum())
    return f"missed {words.target_amount} in {missed:,} of {words.periods(len(included))}"


@dataclass(frozen=True, slots=True)
class Tally:
    """How many KPIs of ``count`` are in each way; one can be in several."""

    count: int
    new: int
    waits: int
    out: int
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
        _counted(tally.waits, "waits for a decision", "wait for a decision"),
        _counted(tally.out, "is beyond its limits now", "are beyond their limits now"),
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


def _counted(count: int, singular: str, plural: str) -> str:
    return "" if not count else f"{counted(count)} {singular if count == 1 else plural}"
