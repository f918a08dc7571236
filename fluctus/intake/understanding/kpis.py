"""The KPIs of a table, each as it would be made from its rows."""

from dataclasses import dataclass, replace

import polars as pl

from fluctus.core import Aggregation
from fluctus.core.words import significant
from fluctus.intake.understanding.events import (
    EVENTS,
    OPEN,
    SINCE,
    open_at_the_end,
    with_quiet_periods,
)
from fluctus.intake.understanding.far_off import answered
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.points import Points, Rows, make_points, no_points, with_periods
from fluctus.intake.understanding.proposals import (
    Proposal,
    names_meter,
    propose_aggregation,
    propose_floor,
    propose_grain,
)
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.intake.understanding.shares import ratio_key
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.tables.meaning.location import shortened
from fluctus.tables.meaning.numbers import NumberColumn, read_numbers
from fluctus.tables.meaning.words import readable, split_unit

MAX_DECIMALS = 4
BETWEEN = (Aggregation.MEAN, Aggregation.MEDIAN)
"""Made of several values, these lie between them: they get a decimal more."""
MOST_KPIS = 60
"""As many as one import makes; of more, the first are proposed and all can be chosen."""
FEWEST_MOMENTS = 4
GRAINS = tuple(Grain)
SAMPLE = 5_000
SOME_ARE_MISTAKES = 0.2
"""Up to this share of the rows, several in one period are a mistake; past it, how the table is."""
WITHOUT_NAME = "Value"


@dataclass(frozen=True, slots=True)
class KpiRead:
    """One of the KPIs in a table, as it would be made."""

    key: str
    choice: KpiChoice
    """The choices in force, proposed or chosen."""
    name: str
    unit: str
    decimals: int
    why: str
    """Why its aggregation is proposed."""
    row_count: int
    combined: bool
    """Whether any of its values is made of several rows."""
    points: Points
    rounded: int
    """How many cells have more digits than can be kept."""
    floor: float | None
    """What no value can be below, where something speaks for it."""
    times: float
    """What its ratio is multiplied by."""
    grain: Grain


@dataclass(frozen=True, slots=True)
class KpiRows:
    """The rows of one KPI: its ``header``, and the place of its ``column``; None for a ratio."""

    key: str
    header: str
    column: int | None
    rows: pl.DataFrame


def kpis_in(table: ReadTable, rows: Rows, mapping: Mapping, grain: Grain) -> list[KpiRead]:
    """Make every KPI of a table; raises RefusalError where it names too many."""
    parts = _parts(table, with_periods(rows.frame, rows.calendar, grain))
    first = {part.key for part in parts[:MOST_KPIS] if not part.key.startswith(SINCE)}
    return [
        _make(
            part,
            table,
            rows,
            mapping,
            grain,
            wanted=_is_wanted(mapping.kpis.get(part.key), part.key in first),
        )
        for part in parts
    ]


def _is_wanted(chosen: KpiChoice | None, proposed: bool) -> bool:
    return proposed if chosen is None or chosen.include is None else chosen.include


def _grain_of(part: KpiRows, table: ReadTable, mapping: Mapping, grain: Grain) -> Grain:
    """Return the grain of one of the KPIs of a table: coarser than its own where it is so."""
    if mapping.grain is not None or part.key in (EVENTS, OPEN):
        return grain
    wall = part.rows["wall"]
    if part.column is not None:
        wall = wall.filter(part.rows[f"v{part.column}"].is_not_null())
    if len(wall) == part.rows.height and not table.has(ColumnRole.KPI):
        return grain
    if wall.n_unique() < FEWEST_MOMENTS:
        return grain
    own = propose_grain(wall, table.dates.style, table.long.names[table.period])
    return own if GRAINS.index(own) > GRAINS.index(grain) else grain


def _parts(table: ReadTable, rows: pl.DataFrame) -> list[KpiRows]:
    """Tell the rows of a table apart by KPI: a name in a column, or a column for each."""
    values = [n for n, role in enumerate(table.roles) if role is ColumnRole.VALUE]
    if table.has(ColumnRole.KPI):
        names = rows["kpi"].unique(maintain_order=True)
        column = values[0] if values else None
        return [
            KpiRows(name or WITHOUT_NAME, name, column, rows.filter(pl.col("kpi") == name))
            for name in names
        ]
    parts: list[KpiRows] = []
    if table.has(ColumnRole.NUMERATOR):
        ratio = ratio_key(table.long.names[table.roles.index(ColumnRole.NUMERATOR)])
        parts.append(KpiRows(ratio, ratio, None, rows))
    for n in values:
        name = table.long.names[n]
        # A wide table has one column of values, which its periods have named; one column
        # without a name is the value, several keep the names that tell them apart.
        nameless = name.startswith("Column ") and len(values) == 1
        header = "" if nameless or table.long.sources is not None else name
        parts.append(KpiRows(WITHOUT_NAME if nameless else name, header, n, rows))
    return parts


