"""What is kept with a KPI after every write, and the lock that each write holds.

Everything here runs inside the caller's transaction.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property, partial
from zoneinfo import ZoneInfo

import numpy as np
from django.db import IntegrityError, transaction

from fluctus.core.words import in_a_row
from fluctus.http import clock
from fluctus.http.refusals import Issue, NotThereError, RefusalError, StaleError
from fluctus.kpis.actor import Actor
from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.chart.analysis.chart import Chart, make_chart
from fluctus.kpis.chart.analysis.segment_fitting import fit_segments
from fluctus.kpis.chart.digest import digest_of
from fluctus.kpis.chart.proposals import proposals_of
from fluctus.kpis.chart.queries import (
    held_chart,
    hold,
    observations_in,
    observations_of,
    state_of_kpi,
)
from fluctus.kpis.hooks import Charted, drawers, followers, movers
from fluctus.kpis.models import Kpi, Segment
from fluctus.kpis.observations.blocks import pack_stored
from fluctus.kpis.observations.reading import read_stored
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.observations.stored import Stored
from fluctus.kpis.observations.writing import move_to_zone
from fluctus.kpis.record.queries import acts_since
from fluctus.kpis.state import DETAILS, LOOKS, ChartState, segment_rows


@dataclass(frozen=True)
class Kept:
    """A KPI as a write has left it, with its chart, which need not be read and analysed again.

    ``looks`` are the settings before and after, where nothing that rests on values has changed;
    the chart is then made only where it is asked for and is not ``ready``.
    """

    kpi: Kpi
    ready: Chart | None
    now: datetime
    looks: tuple[ChartState, ChartState] | None = None

    @cached_property
    def chart(self) -> Chart:
        """The chart as it is now."""
        return self.ready or chart_in(self.kpi, state_of_kpi(self.kpi), self.now)


def locked(kpi: Kpi, revision: int | None = None) -> Kpi:
    """Lock a KPI for a write; raises StaleError when it is no longer at ``revision``."""
    # Without its key: an event that is told with several KPIs is linked to one that somebody
    # else holds, and both would wait for each other.
    row = (
        Kpi.objects.select_for_update(of=("self",), no_key=True)
        .select_related("workspace__room")
        .filter(pk=kpi.pk)
        .first()
    )
    if row is None:
        raise NotThereError("KPI")
    if revision is not None and row.revision != revision:
        raise StaleError(row.revision, acts_since(row, revision))
    return row


def keep_values(kpi: Kpi, actor: Actor, why: str, stored: Stored | None = None) -> Kept:
    """Bring what is kept with a KPI up to date after its values have changed by the act ``why``.

    A shift whose period has no value any more moves to the next one that has;
    one that is left without any goes, as does a baseline that lost an end.
    ``stored`` are the values as they are now, where the caller has them at hand.
    """
    state = state_of_kpi(kpi)
    if stored is None:
        stored = read_written(kpi)
    else:
        kpi.breakdowns = [name for name in stored.breakdowns if name]
        kpi.stored = len(stored.values)
        pack_stored(kpi, stored)
    observations = observations_in(stored, kpi, state, actor.now)
    fitting = fit_segments(observations, state)
    if fitting != state:
        _keep_segments(kpi, fitting)
    chart = make_chart(observations, fitting)
    kpi.revision += 1
    keep_findings(kpi, chart, why)
    _hand_on(kpi, chart, actor.now)
    return Kept(kpi, chart, actor.now)


def keep_looks(kpi: Kpi, before: ChartState, after: ChartState, now: datetime) -> Kept:
    """Save how a locked KPI is called and drawn: no value is read, and nothing analysed."""
    chart = held_chart(kpi, now)
    kept_as_json = after.kept_as_json()
    for name in LOOKS:
        setattr(kpi, name, kept_as_json.get(name, getattr(after, name)))
    kpi.revision += 1
    kpi.save(update_fields=[*LOOKS, "revision"])
    if chart is not None:
        chart = chart.looking(after)
        hold(kpi, chart, now)
    return Kept(kpi, chart, now, (before, after))


def keep_settings(kpi: Kpi, state: ChartState, why: str, observations: Observations) -> Kept:
    """Save ``state`` as the settings of a locked KPI; raises RefusalError where it cannot be.

    ``observations`` are its values by the calendar of ``state``: where that is in another
    zone than before, ``move_periods`` comes first.
    """
    chart = make_chart(observations, state)
    for name in DETAILS:
        setattr(kpi, name, getattr(state, name))
    kpi.rules = list(state.rules)
    for name, kept in state.kept_as_json().items():
        setattr(kpi, name, kept)
    kpi.revision += 1
    # Before the segments: whoever follows the chart reads nothing of them but from it.
    keep_findings(kpi, chart, why)
    _keep_segments(kpi, state)
    now = observations.now or clock.now()
    _hand_on(kpi, chart, now)
    return Kept(kpi, chart, now)


def keep_findings(kpi: Kpi, chart: Chart, why: str) -> None:
    """Keep a KPI with what was found on its chart, and tell those who follow it."""
    _note_findings(kpi, chart)
    kpi.save()
    _tell([Charted(kpi, chart, why, clock.now())])


def keep_renewed(renewed: Sequence[Charted]) -> None:
    """Keep what was found on charts that time has made new, all at once, and tell as a write does.

    Nothing else of their KPIs has changed.
    """
    for each in renewed:
        _note_findings(each.kpi, each.chart)
    # They are there and locked; updating them one condition each is ten times slower.
    Kpi.objects.bulk_create(
        [each.kpi for each in renewed],
        update_conflicts=True,
        unique_fields=["id"],
        update_fields=["digest", "proposals", "renew_at"],
    )
    _tell(renewed)


def _note_findings(kpi: Kpi, chart: Chart) -> None:
    kpi.digest = digest_of(chart)
    kpi.proposals = proposals_of(chart)
    kpi.renew_at = chart.observations.holds_until


def _tell(charted: Sequence[Charted]) -> None:
    for follower in followers:
        follower(charted)


def _hand_on(kpi: Kpi, chart: Chart, now: datetime) -> None:
    """Hand the chart that a write has made to who shows it, once the write is certain."""
    hold(kpi, chart, now)
    for drawer in drawers:
        transaction.on_commit(partial(drawer, kpi, chart, now), robust=True)


def refuse_derived(kpi: Kpi, what: str) -> None:
    """Raise RefusalError where values are written to a KPI that follows another one."""
    names = in_a_row([source.name for source in kpi.follows]) if kpi.follows else ""
    if names:
        issue = Issue(f"{kpi.name} follows {names}.", f"Change the values of {names}.")
        raise RefusalError(what, issue, status=409)


def move_periods(kpi: Kpi, old: str, new: str) -> None:
    """Let the periods of a KPI begin by the clock of another time zone; hours stay as they are."""
    if new == old or kpi.grain == Grain.HOUR:
        return
    calendars = Calendar(ZoneInfo(old)), Calendar(ZoneInfo(new))
    move_to_zone(kpi, *calendars)
    for mover in movers:
        mover(kpi, *calendars)


def read_written(kpi: Kpi) -> Stored:
    """Read the values of a locked KPI, pack what is new, and note how many and which parts."""
    stored = read_stored(kpi, keep=True)
    kpi.stored = len(stored.values)
    present = [part for part in np.flatnonzero(np.bincount(stored.parts)).tolist() if part]
    if len(present) == len(kpi.breakdowns):
        return stored
    kpi.breakdowns = [kpi.breakdowns[part - 1] for part in present]
    return read_stored(kpi)


def observations_written(kpi: Kpi, state: ChartState, now: datetime) -> Observations:
    """Make the values of the chart of a locked KPI, whose values may have been written to."""
    return observations_in(read_written(kpi), kpi, state, now)


def name_taken(name: str) -> RefusalError:
    """Return why a KPI cannot have the name of another one."""
    return RefusalError(
        "This name is taken.",
        Issue(f"There is a KPI named {name} already.", "Choose another name.", "name"),
    )


def take_name(kpi: Kpi, name: str) -> None:
    """Give a locked KPI its name at once; raises RefusalError where another one has it.

    From then on the database lets nobody else take it. Whoever wants the same one waits for the
    transaction to end, and nobody else does.
    """
    if name == kpi.name:
        return
    try:
        with transaction.atomic():
            Kpi.objects.filter(pk=kpi.pk).update(name=name)
    except IntegrityError as error:
        raise name_taken(name) from error


def kept_chart(kpi: Kpi, now: datetime) -> Kept:
    """Return a locked KPI as it is saved."""
    return Kept(kpi, held_chart(kpi, now), now)


def chart_in(kpi: Kpi, state: ChartState, now: datetime) -> Chart:
    """Read the values of a KPI and analyse them under its settings."""
    return make_chart(observations_of(kpi, state, now), state)


def _keep_segments(kpi: Kpi, state: ChartState) -> None:
    Segment.objects.filter(kpi=kpi).delete()
    Segment.objects.bulk_create(segment_rows(kpi, state))
