"""A storage of Django's that keeps files in the database, for hosts that share nothing else."""

import tempfile
from collections.abc import Iterator
from typing import Any, Final

from django.core.files.base import File
from django.core.files.storage import Storage
from django.db import connection, transaction
from django.db.models import Sum
from django.db.models.functions import Length
from django.utils.deconstruct import deconstructible

from fluctus.files.models import FilePiece

PIECE: Final = 1024 * 1024
IN_MEMORY: Final = 2 * PIECE


@deconstructible
class DatabaseStorage(Storage):
    """Files in rows of the database: there whole once their transaction has ended, or not at all.

    One that is saved under a name that is taken replaces the one before.
    """

    def get_available_name(self, name: str, max_length: int | None = None) -> str:
        """Return the name as it is."""
        return name

    def _save(self, name: str, content: "File[bytes]") -> str:
        with transaction.atomic():
            # Of two who save it at once, the second replaces what the first has saved.
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 0))", [name])
            FilePiece.objects.filter(name=name).delete()
            # One by one: together they would stand in memory several times over.
            for number, piece in enumerate(content.chunks(PIECE)):
                FilePiece.objects.create(name=name, number=number, content=piece)
            if not content.size:
                FilePiece.objects.create(name=name, number=0, content=b"")
        return name

    def _open(self, name: str, mode: str = "rb") -> "File[bytes]":
        # Whoever opens a file closes it.
        copy: Any = tempfile.SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115
        found = False
        for piece in self._pieces(name):
            copy.write(piece)
            found = True
        if not found:
            copy.close()
            raise FileNotFoundError(name)
        copy.seek(0)
        return File(copy, name)

    @staticmethod
    def _pieces(name: str) -> Iterator[bytes]:
        # In one moment: whoever replaces the file meanwhile replaces all of it.
        with transaction.atomic():
            rows = FilePiece.objects.filter(name=name).order_by("number")
            for content in rows.values_list("content", flat=True).iterator(chunk_size=1):
                yield bytes(content)

    def delete(self, name: str) -> None:
        """Remove a file; one that is not there is no error."""
        FilePiece.objects.filter(name=name).delete()

    def exists(self, name: str) -> bool:
        """Tell whether there is a file of a name."""
        return FilePiece.objects.filter(name=name, number=0).exists()

    def size(self, name: str) -> int:
        """Return how many bytes a file has; raises FileNotFoundError."""
        size = FilePiece.objects.filter(name=name).aggregate(all=Sum(Length("content")))["all"]
        if size is None:
            raise FileNotFoundError(name)
        return int(size)

    def listdir(self, path: str) -> tuple[list[str], list[str]]:
        """Return the folders and the files right below a path."""
        start = f"{path.rstrip('/')}/" if path else ""
        names = FilePiece.objects.filter(name__startswith=start, number=0)
        below = [name.removeprefix(start) for name in names.values_list("name", flat=True)]
        folders = {name.split("/", 1)[0] for name in below if "/" in name}
        return sorted(folders), sorted(name for name in below if "/" not in name)
