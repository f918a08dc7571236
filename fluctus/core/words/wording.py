"""How the computation puts counts and periods into words."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from fluctus.core.analysis.settings import Direction
from fluctus.core.context.target import Target, target_of
from fluctus.core.words.numbers import NumberStyle

SMALL_NUMBERS = (
    "Zero",
    "One",
    "Two",
    "Three",
    "Four",
    "Five",
    "Six",
    "Seven",
    "Eight",
    "Nine",
    "Ten",
    "Eleven",
    "Twelve",
)


@dataclass(frozen=True, slots=True)
class Words:
    """What the sentence and the signals are said with.

    ``label`` names the period at a position, ``grain`` is "week" and the like,
    ``segments`` are the names of the segments, empty where one has none.
    """

    name: str
    numbers: NumberStyle
    grain: str
    label: Callable[[int], str]
    segments: tuple[str, ...] = ("",)
    target: float | None = None
    target_high: float | None = None
    """The high side, where the target is a range; ``target`` is then its low side."""
    places: tuple[str, ...] = ()
    """The places of the season that the last segment follows, by name."""
    places_preposition: str = "in"
    ahead: Callable[[int], str] | None = None
    """Names the period so many after the last one."""
    settled: frozenset[int] = frozenset()
    """Positions at which a person has decided that the process has not shifted."""

    def wanted(self, direction: Direction) -> Target | None:
        """Return the target that values are judged by."""
        return target_of(self.target, self.target_high, direction)

    @property
    def target_amount(self) -> str:
        """The target as text, ``20.0 min`` or ``18.0 to 22.0 min``; empty without one."""
        if self.target is None:
            return ""
        if self.target_high is None:
            return self.numbers.amount(self.target)
        return f"{self.numbers.value(self.target)} to {self.numbers.amount(self.target_high)}"

    @property
    def preposition(self) -> str:
        """What stands before a period: ``on`` 18 May, ``in`` May 2026."""
        return "in" if self.grain in ("month", "quarter", "year") else "on"

    def periods(self, count: int) -> str:
        """Count periods of the grain: ``1 week``, ``12 weeks``."""
        return f"{count:,} {self.grain if count == 1 else self.grain + 's'}"


def counted(count: int) -> str:
    """Write a count at the start of a sentence: ``Ten``, ``13``."""
    return SMALL_NUMBERS[count] if count < len(SMALL_NUMBERS) else f"{count:,}"


def in_a_row(parts: Sequence[str]) -> str:
    """Join what is named one after the other: ``a, b and c``."""
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} and {parts[-1]}"
