"""What a workspace has room for; each app says how much of its own is there."""

from collections.abc import Callable, Collection
from enum import StrEnum
from typing import Final

Counter = Callable[[Collection[int]], dict[int, int]]
"""Counts what workspaces hold, by their numbers; one that holds nothing may be left out."""


class Kind(StrEnum):
    """Something that takes room, by its column of ``Room``."""

    KPIS = "kpis"
    VALUES = "values"
    FEEDS = "feeds"
    FILE_BYTES = "file_bytes"
    REQUESTS_A_MINUTE = "requests_a_minute"


THINGS: Final = {
    Kind.KPIS: "KPIs",
    Kind.VALUES: "values",
    Kind.FEEDS: "feeds",
    Kind.FILE_BYTES: "bytes of tables that wait",
    Kind.REQUESTS_A_MINUTE: "requests a minute",
}
REMEDIES: Final = {
    Kind.KPIS: "Delete what is not needed",
    Kind.VALUES: "Bring in less, undo an import that is not needed",
    Kind.FEEDS: "Remove one that is not needed",
}
"""What makes room for what people add one by one; files and requests are refused in other words."""

counters: dict[Kind, Counter] = {}
"""Apps add theirs when the application starts; what is a rate is counted where it is held to."""
