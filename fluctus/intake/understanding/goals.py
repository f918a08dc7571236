"""Rows that hold a goal among the rows of people or places: the target of all of these."""

import re

import polars as pl

GOAL = re.compile(r"(?i)\s*(our |the )?(target|goal|plan|planned|budget|aim|limit)s?\s*")
PARTS = ("kpi", "breakdown")


def with_goals(rows: pl.DataFrame, values: list[str]) -> tuple[pl.DataFrame, str]:
    """Make the rows of a goal the targets of the rows beside them.

    ``rows`` have wall, kpi, breakdown, target, and ``values``, the columns of values.
    Returns the rows that are left and the name of the goal; "" where there is none.
    """
    for part in PARTS:
        names = rows[part].unique().to_list()
        goals = [name for name in names if GOAL.fullmatch(name)]
        if len(goals) != 1 or len(names) < 2 or len(values) != 1:
            continue
        other = next(name for name in PARTS if name != part)
        beside = ["wall", other]
        goal = rows.filter(pl.col(part) == goals[0])
        goal = goal.group_by(beside, maintain_order=True).agg(
            pl.col(values[0]).mean().alias("goal")
        )
        left = rows.filter(pl.col(part) != goals[0])
        left = left.join(goal, on=beside, how="left", maintain_order="left", nulls_equal=True)
        target = pl.coalesce("target", "goal").alias("target")
        return left.with_columns(target).drop("goal"), goals[0]
    return rows, ""
