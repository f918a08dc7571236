"""How the computation puts numbers and periods into words."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Context, Decimal

NBSP = "\N{NO-BREAK SPACE}"

EVERY_DIGIT = Context(prec=400)
"""Room for all digits of the largest double."""
SMALL_NUMBERS = (
    "Zero", "One", "Two", "Three", "Four", "Five", "Six",
    "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Words:
    """What the sentence and the signals are said with.

    ``label`` names the period at a position, ``grain`` is "week" and the like,
    ``segments`` are the names of the segments, empty where one has none.
    """

    name: str
    unit: str
    decimals: int
    grain: str
    label: Callable[[int], str]
    segments: tuple[str, ...] = ("",)
    target: float | None = None
    settled: frozenset[int] = frozenset()
    """Positions at which a person has decided that the process has not shifted."""

    def number(self, value: float) -> str:
        """Write a value with the KPI's decimals: ``1,234.5``."""
        return write_number(value, self.decimals)

    def amount(self, value: float) -> str:
        """Write a value with its unit: ``19.4 min``."""
        return self._with_unit(self.number(value))

    def level(self, value: float) -> str:
        """Write an average, a limit or a distance of levels, without the unit."""
        return write_number(value, level_decimals(self.decimals))

    def level_amount(self, value: float) -> str:
        """Write an average, a limit or a distance of levels with its unit."""
        return self._with_unit(self.level(value))

    def small_amount(self, value: float) -> str:
        """Write a rate with its unit and two digits that say something: ``0.045 s``."""
        size = 0 if value == 0 else -math.floor(math.log10(abs(value))) + 1
        return self._with_unit(write_number(value, max(level_decimals(self.decimals), size)))

    def _with_unit(self, number: str) -> str:
        return f"{number}{NBSP}{self.unit}" if self.unit else number

    @property
    def preposition(self) -> str:
        """What stands before a period: ``on`` 18 May, ``in`` May 2026."""
        return "in" if self.grain in ("month", "quarter", "year") else "on"

    def periods(self, count: int) -> str:
        """Count periods of the grain: ``1 week``, ``12 weeks``."""
        return f"{count:,} {self.grain if count == 1 else self.grain + 's'}"


def level_decimals(decimals: int) -> int:
    """Return the decimals of averages and limits: those of the KPI, but at least one.

    Whole numbers have averages between them: 2.7 stops a week is not 3.
    """
    return max(1, decimals)


def rounded(value: float, decimals: int) -> Decimal:
    """Round as people do, 321.25 to 321.3, and as a browser writes the same number."""
    return Decimal(repr(value)).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP, EVERY_DIGIT)


def write_number(value: float, decimals: int) -> str:
    """Write a number for people: ``1,234.5``, with a true minus sign and never one before 0."""
    text = f"{rounded(abs(value), decimals):,f}"
    negative = value < 0 and text.strip("0.,") != ""
    return f"\N{MINUS SIGN}{text}" if negative else text


def percent(ratio: float) -> str:
    """Write a ratio: ``94 %`` for 0.94."""
    return f"{rounded(ratio * 100, 0):,f}{NBSP}%"


def percent_of_all(share: float) -> str:
    """Write a share from 0 to 1, where what is short of all is never ``100 %``, nor some none."""
    if 0 < share < 0.005:
        return f"under 1{NBSP}%"
    return f"over 99{NBSP}%" if 0.995 <= share < 1 else percent(share)


def counted(count: int) -> str:
    """Write a count at the start of a sentence: ``Ten``, ``13``."""
    return SMALL_NUMBERS[count] if count < len(SMALL_NUMBERS) else f"{count:,}"
