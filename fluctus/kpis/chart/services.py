"""Writes of KPIs, each one transaction."""

from dataclasses import replace
from typing import Any

import polars as pl
from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError, StaleError
from fluctus.kpis.acts.description import describe
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart, fit_segments, make_chart
from fluctus.kpis.chart.digest import digest_of
from fluctus.kpis.chart.proposals import proposals_of
from fluctus.kpis.chart.queries import acts_since, next_undo_and_redo, observations_of, state_of_kpi
from fluctus.kpis.events.state import EventAct, EventMovedOnError, turn_event
from fluctus.kpis.hooks import followers
from fluctus.kpis.models import ChartChange, DataChange, Kpi, Observation, Segment
from fluctus.kpis.observations.stored import (
    Progress,
    add_values,
    bring_back,
    marks_then,
    move_to_zone,
    put_values,
    take_back,
)
from fluctus.kpis.state import DETAILS, ChartState, segment_rows


@transaction.atomic
def create_kpi(
    workspace: Workspace,
    state: ChartState,
    grain: Grain,
    frame: pl.DataFrame,
    author: User | None,
    summary: str = "Came with the KPI",
    progress: Progress = lambda share: None,
) -> tuple[Kpi, DataChange]:
    """Save a new KPI with its values: all of it, or nothing."""
    # Names are compared and slugs made under the workspace's lock, so that two at once differ.
    Workspace.objects.select_for_update(no_key=True).get(pk=workspace.pk)
    refuse_taken_name(workspace, state.name)
    kpi = Kpi.objects.create(
        workspace=workspace,
        slug=_free_slug(workspace, state.name),
        grain=grain,
        rules=list(state.rules),
        kept_limits=state.to_json()["kept_limits"],
        revision=0,
        digest={},
        **{name: getattr(state, name) for name in DETAILS},
    )
    Segment.objects.bulk_create(segment_rows(kpi, state))
    change = DataChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200], added=frame.height
    )
    add_values(kpi, change, frame, progress)
    renew(kpi, summary)
    return kpi, change


@transaction.atomic
def change_chart(kpi: Kpi, revision: int, changes: dict[str, Any], author: User) -> Kpi:
    """Change some settings of a chart and keep what they were.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    when the settings cannot be drawn; then nothing has changed.
    """
    kpi = locked(kpi, revision)
    before = state_of_kpi(kpi)
    after = before.with_changes(changes)
    if after == before:
        return kpi
    if after.name.lower() != before.name.lower():
        refuse_taken_name(kpi.workspace, after.name)
    summary = describe(before, after, Grain(kpi.grain))
    apply_settings(kpi, before, after, summary)
    record(kpi, author, summary, before, after)
    return kpi


def record(
    kpi: Kpi,
    author: User | None,
    summary: str,
    before: ChartState,
    after: ChartState,
    data: DataChange | None = None,
    event: EventAct | None = None,
) -> None:
    """Keep an act for undo and the history; what was undone before it cannot be redone."""
    standing = ChartChange.Standing
    ChartChange.objects.filter(kpi=kpi, standing=standing.UNDONE).update(standing=standing.REPLACED)
    ChartChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200],
        before=before.to_json(), after=after.to_json(), data=data, event=event,
        revision=kpi.revision,
    )  # fmt: skip


def undo(kpi: Kpi, revision: int, author: User) -> Kpi:
    """Take back the latest act on a chart: on its settings, its values or its events.

    Raises StaleError when the chart is no longer at ``revision``, RefusalError
    (409) where there is nothing to undo, and EventMovedOnError for an act on an
    event that others have changed since, which is passed over from then on.
    """
    return _step(kpi, revision, author, back=True)


def redo(kpi: Kpi, revision: int, author: User) -> Kpi:
    """Bring back the act that was undone last; raises as ``undo`` does."""
    return _step(kpi, revision, author, back=False)


def _step(kpi: Kpi, revision: int, author: User, *, back: bool) -> Kpi:
    try:
        with transaction.atomic():
            kpi = locked(kpi, revision)
            return _turn_act(kpi, author, _next(kpi, back=back), back=back)
    except EventMovedOnError:
        # Otherwise it would stand in the way of all that was done before it.
        with transaction.atomic():
            change = _next(locked(kpi, revision), back=back)
            change.standing = ChartChange.Standing.PASSED
            change.save(update_fields=["standing"])
        raise


