"""Readings and imports as the API answers with them."""

import polars as pl

from fluctus.accounts.queries import name_of
from fluctus.core import Aggregation
from fluctus.http.refusals import Issue
from fluctus.intake import shapes
from fluctus.intake.models import Import, ImportKind, Upload
from fluctus.intake.readings import is_long
from fluctus.intake.services import state_for
from fluctus.intake.understanding.kpis import KpiRead
from fluctus.intake.understanding.mapping import ColumnRole, Mapping
from fluctus.intake.understanding.reading import LONGEST_BREAKDOWN, Reading
from fluctus.intake.understanding.sentences import sentences_of
from fluctus.jobs.models import JobStatus
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import ADVERBS, Grain
from fluctus.kpis.chart.analysis.chart import make_chart
from fluctus.kpis.chart.answers.chart import Window, chart_answer
from fluctus.kpis.chart.answers.kpi import kpi_answer
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.shapes import Chart
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import Shown, make_observations
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.difference import Counts, Difference, compare
from fluctus.tables.formats.sheet_marks import counted
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import Grid
from fluctus.tables.meaning.dates import EXAMPLES, DateStyle, read_dates
from fluctus.tables.meaning.layout import possible_layouts
from fluctus.tables.meaning.location import is_shortened
from fluctus.tables.meaning.numbers import DecimalMark, parse_number

FIRST_ROWS = 12
CHART_WIDTH = 700
MOST_MARKS = 2_000
MOST_BREAKDOWNS_TOLD = 50
ABOVE_TOLD = 5
MOST_NAMED = 6

SHEET_TOP, SHEET_BOTTOM = 30, 10
CELLS_SHOWN, CELL_SHOWN = 12, 40


def reading_answer(
    reading: Reading,
    opened: Opened,
    upload: Upload,
    into: Kpi | None,
    shown: str | None,
    actor: Actor,
) -> shapes.Reading:
    """Return a table as it was understood, and the chart of one of its KPIs as it would be."""
    table, mapping = reading.table, reading.mapping
    drawn = next((kpi for kpi in reading.kpis if kpi.key == shown), None)
    drawn = drawn or next(iter(reading.chosen or reading.kpis), None)
    difference = None if into is None or drawn is None else compare(into, drawn.points.frame)
    chart = None if drawn is None else _chart_of(reading, drawn, into, difference, actor)
    return shapes.Reading(
        format=opened.format,
        encoding=opened.encoding,
        sheets=opened.sheets,
        sheet=opened.sheet,
        above=table.located.above[:ABOVE_TOLD],
        columns=[
            shapes.Column(column.name, column.kind, column.share, column.exceptions, role)
            for column, role in zip(table.columns, table.roles, strict=True)
        ],
        first_rows=_first_rows(reading),
        sheet_rows=sheet_rows(opened.grid),
        row_count=len(table.located),
        whole=reading.whole,
        of_head=reading.of_head,
        goal=reading.goal,
        offer=reading.offer if into is None else None,
        blocks=reading.blocks,
        remarks=(*opened.remarks, *_not_used(reading), *_cut(reading), *_of_no_part(drawn, into)),
        questions=reading.questions,
        sentences=tuple(sentences_of(reading)),
        left_out=[shapes.LeftOut(row.line, row.why, row.text) for row in table.located.left_out],
        left_out_count=table.located.left_out_count,
        mapping=mapping,
        layouts=possible_layouts(table.located),
        ambiguous_numbers=_number_examples(reading),
        ambiguous_dates=[_date_example(reading, style) for style in reading.date_styles]
        if len(reading.date_styles) > 1
        else [],
        missing=reading.missing,
        sorted_here=reading.sorted_here,
        repeated=reading.repeated,
        problems=reading.problems,
        problem_count=reading.problem_count,
        kpis=[_kpi_read(kpi) for kpi in reading.kpis],
        shown=None if drawn is None else drawn.key,
        chart=chart,
        difference=None
        if difference is None or chart is None or into is None
        else _difference(difference, chart.points.period, into),
        long=is_long(upload),
    )


