"""Where the values of a KPI come from, where these are made from those of others."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self

from fluctus.core import MadeFrom
from fluctus.kpis.models import Kpi


@dataclass(frozen=True, slots=True)
class Origin:
    """How a KPI is made, and from which; ``times`` is what a ratio or a multiple is made with."""

    made_by: MadeFrom | None = None
    source: Kpi | None = None
    second: Kpi | None = None
    times: float = 1.0
    left_out: tuple[str, ...] = ()
    """What could not be made from its sources, in words."""

    @classmethod
    def of(
        cls, made_by: MadeFrom, sources: Sequence[Kpi], times: float, left_out: tuple[str, ...]
    ) -> Self:
        """Return the origin of a KPI that is made from one or two others."""
        first, second = (*sources, None)[:2]
        return cls(made_by, first, second, times, left_out)


OF_ITS_OWN = Origin()
