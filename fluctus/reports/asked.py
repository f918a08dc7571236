"""What a report is asked to show, as plain data."""

from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any

from fluctus.reports.models import Scope

MOST_CHARTS = 120
"""Charts in one report: more than anybody reads, and what is drawn in some two minutes."""


class Paper(StrEnum):
    """The size of a page."""

    A4 = "A4"
    LETTER = "letter"


@dataclass(frozen=True, slots=True)
class Asked:
    """What is to be shown: which KPIs, on which dates, with which words of one's own.

    ``texts`` stand before the chart of a KPI, by its slug; ``intro`` before all. ``views`` are
    the views that charts are shown in, by slug. ``names`` tells whether people are named.
    """

    scope: Scope
    kpis: tuple[str, ...] = ()
    page: int | None = None
    group: str = ""
    author: str = ""
    intro: str = ""
    texts: dict[str, str] = field(default_factory=dict)
    views: dict[str, str] = field(default_factory=dict)
    first: str | None = None
    last: str | None = None
    weeks: int | None = None
    paper: Paper = Paper.A4
    names: bool = True

    def to_json(self) -> dict[str, Any]:
        """Return it as it is kept."""
        return asdict(self)

    @classmethod
    def from_json(cls, kept: dict[str, Any]) -> "Asked":
        """Read it as it was kept."""
        return cls(
            **(
                kept
                | {
                    "scope": Scope(kept["scope"]),
                    "paper": Paper(kept["paper"]),
                    "kpis": tuple(kept["kpis"]),
                }
            )
        )
