"""Reads of KPIs, all within the workspaces of the person who asks."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db.models import Q
from django.utils import timezone

from fluctus.accounts.queries import name_of
from fluctus.core import Aggregation
from fluctus.core.analysis.arrays import Floats
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart, make_chart
from fluctus.kpis.models import ChartChange, Kpi, Observation, PastValue, Segment
from fluctus.kpis.observations.series import (
    COUNTED,
    Observations,
    Shown,
    Stored,
    make_observations,
)
from fluctus.kpis.observations.stored import SECONDS, read_numbers
from fluctus.kpis.state import ChartState, state_of


@dataclass(frozen=True, slots=True)
class View:
    """How a person looks at a KPI: at which grain, and at one breakdown or the whole."""

    by: Grain | None = None
    breakdown: str | None = None


WHOLE = View()


def kpis_of(person: User, workspace: str) -> list[Kpi]:
    """List the KPIs of a workspace in the order they came, in one query."""
    rows = Kpi.objects.filter(workspace__slug=workspace, workspace__members=person)
    return list(rows.order_by("id"))


def kpi_of(person: User, workspace: str, slug: str) -> Kpi:
    """Return one KPI; raises NotThereError for one of another workspace."""
    kpi = Kpi.objects.filter(
        workspace__slug=workspace, workspace__members=person, slug=slug
    ).first()
    if kpi is None:
        raise NotThereError("KPI")
    return kpi


def observations_of(kpi: Kpi, state: ChartState, view: View = WHOLE) -> Observations:
    """Read the values of a KPI and make those of a chart from them.

    Raises RefusalError for a grain finer than the stored one or a breakdown
    that there are no values for.
    """
    stored = Grain(kpi.grain)
    grain = view.by or stored
    if grain not in coarser_grains(stored):
        raise RefusalError(
            "This grain cannot be shown.",
            Issue(f"The values are stored by {stored}.", f"Choose {stored} or longer.", "by"),
        )
    if view.breakdown is not None and view.breakdown not in kpi.breakdowns:
        raise RefusalError(
            "This breakdown cannot be shown.",
            Issue(f"There are no values for {view.breakdown}.", field="breakdown"),
        )
    shown = Shown(
        stored, grain, state.calendar, Aggregation(state.aggregation), view.breakdown,
        state.target is not None or state.ceiling is not None, timezone.now(),
    )  # fmt: skip
    return make_observations(_stored(kpi, view.breakdown), shown)


def _stored(kpi: Kpi, breakdown: str | None) -> Stored:
    numbers = read_numbers(kpi, breakdown)
    only = {} if breakdown is None else {"breakdown": breakdown}
    said: Iterable[tuple[float, str, bool, str, str]] = ()
    if numbers["set_aside"].any() or numbers["noted"].any():
        said = (
            Observation.objects.filter(kpi=kpi, **only)
            .exclude(~Q(set_aside=True), note="")
            .annotate(instant=SECONDS)
            .values_list("instant", "breakdown", "set_aside", "reason", "note")
        )
    reasons: dict[float, list[str]] = {}
    notes: dict[float, list[str]] = {}
    for instant, name, aside, reason, note in said:
        if aside:
            reasons.setdefault(instant, []).append(reason)
        if note:
            notes.setdefault(instant, []).append(
                f"{name}: {note}" if name and breakdown is None else note
            )
    return Stored(
        instants=numbers["instant"],
        values=numbers["value"],
        numerators=numbers["numerator"],
        denominators=numbers["denominator"],
        targets=numbers["target"],
        rows=numbers["rows"].astype(np.intp),
        set_aside=numbers["set_aside"] > 0,
        reasons={instant: "; ".join(dict.fromkeys(own)) for instant, own in reasons.items()},
        notes={instant: "; ".join(texts) for instant, texts in notes.items()},
    )


def state_of_kpi(kpi: Kpi) -> ChartState:
    """Read the saved settings of a KPI's chart."""
    return state_of(kpi, list(Segment.objects.filter(kpi=kpi)))


def chart_of(kpi: Kpi, view: View = WHOLE) -> Chart:
    """Analyse a KPI as it is saved."""
    state = state_of_kpi(kpi)
    return make_chart(observations_of(kpi, state, view), state, _by_breakdown(kpi, state, view))


