"""Least squares on columns and on the places of a season, with what follows taken out first.

A place is a column of zeros and ones, of which there may be many: what is solved are the normal
equations, whose sums are counted and not multiplied out, and once more for what the first solution
left. That is as exact as an orthogonal decomposition of all columns, and many times faster.

Sources: D. Cochrane and G. H. Orcutt, *JASA* 44 (1949) 32-61, for first-order autocorrelation taken
out of both sides; Å. Björck, *Numerical Methods for Least Squares Problems* (SIAM, 1996), §2.9, for
the second solution.
"""

from dataclasses import dataclass

import numpy as np

from fluctus.core.arrays import Floats, Ints


def _innovations(each: Floats, following: float | None) -> Floats:
    """Take so much of each row away from the one after it: (n, …) to (n - 1, …); None: as it is."""
    return each if following is None else np.asarray(each[1:] - following * each[:-1])


@dataclass(frozen=True, slots=True, eq=False)
class Design:
    """What values (n,) are explained by: ``columns`` (n, q), and the ``places`` (n,) if any.

    Places are from 0 up to ``length``. They sum to a constant, which is then none of the columns.
    """

    columns: Floats
    places: Ints | None = None
    length: int = 0

    @property
    def numbers(self) -> int:
        """How many numbers are chosen to fit."""
        return int(self.columns.shape[1]) + self.length

    def residuals(self, values: Floats, following: float | None = None) -> Floats:
        """Return what is left of values (n,), both sides less what follows from the row before."""
        target, columns = _innovations(values, following), _innovations(self.columns, following)
        if self.places is None:
            fit, *_ = np.linalg.lstsq(columns, target, rcond=None)
            return np.asarray(target - columns @ fit)
        scale = np.sqrt((columns**2).sum(axis=0))
        columns = columns / np.where(scale > 0, scale, 1)
        places = Places(self.places, self.places, 0.0, self.length)
        if following is not None:
            places = Places(self.places[1:], self.places[:-1], following, self.length)
        equations, q = _equations(columns, places), columns.shape[1]
        left = target - target.mean()
        for _ in range(2):
            fit, *_ = np.linalg.lstsq(equations, _moments(columns, places, left), rcond=None)
            left = left - columns @ fit[:q] - places.levels(np.asarray(fit[q:], np.float64))
        return np.asarray(left)


@dataclass(frozen=True, slots=True, eq=False)
class Places:
    """The places of rows (n,), and those of the rows before with how much of them is taken away.

    Where none of it is, the rows before are any.
    """

    here: Ints
    before: Ints
    following: float
    length: int

    def sums(self, of: Floats) -> Floats:
        """Return the sum of numbers (n,) at each place, shape (length,)."""
        sums = np.bincount(self.here, of, self.length)
        return np.asarray(sums - self.following * np.bincount(self.before, of, self.length))

    def levels(self, each: Floats) -> Floats:
        """Return for each row the number of its place, of ``each`` (length,): shape (n,)."""
        return np.asarray(each[self.here] - self.following * each[self.before])

    def squares(self) -> Floats:
        """Return the transposed columns of the places times themselves, (length, length)."""
        here, before = (
            np.diag(np.bincount(each, minlength=self.length)) for each in (self.here, self.before)
        )
        pairs = np.bincount(self.here * self.length + self.before, minlength=self.length**2)
        both = pairs.reshape(self.length, self.length)
        return np.asarray(here + self.following**2 * before - self.following * (both + both.T))


def _moments(columns: Floats, places: Places, of: Floats) -> Floats:
    """Multiply the transposed design by a column (n,): shape (q + length,)."""
    return np.concatenate(((columns * of[:, None]).sum(axis=0), places.sums(of)))


def _equations(columns: Floats, places: Places) -> Floats:
    """Return the transposed design times the design, shape (q + length, q + length)."""
    with_columns = np.column_stack([_moments(columns, places, column) for column in columns.T])
    q = columns.shape[1]
    return np.block([[with_columns[:q], with_columns[q:].T], [with_columns[q:], places.squares()]])
