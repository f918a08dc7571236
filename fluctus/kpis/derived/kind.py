"""A way in which a KPI is made from others: all that the rest of the program knows of it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import polars as pl

from fluctus.core import MadeFrom
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain
from fluctus.kpis.models import Kpi
from fluctus.kpis.state import ChartState

CANNOT = "This KPI cannot be made."


@dataclass(frozen=True, slots=True, eq=False)
class FromSources:
    """The values that are made, and what could not be, in words."""

    frame: pl.DataFrame
    left_out: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class Proposal:
    """What a new KPI would be like; ``times`` is what its values were multiplied by."""

    state: ChartState
    grain: Grain
    times: float


Propose = Callable[[Sequence[Kpi], float | None], Proposal]
Make = Callable[[Sequence[Kpi], Grain, float], FromSources]


@dataclass(frozen=True, slots=True, eq=False)
class DerivedKind:
    """How a KPI is made from others.

    ``propose`` takes the sources and the number asked for, and raises RefusalError where nothing
    can be made of them; ``make`` takes the sources, the grain and the number of the proposal.
    ``follow`` makes the values of a KPI anew, and raises RefusalError for what it cannot follow.
    """

    made_by: MadeFrom
    sources: int
    propose: Propose
    make: Make
    follow: Callable[[Kpi, Sequence[Kpi]], FromSources]


def cannot(detail: str, remedy: str, field_name: str = "") -> RefusalError:
    """Say why a KPI cannot be made."""
    return RefusalError(CANNOT, Issue(detail, remedy, field_name))
