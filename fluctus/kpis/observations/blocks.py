"""Stored values packed beside their rows: some thousands together, read as columns.

A block holds all rows of a KPI from its first instant up to, but not including, the one it ends
with. What a write touches is dropped with it, in its transaction; the parts that no block holds
are read from their rows, and packed by the next write. A block that is damaged is read from its
rows as well, and the log says so.
"""

import io
import json
import logging
import math
import zlib
from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from itertools import pairwise
from threading import Lock
from typing import Final

import numpy as np
import polars as pl
from cachetools import LRUCache
from django.db import connection
from psycopg import sql

from fluctus.core.arrays import Floats, Ints
from fluctus.kpis.models import Block, Kpi, Observation
from fluctus.kpis.observations.stored import Stored

log = logging.getLogger(__name__)

OBSERVATIONS = Observation._meta.db_table
BLOCKS = Block._meta.db_table
INSTANT: Final = "EXTRACT(EPOCH FROM period)::float8"
AT_ONCE: Final = 8_192
"""Rows of a block, about: what a write of one cell reads and packs anew."""
FEWEST: Final = 4_096
"""Rows that are packed at all: of fewer, the rows are read as fast."""
AT_ONCE_READ: Final = 64
"""Blocks whose contents are read in one statement."""
MOST_UNPACKED: Final = 24_000_000
"""Bytes of unpacked blocks that a process holds: some three million values."""
MOST_NAMED: Final = 10_000
"""Periods of a write that are looked for among the blocks one by one."""

NUMBERS: Final = (
    "instant",
    "value",
    "numerator",
    "denominator",
    "target",
    "target_high",
    "rows",
    "set_aside",
    "noted",
    "part",
)
Columns = dict[str, Floats]
"""The numbers of values in order of period and breakdown, by ``NUMBERS``: shape (n,) each."""

_unpacked: LRUCache[tuple[int, int], Columns] = LRUCache(
    MOST_UNPACKED, getsizeof=lambda kept: sum(column.nbytes for column in kept.values())
)
_unpacked_lock = Lock()


def read_columns(kpi: Kpi, *, keep: bool = False) -> Columns:
    """Read all values of a KPI; with ``keep`` pack what no block holds, its lock being held."""
    if not kpi.packed and not keep:
        return rows_between(kpi)
    pieces: list[Columns] = []
    gaps: list[tuple[float, float, Columns]] = []

    def from_rows(first: float, until: float) -> Columns:
        columns = rows_between(kpi, first, until)
        gaps.append((first, until, columns))
        return {name: _folded(column) for name, column in columns.items()}

    at = -math.inf
    for block, kept in _blocks_of(kpi) if kpi.packed else ():
        if block.first > at:
            pieces.append(from_rows(at, block.first))
        if kept is None:
            pieces.append(from_rows(block.first, block.until))
        else:
            pieces.append(_columns(kpi, block, kept))
        at = block.until
    if at < math.inf:
        pieces.append(from_rows(at, math.inf))
    if keep and gaps and sum(len(piece["instant"]) for piece in pieces) >= FEWEST:
        _pack(kpi, gaps)
    return {name: _joined([piece[name] for piece in pieces]) for name in NUMBERS}


def _joined(pieces: Sequence[Floats]) -> Floats:
    """Put pieces of a column together; one number throughout takes no room."""
    first = pieces[0]
    if len(pieces) == 1:
        return first
    if all(_is_one_number(piece) for piece in pieces):
        numbers = np.array([piece[0] for piece in pieces])
        if (numbers == numbers[0]).all() or np.isnan(numbers).all():
            return np.broadcast_to(first[0], sum(map(len, pieces)))
    return np.concatenate(pieces)


def _folded(column: Floats) -> Floats:
    """Return a column as one number throughout, where it is that, as blocks give theirs."""
    if len(column) > 0 and _is_constant(column):
        return np.broadcast_to(column[0], len(column))
    return column


def _is_constant(column: Floats) -> bool:
    return bool((column == column[0]).all()) or bool(np.isnan(column).all())


def _is_one_number(column: Floats) -> bool:
    return len(column) > 0 and column.strides == (0,)


