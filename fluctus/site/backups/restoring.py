"""A backup restored: into an empty database, or in the place of one that was named."""

import shutil
from collections.abc import Callable
from pathlib import Path

import psycopg
from django.core.management import call_command
from django.db import connection, transaction

from fluctus.files import store
from fluctus.site.backups import programs
from fluctus.site.backups.manifest import contents, difference
from fluctus.site.backups.reading import opened_backup
from fluctus.site.backups.refusals import BackupError

Say = Callable[[str], object]
MOST_SAID = 20


def restore_backup(file: Path, key: Path | None, replace: str, say: Say) -> str:
    """Restore a backup and hold what came of it against what it says; returns of when it is.

    ``replace`` names the database whose data may go; "" where it has to be empty. Raises
    BackupError, with nothing changed, where it cannot be done.
    """
    say("Opening the backup")
    with opened_backup(file, key) as backup:
        taken = _refuse_taken(replace)
        say("Restoring the database")
        programs.restore(backup.dump, replace=taken)
        say("Counting what is there, by workspace")
        with transaction.atomic():
            differs = difference(backup.manifest.contents, contents())
        if differs:
            raise BackupError(
                "What was restored is not what was backed up: " + "; ".join(differs[:MOST_SAID]),
                "Restore another backup in its place.",
            )
        say("Restoring the files")
        for name, part in backup.files.items():
            fresh = store.here(name).with_suffix(".coming")
            shutil.copyfile(part, fresh)
            store.keep(name, fresh)
        made_at = backup.manifest.made_at
    say("Bringing the database up to date")
    call_command("migrate", verbosity=0)
    return made_at


def _refuse_taken(replace: str) -> bool:
    """Tell whether there are data to replace; raises BackupError where nobody named them."""
    name = connection.settings_dict["NAME"]
    # Over a connection of its own: those of the pool would be counted with the others.
    with psycopg.connect(**connection.get_connection_params()) as asked:
        cursor = asked.execute(
            "SELECT (SELECT count(*) FROM pg_tables WHERE schemaname = 'public'), "
            "(SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() "
            "AND pid <> pg_backend_pid() AND backend_type = 'client backend')"
        )
        tables, others = cursor.fetchone() or (0, 0)
    if not tables:
        return False
    if replace != name:
        raise BackupError(
            f"The database {name} is not empty.",
            f"Restore into an empty one, or let its data go: --replace {name}.",
        )
    if others:
        raise BackupError(
            f"{others} others are connected to the database {name}.",
            "Stop every part of Fluctus first.",
        )
    return True
