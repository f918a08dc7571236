"""States of the world from a table: the days, or the spans of days, in which each held."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from fluctus.tables.calendar_file import TITLE, Broken, CalendarEvent, CalendarRead
from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import TableError
from fluctus.tables.meaning.dates import read_dates

NO_DATES = "No column of dates was found. Give the days, or the first and the last day of each."
NUMBERS = "Beside the days there are numbers, not states. Bring values in as data of a KPI."
AMBIGUOUS = "The dates can be read in two ways. Write them as 2026-05-18."
LAST = re.compile(r"\b(to|until|till|end|ends|last|through|bis)\b", re.IGNORECASE)
MOST_READ_AS_DATES = 0.6
"""A column of which at least this share reads as dates is one."""


@dataclass(frozen=True, slots=True)
class _Span:
    line: int
    title: str
    first: date
    last: date


def read_states(content: bytes, name: str) -> CalendarRead:
    """Read a table of days, or of first and last days, each with the state that held.

    A table without a column of states is of one, called ``name``. Days of one state that follow
    each other become one span. Rows that cannot be read, spans that end before they begin, and
    such that overlap one of the same state are told by their line. Raises TableError where there
    is no table with dates.
    """
    grid = open_table(content).grid
    columns = [grid.cells[column].to_list() for column in grid.cells.columns]
    names = [column[0] for column in columns]
    dated = [n for n, column in enumerate(columns) if _is_dates(column[1:])]
    # A table without a row of names begins with a date.
    headless = bool(dated) and _moments([names[dated[0]]])[0] is not None
    if not dated:
        dated = [n for n, column in enumerate(columns) if _is_dates(column)]
        headless = bool(dated)
    if not dated:
        raise TableError(NO_DATES)
    firsts, lasts = _first_and_last(dated, [] if headless else names)
    titled = next((n for n in range(len(columns)) if n not in dated), None)
    rows = range(0 if headless else 1, len(grid))
    if titled is not None and all(map(_is_number, columns[titled][rows.start :])):
        raise TableError(NUMBERS)
    lines = grid.lines.to_list()
    begins = _days([columns[firsts][row] for row in rows])
    ends = begins if lasts is None else _days([columns[lasts][row] for row in rows])
    spans: list[_Span] = []
    broken: list[Broken] = []
    for row, first, last in zip(rows, begins, ends, strict=True):
        title = (columns[titled][row].strip() if titled is not None else "") or name
        empty_end = lasts is not None and not columns[lasts][row].strip()
        end = first if empty_end else last
        if first is None or end is None:
            broken.append(Broken(lines[row], "This row has no date.", "Write one."))
        elif end < first:
            detail = f"It ends on {end}, before it begins on {first}."
            broken.append(Broken(lines[row], detail, "Exchange its days."))
        else:
            spans.append(_Span(lines[row], title[:TITLE], first, end))
    return CalendarRead(_events(spans, broken), sorted(broken, key=lambda part: part.line), 0)


def _is_dates(cells: Sequence[str]) -> bool:
    filled = [cell for cell in cells if cell.strip()]
    if not filled:
        return False
    read = sum(moment is not None for moment in _moments(filled))
    return read / len(filled) >= MOST_READ_AS_DATES


def _is_number(cell: str) -> bool:
    return re.fullmatch(r"[-+\d.,\s%]*", cell) is not None


def _days(cells: Sequence[str]) -> list[date | None]:
    column = read_dates(cells)
    if column.others:
        raise TableError(AMBIGUOUS)
    return [None if moment is None else moment.date() for moment in column.values]


def _moments(cells: Sequence[str]) -> list[datetime | None]:
    return read_dates(cells).values


def _first_and_last(dated: list[int], names: list[str]) -> tuple[int, int | None]:
    """Tell the column of first days and that of last ones, where there is one."""
    if len(dated) < 2:
        return dated[0], None
    first, second = dated[:2]
    return (second, first) if names and LAST.search(names[first]) else (first, second)


def _events(spans: list[_Span], broken: list[Broken]) -> list[CalendarEvent]:
    """Join the days of each state, and tell of spans that overlap an earlier one."""
    events: list[CalendarEvent] = []
    for title in dict.fromkeys(span.title for span in spans):
        kept: list[_Span] = []
        of_title = sorted((s for s in spans if s.title == title), key=lambda s: (s.first, s.line))
        for span in of_title:
            before = kept[-1] if kept else None
            if before is not None and span.first <= before.last:
                detail = f"It overlaps {title} of line {before.line}."
                broken.append(Broken(span.line, detail, "Let one end before the other begins."))
            elif before is not None and span.first - before.last == timedelta(days=1):
                kept[-1] = _Span(before.line, title, before.first, span.last)
            else:
                kept.append(span)
        slug = re.sub(r"\W+", "-", title.lower())
        events += [
            CalendarEvent(f"state-{slug}-{span.first}", title, "", "state", span.first, span.last)
            for span in kept
        ]
    return events
