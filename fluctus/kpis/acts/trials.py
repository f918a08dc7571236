"""Keeping a trial: settings, values and points set aside that were tried out together."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Grain, label
from fluctus.kpis.chart.keeping import (
    Kept,
    keep_settings,
    kept_chart,
    locked,
    move_periods,
    observations_written,
    take_name,
)
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.models import DataChange, Kpi, Observation
from fluctus.kpis.observations.frame import frame_of, row_of
from fluctus.kpis.observations.writing import put_values
from fluctus.kpis.periods import read_period
from fluctus.kpis.record.description import describe
from fluctus.kpis.record.log import record
from fluctus.kpis.values.fractions import parts_with
from fluctus.kpis.values.services import NO_REASON

NOT_KEPT = "The trial was not kept."


@dataclass(frozen=True, slots=True)
class Trial:
    """What is tried: ``values`` and ``aside`` by period; a reason of None puts a value back."""

    settings: Mapping[str, Any] = field(default_factory=dict)
    values: Mapping[str, float] = field(default_factory=dict)
    aside: Mapping[str, str | None] = field(default_factory=dict)


@transaction.atomic
def keep_trial(kpi: Kpi, revision: int, trial: Trial, actor: Actor) -> Kept:
    """Save all of a trial as one act, or nothing.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    for a point that is not one stored value, or settings that cannot be drawn.
    """
    kpi = locked(kpi, revision)
    before = state_of_kpi(kpi)
    after = before.with_changes(dict(trial.settings))
    take_name(kpi, after.name)
    descriptions = [describe(before, after, Grain(kpi.grain))] if after != before else []
    rows = [row for text in {**trial.values, **trial.aside} for row in _rows(kpi, text, trial)]
    if not rows and not descriptions:
        return kept_chart(kpi, actor.now)
    summary = _summary(trial, descriptions, len(rows))
    data = None
    if rows:
        data = DataChange.objects.create(
            kpi=kpi, author=actor.person, summary=summary[:200], changed=len(rows)
        )
        put_values(kpi, data, frame_of(rows))
    move_periods(kpi, before.time_zone, after.time_zone)
    kept = keep_settings(kpi, after, summary, observations_written(kpi, after, actor.now))
    record(kpi, actor, summary, before, after, data)
    return kept


def _summary(trial: Trial, settings: list[str], values: int) -> str:
    """Describe a trial: its ``settings``, and of how many ``values`` it is."""
    counted = f"{values} value{'' if values == 1 else 's'}"
    if not settings and not trial.values and None not in trial.aside.values():
        return f"Set {counted} aside"
    return f"Kept a trial: {', '.join([*settings, *([f'changed {counted}'] if values else [])])}"


def _rows(kpi: Kpi, text: str, trial: Trial) -> list[dict[str, Any]]:
    """Return the stored values of a period as they would be."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    start = read_period(text, grain, zone, NOT_KEPT)
    stored = list(Observation.objects.filter(kpi=kpi, period=start))
    if not stored or (text in trial.values and len(stored) > 1):
        raise RefusalError(NOT_KEPT, _no_single_value(start, kpi, len(stored)))
    changed = []
    for observation in stored:
        row = row_of(observation)
        if text in trial.values:
            value = trial.values[text]
            row |= {"value": value} | parts_with(observation, value)
        if text in trial.aside:
            reason = trial.aside[text]
            if reason is not None and not reason.strip():
                raise RefusalError(NOT_KEPT, NO_REASON)
            row |= {"set_aside": reason is not None, "reason": (reason or "").strip()}
        names = ("value", "set_aside", "reason")
        if any(row[name] != getattr(observation, name) for name in names):
            changed.append(row)
    return changed


def _no_single_value(start: datetime, kpi: Kpi, count: int) -> Issue:
    name = label(start, Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    if not count:
        return Issue(f"There is no value at {name}.", "Choose another point.")
    return Issue(
        f"The point of {name} is made of {count} values.",
        "Try out one breakdown by itself, or change the values in their table.",
    )
