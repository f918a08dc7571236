"""Writes of values, each one transaction: by hand, and from a table."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl
from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.queries import name_of
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Calendar, Grain, from_text, label
from fluctus.kpis.chart.queries import last_period_of, state_of_kpi
from fluctus.kpis.chart.services import locked, record, renew
from fluctus.kpis.models import DataChange, Kpi, Observation
from fluctus.kpis.observations.stored import (
    CONTENT,
    DEFAULTS,
    FRAME,
    KEY,
    Progress,
    add_values,
    frame_of,
    put_values,
    read_frame,
    remove_values,
    row_of,
)

NOT_SAVED = "The values were not saved."
NO_REASON = Issue("A value is set aside with a reason.", "Say why it is set aside.", "reason")
AHEAD = r"\+(\d{1,4})"
"""A period written as so many after the last one: ``+1``."""


class Mode(StrEnum):
    """What becomes of values that are there already when more come in."""

    ADD = "add"
    UPDATE = "update"
    REPLACE = "replace"


@dataclass(frozen=True, slots=True)
class Edit:
    """One value as a person writes it; ``seen`` is the act that wrote what the person saw."""

    period: str
    breakdown: str = ""
    value: float | None = None
    note: str = ""
    set_aside: bool = False
    reason: str = ""
    remove: bool = False
    seen: int | None = None


@dataclass(frozen=True, slots=True)
class Difference:
    """Values that come in beside those that are there; ``missing`` are there and do not come."""

    new: pl.DataFrame
    changed: pl.DataFrame
    same: pl.DataFrame
    missing: pl.DataFrame

    def counts(self) -> dict[str, int]:
        """How many of each."""
        return {
            "new": self.new.height,
            "changed": self.changed.height,
            "same": self.same.height,
            "missing": self.missing.height,
        }


def compare(kpi: Kpi, incoming: pl.DataFrame) -> Difference:
    """Tell what is new, changed, the same and missing in a frame of values.

    A changed value keeps its reason for being set aside, and its note where
    none comes in.
    """
    present = read_frame(kpi)
    if present.is_empty():
        nothing = incoming.clear()
        return Difference(incoming, nothing, nothing, nothing)
    old = present.rename({name: f"old_{name}" for name in present.columns if name not in KEY})
    both = incoming.join(old, on=KEY, how="inner", maintain_order="left")
    kept = pl.when(pl.col("note") == "").then(pl.col("old_note")).otherwise(pl.col("note"))
    both = both.with_columns(
        kept.alias("note"),
        pl.col("old_set_aside").alias("set_aside"),
        pl.col("old_reason").alias("reason"),
    )
    equal = pl.all_horizontal(
        *(pl.col(name).eq_missing(pl.col(f"old_{name}")) for name in CONTENT),
        pl.col("note") == pl.col("old_note"),
        pl.col("rows") == pl.col("old_rows"),
    )
    columns = list(FRAME)
    return Difference(
        new=incoming.join(present, on=KEY, how="anti", maintain_order="left"),
        changed=both.filter(~equal).select(columns),
        same=both.filter(equal).select(columns),
        missing=present.join(incoming, on=KEY, how="anti", maintain_order="left").select(columns),
    )


@transaction.atomic
def write_frame(
    kpi: Kpi,
    incoming: pl.DataFrame,
    mode: Mode,
    author: User | None,
    summary: str,
    progress: Progress = lambda share: None,
) -> tuple[DataChange | None, Difference]:
    """Bring a frame of values into a KPI; returns the act, None where nothing changes."""
    kpi = locked(kpi)
    difference = compare(kpi, incoming)
    changed = difference.changed if mode is not Mode.ADD else difference.changed.clear()
    missing = difference.missing if mode is Mode.REPLACE else difference.missing.clear()
    if not (difference.new.height or changed.height or missing.height):
        return None, difference
    before = state_of_kpi(kpi)
    act = DataChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200], added=difference.new.height,
        changed=changed.height, removed=missing.height,
    )  # fmt: skip
    add_values(kpi, act, difference.new, progress)
    put_values(kpi, act, changed)
    remove_values(kpi, act, missing)
    after = renew(kpi, summary)
    record(kpi, author, summary, before, after, act)
    return act, difference


@transaction.atomic
def edit_values(kpi: Kpi, edits: Sequence[Edit], author: User) -> Kpi:
    """Save values written by hand: all of them, or none.

    Raises RefusalError for a period that is none, one named twice, or a value
    that somebody else has changed since (status 412); then nothing has changed.
    """
    kpi = locked(kpi)
    calendar = _calendar(kpi)
    periods = _periods(kpi, calendar, edits)
    keys = [(period, one.breakdown) for period, one in zip(periods, edits, strict=True)]
    present = _present(kpi, keys)
    _refuse_stale(kpi, calendar, keys, edits, present)
    rows, gone, added = [], [], 0
    for key, one in zip(keys, edits, strict=True):
        old = present.get(key)
        seconds = key[0].timestamp()
        if one.remove:
            gone += [{"period": seconds, "breakdown": key[1], "value": 0.0}] if old else []
            continue
        row = _row(seconds, one, old)
        added += old is None
        rows.append(row)
    if not rows and not gone:
        return kpi
    before = state_of_kpi(kpi)
    summary = _summary(kpi, calendar, edits, keys, present)
    act = DataChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200], added=added, changed=len(rows) - added,
        removed=len(gone),
    )  # fmt: skip
    put_values(kpi, act, frame_of(rows))
    remove_values(kpi, act, frame_of(gone))
    after = renew(kpi, summary)
    record(kpi, author, summary, before, after, act)
    return kpi


@transaction.atomic
def set_aside(
    kpi: Kpi,
    revision: int,
    author: User,
    period: str,
    breakdown: str | None,
    reason: str | None,
) -> Kpi:
    """Set the values of a point aside with a ``reason``, or put them back where it is None.

    A point of the whole is made of the values of every breakdown. Raises
    StaleError when the chart is no longer at ``revision``.
    """
    kpi = locked(kpi, revision)
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    if reason is not None and not reason.strip():
        raise RefusalError(NOT_SAVED, NO_REASON)
    try:
        start = from_text(period, grain, zone)
    except (ValueError, OverflowError):
        raise NotThereError("period") from None
    own = {} if breakdown is None else {"breakdown": breakdown}
    rows = list(Observation.objects.filter(kpi=kpi, period=start, **own))
    if not rows:
        raise NotThereError("value")
    rows = [row for row in rows if row.set_aside is (reason is None) or row.reason != reason]
    if not rows:
        return kpi
    name = label(start, grain, zone)
    summary = (
        f"Put {name} back among the others" if reason is None else f"Set {name} aside: {reason}"
    )
    before = state_of_kpi(kpi)
    act = DataChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200], changed=len(rows)
    )
    marks = {"set_aside": reason is not None, "reason": reason or ""}
    values = [row_of(row) | marks for row in rows]
    put_values(kpi, act, frame_of(values))
    after = renew(kpi, summary)
    record(kpi, author, summary, before, after, act)
    return kpi


def _calendar(kpi: Kpi) -> Calendar:
    """Return how the stored periods of a KPI are cut: its weeks begin as those there are do."""
    zone = ZoneInfo(kpi.time_zone)
    last = last_period_of(kpi) if kpi.grain == Grain.WEEK else None
    weekday = kpi.first_weekday if last is None else last.astimezone(zone).weekday()
    return Calendar(zone, weekday, kpi.first_month)


def _periods(kpi: Kpi, calendar: Calendar, edits: Sequence[Edit]) -> list[datetime]:
    grain = Grain(kpi.grain)
    last = last_period_of(kpi)
    periods: list[datetime] = []
    issues: list[Issue] = []
    seen: set[tuple[datetime, str]] = set()
    for number, one in enumerate(edits):
        field = f"edits.{number}.period"
        try:
            ahead = re.fullmatch(AHEAD, one.period)
            if ahead is not None and last is not None:
                period = last
                for _ in range(int(ahead[1])):
                    period = calendar.following(period, grain)
            else:
                period = from_text(one.period, grain, calendar.zone)
        except (ValueError, OverflowError):
            issues.append(
                Issue("This is not a period.", "Write a date, as in 2026-05-18.", field,
                      found=one.period)
            )  # fmt: skip
            continue
        period = datetime.fromtimestamp(
            float(calendar.starts(np.array([period.timestamp()]), grain)[0]), calendar.zone
        )
        if (period, one.breakdown) in seen:
            issues.append(
                Issue(f"This {grain} is written twice.", "Keep one of them.", field,
                      found=one.period)
            )  # fmt: skip
        seen.add((period, one.breakdown))
        periods.append(period)
    if issues:
        raise RefusalError(NOT_SAVED, *issues)
    return periods


def _present(kpi: Kpi, keys: list[tuple[datetime, str]]) -> dict[tuple[datetime, str], Observation]:
    rows = Observation.objects.filter(kpi=kpi, period__in={period for period, _ in keys})
    wanted = set(keys)
    return {
        (row.period, row.breakdown): row
        for row in rows.select_related("written_by__author")
        if (row.period, row.breakdown) in wanted
    }


def _refuse_stale(
    kpi: Kpi,
    calendar: Calendar,
    keys: list[tuple[datetime, str]],
    edits: Sequence[Edit],
    present: dict[tuple[datetime, str], Observation],
) -> None:
    issues = []
    for number, (key, one) in enumerate(zip(keys, edits, strict=True)):
        row = present.get(key)
        if (row.written_by_id if row else None) == one.seen:
            continue
        name = label(key[0], Grain(kpi.grain), calendar.zone)
        if row is None:
            text = f"The value of {name} has been removed since you saw it."
        else:
            who = row.written_by.author
            text = (
                f"The value of {name} is now {row.value:g}"
                f"{f', written by {name_of(who)}' if who else ''}; you saw another."
            )
        issues.append(Issue(text, "Look at it, then write yours again.", f"edits.{number}.value"))
    if issues:
        raise RefusalError(
            "Somebody else has changed this meanwhile; nothing was saved.", *issues, status=412
        )


def _row(seconds: float, one: Edit, old: Observation | None) -> dict[str, object]:
    if one.value is None:
        raise RefusalError(
            NOT_SAVED, Issue("The value is missing.", "Write a number, or remove the value.")
        )
    if one.set_aside and not one.reason.strip():
        raise RefusalError(
            NOT_SAVED,
            NO_REASON,
        )
    row: dict[str, object] = dict(DEFAULTS)
    if old is not None:
        row |= {"target": old.target, "rows": old.rows}
        row |= parts_with(old, one.value)
    return row | {
        "period": seconds,
        "breakdown": one.breakdown,
        "value": one.value,
        "note": one.note,
        "set_aside": one.set_aside,
        "reason": one.reason if one.set_aside else "",
    }


def parts_with(row: Observation, value: float) -> dict[str, float | None]:
    """Return the parts of a ratio that is changed to ``value``, so that longer grains agree.

    None where there are none, or where a ratio of 0 does not say them.
    """
    if row.numerator is None or not row.value:
        return {"numerator": None, "denominator": None}
    return {
        "numerator": row.numerator * (value / row.value),
        "denominator": row.denominator,
    }


def _summary(
    kpi: Kpi,
    calendar: Calendar,
    edits: Sequence[Edit],
    keys: list[tuple[datetime, str]],
    present: dict[tuple[datetime, str], Observation],
) -> str:
    if len(edits) > 1:
        removed = sum(one.remove for one in edits)
        verb = "Removed" if removed == len(edits) else "Wrote"
        return f"{verb} {len(edits)} values"
    one, key = edits[0], keys[0]
    old = present.get(key)
    name = label(key[0], Grain(kpi.grain), calendar.zone)
    where = f"{name}, {one.breakdown}" if one.breakdown else name
    if one.remove:
        return f"Removed the value of {where}"
    if old is None:
        return f"Added the value of {where}"
    if one.set_aside and not old.set_aside:
        return f"Set {where} aside: {one.reason}"
    if old.set_aside and not one.set_aside:
        return f"Put {where} back among the others"
    if one.value == old.value:
        return f"Changed the note of {where}"
    return f"Changed the value of {where}"
