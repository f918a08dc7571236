"""Writes of feeds by people: looked at, set up, changed, decided on, removed."""

from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import PurePosixPath
from typing import Any, Final
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import refuse_beyond
from fluctus.accounts.sealing import opened as unsealed
from fluctus.accounts.sealing import sealed
from fluctus.feeds.models import Feed, FeedKpi, FeedState, Fetch, FetchOutcome
from fluctus.feeds.running import (
    asked_of,
    bring,
    fetched,
    looked_over,
    owner_of,
)
from fluctus.feeds.sources.registry import SOURCES
from fluctus.feeds.timing import next_fetch
from fluctus.http.refusals import Issue, NotThereError, RefusalError, StaleError
from fluctus.intake.kept.recognition import as_it_is_written
from fluctus.intake.kept.shape import kept_shape, shape_of
from fluctus.intake.models import Import, ImportPart, Upload
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import Reading
from fluctus.intake.uploads import forget, opened
from fluctus.jobs.life import run
from fluctus.jobs.models import UNDER_WAY
from fluctus.jobs.schedule import Schedule, refuse_unfit
from fluctus.kpis.actor import Actor

MOST: Final = 500
"""Feeds of a workspace."""
LOOK_SECONDS: Final = 25.0
"""How long somebody waits for a table at an address that they look at."""


def feed_of(workspace: Workspace, number: int, *, lock: bool = False) -> Feed:
    """Return a feed of a workspace; raises NotThereError for any other."""
    rows = Feed.objects.filter(workspace=workspace, pk=number).select_related("person", "held")
    if lock:
        rows = rows.select_for_update(of=("self",))
    row = rows.first()
    if row is None:
        raise NotThereError("feed")
    return row


def look(
    workspace: Workspace,
    actor: Actor,
    source: str,
    options: dict[str, Any],
    feed: Feed | None = None,
) -> tuple[Feed, Upload]:
    """Fetch a table to be looked at; returns the draft of a feed, and the table.

    The secrets of ``feed`` hold where none are typed, as long as they go to where they went.
    Raises RefusalError where nothing can be fetched; then nothing is kept.
    """
    assert actor.person is not None, "somebody looks"
    kind = SOURCES[source]
    before: dict[str, str] = {}
    if (
        feed is not None
        and feed.source == source
        and kind.where(feed.options) == kind.where(options)
    ):
        before = unsealed(feed.sealed)
    shown, secrets = kind.hidden(options, before)
    draft = Feed(
        workspace=workspace,
        person=actor.person,
        name=kind.says(shown)[:80],
        source=source,
        options=shown,
        sealed=sealed(secrets),
        made_at=actor.now,
    )
    came = fetched(draft, actor.person, asked_of(draft, anew=True, seconds=LOOK_SECONDS))
    if came is None:
        raise RefusalError(
            "There is no table there yet.",
            Issue("The folder has no file of that name.", "Put one there, then look again."),
        )
    draft.name = _called(came[1].name) or draft.name
    draft.save()
    return draft, came[1]


def _called(file_name: str) -> str:
    """Return what a feed may be called after its table: ``weekly-figures.csv``."""
    words = PurePosixPath(file_name).stem.replace("-", " ").replace("_", " ").strip()
    return words[:1].upper() + words[1:80]


@transaction.atomic
def plan(
    draft: Feed, workspace: Workspace, name: str, schedule: Schedule, zone: str, actor: Actor
) -> Feed:
    """Keep when a feed that was looked at fetches; it begins once its first import is done."""
    refuse_unfit(schedule, actor.now, ZoneInfo(zone))
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    _refuse_name(workspace, name, draft)
    refuse_beyond(workspace, Kind.FEEDS, 1)
    if workspace.feeds.exclude(state=FeedState.DRAFT).count() >= MOST:
        raise RefusalError(
            "This feed cannot be set up.",
            Issue(f"There are {MOST} already.", "Remove those that are not needed."),
        )
    draft.name, draft.schedule, draft.time_zone = name, schedule.to_json(), zone
    draft.save()
    return draft


def is_first_of(draft: Feed) -> Callable[[Import], None]:
    """Return what notes that an import is the one that sets a feed up."""

    def note_first(planned: Import) -> None:
        draft.first = planned
        draft.save(update_fields=["first"])

    return note_first


def _refuse_name(workspace: Workspace, name: str, feed: Feed) -> None:
    others = workspace.feeds.exclude(pk=feed.pk).exclude(state=FeedState.DRAFT)
    if others.filter(name__iexact=name).exists():
        raise RefusalError(
            "There is a feed of that name.",
            Issue(f"{name} is there already.", "Give this one another name.", "name"),
            status=409,
        )


