"""The ways in which a KPI can be made from others."""

from typing import Final

from fluctus.core import MadeFrom
from fluctus.kpis.derived.arithmetic import DIFFERENCE, MULTIPLE, RATIO, SUM
from fluctus.kpis.derived.kind import DerivedKind
from fluctus.kpis.derived.time_between import TIME_BETWEEN

DERIVED_KINDS: Final[dict[MadeFrom, DerivedKind]] = {
    kind.made_by: kind for kind in (RATIO, SUM, DIFFERENCE, MULTIPLE, TIME_BETWEEN)
}
