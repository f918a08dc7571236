"""Writes of what people want to hear of, and of webhooks."""

from datetime import datetime
from typing import Any, Final
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.accounts.record.log import AuditEvent, note
from fluctus.accounts.sealing import sealed
from fluctus.accounts.secrets import draw_secret
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.jobs.schedule import Schedule, next_times
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.messages.letters import unsubscribed_by
from fluctus.messages.models import Delivery, DeliveryState, Digest, Topic, Webhook, Wish
from fluctus.messages.outbox import digest_for, event_to

MOST_WEBHOOKS: Final = 20
KEPT_DELIVERIES: Final = 50


def keep_wish(
    workspace: Workspace, person: User, kpi: Kpi | None, group: str, form: dict[str, Any]
) -> None:
    """Keep what a person wants to hear of; one that says nothing goes."""
    key: dict[str, Any] = {"workspace": workspace, "person": person, "kpi": kpi, "group": group}
    if not form["how"] and form["quiet_until"] is None:
        Wish.objects.filter(**key).delete()
        return
    kept = {"how": dict(form["how"]), "quiet_until": form["quiet_until"]}
    Wish.objects.update_or_create(**key, defaults=kept)


def keep_digest(workspace: Workspace, person: User, form: dict[str, Any], now: datetime) -> Digest:
    """Keep when a person gets the digest."""
    schedule = Schedule.from_json(dict(form["schedule"]))
    with transaction.atomic():
        digest_for(workspace, person, now)
        row = Digest.objects.select_for_update().get(workspace=workspace, person=person)
        row.schedule, row.time_zone = schedule.to_json(), form["time_zone"]
        row.even_if_nothing, row.no_mail = form["even_if_nothing"], form["no_mail"]
        if not row.no_mail:
            row.refused = ""
        row.next_at = next_times(schedule, now, ZoneInfo(row.time_zone), 1)[0]
        row.save()
    return row


def unsubscribe(secret: str, now: datetime) -> None:
    """End all mail of a workspace to whom a letter went; raises NotThereError for no secret."""
    found = unsubscribed_by(secret)
    workspace = found and Workspace.objects.filter(pk=found[0]).first()
    person = found and User.objects.filter(pk=found[1]).first()
    if not workspace or not person:
        raise NotThereError("letter")
    digest_for(workspace, person, now)
    Digest.objects.filter(workspace=workspace, person=person).update(no_mail=True)


@transaction.atomic
def make_webhook(workspace: Workspace, form: dict[str, Any], actor: Actor) -> tuple[Webhook, str]:
    """Make a webhook; returns it and the secret that its messages are signed with."""
    Workspace.objects.select_for_update().get(pk=workspace.pk)
    if workspace.webhooks.count() >= MOST_WEBHOOKS:
        raise RefusalError(
            "The webhook was not made.",
            Issue(f"There are {MOST_WEBHOOKS} already.", "Remove those that are not needed."),
        )
    secret = f"fluctus_{draw_secret()}"
    hook = Webhook.objects.create(
        workspace=workspace,
        name=form["name"],
        address=form["address"],
        sealed=sealed({"secret": secret}),
        topics=[Topic(topic).value for topic in form["topics"]],
        made_at=actor.now,
    )
    note(workspace, actor.person, actor.now, AuditEvent.WEBHOOK, f"Made the webhook {hook.name}")
    return hook, secret


def webhook_of(workspace: Workspace, number: int) -> Webhook:
    """Return a webhook of a workspace; raises NotThereError for any other."""
    hook = workspace.webhooks.filter(pk=number).first()
    if hook is None:
        raise NotThereError("webhook")
    return hook


@transaction.atomic
def remove_webhook(workspace: Workspace, number: int, actor: Actor) -> None:
    """Remove a webhook, and what still waits to be sent to it."""
    hook = webhook_of(workspace, number)
    note(workspace, actor.person, actor.now, AuditEvent.WEBHOOK, f"Removed the webhook {hook.name}")
    hook.delete()


def try_webhook(workspace: Workspace, number: int, now: datetime) -> Webhook:
    """Let a webhook be sent an event that says that it is a test; one that had ended goes on."""
    hook = webhook_of(workspace, number)
    hook.ended = ""
    hook.save(update_fields=["ended"])
    event = {
        "specversion": "1.0",
        "type": "fluctus.test",
        "source": f"/{workspace.slug}",
        "subject": workspace.slug,
        "time": now.isoformat(),
        "datacontenttype": "application/json",
        "data": {"text": f"A test of the webhook {hook.name}."},
    }
    event_to(hook, event, now)
    return hook


def send_again(workspace: Workspace, number: int, now: datetime) -> Webhook:
    """Send a delivery once more, with the key that it had."""
    row = Delivery.objects.filter(workspace=workspace, pk=number, webhook__isnull=False).first()
    if row is None or row.webhook is None:
        raise NotThereError("delivery")
    row.state, row.tries, row.next_at = DeliveryState.WAITING, 0, now
    row.save(update_fields=["state", "tries", "next_at"])
    return row.webhook
