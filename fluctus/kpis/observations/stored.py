"""The values of a KPI as they are stored, in columns."""

from dataclasses import dataclass, replace
from typing import TypeAlias

import numpy as np
import polars as pl

from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.kpis.observations.frame import KEY


@dataclass(frozen=True, slots=True)
class Stored:
    """Stored values: all shapes (n,), in order of period; several may share one.

    ``instants`` are the starts of their periods in seconds since 1970. ``parts``
    tells the breakdown of each by its place in ``breakdowns``. NaN where there
    is no number; of a target that is a range, both sides have one. ``noted`` are those with a note.
    """

    instants: Floats
    values: Floats
    numerators: Floats
    denominators: Floats
    targets: Floats
    targets_high: Floats
    rows: Ints
    set_aside: Bools
    noted: Bools
    parts: Ints
    breakdowns: tuple[str, ...]
    reasons: dict[float, str]
    """Reasons of set-aside values, by the start of their period."""
    notes: dict[float, str]

    @classmethod
    def of(cls, frame: pl.DataFrame) -> "Stored":
        """Take the values of a frame as they will be read when it has been written."""
        frame = frame.sort(KEY)

        def floats(name: str) -> Floats:
            return frame[name].cast(pl.Float64).fill_null(float("nan")).to_numpy()

        names = frame["breakdown"].unique().sort()
        places = {name: position for position, name in enumerate(names)}
        remarks = frame.filter(pl.col("set_aside") | (pl.col("note") != ""))
        columns = ("period", "breakdown", "set_aside", "reason", "note")
        reasons, notes = told_by_period(remarks.select(columns).rows(), named=True)
        return cls(
            instants=floats("period"),
            values=floats("value"),
            numerators=floats("numerator"),
            denominators=floats("denominator"),
            targets=floats("target"),
            targets_high=floats("target_high"),
            rows=frame["rows"].to_numpy().astype(np.intp),
            set_aside=frame["set_aside"].to_numpy(),
            noted=(frame["note"] != "").to_numpy(),
            parts=frame["breakdown"]
            .replace_strict(places, return_dtype=pl.Int64)
            .to_numpy()
            .astype(np.intp),
            breakdowns=tuple(names),
            reasons=reasons,
            notes=notes,
        )

    def by_breakdown(self) -> dict[str, Floats]:
        """Return the values of each breakdown that take part; empty where there is but one."""
        if len(self.breakdowns) < 2:
            return {}
        return {
            name: self.values[(self.parts == position) & ~self.set_aside]
            for position, name in enumerate(self.breakdowns)
        }

    def only(self, at: Ints, reasons: dict[float, str], notes: dict[float, str]) -> "Stored":
        """Return those at some places, with what is said of them."""
        columns = {
            name: getattr(self, name)[at]
            for name in (
                *("instants", "values", "numerators", "denominators", "targets", "targets_high"),
                *("rows", "set_aside", "noted", "parts"),
            )
        }
        return replace(self, **columns, reasons=reasons, notes=notes)


Remark: TypeAlias = tuple[float, str, bool, str, str]
"""Period, breakdown, whether it is set aside, reason, and note."""


def told_by_period(rows: list[Remark], *, named: bool) -> tuple[dict[float, str], dict[float, str]]:
    """Gather reasons and notes by period.

    ``named`` puts the name of the breakdown before its note.
    """
    reasons: dict[float, list[str]] = {}
    notes: dict[float, list[str]] = {}
    for instant, name, aside, reason, note in rows:
        if aside:
            reasons.setdefault(instant, []).append(reason)
        if note:
            notes.setdefault(instant, []).append(f"{name}: {note}" if name and named else note)
    return (
        {instant: "; ".join(dict.fromkeys(texts)) for instant, texts in reasons.items()},
        {instant: "; ".join(texts) for instant, texts in notes.items()},
    )
