"""Understands a table: what its columns are for, which KPIs it holds, and what is wrong with it."""

from dataclasses import dataclass, replace
from zoneinfo import ZoneInfo

import polars as pl

from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.understanding import row_problems
from fluctus.intake.understanding.goals import with_goals
from fluctus.intake.understanding.kpis import KpiRead, kpis_in
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.points import Rows
from fluctus.intake.understanding.proposals import common_weekday, propose_grain
from fluctus.intake.understanding.questions import Question, questions_about
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.intake.understanding.roles import CANNOT_READ
from fluctus.intake.understanding.row_checks import readable_rows
from fluctus.intake.understanding.row_problems import Problems
from fluctus.intake.understanding.shares import ShareOffer, offered_share
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.tables.grid import Grid, TableError
from fluctus.tables.meaning.blocks import Block, blocks_of
from fluctus.tables.meaning.dates import DateStyle, looks_like_date, looks_like_year
from fluctus.tables.meaning.layout import PERIOD, lay_long, propose_layout
from fluctus.tables.meaning.location import LocatedTable, locate_table
from fluctus.tables.meaning.steps.registry import understood
from fluctus.tables.meaning.steps.step import Taken
from fluctus.tables.meaning.years import find_yearless, year_named

NO_YEAR = Issue("The dates have no year.", "Say in which year the first of them is.", "first_year")
LONGEST_BREAKDOWN = 120
LONGEST_NOTE = 500


@dataclass(frozen=True, slots=True)
class Reading:
    """A table as it was understood.

    ``mapping`` are the choices in force, found or chosen; ``asked`` what was chosen of them.
    """

    table: ReadTable
    asked: Mapping
    mapping: Mapping
    grain: Grain
    date_styles: tuple[DateStyle, ...]
    """The style in force, then those that the column cannot be told apart from."""
    kpis: tuple[KpiRead, ...]
    problems: list[Issue]
    problem_count: int
    missing: int
    sorted_here: bool
    """Whether the rows were not in order of time."""
    repeated: int
    """How many rows fall in a period that has one already."""
    whole: int
    """Rows in all."""
    of_head: bool
    """Whether ``table`` is the first of them only."""
    goal: str
    """The name of the rows that became the target of the others; "" where there are none."""
    offer: ShareOffer | None
    """A ratio that two of its columns look like."""
    blocks: tuple[str, ...]
    """The tables of the sheet where it holds several; ``mapping.block`` is the one that is read."""
    questions: tuple[Question, ...]
    """What the table leaves open."""

    @property
    def chosen(self) -> tuple[KpiRead, ...]:
        """The KPIs that are wanted."""
        return tuple(kpi for kpi in self.kpis if kpi.choice.include is not False)


