"""The one place that files are kept in, and the copies that a host works on.

Where the store is a folder of this host, its files are worked on where they lie. Of any other
store, a copy is fetched when a file is first asked for, into a folder that may be emptied at any
time. Files never change: a name has one content, or none yet.
"""

import logging
import secrets
import shutil
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path, PurePosixPath

from django.conf import settings
from django.core.files.base import File
from django.core.files.storage import FileSystemStorage, Storage, storages
from django.db import DatabaseError, InterfaceError

from fluctus.http.refusals import Issue, RefusalError

log = logging.getLogger(__name__)

COPIED_AT_ONCE = 1024 * 1024


class StoreAwayError(RefusalError):
    """The store of files does not answer, or takes no more."""

    def __init__(self) -> None:
        super().__init__(
            "Fluctus cannot reach its files just now; nothing was saved.",
            Issue("The store of files is away, or full.", "Try again in a moment."),
            status=503,
        )


def store() -> Storage:
    """Return where files are kept."""
    return storages["uploads"]


def here(name: str) -> Path:
    """Return where a file is to be written on this host; its folder is made."""
    path = _on_this_host(name)
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    return path


def _on_this_host(name: str) -> Path:
    path: Path = settings.UPLOADS / PurePosixPath(name)
    return path


def keep(name: str, fresh: Path) -> None:
    """Keep a file that was written on this host; it is there whole, or not at all."""
    with _reaching():
        if not _is_folder_here():
            with fresh.open("rb") as content:
                store().save(name, File(content, name))
        fresh.rename(here(name))


def fetched(name: str) -> Path:
    """Return a file as it is on this host; raises FileNotFoundError where there is none."""
    path = _on_this_host(name)
    if path.exists():
        return path
    if _is_folder_here():
        raise FileNotFoundError(name)
    copy = here(name).with_name(f"{secrets.token_hex(8)}.coming")
    try:
        with _reaching(), store().open(name) as content, copy.open("wb") as file:
            shutil.copyfileobj(content, file, COPIED_AT_ONCE)
        copy.rename(path)
    finally:
        copy.unlink(missing_ok=True)
    return path


def has(name: str) -> bool:
    """Tell whether a file is kept, whichever host has written it."""
    if _on_this_host(name).exists():
        return True
    with _reaching():
        return not _is_folder_here() and store().exists(name)


def remove(folder: str) -> None:
    """Remove all files of a folder, and what this host has of them."""
    with _reaching():
        if not _is_folder_here():
            with suppress(FileNotFoundError):
                for name in store().listdir(folder)[1]:
                    store().delete(f"{folder}/{name}")
        shutil.rmtree(settings.UPLOADS / folder, ignore_errors=True)


def drop_copies(older_than: float) -> None:
    """Remove the copies of this host that nobody has fetched for so many seconds."""
    if _is_folder_here():
        return
    since = time.time() - older_than
    for folder in settings.UPLOADS.glob("*"):
        with suppress(OSError):
            if folder.stat().st_mtime < since:
                shutil.rmtree(folder, ignore_errors=True)


def _is_folder_here() -> bool:
    return isinstance(store(), FileSystemStorage)


@contextmanager
def _reaching() -> Iterator[None]:
    try:
        yield
    except (FileNotFoundError, DatabaseError, InterfaceError, RefusalError):
        raise
    except Exception as error:
        # Each kind of store raises errors of its own kind.
        log.warning("The store of files does not answer: %s", error)
        raise StoreAwayError from error
