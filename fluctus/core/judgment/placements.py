"""Is a set of periods different, or would as large a difference come wherever in time it lay?

The set is rotated in time by a number of periods, around the dates there are, so that values that
follow each other stay as they are (the circular shift of P. Diggle, *Statistical Analysis of
Spatial and Temporal Point Patterns*, 3rd ed., CRC Press, 2013).
"""

from dataclasses import dataclass
from typing import Final

import numpy as np

from fluctus.core.arrays import Bools, Floats

PLACEMENTS: Final = 2_000
SEED: Final = 1911
BY_CHANCE: Final = 0.05
"""From this share of placements on, chance is explanation enough."""


@dataclass(frozen=True, slots=True)
class Placed:
    """Of ``count`` placements of the set in time, so many differ as much as it does, or more."""

    as_large: int
    count: int

    @property
    def share(self) -> float:
        """From 0 to 1."""
        return self.as_large / self.count


def against_placements(values: Floats, inside: Bools) -> Placed | None:
    """Hold the means in and out of a set of n values in time, both shape (n,), against chance.

    2,000 random rotations, or all where there are fewer. None where one side has no value.
    """
    n, size = len(values), int(inside.sum())
    if size in (0, n):
        return None
    shifts = np.arange(n)
    if n > PLACEMENTS:
        shifts = np.random.default_rng(SEED).integers(0, n, PLACEMENTS)
    off = values - values.mean()
    # The sum of what a rotated set holds, of all rotations at once.
    spectrum = np.fft.rfft(off) * np.conj(np.fft.rfft(inside.astype(np.float64)))
    sums = np.fft.irfft(spectrum, n)
    differences = np.abs(sums * n / (size * (n - size)))
    found = abs(float(off[inside].sum()) * n / (size * (n - size)))
    room = 1e-9 * max(found, float(np.abs(values).max()))
    return Placed(int(np.count_nonzero(differences[shifts] >= found - room)), len(shifts))
