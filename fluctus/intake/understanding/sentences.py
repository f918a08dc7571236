"""A reading in sentences: each decision in the order in which it was made, why, and what else.

One function for each kind of decision. Each sentence comes with its alternatives, and each of
these with what it changes of the mapping: of the roles only those that become others, as a table
may have thousands; null for all of them.
"""

import calendar
from collections.abc import Callable
from dataclasses import dataclass, fields
from typing import Any, Final

import pycountry

from fluctus.core.words import in_a_row
from fluctus.intake.understanding.mapping import ONE_OF_A_KIND, ColumnRole, Mapping
from fluctus.intake.understanding.questions import Answer
from fluctus.intake.understanding.reading import Reading
from fluctus.kpis.calendar import ADVERBS, Grain
from fluctus.tables.meaning.columns import ColumnKind
from fluctus.tables.meaning.dates import EXAMPLES, DateStyle, read_dates
from fluctus.tables.meaning.layout import TableLayout, possible_layouts
from fluctus.tables.meaning.numbers import DecimalMark

MOST_OTHERS: Final = 8
"""Columns that are offered in place of another."""
MOST_NAMED: Final = 4
NUMBERS: Final = ("no", "one", "two", "three")
OF_THE_TABLE: Final = ("time_zone", "sheet", "block", "missing_words", "first_line", "last_line")
"""What holds however the columns are found."""
LAYOUTS: Final = {
    TableLayout.LONG: ("Each row is of one period", "The periods lie in rows"),
    TableLayout.WIDE: ("Each column is a period", "The periods lie in columns"),
    TableLayout.CROSS: ("Rows and columns are the period together", "In rows and columns"),
}
MARK_NAMES: Final = {DecimalMark.POINT: "a point", DecimalMark.COMMA: "a comma"}
CHOSEN: Final = "That was chosen."
NAMING: Final = {
    ColumnRole.KPI: "names the KPIs",
    ColumnRole.BREAKDOWN: "tells the parts apart",
}
INSTEAD: Final = NAMING | {ColumnRole.NOTE: "is a note", ColumnRole.IGNORE: "is left out"}
MEASURING: Final = {
    ColumnRole.TARGET: "is the target",
    ColumnRole.NUMERATOR: "is the part of a ratio",
    ColumnRole.DENOMINATOR: "is the whole of a ratio",
}


@dataclass(frozen=True, slots=True)
class Sentence:
    """One thing that was understood of a table.

    ``done`` is false for what a person has taken back; None for what can only be otherwise.
    """

    key: str
    says: str
    why: str
    done: bool | None
    alternatives: tuple[Answer, ...]


def sentences_of(reading: Reading) -> list[Sentence]:
    """Tell what was understood of a table, in the order in which it was decided."""
    return [sentence for tell in TOLD for sentence in tell(reading)]


def _afresh(**changes: Any) -> dict[str, Any]:
    """Return changes after which the columns are others: what was chosen of these is dropped."""
    fresh = Mapping().to_json() | {"roles": None}
    return {
        item.name: fresh[item.name] for item in fields(Mapping) if item.name not in OF_THE_TABLE
    } | changes


def _why(reading: Reading, choice: str, found: str) -> str:
    """Return why something is as it is: it was chosen, or ``found``."""
    return found if getattr(reading.asked, choice) is None else CHOSEN


def _names_of_columns(reading: Reading) -> list[Sentence]:
    located = reading.table.located
    rows = located.header_rows
    if rows:
        where = f"row {located.header_line}" if rows == 1 else f"{NUMBERS[rows]} rows"
        says = f"The names of the columns are in {where}"
    else:
        says = "The columns have no names"
    above = len(located.above)
    why = "What is below is data." if rows else "There is data from the first row on."
    if above:
        why = f"{above} {'line' if above == 1 else 'lines'} above {'is' if above == 1 else 'are'}"
        why = f"{why} a title." if above == 1 else f"{why} titles."
    reads = ("There are no names", "They are in one row", "They are in two rows")
    others = tuple(
        Answer(text, _afresh(header_rows=count))
        for count, text in enumerate(reads)
        if count != rows
    )
    return [Sentence("names", says, _why(reading, "header_rows", why), None, others)]


