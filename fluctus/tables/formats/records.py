"""Formats with named fields: JSON, Parquet and the Frictionless Data Package."""

import io
import zipfile
from pathlib import PurePosixPath
from typing import Any

import orjson
import polars as pl

from fluctus.tables.formats.delimited import read_delimited
from fluctus.tables.formats.plain import plain
from fluctus.tables.formats.text import decode
from fluctus.tables.grid import (
    MAX_COLUMNS,
    MAX_ROWS,
    TOO_LONG,
    Grid,
    TableError,
    check_size,
    grid_of,
    make_grid,
)

DEEPEST = 6
"""Levels of wrapping, and of fields within fields."""
NO_TABLE = (
    "This JSON holds no table. A list of records, or an object with a list for each column, "
    "can be read."
)


def read_json(text: str) -> Grid:
    """Read a list of records or of rows, an object of columns or of records, or records in lines.

    What wraps them, at any depth, is looked through; fields within fields get names with dots.
    """
    try:
        data = orjson.loads(text)
    except orjson.JSONDecodeError as error:
        lines = [line for line in text.splitlines() if line.strip()]
        if len(lines) < 2 or not all(line.lstrip().startswith(("{", "[")) for line in lines[:2]):
            raise TableError(
                f"This begins like JSON, but line {error.lineno} cannot be read from its character "
                f"{error.colno} on. Export it again, or save the table as CSV."
            ) from error
        data = [_of_line(n, line) for n, line in enumerate(lines, 1)]
    return json_grid(data)


def _of_line(number: int, line: str) -> Any:
    try:
        return orjson.loads(line)
    except orjson.JSONDecodeError as error:
        raise TableError(
            f"Line {number:,} of this JSON cannot be read from its character {error.colno} on. "
            "Export it again, or save the table as CSV."
        ) from error


def json_grid(data: Any) -> Grid:
    """Build a grid from what JSON held."""
    rows = _rows_in(data, DEEPEST)
    if rows is None:
        raise TableError(NO_TABLE)
    if len(rows) > MAX_ROWS:
        raise TableError(TOO_LONG)
    if all(isinstance(row, list) for row in rows):
        return make_grid((n, [plain(cell) for cell in row]) for n, row in enumerate(rows, 1))
    flat = [_flat(row) for row in rows]
    names: dict[str, None] = {}
    for row in flat:
        names.update(dict.fromkeys(row))
        if len(names) > MAX_COLUMNS:
            raise TableError(
                f"The records have more than {MAX_COLUMNS:,} different fields. Leave some out."
            )
    check_size(len(flat), len(names))
    columns = {name: [plain(row.get(name)) for row in flat] for name in names}
    return grid_of(pl.DataFrame(columns, schema=dict.fromkeys(columns, pl.String)))


def _rows_in(data: Any, depth: int) -> list[Any] | None:
    """Find the records or the rows in what JSON held; None where there are none."""
    if isinstance(data, list):
        alike = data and (
            all(isinstance(row, dict) for row in data) or all(isinstance(row, list) for row in data)
        )
        return data if alike else None
    if not isinstance(data, dict) or depth == 0:
        return None
    columns = {name: cells for name, cells in data.items() if _is_column(cells)}
    if len(columns) > 1 and len({len(cells) for cells in columns.values()}) == 1:
        names = list(columns)
        return [dict(zip(names, row, strict=True)) for row in zip(*columns.values(), strict=True)]
    # Records by a key of each, as a day or a name; the key is a field of its own then.
    if len(data) > 1 and all(isinstance(value, dict) for value in data.values()):
        fields = [frozenset(value) for value in data.values()]
        if all(one & fields[0] for one in fields):
            return [{"key": key, **value} for key, value in data.items()]
    found = [rows for value in data.values() if (rows := _rows_in(value, depth - 1)) is not None]
    if found:
        return max(found, key=len)
    if len(columns) != 1:
        return None
    return [{name: cell} for name, cells in columns.items() for cell in cells]


def _is_column(cells: Any) -> bool:
    return (
        isinstance(cells, list)
        and bool(cells)
        and not any(isinstance(cell, (dict, list)) for cell in cells)
    )


def _flat(record: dict[str, Any]) -> dict[str, Any]:
    """Return a record whose fields within fields stand by themselves, ``fuel.litres``."""
    flat: dict[str, Any] = {}
    waiting = [("", record)]
    while waiting:
        prefix, fields = waiting.pop(0)
        for name, value in fields.items():
            if isinstance(value, dict) and prefix.count(".") < DEEPEST:
                waiting.append((f"{prefix}{name}.", value))
            elif isinstance(value, list) and not any(isinstance(x, (dict, list)) for x in value):
                flat[f"{prefix}{name}"] = ", ".join(plain(cell) for cell in value)
            else:
                flat[f"{prefix}{name}"] = value
    return flat


