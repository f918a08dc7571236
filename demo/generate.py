"""Makes the files in ``data/``: made-up numbers with known stories, the same at every run.

Run as ``python -m demo.generate``. Each KPI draws from its own stream, so that
adding one changes no other.
"""

import csv
import json
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from zlib import crc32

import numpy as np

from fluctus.tables.calendar_file import CalendarEvent, write_calendar

SEED = 1876
DATA = Path(__file__).with_name("data")
FIRST_WEEK = date(2025, 10, 6)
WEEKS = 58


def stream(name: str) -> np.random.Generator:
    """Return the stream of random numbers of one KPI."""
    return np.random.default_rng([SEED, crc32(name.encode())])


def week(number: int) -> str:
    """Write the Monday of a week, counted from the first."""
    return (FIRST_WEEK + timedelta(weeks=number)).isoformat()


def write(name: str, header: list[str], rows: Iterable[Sequence[object]]) -> None:
    """Write one file."""
    with (DATA / name).open("w", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)


def weekly(name: str, header: str, values: np.ndarray, decimals: int) -> None:
    """Write a weekly KPI."""
    rows = ([week(n), f"{v:.{decimals}f}"] for n, v in enumerate(values))
    write(name, ["Week", header], rows)


def turnaround() -> None:
    """A gale closes the ramp, then a new drill takes two minutes off; one odd week after."""
    r = stream("turnaround")
    values = np.concatenate((r.normal(21.6, 0.75, 32), r.normal(19.2, 1.0, 26)))
    values[13] = 29.4
    values[47] = 25.1
    weekly("turnaround.csv", "Turnaround (min)", values, 1)


def departures_on_time() -> None:
    """Steady, and short of its target in most weeks."""
    weekly(
        "departures-on-time.csv",
        "On time (%)",
        np.minimum(stream("departures").normal(94.3, 1.1, WEEKS), 100),
        1,
    )


def vehicles_left_behind() -> None:
    """A count at each quay, steady, in all always under its target."""
    r = stream("left")
    rows = [
        [week(n), quay, r.poisson(mean)]
        for n in range(WEEKS)
        for quay, mean in (("Marrowick", 4.6), ("Ainsey", 3.4), ("Holmsand", 2.5))
    ]
    write("vehicles-left-behind.csv", ["Week", "Quay", "Left behind"], rows)


def no_shows() -> None:
    """Bookings that do not turn up: fewer with a reminder in June, one bad week at Ainsey."""
    r = stream("no-shows")
    rows: list[list[object]] = []
    for n in range(WEEKS):
        for quay, usual in (("Marrowick", 310), ("Ainsey", 190), ("Holmsand", 120)):
            bookings = int(r.normal(usual, usual * 0.06))
            rate = 0.094 if n < 34 else 0.066
            if quay == "Ainsey" and n == 51:
                rate = 0.29
            rows.append([week(n), quay, int(r.binomial(bookings, rate)), bookings])
    write("no-shows.csv", ["Week", "Quay", "No-shows", "Bookings"], rows)


def ramp_cycle() -> None:
    """Drifts up slowly, then jumps when a hydraulic seal goes."""
    r = stream("ramp")
    values = 38.5 + np.arange(WEEKS) * 0.045 + r.normal(0, 0.9, WEEKS)
    values[-2:] += (1.0, 5.0)
    weekly("ramp-cycle.csv", "Ramp cycle (s)", values, 1)


def gate_cycle() -> None:
    """Three years by the hour; a new ticket reader in the spring of 2025."""
    r = stream("gate")
    rows: list[list[object]] = []
    day = date(2023, 11, 13)
    while day < date(2026, 11, 16):
        level = 14.2 if day < date(2025, 4, 7) else 13.1
        for hour in range(5, 23):
            seconds = max(6.0, r.normal(level, 1.1))
            moment = datetime(day.year, day.month, day.day, hour)  # noqa: DTZ001 - a wall clock
            rows.append([f"{moment:%Y-%m-%d %H:%M}", f"{seconds:.1f}"])
        day += timedelta(days=1)
    write("gate-cycle.csv", ["Hour", "Gate cycle (s)"], rows)


