"""Writes of values, each one transaction: by hand, set aside, and from a table."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any, TypeAlias
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl
from django.db import transaction

from fluctus.accounts.models import Role
from fluctus.accounts.queries import name_of
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import refuse_beyond
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Calendar, Grain, from_text, label
from fluctus.kpis.chart.keeping import Kept, keep_values, kept_chart, locked, refuse_derived
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.hooks import releasers
from fluctus.kpis.models import DataChange, Kpi, Observation
from fluctus.kpis.observations.frame import DEFAULTS, KEY, frame_of, row_of
from fluctus.kpis.observations.reading import read_frame
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.observations.writing import Progress, add_values, put_values, remove_values
from fluctus.kpis.periods import no_period
from fluctus.kpis.record.log import record
from fluctus.kpis.values.difference import Difference, compare
from fluctus.kpis.values.fractions import (
    NOT_SAVED,
    fraction_of,
    parts_with,
    refuse_above_whole,
)
from fluctus.kpis.values.queries import last_period_of
from fluctus.tables.days import LAST_DAY

NO_REASON = Issue("A value is set aside with a reason.", "Say why it is set aside.", "reason")
AHEAD = r"\+(\d{1,5})"
"""A period written as so many after the last one: ``+1``."""

Key: TypeAlias = tuple[datetime, str]
"""What a value is known by: its period and its breakdown."""


class ImportMode(StrEnum):
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
    numerator: float | None = None
    denominator: float | None = None
    note: str = ""
    set_aside: bool = False
    reason: str = ""
    remove: bool = False
    release: bool = False
    """Whether what was typed may be replaced by what a feed brings."""
    seen: int | None = None


@transaction.atomic
def write_frame(
    kpi: Kpi,
    incoming: pl.DataFrame,
    mode: ImportMode,
    actor: Actor,
    summary: str,
    progress: Progress = lambda share: None,
    *,
    keep_typed: bool = False,
) -> tuple[DataChange | None, Difference]:
    """Bring a frame of values into a KPI; returns the act, None where nothing changes.

    With ``keep_typed`` what people have typed stays as it is.
    """
    kpi = locked(kpi)
    refuse_above_whole(kpi, incoming)
    difference = compare(kpi, incoming)
    if keep_typed:
        difference = difference.without_typed()
    updating, replacing = mode is not ImportMode.ADD, mode is ImportMode.REPLACE
    changed = difference.changed if updating else difference.changed.clear()
    missing = difference.missing if replacing else difference.missing.clear()
    if not (difference.new.height or changed.height or missing.height):
        return None, difference
    refuse_beyond(kpi.workspace, Kind.VALUES, difference.new.height - missing.height)
    if replacing:
        _refuse_of_others(kpi, actor, pl.concat([changed, missing]), "Replacing")
    before = state_of_kpi(kpi)
    act = DataChange.objects.create(
        kpi=kpi,
        author=actor.person,
        at=actor.now,
        summary=summary[:200],
        added=difference.new.height,
        changed=changed.height,
        removed=missing.height,
        newest=_newest(difference.new),
    )
    add_values(kpi, act, difference.new, progress)
    put_values(kpi, act, changed)
    remove_values(kpi, act, missing)
    after = Stored.of(difference.merged(changed=updating, missing=not replacing))
    kept = keep_values(kpi, actor, summary, after)
    record(kpi, actor, summary, before, kept.chart.state, act)
    return act, difference


@transaction.atomic
def edit_values(kpi: Kpi, edits: Sequence[Edit], actor: Actor) -> Kept:
    """Save values written by hand: all of them, or none.

    Raises RefusalError for a period that is none, one named twice, or a value
    that somebody else has changed since (status 412); then nothing has changed.
    """
    kpi = locked(kpi)
    refuse_derived(kpi, NOT_SAVED)
    calendar = _calendar(kpi)
    periods = _periods(kpi, calendar, edits)
    keys = [(period, edit.breakdown) for period, edit in zip(periods, edits, strict=True)]
    present = values_at(kpi, keys)
    _refuse_stale(kpi, calendar, keys, edits, present)
    rows, removed, new = [], [], []
    for number, (key, edit) in enumerate(zip(keys, edits, strict=True)):
        old = present.get(key)
        if not edit.remove:
            rows.append(_row(kpi, key, edit, old, f"edits.{number}"))
            new += [key[0]] * (old is None)
        elif old is not None:
            removed.append({"period": key[0].timestamp(), "breakdown": key[1], "value": 0.0})
    if not rows and not removed:
        return kept_chart(kpi, actor.now)
    refuse_beyond(kpi.workspace, Kind.VALUES, len(new) - len(removed))
    _refuse_of_others(kpi, actor, frame_of(removed), "Removing")
    before = state_of_kpi(kpi)
    summary = _summary(kpi, calendar, edits, keys, present)
    act = DataChange.objects.create(
        kpi=kpi,
        author=actor.person,
        at=actor.now,
        summary=summary[:200],
        added=len(new),
        changed=len(rows) - len(new),
        removed=len(removed),
        newest=max(new, default=None),
    )
    put_values(kpi, act, frame_of(rows))
    remove_values(kpi, act, frame_of(removed))
    kept = keep_values(kpi, actor, summary)
    record(kpi, actor, summary, before, kept.chart.state, act)
    if any(edit.release for edit in edits):
        for release in releasers:
            release(kpi)
    return kept


@transaction.atomic
def set_aside(
    kpi: Kpi,
    revision: int,
    actor: Actor,
    period: str,
    breakdown: str | None,
    reason: str | None,
) -> Kept:
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
    only = {} if breakdown is None else {"breakdown": breakdown}
    stored = list(Observation.objects.filter(kpi=kpi, period=start, **only))
    if not stored:
        raise NotThereError("value")
    marks: dict[str, Any] = {"set_aside": reason is not None, "reason": reason or ""}
    rows = [
        row_of(value) | marks
        for value in stored
        if value.set_aside is (reason is None) or value.reason != marks["reason"]
    ]
    if not rows:
        return kept_chart(kpi, actor.now)
    name = label(start, grain, zone)
    summary = (
        f"Put {name} back among the others" if reason is None else f"Set {name} aside: {reason}"
    )
    before = state_of_kpi(kpi)
    act = DataChange.objects.create(
        kpi=kpi, author=actor.person, summary=summary[:200], changed=len(rows)
    )
    put_values(kpi, act, frame_of(rows))
    kept = keep_values(kpi, actor, summary)
    record(kpi, actor, summary, before, kept.chart.state, act)
    return kept


def _newest(added: pl.DataFrame) -> datetime | None:
    """Return the newest period that values are added of."""
    return None if added.is_empty() else datetime.fromtimestamp(added["period"].max(), UTC)  # type: ignore[arg-type]


def _refuse_of_others(kpi: Kpi, actor: Actor, gone: pl.DataFrame, what: str) -> None:
    """Raise RefusalError (403) where values of others would go, for whoever is no editor."""
    if gone.is_empty() or actor.role.includes(Role.EDITOR):
        return
    own = DataChange.objects.filter(kpi=kpi, author=actor.person).values_list("pk", flat=True)
    written = gone.select(KEY).join(read_frame(kpi), on=KEY, how="inner")["written_by"]
    count = int((~written.is_in(list(own))).sum())
    if count:
        actor.refuse_below(
            Role.EDITOR, f"{what} {count:,} value{'' if count == 1 else 's'} that others wrote"
        )


def _calendar(kpi: Kpi) -> Calendar:
    """Return how the stored periods of a KPI are cut: its weeks begin as those there are do."""
    zone = ZoneInfo(kpi.time_zone)
    last = last_period_of(kpi) if kpi.grain == Grain.WEEK else None
    weekday = kpi.first_weekday if last is None else last.astimezone(zone).weekday()
    return Calendar(zone, weekday, kpi.first_month)


def _periods(kpi: Kpi, calendar: Calendar, edits: Sequence[Edit]) -> list[datetime]:
    """Return the period of each edit; raises RefusalError for what is none, or named twice."""
    grain, last = Grain(kpi.grain), last_period_of(kpi)
    moments: list[float] = []
    issues: list[Issue] = []
    for number, edit in enumerate(edits):
        try:
            moments.append(_moment(edit.period, last, calendar, grain).timestamp())
        except (ValueError, OverflowError):
            issues.append(no_period(edit.period, f"edits.{number}.period"))
    if issues:
        raise RefusalError(NOT_SAVED, *issues)
    starts = calendar.starts(np.array(moments), grain).tolist()
    seen: set[tuple[float, str]] = set()
    for number, (start, edit) in enumerate(zip(starts, edits, strict=True)):
        if (start, edit.breakdown) in seen:
            issues.append(
                Issue(
                    f"This {grain} is written twice.",
                    "Keep one of them.",
                    f"edits.{number}.period",
                    found=edit.period,
                )
            )
        seen.add((start, edit.breakdown))
    if issues:
        raise RefusalError(NOT_SAVED, *issues)
    return [datetime.fromtimestamp(start, UTC) for start in starts]


def _moment(text: str, last: datetime | None, calendar: Calendar, grain: Grain) -> datetime:
    """Read a moment of a period, or the period so many after the ``last``; raises ValueError."""
    ahead = re.fullmatch(AHEAD, text)
    if ahead is not None and last is not None:
        moment = calendar.following(last, grain, int(ahead[1]))
        if moment.date() > LAST_DAY:
            raise ValueError(text)
        return moment
    return from_text(text, grain, calendar.zone)


def values_at(kpi: Kpi, keys: Sequence[Key]) -> dict[Key, Observation]:
    """Return the values that there are of some periods and breakdowns."""
    rows = Observation.objects.filter(kpi=kpi, period__in={period for period, _ in keys})
    asked_for = set(keys)
    return {
        (row.period, row.breakdown): row
        for row in rows.select_related("written_by__author")
        if (row.period, row.breakdown) in asked_for
    }


def _refuse_stale(
    kpi: Kpi,
    calendar: Calendar,
    keys: list[Key],
    edits: Sequence[Edit],
    present: dict[Key, Observation],
) -> None:
    issues = []
    for number, (key, edit) in enumerate(zip(keys, edits, strict=True)):
        row = present.get(key)
        if (row.written_by_id if row else None) == edit.seen:
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


def _row(kpi: Kpi, key: Key, edit: Edit, old: Observation | None, field: str) -> dict[str, object]:
    """Return the row that an edit writes in the place of the ``old`` value."""
    fraction = fraction_of(kpi, edit.numerator, edit.denominator, field)
    value = edit.value if fraction is None else fraction["value"]
    if value is None:
        raise RefusalError(
            NOT_SAVED, Issue("The value is missing.", "Write a number, or remove the value.")
        )
    if edit.set_aside and not edit.reason.strip():
        raise RefusalError(NOT_SAVED, NO_REASON)
    row: dict[str, object] = dict(DEFAULTS)
    if old is not None:
        row |= {"target": old.target, "target_high": old.target_high, "rows": old.rows}
        row |= parts_with(old, value)
    return (
        row
        | {
            "period": key[0].timestamp(),
            "breakdown": edit.breakdown,
            "value": value,
            "note": edit.note,
            "set_aside": edit.set_aside,
            "reason": edit.reason if edit.set_aside else "",
            "typed": not edit.release and (old is None or old.typed or old.value != value),
        }
        | (fraction or {})
    )


def _summary(
    kpi: Kpi,
    calendar: Calendar,
    edits: Sequence[Edit],
    keys: list[Key],
    present: dict[Key, Observation],
) -> str:
    if len(edits) > 1:
        removed = sum(edit.remove for edit in edits)
        verb = "Removed" if removed == len(edits) else "Wrote"
        return f"{verb} {len(edits)} values"
    edit, key = edits[0], keys[0]
    old = present.get(key)
    name = label(key[0], Grain(kpi.grain), calendar.zone)
    where = f"{name}, {edit.breakdown}" if edit.breakdown else name
    if edit.remove:
        return f"Removed the value of {where}"
    if old is None:
        return f"Added the value of {where}"
    if edit.set_aside and not old.set_aside:
        return f"Set {where} aside: {edit.reason}"
    if old.set_aside and not edit.set_aside:
        return f"Put {where} back among the others"
    if edit.release:
        return f"Let a feed replace the value of {where}"
    if edit.value == old.value:
        return f"Changed the note of {where}"
    return f"Changed the value of {where}"
