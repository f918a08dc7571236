"""What a signal says, for people: a title and the numbers it was judged by."""

from dataclasses import dataclass

from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import DEFINITIONS, Rule
from fluctus.core.analysis.signals import Signal
from fluctus.core.words.wording import Words


@dataclass(frozen=True, slots=True)
class Explanation:
    """``title`` names the signal, ``text`` gives its numbers."""

    title: str
    text: str


def explain(signal: Signal, words: Words) -> Explanation:
    """Put ``signal`` into words; numbers carry the unit and the KPI's decimals."""
    return Explanation(_title(signal), f"{_numbers(signal, words)}{_judgment(signal)}")


def _title(signal: Signal) -> str:
    count = len(signal.points)
    upper = signal.side is Side.UPPER
    if signal.rule is Rule.OUTSIDE_LIMITS:
        side = "Above the upper limit" if upper else "Below the lower limit"
        return side if count == 1 else f"{side}, {count} in a row"
    if signal.rule is Rule.RANGE_OUTSIDE_LIMIT:
        return "Range above limit" if count == 1 else f"{count} ranges above limit"
    if signal.rule is Rule.RUN:
        return f"Run of {count} {'above' if upper else 'below'} average"
    if signal.rule is Rule.NEAR_LIMIT:
        return f"{count} near the {'upper' if upper else 'lower'} limit"
    if signal.rule is Rule.SIX_TRENDING:
        return f"{count} {'rising' if upper else 'falling'} in a row"
    name = DEFINITIONS[signal.rule].name
    return f"{name}, {'above' if upper else 'below'}" if signal.side is not Side.NEITHER else name


def _numbers(signal: Signal, words: Words) -> str:
    first, last = signal.points[0], signal.points[-1]
    low, high = min(signal.values), max(signal.values)
    spanned = (
        words.amount(low)
        if len(signal.points) == 1
        else f"{words.number(low)} to {words.amount(high)}"
    )
    limit = words.level_amount(signal.level) if signal.level is not None else ""
    if signal.rule is Rule.OUTSIDE_LIMITS:
        side = "upper" if signal.side is Side.UPPER else "lower"
        sigmas = f", {abs(signal.sigmas):.1f} sigma from the average" if signal.sigmas else ""
        return f"{spanned}; the {side} limit is {limit}{sigmas}."
    if signal.rule is Rule.RANGE_OUTSIDE_LIMIT:
        return f"Moved by {spanned} from one value to the next; the range limit is {limit}."
    between = f"{words.label(first)} to {words.label(last)}"
    if signal.rule is Rule.RUN:
        return f"{between}, {spanned}; the average is {limit}."
    if limit:
        side = "above" if signal.side is Side.UPPER else "below"
        return f"{between}, {spanned}; judged by values {side} {limit}."
    return f"{between}, {spanned}; {DEFINITIONS[signal.rule].true_when}."


def _judgment(signal: Signal) -> str:
    if signal.favorable is None:
        return ""
    return " Favorable." if signal.favorable else " Unfavorable."
