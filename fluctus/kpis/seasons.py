"""What a segment's limits can follow at each grain: nothing, a trend, or a season."""

from collections.abc import Iterable, Sequence
from enum import StrEnum

import numpy as np

from fluctus.core import Season
from fluctus.core.arrays import Floats
from fluctus.kpis.calendar import MONTHS, Calendar, Grain

SECONDS_A_DAY = 86_400
DAYS_TO_MONDAY = 3
"""Day 0 is 1 January 1970, a Thursday."""


class Follows(StrEnum):
    """What limits follow; the seasons by the name of their places."""

    LEVEL = "level"
    TREND = "trend"
    WEEKDAY = "weekday"
    MONTH = "month"
    QUARTER = "quarter"
    WEEKDAY_AND_MONTH = "weekday_and_month"


PLACES = {
    Follows.WEEKDAY: 7,
    Follows.MONTH: 12,
    Follows.QUARTER: 4,
    Follows.WEEKDAY_AND_MONTH: 84,
}
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
PLACE_NAMES: dict[Follows, Sequence[str]] = {
    Follows.WEEKDAY: WEEKDAYS,
    Follows.MONTH: MONTHS,
    Follows.QUARTER: ("Q1", "Q2", "Q3", "Q4"),
    Follows.WEEKDAY_AND_MONTH: [f"{day} in {month}" for month in MONTHS for day in WEEKDAYS],
}
"""What the places of a season are called."""
BOTH = {Follows.WEEKDAY_AND_MONTH.value: (Follows.WEEKDAY.value, Follows.MONTH.value)}
"""The season that is made of two others."""
FOLLOWS_NAMES = {
    Follows.LEVEL: "Nothing: one level",
    Follows.TREND: "A trend",
    Follows.WEEKDAY: "The day of the week",
    Follows.MONTH: "The month of the year",
    Follows.QUARTER: "The quarter",
    Follows.WEEKDAY_AND_MONTH: "The day of the week within the month",
}
"""What limits can follow, as a choice."""
NAMES = {
    Follows.WEEKDAY: "day of the week",
    Follows.MONTH: "month of the year",
    Follows.QUARTER: "quarter",
    Follows.WEEKDAY_AND_MONTH: "day of the week within the month of the year",
}
SEASONS = {
    Grain.HOUR: (
        Follows.WEEKDAY,
        Follows.MONTH,
        Follows.QUARTER,
        Follows.WEEKDAY_AND_MONTH,
    ),
    Grain.DAY: (
        Follows.WEEKDAY,
        Follows.MONTH,
        Follows.QUARTER,
        Follows.WEEKDAY_AND_MONTH,
    ),
    Grain.WEEK: (Follows.MONTH, Follows.QUARTER),
    Grain.MONTH: (Follows.MONTH, Follows.QUARTER),
    Grain.QUARTER: (Follows.QUARTER,),
    Grain.YEAR: (),
}
"""The seasons that periods of a grain can have."""


def can_follow(follows: Follows, grain: Grain) -> bool:
    """Tell whether limits can follow something at a grain."""
    return follows in (Follows.LEVEL, Follows.TREND) or follows in SEASONS[grain]


def seasons_of(
    kinds: Iterable[Follows],
    instants: Floats,
    following: float,
    calendar: Calendar,
    grain: Grain,
) -> dict[Follows, Season]:
    """Return where in each season ``instants`` are, and the one ``following``, by its kind.

    Seasons that periods of the grain do not have are left out. A week is in the month and quarter
    that it starts in.
    """
    wanted = [kind for kind in kinds if kind in SEASONS[grain]]
    if not wanted:
        return {}
    local = calendar.local(np.append(instants, following)).to_numpy()
    every = local.astype("datetime64[s]").astype(np.intp) // SECONDS_A_DAY
    # Hours of one day are in one place of each.
    begins = np.flatnonzero(np.diff(every, prepend=every[0] - 1))
    days, hours = every[begins], np.diff(begins, append=len(every))
    months = days.astype("datetime64[D]").astype("datetime64[M]").astype(np.intp)
    # A place is a day of the week by its name; a cycle begins as the KPI's weeks do.
    since = days + DAYS_TO_MONDAY
    month, years = months % 12, months // 12 + 1970
    weekday = since % 7
    found = {
        Follows.WEEKDAY: (weekday, (since - calendar.first_weekday) // 7),
        Follows.MONTH: (month, years),
        Follows.QUARTER: (month // 3, years),
        Follows.WEEKDAY_AND_MONTH: (month * 7 + weekday, years),
    }
    return {
        kind: Season(
            np.repeat(places, hours)[:-1],
            np.repeat(cycles, hours)[:-1],
            PLACES[kind],
            int(places[-1]),
        )
        for kind, (places, cycles) in found.items()
        if kind in wanted
    }
