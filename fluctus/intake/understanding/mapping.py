"""How a person wants a table read: plain data, kept with each import."""

from dataclasses import asdict, dataclass, field, fields
from enum import StrEnum
from typing import Any, Self

from fluctus.core import Aggregation, Drop
from fluctus.kpis.calendar import Grain
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import TableLayout
from fluctus.tables.meaning.numbers import DecimalMark


class ColumnRole(StrEnum):
    """What a column of a table is for."""

    PERIOD = "period"
    VALUE = "value"
    KPI = "kpi"
    BREAKDOWN = "breakdown"
    NUMERATOR = "numerator"
    DENOMINATOR = "denominator"
    TARGET = "target"
    NOTE = "note"
    IGNORE = "ignore"


ONE_OF_A_KIND = frozenset(set(ColumnRole) - {ColumnRole.VALUE, ColumnRole.IGNORE})
"""Roles that one column at the most can have."""


@dataclass(frozen=True, slots=True)
class KpiChoice:
    """What a person chose for one of the KPIs in a table; None where it is proposed."""

    include: bool = True
    aggregation: Aggregation | None = None
    difference: bool | None = None
    drop: Drop = Drop.RESET
    factor: float = 1.0
    offset: float = 0.0
    details: dict[str, Any] = field(default_factory=dict)
    """Settings of the KPI to be: its name, unit and so on."""


@dataclass(frozen=True, slots=True)
class Mapping:
    """How a table is to be read; what is None is found out.

    ``roles`` are by the name of the column, so that they hold for the next
    file of the same layout whatever the order of its columns.
    """

    sheet: str | None = None
    header_rows: int | None = None
    layout: TableLayout | None = None
    roles: dict[str, ColumnRole] = field(default_factory=dict)
    date_style: DateStyle | None = None
    decimal_mark: DecimalMark | None = None
    grain: Grain | None = None
    time_zone: str = "UTC"
    first_weekday: int | None = None
    first_month: int = 1
    combine: bool | None = None
    """Whether several rows of one period become one value, or are a mistake."""
    leave_out: bool = False
    """Whether rows with problems are left out; otherwise they stop the import."""
    aggregation: Aggregation | None = None
    """How values become one, where the KPI they are for has settled that."""
    take_in: tuple[int, ...] = ()
    """Lines that belong to the table, though they look like totals or notes."""
    fixes: dict[str, str] = field(default_factory=dict)
    """Cells written anew, by ``line:column`` in the sheet, lines from 1 and columns from 0."""
    kpis: dict[str, KpiChoice] = field(default_factory=dict)

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Self:
        """Read what ``to_json`` wrote, or what the API took."""
        own = {one.name: data[one.name] for one in fields(cls) if one.name in data}
        for name, kind in KINDS.items():
            if own.get(name) is not None:
                own[name] = kind(own[name])
        own["roles"] = {name: ColumnRole(role) for name, role in own.get("roles", {}).items()}
        own["take_in"] = tuple(own.get("take_in", ()))
        own["kpis"] = {key: _choice(one) for key, one in own.get("kpis", {}).items()}
        return cls(**own)

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self)

    def for_the_next(self) -> "Mapping":
        """Return what of this holds for another file of the same layout."""
        return Mapping(
            **{
                one.name: getattr(self, one.name)
                for one in fields(self)
                if one.name not in ("fixes", "take_in", "leave_out", "sheet")
            }
        )


KINDS = {
    "layout": TableLayout,
    "date_style": DateStyle,
    "decimal_mark": DecimalMark,
    "grain": Grain,
    "aggregation": Aggregation,
}


def _choice(data: dict[str, Any]) -> KpiChoice:
    own = {one.name: data[one.name] for one in fields(KpiChoice) if one.name in data}
    if own.get("aggregation") is not None:
        own["aggregation"] = Aggregation(own["aggregation"])
    if "drop" in own:
        own["drop"] = Drop(own["drop"])
    return KpiChoice(**own)
