"""Makes anew what is kept of charts that an older version saved, or whose period has ended."""

from typing import Any

from django.core.management.base import BaseCommand

from fluctus.http import clock
from fluctus.kpis.chart.renewal import catch_up, renew_ended


class Command(BaseCommand):
    """``python -m django renew_charts``."""

    help = "Renew what is kept of charts saved by an older version, or whose period has ended."

    def handle(self, *args: Any, **options: Any) -> None:
        """Renew them."""
        now = clock.now()
        renewed = catch_up(now) + renew_ended(now)
        if renewed:
            self.stdout.write(f"  {renewed} charts renewed")