def _layout(reading: Reading) -> list[Sentence]:
    possible, force = possible_layouts(reading.table.located), reading.mapping.layout
    if len(possible) < 2 or force is None:
        return []
    wide = TableLayout.WIDE in possible
    why = "Names of columns are periods." if wide else "Names of columns are parts of periods."
    others = tuple(Answer(LAYOUTS[one][1], _afresh(layout=one)) for one in possible if one != force)
    says = LAYOUTS[force][0]
    return [Sentence("layout", says, _why(reading, "layout", why), None, others)]


def _steps(reading: Reading) -> list[Sentence]:
    return [Sentence(s.key, s.says, s.why, s.done, ()) for s in reading.table.steps]


def _as_role(reading: Reading, name: str, role: ColumnRole) -> dict[str, Any]:
    """Return the roles that change where one column gets one; who had it before gives it up."""
    had = []
    if role in ONE_OF_A_KIND:
        had = [other for other, its in reading.mapping.roles.items() if its is role]
    return {"roles": dict.fromkeys(had, ColumnRole.IGNORE) | {name: role}}


def _period(reading: Reading) -> list[Sentence]:
    table, style = reading.table, reading.mapping.date_style
    name = table.long.names[table.period]
    cells = table.texts(ColumnRole.PERIOD)
    first = next((cell for cell in cells.head(50) if cell), "")
    every = ADVERBS[reading.grain]
    says = f"{name} is the period, {every}: {first} is {_day(first, style)}"
    others = [
        Answer(f"{column.name} is the period", _as_role(reading, column.name, ColumnRole.PERIOD))
        for n, column in enumerate(table.columns)
        if column.kind is ColumnKind.DATE and n != table.period
    ][:MOST_OTHERS]
    others += [
        Answer(f"{first} is {day}, written as {EXAMPLES[other]}", {"date_style": other})
        for other in DateStyle
        if other is not style and (day := _day(first, other))
    ]
    why = f"{int(table.dates.wall.is_not_null().sum()):,} of its cells are dates written so"
    spoken = [_language(code) for code in table.dates.languages]
    why += f", with months in {spoken[0]}" if spoken else ""
    why += f" and, in some rows, in {' and '.join(spoken[1:])}." if spoken[1:] else "."
    return [Sentence("period", says, why, None, tuple(others))]


def _year(reading: Reading) -> list[Sentence]:
    year = reading.mapping.first_year
    if year is None:
        return []
    says = f"The dates have no year: the first is in {year}, and the others are counted on"
    why = _why(reading, "first_year", "The lines above the table name it.")
    others = tuple(
        Answer(f"The first is in {other}", {"first_year": other})
        for other in range(year - 3, year + 2)
        if other != year
    )
    return [Sentence("year", says, why, None, others)]


def _language(code: str) -> str:
    """Return what a language is called in English."""
    found = pycountry.languages.get(**{"alpha_2" if len(code) == 2 else "alpha_3": code})
    return str(found.name).partition(" (")[0] if found else code


def _day(cell: str, style: DateStyle | None) -> str:
    moment = read_dates([cell], style).values[0] if cell else None
    if moment is None:
        return ""
    clock = f" at {moment:%H:%M}" if moment.hour or moment.minute else ""
    return f"{moment.day} {moment:%B %Y}{clock}"


def _grain(reading: Reading) -> list[Sentence]:
    grains = {kpi.grain for kpi in reading.kpis}
    says = f"There is one value for each {reading.grain}"
    if len(grains) > 1:
        says = "Each KPI has one value for each of its own periods"
    others = tuple(
        Answer(f"One for each {grain}", {"grain": grain})
        for grain in Grain
        if grain is not reading.grain or len(grains) > 1
    )
    why = _why(reading, "grain", "The dates are so far apart.")
    return [Sentence("grain", says, why, None, others)]