def follow_import(brought: Import, parts: Sequence[ImportPart]) -> None:
    """Let a feed begin whose first table has been brought in, in the same transaction."""
    feed = Feed.objects.select_for_update().filter(first=brought, state=FeedState.DRAFT).first()
    if feed is None or brought.upload is None:
        return
    mapping = Mapping.from_json(brought.mapping)
    reading = as_it_is_written(mapping, opened(brought.upload, mapping.sheet).grid)
    units = {kpi.key: kpi.unit for kpi in reading.kpis}
    FeedKpi.objects.bulk_create(
        FeedKpi(feed=feed, key=part.key, unit=units.get(part.key, "")[:60], kpi=part.kpi)
        for part in parts
        if part.kpi is not None
    )
    _learn(feed, mapping, reading)
    feed.state, feed.checksum = FeedState.ON, brought.checksum
    feed.next_at = next_fetch(feed, brought.at)
    feed.save()
    Fetch.objects.create(
        feed=feed,
        status="done",
        began=brought.at,
        ended=brought.at,
        by_hand=True,
        outcome=FetchOutcome.BROUGHT,
        size=brought.size,
        rows=brought.rows,
        counts={"new": sum(part.counts["new"] for part in parts)},
        brought=brought,
    )
    note(
        feed.workspace,
        feed.person,
        brought.at,
        AuditEvent.FEED,
        f"Set up the feed {feed.name} from {SOURCES[feed.source].says(feed.options)}",
    )


def _learn(feed: Feed, mapping: Mapping, reading: Reading) -> None:
    """Keep how a table was read, and the columns that it has, for the next one."""
    feed.mapping = mapping.for_the_next().to_json()
    feed.columns = kept_shape(shape_of(reading))


@transaction.atomic
def change(
    workspace: Workspace, number: int, revision: int, changes: dict[str, Any], actor: Actor
) -> Feed:
    """Change the name, the schedule or the zone of a feed, switch it on or off, or take it over.

    Raises StaleError where somebody has changed it since ``revision``.
    """
    feed = feed_of(workspace, number, lock=True)
    if feed.revision != revision:
        raise StaleError(feed.revision, ["somebody changed this feed"])
    if "name" in changes:
        _refuse_name(workspace, changes["name"], feed)
        feed.name = changes["name"]
    feed.time_zone = changes.get("time_zone", feed.time_zone)
    if "schedule" in changes:
        schedule = Schedule.from_json(dict(changes["schedule"]))
        refuse_unfit(schedule, actor.now, ZoneInfo(feed.time_zone))
        feed.schedule = schedule.to_json()
    if (draft := changes.get("draft")) is not None:
        _move_to(feed, feed_of(workspace, draft))
    if changes.get("take_over"):
        feed.person = actor.person
    if "paused" in changes:
        if feed.state == FeedState.STOPPED and feed.held is not None:
            raise RefusalError(
                "This feed waits for a decision.",
                Issue("A table that came does not fit.", "Decide what becomes of it first."),
                status=409,
            )
        feed.state = FeedState.PAUSED if changes["paused"] else FeedState.ON
        feed.differs = []
    feed.revision += 1
    feed.next_at = next_fetch(feed, actor.now) if feed.state == FeedState.ON else None
    feed.save()
    return feed


def _move_to(feed: Feed, draft: Feed) -> None:
    """Let a feed fetch from what was looked at as a draft."""
    if draft.state != FeedState.DRAFT:
        raise NotThereError("draft")
    feed.source, feed.options, feed.sealed = draft.source, draft.options, draft.sealed
    feed.checksum, feed.validators, feed.failures = "", {}, 0
    draft.delete()


@transaction.atomic
def remove(workspace: Workspace, number: int, actor: Actor) -> None:
    """Remove a feed; the values that it has brought stay."""
    feed = feed_of(workspace, number, lock=True)
    if feed.held is not None:
        forget(feed.held)
    note(workspace, actor.person, actor.now, AuditEvent.FEED, f"Removed the feed {feed.name}")
    feed.delete()


def decide_as_before(workspace: Workspace, number: int, actor: Actor) -> Feed:
    """Bring the table that waits in as it was read before, and let the feed go on."""
    feed, upload = _waiting(workspace, number)
    fetch = _fetch_for(feed, actor.now)

    def work() -> None:
        owner = owner_of(feed)
        person, role = owner if owner is not None else (actor.person, actor.role)
        seen = looked_over(feed, upload, as_before=True)
        bring(feed, fetch, upload, seen, Actor(person, actor.now, role), feed.validators)

    _carry_out(fetch, work)
    return feed_of(workspace, number)


