"""The numbers of any selection of values."""

from collections import Counter
from dataclasses import dataclass

import numpy as np

from fluctus.core.arrays import Bools, Floats


@dataclass(frozen=True, slots=True)
class Summary:
    """The values of a selection, in the KPI's unit; None where there are too few.

    ``modes`` are all the most frequent values, empty where none is repeated. ``deviation`` is the
    sample standard deviation (n - 1); the quartiles interpolate linearly between order
    statistics. ``change`` is the last value less the first. ``mean_range`` is the mean of the
    moving ranges between values of the selection.
    """

    n: int
    total: float | None
    mean: float | None
    median: float | None
    modes: tuple[float, ...]
    minimum: float | None
    maximum: float | None
    range: float | None
    deviation: float | None
    lower_quartile: float | None
    upper_quartile: float | None
    first: float | None
    last: float | None
    change: float | None
    mean_range: float | None
    share_meeting_target: float | None


NO_VALUES = Summary(
    0,
    None,
    None,
    None,
    (),
    None,
    None,
    None,
    None,
    None,
    None,
    None,
    None,
    None,
    None,
    None,
)


def summarise_values(values: Floats, ranges: Floats, meets: Bools | None = None) -> Summary:
    """Summarise included values, shape (n,) in order of time.

    ``ranges`` are the moving ranges between them, shape (m,). ``meets`` (n,) tells which meet the
    target, None where there is none.
    """
    if len(values) == 0:
        return NO_VALUES
    counts = Counter(values.tolist())
    most = max(counts.values())
    modes = sorted(value for value, count in counts.items() if count == most and most > 1)
    low, high = float(values.min()), float(values.max())
    lower, upper = (float(quartile) for quartile in np.percentile(values, (25, 75)))
    return Summary(
        n=len(values),
        total=float(values.sum()),
        mean=float(values.mean()),
        median=float(np.median(values)),
        modes=tuple(modes),
        minimum=low,
        maximum=high,
        range=high - low,
        deviation=float(values.std(ddof=1)) if len(values) > 1 else None,
        lower_quartile=lower,
        upper_quartile=upper,
        first=float(values[0]),
        last=float(values[-1]),
        change=float(values[-1] - values[0]),
        mean_range=float(ranges.mean()) if len(ranges) else None,
        share_meeting_target=None if meets is None else float(meets.mean()),
    )
