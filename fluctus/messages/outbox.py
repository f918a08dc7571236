"""What is to be told, written down with what it tells of, and sent until it arrives."""

import hmac
import json
import logging
import uuid
from collections.abc import Sequence
from datetime import datetime, timedelta
from hashlib import sha256
from smtplib import SMTPException, SMTPRecipientsRefused
from typing import Any, Final
from zoneinfo import ZoneInfo

import httpx
from django.conf import settings
from django.contrib.auth.models import User
from django.core.mail import EmailMultiAlternatives
from django.db import DatabaseError, transaction
from django.db.models import Exists, OuterRef

from fluctus.accounts.mail import WORKSPACES
from fluctus.accounts.models import Membership, Workspace
from fluctus.accounts.sealing import opened
from fluctus.http.outgoing import checked_url, client
from fluctus.http.refusals import RefusalError
from fluctus.jobs.claiming import claimed, for_each
from fluctus.jobs.schedule import Every, Schedule, next_times
from fluctus.messages.letters import (
    Letter,
    address_of,
    digest_of,
    letter_of,
    message_id,
    unsubscribe_secret,
)
from fluctus.messages.models import Delivery, DeliveryState, Digest, Happening, How, Topic, Webhook
from fluctus.messages.pictures import with_pictures
from fluctus.messages.wishes import concerns, members_of, reached_by_mail, wishes_of
from fluctus.reports.models import ReportFile

log = logging.getLogger(__name__)

PAUSES: Final = tuple(timedelta(minutes=m) for m in (1, 5, 15, 60, 180, 360, 360, 480))
"""After a try that has failed: for about a day in all, then a delivery is given up."""
HELD: Final = timedelta(minutes=5)
"""How long one sender has a delivery for itself."""
GONE_FOR_GOOD: Final = 500
"""From this status on, a mail server says that trying again is of no use (RFC 5321, 4.2.1)."""
MOST_AT_ONCE: Final = 2_000
MOST_ENCLOSED: Final = 10_000_000
"""Bytes of a report that goes along; of a larger one the letter says where it is."""
MONDAY: Final = Schedule(Every.WEEK, minute=7 * 60, weekday=0)
"""When a person gets the digest who has not said otherwise."""
TYPES: Final = {topic: f"fluctus.{topic.value.replace('_', '-')}" for topic in Topic}


def hand_on(now: datetime) -> int:
    """Write to those who want to know at once of what has happened; returns how many messages.

    In one transaction with marking it: however often it is tried, one message of one happening.
    What is gone is told should it come back.
    """
    written = 0
    with transaction.atomic():
        rows = list(
            Happening.objects.filter(handed_on=False, gone=False)
            .select_related("workspace", "kpi")
            .order_by("pk")
            .select_for_update(of=("self",), skip_locked=True)[:MOST_AT_ONCE]
        )
        by_workspace: dict[int, list[Happening]] = {}
        for row in rows:
            by_workspace.setdefault(row.workspace_id, []).append(row)
        for told in by_workspace.values():
            written += _write_to_people(told[0].workspace, told, now)
            written += _write_to_webhooks(told[0].workspace, told, now)
        Happening.objects.filter(pk__in=[row.pk for row in rows]).update(handed_on=True)
    return written


def _write_to_people(workspace: Workspace, told: Sequence[Happening], now: datetime) -> int:
    people = members_of(workspace)
    wishes = wishes_of(workspace, people)
    count = 0
    for person in people:
        own = [
            row
            for row in told
            if concerns(row, person) and wishes[person.pk].how(row, now) is How.AT_ONCE
        ]
        if own and reached_by_mail(workspace, person):
            _write(workspace, letter_of(person, workspace, own), now, own, person)
            count += 1
    return count


def _write(
    workspace: Workspace,
    letter: Letter,
    now: datetime,
    told: Sequence[Happening],
    person: User,
) -> None:
    write_letter(workspace, letter, now, person).happenings.set(told)


def write_letter(
    workspace: Workspace,
    letter: Letter,
    now: datetime,
    person: User,
    enclosed: dict[str, Any] | None = None,
) -> Delivery:
    """Write a letter down that is to be sent; ``enclosed`` names a report that goes with it."""
    return Delivery.objects.create(
        key=uuid.uuid4(),
        workspace=workspace,
        person=person,
        # A name that holds a line break must not begin another header.
        subject=" ".join(letter.subject.split())[:200],
        content={
            "text": letter.text,
            "html": letter.html,
            "charts": list(letter.sentences),
            "enclosed": enclosed,
        },
        at=now,
        next_at=now,
    )


def _write_to_webhooks(workspace: Workspace, told: Sequence[Happening], now: datetime) -> int:
    count = 0
    for hook in workspace.webhooks.filter(ended=""):
        for happening in told:
            if happening.topic in hook.topics and happening.person_id is None:
                event_to(hook, event_of(happening), now, [happening])
                count += 1
    return count


