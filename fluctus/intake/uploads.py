"""The bytes of uploads: kept in a folder until they have been brought in, and read once."""

import hashlib
import secrets
import shutil
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import asdict
from datetime import timedelta
from pathlib import Path

import orjson
from django.conf import settings
from django.contrib.auth.models import User
from django.utils import timezone
from pydantic import TypeAdapter

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.intake.models import Import, Upload
from fluctus.intake.understanding.roles import CANNOT_READ
from fluctus.jobs.models import UNDER_WAY
from fluctus.tables.formats.opening import About, open_into, opened_from
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import TableError
from fluctus.tables.isolation import SECONDS, TooMuchError, TooSlowError, apart

KEPT_FOR = timedelta(hours=6)
LONGEST = 300.0
"""Seconds that reading a table in the background may take."""
TOO_MUCH = Issue(
    "It takes too much time or memory to read, or is damaged.",
    "Save the one table that is needed as CSV, and upload that.",
)


_ABOUT = TypeAdapter(About)


class SlowTableError(RefusalError):
    """A table that cannot be read while somebody waits."""

    def __init__(self) -> None:
        super().__init__(CANNOT_READ, TOO_MUCH)


def keep_upload(workspace: Workspace, person: User, name: str, blocks: Iterable[bytes]) -> Upload:
    """Keep what a person uploads; raises RefusalError when it is too large, or there is no room."""
    clear_old()
    room = settings.WORKSPACE_ROOM_BYTES - _kept_bytes(workspace)
    folder = settings.UPLOADS / secrets.token_hex(16)
    folder.mkdir(parents=True, mode=0o700)
    digest, size = hashlib.sha256(), 0
    try:
        with (folder / "raw").open("wb") as file:
            for block in blocks:
                size += len(block)
                if size > settings.MAX_UPLOAD_BYTES:
                    raise _too_large()
                if size > room:
                    raise _no_room()
                digest.update(block)
                file.write(block)
        return Upload.objects.create(
            workspace=workspace,
            person=person,
            name=name[:200],
            size=size,
            checksum=digest.hexdigest(),
            folder=folder.name,
        )
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise


def upload_of(person: User, workspace: str, number: int) -> Upload:
    """Return an upload of a person; raises NotThereError for those of others."""
    upload = Upload.objects.filter(
        pk=number, person=person, workspace__slug=workspace, workspace__members=person
    ).first()
    if upload is None or not _folder(upload).exists():
        raise NotThereError("table")
    return upload


def opened(upload: Upload, sheet: str | None, seconds: float = SECONDS) -> Opened:
    """Read the cells of an upload, the second time from what the first made of them.

    Raises SlowTableError when that takes longer than so many ``seconds``, another
    RefusalError when it holds no table.
    """
    folder = _folder(upload)
    kept = _kept(folder, sheet)
    _raise_kept_refusal(folder, sheet)
    if _about(kept).exists():
        return opened_from(kept, _ABOUT.validate_json(_about(kept).read_bytes()))
    # Written beside and moved into place, the cells first: half a file is never taken for a
    # whole one, whoever else reads the same upload.
    fresh = folder / f"{secrets.token_hex(8)}.cells"
    try:
        about = apart(open_into, raw_of(upload), sheet, fresh, seconds=seconds)
    except TableError as error:
        raise RefusalError(CANNOT_READ, Issue(error.what, error.remedy)) from error
    except TooSlowError as error:
        raise SlowTableError from error
    except TooMuchError as error:
        raise RefusalError(CANNOT_READ, TOO_MUCH) from error
    told = fresh.with_suffix(".about")
    told.write_bytes(_ABOUT.dump_json(about))
    if sheet is None and about.sheet:
        # Asked for by its name from now on, it is not read again.
        _move_into_place(_linked(fresh), _linked(told), _kept(folder, about.sheet))
    _move_into_place(fresh, told, kept)
    return opened_from(kept, about)


