"""Whom the people of the demo are in the directory."""

from datetime import datetime
from typing import Final

from django.contrib.auth.models import User

from fluctus.accounts.models import KnownElsewhere

ACCOUNTS: Final = {"rhona": "demo-rhona", "calum": "demo-calum"}
"""Accounts by who they are there; the demo's first person comes in by one click."""


def connect_staff(issuer: str, now: datetime) -> None:
    """Let them sign in through the directory, as it is at an address."""
    for subject, account in ACCOUNTS.items():
        person = User.objects.filter(username=account).first()
        if person is not None:
            defaults = {
                "issuer": issuer,
                "subject": subject,
                "called": f"{subject}@marrowick.example",
                "since": now,
            }
            KnownElsewhere.objects.update_or_create(person=person, defaults=defaults)
