"""Encrypts what is sealed anew with the first of the keys, so that the others can go."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from fluctus.accounts.models import SecondStep
from fluctus.accounts.sealing import renewed
from fluctus.feeds.models import Feed
from fluctus.messages.models import Webhook


class Command(BaseCommand):
    """``python -m django renew_secrets``."""

    help = "Encrypt all secrets with the first of SECRETS_KEYS; the others are needed no more."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Renew them, all or none."""
        count = 0
        for model in (Feed, Webhook, SecondStep):
            for row in model._default_manager.select_for_update().exclude(sealed=""):
                row.sealed = renewed(row.sealed)
                row.save(update_fields=["sealed"])
                count += 1
        self.stdout.write(f"{count} secrets renewed")
