"""Periods: stored as the instant they start, written and read in the KPI's time zone.

A period is written as its date, or for hours as date, time and offset, so that
the hour that a clock change repeats is two periods with two texts. Moments are in
UTC: those in one zone are compared by their clocks, which tell two such hours for one.
Instants are whole seconds since 1970 where there are many of them.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo, available_timezones

import numpy as np
import polars as pl

from fluctus.core.arrays import Floats, Ints
from fluctus.tables.days import FIRST_DAY, LAST_DAY

MONTHS = (
    "Jan",
    "Feb",
    "Mar",
    "Apr",
    "May",
    "Jun",
    "Jul",
    "Aug",
    "Sep",
    "Oct",
    "Nov",
    "Dec",
)


class Grain(StrEnum):
    """The length of a KPI's periods; also the word for one of them. From fine to coarse."""

    HOUR = "hour"
    DAY = "day"
    WEEK = "week"
    MONTH = "month"
    QUARTER = "quarter"
    YEAR = "year"


ADVERBS = {
    Grain.HOUR: "hourly",
    Grain.DAY: "daily",
    Grain.WEEK: "weekly",
    Grain.MONTH: "monthly",
    Grain.QUARTER: "quarterly",
    Grain.YEAR: "yearly",
}
MONTHS_LONG = {Grain.MONTH: 1, Grain.QUARTER: 3, Grain.YEAR: 12}
DAYS_LONG = {
    Grain.HOUR: 1 / 24,
    Grain.DAY: 1.0,
    Grain.WEEK: 7.0,
    Grain.MONTH: 30.44,
    Grain.QUARTER: 91.3,
    Grain.YEAR: 365.25,
}
"""Average length of a period, to look some of them before and after."""


