"""Readings of uploads: one that a person has looked at is kept, and is the one brought in."""

import json
from dataclasses import dataclass, field, replace
from functools import lru_cache

from django.conf import settings

from fluctus.intake.models import Upload
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import Reading, read
from fluctus.intake.uploads import opened
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import Grid

HEAD = 20_000
"""So many rows are read of a long table to be seen soon; then all are."""
KEPT_ROWS = 200_000
KEPT = 4
"""Readings that a process keeps, each of a table of at most ``KEPT_ROWS`` rows."""


def is_long(upload: Upload) -> bool:
    """Tell whether bringing it in takes long enough to be done in the background."""
    return upload.size > settings.LONG_IMPORT_BYTES


def look_at(
    upload: Upload, mapping: Mapping, most_rows: int | None = None
) -> tuple[Reading, Opened]:
    """Read an upload, or so many of its first rows, to be looked at; returns its table too."""
    table = opened(upload, mapping.sheet)
    reading = _reading(upload, table, mapping, most_rows)
    named = replace(reading.mapping, sheet=table.sheet or None)
    return replace(reading, mapping=named), table


def read_whole(upload: Upload, mapping: Mapping) -> Reading:
    """Read all of an upload; one that was looked at by the same mapping has been read already."""
    return _reading(upload, opened(upload, mapping.sheet), mapping, None)


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A reading by what makes it what it is, and how to come by it."""

    upload: int
    checksum: str
    choices: str
    grid: Grid = field(compare=False)
    mapping: Mapping = field(compare=False)


def _reading(upload: Upload, table: Opened, mapping: Mapping, most_rows: int | None) -> Reading:
    of_head = most_rows is not None and len(table.grid) > most_rows
    if of_head or is_long(upload) or len(table.grid) > KEPT_ROWS:
        # Too much to keep, and brought in by another process.
        return read(table.grid, mapping, most_rows)
    choices = json.dumps(mapping.to_json(), sort_keys=True)
    return _kept(_Wanted(upload.pk, upload.checksum, choices, table.grid, mapping))


@lru_cache(maxsize=KEPT)
def _kept(wanted: _Wanted) -> Reading:
    return read(wanted.grid, wanted.mapping)
