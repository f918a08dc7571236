"""What a workspace has room for; each app says how much of its own is there."""

from collections.abc import Callable, Collection
from dataclasses import dataclass
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


@dataclass(frozen=True, slots=True)
class Named:
    """What is said of a kind: what there is of it, and what makes room."""

    things: str
    remedy: str


NAMES: Final = {
    Kind.KPIS: Named("KPIs", "Delete what is not needed"),
    Kind.VALUES: Named("values", "Bring in less, undo an import that is not needed"),
    Kind.FEEDS: Named("feeds", "Remove one that is not needed"),
    Kind.FILE_BYTES: Named(
        "bytes of tables that wait", "Bring in the tables that wait, or wait some hours"
    ),
    Kind.REQUESTS_A_MINUTE: Named("requests a minute", "Wait for the next minute"),
}

counters: dict[Kind, Counter] = {}
"""Apps add theirs when the application starts; what is a rate is counted where it is held to."""