@dataclass(frozen=True, slots=True)
class Calendar:
    """How a KPI cuts time: its zone, the first day of its weeks (Monday is 0) and of its years."""

    zone: ZoneInfo
    first_weekday: int = 0
    first_month: int = 1

    def local(self, instants: Floats) -> pl.Series:
        """Return what a clock shows at ``instants``."""
        seconds = pl.Series("local", np.asarray(instants), dtype=pl.Float64).cast(pl.Int64)
        moments = pl.from_epoch(seconds, time_unit="s").dt.replace_time_zone("UTC")
        return moments.dt.convert_time_zone(self.zone.key).dt.replace_time_zone(None)

    def instants(self, local: pl.Series) -> Floats:
        """Return the instants of clock times; of two with one time the earlier.

        A time that a clock change skips is the instant that it would have been.
        """
        placed = self._placed(local)
        result = placed.dt.epoch("s").cast(pl.Float64).to_numpy().copy()
        for n in (placed.is_null() & local.is_not_null()).arg_true():
            result[n] = local[n].replace(tzinfo=self.zone).timestamp()
        return result

    def skipped(self, local: pl.Series) -> pl.Series:
        """Return which clock times there are not, since a clock change skips them."""
        return self._placed(local).is_null() & local.is_not_null()

    def _placed(self, local: pl.Series) -> pl.Series:
        """Return clock times in the zone, of two the earlier; null for one that is skipped."""
        return local.dt.replace_time_zone(self.zone.key, ambiguous="earliest", non_existent="null")

    def instants_on_standard_time(self, local: pl.Series) -> Floats:
        """Return the instants of times on a clock that no summer time changes."""
        years = local.dt.year().unique().drop_nulls()
        offsets = {year: self._standard_offset(year) for year in years}
        offset = local.dt.year().replace_strict(offsets, return_dtype=pl.Float64)
        return np.asarray(local.dt.epoch("us").to_numpy() / 1e6 - offset.to_numpy())

    def _standard_offset(self, year: int) -> float:
        """Return how many seconds clocks are ahead of UTC while there is no summer time."""
        halves = (datetime(year, month, 1, tzinfo=self.zone).utcoffset() for month in (1, 7))
        return min(offset.total_seconds() for offset in halves if offset is not None)

    def floor(self, local: pl.Series, grain: Grain) -> pl.Series:
        """Return the clock time at which the period of each of ``local`` starts."""
        if grain is Grain.HOUR:
            return local.dt.truncate("1h")
        day = local.dt.truncate("1d")
        frame = day.to_frame("day")
        if grain is Grain.DAY:
            return day
        if grain is Grain.WEEK:
            back = (pl.col("day").dt.weekday().cast(pl.Int64) - 1 - self.first_weekday) % 7
            return frame.select(pl.col("day") - pl.duration(days=back)).to_series()
        # Months since year 0, counted from the first month of the year.
        months = pl.col("day").dt.year().cast(pl.Int64) * 12 + pl.col("day").dt.month() - 1
        length, offset = MONTHS_LONG[grain], self.first_month - 1
        start = (months - offset) // length * length + offset
        return frame.select(pl.datetime(start // 12, start % 12 + 1, 1).alias("day")).to_series()

    def starts(self, instants: Floats, grain: Grain) -> Floats:
        """Return the start of the period that each of ``instants`` falls in."""
        local = self.local(instants)
        if grain is Grain.HOUR:
            # By what the clock shows past the hour, so that a repeated hour stays two.
            past = local.dt.minute().cast(pl.Int64) * 60 + local.dt.second().cast(pl.Int64)
            return np.asarray(np.floor(instants) - past.to_numpy())
        different, back = np.unique(instants, return_inverse=True)
        starts = self.instants(self.floor(self.local(different), grain))
        return np.asarray(starts[back])

    def year_before(self, instants: Floats, grain: Grain) -> Floats:
        """Return the starts of the same periods a year before, shape (n,).

        A week is that of 52 weeks before. NaN for 29 February, which no other year has.
        """
        local = self.local(instants)
        if grain is Grain.WEEK:
            return self.instants(local.dt.offset_by("-52w"))
        earlier = local.dt.offset_by("-1y")
        moved = self.instants(earlier)
        return np.where((local.dt.day() == earlier.dt.day()).to_numpy(), moved, np.nan)

    def following(self, period: datetime, grain: Grain, count: int = 1) -> datetime:
        """Return the start of the period ``count`` periods after ``period``, in UTC.

        Raises ValueError or OverflowError past the last year that there is.
        """
        if grain is Grain.HOUR:
            # By what passes, not by the clock: one hour is skipped in spring, one twice in autumn.
            return period.astimezone(UTC) + timedelta(hours=count)
        day = period.astimezone(self.zone).date()
        if grain in MONTHS_LONG:
            months = day.year * 12 + day.month - 1 + MONTHS_LONG[grain] * count
            return start_of_day(date(months // 12, months % 12 + 1, 1), self.zone)
        days = 7 if grain is Grain.WEEK else 1
        return start_of_day(day + timedelta(days=days * count), self.zone)

    def moved_to(self, other: "Calendar", instants: Floats) -> Floats:
        """Return where the days that ``instants`` begin, or lie in, begin by another calendar."""
        return other.instants(self.local(instants).dt.truncate("1d"))


def period_numbers(instants: Floats, grain: Grain, calendar: Calendar) -> Ints:
    """Number periods by their place in time, shape (n,): those that follow differ by 1.

    By what the calendar says, so that periods of two KPIs in different zones meet.
    """
    if grain is Grain.HOUR:
        return np.floor(np.asarray(instants) / 3600).astype(np.intp)
    day = calendar.local(instants).dt.date()
    if grain in MONTHS_LONG:
        months = day.dt.year().cast(pl.Int64) * 12 + day.dt.month() - 1
        return (months.to_numpy() // MONTHS_LONG[grain]).astype(np.intp)
    days = day.cast(pl.Int32).to_numpy().astype(np.intp)
    # Day 0 was a Thursday. A week that begins on another day goes with the nearest Monday's.
    return (days + 6) // 7 if grain is Grain.WEEK else days


def coarser_grains(grain: Grain) -> list[Grain]:
    """List the grains that one can be shown at: itself and those that are longer."""
    order = list(Grain)
    return order[order.index(grain) :]


def is_time_zone(name: str) -> bool:
    """Tell whether ``name`` is a time zone that is known here."""
    return name in available_timezones()


def to_text(period: datetime, grain: Grain, zone: ZoneInfo) -> str:
    """Write a period: ``2026-05-18``, or ``2026-05-18T14:00+01:00``."""
    local = period.astimezone(zone)
    if grain is Grain.HOUR:
        return local.isoformat(timespec="minutes")
    return local.date().isoformat()


def to_texts(instants: Floats, grain: Grain, zone: ZoneInfo) -> list[str]:
    """Write the periods that start at ``instants``, as ``to_text`` does each."""
    seconds = pl.Series(np.asarray(instants), dtype=pl.Float64).cast(pl.Int64)
    moments = pl.from_epoch(seconds, time_unit="s").dt.replace_time_zone("UTC")
    local = moments.dt.convert_time_zone(zone.key)
    texts = local.dt.to_string("%Y-%m-%dT%H:%M%:z" if grain is Grain.HOUR else "%Y-%m-%d")
    return texts.to_list()


def from_text(text: str, grain: Grain, zone: ZoneInfo) -> datetime:
    """Read what ``to_text`` wrote; raises ValueError for anything else."""
    if not text[:4].isdecimal() or not FIRST_DAY.year <= int(text[:4]) <= LAST_DAY.year:
        raise ValueError(f"There is no year {text[:4]} here.")
    if grain is Grain.HOUR:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            moment = moment.replace(tzinfo=zone)
        return moment.astimezone(UTC)
    return start_of_day(date.fromisoformat(text), zone)


def start_of_day(day: date, zone: ZoneInfo) -> datetime:
    """Return the instant at which ``day`` starts in ``zone``."""
    return datetime(day.year, day.month, day.day, tzinfo=zone).astimezone(UTC)


def label(period: datetime, grain: Grain, zone: ZoneInfo, other: datetime | None = None) -> str:
    """Name a period for people: ``18 May 2026``; without the year where it is that of ``other``.

    What is kept or told by itself, beside no other period, has the year.
    """
    local = period.astimezone(zone)
    month = MONTHS[local.month - 1]
    if grain is Grain.YEAR:
        # A year that starts in another month than January is named by both.
        later = "" if local.month == 1 else f"/{(local.year + 1) % 100:02d}"
        return f"{local.year}{later}"
    if grain is Grain.QUARTER:
        if local.month % 3 == 1:
            return f"Q{(local.month + 2) // 3} {local.year}"
        return f"{month}\N{EN DASH}{MONTHS[(local.month + 1) % 12]} {local.year}"
    if grain is Grain.MONTH:
        return f"{month} {local.year}"
    day = f"{local.day} {month}"
    if other is None or local.year != other.astimezone(zone).year:
        day += f" {local.year}"
    if grain is not Grain.HOUR:
        return day
    # The hour that a clock change repeats is two, told apart by the name of their time.
    repeated = local.utcoffset() != local.replace(fold=1 - local.fold).utcoffset()
    return f"{day} {local:%H:%M %Z}" if repeated else f"{day} {local:%H:%M}"
