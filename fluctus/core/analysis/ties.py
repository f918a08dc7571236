"""Strict comparisons in which a tie is never a signal.

Decimal data give sums that miss a tie by a rounding error: 0.1 + 0.2 is not
0.3. Two numbers are tied when they differ by at most ``TIE_TOLERANCE`` times
the larger magnitude of the two. Instead of testing that for each value, the
level compared with is moved by the tolerance once, which is the same thing.
"""

import numpy as np

from fluctus.core.analysis.constants import TIE_TOLERANCE
from fluctus.core.arrays import Bools, Floats


def just_above(levels: Floats) -> Floats:
    """Return thresholds t such that ``x > t`` means x is above the level and not tied with it."""
    return np.where(levels > 0, levels / (1 - TIE_TOLERANCE), levels * (1 - TIE_TOLERANCE))


def just_below(levels: Floats) -> Floats:
    """Return thresholds t such that ``x < t`` means x is below the level and not tied with it."""
    return -just_above(-levels)


def varies(values: Floats) -> bool:
    """Tell whether values, shape (n,), differ by more than a tie: else by rounding alone."""
    return bool(np.ptp(values) > TIE_TOLERANCE * np.abs(values).max())


def differs(differences: Floats, a: Floats, b: Floats) -> Bools:
    """Tell where ``differences`` (shape n, = a - b) is more than a tie between ``a`` and ``b``."""
    return np.abs(differences) > TIE_TOLERANCE * np.maximum(np.abs(a), np.abs(b))
