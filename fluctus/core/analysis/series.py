"""The values of a KPI, as the computation takes them."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike

from fluctus.core.arrays import Bools, Floats


@dataclass(frozen=True, slots=True, eq=False)
class Series:
    """One value per period, in time order.

    ``values`` has shape (n,), in the KPI's unit; NaN is a missing value.
    ``set_aside`` is None or has shape (n,): True for the values that stay on
    the chart but take no part in any average, range, limit or rule.

    Raises ValueError for other shapes and for infinite values.
    """

    values: Floats
    set_aside: Bools | None = None
    complete: bool = field(init=False)
    """True when no value is missing or set aside."""
    present: Bools = field(init=False)
    """Where there is a value, shape (n,); not to be written to."""
    included: Bools = field(init=False)
    """Where there is a value that is not set aside, shape (n,); not to be written to."""

    def __init__(self, values: ArrayLike, set_aside: ArrayLike | None = None) -> None:
        array = np.ascontiguousarray(values, dtype=np.float64)
        if array.ndim != 1:
            raise ValueError(f"values must have one dimension, not {array.ndim}")
        finite = bool(np.isfinite(array).all())
        if not finite and np.isinf(array).any():
            raise ValueError("values must be finite, or NaN where missing")
        aside = None if set_aside is None else np.asarray(set_aside, dtype=np.bool_)
        if aside is not None and aside.shape != array.shape:
            raise ValueError(f"set_aside has shape {aside.shape}, values {array.shape}")
        if aside is not None and not aside.any():
            aside = None
        object.__setattr__(self, "values", array)
        object.__setattr__(self, "set_aside", aside)
        complete = finite and aside is None
        present = np.ones(len(array), np.bool_) if finite else ~np.isnan(array)
        included = present if aside is None else present & ~aside
        for mask in (present, included):
            mask.setflags(write=False)
        object.__setattr__(self, "complete", complete)
        object.__setattr__(self, "present", present)
        object.__setattr__(self, "included", included)

    def __len__(self) -> int:
        return len(self.values)
