"""Two columns that look like a part and its whole: the ratio that they would make."""

from dataclasses import dataclass
from typing import Final

import numpy as np
import polars as pl

from fluctus.core.shaping import above_whole
from fluctus.intake.understanding.mapping import ColumnRole, KpiChoice, Mapping
from fluctus.intake.understanding.read_table import ReadTable
from fluctus.kpis.derived.wholes import named_part_of
from fluctus.tables.meaning.numbers import NumberColumn
from fluctus.tables.meaning.words import as_words, readable, split_unit

FEWEST: Final = 5
"""Rows with both numbers that it takes."""
MOST_PAIRED: Final = 60
"""Columns that are held against one another; a table of more is a log of sensors."""
LEAST_RIGHT: Final = 0.95
"""Share of the rows whose part is no more than its whole; the others are mistakes."""
PERCENT: Final = 100.0


@dataclass(frozen=True, slots=True)
class ShareOffer:
    """A ratio that two columns of a table look like, and the choices that make it of them."""

    part: str
    whole: str
    says: str
    roles: dict[str, ColumnRole]
    key: str
    choice: KpiChoice


def offered_share(table: ReadTable, mapping: Mapping) -> ShareOffer | None:
    """Find a part and its whole among the columns of values; None where there is no such pair.

    Their names say so, both count the same way, and the part is hardly ever above the whole.
    """
    if table.has(ColumnRole.KPI) or table.has(ColumnRole.NUMERATOR):
        return None
    values = [n for n, role in enumerate(table.roles) if role is ColumnRole.VALUE]
    if not 2 <= len(values) <= MOST_PAIRED or table.long.sources is not None:
        return None
    found = [
        (_mistakes(table, part, whole), part, whole)
        for part in values
        for whole in values
        if part != whole and _named_so(table.long.names[part], table.long.names[whole])
    ]
    fitting = [(mistakes, part, whole) for mistakes, part, whole in found if mistakes is not None]
    if not fitting:
        return None
    mistakes, part, whole = min(fitting)
    names = table.long.names[part], table.long.names[whole]
    others = [table.long.names[n] for n in values if n not in (part, whole)]
    key = ratio_key(names[0])
    return ShareOffer(
        *names,
        says=_says(table.numbers[part].numbers, table.numbers[whole].numbers, names, mistakes),
        roles={
            names[0]: ColumnRole.NUMERATOR,
            names[1]: ColumnRole.DENOMINATOR,
            **dict.fromkeys(others, ColumnRole.VALUE),
        },
        key=key,
        choice=KpiChoice(factor=PERCENT, details=_details(*names)),
    )


def ratio_key(numerator: str) -> str:
    """Return what the ratio of a table is known by."""
    return f"{numerator} ratio"


def above_their_whole(table: ReadTable) -> pl.Series:
    """Tell which rows have a part that is more than its whole."""
    above, below = (
        table.amounts(role).fill_null(float("nan")).to_numpy()
        for role in (ColumnRole.NUMERATOR, ColumnRole.DENOMINATOR)
    )
    return pl.Series(above_whole(above, below))


def _details(part: str, whole: str) -> dict[str, object]:
    name = f"{readable(split_unit(part)[0])} of {readable(split_unit(whole)[0]).lower()}"
    return {"name": name[:120], "unit": "%", "decimals": 1, "floor": 0.0, "ceiling": PERCENT}


def _named_so(part: str, whole: str) -> bool:
    return named_part_of(*(as_words(split_unit(name)[0]) for name in (part, whole)))


def _mistakes(table: ReadTable, part: int, whole: int) -> int | None:
    """Count the rows whose part is above its whole; None where they are no such pair."""
    columns = table.numbers[part], table.numbers[whole]
    units = {split_unit(table.long.names[n])[1] or table.numbers[n].unit for n in (part, whole)}
    if len(units) > 1 or "%" in units or not all(map(_is_counted, columns)):
        return None
    above, below = (column.numbers.fill_null(float("nan")).to_numpy() for column in columns)
    both = ~np.isnan(above) & ~np.isnan(below)
    if both.sum() < FEWEST or not (above < below)[both].any():
        return None
    wrong = int(above_whole(above, below)[both].sum())
    return wrong if wrong <= (1 - LEAST_RIGHT) * both.sum() else None


def _is_counted(column: NumberColumn) -> bool:
    lowest = column.numbers.min()
    return isinstance(lowest, float) and lowest >= 0


def _says(part: pl.Series, whole: pl.Series, names: tuple[str, str], mistakes: int) -> str:
    above, below = (_sum(side, part.is_not_null() & whole.is_not_null()) for side in (part, whole))
    text = f"{names[0]} looks like a part of {names[1]}: {above:,.6g} of {below:,.6g} in all"
    if mistakes:
        rows = "row has" if mistakes == 1 else "rows have"
        return f"{text}, but {mistakes:,} {rows} more than the whole."
    return f"{text}, and never more."


def _sum(side: pl.Series, both: pl.Series) -> float:
    return float(side.filter(both).sum())
