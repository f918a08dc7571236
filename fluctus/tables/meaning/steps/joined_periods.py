"""The period in several columns, such as a year and a month, or a date and a time of day."""

from typing import Final

from fluctus.tables.meaning.location import LocatedTable
from fluctus.tables.meaning.period_parts import Part, holds, is_called, parts_used, put_together
from fluctus.tables.meaning.steps.step import Step

ORDER: Final = (
    *(Part.YEAR, Part.QUARTER, Part.MONTH, Part.WEEK, Part.WEEKDAY),
    *(Part.DATE, Part.DAY, Part.TIME, Part.HOUR),
)
WHOLES: Final = {Part.MONTH_OF_YEAR: Part.DAY, Part.WEEK_OF_YEAR: Part.WEEKDAY}
"""Parts that hold their year, and what makes days of them."""


def find(table: LocatedTable) -> list[Step]:
    """Find columns that make a period only together."""
    parts = _with_wholes(table, columns_of_parts(table))
    used = parts_used(parts)
    whole = [part for part in WHOLES if part in used]
    if len(used) < 2 or (Part.DATE not in used and not whole and dates_in(table)):
        return []
    names = [table.names[parts[part]] for part in used]

    def do(table: LocatedTable) -> LocatedTable:
        at = [table.names.index(name) for name in names]
        joined = put_together(dict(zip(used, map(table.column, at), strict=True)))
        return table.with_column(" and ".join(names), joined, at[-1]).without(names)

    text = ", ".join(names[:-1]) + f" and {names[-1]}"
    return [
        Step(
            key=f"joined:{text}",
            says=f"{text} are the period together",
            why="Each of them alone is only a part of one.",
            do=do,
        )
    ]


def _with_wholes(table: LocatedTable, parts: dict[Part, int]) -> dict[Part, int]:
    """Add the column that holds months or weeks with their year, where another holds days of it.

    A column of whole dates beside it has what both say.
    """
    for whole, rest in WHOLES.items():
        if rest not in parts:
            continue
        dates = [at for at in dates_in(table) if at != parts[rest]]
        if len(dates) == 1 and holds(whole, table.column(dates[0])):
            kept = {part: at for part, at in parts.items() if at != dates[0]}
            return kept | {whole: dates[0]}
    return parts


def columns_of_parts(table: LocatedTable) -> dict[Part, int]:
    """Return which column holds each part of a period, by what it is called and what it holds."""
    found: dict[Part, int] = {}
    for number, name in enumerate(table.names):
        cells = table.column(number)
        part = next(
            (
                part
                for part in ORDER
                if part not in found and is_called(part, name) and holds(part, cells)
            ),
            None,
        )
        if part is not None:
            found[part] = number
    return found


def dates_in(table: LocatedTable) -> list[int]:
    """Return the columns that hold whole dates."""
    return [n for n in range(len(table.names)) if holds(Part.DATE, table.column(n))]
