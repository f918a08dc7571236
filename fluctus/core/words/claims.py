"""What leads in the sentence on a chart, each claim in words: only what there is evidence of."""

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.signals import Signal
from fluctus.core.judgment.candidates import Change
from fluctus.core.judgment.verdict import (
    Because,
    FarOff,
    Offered,
    OutNow,
    Verdict,
    newest_run,
)
from fluctus.core.words.numbers import roughly
from fluctus.core.words.wording import Words, counted

WIDE = 4
"""A change that lies within more periods than this is told by the range."""
AT_LEAST_TIMES = 2.0

BY_CHANCE = {
    Because.UNEVEN: "values as uneven as these do so by chance",
    Because.FOLLOWING: "values that follow the ones before, as these do, do so by chance",
    Because.SHORT: "that alone is no evidence that something changed",
}


def say_place(change: Change, words: Words) -> str:
    """Say when a change was: ``around 2 March``, or between two periods where that is wide."""
    if change.last - change.first > WIDE:
        return f"between {words.label(change.first)} and {words.label(change.last)}"
    return f"around {words.label(change.position)}"


def say_change(analysis: Analysis, verdict: Verdict, words: Words) -> str:
    """Say that something changed, after what shows it best."""
    change = verdict.change
    assert change is not None, "the caller has seen that there is one"
    changed = f"Something changed {say_place(change, words)}."
    if verdict.out_now is not None and verdict.out_now.first >= change.first:
        out = say_out_now(verdict.out_now, analysis, words)
        return f"{words.name}: {out}. {changed}"
    run = run_after(analysis, change)
    if run is not None:
        return f"{_run(run, analysis, words)}. {changed}"
    before, after = levels_around(analysis, verdict, change)
    numbers = words.numbers
    return (
        f"{words.name} went from {numbers.level(before)} to {numbers.level_amount(after)} on "
        f"average. {changed}"
    )


def run_after(analysis: Analysis, change: Change) -> Signal | None:
    """Return the run that goes on to the last value, where it began with a change."""
    run = newest_run(analysis)
    if run is None:
        return None
    included = analysis.included_in(run.segment)
    lasts = run.points[-1] == included[-1]
    begins = change.first <= run.points[-1] and run.points[0] <= change.last
    return run if lasts and begins else None


def levels_around(analysis: Analysis, verdict: Verdict, change: Change) -> tuple[float, float]:
    """Return the averages between the change before and this one, and from this one on."""
    included = analysis.included_in(len(analysis.segments) - 1)
    earlier = [other.position for other in verdict.changes if other.position < change.position]
    since = max(earlier, default=int(included[0]))
    values = analysis.series.values
    before = included[(included >= since) & (included < change.position)]
    after = included[included >= change.position]
    return float(values[before].mean()), float(values[after].mean())


def say_run(run: Signal, because: Because, analysis: Analysis, words: Words) -> str:
    """Say what a run without evidence of a change is."""
    return f"{_run(run, analysis, words)}; {BY_CHANCE[because]}."


def _run(run: Signal, analysis: Analysis, words: Words) -> str:
    side = "above" if run.side is Side.UPPER else "below"
    included = analysis.included_in(len(analysis.segments) - 1)
    verb = "sit" if run.points[-1] == included[-1] else "sat"
    return (
        f"{counted(len(run.points))} {words.grain}s in a row {verb} {side} the average of "
        f"{words.numbers.level_amount(run.centre)}"
    )


def say_out_now(out: OutNow, analysis: Analysis, words: Words) -> str:
    """Say that the newest values are beyond a limit: ``the last week, 27.3 min, is above ...``."""
    upper = out.side is Side.UPPER
    lines = analysis.lines()
    positions = analysis.included_in(len(analysis.segments) - 1)
    newest = int(positions[-1])
    value = float(analysis.series.values[newest])
    limit = float((lines.upper if upper else lines.lower)[newest])
    side, edge = ("above", "upper") if upper else ("below", "lower")
    at = f"the {edge} limit of {words.numbers.level_apart(limit, value)}"
    if out.count == 1:
        return f"the last {words.grain}, {words.numbers.amount(value)}, is {side} {at}"
    if analysis.followed is not None:
        at = f"their {edge} limits"
    return f"the last {counted(out.count).lower()} {words.grain}s are {side} {at}"