def _next(kpi: Kpi, *, back: bool) -> ChartChange:
    undone, redone = next_undo_and_redo(kpi)
    change = undone if back else redone
    if change is None:
        raise RefusalError(f"There is nothing to {'undo' if back else 'redo'}.", status=409)
    return change


@transaction.atomic
def delete_kpi(kpi: Kpi, revision: int, confirmed_name: str) -> None:
    """Delete a KPI with all that belongs to it, once its name has been typed."""
    kpi = locked(kpi, revision)
    if confirmed_name != kpi.name:
        raise RefusalError(
            "The KPI was not deleted.",
            Issue("The name typed is not the KPI's.", f"Type {kpi.name} to delete it.", "name"),
        )
    kpi.delete()


def _turn_act(kpi: Kpi, author: User, change: ChartChange, *, back: bool) -> Kpi:
    state = ChartState.from_json(change.before if back else change.after)
    why = f"{'Undid' if back else 'Redid'}: {change.summary}"
    if change.data is not None:
        turn(kpi, change.data, author, back=back)
    if change.event is not None:
        turn_event(kpi, change.event, back=back)
    if state.name.lower() != kpi.name.lower():
        refuse_taken_name(kpi.workspace, state.name)
    if change.data is not None:
        _name_breakdowns(kpi)
        # Other values may have gone since, without an act of the chart.
        state = fit_segments(observations_of(kpi, state), state)
    # Shifts that went with the values they stood on come back with them.
    apply_settings(kpi, state_of_kpi(kpi), state, why)
    change.standing = ChartChange.Standing.UNDONE if back else ChartChange.Standing.KEPT
    change.revision = kpi.revision
    change.turned_by, change.turned_at = author, timezone.now()
    change.save(update_fields=["standing", "revision", "turned_by", "turned_at"])
    return kpi


@transaction.atomic
def restore(kpi: Kpi, revision: int, number: int | None, author: User) -> Kpi:
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
    wanted = ChartState.from_json(act.before if number is None else act.after)
    then = "as it came" if number is None else f"as it was after: {act.summary}"
    summary = f"Brought the chart back {then}"
    before = state_of_kpi(kpi)
    if wanted.time_zone != before.time_zone and kpi.grain != Grain.HOUR:
        move_to_zone(kpi, before.time_zone, wanted.time_zone)
    data = _bring_marks_back(kpi, act, author, summary, before_it=number is None)
    after = fit_segments(observations_of(kpi, wanted), wanted)
    if after == before and data is None:
        raise RefusalError(
            "The chart is as it was then.",
            Issue("Neither its settings nor what is set aside differs."),
            status=409,
        )
    if after.name.lower() != before.name.lower():
        refuse_taken_name(kpi.workspace, after.name)
    # The periods have been moved to the zone of that time already.
    apply_settings(kpi, replace(before, time_zone=after.time_zone), after, summary)
    record(kpi, author, summary, before, after, data)
    return kpi


def _bring_marks_back(
    kpi: Kpi, act: ChartChange, author: User, summary: str, *, before_it: bool
) -> DataChange | None:
    """Set values aside as they were after ``act``, or before it; None where none differs."""
    acts = DataChange.objects.filter(kpi=kpi, at__lte=act.at).order_by("-id")
    if before_it and act.data_id is not None:
        acts = acts.filter(id__lt=act.data_id)
    last = acts.values_list("id", flat=True).first()
    marked = marks_then(kpi, last or 0)
    if marked.is_empty():
        return None
    data = DataChange.objects.create(
        kpi=kpi, author=author, summary=summary[:200], changed=marked.height
    )
    put_values(kpi, data, marked)
    return data


def turn(kpi: Kpi, change: DataChange, author: User | None, *, back: bool) -> None:
    """Take back or bring back an act on values; of one that itself took back, the opposite."""
    root = change.undoes or change
    if back is (change.undoes is None):
        take_values_back(kpi, root, author, later_too=change.later_too)
    else:
        act = root.undone_by
        assert act is not None, "only what was taken back is brought back"
        bring_back(kpi, root, act)
        root.undone_by = None
        root.save(update_fields=["undone_by"])


