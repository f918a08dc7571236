"""Files in a folder of the server that its host allows: in order of name, each once."""

import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from rest_framework import serializers

from fluctus.feeds.sources.source import Arrived, Asked, SourceKind, with_password
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import Plain

DONE: Final = "done"
"""The folder within, where files go that have been brought in."""
BLOCK: Final = 262_144
NOT_READ: Final = "The folder could not be read."


class FolderSerializer(Plain):
    """A folder, and which of its files."""

    folder = serializers.CharField(max_length=500)
    files = serializers.RegexField(
        r"^[^/\\\x00]+$", default="*", max_length=120, help_text="A pattern such as *.csv."
    )


def allowed(path: Path, field: str) -> Path:
    """Return where a path leads, links followed; raises RefusalError outside of what is allowed."""
    real = Path(os.path.realpath(path))
    roots = [Path(os.path.realpath(root)) for root in settings.FEEDS_FOLDERS]
    if not any(real == root or root in real.parents for root in roots):
        raise RefusalError(
            NOT_READ,
            Issue(
                "Who runs this installation has not allowed this.",
                "Choose one of the folders allowed, or ask for it (FEEDS_FOLDERS).",
                field,
            ),
        )
    return real


def _fetch(asked: Asked) -> Arrived | None:
    folder = allowed(Path(asked.options["folder"]), "folder")
    if not folder.is_dir():
        raise RefusalError(NOT_READ, Issue("There is no such folder.", "Check its name.", "folder"))
    try:
        names = sorted(file.name for file in folder.glob(asked.options["files"]) if file.is_file())
    except OSError as error:
        raise RefusalError(
            NOT_READ, Issue("The server may not read it.", "Ask who runs it.", "folder")
        ) from error
    # What begins with a dot is being written, or none of anybody's business.
    waiting = [name for name in names if not name.startswith(".")]
    if not waiting:
        return None
    file = allowed(folder / waiting[0], "files")
    return Arrived(
        waiting[0],
        _blocks(file),
        done=lambda: _move_aside(folder, waiting[0]),
        more=len(waiting) > 1,
    )


def _blocks(file: Path) -> Iterator[bytes]:
    with file.open("rb") as opened:
        while block := opened.read(BLOCK):
            yield block


def _move_aside(folder: Path, name: str) -> None:
    """Move a file to those that are done, beside one of its name that is there."""
    aside = folder / DONE
    aside.mkdir(exist_ok=True)
    goal, number = aside / name, 1
    while goal.exists():
        number += 1
        goal = aside / f"{Path(name).stem} {number}{Path(name).suffix}"
    (folder / name).rename(goal)


def _says(options: dict[str, Any]) -> str:
    return f"the folder {Path(options['folder']).name}"


FOLDER = SourceKind(
    "folder", FolderSerializer, with_password, lambda options: (options["folder"],), _says, _fetch
)
