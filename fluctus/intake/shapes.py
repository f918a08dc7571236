"""What the API answers with of tables and imports."""

from dataclasses import dataclass

from fluctus.http.refusals import Issue
from fluctus.http.shapes import Shape
from fluctus.intake.kept.shapes import RecognizedReading
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.questions import Question
from fluctus.intake.understanding.sentences import Sentence
from fluctus.intake.understanding.shares import ShareOffer
from fluctus.jobs.models import JobStatus
from fluctus.kpis.chart.shapes import Chart
from fluctus.kpis.values.difference import Counts
from fluctus.tables.meaning.columns import ColumnKind
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.layout import TableLayout
from fluctus.tables.meaning.numbers import DecimalMark


@dataclass(frozen=True, slots=True)
class FirstRow(Shape):
    """A row as it stands in the table."""

    line: int
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Uploaded(Shape):
    """An upload that is kept, and how a table like it was read the last time."""

    id: int
    name: str
    sheets: tuple[str, ...]
    last: Mapping | None
    """The mapping used last time, where the KPI has one that fits."""
    last_import: str | None
    recognized: RecognizedReading | None
    """The reading that is kept of a table like it, by which ``last`` says how to read it."""
    differs: tuple[str, ...]
    """What the table has otherwise than the one that was read so."""
    sheet_rows: list[FirstRow]
    """The first rows of the sheet and its last, to find the table where it is not found."""
    being_read: bool
    """Whether it takes long to read: ask for it again until it has been."""


@dataclass(frozen=True, slots=True)
class Column(Shape):
    """A column as it was understood."""

    name: str
    kind: ColumnKind
    share: float
    """Share of its filled cells that fit the kind."""
    exceptions: tuple[str, ...]
    """The first cells that do not fit."""
    role: ColumnRole


@dataclass(frozen=True, slots=True)
class NumberExample(Shape):
    """A decimal mark, and what a number of the table would be with it."""

    mark: DecimalMark
    reads: str


@dataclass(frozen=True, slots=True)
class DateExample(Shape):
    """A way of writing dates, with an example, and how it reads the first date of the column."""

    style: DateStyle
    example: str
    reads: str


@dataclass(frozen=True, slots=True)
class LeftOut(Shape):
    """A row that is no row of the table."""

    line: int
    why: str
    text: str


@dataclass(frozen=True, slots=True)
class LeftOutRow(Shape):
    """A row that was left out of an import."""

    line: int | None
    why: str
    text: str


@dataclass(frozen=True, slots=True)
class KpiRead(Shape):
    """A KPI of the table, as it would be made."""

    key: str
    choice: KpiChoice
    name: str
    unit: str
    decimals: int
    why: str
    """Why its aggregation is proposed."""
    running_total: bool
    resets: int
    row_count: int
    combined: bool
    """Whether any of its values is made of several rows."""
    value_count: int
    rounded: int
    """Cells with more digits than can be kept."""
    breakdowns: list[str]
    floor: float | None
    """What no value can be below, as proposed."""


@dataclass(frozen=True, slots=True)
class Difference(Shape):
    """What adding to a KPI would do; the positions are those of the chart."""

    counts: Counts
    new: list[int]
    changed: list[int]
    missing: list[int]


@dataclass(frozen=True, slots=True)
class Reading(Shape):
    """A table as it was understood, and the chart it would make."""

    format: str
    encoding: str
    sheets: tuple[str, ...]
    sheet: str
    above: tuple[str, ...]
    columns: list[Column]
    first_rows: list[FirstRow]
    sheet_rows: list[FirstRow]
    """The first rows of the sheet and its last, as they stand in it."""
    row_count: int
    whole: int
    """Rows in all."""
    of_head: bool
    """Whether only the first of them have been read so far: ask for the whole."""
    goal: str
    """The name of the rows that became the target of the others."""
    offer: ShareOffer | None
    blocks: tuple[str, ...]
    """The tables of the sheet where it holds several; one of them is read."""
    questions: tuple[Question, ...]
    """What the table leaves open."""
    remarks: tuple[str, ...]
    """What of the file is left out or cannot be read, and which columns are not used."""
    sentences: tuple[Sentence, ...]
    """What was understood of the table, in the order in which it was decided."""
    left_out: list[LeftOut]
    left_out_count: int
    mapping: Mapping
    layouts: list[TableLayout]
    ambiguous_dates: list[DateExample]
    ambiguous_numbers: list[NumberExample]
    """The readings of a number where the table does not tell its decimal mark."""
    missing: int
    sorted_here: bool
    repeated: int
    problems: list[Issue]
    problem_count: int
    kpis: list[KpiRead]
    shown: str | None
    chart: Chart | None
    difference: Difference | None
    long: bool
    """Whether it is brought in in the background."""


@dataclass(frozen=True, slots=True)
class Part(Shape):
    """What an import did to one KPI."""

    name: str
    slug: str | None
    created: bool
    counts: Counts


@dataclass(frozen=True, slots=True)
class ImportProblem(Shape):
    """Why an import has failed."""

    title: str
    issues: list[Issue]


@dataclass(frozen=True, slots=True)
class Import(Shape):
    """A table that was brought in, or is on its way."""

    id: int
    at: str
    person: str
    file_name: str
    size: int
    checksum: str
    status: JobStatus
    stage: str
    progress: float
    rows: int
    parts: list[Part]
    left_out: list[LeftOutRow]
    left_out_count: int
    read_as: str
    """How the table was read, in words."""
    problem: ImportProblem | None
    can_begin_again: bool
    """Whether it has failed, and its table is still there."""