def pack_stored(kpi: Kpi, stored: Stored) -> None:
    """Pack what no block holds of all values of a locked KPI, where there are enough of them."""
    if len(stored.values) < FEWEST:
        return
    # By the names of the KPI, of which "" is none.
    numbers = {name: number for number, name in enumerate(("", *kpi.breakdowns))}
    parts = np.array([numbers[name] for name in stored.breakdowns], np.float64)
    columns = {
        "instant": stored.instants,
        "value": stored.values,
        "numerator": stored.numerators,
        "denominator": stored.denominators,
        "target": stored.targets,
        "target_high": stored.targets_high,
        "rows": stored.rows.astype(np.float64),
        "set_aside": stored.set_aside.astype(np.float64),
        "noted": stored.noted.astype(np.float64),
        "part": parts[stored.parts],
    }
    gaps = []
    for first, until in _gaps(kpi):
        start, stop = np.searchsorted(stored.instants, [first, until])
        piece = {name: column[start:stop] for name, column in columns.items()}
        gaps.append((first, until, piece))
    if gaps:
        _pack(kpi, gaps)


def _gaps(kpi: Kpi) -> Iterator[tuple[float, float]]:
    at = -math.inf
    ranges = Block.objects.filter(kpi=kpi).order_by("first").values_list("first", "until")
    for first, until in ranges if kpi.packed else ():
        if first > at:
            yield at, first
        at = until
    if at < math.inf:
        yield at, math.inf


def drop_blocks(kpi: Kpi, instants: Floats | None = None) -> None:
    """Drop the blocks of a locked KPI that hold some instants; all of them where none are named."""
    if not kpi.packed:
        return
    rows = Block.objects.filter(kpi=kpi)
    if instants is None:
        rows.delete()
    elif len(instants) > MOST_NAMED:
        rows.filter(first__lte=instants.max(), until__gt=instants.min()).delete()
    elif len(instants):
        with connection.cursor() as cursor:
            cursor.execute(
                f"DELETE FROM {BLOCKS} b USING unnest(%s::float8[]) AS touched (instant) "  # noqa: S608
                "WHERE b.kpi_id = %s AND touched.instant >= b.first AND touched.instant < b.until",
                [np.unique(instants).tolist(), kpi.pk],
            )


def rows_between(kpi: Kpi, first: float = -math.inf, until: float = math.inf) -> Columns:
    """Read the rows of a KPI from an instant up to another one."""
    since = "" if first == -math.inf else f"AND period >= to_timestamp({float(first)!r})"
    before = "" if until == math.inf else f"AND period < to_timestamp({float(until)!r})"
    return read_rows(kpi, sql.SQL(f"{since} {before}"))


def read_rows(kpi: Kpi, only: sql.Composable) -> Columns:
    """Read the rows of a KPI that fulfil a condition, in columns."""
    fields = ", ".join(
        f"COALESCE({name}, 'NaN') AS {name}"
        for name in ("numerator", "denominator", "target", "target_high")
    )
    # The place of its breakdown among those of the KPI, from 1; 0 where it has none.
    # Looked up by its key: a search through an array takes a minute for hundreds of parts.
    part = "COALESCE(({breakdowns}::jsonb ->> breakdown)::float8, 0)"
    columns = ", ".join(f"string_agg(float8send({name}), ''::bytea)" for name in NUMBERS)
    statement = f"""
        SELECT {columns} FROM (
            SELECT {INSTANT} AS instant, value, {fields},
                   rows::float8 AS rows, set_aside::int::float8 AS set_aside,
                   (note <> '')::int::float8 AS noted, {part}::float8 AS part
            FROM {OBSERVATIONS} WHERE kpi_id = {{kpi}} {{only}} ORDER BY period, breakdown
        ) AS ordered
    """  # noqa: S608 - names of our own tables and columns
    numbered = {name: number for number, name in enumerate(kpi.breakdowns, start=1)}
    with connection.cursor() as cursor:
        ready = sql.SQL(statement).format(
            kpi=sql.Literal(kpi.pk), only=only, breakdowns=sql.Literal(json.dumps(numbered))
        )
        cursor.execute(ready.as_string(cursor.cursor))
        columns_read = cursor.fetchone()
    # Each column comes as one run of bytes: a message for each row takes longer than its numbers.
    return {
        name: np.frombuffer(content or b"", ">f8").astype(np.float64)
        for name, content in zip(NUMBERS, columns_read, strict=True)
    }


