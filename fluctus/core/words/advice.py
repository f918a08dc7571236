"""What a doubt about the values says, for people: what was found, what it means, what to do."""

from dataclasses import dataclass

from fluctus.core.judgment.fitness import Doubt, Fitness
from fluctus.core.words.numbers import percent_of_all
from fluctus.core.words.wording import Words


@dataclass(frozen=True, slots=True)
class Advice:
    """A doubt in words: what was found, what it means, what to do about it."""

    title: str
    text: str
    remedy: str


def advise(doubt: Doubt, words: Words) -> Advice:
    """Put a doubt into words. Long as a table: one doubt after another."""
    number, bound, grain = doubt.number, doubt.bound, words.grain
    match doubt.check:
        case Fitness.FEW_VALUES:
            return Advice(
                "Few values",
                f"{words.periods(int(number))}; limits are firm from {bound:.0f}.",
                "Take the limits as provisional, and look again when more have come.",
            )
        case Fitness.COARSE_STEP:
            return Advice(
                "Coarse steps",
                f"Values move in steps of {words.numbers.value(number)}, larger than their spread "
                f"of {_short(bound)}: the limits are too narrow or too wide.",
                "Measure or record with a finer unit.",
            )
        case Fitness.AUTOCORRELATION if number < 0:
            return Advice(
                "Values swing back and forth",
                f"A {grain} tends to the other side of the last one: their correlation is "
                f"{_short(number)}, beyond {_short(-bound)}. The limits are "
                "then wider than need be.",
                "Look for two sources that take turns, or for a correction after every value.",
            )
        case Fitness.AUTOCORRELATION:
            return Advice(
                "Values depend on the ones before",
                f"Each {grain} is like the last: their correlation is {_short(number)}, beyond "
                f"{_short(bound)}. Runs are then no surprise.",
                f"Look for a drift or a season, or a longer period than a {grain}.",
            )
        case Fitness.INFLATED_LIMITS:
            return Advice(
                "Limits inflated by a few large ranges",
                f"The average moving range is {_short(number)} times what the median one implies; "
                f"up to {bound:.1f} is ordinary.",
                "Take the limits from the median moving range.",
            )
        case Fitness.MISSING_PERIODS:
            return Advice(
                "Periods are missing",
                f"{words.periods(int(number))} between the first and the last "
                f"{'has' if number == 1 else 'have'} no value.",
                "Find out why; a value that is missing is passed over, not taken for zero.",
            )
        case Fitness.MIXED_BREAKDOWNS:
            return Advice(
                "Different things in one chart",
                f"Averages of its breakdowns are {_short(number)} standard errors apart; beyond "
                f"{bound:.0f} they differ.",
                "Look at each breakdown by itself.",
            )
        case Fitness.RUNNING_TOTAL:
            return Advice(
                "A running total",
                f"{percent_of_all(number)} of the values rise or stay, and they go a long way.",
                "Bring the values in as differences between readings.",
            )
        case Fitness.MANY_SET_ASIDE:
            return Advice(
                "Many values set aside",
                f"{percent_of_all(number)} of the values take no part; "
                "a tenth at most is ordinary.",
                "What happens this often is part of the process: put some back.",
            )


def _short(number: float) -> str:
    return f"{number:.2f}".replace("-", "\N{MINUS SIGN}")
