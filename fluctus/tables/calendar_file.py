"""Events to and from calendar files (iCalendar, RFC 5545)."""

import signal
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import cache
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

import recurring_ical_events
from icalendar import Calendar, Event

from fluctus.tables.days import LAST_DAY
from fluctus.tables.unreadable import UnreadableError

KINDS = ("change", "incident", "state", "note")
KPI = "X-FLUCTUS-KPI"
MOST_EVENTS = 20_000
SECONDS_A_SERIES = 1.0
"""Longest that working out the repeats of one event may take: some rules have none, or no end."""
TITLE, TEXT = 120, 2000
UNREADABLE = (ValueError, KeyError, TypeError, AttributeError, IndexError, OverflowError)
"""What the library raises for events that are none."""


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


class NoCalendarError(UnreadableError):
    """A file that is no calendar at all."""


class EndlessRuleError(ValueError):
    """A rule of repeats that cannot be worked out in a moment."""


@dataclass(frozen=True, slots=True)
class Days:
    """The days, both included, and the zone that repeats are worked out for."""

    since: date
    until: date
    zone: ZoneInfo


def read_calendar(content: bytes, days: Days) -> CalendarRead:
    """Read every event that can be read; the others are told by the line they begin at.

    Times become the days they fall on in the zone of ``days``. A repeating event
    becomes one event for each repeat within these days. Raises NoCalendarError
    for something else than a calendar. Sets a timer, and so must be called on the
    main thread of its process.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    if not any(line.strip().upper() == "BEGIN:VCALENDAR" for line in lines):
        raise NoCalendarError("It does not begin as a calendar file does.")
    zones = _zones(lines)
    events: dict[str, CalendarEvent] = {}
    broken: list[Broken] = []
    series: dict[str, list[tuple[int, Any]]] = {}
    repeated = 0
    for line, block in _blocks(lines, "VEVENT"):
        if block is None:
            broken.append(Broken(line, "The event does not end.", "Add its END:VEVENT line."))
            continue
        try:
            event = _parse(block, zones)
            uid = _uid(event, line, days.zone)
        except UNREADABLE as error:
            broken.append(Broken(line, _reason(error), "Mend the event, or leave it out."))
            continue
        series.setdefault(uid, []).append((line, event))
    for uid, parts in series.items():
        try:
            occurrences = list(_occurrences(uid, [event for _, event in parts], days))
        except UNREADABLE as error:
            line = parts[0][0]
            broken.append(Broken(line, _reason(error), "Mend the event, or leave it out."))
            continue
        repeated += len(occurrences) if any(map(_repeats, (event for _, event in parts))) else 0
        events |= {occurrence.uid: occurrence for occurrence in occurrences}
        if len(events) > MOST_EVENTS:
            raise NoCalendarError(f"It holds more than {MOST_EVENTS:,} events; bring in fewer.")
    return CalendarRead(list(events.values()), sorted(broken, key=lambda part: part.line), repeated)


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


def _zones(lines: list[str]) -> dict[str, list[str]]:
    """Return the time zones that a file describes, each by its name."""
    zones = {}
    for _, block in _blocks(lines, "VTIMEZONE"):
        for line in block or []:
            if line.strip().upper().startswith("TZID:"):
                zones[line.strip()[5:]] = block or []
    return zones


def _parse(block: list[str], zones: dict[str, list[str]]) -> Any:
    names = {
        line.split("TZID=")[1].split(":")[0].split(";")[0].strip('"')
        for line in block
        if "TZID=" in line
    }
    # A zone that everybody knows needs no description, which costs more than the event.
    described = sorted(names.difference(_known_zones()).intersection(zones))
    zone_lines = [line for name in described for line in zones[name]]
    if zone_lines:
        whole = ["BEGIN:VCALENDAR", *zone_lines, *block, "END:VCALENDAR"]
        (event,) = Calendar.from_ical("\r\n".join(whole)).walk("VEVENT")
    else:
        event = Event.from_ical("\r\n".join(block))
    if event.errors:
        name, reason = event.errors[0]
        raise ValueError(f"{name}: {reason}" if name else str(reason))
    if "DTSTART" not in event:
        raise ValueError("It has no DTSTART.")
    _length(event, event.decoded("DTSTART"), UTC)
    return event


@cache
def _known_zones() -> frozenset[str]:
    return frozenset(available_timezones())


def _uid(event: Any, line: int, zone: ZoneInfo) -> str:
    start = _day(event.decoded("DTSTART"), zone)
    return str(event.get("UID", "")).strip()[:250] or f"line {line} {start} {_title(event)}"


def _title(event: Any) -> str:
    return " ".join(str(event.get("SUMMARY", "")).split())[:TITLE] or "Untitled"


def _repeats(event: Any) -> bool:
    return "RRULE" in event or "RDATE" in event


def _occurrences(uid: str, series: list[Any], days: Days) -> Iterator[CalendarEvent]:
    """Yield the event, or each of its repeats with those that were moved or left out."""
    if not any(map(_repeats, series)):
        for event in series:
            moved = "RECURRENCE-ID" in event
            name = f"{uid} {_day(event.decoded('RECURRENCE-ID'), days.zone)}" if moved else uid
            yield _event(name, event, days.zone)
        return
    calendar = Calendar()
    for event in series:
        calendar.add_component(event)
    for event in _between(calendar, days):
        original = "RECURRENCE-ID" if "RECURRENCE-ID" in event else "DTSTART"
        occurrence = _event(f"{uid} {_day(event.decoded(original), days.zone)}", event, days.zone)
        if occurrence.first <= days.until and occurrence.last >= days.since:
            yield occurrence


def _between(calendar: Calendar, days: Days) -> list[Any]:
    """Return the repeats within ``days``; raises EndlessRuleError where that takes too long."""

    def give_up(*_: object) -> None:
        raise EndlessRuleError(
            "Its repeats cannot be worked out: there are none, or too many since it began."
        )

    # A day more at either end: the clock of an event may be on another day than ours.
    first, stop = days.since - timedelta(days=1), days.until + timedelta(days=2)
    signal.signal(signal.SIGALRM, give_up)
    signal.setitimer(signal.ITIMER_REAL, SECONDS_A_SERIES)
    try:
        found = recurring_ical_events.of(calendar).between(first, stop)
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
    return sorted(found, key=lambda event: _day(event.decoded("DTSTART"), days.zone))


def _event(uid: str, event: Any, zone: ZoneInfo) -> CalendarEvent:
    start = event.decoded("DTSTART")
    day = _day(start, zone)
    if day > LAST_DAY - timedelta(days=366):
        raise ValueError("It begins after the year 9997.")
    return CalendarEvent(
        uid=uid,
        title=_title(event),
        text=str(event.get("DESCRIPTION", "")).strip()[:TEXT],
        kind=_kind(event),
        first=day,
        last=day + _length(event, start, zone),
        kpis=tuple(str(kpi) for kpi in _many(event.get(KPI))),
    )


def _length(event: Any, start: date | datetime, zone: tzinfo) -> timedelta:
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


def _kind(event: Any) -> str:
    named = [str(name).lower() for group in _many(event.get("CATEGORIES")) for name in group.cats]
    return next((name for name in named if name in KINDS), "note")


def _day(moment: date | datetime, zone: tzinfo) -> date:
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
        # There is no day after the last one that dates can say.
        event.add("DTEND", min(entry.last, LAST_DAY) + timedelta(days=1))
        event.add("SUMMARY", entry.title)
        event.add("CATEGORIES", [entry.kind])
        if entry.text:
            event.add("DESCRIPTION", entry.text)
        for slug in entry.kpis:
            event.add(KPI, slug)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
