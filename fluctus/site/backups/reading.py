"""A backup opened: decrypted, unpacked and held against what it says of itself."""

import hashlib
import tarfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from fluctus.site.backups import programs
from fluctus.site.backups.manifest import Manifest
from fluctus.site.backups.refusals import BackupError, NoBackupError

HALF: Final = "Some of this backup is missing or damaged."
OTHER_ONE: Final = "Choose another backup; nothing was changed."


@dataclass(frozen=True, slots=True)
class Opened:
    """A backup whose parts lie in a folder, whole as they were written."""

    manifest: Manifest
    folder: Path

    @property
    def dump(self) -> Path:
        """Where the database is."""
        return self.folder / "database.dump"

    @property
    def files(self) -> dict[str, Path]:
        """The files of the store, by name."""
        return {
            name.removeprefix("files/"): self.folder / name
            for name in self.manifest.parts
            if name.startswith("files/")
        }


@contextmanager
def opened_backup(file: Path, key: Path | None) -> Iterator[Opened]:
    """Open a backup for as long as it is needed; raises BackupError where it is not whole."""
    if not file.is_file():
        raise NoBackupError(f"There is no {file}.")
    if file.suffix == ".gpg" and key is None:
        raise BackupError("This backup is encrypted.", "Give its key: --key FILE.")
    with TemporaryDirectory(prefix=".opening-", dir=file.parent) as folder:
        whole = file
        if file.suffix == ".gpg" and key is not None:
            whole = Path(folder) / "whole.tar"
            programs.decrypt(file, whole, key)
        parts = Path(folder) / "parts"
        try:
            with tarfile.open(whole) as archive:
                archive.extractall(parts, filter="data")
        except (tarfile.TarError, EOFError) as error:
            raise BackupError(HALF, OTHER_ONE) from error
        yield Opened(_checked(parts), parts)


def _checked(parts: Path) -> Manifest:
    told = parts / "manifest.json"
    if not told.is_file():
        raise NoBackupError
    manifest = Manifest.of_bytes(told.read_bytes())
    for name, expected in manifest.parts.items():
        part = parts / name
        if not part.is_file() or checksum(part) != expected:
            raise BackupError(HALF, OTHER_ONE)
    return manifest


def checksum(path: Path) -> str:
    """Return the SHA-256 of a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
