"""The computation of process behavior charts: NumPy in, frozen dataclasses out.

>>> from fluctus.core import Series, Settings, analyse
>>> chart = analyse(Series([5, 6, 5, 7, 6, 5, 6]), Settings(floor=0))
>>> round(chart.segments[0].upper, 3)
9.263

No Django, no files, no clock, no network. docs/definitions.md says what each
number is.
"""

from fluctus.core.analysis.analyse import Analyses, Analysis, Segment, analyse, analyse_many
from fluctus.core.analysis.finders import Side
from fluctus.core.analysis.limits import Firmness
from fluctus.core.analysis.patterns import UnfitPatternError
from fluctus.core.analysis.rules import CORE_RULES, EXTENDED_RULES, RULES, RUN_LENGTHS, Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import (
    Centre,
    Direction,
    Pattern,
    Season,
    SegmentSettings,
    Settings,
    Spread,
)
from fluctus.core.analysis.signals import Signal, Signals
from fluctus.core.shaping.aggregation import Aggregation, Parts, aggregate, coarser
from fluctus.core.shaping.made_from import MadeFrom
from fluctus.core.shaping.running_totals import Drop, differences, is_running_total, was_reset

__all__ = [
    "CORE_RULES",
    "EXTENDED_RULES",
    "RULES",
    "RUN_LENGTHS",
    "Aggregation",
    "Analyses",
    "Analysis",
    "Centre",
    "Direction",
    "Drop",
    "Firmness",
    "MadeFrom",
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
    "was_reset",
]