def take_values_back(
    kpi: Kpi, root: DataChange, author: User | None, *, later_too: bool = False
) -> DataChange:
    """Take back an act of writing; returns the act that did it."""
    act = DataChange.objects.create(
        kpi=kpi, author=author, summary=f"Took back: {root.summary}"[:200], undoes=root,
        later_too=later_too,
    )  # fmt: skip
    take_back(kpi, root, act, later_too=later_too)
    root.undone_by = act
    root.save(update_fields=["undone_by"])
    return act


def locked(kpi: Kpi, revision: int | None = None) -> Kpi:
    """Lock a KPI for a write; raises StaleError when it is no longer at ``revision``."""
    # Without its key: an event that is told with several KPIs is linked to one that somebody
    # else holds, and both would wait for each other.
    row = (
        Kpi.objects.select_for_update(of=("self",), no_key=True)
        .select_related("workspace")
        .filter(pk=kpi.pk)
        .first()
    )
    if row is None:
        raise NotThereError("KPI")
    if revision is not None and row.revision != revision:
        raise StaleError(row.revision, acts_since(row, revision))
    return row


def renew(kpi: Kpi, why: str) -> ChartState:
    """Bring what is kept with a KPI up to date after its values have changed by the act ``why``.

    A shift whose period has no value any more moves to the next one that has;
    one that is left without any goes, as does a baseline that lost an end.
    Returns the state of the chart then.
    """
    _name_breakdowns(kpi)
    state = state_of_kpi(kpi)
    observations = observations_of(kpi, state)
    fitting = fit_segments(observations, state)
    if fitting != state:
        _keep_segments(kpi, fitting)
    _settle(kpi, make_chart(observations, fitting), why)
    return fitting


def _name_breakdowns(kpi: Kpi) -> None:
    names = Observation.objects.filter(kpi=kpi).exclude(breakdown="").order_by("breakdown")
    kpi.breakdowns = list(names.values_list("breakdown", flat=True).distinct())


def apply_settings(kpi: Kpi, before: ChartState, state: ChartState, why: str) -> None:
    """Save ``state`` as the settings of a locked KPI; raises RefusalError where it cannot be."""
    if state.time_zone != before.time_zone and kpi.grain != Grain.HOUR:
        move_to_zone(kpi, before.time_zone, state.time_zone)
    chart = make_chart(observations_of(kpi, state), state)
    for name in DETAILS:
        setattr(kpi, name, getattr(state, name))
    kpi.rules = list(state.rules)
    kpi.kept_limits = state.to_json()["kept_limits"]
    _settle(kpi, chart, why)
    _keep_segments(kpi, state)


def catch_up() -> int:
    """Make anew what is kept of charts that were saved before there were proposals."""
    old = list(Kpi.objects.filter(proposals={}).values_list("pk", flat=True))
    for pk in old:
        with transaction.atomic():
            kpi = locked(Kpi(pk=pk))
            state = state_of_kpi(kpi)
            _keep_made(kpi, make_chart(observations_of(kpi, state), state), "Found on the chart")
    return len(old)


def _settle(kpi: Kpi, chart: Chart, why: str) -> None:
    """Make anew what is kept of a chart beside its settings, and tell those who follow it."""
    kpi.revision += 1
    _keep_made(kpi, chart, why)


def _keep_made(kpi: Kpi, chart: Chart, why: str) -> None:
    kpi.digest = digest_of(chart)
    kpi.proposals = proposals_of(chart)
    kpi.save()
    for follower in followers:
        follower(kpi, chart, why)


def _keep_segments(kpi: Kpi, state: ChartState) -> None:
    Segment.objects.filter(kpi=kpi).delete()
    Segment.objects.bulk_create(segment_rows(kpi, state))


def refuse_taken_name(workspace: Workspace, name: str) -> None:
    """Raise RefusalError where a KPI of the workspace has this name."""
    if Kpi.objects.filter(workspace=workspace, name__iexact=name).exists():
        raise RefusalError(
            "This name is taken.",
            Issue(f"There is a KPI named {name} already.", "Choose another name.", "name"),
        )


def _free_slug(workspace: Workspace, name: str) -> str:
    base = slugify(name)[:70] or "kpi"
    taken = set(
        Kpi.objects.filter(workspace=workspace, slug__startswith=base).values_list(
            "slug", flat=True
        )
    )
    slug, number = base, 2
    while slug in taken:
        slug, number = f"{base}-{number}", number + 1
    return slug
