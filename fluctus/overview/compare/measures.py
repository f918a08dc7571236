"""What of each part can be shown side by side: a measure a line in ``MEASURES``."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from fluctus.core.words import percent_of_all
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.overview.compare.dates import raised_on
from fluctus.overview.compare.parts import OfDates
from fluctus.overview.strips.drawing import Dates

Measured = tuple[float | None, str]
"""A number, None where there is none, and how it is written."""


@dataclass(frozen=True, slots=True)
class Measure:
    """All that a measure is: its name, how it is called, and what a chart comes to on some days."""

    name: str
    label: str
    of: Callable[[Chart, Dates], Measured]


def _average(chart: Chart, dates: Dates) -> Measured:
    values = OfDates.of(chart, dates).values
    if not len(values):
        return None, "no values"
    average = float(values.mean())
    return average, chart.words.numbers.level_amount(average)


def _total(chart: Chart, dates: Dates) -> Measured:
    values = OfDates.of(chart, dates).values
    if not len(values):
        return None, "no values"
    total = float(values.sum())
    return total, chart.words.numbers.amount(total)


def _share_met(chart: Chart, dates: Dates) -> Measured:
    of_dates = OfDates.of(chart, dates)
    if not len(of_dates.values):
        return None, "no values"
    if chart.target_met is None:
        return None, "no target"
    share = float(chart.target_met[of_dates.included].mean())
    return share, percent_of_all(share)


def _findings(chart: Chart, dates: Dates) -> Measured:
    count = int(raised_on(chart, dates).sum())
    return float(count), f"{count:,}"


AVERAGE = Measure("average", "Average", _average)
MEASURES: Final[dict[str, Measure]] = {
    measure.name: measure
    for measure in (
        AVERAGE,
        Measure("total", "Total", _total),
        Measure("share_met", "Share meeting the target", _share_met),
        Measure("findings", "Findings", _findings),
    )
}
CHOICES: Final = [(name, name) for name in MEASURES]
"""The same as the choices of a field."""
