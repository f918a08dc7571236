"""Whether what a feed has fetched is what it was set up for."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
import polars as pl

from fluctus.core.arrays import Floats
from fluctus.http.refusals import RefusalError
from fluctus.intake.kept.recognition import as_it_is_written, fitted
from fluctus.intake.kept.shape import KIND_WORDS, UNUSED, ShapeColumn, shape_of
from fluctus.intake.understanding.kpis import KpiRead
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import Reading
from fluctus.kpis.observations.frame import KEY
from fluctus.tables.grid import Grid

FACTORS: Final = (10.0, 100.0, 1_000.0, 60.0)
"""By which all values differ where a unit, a decimal mark or a clock has changed."""
NEAR: Final = 0.02
"""How far from a factor the same periods may be, as a share."""
FEW_SAME: Final = 3
"""Periods in common at least that tell a jump by themselves."""
LOOKED_BACK: Final = 60
"""Newest values that new ones are held against."""
AROUND: Final = 1.2
"""How far beyond the lowest and the highest of them a new one may be, divided by a factor."""
MOST_UNREADABLE: Final = 0.1


@dataclass(frozen=True, slots=True)
class Jump:
    """All values are ``factor`` times what they were."""

    factor: float
    before: float
    now: float


def misfits(
    columns: Sequence[ShapeColumn], units: dict[str, str], mapping: Mapping, grid: Grid
) -> tuple[list[str], Mapping]:
    """Say what no longer fits of a table; returns how to read it as well.

    ``columns`` are those of the table that ``mapping`` was made for, ``units`` those of its KPIs
    by key. A column more is no misfit.
    """
    try:
        found = as_it_is_written(mapping, grid)
    except RefusalError as refused:
        return [f"It can no longer be read: {refused.issues[0].detail}"], mapping
    told = _columns(columns, mapping, shape_of(found))
    mapping, marks = fitted(mapping, found)
    told += [*marks, *_units(units, found)]
    if not any(kpi.key in units for kpi in found.kpis):
        told.append("None of its KPIs is in the table any more")
    return told, mapping


def _columns(
    kept: Sequence[ShapeColumn], mapping: Mapping, found: Sequence[ShapeColumn]
) -> list[str]:
    now = {column.name: column.kind for column in found}
    used = [column for column in kept if mapping.roles.get(column.name) not in UNUSED]
    before = {column.name for column in kept}
    gone = [column.name for column in used if column.name not in now]
    new = [name for name in now if name not in before]
    beside = f"; {_named(new)} {'is' if len(new) == 1 else 'are'} new" if new else ""
    told = [f"Column {name} is not there any more{beside}" for name in gone]
    return told + [
        f"Column {column.name} holds {KIND_WORDS[now[column.name]]}, and held "
        f"{KIND_WORDS[column.kind]}"
        for column in used
        if column.name in now and now[column.name] is not column.kind
    ]


def _units(units: dict[str, str], found: Reading) -> list[str]:
    return [
        f"{kpi.name} is in {kpi.unit}, and was in {units[kpi.key]}"
        for kpi in found.kpis
        if units.get(kpi.key) and kpi.unit and kpi.unit != units[kpi.key]
    ]


def _named(names: Iterable[str]) -> str:
    some = list(names)
    more = f" and {len(some) - 3} more" if len(some) > 3 else ""
    return ", ".join(some[:3]) + more


def unreadable(reading: Reading) -> list[str]:
    """Say that too many rows cannot be read; nothing where they are few."""
    rows = len(reading.table.located)
    if reading.problem_count <= rows * MOST_UNREADABLE:
        return []
    first = reading.problems[0]
    where = "" if first.row is None else f"row {first.row}: "
    return [
        f"{reading.problem_count:,} of {rows:,} rows cannot be read, such as {where}{first.detail}"
    ]


def gone(kpi: KpiRead, present: pl.DataFrame) -> list[str]:
    """Say how many values are there of a KPI that its table no longer has, between its ends."""
    came = kpi.points.frame
    between = present.filter(
        pl.col("period").is_between(came["period"].min(), came["period"].max())
    )
    count = between.join(came, on=KEY, how="anti").height
    if not count:
        return []
    one = count == 1
    return [
        f"{count:,} {'value is' if one else 'values are'} no longer in the table, and "
        f"{'stays' if one else 'stay'} in {kpi.name}"
    ]


def jumped(kpi: KpiRead, present: pl.DataFrame) -> list[str]:
    """Say that all values of a KPI are a multiple of what they were, as far as that shows."""
    jump = find_jump(present, kpi.points.frame)
    if jump is None:
        return []
    times = f"{jump.factor:g} times" if jump.factor > 1 else f"a {1 / jump.factor:g}th of"
    return [
        f"{kpi.name} is about {times} what it was: {jump.now:,.4g} now, {jump.before:,.4g} before"
    ]


def find_jump(present: pl.DataFrame, incoming: pl.DataFrame) -> Jump | None:
    """Return the factor by which all values have jumped; None where none shows.

    Shown by the same periods, which all differ by one factor; or by new ones, each of which is
    far from all that there were, and among them once it is divided by the factor.
    """
    both = incoming.join(present, on=KEY, how="inner", maintain_order="left")
    both = both.filter((pl.col("value") != 0) & (pl.col("value_right") != 0))
    if both.height >= FEW_SAME:
        now, before = both["value"].to_numpy(), both["value_right"].to_numpy()
        return _jump_of_same(now, before)
    old = present.sort(KEY).tail(LOOKED_BACK)["value"].to_numpy()
    new = incoming.join(present, on=KEY, how="anti", maintain_order="left")["value"].to_numpy()
    return _jump_of_new(new, old) if len(new) and len(old) else None


def _jump_of_same(now: Floats, before: Floats) -> Jump | None:
    ratios = now / before
    for factor in _both_ways():
        if (np.abs(ratios / factor - 1) <= NEAR).all():
            return Jump(factor, float(np.median(before)), float(np.median(now)))
    return None


def _jump_of_new(new: Floats, old: Floats) -> Jump | None:
    """Find a jump of new values; where the old ones differ as much by themselves there is none."""
    if (old <= 0).any() or (new <= 0).any():
        return None
    low, high = float(old.min()), float(old.max())
    fits = [
        factor
        for factor in _both_ways()
        if high / low < max(factor, 1 / factor) / 2
        and ((new / factor >= low / AROUND) & (new / factor <= high * AROUND)).all()
        and ((new > high * AROUND) | (new < low / AROUND)).all()
    ]
    if not fits:
        return None
    before, now = float(np.median(old)), float(np.median(new))
    nearest = min(fits, key=lambda factor: abs(np.log(now / before / factor)))
    return Jump(nearest, before, now)


def _both_ways() -> list[float]:
    return [*FACTORS, *(1 / factor for factor in FACTORS)]
