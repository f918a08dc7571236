"""What a page is made of: plain data, kept with the page and with each act on it."""

from dataclasses import asdict, dataclass, field, replace
from typing import Any

from fluctus.overview.panels.panel import COLUMNS, Panel
from fluctus.overview.panels.registry import KINDS

MOST_PANELS = 60
MOST_PAGES = 2_000


@dataclass(frozen=True, slots=True)
class PageState:
    """A page as people arrange it; ``dates`` are those of all panels without their own."""

    title: str
    panels: tuple[Panel, ...] = ()
    dates: dict[str, Any] = field(default_factory=lambda: {"weeks": 52})
    equal_axes: bool = False

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> "PageState":
        """Read what ``to_json`` wrote."""
        panels = tuple(
            Panel(**panel | {"kpis": tuple(panel["kpis"]), "names": tuple(panel["names"])})
            for panel in data["panels"]
        )
        return cls(**data | {"panels": panels})

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self)

    def in_reading_order(self) -> list[Panel]:
        """Return the panels from top to bottom, and from left to right."""
        return sorted(self.panels, key=lambda panel: (panel.y, panel.x))

    def with_panel(self, panel: Panel) -> "PageState":
        """Put a panel below all others."""
        below = max((other.y + other.h for other in self.panels), default=0)
        placed = replace(panel, x=0, y=below, w=COLUMNS, h=KINDS[panel.kind].height)
        return replace(self, panels=(*self.panels, placed))


def describe(before: PageState, after: PageState) -> str:
    """Say what was done to a page, in few words."""
    said = []
    if after.title != before.title:
        said.append(f"Renamed the page {after.title}")
    old, new = ({panel.key: panel for panel in page.panels} for page in (before, after))
    said += [f"Added {_named(panel)}" for key, panel in new.items() if key not in old]
    said += [f"Removed {_named(panel)}" for key, panel in old.items() if key not in new]
    both = [(old[key], panel) for key, panel in new.items() if key in old]
    moved = [panel for was, panel in both if _place(was) != _place(panel)]
    changed = [panel for was, panel in both if _at_its_place(was, panel) != panel]
    said += [f"Changed {_named(panel)}" for panel in changed]
    if moved and len(new) == len(old):
        said.append("Arranged the panels")
    if after.dates != before.dates:
        said.append("Changed the dates")
    if after.equal_axes != before.equal_axes:
        said.append("Made the axes equal" if after.equal_axes else "Gave each chart its own axis")
    return "; ".join(said)[:200]


def _place(panel: Panel) -> tuple[int, int, int, int]:
    return panel.x, panel.y, panel.w, panel.h


def _at_its_place(panel: Panel, other: Panel) -> Panel:
    return replace(panel, x=other.x, y=other.y, w=other.w, h=other.h)


def _named(panel: Panel) -> str:
    return " and ".join(panel.names[:2]) or panel.group or f"the {panel.kind}"