def read(grid: Grid, mapping: Mapping, most_rows: int | None = None) -> Reading:
    """Read a table by ``mapping`` where it says and by its looks elsewhere.

    ``most_rows`` looks at the first rows only. Raises RefusalError when there
    is no table, or no column of dates or of numbers; what is wrong with single
    rows is in ``problems``.
    """
    asked, whole = mapping, len(grid)
    head = whole if most_rows is None else most_rows
    of_head = whole > head
    if of_head:
        grid = Grid(grid.cells.head(head), grid.lines.head(head), grid.named)
    blocks = _blocks(grid, mapping)
    block = min(mapping.block or 0, len(blocks) - 1) if blocks else None
    if block is not None:
        grid = blocks[block].of(grid)
        whole = len(grid)
    table, mapping = _read_table(grid, mapping)
    grain = mapping.grain or propose_grain(
        table.dates.wall, table.dates.style, table.long.names[table.period]
    )
    if table.happenings is not None and mapping.grain is None and grain is Grain.HOUR:
        grain = Grain.DAY  # Few lists have many happenings an hour.
    calendar = _calendar(table, mapping, grain)
    problems = Problems()
    can_be_read = readable_rows(table, _wanted(table, mapping), problems, share=mapping.share)
    fixed = grain is Grain.HOUR and _is_fixed(table, mapping, calendar)
    rows, goal = _rows(table, can_be_read, calendar, fixed_clock=fixed)
    kpis = kpis_in(table, rows, mapping, grain)
    _note_repeated(kpis, table, problems)
    return Reading(
        table=table,
        asked=asked,
        mapping=_in_force(replace(mapping, block=block), table, kpis, grain, calendar),
        grain=grain,
        date_styles=(table.dates.style, *table.dates.others),
        kpis=tuple(kpis),
        problems=problems.in_order(),
        problem_count=problems.count,
        missing=sum(
            column.missing
            for n, column in table.numbers.items()
            if table.roles[n] is ColumnRole.VALUE
        ),
        sorted_here=rows.was_out_of_order,
        repeated=max((kpi.points.repeated for kpi in kpis), default=0),
        whole=whole,
        of_head=of_head,
        goal=goal,
        offer=offered_share(table, mapping),
        blocks=tuple(one.says for one in blocks),
        questions=tuple(questions_about(table, mapping, fixed_clock=fixed)),
    )


def _in_force(
    mapping: Mapping, table: ReadTable, kpis: list[KpiRead], grain: Grain, calendar: Calendar
) -> Mapping:
    """Return a mapping with what was found where nothing was chosen."""
    together = any(kpi.points.together for kpi in kpis)
    return replace(
        mapping,
        roles=dict(zip(table.long.names, table.roles, strict=True)),
        date_style=table.dates.style,
        decimal_mark=table.marks.mark,
        grain=grain if all(kpi.grain is grain for kpi in kpis) else mapping.grain,
        first_weekday=calendar.first_weekday,
        first_month=calendar.first_month,
        combine=together if mapping.combine is None else mapping.combine,
        kpis={kpi.key: kpi.choice for kpi in kpis},
    )


def _blocks(grid: Grid, mapping: Mapping) -> list[Block]:
    """Return the tables of a sheet where it holds several and nobody has said where one is."""
    told = mapping.first_line is not None or mapping.last_line is not None
    return [] if told else blocks_of(grid)


def _read_table(grid: Grid, mapping: Mapping) -> tuple[ReadTable, Mapping]:
    """Locate the table in a grid and read its columns; returns the mapping with its layout."""
    try:
        located = locate_table(
            grid,
            mapping.header_rows,
            frozenset(mapping.take_in),
            (mapping.first_line, mapping.last_line),
        )
    except TableError as error:
        raise RefusalError(CANNOT_READ, Issue(error.what, error.remedy)) from error
    located, steps = understood(_with_fixes(located, mapping.fixes), mapping.taken_back)
    if mapping.period:
        located = _of_one_period(located, mapping.period)
    try:
        return _laid_out(located, mapping, steps)
    except RefusalError as refused:
        with_years = find_yearless(located) if _lacks_period(refused) else None
        if with_years is None:
            raise
    year = mapping.first_year or year_named(located)
    if year is None:
        raise RefusalError(CANNOT_READ, NO_YEAR)
    return _laid_out(with_years(year), replace(mapping, first_year=year), steps)


def _laid_out(
    located: LocatedTable, mapping: Mapping, steps: tuple[Taken, ...]
) -> tuple[ReadTable, Mapping]:
    layout = mapping.layout or propose_layout(located)
    table = ReadTable.of(located, lay_long(located, layout), mapping, steps)
    return table, replace(mapping, header_rows=located.header_rows, layout=layout)


def _lacks_period(refused: RefusalError) -> bool:
    return any(issue.field == "period" for issue in refused.issues)


