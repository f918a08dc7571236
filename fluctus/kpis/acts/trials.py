"""Keeping a trial: settings, values and points set aside that were tried out together."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.acts.description import describe
from fluctus.kpis.calendar import Grain, from_text, label
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.chart.services import apply_settings, locked, record, refuse_taken_name
from fluctus.kpis.models import DataChange, Kpi, Observation
from fluctus.kpis.observations.stored import frame_of, put_values, row_of
from fluctus.kpis.values.services import NO_REASON, parts_with

NOT_KEPT = "The trial was not kept."


@dataclass(frozen=True, slots=True)
class Trial:
    """What is tried: ``values`` and ``aside`` by period; a reason of None puts a value back."""

    settings: Mapping[str, Any] = field(default_factory=dict)
    values: Mapping[str, float] = field(default_factory=dict)
    aside: Mapping[str, str | None] = field(default_factory=dict)


@transaction.atomic
def keep_trial(kpi: Kpi, revision: int, trial: Trial, author: User) -> Kpi:
    """Save all of a trial as one act, or nothing.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    for a point that is not one stored value, or settings that cannot be drawn.
    """
    kpi = locked(kpi, revision)
    before = state_of_kpi(kpi)
    after = before.with_changes(dict(trial.settings))
    if after.name.lower() != before.name.lower():
        refuse_taken_name(kpi.workspace, after.name)
    told = [describe(before, after, Grain(kpi.grain))] if after != before else []
    rows = [
        row
        for text in {**trial.values, **trial.aside}
        for row in _rows(kpi, text, trial)
    ]  # fmt: skip
    act = None
    if rows:
        told.append(f"changed {len(rows)} value{'' if len(rows) == 1 else 's'}")
        act = DataChange.objects.create(
            kpi=kpi, author=author, summary=f"Kept a trial: {told[-1]}", changed=len(rows)
        )
        put_values(kpi, act, frame_of(rows))
    if not told:
        return kpi
    summary = f"Kept a trial: {', '.join(told)}"
    apply_settings(kpi, before, after, summary)
    record(kpi, author, summary, before, after, act)
    return kpi


def _rows(kpi: Kpi, text: str, trial: Trial) -> list[dict[str, Any]]:
    """Return the stored values of a period as they would be."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    try:
        start = from_text(text, grain, zone)
    except (ValueError, OverflowError):
        raise RefusalError(NOT_KEPT, Issue("This is not a period.", found=text)) from None
    rows = list(Observation.objects.filter(kpi=kpi, period=start))
    if not rows or (text in trial.values and len(rows) > 1):
        raise RefusalError(NOT_KEPT, _no_single_value(start, kpi, len(rows)))
    changed = []
    for row in rows:
        values = row_of(row)
        if text in trial.values:
            value = trial.values[text]
            values |= {"value": value} | parts_with(row, value)
        if text in trial.aside:
            reason = trial.aside[text]
            if reason is not None and not reason.strip():
                raise RefusalError(NOT_KEPT, NO_REASON)
            values |= {"set_aside": reason is not None, "reason": (reason or "").strip()}
        if any(values[name] != getattr(row, name) for name in ("value", "set_aside", "reason")):
            changed.append(values)
    return changed


def _no_single_value(start: datetime, kpi: Kpi, rows: int) -> Issue:
    name = label(start, Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    if not rows:
        return Issue(f"There is no value at {name}.", "Choose another point.")
    return Issue(
        f"The point of {name} is made of {rows} values.",
        "Try out one breakdown by itself, or change the values in their table.",
    )
