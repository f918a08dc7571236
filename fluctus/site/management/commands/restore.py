"""Restores a backup."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from fluctus.files.store import StoreAwayError
from fluctus.site.backups.refusals import BackupError
from fluctus.site.backups.restoring import restore_backup


class Command(BaseCommand):
    """``python -m django restore``."""

    help = "Restore a backup into an empty database, or in the place of one that is named."
    requires_migrations_checks = False

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the file, its key, and the database whose data may go."""
        parser.add_argument("file", type=Path, help="What script/backup has written.")
        parser.add_argument("--key", type=Path, help="The file whose content encrypted it.")
        parser.add_argument(
            "--replace", default="", metavar="DATABASE", help="The database whose data may go."
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Restore it; ends with 1 where that fails."""
        try:
            made_at = restore_backup(options["file"], options["key"], options["replace"], self._say)
        except (BackupError, StoreAwayError) as error:
            raise CommandError(str(error)) from error
        self._say(f"Everything is as it was at {made_at}; counted and held against the backup")

    def _say(self, text: str) -> None:
        self.stderr.write(f"→ {text}")