def _chart_of(
    reading: Reading, drawn: KpiRead, into: Kpi | None, difference: Difference | None, actor: Actor
) -> Chart | None:
    """Return the chart that a KPI of a table would make; None of one without a value."""
    if not drawn.points.frame.height:
        return None
    if into is None or difference is None:
        return _new_chart(reading, drawn, actor)
    return _merged_chart(into, difference, actor)


def _not_used(reading: Reading) -> list[str]:
    """Say which columns that hold something become nothing."""
    table = reading.table
    names = [
        column.name
        for column, role in zip(table.columns, table.roles, strict=True)
        if role is ColumnRole.IGNORE and column.filled
    ]
    if not names:
        return []
    more = f" and {len(names) - MOST_NAMED:,} more" if len(names) > MOST_NAMED else ""
    columns = "column is" if len(names) == 1 else "columns are"
    return [f"{len(names):,} {columns} not used: {', '.join(names[:MOST_NAMED])}{more}"]


def _of_no_part(drawn: KpiRead | None, into: Kpi | None) -> list[str]:
    """Say that values of no part come beside those of parts, to which they would be added."""
    parts = [] if into is None else [part for part in into.breakdowns if part]
    if not parts or drawn is None or (drawn.points.frame["breakdown"] != "").any():
        return []
    named = ", ".join(parts[:MOST_NAMED])
    return [
        f"The KPI has values of {named}; those of this table are of none of them, and count beside "
        "them: give the table a column that names the part"
    ]


def _cut(reading: Reading) -> list[str]:
    """Say which names are longer than names are kept."""
    table = reading.table
    headings = sum(map(is_shortened, table.located.names))
    parts = table.texts(ColumnRole.BREAKDOWN).unique()
    long = int((parts.str.len_chars() > LONGEST_BREAKDOWN).sum())
    told = ((headings, "heading"), (long, "part"))
    return [
        f"{counted(count, noun)} with a name that is longer than names are kept: its end is cut off"
        for count, noun in told
        if count
    ]


def _first_rows(reading: Reading) -> list[shapes.FirstRow]:
    long = reading.table.long
    rows = long.cells.head(FIRST_ROWS).rows()
    return [shapes.FirstRow(line, cells) for line, cells in zip(long.lines, rows, strict=False)]


def sheet_rows(grid: Grid) -> list[shapes.FirstRow]:
    """Return the rows of a sheet among which a person finds the first and the last of a table."""
    last = max(SHEET_TOP, len(grid) - SHEET_BOTTOM)
    return [
        shapes.FirstRow(int(line), tuple(cell[:CELL_SHOWN] for cell in row[:CELLS_SHOWN]))
        for start, stop in ((0, SHEET_TOP), (last, len(grid)))
        for line, row in zip(grid.lines[start:stop], grid.rows(start, stop), strict=True)
    ]


def _number_examples(reading: Reading) -> list[shapes.NumberExample]:
    """Return both readings of a number that no other of the table decides; else none."""
    cell = reading.table.marks.undecided
    if not cell:
        return []
    readings = [(mark, parse_number(cell, mark) or 0.0) for mark in DecimalMark]
    return [
        shapes.NumberExample(
            mark, f"{cell} is {value:,.10g} ({'a fraction' if value % 1 else 'thousands'})"
        )
        for mark, value in readings
    ]


def _date_example(reading: Reading, style: DateStyle) -> shapes.DateExample:
    """Return a way of writing dates, and what the first date of the column would be in it."""
    cells = reading.table.texts(ColumnRole.PERIOD)
    first = next((cell for cell in cells.head(50) if cell), "")
    moment = read_dates([first], style).values[0]
    reads = "" if moment is None else f"{first} is {moment.day} {moment:%B %Y}"
    return shapes.DateExample(style, EXAMPLES[style], reads)