def _make(
    part: KpiRows, table: ReadTable, rows: Rows, mapping: Mapping, grain: Grain, *, wanted: bool
) -> KpiRead:
    own = _grain_of(part, table, mapping, grain)
    if own is not grain:
        part = replace(part, rows=with_periods(part.rows, rows.calendar, own))
    chosen = replace(mapping.kpis.get(part.key, KpiChoice()), include=wanted)
    ratio = part.column is None
    # What the KPI they are for has settled is not asked for again with every table.
    factor = mapping.times if ratio and chosen.factor == 1.0 else chosen.factor
    settled = replace(chosen, aggregation=chosen.aggregation or mapping.aggregation, factor=factor)
    title = table.located.above[-1] if table.located.above else ""
    name, unit = split_unit(part.header or title)
    column = _column(part, table)
    written = column.unit if column else ""
    # Durations are in minutes or in hours, whatever the name says.
    unit = written if written in ("min", "h") or not unit else unit
    most_decimals = _most_decimals(column if wanted else None)
    decimals = min(column.decimals, most_decimals) if column else 1
    whole = column is not None and column.decimals == 0
    proposal = propose_aggregation(name, unit, whole=whole)
    points = (
        _points(
            part,
            table,
            settled,
            proposal,
            mapping,
            name=f"{part.header} {name} {unit}",
        )
        if wanted
        else no_points(settled.aggregation or proposal.aggregation)
    )
    if wanted:
        points = _counted(points, part, table, rows.calendar, own)
    points = replace(points, frame=answered(points.frame, chosen, rows.calendar, own))
    combined = points.frame.height > 0 and bool((points.frame["rows"] > 1).any())
    if combined and points.aggregation in BETWEEN:
        decimals = min(decimals + 1, most_decimals)
    return KpiRead(
        key=part.key,
        choice=replace(chosen, aggregation=points.aggregation, difference=points.difference),
        name=shortened(readable(name)),
        unit=unit,
        decimals=decimals,
        why=_why(part, chosen, mapping, points, proposal),
        row_count=part.rows.height,
        combined=combined,
        points=points,
        rounded=len(column.rounded) if column else 0,
        times=factor if ratio else 1.0,
        grain=own,
        floor=propose_floor(name, unit, points.aggregation, _lowest(points)),
    )


def _counted(
    points: Points, part: KpiRows, table: ReadTable, calendar: Calendar, grain: Grain
) -> Points:
    """Return the values of a KPI; of happenings with the periods in which there were none."""
    if part.key == EVENTS:
        return replace(points, frame=with_quiet_periods(points.frame, calendar, grain))
    if part.key == OPEN and table.happenings and table.happenings.ended is not None:
        ended = calendar.instants(table.happenings.ended.gather(part.rows["row"]))
        begun = part.rows["instant"].to_numpy()
        counts = open_at_the_end(begun, ended, points.frame, calendar, grain)
        return replace(points, frame=counts, aggregation=Aggregation.LAST)
    return points


def _points(
    part: KpiRows,
    table: ReadTable,
    settled: KpiChoice,
    proposal: Proposal,
    mapping: Mapping,
    *,
    name: str,
) -> Points:
    return make_points(
        part.rows,
        None if part.column is None else f"v{part.column}",
        settled,
        proposal.aggregation,
        mapping.combine,
        # Two events on a day are two events, however few there are.
        share=SOME_ARE_MISTAKES if table.happenings is None else -1.0,
        meter=names_meter(name),
    )


def _most_decimals(column: NumberColumn | None) -> int:
    """Return the most decimals that say something: more than a few only of small numbers."""
    sizes = None if column is None else column.numbers.filter(column.numbers != 0).abs()
    usual = None if sizes is None else sizes.median()
    small = significant(usual, 3) if isinstance(usual, float) else 0
    return max(MAX_DECIMALS, small)


def _lowest(points: Points) -> float:
    lowest = points.frame["value"].min() if points.frame.height else None
    return float(lowest) if isinstance(lowest, float) else 0.0


def _column(part: KpiRows, table: ReadTable) -> NumberColumn | None:
    """Return what the numbers of a KPI are like: those of its own rows, where others share them."""
    if part.column is None:
        return None
    column = table.numbers[part.column]
    if not table.has(ColumnRole.KPI):
        return column
    cells = table.long.cells.to_series(part.column).gather(part.rows["row"].head(SAMPLE))
    return read_numbers(cells, table.marks.mark)


def _why(
    part: KpiRows, chosen: KpiChoice, mapping: Mapping, points: Points, proposal: Proposal
) -> str:
    """Describe why values become one as they do."""
    if chosen.aggregation is not None:
        return "chosen"
    if mapping.aggregation is not None:
        return "as the KPI has it"
    if part.column is None:
        return "sum of the numerators by sum of the denominators"
    return "amounts between readings are added up" if points.difference else proposal.why
