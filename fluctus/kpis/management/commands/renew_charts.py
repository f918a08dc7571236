"""Makes anew what is kept of charts that an older version saved."""

from typing import Any

from django.core.management.base import BaseCommand

from fluctus.http import clock
from fluctus.kpis.chart.services import catch_up


class Command(BaseCommand):
    """``python -m django renew_charts``."""

    help = "Find the candidates and the findings of charts that were saved before these were kept."

    def handle(self, *args: Any, **options: Any) -> None:
        """Renew them."""
        renewed = catch_up(clock.now())
        if renewed:
            self.stdout.write(f"  {renewed} charts renewed")
