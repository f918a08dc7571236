"""Reads of KPIs and their charts, all within the workspaces of the person who asks."""

import logging
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from threading import Lock
from typing import Any, TypeAlias

from cachetools import LRUCache, cached
from django.contrib.auth.models import User
from django.db import DatabaseError, InterfaceError, transaction

from fluctus.accounts.models import Workspace
from fluctus.core import Aggregation, MadeFrom
from fluctus.http.compiled import Compiled
from fluctus.http.conditional import forget_answers
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart, make_chart, make_charts
from fluctus.kpis.models import Kpi, Segment
from fluctus.kpis.observations.blocks import forget_blocks
from fluctus.kpis.observations.reading import parts_of, read_stored
from fluctus.kpis.observations.series import Observations, Shown, make_observations
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.state import ChartState, state_of

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class View:
    """How a person looks at a KPI: at which grain, and at one breakdown or the whole."""

    by: Grain | None = None
    breakdown: str | None = None


WHOLE = View()


KPIS_AT_ONCE = 500
"""KPIs in one answer, with what the rail shows of them."""


def kpis_of(workspace: Workspace, start: int) -> tuple[list[Kpi], int]:
    """Return a stretch of the KPIs of a workspace in the order they came, and how many there are.

    Of each, what the rail shows is read.
    """
    shown = ("slug", "name", "group", "unit", "digest", "breakdowns", "unexplained")
    rows = Kpi.objects.filter(workspace=workspace)
    found = list(rows.only(*shown).order_by("id")[start : start + KPIS_AT_ONCE])
    whole = start == 0 and len(found) < KPIS_AT_ONCE
    return found, len(found) if whole else rows.count()


_by_slug = Compiled(
    lambda workspace, person, slug: Kpi.objects.filter(
        workspace__slug=workspace, workspace__members=person, slug=slug
    ),
    workspace=str,
    person=int,
    slug=str,
)


def kpi_of(person: User, workspace: str, slug: str) -> Kpi:
    """Return one KPI; raises NotThereError for one of another workspace."""
    kpi = _by_slug.first(workspace=workspace, person=person.pk, slug=slug)
    if kpi is None:
        raise NotThereError("KPI")
    return kpi


def segments_of(kpis: Sequence[Kpi]) -> dict[int, list[Segment]]:
    """Read the segments of some KPIs, in one query."""
    found: dict[int, list[Segment]] = {kpi.pk: [] for kpi in kpis}
    for segment in Segment.objects.filter(kpi__in=found):
        found[segment.kpi_id].append(segment)
    return found


def state_of_kpi(kpi: Kpi) -> ChartState:
    """Read the saved settings of a KPI's chart."""
    return state_of(kpi, list(Segment.objects.filter(kpi=kpi)))


def observations_of(kpi: Kpi, state: ChartState, now: datetime, view: View = WHOLE) -> Observations:
    """Read the values of a KPI and make those of a chart from them.

    Raises RefusalError for a grain finer than the stored one or a breakdown
    that there are no values for.
    """
    refuse_view(kpi, view)
    return observations_in(read_stored(kpi, view.breakdown), kpi, state, now, view)


def observations_in(
    stored: Stored, kpi: Kpi, state: ChartState, now: datetime, view: View = WHOLE
) -> Observations:
    """Make the values of a chart from those that are stored, of a view that there is."""
    irregular = kpi.made_by == MadeFrom.TIME_BETWEEN
    shown = Shown(
        stored=Grain(kpi.grain),
        grain=view.by or Grain(kpi.grain),
        calendar=state.calendar,
        how=Aggregation(state.aggregation),
        breakdown=view.breakdown,
        limited=bool(state.target_steps) or state.target is not None or state.ceiling is not None,
        # A time between events is over when the event comes.
        now=None if irregular else now,
        irregular=irregular,
        times=kpi.times,
    )
    return make_observations(stored, shown)


def refuse_view(kpi: Kpi, view: View) -> None:
    """Raise RefusalError for a grain or a breakdown that a KPI cannot be shown by."""
    stored = Grain(kpi.grain)
    if view.by is not None and view.by not in coarser_grains(stored):
        raise RefusalError(
            "This grain cannot be shown.",
            Issue(f"The values are stored by {stored}.", f"Choose {stored} or longer.", "by"),
        )
    if view.breakdown is not None and view.breakdown not in kpi.breakdowns:
        raise RefusalError(
            "This breakdown cannot be shown.",
            Issue(
                f"There are no values for {view.breakdown}.", "Choose another part.", "breakdown"
            ),
        )


MOST_HELD = 1_500_000
"""Values that are held in memory with their charts, and as many as they are stored."""
STALE_AFTER = 900
"""Seconds in which no period ends: in every time zone they do so at a quarter of an hour."""

# A revision never changes, so that panning, zooming and dragging over one read and analyse it
# once. Writes hand over what they made when it is certain, so that what is rolled back is never
# held; and what was read while a write was done, of which it may hold a part, is not either.


