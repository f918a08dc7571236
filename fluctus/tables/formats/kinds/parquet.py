"""Parquet, by Polars."""

from fluctus.tables.formats.records import read_parquet
from fluctus.tables.formats.table_format import Opened, Source, TableFormat


def _read(source: Source, sheet: str | None) -> Opened:
    return Opened(read_parquet(source.raw), "Parquet")


PARQUET = TableFormat(
    "Parquet", (".parquet",), lambda source: source.raw.startswith(b"PAR1"), _read
)
