"""A fetch, from what is due to what came of it."""

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Final

from django.conf import settings
from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.db.models import Q

from fluctus.accounts.models import Membership, Role
from fluctus.accounts.sealing import opened as unsealed
from fluctus.feeds.fit import gone, jumped, misfits, unreadable
from fluctus.feeds.hooks import tell
from fluctus.feeds.models import Feed, FeedKpi, FeedState, Fetch, FetchOutcome
from fluctus.feeds.sources.registry import SOURCES
from fluctus.feeds.sources.source import Arrived, Asked
from fluctus.feeds.timing import after_failure, next_fetch
from fluctus.http import clock
from fluctus.http.refusals import RefusalError
from fluctus.intake.kept.shape import shape_from
from fluctus.intake.models import Import, Upload
from fluctus.intake.readings import is_long, read_whole
from fluctus.intake.services import NOBODY_WATCHES, carry_out, plan_import
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.uploads import LONGEST, forget, keep_upload, opened
from fluctus.jobs.life import ProgressOf, held_to_end
from fluctus.jobs.models import UNDER_WAY, JobStatus
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.reading import read_frame
from fluctus.kpis.values.services import ImportMode

FETCH_SECONDS: Final = 600.0
KEPT_FETCHES: Final = 50
FAILURES_TOLD: Final = 3
"""Failures in a row after which the owner is told."""
GONE_OWNER: Final = "Its owner has left the workspace, or may no longer add values"
NO_KPIS: Final = "The KPIs that it fed have been deleted"


def asked_of(feed: Feed, *, anew: bool = False, seconds: float = FETCH_SECONDS) -> Asked:
    """Return what a feed asks its source; ``anew``: all of it, whether or not it is new."""
    return Asked(
        options=feed.options,
        secrets=unsealed(feed.sealed),
        validators={} if anew else feed.validators,
        until=time.monotonic() + seconds,
    )


def fetched(feed: Feed, person: User, asked: Asked) -> tuple[Arrived, Upload] | None:
    """Fetch a feed's table and keep it; None where there is nothing new."""
    arrived = SOURCES[feed.source].fetch(asked)
    if arrived is None:
        return None
    upload = keep_upload(feed.workspace, person, arrived.name, arrived.blocks)
    return arrived, upload


def begin_due(now: datetime, defer: Callable[[Fetch], object]) -> int:
    """Begin the fetches that are due, each once however many look; returns how many."""
    begun = 0
    with transaction.atomic():
        due = (
            Feed.objects.filter(state=FeedState.ON, next_at__lte=now)
            .exclude(fetches__status__in=UNDER_WAY)
            .order_by("next_at", "pk")
            .select_for_update(of=("self",), skip_locked=True)
        )
        for feed in due[:200]:
            begun += begin_fetch(feed, now, defer, by_hand=False) is not None
    return begun


def begin_fetch(
    feed: Feed, now: datetime, defer: Callable[[Fetch], object], *, by_hand: bool
) -> Fetch | None:
    """Begin to fetch a feed; None where one is under way, of which there is never a second."""
    try:
        with transaction.atomic():
            fetch = Fetch.objects.create(feed=feed, began=now, by_hand=by_hand)
            defer(fetch)
    except IntegrityError:
        return None
    return fetch


def carry_fetch_out(fetch: Fetch) -> None:
    """Fetch, and bring in what has come: all of it, or nothing.

    Raises RefusalError for what has failed, after it is noted with the feed.
    """
    feed, now = fetch.feed, clock.now()
    owner = owner_of(feed)
    if owner is None or not feed.kpis.exists():
        stop(feed, fetch, None, [GONE_OWNER if owner is None else NO_KPIS], now)
        return
    person, role = owner
    try:
        came = fetched(feed, person, asked_of(feed, anew=fetch.by_hand and not feed.checksum))
    except RefusalError as error:
        note_failed(feed, fetch, clock.now(), error)
        raise
    if came is None:
        _end_same(feed, fetch, {}, clock.now())
        return
    arrived, upload = came
    fetch.size = upload.size
    actor = Actor(person, clock.now(), role)
    if upload.checksum == feed.checksum:
        forget(upload)
        _end_same(feed, fetch, arrived.validators, actor.now)
        arrived.done()
    else:
        _take_in(feed, fetch, upload, arrived, actor)
    if arrived.more:
        Feed.objects.filter(pk=feed.pk, state=FeedState.ON).update(next_at=clock.now())


