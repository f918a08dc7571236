"""What the booking office knows at a moment: every figure follows from its period alone.

The figures go on where the files of the demo end, at the levels that the processes have there.
"""

import csv
import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Final
from zlib import crc32

import numpy as np

FIRST_WEEK: Final = date(2026, 11, 16)
"""The first week that the files of the demo do not have."""
FIRST_DAY: Final = date(2026, 11, 16)
FIRST_MONTH: Final = date(2026, 11, 1)
MOST_DAYS: Final = 400
"""Days that are published of what comes by the day or the hour."""
QUAYS: Final = (("Marrowick", 4.6, 310), ("Ainsey", 3.4, 190), ("Holmsand", 2.5, 120))
Row = list[Any]


@dataclass(frozen=True, slots=True)
class Figures:
    """A table as it is at a moment."""

    columns: list[str]
    rows: list[Row]

    def as_csv(self) -> bytes:
        """Write it as CSV."""
        written = io.StringIO()
        csv.writer(written).writerows([self.columns, *self.rows])
        return written.getvalue().encode()


def chance(what: str, period: date | datetime) -> np.random.Generator:
    """Return the chance of one figure of one period: the same whenever it is asked for."""
    return np.random.default_rng([crc32(what.encode()), int(f"{period:%Y%m%d%H}")])


def weeks(now: datetime) -> Iterator[date]:
    """Yield the weeks that are over."""
    week = FIRST_WEEK
    while week + timedelta(days=7) <= now.date():
        yield week
        week += timedelta(days=7)


def days(now: datetime) -> Iterator[date]:
    """Yield the days that are over, the newest of them."""
    day = max(FIRST_DAY, now.date() - timedelta(days=MOST_DAYS))
    while day < now.date():
        yield day
        day += timedelta(days=1)


def weekly(now: datetime) -> Figures:
    """The figures of each week."""
    rows: list[Row] = []
    for week in weeks(now):
        draw = {
            name: chance(name, week)
            for name in ("turn", "time", "ramp", "fuel", "stop", "waste", "engine")
        }
        rows.append(
            [
                week.isoformat(),
                round(draw["turn"].normal(19.4, 0.9), 1),
                round(min(draw["time"].normal(94.3, 1.1), 100.0), 1),
                round(draw["ramp"].normal(41.0, 0.9), 1),
                round(draw["fuel"].normal(318, 4.4)),
                int(4 + draw["stop"].poisson(1.0)),
                round(draw["waste"].normal(41, 4)),
                round(draw["engine"].normal(6.4, 0.55) * 7, 1),
            ]
        )
    columns = [
        "Week",
        "Turnaround (min)",
        "On time (%)",
        "Ramp cycle (s)",
        "Fuel (L)",
        "Stops",
        "Waste (kg)",
        "Engines (h)",
    ]
    return Figures(columns, rows)


def left_behind(now: datetime) -> Figures:
    """Vehicles left behind, by week and quay."""
    rows: list[Row] = [
        [week.isoformat(), quay, int(chance(f"left {quay}", week).poisson(mean))]
        for week in weeks(now)
        for quay, mean, _ in QUAYS
    ]
    return Figures(["Week", "Quay", "Left behind"], rows)


def no_shows(now: datetime) -> Figures:
    """Bookings that did not turn up, by week and quay."""
    rows: list[Row] = []
    for week in weeks(now):
        for quay, _, usual in QUAYS:
            draw = chance(f"no-shows {quay}", week)
            bookings = int(draw.normal(usual, usual * 0.06))
            rows.append([week.isoformat(), quay, int(draw.binomial(bookings, 0.066)), bookings])
    return Figures(["Week", "Quay", "No-shows", "Bookings"], rows)


def passengers(now: datetime) -> Figures:
    """Passengers of each day, more in summer and at weekends."""
    rows: list[Row] = []
    for day in days(now):
        season = 1 + 0.35 * float(np.cos((day.timetuple().tm_yday - 205) / 365.25 * 2 * np.pi))
        weekend = 1.12 if day.weekday() >= 5 else 1.0
        rows.append(
            [day.isoformat(), round(chance("people", day).normal(1480 * season * weekend, 95))]
        )
    return Figures(["Day", "Passengers"], rows)


def gate(now: datetime) -> Figures:
    """The cycle of the gate by the hour, from five in the morning to ten at night."""
    rows: list[Row] = []
    for day in (*days(now), now.date()):
        for hour in range(5, 23):
            moment = datetime(day.year, day.month, day.day, hour)  # noqa: DTZ001 - a wall clock
            if moment + timedelta(hours=1) <= now.replace(tzinfo=None):
                seconds = max(6.0, chance("gate", moment).normal(13.1, 1.1))
                rows.append([f"{moment:%Y-%m-%d %H:%M}", round(seconds, 1)])
    return Figures(["Hour", "Gate cycle (s)"], rows)


def fees(now: datetime) -> Figures:
    """The fee of a berth, which goes up each April."""
    rows: list[Row] = []
    month = FIRST_MONTH
    while month <= now.date():
        rises = month.year - 2026 + (month.month >= 4) - 1
        rows.append([f"{month:%Y-%m}", f"{196.0 + 6.5 * rises:.2f}"])
        month = (month + timedelta(days=31)).replace(day=1)
    return Figures(["Month", "Fee (a call)"], rows)


TABLES: Final[dict[str, Callable[[datetime], Figures]]] = {
    "weekly": weekly,
    "left-behind": left_behind,
    "no-shows": no_shows,
    "passengers": passengers,
    "gate": gate,
    "fees": fees,
}
