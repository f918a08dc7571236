"""What is wrong with single rows, in words: where, what was found, what to do."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

import polars as pl

from fluctus.http.refusals import Issue
from fluctus.kpis.calendar import Grain
from fluctus.tables.meaning.dates import EXAMPLES, FIRST_YEAR, LAST_YEAR, DateStyle
from fluctus.tables.meaning.numbers import DecimalMark, NumberColumn, is_missing

KEPT = 200


@dataclass(slots=True)
class Problems:
    """The first problems of a table, how many there are, and which rows have one."""

    count: int = 0
    issues: list[Issue] = field(default_factory=list)

    def add(self, count: int, issues: Iterator[Issue]) -> None:
        """Add problems; past the first of them, only their number is kept."""
        self.count += count
        while len(self.issues) < KEPT and (issue := next(issues, None)) is not None:
            self.issues.append(issue)

    def in_order(self) -> list[Issue]:
        """Return them in the order of the rows."""
        return sorted(self.issues, key=lambda issue: issue.row or 0)


def too_wide(rows: dict[int, int], width: int) -> Iterator[Issue]:
    """Rows with more cells than the table is wide."""
    for line, cells in rows.items():
        yield Issue(
            f"The row has {cells} cells, the table {width} columns.",
            "Put cells that contain the delimiter in quotation marks, or remove what is extra.",
            row=line,
        )


def bad_dates(
    lines: pl.Series, cells: pl.Series, column: str, at: int, style: DateStyle
) -> Iterator[Issue]:
    """Cells of the period that are no dates."""
    for line, cell in zip(lines, cells, strict=True):
        where = {"row": line, "column": column, "field": f"{line}:{at}", "found": cell}
        if is_missing(cell):
            yield Issue("The date is missing.", "Fill it in, or leave the row out.", **where)
        elif re.search(r"\b(0\d{3}|99\d\d)\b", cell):
            yield Issue(
                "This year cannot be right.",
                f"Years from {FIRST_YEAR} to {LAST_YEAR} can be read. Correct it.",
                **where,
            )
        else:
            yield Issue(
                f"This is not a date written like the others, as in {EXAMPLES[style]}.",
                "Write it like the others, or choose how dates are written.",
                **where,
            )


def bad_numbers(
    lines: pl.Series, cells: pl.Series, columns: list[tuple[str, int]], mark: DecimalMark
) -> Iterator[Issue]:
    """Cells that should be numbers; ``columns`` gives name and place for each."""
    for line, cell, (column, at) in zip(lines, cells, columns, strict=True):
        where = {"row": line, "column": column, "field": f"{line}:{at}", "found": cell}
        if cell.startswith("="):
            yield Issue(
                "This is a formula, not its value.",
                "Write the number that it gives; formulas are never computed here.",
                **where,
            )
        elif re.fullmatch(r"[+-]?(inf(inity)?|\d+(\.\d*)?e\+?\d{3,}|\d{300,})", cell.lower()):
            yield Issue(
                "This number is too large to be kept.",
                "Write a number of ordinary size, or leave the cell empty.",
                **where,
            )
        else:
            yield Issue(
                f"This is not a number with a decimal {mark}.",
                "Write a number, or leave the cell empty where there is no value.",
                **where,
            )


def other_units(
    lines: pl.Series,
    cells: pl.Series,
    columns: list[tuple[str, int]],
    numbers: NumberColumn,
) -> Iterator[Issue]:
    """Cells in another unit than most of their column, ``numbers``."""
    remedy = (
        f"Convert all to {numbers.unit}, or leave these rows out."
        if numbers.converts
        else "Bring the two in apart, or leave these rows out."
    )
    for line, cell, (column, at) in zip(lines, cells, columns, strict=True):
        where = {"row": line, "column": column, "field": f"{line}:{at}", "found": cell}
        yield Issue(f"This column is in two units, {numbers.units_told}.", remedy, **where)


def above_whole(
    lines: pl.Series, parts: pl.Series, wholes: pl.Series, part: str, whole: str, at: int
) -> Iterator[Issue]:
    """Rows whose part is more than its whole."""
    for line, above, below in zip(lines, parts, wholes, strict=True):
        yield Issue(
            f"{above} of {below}: {part} is a part of {whole}, and never more.",
            "Put one of the numbers right, or leave the row out.",
            row=line,
            column=part,
            field=f"{line}:{at}",
            found=above,
        )


def repeated(
    lines: pl.Series, firsts: pl.Series, cells: pl.Series, column: str, grain: Grain, how: str
) -> Iterator[Issue]:
    """Rows of a period that has a value already."""
    for line, first, cell in zip(lines, firsts, cells, strict=True):
        yield Issue(
            f"This {grain} has a value in row {first} already.",
            f"Keep one row for each {grain}, or make one value of them: their {how}.",
            row=line,
            column=column,
            found=cell,
        )
