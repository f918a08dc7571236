"""Writes a backup."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fluctus.files.store import StoreAwayError
from fluctus.http import clock
from fluctus.site.backups.making import drop_older, make_backup
from fluctus.site.backups.refusals import BackupError
from fluctus.site.models import MadeBackup


class Command(BaseCommand):
    """``python -m django backup``."""

    help = "Write the database and the files to one file, and read it back."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take where to, with which key, and how many are kept."""
        parser.add_argument("folder", type=Path, help="Where backups are.")
        parser.add_argument("--key", type=Path, help="A file whose content encrypts it.")
        parser.add_argument("--keep", type=int, help="So many of the newest stay.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write it; ends with 1 where that fails."""
        if options["keep"] is not None and options["keep"] < 1:
            raise CommandError("--keep takes a number from 1 on.")
        begun = clock.now()
        try:
            made = make_backup(options["folder"], begun, options["key"], self._say)
        except (BackupError, StoreAwayError) as error:
            raise CommandError(str(error)) from error
        MadeBackup.objects.create(
            at=begun, size=made.stat().st_size, encrypted=options["key"] is not None
        )
        if options["keep"] is not None:
            for gone in drop_older(options["folder"], options["keep"]):
                self._say(f"{gone.name} is gone, since {options['keep']} are kept")
        self.stdout.write(str(made))

    def _say(self, text: str) -> None:
        self.stderr.write(f"→ {text}")
