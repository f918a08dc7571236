"""Calendar files: what is read, what is broken and where, and the way there and back."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.tables.calendar_file import (
    KINDS,
    CalendarEvent,
    CalendarRead,
    Days,
    NoCalendarError,
    read_calendar,
    write_calendar,
)

LONDON = ZoneInfo("Europe/London")
DAYS_READ = Days(date(2025, 1, 1), date(2027, 1, 1), LONDON)


def calendar(*events: str, zones: str = "") -> bytes:
    blocks = [f"BEGIN:VEVENT\n{body.strip()}\nEND:VEVENT" for body in events]
    return "\n".join(["BEGIN:VCALENDAR", "VERSION:2.0", zones, *blocks, "END:VCALENDAR"]).encode()


def read(content: bytes) -> CalendarRead:
    return read_calendar(content, DAYS_READ)


def days(content: bytes) -> list[tuple[str, str]]:
    return [(one.first.isoformat(), one.last.isoformat()) for one in read(content).events]


# A byte order mark is dropped where files are joined; it is no text.
TEXT = st.text(
    st.characters(
        codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp"), exclude_characters="\ufeff"
    )
)
# icalendar takes a backslash before an n for the end of a line, even one that is escaped.
PLAIN = TEXT.filter(lambda text: "\\n" not in text.lower())
WORDS = PLAIN.map(lambda text: " ".join(text.split())[:100]).filter(bool)
DAYS = st.dates(date(1990, 1, 1), date(2100, 1, 1))
EVENTS = st.builds(
    lambda uid, title, text, kind, first, length, kpis: CalendarEvent(
        uid, title, text, kind, first, first + timedelta(days=length), tuple(kpis)
    ),
    st.uuids().map(str),
    WORDS,
    st.one_of(st.just(""), WORDS),
    st.sampled_from(KINDS),
    DAYS,
    st.integers(0, 400),
    st.lists(st.sampled_from(["ramp-cycle", "fuel"]), max_size=2, unique=True),
)


@given(st.lists(EVENTS, max_size=5, unique_by=lambda one: one.uid))
def test_what_is_written_is_read_back(events: list[CalendarEvent]) -> None:
    back = read(write_calendar(events, datetime(2026, 11, 16, tzinfo=UTC)))
    assert back.events == events
    assert back.broken == []


def test_times_become_days_on_the_clock_of_the_workspace() -> None:
    assert days(
        calendar(
            "UID:1\nSUMMARY:x\nDTSTART:20260618T233000Z\nDTEND:20260619T003000Z",
            "UID:2\nSUMMARY:x\nDTSTART;TZID=America/New_York:20260105T220000",
            "UID:3\nSUMMARY:x\nDTSTART:20260105T220000\nDURATION:P2D",
            "UID:4\nSUMMARY:x\nDTSTART;VALUE=DATE:20260105",
            "UID:5\nSUMMARY:x\nDTSTART;VALUE=DATE:20260105\nDTEND;VALUE=DATE:20260108",
            "UID:6\nSUMMARY:x\nDTSTART:20260105T080000Z\nDTEND:20260106T000000Z",
        )
    ) == [
        ("2026-06-19", "2026-06-19"),
        ("2026-01-06", "2026-01-06"),
        ("2026-01-05", "2026-01-07"),
        ("2026-01-05", "2026-01-05"),
        ("2026-01-05", "2026-01-07"),
        ("2026-01-05", "2026-01-05"),
    ]


def test_a_zone_that_the_file_describes_itself_is_understood() -> None:
    zones = """BEGIN:VTIMEZONE
