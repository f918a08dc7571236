"""Tells the secret that all processes of an installation share, for scripts that start them."""

import os
import secrets
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from fluctus.site.models import Installation


class Command(BaseCommand):
    """``python -m django shared_secret``."""

    help = "Print the secret of this installation, made where there is none."

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it; FIRST_SECRET is taken where none is kept yet."""
        # Ends with 1 where the database is not up to date.
        call_command("migrate", check_unapplied=True, verbosity=0)
        first = os.environ.get("FIRST_SECRET", "") or secrets.token_urlsafe(50)
        # Of two who come first, both are told what the first of them has kept.
        kept, _ = Installation.objects.get_or_create(pk=1, defaults={"secret": first})
        self.stdout.write(kept.secret)
