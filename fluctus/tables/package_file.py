"""Data packages as Fluctus writes them, read from an archive: files to plain data and columns.

An archive may come from anywhere. What it unpacks to is bounded as it is unpacked, whatever it
says of itself; each file is read once, however often it is named.
"""

import csv
import zlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from io import StringIO
from pathlib import Path
from typing import Any
from zipfile import BadZipFile, ZipFile, ZipInfo

import orjson
import polars as pl

from fluctus.tables.days import FIRST_DAY, LAST_DAY, SPAN

MOST_BYTES = 100 * 1024 * 1024
"""What a package may unpack to."""
MOST_FILES = 5_000
MOST_RESOURCES = 500
MOST_VALUES = 5_000_000
MOST_DEPTH = 30
"""Levels that a description may nest: ours has six."""
BLOCK = 1024 * 1024
AS_IT_WAS = "Choose the ZIP file as it was made."
ANEW = "Take it anew."
DAMAGED = (
    BadZipFile,
    NotImplementedError,
    RuntimeError,
    EOFError,
    zlib.error,
    OSError,
    UnicodeDecodeError,
)
"""What the library raises for an archive that is none, or whose names are not what they say."""

"""What unpacking raises for an archive that is damaged, encrypted, or packed in a way unknown."""


@dataclass(frozen=True, slots=True)
class Wrong:
    """Why a package is refused: what is wrong, what to do, and in which file and row."""

    detail: str
    remedy: str
    file: str = ""
    row: int | None = None


