"""Where Django's mail goes in the demo."""

from collections.abc import Sequence

from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend

from demo.models import Letter
from fluctus.accounts.mail import WORKSPACES

KEPT = 200
"""The newest letters that are kept; older ones go."""


class MailboxBackend(BaseEmailBackend):
    """Keeps letters instead of sending them."""

    def send_messages(self, email_messages: Sequence[EmailMessage]) -> int:
        """Keep ``email_messages``, one letter for each recipient; returns how many."""
        letters = [
            Letter(
                to=address,
                subject=message.subject[:200],
                text=str(message.body),
                workspaces=message.extra_headers.get(WORKSPACES, "")[:1000],
            )
            for message in email_messages
            for address in message.recipients()
        ]
        Letter.objects.bulk_create(letters)
        oldest = (
            Letter.objects.order_by("-pk").values_list("pk", flat=True)[KEPT : KEPT + 1].first()
        )
        if oldest is not None:
            Letter.objects.filter(pk__lte=oldest).delete()
        return len(email_messages)
