"""How the computation puts numbers and periods into words."""

from collections.abc import Callable
from dataclasses import dataclass

NBSP = "\N{NO-BREAK SPACE}"

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

    def number(self, value: float) -> str:
        """Write a value with the KPI's decimals: ``1,234.5``."""
        text = f"{abs(value):,.{self.decimals}f}"
        negative = value < 0 and text.strip("0.,") != ""
        return f"\N{MINUS SIGN}{text}" if negative else text

    def amount(self, value: float) -> str:
        """Write a value with its unit: ``19.4 min``."""
        return f"{self.number(value)}{NBSP}{self.unit}" if self.unit else self.number(value)

    def periods(self, count: int) -> str:
        """Count periods of the grain: ``1 week``, ``12 weeks``."""
        return f"{count:,} {self.grain if count == 1 else self.grain + 's'}"


def counted(count: int) -> str:
    """Write a count at the start of a sentence: ``Ten``, ``13``."""
    return SMALL_NUMBERS[count] if count < len(SMALL_NUMBERS) else f"{count:,}"
