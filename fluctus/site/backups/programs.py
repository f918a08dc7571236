"""The programs of PostgreSQL and GnuPG that write and read what a backup is made of."""

import os
import re
import subprocess
from pathlib import Path
from typing import Final

from django.db import connection

from fluctus.site.backups.refusals import BackupError

CANNOT: Final = "Its own words are above."
OF_THE_CLUSTER: Final = re.compile(r" (EXTENSION - |COMMENT - EXTENSION |SCHEMA - statements )")
"""What of a dump belongs to who owns the cluster: the application's role may not make it."""


def database_environment() -> dict[str, str]:
    """Return how PostgreSQL's programs find the database; a password is on no command line."""
    own = connection.settings_dict
    told = {
        "PGHOST": own["HOST"],
        "PGPORT": str(own["PORT"] or 5432),
        "PGUSER": own["USER"],
        "PGPASSWORD": own["PASSWORD"],
        "PGDATABASE": own["NAME"],
    }
    return os.environ | {name: value for name, value in told.items() if value}


def dump(goal: Path, snapshot: str) -> None:
    """Write the database as it is in a snapshot, compressed; raises BackupError."""
    command = ["pg_dump", "--format=custom", f"--snapshot={snapshot}", "--no-owner", "--no-acl"]
    _run([*command, f"--file={goal}"], "The database could not be written down.")


def restore(source: Path, *, replace: bool) -> None:
    """Bring a dump into the database, all of it or nothing; raises BackupError.

    With ``replace`` what is there goes, in the same transaction.
    """
    script = source.with_suffix(".sql")
    read = ["pg_restore", "--no-owner", "--no-acl", str(source)]
    contents = source.with_suffix(".list")
    unreadable = "The dump of the database could not be read."
    _run([*read, "--list", f"--file={contents}"], unreadable)
    kept = [line for line in contents.read_text().splitlines() if not OF_THE_CLUSTER.search(line)]
    contents.write_text("\n".join(kept))
    _run([*read, f"--use-list={contents}", f"--file={script}"], unreadable)
    first = ["--command=DROP SCHEMA public CASCADE; CREATE SCHEMA public"] if replace else []
    command = ["psql", "--no-psqlrc", "--quiet", "--single-transaction", "--output=/dev/null"]
    try:
        _run(
            [*command, "--set=ON_ERROR_STOP=1", *first, f"--file={script}"],
            "The database could not be restored; nothing of it was changed.",
        )
    finally:
        script.unlink(missing_ok=True)


def encrypt(source: Path, goal: Path, key: Path) -> None:
    """Encrypt a file with what another one holds, by GnuPG; raises BackupError."""
    _run(
        [*_gpg(key), "--symmetric", "--cipher-algo=AES256", f"--output={goal}", str(source)],
        "The backup could not be encrypted.",
    )


def decrypt(source: Path, goal: Path, key: Path) -> None:
    """Decrypt a file; raises BackupError where the key is another one, or it is damaged."""
    _run(
        [*_gpg(key), "--decrypt", f"--output={goal}", str(source)],
        "The backup could not be decrypted.",
        "Give the key that it was made with; if it is that one, the file is damaged.",
    )


def _gpg(key: Path) -> list[str]:
    asked = ["gpg", "--batch", "--yes", "--quiet", "--pinentry-mode=loopback"]
    # Compressed already.
    return [*asked, "--compress-algo=none", f"--passphrase-file={key}"]


def _run(command: list[str], what: str, remedy: str = CANNOT) -> None:
    try:
        subprocess.run(command, check=True, env=database_environment())  # noqa: S603 - our own
    except FileNotFoundError as error:
        raise BackupError(
            f"{command[0]} is not there.", "Install postgresql-client and gnupg."
        ) from error
    except subprocess.CalledProcessError as error:
        raise BackupError(what, remedy) from error
