"""Makes anew what is kept of charts that an older version saved, or whose period has ended."""

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from fluctus.http import clock
from fluctus.kpis.chart.renewal import catch_up, renew_ended

BEHIND_OTHERS = 10
"""How far what nobody waits for stands back where there is more to do than there are processors."""


class Command(BaseCommand):
    """``python -m django renew_charts``."""

    help = "Renew what is kept of charts saved by an older version, or whose period has ended."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take whether it is one of several that a worker has started."""
        parser.add_argument(
            "--beside",
            action="store_true",
            help="Only where a period has ended, behind all else, and while its starter lives.",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Renew them."""
        now = clock.now()
        if options["beside"]:
            os.nice(BEHIND_OTHERS)
            starter = os.getppid()
            renew_ended(now, lambda: os.getppid() == starter)
            return
        renewed = catch_up(now) + renew_ended(now)
        if renewed:
            self.stdout.write(f"  {renewed} charts renewed")
