"""The letters that Fluctus sends, through Django's mail."""

from django.conf import settings
from django.core.mail import EmailMessage

WORKSPACES = "X-Fluctus-Workspaces"
"""The header that says whose business a letter is; the demo's mailbox shows its own only."""


def send_letter(to: str, subject: str, text: str, workspaces: list[str]) -> None:
    """Send a letter; what it is about is told in its header."""
    EmailMessage(
        subject, text, settings.DEFAULT_FROM_EMAIL, [to],
        headers={WORKSPACES: " ".join(workspaces)},
    ).send()  # fmt: skip
