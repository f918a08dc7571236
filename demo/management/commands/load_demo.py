"""Loads the demo workspace where it is not there yet."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from demo.loading import load_all
from fluctus.accounts.services import open_demo_workspace
from fluctus.http import clock


class Command(BaseCommand):
    """``python -m django load_demo``."""

    help = "Load the Marrowick Ferries demo, unless it is there; a person's changes to it stay."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Load it."""
        workspace, created = open_demo_workspace()
        if created:
            self.stdout.write(f"  {load_all(workspace, clock.now())} KPIs loaded")