def event_of(happening: Happening) -> dict[str, Any]:
    """Return a happening as a CloudEvent (version 1.0, JSON)."""
    workspace, kpi = happening.workspace, happening.kpi
    return {
        "specversion": "1.0",
        "type": TYPES[Topic(happening.topic)],
        "source": address_of(workspace, ""),
        "subject": kpi.slug if kpi else workspace.slug,
        "time": happening.at.isoformat(),
        "datacontenttype": "application/json",
        "data": {
            "text": happening.text,
            "kpi": None if kpi is None else {"slug": kpi.slug, "name": kpi.name},
            "address": address_of(workspace, happening.path),
        },
    }


def event_to(
    hook: Webhook, event: dict[str, Any], now: datetime, told: Sequence[Happening] = ()
) -> Delivery:
    """Write an event down that is to be sent to a webhook."""
    key = uuid.uuid4()
    row = Delivery.objects.create(
        key=key,
        workspace=hook.workspace,
        webhook=hook,
        content={"id": str(key), **event},
        at=now,
        next_at=now,
    )
    row.happenings.set(told)
    return row


def write_digests(now: datetime) -> int:
    """Write the digests that are due; one that was missed is made up once. Returns how many."""
    due = Digest.objects.filter(next_at__lte=now).select_related("workspace", "person")
    return for_each(due.order_by("next_at", "pk"), lambda row: _write_digest(row, now))


def ensure_digests(now: datetime) -> None:
    """Let everybody who has joined have a digest, by the quiet default."""
    theirs = Digest.objects.filter(workspace=OuterRef("workspace"), person=OuterRef("person"))
    joined = Membership.objects.filter(~Exists(theirs), person__is_active=True)
    for member in joined.select_related("workspace", "person").order_by("pk"):
        digest_for(member.workspace, member.person, now)


def digest_for(workspace: Workspace, person: User, now: datetime) -> Digest:
    """Return when a person gets the digest, by the quiet default where they have not said."""
    row = Digest.objects.filter(workspace=workspace, person=person).first()
    if row is None:
        # By the clock of what they follow.
        zone = workspace.kpis.order_by("pk").values_list("time_zone", flat=True).first() or "UTC"
        row, _ = Digest.objects.get_or_create(
            workspace=workspace,
            person=person,
            defaults={
                "schedule": MONDAY.to_json(),
                "time_zone": zone,
                "next_at": next_times(MONDAY, now, ZoneInfo(zone), 1)[0],
                "since": now,
            },
        )
    return row


def digest_letter(digest: Digest, now: datetime) -> tuple[Letter, list[Happening]]:
    """Return the digest that a person would get now, and what it tells."""
    workspace, person = digest.workspace, digest.person
    wishes = wishes_of(workspace, [person])[person.pk]
    rows = Happening.objects.filter(
        workspace=workspace, gone=False, at__gt=digest.since, at__lte=now
    )
    told = [
        row
        for row in rows.select_related("kpi").order_by("pk")
        if concerns(row, person) and wishes.how(row, now) is How.DIGEST
    ]
    return digest_of(person, workspace, told, now), told


def _write_digest(digest: Digest, now: datetime) -> int:
    letter, told = digest_letter(digest, now)
    wanted = bool(told) or digest.even_if_nothing
    member = digest.workspace.members.filter(pk=digest.person_id, is_active=True).exists()
    sent = wanted and member and reached_by_mail(digest.workspace, digest.person)
    if sent:
        _write(digest.workspace, letter, now, told, digest.person)
    zone = ZoneInfo(digest.time_zone)
    digest.since = now
    digest.next_at = next_times(Schedule.from_json(digest.schedule), now, zone, 1)[0]
    digest.save(update_fields=["since", "next_at"])
    return int(sent)


def send_due(now: datetime) -> int:
    """Send what waits, each by one sender at a time; returns how many have arrived.

    Claimed before it is sent and noted after: a sender that dies in between lets another send it
    again, with the same key.
    """
    arrived = 0
    while (row := _claimed(now)) is not None:
        arrived += _sent(row, now)
    return arrived


def _claimed(now: datetime) -> Delivery | None:
    with transaction.atomic():
        waiting = Delivery.objects.filter(state=DeliveryState.WAITING, next_at__lte=now)
        row = claimed(waiting.order_by("next_at", "pk"))
        if row is not None:
            row.tries += 1
            row.next_at = now + HELD
            row.save(update_fields=["tries", "next_at"])
    return row


