"""Loads the demo workspace where it is not there yet."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from demo.feeding import set_feeds_up
from demo.loading import load_all
from demo.staff_directory.staff import connect_staff
from fluctus.accounts.services import open_demo_workspace
from fluctus.http import clock


class Command(BaseCommand):
    """``python -m django load_demo``."""

    help = "Load the Marrowick Ferries demo, unless it is there; a person's changes to it stay."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Load it, and let the booking office feed it where there is one."""
        workspace, created = open_demo_workspace()
        if created:
            self.stdout.write(f"  {load_all(workspace, clock.now())} KPIs loaded")
            if settings.BOOKING_OFFICE:
                fed = set_feeds_up(workspace, settings.BOOKING_OFFICE, clock.now())
                self.stdout.write(f"  {fed} feeds from the booking office")
        if settings.OIDC_ISSUER:
            # Wherever the directory is this time.
            connect_staff(settings.OIDC_ISSUER, clock.now())
