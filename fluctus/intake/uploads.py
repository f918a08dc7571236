"""The bytes of uploads: kept in the store of files until they are brought in, and read once."""

import hashlib
import secrets
from collections.abc import Collection, Iterable
from dataclasses import asdict
from datetime import timedelta
from pathlib import Path

import orjson
from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import F, Sum
from django.utils import timezone
from pydantic import TypeAdapter

from fluctus.accounts.models import Workspace
from fluctus.accounts.room.kinds import Kind
from fluctus.accounts.room.services import most_of
from fluctus.files import store
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.intake.models import Import, Upload
from fluctus.intake.understanding.roles import CANNOT_READ
from fluctus.jobs.models import UNDER_WAY
from fluctus.tables.formats.opening import About, open_into, opened_from
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import TableError
from fluctus.tables.isolation import SECONDS, TooMuchError, TooSlowError, run_isolated

RAW = "raw"
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
    most = most_of(workspace, Kind.FILE_BYTES)
    room = None if most is None else most - file_bytes([workspace.pk]).get(workspace.pk, 0)
    folder = secrets.token_hex(16)
    raw = f"{folder}/{RAW}"
    coming = store.here(raw).with_suffix(".coming")
    digest, size = hashlib.sha256(), 0
    try:
        with coming.open("wb") as file:
            for block in blocks:
                size += len(block)
                if size > settings.MAX_UPLOAD_BYTES:
                    raise _too_large()
                if room is not None and size > room:
                    raise _no_room()
                digest.update(block)
                file.write(block)
        store.keep(raw, coming)
        return Upload.objects.create(
            workspace=workspace,
            person=person,
            name=name[:200],
            size=size,
            kept=size,
            checksum=digest.hexdigest(),
            folder=folder,
        )
    except BaseException:
        store.remove(folder)
        raise


def upload_of(person: User, workspace: str, number: int) -> Upload:
    """Return an upload of a person; raises NotThereError for those of others."""
    upload = Upload.objects.filter(
        pk=number, person=person, workspace__slug=workspace, workspace__members=person
    ).first()
    if upload is None or not store.has(f"{upload.folder}/{RAW}"):
        raise NotThereError("table")
    return upload


def opened(upload: Upload, sheet: str | None, seconds: float = SECONDS) -> Opened:
    """Read the cells of an upload, the second time from what the first made of them.

    Raises SlowTableError when that takes longer than so many ``seconds``, another
    RefusalError when it holds no table.
    """
    cells = _cells(upload, sheet)
    if store.has(_about(cells)):
        about = _ABOUT.validate_json(store.fetched(_about(cells)).read_bytes())
        return opened_from(store.fetched(cells), about)
    _raise_kept_refusal(upload, sheet)
    raw = raw_of(upload)
    fresh = raw.with_name(f"{secrets.token_hex(8)}.cells")
    try:
        about = run_isolated(open_into, raw, sheet, fresh, seconds=seconds)
    except TableError as error:
        raise RefusalError(CANNOT_READ, Issue(error.what, error.remedy)) from error
    except TooSlowError as error:
        raise SlowTableError from error
    except TooMuchError as error:
        raise RefusalError(CANNOT_READ, TOO_MUCH) from error
    if sheet is None and about.sheet:
        # Asked for by its name from now on, it is not read again.
        named = fresh.with_stem(f"{fresh.stem}-named")
        named.hardlink_to(fresh)
        _keep_cells(upload, about.sheet, named, about)
    _keep_cells(upload, sheet, fresh, about)
    return opened_from(store.fetched(cells), about)


def _keep_cells(upload: Upload, sheet: str | None, cells: Path, about: About) -> None:
    """Keep what was read, the cells first: half of it is never taken for the whole."""
    told = cells.with_suffix(".about")
    told.write_bytes(_ABOUT.dump_json(about))
    name = _cells(upload, sheet)
    _keep(upload, name, cells)
    _keep(upload, _about(name), told)


def _keep(upload: Upload, name: str, fresh: Path) -> None:
    size = fresh.stat().st_size
    store.keep(name, fresh)
    Upload.objects.filter(pk=upload.pk).update(kept=F("kept") + size)


def open_in_the_background(upload: Upload, sheet: str | None) -> None:
    """Read an upload for as long as a job may take, and keep why it could not be.

    Raises StoreAwayError where its bytes cannot be reached, which says nothing of them.
    """
    try:
        opened(upload, sheet, LONGEST)
    except store.StoreAwayError:
        raise
    except RefusalError as error:
        issues = [asdict(issue) for issue in error.issues]
        name = _refusal(upload, sheet)
        fresh = store.here(name).with_suffix(f".{secrets.token_hex(4)}")
        fresh.write_bytes(orjson.dumps(issues))
        _keep(upload, name, fresh)


def is_opened(upload: Upload) -> bool:
    """Tell whether an upload has been read; raises RefusalError, and forgets it, if in vain."""
    try:
        _raise_kept_refusal(upload, None)
    except store.StoreAwayError:
        raise
    except RefusalError:
        forget(upload)
        raise
    return store.has(_about(_cells(upload, None)))


def _cells(upload: Upload, sheet: str | None) -> str:
    """Return what the cells of a sheet are kept as once they have been read."""
    return f"{upload.folder}/{hashlib.sha256((sheet or '').encode()).hexdigest()[:16]}.arrow"


def _about(cells: str) -> str:
    """Return what the rest is kept as of a sheet whose cells are; there once all of it is."""
    return f"{cells.removesuffix('.arrow')}.json"


def _refusal(upload: Upload, sheet: str | None) -> str:
    """Return what it is kept as why a sheet could not be read."""
    return f"{_cells(upload, sheet).removesuffix('.arrow')}.refused"


def _raise_kept_refusal(upload: Upload, sheet: str | None) -> None:
    name = _refusal(upload, sheet)
    if store.has(name):
        issues = orjson.loads(store.fetched(name).read_bytes())
        raise RefusalError(CANNOT_READ, *(Issue(**issue) for issue in issues))


def raw_of(upload: Upload) -> Path:
    """Return where the bytes of an upload are on this host."""
    return store.fetched(f"{upload.folder}/{RAW}")


def is_under_way(upload: Upload) -> bool:
    """Tell whether an import of an upload waits or runs."""
    return Import.objects.filter(upload=upload, status__in=UNDER_WAY).exists()


def forget(upload: Upload) -> None:
    """Remove an upload and its bytes."""
    store.remove(upload.folder)
    upload.delete()


def file_bytes(workspaces: Collection[int]) -> dict[int, int]:
    """Return how much the uploads of workspaces take, with what was made of them."""
    rows = Upload.objects.filter(workspace__in=workspaces).values("workspace")
    return dict(rows.annotate(all=Sum("kept")).values_list("workspace", "all"))


def clear_old() -> None:
    """Remove uploads that nobody has brought in for some hours, and are not on their way."""
    waiting = Import.objects.filter(status__in=UNDER_WAY, upload__isnull=False)
    old = Upload.objects.filter(at__lt=timezone.now() - KEPT_FOR, held=False)
    for upload in old.exclude(pk__in=waiting.values("upload"))[:50]:
        forget(upload)
    store.drop_copies(KEPT_FOR.total_seconds())


def _no_room() -> RefusalError:
    return RefusalError(
        "There is no room for this file now.",
        Issue(
            "Other tables of this workspace wait to be brought in.",
            "Bring them in or drop them; what nobody takes up is gone after six hours. For more "
            f"room ask {settings.OPERATOR}.",
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
