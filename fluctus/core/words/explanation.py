"""What a signal says, for people: a title and the numbers it was judged by."""

from dataclasses import dataclass

from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.rules import RULES, Judges, Rule
from fluctus.core.analysis.signals import Signal
from fluctus.core.words.numbers import singular
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
    rule, count = RULES[signal.rule], len(signal.points)
    upper = signal.side is Side.UPPER
    template = rule.single if count == 1 and rule.single else rule.title
    return template.format(
        count=count,
        Side="Above" if upper else "Below",
        side="above" if upper else "below",
        edge="upper" if upper else "lower",
        way="rising" if upper else "falling",
    )


def _numbers(signal: Signal, words: Words) -> str:
    first, last = signal.points[0], signal.points[-1]
    low, high = min(signal.values), max(signal.values)
    spanned = (
        words.numbers.amount(low)
        if len(signal.points) == 1
        else f"{words.numbers.value(low)} to {words.numbers.amount(high)}"
    )
    limit = ""
    if signal.level is not None:
        nearest = min(signal.values, key=lambda value: abs(value - (signal.level or 0.0)))
        limit = words.numbers.level_apart(signal.level, nearest)
    if signal.rule is Rule.OUTSIDE_LIMITS:
        side = "upper" if signal.side is Side.UPPER else "lower"
        sigmas = f", {abs(signal.sigmas):.1f} sigma from the average" if signal.sigmas else ""
        return f"{spanned}; the {side} limit is {limit}{sigmas}."
    if RULES[signal.rule].judges is Judges.RANGES:
        return f"Moved by {spanned} from one value to the next; the range limit is {limit}."
    between = f"{words.label(first)} to {words.label(last)}"
    if signal.rule is Rule.RUN and low == high:
        each = words.numbers.amount(low)
        one = singular(words.numbers.unit)
        # Of what is counted: no accident on 8 days in a row.
        none = f"no {one}" if low == 0 and one != words.numbers.unit else f"{each} each"
        row = f"{words.preposition} {words.periods(len(signal.points))} in a row"
        return f"{between}, {none} {row}; the average is {limit}."
    if signal.rule is Rule.RUN:
        return f"{between}, {spanned}; the average is {limit}."
    if limit:
        side = "above" if signal.side is Side.UPPER else "below"
        return f"{between}, {spanned}; {RULES[signal.rule].true_when}: here, {side} {limit}."
    return f"{between}, {spanned}; {RULES[signal.rule].true_when}."


def _judgment(signal: Signal) -> str:
    if signal.favorable is None:
        return ""
    return " Favorable." if signal.favorable else " Unfavorable."