def _of_one_period(located: LocatedTable, period: str) -> LocatedTable:
    """Give all rows of a table without dates the period that a person says; what is read of it.

    Raises RefusalError for what is no date.
    """
    if not looks_like_date(period) and not looks_like_year(period):
        raise RefusalError(
            CANNOT_READ,
            Issue("This is no period.", "Write one such as 2026-05 or 18 May 2026.", "period"),
        )
    cells = pl.Series([period]).new_from_index(0, len(located))
    return located.with_column("Year" if looks_like_year(period) else PERIOD, cells, 0)


def _with_fixes(located: LocatedTable, fixes: dict[str, str]) -> LocatedTable:
    """Put cells that a person wrote anew into the table."""
    if not fixes:
        return located
    columns = {at: n for n, at in enumerate(located.at)}
    rows = {line: n for n, line in enumerate(located.lines)}
    cells = located.cells
    for cell, text in fixes.items():
        line, _, at = cell.partition(":")
        column, row = columns.get(int(at)), rows.get(int(line))
        if column is None or row is None:
            continue
        series = cells.to_series(column).clone()
        series[row] = text.strip()
        cells = cells.with_columns(series.alias(f"c{column}"))
    return replace(located, cells=cells)


def _calendar(table: ReadTable, mapping: Mapping, grain: Grain) -> Calendar:
    weekday = mapping.first_weekday
    if weekday is None:
        weekday = common_weekday(table.dates.wall) if grain is Grain.WEEK else 0
    return Calendar(ZoneInfo(mapping.time_zone), weekday, mapping.first_month or 1)


def _wanted(table: ReadTable, mapping: Mapping) -> set[int]:
    """Return the places of the columns of numbers that will be brought in."""
    return {
        n
        for n in table.numbers
        if table.roles[n] is not ColumnRole.VALUE
        or mapping.kpis.get(table.long.names[n], KpiChoice()).include is not False
    }


def _is_fixed(table: ReadTable, mapping: Mapping, calendar: Calendar) -> bool:
    """Tell whether the clock of a table stays on standard time: it shows times that are skipped."""
    if mapping.fixed_clock is not None:
        return mapping.fixed_clock
    return bool((calendar.skipped(table.dates.wall) & ~table.dates.zoned).any())


def _rows(
    table: ReadTable, readable: pl.Series, calendar: Calendar, *, fixed_clock: bool
) -> tuple[Rows, str]:
    values = {
        f"v{n}": column.numbers
        for n, column in table.numbers.items()
        if table.roles[n] is ColumnRole.VALUE
    }
    frame = pl.DataFrame(
        {
            "row": pl.int_range(len(table.long.lines), eager=True),
            "line": table.long.lines,
            "wall": table.dates.wall,
            "zoned": table.dates.zoned,
            "cell": table.texts(ColumnRole.PERIOD),
            "kpi": table.texts(ColumnRole.KPI),
            "breakdown": table.texts(ColumnRole.BREAKDOWN).str.slice(0, LONGEST_BREAKDOWN),
            "note": table.texts(ColumnRole.NOTE).str.slice(0, LONGEST_NOTE),
            "numerator": table.amounts(ColumnRole.NUMERATOR),
            "denominator": table.amounts(ColumnRole.DENOMINATOR),
            "target": table.amounts(ColumnRole.TARGET),
            "target_high": table.amounts(ColumnRole.TARGET_HIGH),
            **values,
        }
    )
    rows, goal = with_goals(frame.filter(readable), list(values))
    return Rows.of(rows, calendar, fixed_clock=fixed_clock), goal


def _note_repeated(kpis: list[KpiRead], table: ReadTable, problems: Problems) -> None:
    """Note rows of a period that has a value already, where these are not made one."""
    for kpi in kpis:
        refused = kpi.points.refused
        if refused.height and kpi.choice.include is not False:
            problems.add(
                refused.height,
                row_problems.repeated(
                    refused["line"],
                    refused["first"],
                    refused["cell"],
                    table.long.names[table.period],
                    kpi.grain,
                    str(kpi.choice.aggregation),
                ),
            )
