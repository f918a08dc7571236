"""From series and settings to limits and signals: the one way into the computation.

What others use of it is named here, and reached from here alone.
"""

from fluctus.core.analysis.constants import MIN_VALUES_FOR_FIRM_LIMITS, MIN_VALUES_FOR_LIMITS
from fluctus.core.analysis.limits import FACTORS
from fluctus.core.analysis.rules import DEFAULT_RUN_LENGTH, RULES, Against, Judges, Mark, Rule

__all__ = [
    "DEFAULT_RUN_LENGTH",
    "FACTORS",
    "MIN_VALUES_FOR_FIRM_LIMITS",
    "MIN_VALUES_FOR_LIMITS",
    "RULES",
    "Against",
    "Judges",
    "Mark",
    "Rule",
]