@dataclass(frozen=True, slots=True)
class PackageFile:
    """A package as it was found.

    ``resources`` are those that describe a KPI. ``columns`` has, by the path of a file of values,
    the name of the Arrow file that its columns were written to, with periods in seconds since
    1970; ``tables`` has the rows of other files, each a text by its column. ``wrong`` tells why
    it is refused; the rest is then empty.
    """

    wrong: Wrong | None = None
    description: dict[str, Any] = field(default_factory=dict)
    resources: list[dict[str, Any]] = field(default_factory=list)
    columns: dict[str, str] = field(default_factory=dict)
    tables: dict[str, list[dict[str, str]]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Fields:
    """The fields that files have: of values with their kinds, of others by the path of the file."""

    descriptor: str
    extension: str
    """The name of what only Fluctus writes, in the description and in each resource."""
    values: dict[str, str]
    """``text``, ``number``, ``count`` or ``mark`` by column; the first column is the period."""
    tables: dict[str, tuple[str, ...]]


class _RefusedError(Exception):
    def __init__(self, detail: str, remedy: str, file: str = "", row: int | None = None) -> None:
        super().__init__(detail)
        self.wrong = Wrong(detail, remedy, file, row)


def read_package_file(path: Path, folder: Path, fields: Fields) -> PackageFile:
    """Read a package; the columns of its values are written into ``folder``."""
    try:
        with ZipFile(path) as archive:
            return _Reader(archive, folder, fields).read()
    except _RefusedError as refused:
        return PackageFile(refused.wrong)
    except DAMAGED:
        return PackageFile(Wrong("This is no data package.", AS_IT_WAS))


class _Reader:
    def __init__(self, archive: ZipFile, folder: Path, fields: Fields) -> None:
        listed = archive.infolist()
        if len(listed) > MOST_FILES:
            raise _RefusedError("It has more files than can be read.", "Choose a smaller package.")
        if any(file.flag_bits & 1 for file in listed):
            raise _RefusedError("It is encrypted.", "Unpack it, and pack it without a password.")
        self._archive, self._folder, self._fields = archive, folder, fields
        self._listed: dict[str, ZipInfo] = {file.filename: file for file in listed}
        self._room = MOST_BYTES

    def read(self) -> PackageFile:
        fields = self._fields
        description = self._json(fields.descriptor)
        found = description.get("resources")
        resources = [
            row
            for row in (found if isinstance(found, list) else [])
            if isinstance(row, dict) and isinstance(row.get(fields.extension), dict)
        ]
        if not resources:
            raise _RefusedError(
                "There is no KPI in it.", "Choose another package.", fields.descriptor
            )
        if len(resources) > MOST_RESOURCES:
            raise _RefusedError(
                f"It has {len(resources):,} KPIs; {MOST_RESOURCES} can be read at once.",
                "Take fewer into a package.",
            )
        columns: dict[str, str] = {}
        heights: dict[str, int] = {}
        values = 0
        for resource in resources:
            path = str(resource.get("path", ""))
            if path not in columns:
                frame = self._values(path)
                columns[path], heights[path] = f"values-{len(columns)}.arrow", frame.height
                frame.write_ipc(self._folder / columns[path])
            values += heights[path]
            if values > MOST_VALUES:
                raise _RefusedError(
                    f"It has more than {MOST_VALUES:,} values.", "Choose a smaller package."
                )
        tables = {path: list(self._rows(path, head)) for path, head in fields.tables.items()}
        own = {fields.extension: description.get(fields.extension)}
        return PackageFile(None, own, resources, columns, tables)

    def _values(self, path: str) -> pl.DataFrame:
        kinds = {"text": pl.String, "number": pl.Float64, "count": pl.Int64, "mark": pl.Boolean}
        schema = {name: kinds[kind] for name, kind in self._fields.values.items()}
        try:
            frame = pl.read_csv(self._bytes(path), schema=schema)
        except pl.exceptions.PolarsError as error:
            raise _RefusedError(str(error).splitlines()[0][:200], ANEW, path) from None
        period = next(iter(schema))
        instants = [
            _instant(text, path, row) for row, text in enumerate(frame[period].to_list(), start=2)
        ]
        return frame.with_columns(pl.Series(period, instants, pl.Float64))

    def _rows(self, path: str, head: tuple[str, ...]) -> Iterator[dict[str, str]]:
        if path not in self._listed:
            return
        reader = csv.DictReader(StringIO(self._bytes(path).decode("utf-8", "replace")))
        try:
            missing = set(head) - set(reader.fieldnames or [])
            if missing:
                raise _RefusedError(f"It has no column {min(missing)}.", ANEW, path, 1)
            for row in reader:
                yield {name: row[name] or "" for name in head}
        except csv.Error as error:
            raise _RefusedError(
                f"It cannot be read: {error}.", "Put it right in the file.", path, reader.line_num
            ) from None

    def _json(self, path: str) -> dict[str, Any]:
        try:
            read = orjson.loads(self._bytes(path))
        except orjson.JSONDecodeError:
            read = None
        if not isinstance(read, dict) or _depth(read) > MOST_DEPTH:
            raise _RefusedError("It cannot be read.", AS_IT_WAS, path)
        return read

    def _bytes(self, path: str) -> bytes:
        """Return what a file holds, which counts against what the package may unpack to."""
        if path not in self._listed:
            raise _RefusedError("It is not in the package, or damaged.", AS_IT_WAS, path)
        blocks: list[bytes] = []
        try:
            with self._archive.open(self._listed[path]) as file:
                while block := file.read(BLOCK):
                    self._room -= len(block)
                    if self._room < 0:
                        raise _RefusedError(
                            "It unpacks to more than can be read.",
                            "Choose a smaller package.",
                            path,
                        )
                    blocks.append(block)
        except DAMAGED:
            raise _RefusedError("It is not in the package, or damaged.", AS_IT_WAS, path) from None
        return b"".join(blocks)


def _instant(text: Any, path: str, row: int) -> float:
    try:
        moment = datetime.fromisoformat(str(text))
        if moment.tzinfo is None:
            raise ValueError(text)
        instant = moment.timestamp()
    except (ValueError, OverflowError):
        raise _RefusedError(
            f"“{str(text)[:60]}” is no period with its time zone.", ANEW, path, row
        ) from None
    if not FIRST_DAY <= moment.date() <= LAST_DAY:
        raise _RefusedError(f"“{str(text)[:60]}” is not in {SPAN}.", "Leave it out.", path, row)
    return instant


def _depth(read: Any) -> int:
    """Return how many levels plain data nests, counted level by level."""
    level, depth = [read], 0
    while level:
        depth += 1
        level = [
            inner
            for outer in level
            if isinstance(outer, (dict, list))
            for inner in (outer.values() if isinstance(outer, dict) else outer)
        ]
    return depth
