"""A panel as a page keeps it: plain data."""

from dataclasses import dataclass, field
from typing import Any

COLUMNS = 2
"""Panels side by side at the most, so that a page reads from top to bottom."""


@dataclass(frozen=True, slots=True)
class Panel:
    """A part of a page: what it shows, and where it is in the grid.

    ``kpis`` are slugs and ``names`` what these were called when they were put there. ``dates``
    are the panel's own: days or weeks, None for those of the page. ``options`` are as in the
    address of the screen that it came from.
    """

    key: str
    kind: str
    kpis: tuple[str, ...] = ()
    names: tuple[str, ...] = ()
    view: str = ""
    group: str = ""
    text: str = ""
    options: dict[str, Any] = field(default_factory=dict)
    dates: dict[str, Any] | None = None
    x: int = 0
    y: int = 0
    w: int = COLUMNS
    h: int = 8

    def shows_the_same_as(self, other: "Panel") -> bool:
        """Tell whether another panel would show nothing else, wherever it is."""
        mine, theirs = (
            (
                panel.kind,
                panel.kpis,
                panel.view,
                panel.group,
                panel.text,
                panel.options,
                panel.dates,
            )
            for panel in (self, other)
        )
        return mine == theirs