def berth_fee() -> None:
    """Holds until it changes."""
    months = [(2024 + n // 12, n % 12 + 1) for n in range(34)]
    fees = [182.0 if m < (2025, 4) else 189.5 if m < (2026, 4) else 196.0 for m in months]
    rows = ([f"{y}-{m:02d}", f"{fee:.2f}"] for (y, m), fee in zip(months, fees, strict=True))
    write("berth-fee.csv", ["Month", "Fee (a call)"], rows)


def fuel_per_crossing() -> None:
    """A hull cleaned in March saves twenty liters."""
    r = stream("fuel")
    values = np.concatenate((r.normal(339, 4.2, 21), r.normal(318, 4.4, WEEKS - 21)))
    weekly("fuel-per-crossing.csv", "Fuel (L)", values, 0)


def engine_hours() -> None:
    """A running meter, replaced in July: the reading falls, the hours go on."""
    hours = stream("engine").normal(6.4, 0.55, WEEKS)
    meter = 18_240.0 + np.cumsum(hours * 7)
    meter[40:] -= meter[40] - hours[40] * 4
    rows = (
        [week(n), f"{m:.1f}", f"{h:.1f}"] for n, (m, h) in enumerate(zip(meter, hours, strict=True))
    )
    write("engine-hours.csv", ["Week", "Meter (h)", "Hours (h a day)"], rows)


def unplanned_stops() -> None:
    """From mid September on, more stops: a shift that nobody has decided on yet."""
    r = stream("stops")
    values = np.concatenate((r.poisson(2.6, WEEKS - 9), 4 + r.poisson(1.0, 9)))
    weekly("unplanned-stops.csv", "Stops", values, 0)


def galley_waste() -> None:
    """Steady, on either side of its target."""
    weekly("galley-waste.csv", "Waste (kg)", stream("galley").normal(41, 4, WEEKS), 0)


def passengers() -> None:
    """Two years by the day, a summer season, and a strike."""
    r = stream("passengers")
    rows: list[list[object]] = []
    for n in range(742):
        day = date(2024, 11, 4) + timedelta(days=n)
        season = 1 + 0.35 * np.cos((day.timetuple().tm_yday - 205) / 365.25 * 2 * np.pi)
        weekend = 1.12 if day.weekday() >= 5 else 1.0
        count = r.normal(1480 * season * weekend, 95)
        if day == date(2026, 6, 12):
            count *= 0.38
        rows.append([day.isoformat(), f"{count:.0f}"])
    write("passengers.csv", ["Day", "Passengers"], rows)


def gales() -> None:
    """Days with a gale warning in force, as a calendar file: mostly in winter, some in spells."""
    r = stream("gales")
    days: set[date] = {date(2026, 1, 6), date(2026, 1, 7), date(2026, 1, 8)}
    day = date(2025, 10, 6)
    while day < date(2026, 11, 16):
        winter = day.month in (10, 11, 12, 1, 2, 3)
        if r.random() < (0.055 if winter else 0.006):
            days |= {day + timedelta(days=n) for n in range(int(r.integers(1, 4)))}
        day += timedelta(days=1)
    events = [
        CalendarEvent(f"gale-{first}@marrowick.example", "Gale warning", "", "state", first, last)
        for first, last in spells(sorted(days))
    ]
    stamp = datetime(2026, 11, 16, tzinfo=UTC)
    (DATA / "gales.ics").write_bytes(write_calendar(events, stamp))


QUAYS = {"Marrowick": (57.27, -20.34), "Ainsey": (57.07, -20.10), "Holmsand": (57.38, -19.70)}
"""Latitude and longitude of the quays, far out at sea."""
ISLANDS = {
    "Great Marrow": (57.30, -20.62, 0.30),
    "Ainsey Isle": (57.02, -20.02, 0.16),
    "Holm": (57.42, -19.62, 0.12),
    "The Skerry": (57.33, -20.10, 0.03),
}
"""Middle and half the width of each, in degrees."""
CORNERS = 32


def quays() -> None:
    """Where the quays are, as a table."""
    rows = ([name, latitude, longitude] for name, (latitude, longitude) in QUAYS.items())
    write("quays.csv", ["Quay", "Latitude", "Longitude"], rows)


def islands() -> None:
    """The made-up islands around the quays, as GeoJSON."""
    r = stream("islands")
    turn = np.linspace(0, 2 * np.pi, CORNERS, endpoint=False)
    features = []
    for name, (latitude, longitude, half) in ISLANDS.items():
        # A ring with a few capes and bays.
        far = 1 + 0.18 * np.sin(3 * turn + half * 40) + r.uniform(-0.08, 0.08, CORNERS)
        east = longitude + half * far * np.cos(turn)
        north = latitude + 0.57 * half * far * np.sin(turn)
        ring = [[round(float(x), 4), round(float(y), 4)] for x, y in zip(east, north, strict=True)]
        features.append(
            {
                "type": "Feature",
                "properties": {"name": name},
                "geometry": {"type": "Polygon", "coordinates": [[*ring, ring[0]]]},
            }
        )
    text = json.dumps({"type": "FeatureCollection", "features": features}, separators=(",", ":"))
    (DATA / "islands.geojson").write_text(text + "\n")


def spells(days: Sequence[date]) -> list[tuple[date, date]]:
    """Join days that follow each other."""
    joined: list[tuple[date, date]] = []
    for day in days:
        if joined and joined[-1][1] == day - timedelta(days=1):
            joined[-1] = (joined[-1][0], day)
        else:
            joined.append((day, day))
    return joined


def main() -> None:
    """Write all files."""
    DATA.mkdir(exist_ok=True)
    for make in (
        turnaround,
        departures_on_time,
        no_shows,
        vehicles_left_behind,
        ramp_cycle,
        gate_cycle,
        berth_fee,
        fuel_per_crossing,
        engine_hours,
        unplanned_stops,
        galley_waste,
        passengers,
        gales,
        quays,
        islands,
    ):
        make()


if __name__ == "__main__":
    main()