def _kpi_read(kpi: KpiRead) -> shapes.KpiRead:
    points = kpi.points
    names = points.frame["breakdown"].unique(maintain_order=True)
    return shapes.KpiRead(
        key=kpi.key,
        choice=kpi.choice,
        name=kpi.name,
        unit=kpi.unit,
        decimals=kpi.decimals,
        why=kpi.why,
        running_total=points.running_total,
        resets=points.resets,
        row_count=kpi.row_count,
        combined=kpi.combined,
        value_count=points.frame.height,
        rounded=kpi.rounded,
        breakdowns=[name for name in names if name][:MOST_BREAKDOWNS_TOLD],
        floor=kpi.floor,
    )


def _new_chart(reading: Reading, kpi: KpiRead, actor: Actor) -> Chart:
    state = state_for(reading, kpi)
    if not state.name.strip():
        state = state.with_changes({"name": "This KPI"})
    return _chart(state, kpi.grain, kpi.points.frame, None, actor, kpi.times)


def _merged_chart(into: Kpi, difference: Difference, actor: Actor) -> Chart:
    """Draw a KPI as it would be with everything new and changed, what is missing still there."""
    state, grain = state_of_kpi(into), Grain(into.grain)
    return _chart(state, grain, difference.merged(), into, actor, into.times)


def _chart(
    state: ChartState,
    grain: Grain,
    frame: pl.DataFrame,
    kpi: Kpi | None,
    actor: Actor,
    times: float,
) -> Chart:
    shown = Shown(
        grain, grain, state.calendar, Aggregation(state.aggregation), now=actor.now, times=times
    )
    observations = make_observations(Stored.of(frame), shown)
    chart = make_chart(observations, state)
    about = kpi_answer(chart, slug=kpi.slug if kpi else "")
    return chart_answer(about, chart, Window(CHART_WIDTH))


def _difference(difference: Difference, periods: list[str], into: Kpi) -> shapes.Difference:
    calendar, grain = state_of_kpi(into).calendar, Grain(into.grain)
    positions = {text: position for position, text in enumerate(periods)}

    def marks(frame: pl.DataFrame) -> list[int]:
        if grain is Grain.HOUR:
            return []
        local = calendar.local(frame["period"].unique().tail(MOST_MARKS).to_numpy())
        texts = local.dt.strftime("%Y-%m-%d")
        return sorted(positions[text] for text in texts if text in positions)

    return shapes.Difference(
        counts=difference.counts(),
        new=marks(difference.new),
        changed=marks(difference.changed),
        missing=marks(difference.missing),
    )


def import_answer(row: Import) -> shapes.Import:
    """Return an import as the log shows it."""
    return shapes.Import(
        id=row.pk,
        at=row.at.isoformat(),
        person=name_of(row.person),
        file_name=row.file_name,
        size=row.size,
        checksum=row.checksum,
        status=JobStatus(row.outcome),
        stage=row.stage,
        progress=row.progress,
        rows=row.rows,
        parts=[
            shapes.Part(
                part.name,
                part.kpi.slug if part.kpi else None,
                part.created,
                Counts(**part.counts),
            )
            for part in row.parts.all()
        ],
        left_out=[shapes.LeftOutRow(**left_out) for left_out in row.left_out],
        left_out_count=row.left_out_count,
        read_as=_read_as(row),
        problem=row.problem
        and shapes.ImportProblem(
            row.problem["title"], [Issue(**issue) for issue in row.problem["issues"]]
        ),
        can_begin_again=row.status == JobStatus.FAILED and row.upload_id is not None,
    )


def _read_as(row: Import) -> str:
    """Describe how a table was read: ``Week as the period, Turnaround as the value; weekly``."""
    if row.kind == ImportKind.PACKAGE:
        return "data package"
    if row.kind == ImportKind.TYPED:
        return "typed by hand"
    mapping = Mapping.from_json(row.mapping)
    order = list(ColumnRole)
    used = sorted(mapping.roles.items(), key=lambda pair: order.index(pair[1]))
    roles = [f"{name} as the {role}" for name, role in used if role is not ColumnRole.IGNORE]
    grain = "" if mapping.grain is None else ADVERBS[mapping.grain]
    return "; ".join(part for part in (", ".join(roles), grain) if part)
