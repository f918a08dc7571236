"""Proposes what a table means: the role of each column, and how rows become points."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

import polars as pl

from fluctus.core import Aggregation
from fluctus.intake.understanding.mapping import ColumnRole
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.csv_export import HEADER
from fluctus.tables.meaning.columns import Column, ColumnKind
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import PERIOD, VALUE
from fluctus.tables.meaning.words import NOTE, as_words
from fluctus.tables.place_table import LATITUDE, LONGITUDE

TARGET = re.compile(r"\b(target|goal|plan|planned|budget|aim)\b", re.IGNORECASE)
LOW_SIDE = re.compile(r"\b(low|lower|lowest|min|minimum|least|from)\b", re.IGNORECASE)
HIGH_SIDE = re.compile(r"\b(high|higher|upper|max|maximum|most|to)\b", re.IGNORECASE)
KPI_NAME = re.compile(r"\b(kpi|measure|metric|indicator)\b", re.IGNORECASE)
IDENTITY = re.compile(r"^(id|no\.?|nr\.?|#|row|index|number)$", re.IGNORECASE)
IDENTITIES = re.compile(
    r"\b(id|ids|no|nr|num|number|ticket|case|ref|reference|code|invoice|order|booking|serial|key)$",
    re.IGNORECASE,
)
MOSTLY_DIFFERENT = 0.95
PLACE = re.compile(
    r"\b(quay|vessel|ship|person|name|team|site|line|crew|shift|lane|group|place|route|type)\b",
    re.IGNORECASE,
)
PARTS = re.compile(r"\b(?P<part>numerator|denominator)\b", re.IGNORECASE)

MEANS = re.compile(
    r"\b(a|(?<!on )time|cycle|turnaround|wait|delay|fuel)\b",
    re.IGNORECASE,
)
NEVER_SUMMED = re.compile(
    r"\b(share|rate|percent|percentage|per|ratio|average|avg|mean|(?<!on )times?|duration|price"
    r"|score|rating|speed|temperature)\b|%",
    re.IGNORECASE,
)
SUMS = re.compile(
    r"\b(number|count|total|sum|stops|passengers|vehicles|sold|sales|cost|costs|incidents"
    r"|waste|left|crossings|sailings|departures|cars|calls|complaints|amount|revenue)\b",
    re.IGNORECASE,
)
METER = re.compile(
    r"\b(meters?|counter|odometer|tachometer|readings?|cumul\w*|cum|running total|to date"
    r"|ytd|mtd|since \w+|total so far|z\u00e4hler\w*|compteur|cumul|contador|contatore|licznik"
    r"|m\u00e5ler\w*|m\u00e4tare|totali[sz]er|hour ?meter|engine hours|run(ning)? hours)\b",
    re.IGNORECASE,
)
LEVELS = re.compile(
    r"\b(meter|reading|balance|stock|backlog|level|fee|price|headcount)\b", re.IGNORECASE
)
EXTREMES = {
    Aggregation.MAXIMUM: re.compile(r"\b(max|maximum|peak|highest|longest)\b", re.IGNORECASE),
    Aggregation.MINIMUM: re.compile(r"\b(min|minimum|lowest|shortest)\b(?! *\))", re.IGNORECASE),
    Aggregation.MEDIAN: re.compile(r"\bmedian\b", re.IGNORECASE),
}
MEAN_UNITS = frozenset(
    {
        "%",
        "min",
        "mins",
        "minutes",
        "s",
        "sec",
        "seconds",
        "h",
        "hours",
        "h a day",
        "km/h",
        "kn",
        "\N{DEGREE SIGN}C",
        "ms",
    }
)
SUM_UNITS = frozenset({"kg", "t", "l", "\N{POUND SIGN}", "$", "\N{EURO SIGN}", "kr", "kwh"})
NEVER_NEGATIVE = frozenset(
    {
        "%",
        "min",
        "mins",
        "minutes",
        "s",
        "sec",
        "seconds",
        "h",
        "hours",
        "days",
        "ms",
        "h a day",
        "km/h",
        "kn",
    }
)
DURATIONS = re.compile(r"\b(duration|wait|cycle|turnaround|lead time|time to)\b", re.IGNORECASE)
MOST_BREAKDOWNS = 60
OWN_HEADERS = (
    HEADER,
    ("period", "value", "set aside", "segment", "judged value", "moving range"),
)
"""How an analysis begins as this program writes it: in a CSV, and in a workbook."""
OWN_COLUMNS = {
    "period": ColumnRole.PERIOD,
    "value": ColumnRole.VALUE,
    "numerator": ColumnRole.NUMERATOR,
    "denominator": ColumnRole.DENOMINATOR,
}
"""Of such an analysis: all else there is worked out from these."""

GRAINS_OF_STYLES: dict[DateStyle | None, Grain] = {
    DateStyle.MONTH_NAME: Grain.MONTH,
    DateStyle.YEAR_MONTH: Grain.MONTH,
    DateStyle.MONTH_YEAR: Grain.MONTH,
    DateStyle.COMPACT_MONTH: Grain.MONTH,
    DateStyle.ISO_WEEK: Grain.WEEK,
    DateStyle.QUARTER: Grain.QUARTER,
    DateStyle.HALF_YEAR: Grain.QUARTER,
    DateStyle.FISCAL_YEAR: Grain.YEAR,
    DateStyle.YEAR: Grain.YEAR,
}
GRAIN_WORDS = re.compile(r"\b(hour|day|week|month|quarter|year)\b", re.IGNORECASE)
DAYS_APART = ((360, Grain.YEAR), (85, Grain.QUARTER), (27, Grain.MONTH))
"""The least distance in days between successive periods of the coarser grains."""


def propose_roles(columns: Sequence[Column], repeats: Sequence[bool]) -> list[ColumnRole]:
    """Propose a role for each column; ``repeats`` tells where cells come again and again.

    The first dates are the period. Every column of numbers is a value, unless
    its name says otherwise; a column of few words that repeat is a breakdown.
    """
    names = [column.name.casefold() for column in columns]
    if any(names[: len(head)] == list(head) for head in OWN_HEADERS):
        own = [OWN_COLUMNS.get(name, ColumnRole.IGNORE) for name in names]
        # A workbook names the parts of a ratio also where there is none.
        return [
            role if column.filled else ColumnRole.IGNORE
            for role, column in zip(own, columns, strict=True)
        ]
    roles: list[ColumnRole] = []
    for column, repeating in zip(columns, repeats, strict=True):
        role = _role(column, repeating, roles)
        roles.append(role)
    _take_range(columns, roles)
    if (ColumnRole.LATITUDE in roles) is not (ColumnRole.LONGITUDE in roles):
        # One alone is no place: a column of waits may be called "Long".
        alone = (ColumnRole.LATITUDE, ColumnRole.LONGITUDE)
        roles = [ColumnRole.VALUE if role in alone else role for role in roles]
    if columns and columns[-1].name == VALUE and columns[-2].name == PERIOD:
        labels = [
            n
            for n, role in enumerate(roles)
            if role in (ColumnRole.NOTE, ColumnRole.BREAKDOWN, ColumnRole.KPI)
        ]
        # What is called a measure names the KPIs, and what stands beside it their parts.
        measured = ColumnRole.KPI in roles
        for n in [n for n in labels if roles[n] is not ColumnRole.KPI][:1]:
            roles[n] = ColumnRole.BREAKDOWN if measured else _label_of_wide(columns[n])
    return roles


def _take_range(columns: Sequence[Column], roles: list[ColumnRole]) -> None:
    """Make two columns of targets, a low and a high one, the sides of a range."""
    sides: list[int | None] = [
        next(
            (
                n
                for n, column in enumerate(columns)
                if column.kind is ColumnKind.NUMBER
                and TARGET.search(as_words(column.name))
                and side.search(as_words(column.name))
            ),
            None,
        )
        for side in (LOW_SIDE, HIGH_SIDE)
    ]
    low, high = sides
    if low is None or high is None or low == high:
        return
    roles[:] = [ColumnRole.IGNORE if role is ColumnRole.TARGET else role for role in roles]
    roles[low], roles[high] = ColumnRole.TARGET, ColumnRole.TARGET_HIGH


def _role(column: Column, repeating: bool, before: list[ColumnRole]) -> ColumnRole:
    name = as_words(column.name)
    if column.kind is ColumnKind.DATE:
        return ColumnRole.IGNORE if ColumnRole.PERIOD in before else ColumnRole.PERIOD
    if column.kind is ColumnKind.NUMBER:
        part = PARTS.search(name)
        role = (
            ColumnRole(part["part"].lower())
            if part
            else ColumnRole.TARGET
            if TARGET.search(name)
            else ColumnRole.LATITUDE
            if LATITUDE.fullmatch(name)
            else ColumnRole.LONGITUDE
            if LONGITUDE.fullmatch(name)
            else ColumnRole.IGNORE
            if IDENTITY.search(name) or is_identity(column)
            else ColumnRole.VALUE
        )
        return role if role is ColumnRole.VALUE or role not in before else ColumnRole.IGNORE
    if KPI_NAME.search(name) and ColumnRole.KPI not in before:
        return ColumnRole.KPI
    if NOTE.search(name):
        return ColumnRole.NOTE if ColumnRole.NOTE not in before else ColumnRole.IGNORE
    few = 1 <= column.different <= MOST_BREAKDOWNS and (repeating or PLACE.search(name))
    if few and column.filled and ColumnRole.BREAKDOWN not in before:
        return ColumnRole.BREAKDOWN
    return ColumnRole.NOTE if column.filled and ColumnRole.NOTE not in before else ColumnRole.IGNORE


def _label_of_wide(column: Column) -> ColumnRole:
    """Tell what the rows of a wide table are: KPIs, unless the name says places or people."""
    return ColumnRole.BREAKDOWN if PLACE.search(as_words(column.name)) else ColumnRole.KPI


@dataclass(frozen=True, slots=True)
class Proposal:
    """How several values become one, and why that is proposed."""

    aggregation: Aggregation
    why: str


def propose_aggregation(name: str, unit: str, *, whole: bool) -> Proposal:
    """Propose from the name and the unit of a KPI; ``whole`` tells that its values are integers."""
    name = as_words(name)
    for aggregation, words in EXTREMES.items():
        if match := words.search(name):
            return Proposal(aggregation, f"the name says {match[0].lower()}")
    if unit == "%":
        return Proposal(Aggregation.MEAN, "percentages are not added up")
    if match := LEVELS.search(name):
        return Proposal(Aggregation.LAST, f"a {match[0].lower()} holds until the next")
    if unit.lower() in MEAN_UNITS:
        return Proposal(Aggregation.MEAN, f"values in {unit} are averaged")
    if match := NEVER_SUMMED.search(name):
        return Proposal(Aggregation.MEAN, f"the name says {match[0].lower()}")
    if match := SUMS.search(name):
        return Proposal(Aggregation.SUM, f"the name says {match[0].lower()}")
    if match := MEANS.search(name):
        return Proposal(Aggregation.MEAN, f"the name says {match[0].lower()}")
    if unit.lower() in SUM_UNITS:
        return Proposal(Aggregation.SUM, f"values in {unit} are added up")
    if whole and not unit:
        return Proposal(Aggregation.SUM, "whole numbers without a unit are counts")
    return Proposal(Aggregation.MEAN, "nothing says otherwise")


def is_identity(column: Column) -> bool:
    """Tell whether numbers are names of things: whole, each another, and called so."""
    named = IDENTITY.search(column.name) or IDENTITIES.search(as_words(column.name))
    return bool(named) and column.different >= column.filled * MOSTLY_DIFFERENT


def names_meter(name: str) -> bool:
    """Tell whether a name is that of a meter or of a running total."""
    return bool(METER.search(as_words(name)))


def propose_floor(name: str, unit: str, aggregation: Aggregation, lowest: float) -> float | None:
    """Propose 0 for what cannot be below: counts, amounts, durations and shares.

    ``lowest`` is the lowest value there is; None where nothing speaks for a floor.
    """
    counted = aggregation in (Aggregation.SUM, Aggregation.COUNT)
    cannot = counted or unit.lower() in NEVER_NEGATIVE or bool(DURATIONS.search(as_words(name)))
    return 0.0 if cannot and lowest >= 0 else None


def propose_grain(wall: pl.Series, style: DateStyle | None = None, header: str = "") -> Grain:
    """Propose the grain of a series from the distances between its different moments.

    A single moment has none: how it is written tells, and what its column is called.
    """
    moments = wall.drop_nulls().unique().sort()
    steps = moments.diff().drop_nulls()
    if steps.is_empty():
        named = GRAIN_WORDS.search(as_words(header))
        return GRAINS_OF_STYLES.get(style) or (Grain(named[0].lower()) if named else Grain.DAY)
    least = steps.min()
    assert isinstance(least, timedelta), "distances between moments are durations"
    if least < timedelta(days=1):
        return _shorter_than_a_day(moments, steps)
    for days, grain in DAYS_APART:
        if least >= timedelta(days=days):
            return grain
    week = timedelta(days=7)
    if least >= week and all(step % week == timedelta(0) for step in steps.unique()):
        return Grain.WEEK
    return Grain.DAY


def _shorter_than_a_day(moments: pl.Series, steps: pl.Series) -> Grain:
    """Times on the hour are hours; times at odd minutes are events, best counted by the day."""
    on_the_hour = (moments.dt.minute() == 0).all()
    usual = steps.median()
    assert isinstance(usual, timedelta), "distances between moments are durations"
    return Grain.HOUR if on_the_hour or usual <= timedelta(hours=1) else Grain.DAY


def common_weekday(wall: pl.Series) -> int:
    """Return the weekday that all moments share, Monday is 0; Monday where they do not."""
    days = Counter((wall.drop_nulls().dt.weekday() - 1).to_list())
    return int(next(iter(days))) if len(days) == 1 else 0
