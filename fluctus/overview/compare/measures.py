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


def _of_values(of: Callable[[Chart, OfDates], Measured]) -> Callable[[Chart, Dates], Measured]:
    """Return a measure of the values on some days, which says where there are none."""

    def measured(chart: Chart, dates: Dates) -> Measured:
        of_dates = OfDates.of(chart, dates)
        return of(chart, of_dates) if len(of_dates.values) else (None, "no values")

    return measured


def _average(chart: Chart, of_dates: OfDates) -> Measured:
    # A ratio over several periods is that of their sums, and no average of ratios.
    of_sums = chart.observations.ratio_over(of_dates.included)
    average = float(of_dates.values.mean()) if of_sums is None else of_sums[0]
    return average, chart.words.numbers.level_amount(average)


def _total(chart: Chart, of_dates: OfDates) -> Measured:
    total = float(of_dates.values.sum())
    return total, chart.words.numbers.amount(total)


def _share_met(chart: Chart, of_dates: OfDates) -> Measured:
    if chart.target_met is None:
        return None, "no target"
    share = float(chart.target_met[of_dates.included].mean())
    return share, percent_of_all(share)


def _findings(chart: Chart, dates: Dates) -> Measured:
    count = int(raised_on(chart, dates).sum())
    return float(count), f"{count:,}"


AVERAGE = Measure("average", "Average", _of_values(_average))
MEASURES: Final[dict[str, Measure]] = {
    measure.name: measure
    for measure in (
        AVERAGE,
        Measure("total", "Total", _of_values(_total)),
        Measure("share_met", "Share meeting the target", _of_values(_share_met)),
        Measure("findings", "Findings", _findings),
    )
}
CHOICES: Final = [(name, name) for name in MEASURES]
"""The same as the choices of a field."""
