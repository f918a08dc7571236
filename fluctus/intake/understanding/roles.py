"""The roles of a table's columns: as chosen, else as proposed, and why they cannot be."""

from collections.abc import Sequence

import polars as pl

from fluctus.http.refusals import Issue, RefusalError
from fluctus.intake.understanding.mapping import ONE_OF_A_KIND, ColumnRole, Mapping
from fluctus.intake.understanding.proposals import MOST_BREAKDOWNS, propose_roles
from fluctus.tables.meaning.columns import Column, ColumnKind
from fluctus.tables.meaning.layout import LongTable

CANNOT_READ = "This table cannot be read."
REPEATING_SHARE = 0.7
"""A column with fewer different cells than this share of those that are filled repeats itself."""


def settle_roles(columns: Sequence[Column], mapping: Mapping) -> list[ColumnRole]:
    """Return the role of each column; raises RefusalError for roles that make no values."""
    roles = _roles(columns, mapping)
    _refuse_without(roles, columns)
    return roles


def _roles(columns: Sequence[Column], mapping: Mapping) -> list[ColumnRole]:
    repeats = [
        column.kind is ColumnKind.TEXT
        and 0 < column.different < max(2, column.filled * REPEATING_SHARE)
        for column in columns
    ]
    roles = propose_roles(columns, repeats)
    chosen = [mapping.roles.get(column.name) for column in columns]
    for n, role in enumerate(chosen):
        if role is None:
            continue
        # A role of which there is one moves to the column that is chosen for it.
        if role in ONE_OF_A_KIND:
            roles = [
                ColumnRole.IGNORE if other is role and chosen[i] is not role else other
                for i, other in enumerate(roles)
            ]
        roles[n] = role
    ratio = ColumnRole.NUMERATOR in roles and ColumnRole.DENOMINATOR in roles
    if ratio and not any(role is ColumnRole.VALUE for role in chosen):
        roles = [ColumnRole.IGNORE if role is ColumnRole.VALUE else role for role in roles]
    if ColumnRole.KPI in roles:
        # One column of values, of many KPIs.
        seen = False
        for n, role in enumerate(roles):
            if role is ColumnRole.VALUE and seen and chosen[n] is None:
                roles[n] = ColumnRole.IGNORE
            seen = seen or role is ColumnRole.VALUE
    return roles


def with_finest_breakdown(
    roles: list[ColumnRole],
    long: LongTable,
    columns: Sequence[Column],
    wall: pl.Series,
    mapping: Mapping,
) -> list[ColumnRole]:
    """Take the column of words for the breakdown that tells the rows of each period apart.

    Regions beside quays would have the quays of each region summed without a word.
    """
    if ColumnRole.BREAKDOWN not in roles or ColumnRole.BREAKDOWN in mapping.roles.values():
        return roles
    kpi = [n for n, role in enumerate(roles) if role is ColumnRole.KPI]

    def tells_rows_apart(number: int) -> bool:
        keys = [long.cells.to_series(n) for n in (number, *kpi)]
        frame = pl.DataFrame([wall.alias("wall"), *keys]).drop_nulls("wall")
        return frame.n_unique() == frame.height

    proposed = roles.index(ColumnRole.BREAKDOWN)
    if tells_rows_apart(proposed):
        return roles
    others = (
        n
        for n, column in enumerate(columns)
        if column.kind is ColumnKind.TEXT
        and roles[n] in (ColumnRole.NOTE, ColumnRole.IGNORE)
        and mapping.roles.get(column.name) is None
        and columns[proposed].different < column.different <= MOST_BREAKDOWNS
    )
    finer = next((n for n in others if tells_rows_apart(n)), None)
    if finer is None:
        return roles
    swapped = {proposed: ColumnRole.IGNORE, finer: ColumnRole.BREAKDOWN}
    return [swapped.get(n, role) for n, role in enumerate(roles)]


def _refuse_without(roles: list[ColumnRole], columns: Sequence[Column]) -> None:
    for role in ONE_OF_A_KIND:
        names = [column.name for column, other in zip(columns, roles, strict=True) if other is role]
        if len(names) > 1:
            raise RefusalError(
                CANNOT_READ,
                Issue(
                    f"{' and '.join(names)} cannot both be the {role}.",
                    "Choose one of them.",
                    "roles",
                ),
            )
    if ColumnRole.PERIOD not in roles:
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "No column holds dates.",
                "Say for which period the table is, or give it a column of dates, such as "
                "2026-05-18 or 18 May 2026.",
                "period",
            ),
        )
    if ColumnRole.TARGET_HIGH in roles and ColumnRole.TARGET not in roles:
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "A target range has no low side.",
                "Make another column the target, or this one the target alone.",
                "roles",
            ),
        )
    parts = [ColumnRole.NUMERATOR in roles, ColumnRole.DENOMINATOR in roles]
    if any(parts) and not all(parts):
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "A ratio needs a numerator and a denominator.",
                "Give another column the other role.",
                "roles",
            ),
        )
    if ColumnRole.VALUE not in roles and not all(parts):
        raise RefusalError(
            CANNOT_READ,
            Issue(
                "No column holds numbers.", "One column must hold numbers, such as 19.4 or 19,4."
            ),
        )