def say_far_off(far: FarOff, analysis: Analysis, words: Words) -> tuple[str, str]:
    """Ask about values far off: the newest by itself, others counted."""
    newest = far.positions[-1]
    value = float(analysis.series.values[newest])
    times = value / far.middle if far.middle else 0.0
    told = f"{words.numbers.amount(value)} {words.preposition} {words.label(newest)}"
    others = len(far.positions) - 1
    if others:
        told += f" and {counted(others).lower()} other value{'' if others == 1 else 's'}"
    if times >= AT_LEAST_TIMES and not others and analysis.followed is None:
        headline = f"{words.name}: {told} is some {roughly(times)} times the others."
    else:
        low, high = words.numbers.value(far.low), words.numbers.amount(far.high)
        between = "" if analysis.followed is not None else f", which lie between {low} and {high}"
        headline = f"{words.name}: {told} {'are' if others else 'is'} far off the others{between}."
    them = "they are" if others else "it is"
    it = "them" if others else "it"
    return headline, f"Mend {it}, set {it} aside, or say that {them} right: limits rest on {it}."


def say_not_predictable(analysis: Analysis, verdict: Verdict, words: Words) -> str:
    """Say how many values were beyond limits that do not hold, and what would explain it."""
    kept = verdict.kept
    assert kept is not None, "the caller has seen that it was judged"
    were = "was" if kept.beyond == 1 else "were"
    text = (
        f"{words.name}: not predictable, {kept.beyond:,} of the {words.periods(kept.count)} "
        f"{were} beyond the limits"
    )
    without = verdict.without_right
    if without is not None and without.is_predictable:
        value = float(analysis.series.values[verdict.right[-1]])
        them = (
            f"{words.numbers.amount(value)} {words.preposition} {words.label(verdict.right[-1])}"
            if len(verdict.right) == 1
            else f"{counted(len(verdict.right)).lower()} values far off"
        )
        return f"{words.name}: but for {them} it keeps to its limits."
    if verdict.out_now is None:
        return f"{text}."
    now = "the last one" if verdict.out_now.count == 1 else f"the last {verdict.out_now.count:,}"
    return f"{text}, {now} among them." if kept.beyond > verdict.out_now.count else f"{text}."


def say_follows(offered: Offered, pattern: str, words: Words) -> str:
    """Say what a process follows that breaks its limits, and what would be left."""
    return f"{words.name}: follows {pattern}; {_would_remain(offered, words)}."


def say_offer(verdict: Verdict, pattern: str, words: Words) -> str:
    """Offer what limits could follow, with what would be left beyond them."""
    offered = verdict.offered
    if offered is None or not pattern:
        return ""
    if not offered.before:
        return f"It follows {pattern}; let the limits follow it."
    return f"It follows {pattern}: {_would_remain(offered, words)} if the limits followed it."


def _would_remain(offered: Offered, words: Words) -> str:
    remain = f"{offered.after:,}" if offered.after else "none"
    return f"of {words.periods(offered.before)} beyond the limits, {remain} would remain"


def say_what_limits_rest_on(analysis: Analysis, change: Change, words: Words) -> str:
    """Say which values the limits rest on still, and from where they would be recalculated."""
    last, chosen = analysis.segments[-1], analysis.settings.segments[-1]
    included = analysis.included_in(len(analysis.segments) - 1)
    start = chosen.window[0] if chosen.window is not None else last.start
    first = int(included[np.searchsorted(included, start)])
    return (
        f"Limits still rest on {words.periods(last.n)} from {words.label(first)}. "
        f"If the process has shifted, recalculate from {words.label(change.position)}."
    )