def _blocks_of(kpi: Kpi) -> Iterator[tuple[Block, Columns | None]]:
    """Return the blocks of a KPI in order, each with what it has packed; None where it is damaged.

    A block is never written to, so that what this process has unpacked need not be read again: a
    write of one value to a million reads one block of them.
    """
    fields = ("kpi_id", "first", "until", "breakdowns", "constants", "checksum")
    blocks = list(Block.objects.filter(kpi=kpi).only(*fields).order_by("first"))
    for some in (blocks[at : at + AT_ONCE_READ] for at in range(0, len(blocks), AT_ONCE_READ)):
        with _unpacked_lock:
            held = {block.pk: _unpacked.get((block.pk, block.checksum)) for block in some}
        missing = [pk for pk, kept in held.items() if kept is None]
        read = Block.objects.filter(pk__in=missing).values_list("pk", "packed") if missing else ()
        packed = dict(read)
        for block in some:
            kept = held[block.pk]
            if kept is None and block.pk in packed:
                kept = _unpack(block, bytes(packed[block.pk]))
            yield block, kept


def _unpack(block: Block, raw: bytes) -> Columns | None:
    if zlib.crc32(raw) != block.checksum:
        where = (block.kpi_id, block.first)
        log.error("A block of KPI %s is damaged from %s on; its rows are read", *where)
        return None
    frame = pl.read_ipc(io.BytesIO(raw))
    kept = {name: frame[name].to_numpy() for name in frame.columns}
    with _unpacked_lock, suppress(ValueError):
        # One that is larger than all that may be held raises ValueError.
        _unpacked[block.pk, block.checksum] = kept
    return kept


def _columns(kpi: Kpi, block: Block, kept: Columns) -> Columns:
    """Return the columns of a block: those that it has packed, and those that are one number."""
    columns, count = dict(kept), len(kept["value"])
    for name, constant in block.constants.items():
        if isinstance(constant, list):
            start, step = constant
            columns[name] = start + step * np.arange(count)
        else:
            number = np.float64(np.nan if constant is None else constant)
            columns[name] = np.broadcast_to(number, count)
    if block.breakdowns != kpi.breakdowns:
        # Names have come or gone since: each has another place.
        now = {name: number for number, name in enumerate(kpi.breakdowns, start=1)}
        moved = [0.0, *(float(now.get(name, 0)) for name in block.breakdowns)]
        columns["part"] = np.array(moved)[columns["part"].astype(np.intp)]
    return columns


def forget_blocks() -> None:
    """Drop what has been unpacked, where a database is exchanged under the process."""
    with _unpacked_lock:
        _unpacked.clear()


def _pack(kpi: Kpi, gaps: Sequence[tuple[float, float, Columns]]) -> None:
    """Put blocks in the place of what was found in gaps, whatever was there."""
    if not kpi.packed:
        kpi.packed = True
        Kpi.objects.filter(pk=kpi.pk).update(packed=True)
    for first, until, _ in gaps:
        Block.objects.filter(kpi=kpi, first__lt=until, until__gt=first).delete()
    Block.objects.bulk_create(
        (
            _packed(kpi, since, before, {name: column[start:stop] for name, column in all_.items()})
            for first, until, all_ in gaps
            for since, before, start, stop in _cuts(first, until, all_["instant"])
        ),
        batch_size=64,
    )


def _cuts(first: float, until: float, instants: Floats) -> Iterator[tuple[float, float, int, int]]:
    """Part rows so that each part has about ``AT_ONCE``, and no period is in two of them."""
    count = max(1, round(len(instants) / AT_ONCE))
    wanted = np.linspace(0, len(instants), count + 1).astype(np.intp)[1:-1]
    inner: Ints = np.unique(np.searchsorted(instants, instants[wanted])) if count > 1 else wanted
    edges = [0, *(int(at) for at in inner if at > 0), len(instants)]
    for start, stop in pairwise(edges):
        yield (
            first if start == 0 else float(instants[start]),
            until if stop == len(instants) else float(instants[stop]),
            start,
            stop,
        )


def _packed(kpi: Kpi, first: float, until: float, columns: Mapping[str, Floats]) -> Block:
    constants: dict[str, float | list[float] | None] = {}
    kept = {"value": columns["value"]}
    for name, column in columns.items():
        if name == "value":
            continue
        if name == "instant" and len(column) > 1 and len(steps := np.unique(np.diff(column))) == 1:
            constants[name] = [float(column[0]), float(steps[0])]
            continue
        if len(column) > 0 and _is_constant(column):
            constants[name] = None if np.isnan(column[0]) else float(column[0])
        else:
            kept[name] = column
    written = io.BytesIO()
    pl.DataFrame({name: np.ascontiguousarray(column) for name, column in kept.items()}).write_ipc(
        written, compression="zstd"
    )
    raw = written.getvalue()
    return Block(
        kpi=kpi,
        first=first,
        until=until,
        breakdowns=list(kpi.breakdowns),
        constants=constants,
        packed=raw,
        checksum=zlib.crc32(raw),
    )
