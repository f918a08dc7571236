"""A backup made: the database and the files at one moment, in one file that is read back."""

import secrets
import shutil
import tarfile
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from django.db import connection, transaction
from django.db.migrations.recorder import MigrationRecorder

from fluctus.files import store
from fluctus.intake.models import Upload
from fluctus.intake.uploads import RAW
from fluctus.site.backups import programs
from fluctus.site.backups.manifest import Manifest, contents
from fluctus.site.backups.reading import checksum, opened_backup
from fluctus.site.backups.refusals import BackupError

Say = Callable[[str], object]
PATTERN: Final = "fluctus-*.backup*"


def make_backup(folder: Path, now: datetime, key: Path | None, say: Say) -> Path:
    """Write a backup into a folder and read it back; returns the file.

    Others go on meanwhile: everything is as it was at one moment. Raises BackupError, and leaves
    nothing, where it cannot be made.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    ending = ".backup" if key is None else ".backup.gpg"
    goal = folder / f"fluctus-{now:%Y%m%d-%H%M%S}{ending}"
    if goal.exists():
        raise BackupError(f"{goal} is there already.", "Wait a second, then try again.")
    try:
        with TemporaryDirectory(prefix=".making-", dir=folder) as made_in:
            whole = _written(Path(made_in), now, say)
            if key is not None:
                say("Encrypting")
                programs.encrypt(whole, Path(made_in) / "whole.gpg", key)
                whole = Path(made_in) / "whole.gpg"
            say("Reading it back")
            with opened_backup(whole, key):
                pass
            whole.chmod(0o600)
            whole.rename(goal)
    except OSError as error:
        raise BackupError(
            f"The backup could not be written: {error.strerror or error}.",
            f"Make room in {folder}, or choose another folder.",
        ) from error
    return goal


def drop_older(folder: Path, keep: int) -> list[Path]:
    """Remove all backups of a folder but the newest few; returns those that are gone."""
    gone = sorted(folder.glob(PATTERN), reverse=True)[keep:]
    for file in gone:
        file.unlink()
    return gone


def _written(folder: Path, now: datetime, say: Say) -> Path:
    parts = folder / "parts"
    parts.mkdir()
    with transaction.atomic():
        with connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
            cursor.execute("SELECT pg_export_snapshot()")
            (snapshot,) = cursor.fetchone()
        say("Writing the database")
        programs.dump(parts / "database.dump", snapshot)
        say("Counting what is in it, by workspace")
        found = contents()
        applied = MigrationRecorder(connection).applied_migrations()
        uploads = [upload.folder for upload in Upload.objects.order_by("pk")]
    say("Writing the files")
    for name in uploads:
        # One that was brought in meanwhile is needed no more by whom it is restored for.
        try:
            raw = store.fetched(f"{name}/{RAW}")
        except FileNotFoundError:
            continue
        goal = parts / "files" / name / RAW
        goal.parent.mkdir(parents=True)
        shutil.copyfile(raw, goal)
    files = sorted(path for path in parts.rglob("*") if path.is_file())
    names = {str(path.relative_to(parts)): path for path in files}
    manifest = Manifest(
        made_at=now.isoformat(),
        migrations=sorted(applied),
        contents=found,
        parts={name: checksum(path) for name, path in names.items()},
    )
    told = folder / "manifest.json"
    told.write_bytes(manifest.to_bytes())
    whole = folder / f"{secrets.token_hex(4)}.tar"
    with tarfile.open(whole, "w") as archive:
        archive.add(told, "manifest.json")
        for name, path in names.items():
            archive.add(path, name)
    return whole