def read_parquet(raw: bytes) -> Grid:
    """Read the columns of a Parquet file; nested ones are left empty."""
    try:
        lazy = pl.scan_parquet(io.BytesIO(raw))
        schema = lazy.collect_schema()
        count = int(lazy.select(pl.len()).collect().item())
        check_size(count, len(schema))
        frame = lazy.select(
            _as_text(name, kind) for name, kind in schema.items() if not kind.is_nested()
        ).collect()
    except pl.exceptions.PolarsError as error:
        raise TableError(
            "This Parquet file is damaged or cut off. Copy or export it again."
        ) from error
    return grid_of(frame)


def _as_text(name: str, kind: pl.DataType) -> pl.Expr:
    column = pl.col(name)
    if isinstance(kind, pl.Datetime):
        column = column.dt.to_string("%Y-%m-%d %H:%M:%S%:z" if kind.time_zone else "iso:strict")
        return column.str.replace("T", " ").str.replace(r"(\d{2}:\d{2}:\d{2})\.\d+", "$1")
    if kind in (pl.Date, pl.Time):
        return column.dt.to_string("iso")
    if isinstance(kind, pl.Duration):
        return column.map_batches(
            lambda cells: pl.Series([plain(cell) for cell in cells], dtype=pl.String),
            return_dtype=pl.String,
        )
    if kind.is_float():
        # As Python writes it: every digit that tells one double from the next, and no more.
        return column.map_batches(
            lambda cells: pl.Series([plain(cell) for cell in cells], dtype=pl.String),
            return_dtype=pl.String,
        )
    return column.cast(pl.String, strict=False)


def read_package(raw: bytes, resource: str | None) -> tuple[Grid, list[str]]:
    """Read one resource of a Data Package: a descriptor with data in it, or an archive.

    Only files inside the archive are read; addresses are never followed.
    """
    archive: zipfile.ZipFile | None = None
    if raw.startswith(b"PK"):
        archive = zipfile.ZipFile(io.BytesIO(raw))
        place = next(n for n in archive.namelist() if n.split("/")[-1] == "datapackage.json")
        descriptor = archive.read(place)
    else:
        place, descriptor = "datapackage.json", raw
    try:
        resources = orjson.loads(descriptor)["resources"]
        named = {str(entry.get("name") or n): entry for n, entry in enumerate(resources, 1)}
    except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError) as error:
        raise TableError(
            "The description of this data package has no resources. Upload its table instead."
        ) from error
    if not named:
        raise TableError("This data package has no resources. Upload its table instead.")
    chosen = named[resource] if resource in named else next(iter(named.values()))
    if not isinstance(chosen, dict):
        raise TableError("A resource of this data package is none. Upload its table instead.")
    return _without_missing(_resource(chosen, archive, place), chosen), list(named)


def _without_missing(grid: Grid, resource: dict[str, Any]) -> Grid:
    """Leave cells empty that the package itself declares to be missing."""
    schema = resource.get("schema")
    missing = schema.get("missingValues") if isinstance(schema, dict) else None
    texts = [text for text in missing if isinstance(text, str)] if isinstance(missing, list) else []
    if not texts:
        return grid
    empty = pl.all().replace(texts, [""] * len(texts))
    head = grid.cells.head(1)
    cells = pl.concat([head, grid.cells.slice(1).with_columns(empty)])
    return Grid(cells, grid.lines, grid.named)


def _resource(chosen: dict[str, Any], archive: zipfile.ZipFile | None, place: str) -> Grid:
    if "data" in chosen:
        return json_grid(chosen["data"])
    path = chosen.get("path")
    path = path[0] if isinstance(path, list) and path else path
    if not isinstance(path, str) or archive is None:
        raise TableError(
            "The data of this package are in another file. Upload the package as one archive."
        )
    inside = str(PurePosixPath(place).parent / path)
    if inside not in archive.namelist():
        raise TableError(
            f"The package names {path}, which is not in the archive. Put it into that."
        )
    content = archive.read(inside)
    if path.endswith(".json"):
        return read_json(decode(content).text)
    grid, _ = read_delimited(decode(content).text)
    return Grid(grid.cells, grid.lines)