def _move_into_place(cells: Path, about: Path, kept: Path) -> None:
    cells.rename(kept)
    about.rename(_about(kept))


def _linked(file: Path) -> Path:
    """Return a second name of a file."""
    other = file.with_stem(f"{file.stem}-named")
    other.hardlink_to(file)
    return other


def open_in_the_background(upload: Upload, sheet: str | None) -> None:
    """Read an upload for as long as a job may take, and keep why it could not be."""
    try:
        opened(upload, sheet, LONGEST)
    except RefusalError as error:
        issues = [asdict(issue) for issue in error.issues]
        refusal = _refusal(_folder(upload), sheet)
        fresh = refusal.with_suffix(f".{secrets.token_hex(4)}")
        fresh.write_bytes(orjson.dumps(issues))
        fresh.rename(refusal)


def is_opened(upload: Upload) -> bool:
    """Tell whether an upload has been read; raises RefusalError, and forgets it, if in vain."""
    folder = _folder(upload)
    try:
        _raise_kept_refusal(folder, None)
    except RefusalError:
        forget(upload)
        raise
    return _about(_kept(folder, None)).exists()


def _kept(folder: Path, sheet: str | None) -> Path:
    """Return where the cells of a sheet are kept once they have been read."""
    return folder / f"{hashlib.sha256((sheet or '').encode()).hexdigest()[:16]}.arrow"


def _about(kept: Path) -> Path:
    """Return where the rest is kept of a sheet whose cells are; it is there once all of it is."""
    return kept.with_suffix(".json")


def _refusal(folder: Path, sheet: str | None) -> Path:
    """Return where it is kept why a sheet could not be read."""
    return _kept(folder, sheet).with_suffix(".refused")


def _raise_kept_refusal(folder: Path, sheet: str | None) -> None:
    refusal = _refusal(folder, sheet)
    if refusal.exists():
        issues = orjson.loads(refusal.read_bytes())
        raise RefusalError(CANNOT_READ, *(Issue(**issue) for issue in issues))


def raw_of(upload: Upload) -> Path:
    """Return where the bytes of an upload are."""
    return _folder(upload) / "raw"


def is_under_way(upload: Upload) -> bool:
    """Tell whether an import of an upload waits or runs."""
    return Import.objects.filter(upload=upload, status__in=UNDER_WAY).exists()


def forget(upload: Upload) -> None:
    """Remove an upload and its bytes."""
    shutil.rmtree(_folder(upload), ignore_errors=True)
    upload.delete()


def _folder(upload: Upload) -> Path:
    folder: Path = settings.UPLOADS / upload.folder
    return folder


def _kept_bytes(workspace: Workspace) -> int:
    """Return how much the uploads of a workspace take on the disk, with what was made of them."""
    size = 0
    for upload in Upload.objects.filter(workspace=workspace):
        for file in _folder(upload).glob("*"):
            # What is brought in or moved into place meanwhile takes no room under its old name.
            with suppress(FileNotFoundError):
                size += file.stat().st_size
    return size


def clear_old() -> None:
    """Remove uploads that nobody has brought in for some hours, and are not on their way."""
    waiting = Import.objects.filter(status__in=UNDER_WAY, upload__isnull=False)
    old = Upload.objects.filter(at__lt=timezone.now() - KEPT_FOR, held=False)
    for upload in old.exclude(pk__in=waiting.values("upload"))[:50]:
        forget(upload)


def _no_room() -> RefusalError:
    return RefusalError(
        "There is no room for this file now.",
        Issue(
            "Other tables of this workspace wait to be brought in.",
            "Bring them in or drop them; what nobody takes up is gone after six hours.",
        ),
        status=413,
    )


def _too_large() -> RefusalError:
    most = settings.MAX_UPLOAD_BYTES / 1e6
    return RefusalError(
        "This file is too large.",
        Issue(
            f"It has more than {most:,.0f} MB, which is the most that can be read.",
            "Split it, or leave out columns that are not needed.",
        ),
        status=413,
    )
