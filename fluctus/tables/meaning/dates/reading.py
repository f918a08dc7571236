"""Columns of dates: which way they are written is decided from the whole column."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, time, timedelta
from functools import lru_cache
from itertools import pairwise

import polars as pl

from fluctus.tables.days import FIRST_DAY, LAST_DAY
from fluctus.tables.meaning.dates.at_once import read_at_once
from fluctus.tables.meaning.dates.names import languages_of
from fluctus.tables.meaning.dates.plain_writing import (
    foreign_words,
    in_digits,
    in_plain_writing,
)
from fluctus.tables.meaning.dates.styles import (
    COMPILED,
    FIRST_DAYS,
    NAME,
    NUMBER_STYLES,
    DateStyle,
)

FIRST_YEAR, LAST_YEAR = FIRST_DAY.year, LAST_DAY.year
BARE_YEARS = (1900, 2100)
"""A number alone is a year only here: beyond, it is as likely a value."""
SAMPLE = 600
"""Cells by which a style is chosen, from the first to the last: many moments are of one day."""
PLAIN_NUMBER = re.compile(r"-?\d+(\.\d+)?")
FIRST = 20
"""Of plain numbers, half of these must be dates before all are looked at."""
LONGEST = 60
"""A longer text is no date."""
WRITTEN_STYLES = tuple(COMPILED)
SERIAL_ZERO = datetime(1899, 12, 30)  # noqa: DTZ001 - a wall clock
SERIALS = (10_000.0, 80_000.0)
EPOCHS = (315_532_800.0, 4_102_444_800.0)
"""From 1980 to 2100, in seconds."""
COMPACT = {
    DateStyle.COMPACT_DAY: re.compile(r"(?P<y>\d{4})(?P<m>\d\d)(?P<d>\d\d)(?:\.0)?"),
    DateStyle.COMPACT_MONTH: re.compile(
        r"(?P<y>\d{4})(?P<m>\d\d)(?:\.0)?|(?P<m2>\d{1,2})\.(?P<y2>\d{4})"
    ),
}

RANGE = re.compile(
    r"(?P<first>.+?)(?:\s*(?:\N{EN DASH}|\N{EM DASH}|\.\.\.?)\s*|\s+(?:-|to|until|till)\s+"
    r"|/(?=\d{4}-)|(?<=\d{4})-(?=\d{1,2}[./]))(?P<last>.+)",
    re.IGNORECASE,
)
MONTH_AND_YEAR = re.compile(rf"\d{{1,2}}(?P<rest>[- .]*{NAME}[- ,]*(?P<y>\d{{4}}))", re.IGNORECASE)
MONTH_AND_NUMBER = re.compile(rf"{NAME}\s+(?P<n>\d{{1,2}})", re.IGNORECASE)
DAY_AND_MONTH = re.compile(rf"\d{{1,2}}[- .]*{NAME}", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class DateColumn:
    """The cells of a column as moments, null where a cell does not fit the style.

    ``wall`` are moments as a clock on the wall shows them; where ``zoned``,
    the cell named an offset and the moment is in UTC.
    """

    style: DateStyle
    wall: pl.Series
    zoned: pl.Series
    others: tuple[DateStyle, ...]
    """Other styles that fit as many cells: the column does not tell them apart."""
    languages: tuple[str, ...] = ()
    """Those that name its months, the one that decides first; none where none has to be known."""

    @property
    def values(self) -> list[datetime | None]:
        """The moments as datetimes, with UTC where a cell named an offset."""
        return [
            moment if moment is None or not zoned else moment.replace(tzinfo=UTC)
            for moment, zoned in zip(self.wall, self.zoned, strict=True)
        ]

    @property
    def misfits(self) -> list[int]:
        """Which cells are no date in this style."""
        return self.wall.is_null().arg_true().to_list()


@lru_cache(maxsize=50_000)
def looks_like_date(cell: str) -> bool:
    """Tell whether a cell is a date in any style that is not a plain number."""
    if len(cell) > LONGEST or PLAIN_NUMBER.fullmatch(cell) or not any(map(str.isdigit, cell)):
        return False
    plain = in_plain_writing(cell)
    return any(_parse(plain, style) is not None for style in WRITTEN_STYLES)


def looks_like_year(cell: str) -> bool:
    """Tell whether a cell can be a year alone."""
    return _parse(cell, DateStyle.YEAR) is not None


def may_be_dates(numbers: Sequence[str]) -> bool:
    """Tell whether plain numbers can be dates in any of their styles, by the first of them."""
    first = numbers[:FIRST]
    return any(_some_fit(first, way) for way in NUMBER_STYLES)


def _some_fit(first: Sequence[str], way: DateStyle) -> bool:
    few = sum(_parsed(cell, way) is not None for cell in first)
    return few > 0 and few * 2 >= len(first)


def read_dates(cells: Sequence[str] | pl.Series, style: DateStyle | None = None) -> DateColumn:
    """Read a column; ``style`` None takes the one that most cells fit.

    A plain number is taken for a year, a spreadsheet's day or an epoch only
    where no cell is written as a date.
    """
    column = pl.Series("cell", cells, dtype=pl.String)
    different = column.unique(maintain_order=True)
    spread = different.gather_every(max(1, -(-len(different) // SAMPLE)))
    sample = [cell for cell in spread if len(cell) <= LONGEST]
    written = [cell for cell in sample if not PLAIN_NUMBER.fullmatch(cell)]
    languages = tuple(_languages(written))
    if style is not None:
        return _read(column, different, style, (), languages)
    words = [in_plain_writing(cell, _deciding(languages)) for cell in written]
    fits = {way: sum(_parsed(cell, way) is not None for cell in words) for way in WRITTEN_STYLES}
    for way in NUMBER_STYLES:
        looked_at = sample if _some_fit(sample[:FIRST], way) else sample[:FIRST]
        fits[way] = sum(_parsed(cell, way) is not None for cell in looked_at)
    among = [way for way in WRITTEN_STYLES if fits[way]] or list(NUMBER_STYLES)
    best = max(among, key=lambda way: fits[way])
    if not fits[best] or (best is DateStyle.MONTH_NAME and _are_days(words)):
        return _no_dates(column, best)
    others = tuple(way for way in among if way is not best and fits[way] == fits[best])
    return _read(column, different, best, others, languages)


def _are_days(words: Sequence[str]) -> bool:
    """Tell days without a year, as ``Dec 30, Dec 31``, from months of years of two digits.

    One after the other, days go on within a month; months do not stay the same for years.
    """
    found = [MONTH_AND_NUMBER.fullmatch(cell.strip()) for cell in words]
    pairs = [(one["name"][:3].lower(), int(one["n"])) for one in found if one]
    if len(pairs) < len(words) or len(pairs) < 2:
        return False
    within_a_month = sum(
        month == other and later != before for (month, before), (other, later) in pairwise(pairs)
    )
    return any(number < 10 for _, number in pairs) or within_a_month * 2 >= len(pairs) - 1


def _no_dates(column: pl.Series, style: DateStyle) -> DateColumn:
    none = pl.Series([None], dtype=pl.Datetime("us")).new_from_index(0, len(column))
    return DateColumn(style, none, none.is_not_null(), ())


ZONE_IN_HEADING = re.compile(r"\b(?:UTC|GMT)(?:\s*(?P<sign>[+-])(?P<h>\d{1,2}):?(?P<m>\d\d)?)?\b")


def in_zone_of_heading(dates: DateColumn, heading: str) -> DateColumn:
    """Take moments for those of the offset that the heading of their column names.

    Days without a time of day are those of whoever reads them.
    """
    found = ZONE_IN_HEADING.search(heading)
    moments = dates.wall.drop_nulls()
    if found is None or dates.zoned.any() or (moments.dt.truncate("1d") == moments).all():
        return dates
    minutes = int(found["h"] or 0) * 60 + int(found["m"] or 0)
    offset = timedelta(minutes=-minutes if found["sign"] == "-" else minutes)
    return replace(dates, wall=dates.wall - offset, zoned=dates.wall.is_not_null())


def _languages(cells: Sequence[str]) -> list[str]:
    """Return the languages that the cells of a column name months in; none for plain ones."""
    dated = [cell for cell in cells if any(map(str.isdigit, cell))]
    return languages_of(dated) if any(map(foreign_words, dated)) else []


def _deciding(languages: Sequence[str]) -> str:
    return languages[0] if languages else ""


def _read(
    column: pl.Series,
    different: pl.Series,
    style: DateStyle,
    others: tuple[DateStyle, ...],
    languages: tuple[str, ...],
) -> DateColumn:
    """Read each different cell once: dates repeat, and regular expressions are slow."""
    quick = read_at_once(different, style)
    readings = _with_slow(quick, different, style, _deciding(languages))
    if _are_whole_days(readings):
        # Days that were written as moments: a zone further west does not make them the days before.
        readings = readings.with_columns(zoned=False)
    readings = readings.with_columns(different.alias("cell"))
    read = column.to_frame("cell").join(readings, on="cell", how="left", maintain_order="left")
    return DateColumn(style, read["wall"], read["zoned"], others, languages)


def _with_slow(
    quick: pl.DataFrame, different: pl.Series, style: DateStyle, language: str
) -> pl.DataFrame:
    """Read by their pattern the cells that were not read at once."""
    left = quick["wall"].is_null()
    if not left.any():
        return quick
    moments = [
        _parse(in_plain_writing(cell, language), style) if slow else None
        for cell, slow in zip(different, left, strict=True)
    ]
    zoned = [moment is not None and moment.tzinfo is not None for moment in moments]
    walls = [
        moment.astimezone(UTC).replace(tzinfo=None) if moment and moment.tzinfo else moment
        for moment in moments
    ]
    return quick.with_columns(
        pl.col("wall").fill_null(pl.Series(walls, dtype=pl.Datetime("us"))),
        pl.col("zoned") | pl.Series(zoned, dtype=pl.Boolean),
    )


def _are_whole_days(readings: pl.DataFrame) -> bool:
    """Tell whether all moments are in UTC, and each of them its midnight."""
    read = readings.filter(pl.col("wall").is_not_null())
    midnight = read["wall"].dt.truncate("1d") == read["wall"]
    return len(read) > 0 and bool(read["zoned"].all()) and bool(midnight.all())


def _parse(cell: str, style: DateStyle) -> datetime | None:
    text = in_digits(cell.strip())
    if len(text) > LONGEST:
        return None
    if style in NUMBER_STYLES:
        return _from_number(text, style)
    moment = _single(text, style)
    return moment if moment is not None else _range_start(text, style)


_parsed = lru_cache(maxsize=40_000)(_parse)
"""For the cells by which a style is chosen: tables are looked at several times."""


def _single(text: str, style: DateStyle) -> datetime | None:
    match = COMPILED[style].fullmatch(text)
    if match is None:
        return None
    parts = match.groupdict()
    try:
        day = FIRST_DAYS[style](_year(_found_year(parts)), parts)
        if not FIRST_YEAR <= day.year <= LAST_YEAR:
            return None
        moment = datetime.combine(day, time()) + _clock(parts)
        if parts["zone"]:
            offset = parts["zone"].upper()
            offset = "+00:00" if offset in ("Z", "UTC", "GMT") else offset
            return datetime.fromisoformat(f"{moment.isoformat()}{offset}")
    except ValueError:
        return None
    return moment


def _found_year(parts: dict[str, str]) -> str:
    return next(parts[name] for name in ("y", "y2", "y3", "y4") if parts.get(name))


def _clock(parts: dict[str, str]) -> timedelta:
    """Return how far in its day a clock is, up to 24:00; raises ValueError for what none shows."""
    hour, minute = int(parts["hour"] or 0), int(parts["minute"] or 0)
    half = (parts["half"] or "").strip().lower()
    if half:
        if not 1 <= hour <= 12:
            raise ValueError("no such hour of half a day")
        hour = hour % 12 + (12 if half.startswith("p") else 0)
    into_the_day = timedelta(hours=hour, minutes=minute)
    if minute > 59 or into_the_day > timedelta(days=1):
        raise ValueError("no such time of a day")
    return into_the_day


def _range_start(text: str, style: DateStyle) -> datetime | None:
    """Read a period written as a range, ``5 - 11 Jan 2026``, as its first moment."""
    match = RANGE.fullmatch(text)
    if match is None:
        match = re.fullmatch(
            r"(?P<first>\d{1,2}(?:[ .]*[^\W\d_]{3,}\.?)?)-(?P<last>\d{1,2}[ .]*[A-Za-z].*)", text
        )
    if match is None:
        return None
    first, last = match["first"].strip().removesuffix("."), match["last"].strip()
    end = _single(last, style)
    if end is None:
        return None
    if style is DateStyle.DAY_MONTH_NAME and (tail := MONTH_AND_YEAR.fullmatch(last)):
        # What the first day leaves out, it shares with the last one.
        if first.isdecimal():
            first += tail["rest"]
        elif DAY_AND_MONTH.fullmatch(first):
            started = _single(f"{first} {end.year}", style)
            over = started is not None and started > end
            first = f"{first} {end.year - over}"
    start = _single(first, style)
    return start if start is not None and start <= end else None


def _from_compact(text: str, pattern: re.Pattern[str]) -> datetime | None:
    """Read year, month and day as digits without marks, or a month and a year with a point."""
    found = pattern.fullmatch(text)
    if found is None:
        return None
    parts = found.groupdict()
    year, month = (int(parts[name] or parts[f"{name}2"]) for name in "ym")
    try:
        day = datetime(year, month, int(parts.get("d") or 1))  # noqa: DTZ001 - a wall clock
    except ValueError:
        return None
    return day if BARE_YEARS[0] <= year <= BARE_YEARS[1] else None


def _from_number(text: str, style: DateStyle) -> datetime | None:
    if style is DateStyle.YEAR:
        plain = re.fullmatch(r"(\d{4})(?:\.0)?", text)
        year = int(plain[1]) if plain else 0
        return datetime(year, 1, 1) if BARE_YEARS[0] <= year <= BARE_YEARS[1] else None  # noqa: DTZ001
    if style in COMPACT:
        return _from_compact(text, COMPACT[style])
    if not re.fullmatch(r"\d+(\.\d+)?", text):
        return None
    number = float(text)
    if style is DateStyle.SERIAL:
        if not SERIALS[0] <= number <= SERIALS[1]:
            return None
        # Days as doubles fall a hair short of the minute they mean.
        return SERIAL_ZERO + timedelta(minutes=round(number * 24 * 60))
    seconds = number / 1000 if style is DateStyle.EPOCH_MILLISECONDS else number
    if not EPOCHS[0] <= seconds <= EPOCHS[1]:
        return None
    return datetime.fromtimestamp(seconds, UTC)


def _year(text: str) -> int:
    return int(text) if len(text) == 4 else 2000 + int(text) if int(text) < 70 else 1900 + int(text)