def learn(
    workspace: Workspace, number: int, upload: Upload, mapping: Mapping, actor: Actor
) -> Feed:
    """Bring the table that waits in by another reading, by which the feed goes on.

    Its KPIs are known again by their key, else by their name; where one of each is left, they
    are the same. Raises RefusalError where one is not found again.
    """
    feed, held = _waiting(workspace, number)
    if held.pk != upload.pk:
        raise NotThereError("table")
    fetch = _fetch_for(feed, actor.now)

    def work() -> None:
        reading = as_it_is_written(mapping, opened(upload, mapping.sheet).grid)
        with transaction.atomic():
            _assign(feed, reading)
            _learn(feed, mapping, reading)
            feed.save(update_fields=["mapping", "columns"])
        seen = looked_over(feed, upload, as_before=True)
        bring(feed, fetch, upload, seen, actor, feed.validators)

    _carry_out(fetch, work)
    return feed_of(workspace, number)


def _assign(feed: Feed, reading: Reading) -> None:
    """Let the KPIs of a feed be known by the keys of another reading."""
    rows = list(feed.kpis.select_related("kpi"))
    left = {kpi.key: kpi for kpi in reading.chosen}
    lost = [row for row in rows if left.pop(row.key, None) is None]
    for row in list(lost):
        named = [kpi for kpi in left.values() if kpi.name.casefold() == row.kpi.name.casefold()]
        if named or (len(lost) == 1 and len(left) == 1):
            row.key = (named or list(left.values()))[0].key
            del left[row.key]
            lost.remove(row)
    if lost:
        raise RefusalError(
            "The table does not have all KPIs of this feed.",
            *(
                Issue(
                    f"{row.kpi.name} is not found again.",
                    "Give its column that name, or remove the feed and set another one up.",
                )
                for row in lost
            ),
        )
    units = {kpi.key: kpi.unit for kpi in reading.kpis}
    for row in rows:
        row.unit = units[row.key][:60]
        row.save(update_fields=["key", "unit"])


@transaction.atomic
def leave_out(workspace: Workspace, number: int, actor: Actor) -> Feed:
    """Leave the table that waits out, and let the feed go on with the next."""
    feed = feed_of(workspace, number, lock=True)
    if feed.held is None:
        raise _nothing_waits()
    checksum = feed.held.checksum
    forget(feed.held)
    feed.held, feed.differs, feed.state, feed.checksum = None, [], FeedState.ON, checksum
    feed.revision += 1
    feed.next_at = next_fetch(feed, actor.now)
    feed.save()
    last = feed.fetches.filter(outcome=FetchOutcome.STOPPED).order_by("-id").first()
    if last is not None:
        last.outcome = FetchOutcome.LEFT_OUT
        last.save(update_fields=["outcome"])
    return feed


def take_up(workspace: Workspace, number: int, person: User) -> Upload:
    """Let somebody look at the table that waits, whoever owns the feed."""
    _, upload = _waiting(workspace, number)
    upload.person = person
    upload.save(update_fields=["person"])
    return upload


def _waiting(workspace: Workspace, number: int) -> tuple[Feed, Upload]:
    feed = feed_of(workspace, number)
    if feed.held is None:
        raise _nothing_waits()
    return feed, feed.held


def _nothing_waits() -> RefusalError:
    return RefusalError(
        "Nothing waits for a decision here.",
        Issue("Somebody else may have decided.", "Look at the feed again."),
        status=409,
    )


def _fetch_for(feed: Feed, now: datetime) -> Fetch:
    """Note a fetch down for a table that has come before."""
    if feed.fetches.filter(status__in=UNDER_WAY).exists():
        raise RefusalError(
            "This feed is fetching just now.",
            Issue("Two fetches of a feed never go on at once.", "Try again in a moment."),
            status=409,
        )
    return Fetch.objects.create(feed=feed, began=now, by_hand=True)


def _carry_out(fetch: Fetch, work: Any) -> None:
    """Do the work of a fetch while somebody waits; raises why it could not be done."""
    refused: list[RefusalError] = []

    def noted() -> None:
        try:
            work()
        except RefusalError as error:
            refused.append(error)
            raise

    run(fetch, noted)
    if refused:
        Fetch.objects.filter(pk=fetch.pk).update(outcome=FetchOutcome.FAILED, ended=fetch.began)
        raise refused[0]
