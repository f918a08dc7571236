"""Undo, redo, and earlier states of a chart, each one transaction."""

from django.db import transaction

from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.chart.analysis.segment_fitting import fit_segments
from fluctus.kpis.chart.keeping import (
    Kept,
    keep_looks,
    keep_settings,
    locked,
    move_periods,
    observations_written,
    take_name,
)
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.events.state import EventMovedOnError, turn_event
from fluctus.kpis.models import ActState, ChartChange, DataChange, Kpi
from fluctus.kpis.observations.reading import marks_then
from fluctus.kpis.observations.writing import put_values
from fluctus.kpis.record.log import record
from fluctus.kpis.record.queries import next_undo_and_redo
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.taking_back import turn_values


def undo(kpi: Kpi, revision: int, actor: Actor) -> Kept:
    """Take back the latest act on a chart: on its settings, its values or its events.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    (409) where there is nothing to undo, and EventMovedOnError for an act on an
    event that others have changed since, which is passed over from then on.
    """
    return _step(kpi, revision, actor, back=True)


def redo(kpi: Kpi, revision: int, actor: Actor) -> Kept:
    """Bring back the act that was undone last; raises as ``undo`` does."""
    return _step(kpi, revision, actor, back=False)


def _step(kpi: Kpi, revision: int, actor: Actor, *, back: bool) -> Kept:
    try:
        with transaction.atomic():
            kpi = locked(kpi, revision)
            return _turn(kpi, actor, _next(kpi, back=back), back=back)
    except EventMovedOnError:
        # Otherwise it would stand in the way of all that was done before it.
        with transaction.atomic():
            act = _next(locked(kpi, revision), back=back)
            act.state = ActState.PASSED
            act.save(update_fields=["state"])
        raise


def _next(kpi: Kpi, *, back: bool) -> ChartChange:
    to_undo, to_redo = next_undo_and_redo(kpi)
    act = to_undo if back else to_redo
    if act is None:
        raise RefusalError(f"There is nothing to {'undo' if back else 'redo'}.", status=409)
    act.refresh_from_db()
    return act


def _turn(kpi: Kpi, actor: Actor, act: ChartChange, *, back: bool) -> Kept:
    """Undo or redo an act on a locked KPI."""
    state = ChartState.from_json(act.before if back else act.after)
    if act.data is not None:
        turn_values(kpi, act.data, actor, back=back)
    if act.event is not None:
        turn_event(kpi, act.event, back=back)
    take_name(kpi, state.name)
    before = state_of_kpi(kpi)
    if act.data is None and state.computes_as(before):
        kept = keep_looks(kpi, before, state, actor.now)
    else:
        move_periods(kpi, before.time_zone, state.time_zone)
        observations = observations_written(kpi, state, actor.now)
        if act.data is not None:
            # Other values may have gone since, without an act of the chart.
            state = fit_segments(observations, state)
        # Shifts that went with the values they stood on come back with them.
        why = f"{'Undid' if back else 'Redid'}: {act.summary}"
        kept = keep_settings(kpi, state, why, observations)
    act.state = ActState.UNDONE if back else ActState.KEPT
    act.revision = kpi.revision
    act.turned_by, act.turned_at = actor.person, actor.now
    act.save(update_fields=["state", "revision", "turned_by", "turned_at"])
    return kept


@transaction.atomic
def restore(kpi: Kpi, revision: int, number: int | None, actor: Actor) -> Kept:
    """Bring a chart back as it was after act ``number``; None: as it came.

    That is its settings, and which values were set aside. The values themselves
    stay, and so do those that came later; a shift or a baseline that they no
    longer carry gives way. Raises NotThereError for an act of another chart.
    """
    kpi = locked(kpi, revision)
    acts = ChartChange.objects.filter(kpi=kpi).order_by("id")
    act = acts.first() if number is None else acts.filter(pk=number).first()
    if act is None:
        raise NotThereError("act")
    earlier = ChartState.from_json(act.before if number is None else act.after)
    then = "as it came" if number is None else f"as it was after: {act.summary}"
    summary = f"Brought the chart back {then}"
    before = state_of_kpi(kpi)
    move_periods(kpi, before.time_zone, earlier.time_zone)
    data = _bring_marks_back(kpi, act, actor, summary, before_it=number is None)
    observations = observations_written(kpi, earlier, actor.now)
    after = fit_segments(observations, earlier)
    if after == before and data is None:
        raise RefusalError(
            "The chart is as it was then.",
            Issue("Neither its settings nor what is set aside differs.", "Choose another act."),
            status=409,
        )
    take_name(kpi, after.name)
    kept = keep_settings(kpi, after, summary, observations)
    record(kpi, actor, summary, before, after, data)
    return kept


def _bring_marks_back(
    kpi: Kpi, act: ChartChange, actor: Actor, summary: str, *, before_it: bool
) -> DataChange | None:
    """Set values aside as they were after ``act``, or before it; None where none differs."""
    newest = act.newest_data
    if before_it and act.data_id is not None:
        newest = act.data_id - 1
    marked = marks_then(kpi, newest)
    if marked.is_empty():
        return None
    data = DataChange.objects.create(
        kpi=kpi, author=actor.person, summary=summary[:200], changed=marked.height
    )
    put_values(kpi, data, marked)
    return data
