"""Events to and from calendar files (iCalendar, RFC 5545)."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from dateutil.rrule import rrulestr
from icalendar import Calendar, Event

KINDS = ("change", "incident", "state", "note")
KPI = "X-FLUCTUS-KPI"
MOST_EVENTS = 20_000
MOST_REPEATS = 750
"""Repeats of one event that are taken: two years of days, and some."""
TITLE, TEXT = 120, 2000


@dataclass(frozen=True, slots=True)
class CalendarEvent:
    """An event by its days, both included. ``kpis`` are those that the file names."""

    uid: str
    title: str
    text: str
    kind: str
    first: date
    last: date
    kpis: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Broken:
    """A part of a file that is no event: the line it begins at, what is wrong, what to do."""

    line: int
    detail: str
    remedy: str


@dataclass(frozen=True, slots=True)
class CalendarRead:
    """What a calendar file holds. ``repeated`` counts events that were made of repeats."""

    events: list[CalendarEvent]
    broken: list[Broken]
    repeated: int


class NoCalendarError(ValueError):
    """A file that is no calendar at all."""


def read_calendar(content: bytes, zone: ZoneInfo, until: date) -> CalendarRead:
    """Read every event that can be read; the others are told by the line they begin at.

    Times become the days they fall on in ``zone``. A repeating event becomes
    one event for each repeat up to ``until``. Raises NoCalendarError for
    something else than a calendar.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    if not any(line.strip().upper() == "BEGIN:VCALENDAR" for line in lines):
        raise NoCalendarError("It does not begin as a calendar file does.")
    zones = [block for _, block in _blocks(lines, "VTIMEZONE") if block is not None]
    events: dict[str, CalendarEvent] = {}
    broken: list[Broken] = []
    repeated = 0
    for line, block in _blocks(lines, "VEVENT"):
        if block is None:
            broken.append(Broken(line, "The event does not end.", "Add its END:VEVENT line."))
            continue
        try:
            event = _parse(block, zones)
            occurrences = list(_events(event, zone, until, line))
        except (
            ValueError,
            KeyError,
            TypeError,
            AttributeError,
            IndexError,
            OverflowError,
        ) as error:
            broken.append(Broken(line, _reason(error), "Mend the event, or leave it out."))
            continue
        repeated += len(occurrences) if "RRULE" in event else 0
        events |= {occurrence.uid: occurrence for occurrence in occurrences}
        if len(events) > MOST_EVENTS:
            raise NoCalendarError(f"It holds more than {MOST_EVENTS:,} events; bring in fewer.")
    return CalendarRead(list(events.values()), broken, repeated)


def _blocks(lines: list[str], name: str) -> Iterator[tuple[int, list[str] | None]]:
    """Yield each component with the number of its first line; None where it does not end."""
    start: int | None = None
    for number, line in enumerate(lines, 1):
        mark = line.strip().upper()
        if mark == f"BEGIN:{name}":
            if start is not None:
                yield start, None
            start = number
        elif mark == f"END:{name}" and start is not None:
            yield start, lines[start - 1 : number]
            start = None
    if start is not None:
        yield start, None


def _parse(block: list[str], zones: list[list[str]]) -> Any:
    names = {line.split("TZID=")[1].split(":")[0].split(";")[0].strip('"')
             for line in block if "TZID=" in line}  # fmt: skip
    # A zone that everybody knows needs no description, which costs more than the event.
    zone_lines = [] if names <= _known_zones() else [line for zone in zones for line in zone]
    whole = ["BEGIN:VCALENDAR", *zone_lines, *block, "END:VCALENDAR"]
    (event,) = Calendar.from_ical("\r\n".join(whole)).walk("VEVENT")
    if event.errors:
        name, reason = event.errors[0]
        raise ValueError(f"{name}: {reason}" if name else str(reason))
    return event


@cache
def _known_zones() -> frozenset[str]:
    return frozenset(available_timezones())