def _take_in(feed: Feed, fetch: Fetch, upload: Upload, arrived: Arrived, actor: Actor) -> None:
    """Bring a table in where it fits, hold it where it does not."""
    try:
        seen = looked_over(feed, upload)
        if seen.misfits:
            stop(feed, fetch, upload, seen.misfits, actor.now, arrived.validators)
            return
        bring(feed, fetch, upload, seen, actor, arrived.validators)
    except RefusalError as error:
        forget(upload)
        note_failed(feed, fetch, clock.now(), error)
        raise
    arrived.done()


def owner_of(feed: Feed) -> tuple[User, Role] | None:
    """Return in whose name a feed brings values in, with their role; None where nobody may."""
    member = (
        Membership.objects.filter(
            workspace=feed.workspace_id, person=feed.person_id, person__is_active=True
        )
        .select_related("person")
        .first()
    )
    if member is None or not Role(member.role).includes(Role.CONTRIBUTOR):
        return None
    return member.person, Role(member.role)


@dataclass(frozen=True, slots=True)
class LookedOver:
    """What of a table does not fit, how to read it, and what else there is to say of it."""

    misfits: list[str]
    mapping: Mapping
    remarks: list[str]


def looked_over(feed: Feed, upload: Upload, *, as_before: bool = False) -> LookedOver:
    """Hold a table against what a feed was set up for; raises RefusalError where none is there.

    ``as_before`` says that somebody has decided that it is to be read so, whatever does not fit.
    """
    mapping = replace(Mapping.from_json(feed.mapping), leave_out=True)
    rows = list(feed.kpis.select_related("kpi"))
    grid = opened(upload, mapping.sheet, LONGEST).grid
    units = {row.key: row.unit for row in rows}
    if not as_before:
        told, mapping = misfits(shape_from(feed.columns), units, mapping, grid)
        if told:
            return LookedOver(told, mapping, [])
    reading = read_whole(upload, mapping)
    told = [] if as_before else unreadable(reading)
    fed = {row.key: row.kpi for row in rows}
    remarks = [
        f"{kpi.name} is in the table as well, and not fed"
        for kpi in reading.chosen
        if kpi.key not in fed
    ]
    for kpi in reading.chosen:
        if kpi.key in fed:
            present = read_frame(fed[kpi.key])
            told = told or ([] if as_before else jumped(kpi, present))
            remarks += gone(kpi, present)
    return LookedOver(told, mapping, remarks)


def bring(
    feed: Feed,
    fetch: Fetch,
    upload: Upload,
    seen: LookedOver,
    actor: Actor,
    validators: dict[str, str],
) -> None:
    """Bring a table into the KPIs of a feed, and note what came of it, in one transaction."""
    targets = {row.key: row.kpi for row in feed.kpis.select_related("kpi")}
    checksum = upload.checksum
    # Told beside the transaction, for which it needs a connection of its own.
    progress = ProgressOf(fetch) if is_long(upload) else NOBODY_WATCHES
    with transaction.atomic():
        planned = plan_import(upload, actor, seen.mapping, ImportMode.UPDATE, targets=targets)
        carry_out(planned, actor, progress)
        row = held_to_end(fetch)
        row.outcome, row.ended, row.brought = FetchOutcome.BROUGHT, actor.now, planned
        row.size, row.rows = planned.size, planned.rows
        row.counts, row.remarks = _counts(planned), _remarks(planned, targets) + seen.remarks
        row.save()
        _note_well(
            feed,
            actor.now,
            checksum=checksum,
            validators=validators,
            state=FeedState.ON,
            held=None,
            differs=[],
        )
        _forget_old(feed)


def _counts(planned: Import) -> dict[str, int]:
    parts = [part.counts for part in planned.parts.all()]
    names = ("new", "changed", "same", "typed")
    return {name: sum(counts.get(name, 0) for counts in parts) for name in names}


