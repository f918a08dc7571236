"""Do the parts of one KPI differ by more than chance explains?

The average of each part is held against the average of all, with the limits that averages of
so many values keep to where all parts are one process. The spread is that within the parts, by
their moving ranges: E. R. Ott, "Analysis of Means", *Industrial Quality Control* 24 (1967)
101-109, with the spread of D. J. Wheeler, *Understanding Variation* (SPC Press, 1993).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.limits import FACTORS
from fluctus.core.analysis.settings import Spread
from fluctus.core.arrays import Floats

FEWEST: Final = 5
"""A part with fewer values is left out."""


@dataclass(frozen=True, slots=True)
class PartJudgment:
    """A part of ``n`` values beside all: its average, and what chance leaves room for."""

    n: int
    average: float
    lower: float
    upper: float

    @property
    def side(self) -> Side:
        """Where its average is beyond what chance explains; NEITHER where it is not."""
        if self.average > self.upper:
            return Side.UPPER
        return Side.LOWER if self.average < self.lower else Side.NEITHER


@dataclass(frozen=True, slots=True)
class PartsCompared:
    """The parts that can be judged, beside the average of all their values.

    ``parts`` has one for each part that was given, None where it has too few values.
    ``mean_range`` is the average of the parts' average moving ranges.
    """

    average: float
    mean_range: float
    parts: tuple[PartJudgment | None, ...]


def compare_parts(values: Sequence[Floats], ranges: Sequence[Floats]) -> PartsCompared | None:
    """Hold each part against all: average of all ± 2.660 x mean range / sqrt(n of the part).

    ``values`` has those of each part, shape (n,); ``ranges`` the moving ranges between them,
    shape (m,). None where fewer than two parts have enough of both.
    """
    judged = [
        part for part in range(len(values)) if len(values[part]) >= FEWEST and len(ranges[part]) > 0
    ]
    if len(judged) < 2:
        return None
    average = float(np.concatenate([values[part] for part in judged]).mean())
    mean_range = float(np.mean([ranges[part].mean() for part in judged]))
    factor, _ = FACTORS[Spread.MEAN_RANGE]
    judgments: list[PartJudgment | None] = [None] * len(values)
    for part in judged:
        n = len(values[part])
        room = factor * mean_range / np.sqrt(n)
        judgments[part] = PartJudgment(
            n, float(values[part].mean()), float(average - room), float(average + room)
        )
    return PartsCompared(average, mean_range, tuple(judgments))