def _events(event: Any, zone: ZoneInfo, until: date, line: int) -> Iterator[CalendarEvent]:
    if "DTSTART" not in event:
        raise ValueError("It has no DTSTART.")
    start = event.decoded("DTSTART")
    length = _length(event, start, zone)
    title = " ".join(str(event.get("SUMMARY", "")).split())[:TITLE] or "Untitled"
    uid = str(event.get("UID", "")).strip()[:250] or f"line {line} {_day(start, zone)} {title}"
    if "RECURRENCE-ID" in event:
        uid = f"{uid} {_day(event.decoded('RECURRENCE-ID'), zone)}"
    own = {
        "title": title,
        "text": str(event.get("DESCRIPTION", "")).strip()[:TEXT],
        "kind": _kind(event),
        "kpis": tuple(str(kpi) for kpi in _many(event.get(KPI))),
    }
    for day in _days(event, start, zone, until):
        name = f"{uid} {day}" if "RRULE" in event or "RDATE" in event else uid
        yield CalendarEvent(uid=name, first=day, last=day + length, **own)  # type: ignore[arg-type]


def _length(event: Any, start: date | datetime, zone: ZoneInfo) -> timedelta:
    """Return how many days the last day is after the first."""
    if "DURATION" in event:
        end: date | datetime = start + event.decoded("DURATION")
    elif "DTEND" in event:
        end = event.decoded("DTEND")
    else:
        return timedelta(0)
    # The end is the first moment after the event: midnight belongs to the day before.
    tick = timedelta(days=0 if isinstance(end, datetime) else 1, seconds=int(end != start))
    last = _day(end - tick, zone)
    days = last - _day(start, zone)
    if days < timedelta(0):
        if end == start:
            return timedelta(0)
        raise ValueError("It ends before it begins.")
    return days


def _days(event: Any, start: date | datetime, zone: ZoneInfo, until: date) -> Iterator[date]:
    """Yield the first day of the event and of each repeat, those that are left out apart."""
    first = _day(start, zone)
    if "RRULE" not in event:
        yield first
        for group in _many(event.get("RDATE")):
            yield from (_day(moment.dt, zone) for moment in group.dts)
        return
    # Repeats keep to the clock of the event's own zone.
    moment = start if isinstance(start, datetime) else datetime.combine(start, time())
    rule = event["RRULE"].to_ical().decode()
    parts = [part for part in rule.split(";") if not part.upper().startswith("UNTIL=")]
    stop = until
    if "UNTIL" in event["RRULE"]:
        stop = min(stop, _day(event["RRULE"]["UNTIL"][0], zone))
    out = {_day(moment.dt, zone) for group in _many(event.get("EXDATE")) for moment in group.dts}
    for count, repeat in enumerate(rrulestr(";".join(parts), dtstart=moment.replace(tzinfo=None))):
        day = _day(repeat.replace(tzinfo=moment.tzinfo), zone)
        if day > stop or count >= MOST_REPEATS:
            return
        if day not in out:
            yield day


def _kind(event: Any) -> str:
    named = [str(name).lower() for group in _many(event.get("CATEGORIES")) for name in group.cats]
    return next((name for name in named if name in KINDS), "note")


def _day(moment: date | datetime, zone: ZoneInfo) -> date:
    if not isinstance(moment, datetime):
        return moment
    return moment.date() if moment.tzinfo is None else moment.astimezone(zone).date()


def _many(value: Any) -> list[Any]:
    if value is None:
        return []
    return value if isinstance(value, list) else [value]


def _reason(error: Exception) -> str:
    text = " ".join(str(error).split())[:200]
    return text[:1].upper() + text[1:] if text else "It cannot be read."


def write_calendar(events: Iterable[CalendarEvent], stamp: datetime) -> bytes:
    """Write events as a calendar file, with their kinds as categories."""
    calendar = Calendar()
    calendar.add("PRODID", "-//Fluctus//Story lane//EN")
    calendar.add("VERSION", "2.0")
    for entry in events:
        event = Event()
        event.add("UID", entry.uid)
        event.add("DTSTAMP", stamp.astimezone(UTC))
        event.add("DTSTART", entry.first)
        event.add("DTEND", entry.last + timedelta(days=1))
        event.add("SUMMARY", entry.title)
        event.add("CATEGORIES", [entry.kind])
        if entry.text:
            event.add("DESCRIPTION", entry.text)
        for slug in entry.kpis:
            event.add(KPI, slug)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