MOST_COMPARED = 50_000


def _by_breakdown(kpi: Kpi, state: ChartState, view: View) -> dict[str, Floats]:
    """Read the values of each breakdown, where a chart is an average over several of them."""
    added_up = Aggregation(state.aggregation) in COUNTED
    if view.breakdown is not None or not kpi.breakdowns or added_up:
        return {}
    rows = Observation.objects.filter(kpi=kpi, set_aside=False).order_by("-period")
    found: dict[str, list[float]] = {}
    for name, value in rows.values_list("breakdown", "value")[:MOST_COMPARED]:
        found.setdefault(name, []).append(value)
    return {name: np.array(values) for name, values in found.items()}


VALUES_AT_ONCE = 200


def values_of(kpi: Kpi, start: int, breakdown: str | None = None) -> tuple[int, list[Observation]]:
    """Return how many values there are, and a stretch of them in order of time from ``start``."""
    own = {} if breakdown is None else {"breakdown": breakdown}
    rows = Observation.objects.filter(kpi=kpi, **own).select_related("written_by__author")
    count = rows.count()
    stop = min(start + VALUES_AT_ONCE, count)
    if start >= stop:
        return count, []
    # From the nearer end: the newest values of a long KPI are what most come for.
    if start > count - stop:
        backwards = rows.order_by("-period", "-breakdown")[count - stop : count - start]
        return count, list(backwards)[::-1]
    return count, list(rows.order_by("period", "breakdown")[start:stop])


def last_period_of(kpi: Kpi, breakdown: str | None = None) -> datetime | None:
    """Return the newest period of a KPI, or of one of its breakdowns."""
    own = {} if breakdown is None else {"breakdown": breakdown}
    last = Observation.objects.filter(kpi=kpi, **own).order_by("-period").first()
    return last.period if last else None


def versions_of(kpi: Kpi, period: datetime, breakdown: str) -> list[Observation | PastValue]:
    """List what the value of a period has been, oldest first; the last one may be the present."""
    key: dict[str, Any] = {"kpi": kpi, "period": period, "breakdown": breakdown}
    past = PastValue.objects.filter(**key).select_related(
        "written_by__author", "replaced_by__author"
    )
    present = Observation.objects.filter(**key).select_related("written_by__author")
    return [*past.order_by("id"), *present]


ACTS_TOLD = 5


def acts_since(kpi: Kpi, revision: int) -> list[str]:
    """Say who did what to a chart since ``revision``: the newest few acts, oldest first."""
    rows = ChartChange.objects.filter(kpi=kpi, revision__gt=revision)
    told = []
    for row in rows.select_related("author", "turned_by").order_by("-revision")[:ACTS_TOLD]:
        if row.turned_at is None:
            told.append(f"{name_of(row.author) or 'somebody'}: {row.summary}")
        else:
            verb = "undid" if row.standing != ChartChange.Standing.KEPT else "redid"
            told.append(f"{name_of(row.turned_by) or 'somebody'} {verb}: {row.summary}")
    return told[::-1]


HISTORY_AT_ONCE = 50


def history_of(kpi: Kpi, before: int | None = None) -> tuple[int, list[ChartChange]]:
    """Return how many acts there were on a chart, and the newest of those ``before`` a number."""
    rows = ChartChange.objects.filter(kpi=kpi).select_related("author", "turned_by")
    older = rows if before is None else rows.filter(pk__lt=before)
    return rows.count(), list(older.order_by("-id")[:HISTORY_AT_ONCE])


def next_undo_and_redo(kpi: Kpi) -> tuple[ChartChange | None, ChartChange | None]:
    """Return the change that undo would take back and the one that redo would bring back."""
    standing = ChartChange.Standing
    kept = ChartChange.objects.filter(kpi=kpi, standing=standing.KEPT).order_by("-id")[:1]
    undone = ChartChange.objects.filter(kpi=kpi, standing=standing.UNDONE).order_by("id")[:1]
    both = {change.standing: change for change in kept.union(undone, all=True)}
    return both.get(standing.KEPT), both.get(standing.UNDONE)