TZID:Ferry Time
BEGIN:STANDARD
DTSTART:19701025T020000
TZOFFSETFROM:-0800
TZOFFSETTO:-0800
END:STANDARD
END:VTIMEZONE"""
    event = "UID:1\nSUMMARY:x\nDTSTART;TZID=Ferry Time:20260105T200000"
    assert days(calendar(event, zones=zones)) == [("2026-01-06", "2026-01-06")]


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("RRULE:FREQ=WEEKLY;COUNT=3", ["2026-03-02", "2026-03-09", "2026-03-16"]),
        ("RRULE:FREQ=MONTHLY;BYDAY=1MO;UNTIL=20260515", ["2026-03-02", "2026-04-06", "2026-05-04"]),
        (
            "RRULE:FREQ=WEEKLY;COUNT=4\nEXDATE;VALUE=DATE:20260309",
            ["2026-03-02", "2026-03-16", "2026-03-23"],
        ),
        ("RDATE;VALUE=DATE:20260401", ["2026-03-02", "2026-04-01"]),
    ],
)
def test_repeats_become_events_of_their_own(rule: str, expected: list[str]) -> None:
    found = read(calendar(f"UID:1\nSUMMARY:Drill\nDTSTART;VALUE=DATE:20260302\n{rule}"))
    assert [one.first.isoformat() for one in found.events] == expected
    assert len({one.uid for one in found.events}) == len(expected)


def test_repeats_without_an_end_stop_and_keep_to_their_own_clock() -> None:
    daily = read(calendar("UID:1\nSUMMARY:x\nDTSTART;VALUE=DATE:20200101\nRRULE:FREQ=DAILY"))
    assert (daily.events[0].first, daily.events[-1].first) == (date(2025, 1, 1), date(2027, 1, 1))
    assert len(daily.events) == 731
    # Ten in the evening in New York is the next day in London, in winter and in summer.
    weekly = "UID:1\nSUMMARY:x\nDTSTART;TZID=America/New_York:20260105T220000\n"
    found = read(calendar(f"{weekly}RRULE:FREQ=WEEKLY;BYDAY=MO"))
    assert {one.first.weekday() for one in found.events} == {1}
    assert found.events[-1].first == date(2026, 12, 29)
    assert found.repeated == len(found.events)


def test_a_repeat_that_was_moved_or_renamed_is_the_one_it_replaces() -> None:
    weekly = "UID:1\nSUMMARY:Drill\nDTSTART;VALUE=DATE:20260302\nRRULE:FREQ=WEEKLY;COUNT=3"
    moved = "UID:1\nSUMMARY:Late drill\nDTSTART;VALUE=DATE:20260311\n"
    found = read(calendar(weekly, f"{moved}RECURRENCE-ID;VALUE=DATE:20260309"))
    assert [(one.title, one.first.isoformat()) for one in found.events] == [
        ("Drill", "2026-03-02"),
        ("Late drill", "2026-03-11"),
        ("Drill", "2026-03-16"),
    ]
    assert found.events[1].uid == "1 2026-03-09"


@pytest.mark.parametrize(
    "rule",
    [
        "DTSTART;VALUE=DATE:20200101\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30",
        "DTSTART:19710101T000000Z\nRRULE:FREQ=MINUTELY",
    ],
)
def test_repeats_that_cannot_be_worked_out_are_told_and_the_rest_is_read(rule: str) -> None:
    found = read(calendar(f"UID:1\nSUMMARY:x\n{rule}", "UID:2\nDTSTART;VALUE=DATE:20260105"))
    assert [one.uid for one in found.events] == ["2"]
    assert found.broken[0].line == 4
    assert "repeats cannot be worked out" in found.broken[0].detail


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ("UID:1\nSUMMARY:x", "It has no DTSTART."),
        ("UID:1\nSUMMARY:x\nDTSTART;VALUE=DATE:2026xx05", "2026xx05"),
        ("UID:1\nDTSTART;VALUE=DATE:20260105\nthis is no line", "this is no line"),
        (
            "UID:1\nSUMMARY:x\nDTSTART;VALUE=DATE:20260105\nDTEND;VALUE=DATE:20250105",
            "It ends before it begins.",
        ),
        ("UID:1\nSUMMARY:x\nDTSTART;VALUE=DATE:20260105\nRRULE:FREQ=NEVER", ""),
    ],
)
def test_what_is_broken_is_told_by_its_line_and_the_rest_is_read(body: str, said: str) -> None:
    good = "UID:9\nSUMMARY:Good\nDTSTART;VALUE=DATE:20260601"
    found = read(calendar(good, body, good.replace("UID:9", "UID:8")))
    assert [one.uid for one in found.events] == ["9", "8"]
    (broken,) = found.broken
    assert broken.line == 9
    assert said in broken.detail
    assert broken.remedy


def test_an_event_that_does_not_end_is_told() -> None:
    content = calendar("UID:1\nSUMMARY:x\nDTSTART;VALUE=DATE:20260105").replace(
        b"END:VEVENT", b"BEGIN:VEVENT\nUID:2\nDTSTART;VALUE=DATE:20260106\nEND:VEVENT"
    )
    found = read(content)
    assert [one.uid for one in found.events] == ["2"]
    assert [(one.line, one.detail) for one in found.broken] == [(4, "The event does not end.")]


def test_something_else_than_a_calendar_is_refused() -> None:
    for content in (b"", b"Week,Ramp\n2026-01-05,3\n", b"\xff\xfe\x00\x01"):
        with pytest.raises(NoCalendarError):
            read(content)


@given(st.binary(max_size=200))
def test_no_bytes_make_it_fail_in_another_way(content: bytes) -> None:
    lines = b"\n".join([b"BEGIN:VCALENDAR", b"BEGIN:VEVENT", content, b"END:VEVENT"])
    read(lines)