def _weekday(reading: Reading) -> list[Sentence]:
    if not any(kpi.grain is Grain.WEEK for kpi in reading.kpis):
        return []
    first, days = reading.mapping.first_weekday or 0, calendar.day_name
    why = _why(reading, "first_weekday", "Most of the dates are of that day.")
    others = tuple(Answer(f"On {days[n]}", {"first_weekday": n}) for n in range(7) if n != first)
    return [Sentence("weekday", f"Weeks begin on {days[first]}", why, None, others)]


def _parts(reading: Reading) -> list[Sentence]:
    table = reading.table
    words = [
        column.name
        for column, role in zip(table.columns, table.roles, strict=True)
        if column.kind is ColumnKind.TEXT and role in (ColumnRole.IGNORE, ColumnRole.NOTE)
    ][:MOST_OTHERS]
    told = []
    for role, what in NAMING.items():
        if not table.has(role):
            continue
        at = table.roles.index(role)
        name, count = table.long.names[at], table.columns[at].different
        others = [
            *(
                Answer(f"{name} {reads}", _as_role(reading, name, other))
                for other, reads in INSTEAD.items()
                if other is not role
            ),
            *(Answer(f"{word} {what}", _as_role(reading, word, role)) for word in words),
        ]
        why = f"It holds {count:,} names that repeat."
        told.append(Sentence(str(role), f"{name} {what}", why, None, tuple(others)))
    return told


def _values(reading: Reading) -> list[Sentence]:
    table = reading.table
    names = [
        name
        for name, role in zip(table.long.names, table.roles, strict=True)
        if role is ColumnRole.VALUE
    ]
    if not names:
        return []
    more, one = len(names) - MOST_NAMED, len(names) == 1
    shown = [*names[:MOST_NAMED], *([f"{more:,} more"] if more > 0 else [])]
    others = tuple(
        Answer(f"{name} is left out", _as_role(reading, name, ColumnRole.IGNORE))
        for name in names[:MOST_OTHERS]
        if not one
    )
    says = f"{in_a_row(shown)} {'holds' if one else 'hold'} the values"
    why = f"Numbers are in {'it' if one else 'them'}."
    return [Sentence("values", says, why, None, others)]


def _measures(reading: Reading) -> list[Sentence]:
    table, told = reading.table, []
    for role, what in MEASURING.items():
        if table.has(role):
            name = table.long.names[table.roles.index(role)]
            others = (
                Answer(f"{name} holds values", _as_role(reading, name, ColumnRole.VALUE)),
                Answer(f"{name} is left out", _as_role(reading, name, ColumnRole.IGNORE)),
            )
            told.append(Sentence(str(role), f"{name} {what}", "Its name says so.", None, others))
    return told


def _mark(reading: Reading) -> list[Sentence]:
    mark = reading.mapping.decimal_mark
    if mark is None or not any(column.decimals for column in reading.table.numbers.values()):
        return []
    other = next(one for one in DecimalMark if one is not mark)
    says = f"{MARK_NAMES[mark].capitalize()} stands before the fraction of a number"
    why = _why(reading, "decimal_mark", "Most numbers can only be read so.")
    instead = Answer(f"{MARK_NAMES[other].capitalize()} stands there", {"decimal_mark": other})
    return [Sentence("mark", says, why, None, (instead,))]


def _together(reading: Reading) -> list[Sentence]:
    if not reading.repeated:
        return []
    count = reading.repeated
    rows = f"{count:,} {'row shares' if count == 1 else 'rows share'} a period with another"
    if reading.mapping.combine:
        says, why = "one value is made of them", "So many are hardly mistakes."
        other = Answer("They are mistakes", {"combine": False})
    else:
        says, why = "that is a mistake", "They are few."
        other = Answer("Make one value of them", {"combine": True})
    why = _why(reading, "combine", why)
    return [Sentence("together", f"{rows}: {says}", why, None, (other,))]


TOLD: Final[tuple[Callable[[Reading], list[Sentence]], ...]] = (
    _names_of_columns,
    _layout,
    _steps,
    _period,
    _year,
    _grain,
    _weekday,
    _parts,
    _values,
    _measures,
    _mark,
    _together,
)
