"""Dates that are written in digits alone, read a column at a time.

The patterns read one cell after the other, which takes long where every row has a moment of its
own, as in what a logger writes. Here are read only cells that these patterns would read as well.
"""

from typing import Final

import polars as pl

from fluctus.tables.days import FIRST_DAY, LAST_DAY
from fluctus.tables.meaning.dates.styles import DateStyle

ORDERS: Final = {
    DateStyle.ISO: "ymd",
    DateStyle.DAY_FIRST: "dmy",
    DateStyle.MONTH_FIRST: "mdy",
}
PARTS: Final = {"y": "(?P<y>[0-9]{4})", "m": "(?P<m>[0-9]{1,2})", "d": "(?P<d>[0-9]{1,2})"}
CLOCK: Final = (
    r"(?:[ T](?P<hour>[0-9]{1,2}):(?P<minute>[0-9]{2})(?::[0-9]{2}(?:[.,][0-9]+)?)?"
    r"(?P<zone>Z|[+-][0-9]{2}:[0-9]{2})?)?"
)
PATTERNS: Final = {
    style: "^" + "[-/.]".join(PARTS[part] for part in order) + CLOCK + "$"
    for style, order in ORDERS.items()
}
NO_MOMENT: Final = pl.lit(None, dtype=pl.Datetime("us"))


def read_at_once(cells: pl.Series, style: DateStyle) -> pl.DataFrame:
    """Return ``wall``, null for cells that have to be read one by one, and ``zoned``.

    As in a DateColumn, what names an offset is in UTC.
    """
    frame = cells.to_frame("cell")
    if style not in PATTERNS:
        none = frame.with_columns(NO_MOMENT.alias("wall"), pl.lit(value=False).alias("zoned"))
        return none.drop("cell")
    parts = frame.select(pl.col("cell").str.extract_groups(PATTERNS[style])).unnest("cell")
    two = {part: pl.col(part).fill_null("0").str.zfill(2) for part in ("m", "d", "hour", "minute")}
    text = pl.format("{}-{}-{} {}:{}", "y", *two.values())
    offset = pl.col("zone").str.replace("Z", "+00:00", literal=True)
    minutes = offset.str.slice(1, 2).cast(pl.Int64) * 60 + offset.str.slice(4, 2).cast(pl.Int64)
    signed = pl.when(offset.str.starts_with("-")).then(-minutes).otherwise(minutes)
    wall = text.str.to_datetime("%Y-%m-%d %H:%M", time_unit="us", strict=False)
    moments = parts.select(
        pl.when(wall.dt.year().is_between(FIRST_DAY.year, LAST_DAY.year))
        .then(wall - pl.duration(minutes=signed.fill_null(0)))
        .alias("wall"),
        pl.col("zone").is_not_null().alias("zoned"),
    )
    return moments.with_columns(pl.col("zoned") & pl.col("wall").is_not_null())
