"""The choices that an analysis depends on, besides the values."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from fluctus.core.analysis.rules import CORE_RULES, DEFAULT_RUN_LENGTH, RUN_LENGTHS, Rule
from fluctus.core.arrays import Ints


class Centre(StrEnum):
    """What the central line is computed as."""

    MEAN = "mean"
    MEDIAN = "median"


class Spread(StrEnum):
    """What the distance of the limits from the centre is computed from."""

    MEAN_RANGE = "mean_range"
    MEDIAN_RANGE = "median_range"


class Direction(StrEnum):
    """Which way the KPI is wanted to go."""

    HIGHER = "higher"
    LOWER = "lower"
    NEITHER = "neither"


class Pattern(StrEnum):
    """What the limits of a segment follow."""

    LEVEL = "level"
    TREND = "trend"
    SEASON = "season"


@dataclass(frozen=True, slots=True, eq=False)
class Season:
    """Where in a cycle of ``length`` places each of n values is.

    ``places`` (n,) are from 0 to ``length`` - 1, such as the day of the week;
    ``cycles`` (n,) number the cycles, such as the weeks. ``following`` is the
    place of the period after the last value.
    """

    places: Ints
    cycles: Ints
    length: int
    following: int


@dataclass(frozen=True, slots=True)
class SegmentSettings:
    """Where a segment begins and what its limits come from.

    ``start`` is a position in the series. ``window`` is a half-open range of
    positions, [first, last + 1), inside the segment; None takes all of it.
    A pattern of a season brings the season.
    """

    start: int = 0
    window: tuple[int, int] | None = None
    centre: Centre = Centre.MEAN
    spread: Spread = Spread.MEAN_RANGE
    pattern: Pattern = Pattern.LEVEL
    season: Season | None = None

    def __post_init__(self) -> None:
        if (self.pattern is Pattern.SEASON) is (self.season is None):
            raise ValueError("a season goes with seasonal limits, and with no others")


@dataclass(frozen=True, slots=True)
class Settings:
    """Settings of one analysis.

    ``segments`` are in order and the first one starts at 0. ``floor`` and
    ``ceiling`` are natural bounds in the KPI's unit. Raises ValueError when
    these do not hold, and for a run length other than 7, 8 or 9.
    """

    segments: tuple[SegmentSettings, ...] = (SegmentSettings(),)
    rules: frozenset[Rule] = CORE_RULES
    run_length: int = DEFAULT_RUN_LENGTH
    floor: float | None = None
    ceiling: float | None = None
    direction: Direction = Direction.NEITHER
    holds: bool = False
    """Whether a value stays the same until somebody changes it: then there are no limits."""

    def __post_init__(self) -> None:
        starts = [segment.start for segment in self.segments]
        if not starts or starts[0] != 0:
            raise ValueError("the first segment must start at position 0")
        if any(b <= a for a, b in pairwise(starts)):
            raise ValueError("segments must start at different positions, in order")
        if self.run_length not in RUN_LENGTHS:
            raise ValueError(f"the run length must be one of {RUN_LENGTHS}, not {self.run_length}")
        if self.floor is not None and self.ceiling is not None and self.floor >= self.ceiling:
            raise ValueError("the floor must be below the ceiling")