class MovedOnError(RefusalError):
    """A KPI was written to while it was read."""

    def __init__(self) -> None:
        super().__init__(
            "Somebody is writing to this just now.",
            Issue("What was read of it may be half of before.", "Try again in a moment."),
            status=503,
        )


def _state_at_revision(kpi: Kpi) -> ChartState:
    """Read the settings of a KPI with its segments at its revision; raises MovedOnError."""
    # In one statement, which sees one moment. There is always a first segment.
    segments = list(Segment.objects.filter(kpi=kpi, kpi__revision=kpi.revision))
    if not segments:
        raise MovedOnError
    return state_of(kpi, segments)


Key: TypeAlias = tuple[int, int, View, int]
_charts: LRUCache[Key, Chart] = LRUCache(
    MOST_HELD, getsizeof=lambda chart: 1 + len(chart.observations)
)
_charts_lock = Lock()


def _key(kpi: Kpi, now: datetime, view: View = WHOLE) -> Key:
    return (kpi.pk, kpi.revision, view, int(now.timestamp()) // STALE_AFTER)


def hold(kpi: Kpi, chart: Chart, now: datetime) -> None:
    """Hold the chart that a write has made in the place of the one before, once it is certain.

    Where nobody has looked at that one in this process, as in a worker's, nothing is held.
    """
    pk, revision, view, slot = key = _key(kpi, now)

    def exchange() -> None:
        with _charts_lock, suppress(ValueError):
            if _charts.pop((pk, revision - 1, view, slot), None) is not None:
                # One that is larger than all that may be held raises ValueError.
                _charts[key] = chart

    transaction.on_commit(exchange)


def held_chart(kpi: Kpi, now: datetime) -> Chart | None:
    """Return the chart of a KPI where this process holds it."""
    with _charts_lock:
        return _charts.get(_key(kpi, now))


@cached(_charts, key=_key, lock=_charts_lock)
def chart_of(kpi: Kpi, now: datetime, view: View = WHOLE) -> Chart:
    """Return the chart of a KPI as it is saved, from memory where this process has made it."""
    state = _state_at_revision(kpi)
    return make_chart(observations_tried(kpi, state, now, view), state)


def charts_of_parts(
    kpi: Kpi, now: datetime, names: Sequence[str], by: Grain | None = None
) -> dict[str, Chart]:
    """Return the charts of some parts of a KPI; its values are read once for all of them."""
    views = {name: View(by, name) for name in names}
    with _charts_lock:
        held = {name: _charts.get(_key(kpi, now, view)) for name, view in views.items()}
    charts = {name: chart for name, chart in held.items() if chart is not None}
    missing = [name for name in names if name not in charts]
    if not missing:
        return charts
    state = _state_at_revision(kpi)
    for name in missing:
        refuse_view(kpi, views[name])
    parts = parts_of(kpi, stored_of(kpi), missing)
    made = make_charts(
        [(observations_in(parts[name], kpi, state, now, views[name]), state) for name in missing]
    )
    for name, chart in zip(missing, made, strict=True):
        charts[name] = chart
        with _charts_lock, suppress(ValueError):
            _charts[_key(kpi, now, views[name])] = chart
    return {name: charts[name] for name in names}


def chart_or_none(kpi: Kpi, now: datetime, view: View = WHOLE) -> Chart | None:
    """Return the chart of one KPI of several; None, and a word in the log, where it has none.

    What cannot be computed of one is no reason to show nothing of the others.
    """
    try:
        return chart_of(kpi, now, view)
    except (MovedOnError, DatabaseError, InterfaceError):
        raise
    except Exception:
        log.exception("The chart of KPI %s cannot be computed", kpi.pk)
        return None


def chart_with(kpi: Kpi, now: datetime, changes: dict[str, Any]) -> Chart:
    """Analyse a KPI as it is saved but for some ``changes`` of its settings."""
    state = state_of_kpi(kpi).with_changes(changes)
    return make_chart(observations_tried(kpi, state, now), state)


def observations_tried(
    kpi: Kpi, state: ChartState, now: datetime, view: View = WHOLE
) -> Observations:
    """Make the values of a chart under a ``state`` that is only tried; reads them once."""
    refuse_view(kpi, view)
    return observations_in(stored_of(kpi, view.breakdown), kpi, state, now, view)


@cached(
    LRUCache(MOST_HELD, getsizeof=lambda stored: 1 + len(stored.values)),
    key=lambda kpi, breakdown=None: (kpi.pk, kpi.revision, breakdown),
    lock=Lock(),
)
def stored_of(kpi: Kpi, breakdown: str | None = None) -> Stored:
    """Return the stored values of a KPI, from memory where this process has read them."""
    stored = read_stored(kpi, breakdown)
    # Revisions only rise, together with what they are of: where it is still the same after the
    # last read, it was so during each.
    if not Kpi.objects.filter(pk=kpi.pk, revision=kpi.revision).exists():
        raise MovedOnError
    return stored


def forget() -> None:
    """Drop what is held, where a database is exchanged under the process."""
    for held in (chart_of, stored_of):
        held.cache_clear()
    forget_blocks()
    forget_answers()
