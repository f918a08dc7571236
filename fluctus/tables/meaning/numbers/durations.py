"""Durations: hours, minutes and seconds with colons, with letters, or as ISO 8601 writes them."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from fluctus.tables.meaning.words import as_words, split_unit


class Clock(StrEnum):
    """What ``7:30`` is: hours and minutes, or minutes and seconds."""

    HOURS = "hours"
    MINUTES = "minutes"


UNIT: Final = {Clock.HOURS: "h", Clock.MINUTES: "min"}
"""The unit that a column of durations is kept in."""

WITH_COLONS: Final = re.compile(
    r"(?P<minus>-?)(?:(?P<h>\d+):(?P<m>[0-5]\d)|(?P<first>\d{1,4})):(?P<s>[0-5]\d(?:[.,]\d+)?)"
)
WITH_LETTERS: Final = re.compile(
    r"(?P<minus>-?)(?=.*\d)(?:(?P<d>\d+)\s*d(?:ays?)?\s*)?"
    r"(?:(?P<h>\d+)\s*(?:h|hrs?|hours?|std\.?)\s*)?"
    r"(?:(?P<m>\d+)\s*(?:m|min|mins|minutes?)?\.?\s*)?(?:(?P<s>\d+)\s*(?:s|secs?|seconds?)\s*)?",
    re.IGNORECASE,
)
ISO_8601: Final = re.compile(
    r"(?P<minus>-?)P(?:(?P<d>\d+)D)?(?:T(?:(?P<h>\d+)H)?(?:(?P<m>\d+)M)?(?:(?P<s>\d+)(?:\.\d+)?S)?)?"
)
LETTERS: Final = re.compile(r"\d\s*(d|h|m|s)", re.IGNORECASE)
FEWEST_PARTS: Final = 2
LONGEST: Final = 40
"""A longer text is no duration; looking for one in it could take long."""

SAYS_HOURS: Final = re.compile(
    r"\b(h|hours?|hrs?|worked|working|labou?r|overtime|shift|leave|h:mm|hh:mm|hours and minutes"
    r"|stunden|std|arbeitszeit|heures|horas|ore|timer|timmar|uren|godziny|tunnit)\b",
    re.IGNORECASE,
)
SAYS_MINUTES: Final = re.compile(
    r"\b(min|mins|minutes?|s|sec|secs|seconds?|mm?:ss|lap|pace|cycle|minuten|sekunden|secondes"
    r"|minutter|minuter|minuty|segundos|secondi)\b",
    re.IGNORECASE,
)
SHOWN: Final = 3


@dataclass(frozen=True, slots=True)
class ClockChoice:
    """What the durations of a column are; ``undecided`` is a cell that leaves it open, or ""."""

    clock: Clock
    undecided: str = ""


def is_duration(cell: str) -> bool:
    """Tell whether a cell is a duration."""
    return in_minutes(cell, Clock.MINUTES) is not None


def in_minutes(cell: str, clock: Clock, *, with_letters: bool = False) -> float | None:
    """Return a duration in minutes; ``clock`` says what two numbers with a colon are.

    ``with_letters`` takes one part with its letter, ``45m``, for a duration as well.
    """
    text = cell.strip()
    if len(text) > LONGEST:
        return None
    if found := WITH_COLONS.fullmatch(text):
        seconds = float(found["s"].replace(",", "."))
        if found["first"] is None:
            minutes = int(found["h"]) * 60 + int(found["m"]) + seconds / 60
        elif clock is Clock.HOURS:
            minutes = int(found["first"]) * 60 + seconds
        else:
            minutes = int(found["first"]) + seconds / 60
        return -minutes if found["minus"] else minutes
    fewest = 1 if with_letters else FEWEST_PARTS
    found = WITH_LETTERS.fullmatch(text) if len(LETTERS.findall(text)) >= fewest else None
    found = found or _with_a_bare_end(text) or ISO_8601.fullmatch(text)
    if found is None or not any(found[part] for part in "dhms"):
        return None
    days, hours, minutes, seconds = (int(found[part] or 0) for part in "dhms")
    whole = days * 1440 + hours * 60 + minutes + seconds / 60
    return -whole if found["minus"] else whole


def _with_a_bare_end(text: str) -> re.Match[str] | None:
    """Read ``1h25``, whose minutes have no letter."""
    return WITH_LETTERS.fullmatch(text) if re.fullmatch(r"(?i)-?\d+\s?h\s?[0-5]\d", text) else None


def decide_clock(name: str, cells: Sequence[str]) -> ClockChoice:
    """Decide what the durations of a column are from its ``name``, or else from its ``cells``.

    Seconds behind hours and minutes tell that two numbers are minutes and seconds. Where
    nothing tells, they are taken for these, and it is open.
    """
    words, unit = split_unit(name)
    said = f"{as_words(words)} {unit}"
    if SAYS_HOURS.search(said):
        return ClockChoice(Clock.HOURS)
    found = [WITH_COLONS.fullmatch(cell.strip()) for cell in cells]
    two = [one[0] for one in found if one and one["first"] is not None]
    three = any(one and one["first"] is None for one in found)
    if SAYS_MINUTES.search(said) or three or not two or any("." in cell for cell in two):
        return ClockChoice(Clock.MINUTES)
    return ClockChoice(Clock.MINUTES, two[0])
