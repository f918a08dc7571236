"""The computation of process behavior charts: NumPy in, frozen dataclasses out.

>>> from fluctus.core import Series, Settings, analyse
>>> chart = analyse(Series([5, 6, 5, 7, 6, 5, 6]), Settings(floor=0))
>>> round(chart.segments[0].upper, 3)
9.263

No Django, no files, no clock, no network. docs/definitions.md says what each
number is.
"""

from fluctus.core.aggregation import Aggregation, Parts, aggregate, coarser
from fluctus.core.analysis import Analyses, Analysis, Segment, analyse, analyse_many
from fluctus.core.derivation import Drop, differences, is_running_total
from fluctus.core.detection import Side
from fluctus.core.limits import Firmness
from fluctus.core.patterns import UnfitPatternError
from fluctus.core.rules import CORE_RULES, DEFINITIONS, EXTENDED_RULES, RUN_LENGTHS, Rule
from fluctus.core.series import Series
from fluctus.core.settings import (
    Centre,
    Direction,
    Pattern,
    Season,
    SegmentSettings,
    Settings,
    Spread,
)
from fluctus.core.signals import Signal, Signals

__all__ = [
    "CORE_RULES",
    "DEFINITIONS",
    "EXTENDED_RULES",
    "RUN_LENGTHS",
    "Aggregation",
    "Analyses",
    "Analysis",
    "Centre",
    "Direction",
    "Drop",
    "Firmness",
    "Parts",
    "Pattern",
    "Rule",
    "Season",
    "Segment",
    "SegmentSettings",
    "Series",
    "Settings",
    "Side",
    "Signal",
    "Signals",
    "Spread",
    "UnfitPatternError",
    "aggregate",
    "analyse",
    "analyse_many",
    "coarser",
    "differences",
    "is_running_total",
]
