"""The letters that Fluctus sends, through Django's mail."""

from django.conf import settings
from django.contrib.auth.models import User
from django.core.mail import EmailMessage
from django.db import transaction
from procrastinate.contrib.django import app

from fluctus.accounts.queries import name_of, workspaces_of
from fluctus.http.tracing import carried, traced
from fluctus.jobs.queues import MAIL

WORKSPACES = "X-Fluctus-Workspaces"
"""The header that says whose business a letter is; the demo's mailbox shows its own only."""


def send_mail_to(to: str, subject: str, text: str, workspaces: list[str]) -> None:
    """Send a letter; what it is about is told in its header."""
    EmailMessage(
        subject,
        text,
        settings.DEFAULT_FROM_EMAIL,
        [to],
        headers={WORKSPACES: " ".join(workspaces)},
    ).send()


def tell_by_mail(person: User, subject: str, text: str) -> None:
    """Let a person know of something that concerns their account, where mail reaches them.

    In the background, once the transaction has ended: what was done holds, mail or none.
    """
    if not (settings.SENDS_MAIL and person.email):
        return
    slugs = [workspace.slug for workspace in workspaces_of(person)]
    with transaction.atomic():
        send_later.defer(
            to=person.email,
            subject=subject,
            text=f"{name_of(person)}, {text}",
            workspaces=slugs,
            **carried(),
        )


# Queues of an older version may still have it under its old name.
@app.task(name="send_mail_to", queue=MAIL, pass_context=False, aliases=["send_letter"])
@traced
def send_later(to: str, subject: str, text: str, workspaces: list[str]) -> None:
    """Send a letter that was written before."""
    send_mail_to(to, subject, text, workspaces)