def _remarks(planned: Import, targets: dict[str, Kpi]) -> list[str]:
    """Say which KPIs were not in a table, and which rows were left out."""
    there = {part.key for part in planned.parts.all()}
    told = [f"{kpi.name} was not in the table" for key, kpi in targets.items() if key not in there]
    if planned.left_out_count:
        told.append(f"{planned.left_out_count:,} rows were left out")
    return told


def _end_same(feed: Feed, fetch: Fetch, validators: dict[str, str], now: datetime) -> None:
    with transaction.atomic():
        row = held_to_end(fetch)
        row.outcome, row.ended, row.size = FetchOutcome.SAME, now, fetch.size
        row.save()
        _note_well(feed, now, **({"validators": validators} if validators else {}))
        _forget_old(feed)


def _note_well(feed: Feed, now: datetime, **changes: Any) -> None:
    """Note that a feed is well, and say so where its owner was told otherwise."""
    if feed.told_failing:
        tell(feed, f"The feed {feed.name} is well again.", now)
    Feed.objects.filter(pk=feed.pk).update(
        failures=0, told_failing=False, next_at=next_fetch(feed, now), **changes
    )


def note_failed(feed: Feed, fetch: Fetch, now: datetime, error: RefusalError) -> None:
    """Note that a fetch has failed, when the next try is, and tell the owner of the third."""
    with transaction.atomic():
        row = Feed.objects.select_for_update().get(pk=feed.pk)
        row.failures += 1
        row.next_at = after_failure(row, now, error.retry_after)
        if row.failures >= FAILURES_TOLD and not row.told_failing:
            row.told_failing = True
            why = error.issues[0].detail if error.issues else error.title
            tell(row, f"The feed {row.name} has failed {row.failures} times: {why}", now)
        row.save(update_fields=["failures", "next_at", "told_failing"])
        Fetch.objects.filter(pk=fetch.pk).update(
            outcome=FetchOutcome.FAILED, ended=now, size=fetch.size
        )
        _forget_old(row)


def stop(
    feed: Feed,
    fetch: Fetch,
    upload: Upload | None,
    told: list[str],
    now: datetime,
    validators: dict[str, str] | None = None,
) -> None:
    """Stop a feed until somebody decides, and keep the table that does not fit."""
    with transaction.atomic():
        row = held_to_end(fetch)
        row.outcome, row.ended, row.size, row.remarks = (
            FetchOutcome.STOPPED,
            now,
            fetch.size,
            told,
        )
        row.save()
        if upload is not None:
            Upload.objects.filter(pk=upload.pk).update(held=True)
        Feed.objects.filter(pk=feed.pk).update(
            state=FeedState.STOPPED,
            held=upload,
            differs=told,
            next_at=None,
            validators=validators or {},
        )
        tell(feed, f"The feed {feed.name} has stopped: {told[0]}.", now)
        _forget_old(feed)


def _forget_old(feed: Feed) -> None:
    kept = feed.fetches.order_by("-id").values_list("pk", flat=True)[:KEPT_FETCHES]
    feed.fetches.filter(~Q(pk__in=list(kept)), ~Q(status__in=UNDER_WAY)).delete()


def forget_drafts(now: datetime) -> int:
    """Remove feeds that were looked at and never set up; returns how many."""
    old = Feed.objects.filter(
        state=FeedState.DRAFT, made_at__lt=now - settings.DRAFTS_KEPT
    ).exclude(first__status__in=[JobStatus.WAITING, JobStatus.RUNNING])
    return old.delete()[0]


def feeds_kpi(kpi: Kpi) -> bool:
    """Tell whether a feed brings values of a KPI."""
    return FeedKpi.objects.filter(
        kpi=kpi, feed__state__in=[FeedState.ON, FeedState.STOPPED]
    ).exists()


def read_anew(kpi: Kpi) -> None:
    """Let the feeds of a KPI take in what they have brought before."""
    Feed.objects.filter(kpis__kpi=kpi).update(checksum="", validators={})
