"""What the API answers with of questions that are asked of a chart."""

from dataclasses import dataclass

from fluctus.http.shapes import FullColumn, Shape
from fluctus.kpis.chart.shapes import Line


@dataclass(frozen=True, slots=True)
class FalseAlarms(Shape):
    """What a set of rules costs in false alarms, for as many points as a KPI has."""

    points: int
    chance: float
    """Of at least one signal, from 0 to 1."""
    average_points: float | None
    """To the first false signal; null where there is none."""
    text: str


@dataclass(frozen=True, slots=True)
class HowSoon(Shape):
    """When a lasting change of the average would show, or how large one has to be."""

    change: float | None
    """In the KPI's unit; null where none shows in time."""
    sigma: float | None
    """The KPI's own; null where there are no limits yet."""
    half: float | None
    """Periods by which half of such changes have shown; null where it was asked for a change."""
    most: float | None
    """Periods by which 8 in 10 have."""
    text: str


@dataclass(frozen=True, slots=True)
class Reach(Shape):
    """What it would take for every period to meet a target."""

    target: float
    average: float | None
    """That would do at the present spread."""
    spread: float | None
    """A moving range that would do at the present average; null where none would."""
    met: bool
    text: str


@dataclass(frozen=True, slots=True)
class SummaryColumn(Shape):
    """One selection, or the rest: its dates, and what they come to."""

    name: str
    heading: str
    left_out: str
    """How many periods take no part; empty where none."""


@dataclass(frozen=True, slots=True)
class SummaryRow(Shape):
    """One number of each selection, as text."""

    name: str
    texts: list[str]


@dataclass(frozen=True, slots=True)
class Summaries(Shape):
    """Selections side by side, the rest of the values last."""

    columns: list[SummaryColumn]
    rows: list[SummaryRow]
    chance: list[str]
    """For each column but the rest, how often chance alone brings as much; empty without a rest."""


@dataclass(frozen=True, slots=True)
class Offer(Shape):
    """What can be added to a chart: a line, two of them, or the band between two."""

    title: str
    lines: list[Line]
    """As they would be set, drawn at the values of the picture."""
    is_band: bool


@dataclass(frozen=True, slots=True)
class Offers(Shape):
    """What can be added to a chart, and the values of its pictures."""

    value: FullColumn
    offers: list[Offer]
