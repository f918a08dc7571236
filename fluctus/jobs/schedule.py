"""When something is done by itself: a plain schedule, said in words, and its next times."""

from collections.abc import Iterator
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from itertools import islice, pairwise
from typing import Any, Final, Self
from zoneinfo import ZoneInfo

from cronsim import CronSim, CronSimError

from fluctus.http.refusals import Issue, RefusalError

WEEKDAYS: Final = (
    "Monday",
    "Tuesday",
    "Wednesday",
    "Thursday",
    "Friday",
    "Saturday",
    "Sunday",
)
LAST_DAY_OF_MONTH: Final = 31
"""A day of the month that stands for its last one, however long it is."""
CLOSEST: Final = timedelta(minutes=5)
"""What is done by itself is done no oftener."""
LOOKED_AT: Final = 300
"""Times of a cron line that are held against ``CLOSEST``: a day of the closest ones, and more."""


class Every(StrEnum):
    """How often."""

    HOUR = "hour"
    DAY = "day"
    WEEKDAY = "weekday"
    WEEK = "week"
    MONTH = "month"
    CRON = "cron"
    ARRIVAL = "arrival"
    """After each period, when its values usually come: no time of the day, but what is measured
    tells."""


@dataclass(frozen=True, slots=True)
class Schedule:
    """How often, and when then; what does not count for ``every`` is left as it is."""

    every: Every
    minute: int = 0
    """Minutes since midnight; of every hour, since its beginning."""
    weekday: int = 0
    """From 0, Monday."""
    day: int = 1
    """Of the month; 31 is its last one."""
    cron: str = ""

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Self:
        """Read what ``to_json`` wrote, or what the API took."""
        return cls(**{**data, "every": Every(data["every"])})

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self)


def cron_line(schedule: Schedule) -> str:
    """Return a schedule by the clock as a line of cron: minute, hour, day, month, weekday."""
    hour, minute = divmod(schedule.minute, 60)
    if schedule.every is Every.CRON:
        return schedule.cron
    if schedule.every is Every.HOUR:
        return f"{minute} * * * *"
    day = "L" if schedule.day >= LAST_DAY_OF_MONTH else str(schedule.day)
    rest = {
        Every.DAY: "* * *",
        Every.WEEKDAY: "* * 1-5",
        Every.WEEK: f"* * {(schedule.weekday + 1) % 7}",
        Every.MONTH: f"{day} * *",
    }[schedule.every]
    return f"{minute} {hour} {rest}"


def times_after(schedule: Schedule, after: datetime, zone: ZoneInfo) -> Iterator[datetime]:
    """Yield the times of a schedule by the clock of a zone, in UTC.

    A time that the clock skips comes as soon as it goes on; one that it has twice comes once,
    unless it is every so many minutes or hours.
    """
    for moment in CronSim(cron_line(schedule), after.astimezone(zone)):
        yield moment.astimezone(UTC)


def next_times(
    schedule: Schedule, after: datetime, zone: ZoneInfo, count: int = 3
) -> list[datetime]:
    """Return the next times of a schedule by the clock; none of one that follows arrivals."""
    if schedule.every is Every.ARRIVAL:
        return []
    return list(islice(times_after(schedule, after, zone), count))


def refuse_unfit(schedule: Schedule, now: datetime, zone: ZoneInfo) -> None:
    """Raise RefusalError for a line that is no schedule, never comes, or comes too often."""
    if schedule.every is not Every.CRON:
        return
    title = "This is no schedule."
    if len(schedule.cron.split()) != 5:
        raise RefusalError(
            title,
            Issue(
                "A cron line has five parts: minute, hour, day, month, weekday.",
                "Write one such as 10 6 * * 1-5 for weekdays at 06:10.",
                "cron",
            ),
        )
    try:
        times = list(islice(times_after(schedule, now, zone), LOOKED_AT))
    except CronSimError as error:
        raise RefusalError(
            title, Issue(f"{error}.", "Write one such as 10 6 * * 1-5.", "cron")
        ) from error
    if not times:
        raise RefusalError(title, Issue("It never comes.", "Choose a day that there is.", "cron"))
    apart = [later - sooner for sooner, later in pairwise(times)]
    if apart and min(apart) < CLOSEST:
        raise RefusalError(
            title,
            Issue(
                "It comes oftener than every five minutes.",
                "Choose times at least five minutes apart.",
                "cron",
            ),
        )


def in_words(schedule: Schedule) -> str:
    """Say when, so that it can go on a sentence: ``Every weekday at 06:10``."""
    hour, minute = divmod(schedule.minute, 60)
    at = f"{hour:02}:{minute:02}"
    match schedule.every:
        case Every.HOUR:
            return f"Every hour at {minute} past" if minute else "Every hour"
        case Every.DAY:
            return f"Every day at {at}"
        case Every.WEEKDAY:
            return f"Every weekday at {at}"
        case Every.WEEK:
            return f"Every {WEEKDAYS[schedule.weekday]} at {at}"
        case Every.MONTH:
            last = schedule.day >= LAST_DAY_OF_MONTH
            day = "the last day" if last else f"day {schedule.day}"
            return f"On {day} of every month at {at}"
        case Every.ARRIVAL:
            return "After each period, when its values usually come"
        case Every.CRON:
            return CronSim(schedule.cron, datetime(2026, 1, 1, tzinfo=UTC)).explain()