def _sent(row: Delivery, now: datetime) -> int:
    told = list(row.happenings.values_list("gone", flat=True))
    if told and all(told):
        _note(row, DeliveryState.ABANDONED, "What it told of is gone.", now)
        return 0
    try:
        answer = _post(row, now) if row.webhook is not None else _mail(row, now)
    except SMTPRecipientsRefused as error:
        code, said = next(iter(error.recipients.values()))
        if code < GONE_FOR_GOOD:
            _failed(row, now, _in_words(error))
        else:
            _stop_mail(row, f"{code} {said.decode(errors='replace')}", now)
        return 0
    except (SMTPException, OSError, httpx.HTTPError, RefusalError) as error:
        _failed(row, now, _in_words(error))
        return 0
    except DatabaseError:
        raise
    except Exception:
        # What is wrong with this one keeps no other waiting.
        log.exception("Delivery %s cannot be sent", row.pk)
        _failed(row, now, "It cannot be sent; why is in the server's log.")
        return 0
    _note(row, DeliveryState.SENT, answer, now)
    return 1


def _stop_mail(row: Delivery, said: str, now: datetime) -> None:
    """Write no more to an address that is refused for good, and keep why; in Fluctus all stays."""
    assert row.person is not None, "mail is to a person"
    digest_for(row.workspace, row.person, now)
    digest = Digest.objects.filter(workspace=row.workspace, person=row.person)
    digest.update(no_mail=True, refused=said[:200])
    _note(row, DeliveryState.ABANDONED, said, now)


def _in_words(error: Exception) -> str:
    if isinstance(error, RefusalError):
        return error.issues[0].detail if error.issues else error.title
    return f"{type(error).__name__}: {error}"[:300]


def _failed(row: Delivery, now: datetime, answer: str) -> None:
    if row.tries > len(PAUSES):
        _note(row, DeliveryState.ABANDONED, answer, now)
        return
    row.next_at, row.answer = now + PAUSES[row.tries - 1], answer[:300]
    row.save(update_fields=["next_at", "answer"])


def _note(row: Delivery, state: DeliveryState, answer: str, now: datetime) -> None:
    row.state, row.answer = state, answer[:300]
    row.sent_at = now if state is DeliveryState.SENT else None
    row.save(update_fields=["state", "answer", "sent_at"])


def _mail(row: Delivery, now: datetime) -> str:
    person, workspace = row.person, row.workspace
    assert person is not None, "mail is to a person"
    if not (settings.SENDS_MAIL and reached_by_mail(workspace, person)):
        return "Not sent: they get no mail."
    stop = f"{settings.SITE_ADDRESS}/api/v1/unsubscribe/{unsubscribe_secret(person, workspace)}"
    mail = EmailMultiAlternatives(
        row.subject,
        row.content["text"],
        settings.DEFAULT_FROM_EMAIL,
        [person.email],
        headers={
            WORKSPACES: workspace.slug,
            "Message-ID": message_id(str(row.key)),
            # RFC 8058: mail programs offer it as one click.
            "List-Unsubscribe": f"<{stop}>",
            "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
        },
    )
    charts = [(slug, said) for slug, said in row.content.get("charts", [])]
    html, images = with_pictures(row.content["html"], workspace, charts, now)
    mail.attach_alternative(html, "text/html")
    enclosed = row.content.get("enclosed")
    made = ReportFile.objects.filter(report=enclosed["report"]).first() if enclosed else None
    if made is not None and len(made.content) <= MOST_ENCLOSED:
        mail.attach(enclosed["name"], bytes(made.content), enclosed["type"])
    if images:
        mail.mixed_subtype = "related"  # type: ignore[attr-defined]
    for image in images:
        mail.attach(image)
    mail.send()
    return "Sent."


def _post(row: Delivery, now: datetime) -> str:
    hook = row.webhook
    assert hook is not None, "an event is to a webhook"
    if hook.ended:
        raise RefusalError(hook.ended)
    body = json.dumps(row.content).encode()
    moment = str(int(now.timestamp()))
    headers = {
        "Content-Type": "application/cloudevents+json; charset=utf-8",
        "Fluctus-Time": moment,
        "Fluctus-Signature": signature(opened(hook.sealed)["secret"], moment, body),
        "Idempotency-Key": str(row.key),
    }
    with client() as sender:
        answer = sender.post(checked_url(hook.address), content=body, headers=headers)
    if answer.status_code == httpx.codes.GONE:
        hook.ended = "It said that it is gone (410)."
        hook.save(update_fields=["ended"])
    if not answer.is_success:
        raise RefusalError(f"It answered {answer.status_code}.")
    return f"It answered {answer.status_code}."


def signature(secret: str, moment: str, body: bytes) -> str:
    """Return what shows that a message is from here: HMAC-SHA256 over time and body, in hex."""
    return hmac.new(secret.encode(), moment.encode() + b"." + body, sha256).hexdigest()
