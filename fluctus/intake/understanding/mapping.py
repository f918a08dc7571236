"""How a person wants a table read: plain data, kept with each import."""

from dataclasses import asdict, dataclass, field, fields, replace
from enum import StrEnum
from typing import Any, Self

from fluctus.core import Aggregation, Drop
from fluctus.kpis.calendar import Grain
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import TableLayout
from fluctus.tables.meaning.numbers import Clock, DecimalMark


class ColumnRole(StrEnum):
    """What a column of a table is for."""

    PERIOD = "period"
    VALUE = "value"
    KPI = "kpi"
    BREAKDOWN = "breakdown"
    NUMERATOR = "numerator"
    DENOMINATOR = "denominator"
    TARGET = "target"
    TARGET_HIGH = "target_high"
    NOTE = "note"
    LATITUDE = "latitude"
    LONGITUDE = "longitude"
    IGNORE = "ignore"


class Counted(StrEnum):
    """What is made of a column of yes and no."""

    SHARE = "share"
    NUMBER = "number"


ONCE = ("fixes", "take_in", "leave_out", "sheet", "last_line", "period", "first_year")
"""What is said of one table, and not of the next."""
ONE_OF_A_KIND = frozenset(set(ColumnRole) - {ColumnRole.VALUE, ColumnRole.IGNORE})
"""Roles that one column at the most can have."""


@dataclass(frozen=True, slots=True)
class KpiChoice:
    """What a person chose for one of the KPIs in a table; None where it is proposed."""

    include: bool | None = None
    """Whether it is wanted; None: where there are not too many."""
    aggregation: Aggregation | None = None
    difference: bool | None = None
    drop: Drop = Drop.RESET
    factor: float = 1.0
    offset: float = 0.0
    details: dict[str, Any] = field(default_factory=dict)
    """Settings of the KPI to be: its name, unit and so on."""
    mended: dict[str, float] = field(default_factory=dict)
    """What the values of some periods are in truth, which are slips in the table."""
    aside: tuple[str, ...] = ()
    """Periods whose values are far off and take no part."""
    right: tuple[str, ...] = ()
    """Periods whose values are far off and right."""


@dataclass(frozen=True, slots=True)
class Mapping:
    """How a table is to be read; what is None is found out.

    ``roles`` are by the name of the column, so that they hold for the next
    file of the same layout whatever the order of its columns.
    """

    sheet: str | None = None
    header_rows: int | None = None
    first_line: int | None = None
    """The line of the sheet that names the columns, where it is not found rightly."""
    last_line: int | None = None
    """The last line of the sheet that belongs to the table."""
    block: int | None = None
    """Which of several tables on a sheet, from 0."""
    layout: TableLayout | None = None
    roles: dict[str, ColumnRole] = field(default_factory=dict)
    date_style: DateStyle | None = None
    decimal_mark: DecimalMark | None = None
    grain: Grain | None = None
    time_zone: str = "UTC"
    first_weekday: int | None = None
    first_month: int | None = None
    """The month that begins a year; None: January, or what the workspace has."""
    first_year: int | None = None
    """The year of the first row, of dates that have none."""
    clock: Clock | None = None
    """What ``7:30`` is, where nothing in the table tells."""
    counted: Counted | None = None
    """What becomes of yes and no."""
    fixed_clock: bool | None = None
    """Whether the clock stays on standard time all year; None is found out."""
    convert: bool = False
    """Whether amounts in several units of one kind become one of them."""
    missing_words: tuple[str, ...] = ()
    """Words that stand for a value that is not there, besides the usual ones; in small letters."""
    combine: bool | None = None
    """Whether several rows of one period become one value, or are a mistake."""
    leave_out: bool = False
    """Whether rows with problems are left out; otherwise they stop the import."""
    aggregation: Aggregation | None = None
    """How values become one, where the KPI they are for has settled that."""
    times: float = 1.0
    """What its ratio is multiplied by, where that KPI has settled it."""
    share: bool = False
    """Whether a numerator is a part of its denominator, and never more."""
    taken_back: tuple[str, ...] = ()
    """Keys of what was understood of the table, and is not wanted."""
    period: str | None = None
    """The period of all rows, of a table that has no dates."""
    take_in: tuple[int, ...] = ()
    """Lines that belong to the table, though they look like totals or notes."""
    fixes: dict[str, str] = field(default_factory=dict)
    """Cells written anew, by ``line:column`` in the sheet, lines from 1 and columns from 0."""
    kpis: dict[str, KpiChoice] = field(default_factory=dict)

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Self:
        """Read what ``to_json`` wrote, or what the API took."""
        known = {item.name: data[item.name] for item in fields(cls) if item.name in data}
        for name, kind in KINDS.items():
            if known.get(name) is not None:
                known[name] = kind(known[name])
        known["roles"] = {name: ColumnRole(role) for name, role in known.get("roles", {}).items()}
        for name in ("take_in", "taken_back", "missing_words"):
            known[name] = tuple(known.get(name, ()))
        known["kpis"] = {key: _choice(item) for key, item in known.get("kpis", {}).items()}
        return cls(**known)

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self)

    def for_the_next(self) -> "Mapping":
        """Return what of this holds for another file of the same layout."""
        kept = {
            item.name: getattr(self, item.name) for item in fields(self) if item.name not in ONCE
        }
        # What was said of single values is said of those.
        kept["kpis"] = {
            key: replace(choice, mended={}, aside=(), right=()) for key, choice in self.kpis.items()
        }
        return Mapping(**kept)


KINDS = {
    "layout": TableLayout,
    "date_style": DateStyle,
    "decimal_mark": DecimalMark,
    "clock": Clock,
    "counted": Counted,
    "grain": Grain,
    "aggregation": Aggregation,
}


def _choice(data: dict[str, Any]) -> KpiChoice:
    known = {item.name: data[item.name] for item in fields(KpiChoice) if item.name in data}
    if known.get("aggregation") is not None:
        known["aggregation"] = Aggregation(known["aggregation"])
    if "drop" in known:
        known["drop"] = Drop(known["drop"])
    for name in ("aside", "right"):
        known[name] = tuple(known.get(name, ()))
    return KpiChoice(**known)
