"""One KPI by its parts: each with its own chart and numbers, and whether they differ."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

import numpy as np

from fluctus.core import Aggregation, Direction
from fluctus.core.analysis import constants
from fluctus.core.arrays import Bools, Floats
from fluctus.core.judgment import FEWEST, PartsCompared, compare_parts
from fluctus.core.words import TIMES, NumberStyle, say_parts
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import View, chart_of, charts_of_parts
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import COUNTED
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import days_of, included_on, raised_on, segments_at, shown_days
from fluctus.overview.strips.drawing import Dates, small_chart

MOST_PARTS = 24
"""More parts than that side by side are not compared but counted: people choose."""
HOW = (
    "Average of all judged values ± {factor:.3f} {times} the average of the parts' average moving "
    "ranges / √n of the part. Parts with fewer than {fewest} values are left out."
)


class PartOrder(StrEnum):
    """What parts are listed by."""

    NAME = "name"
    AVERAGE = "average"
    NEWEST = "newest"
    SHARE_MET = "share_met"


@dataclass(frozen=True, slots=True, eq=False)
class OfDates:
    """The values of a chart on the days looked at that take part, and the ranges between them."""

    values: Floats
    ranges: Floats
    included: Bools

    @classmethod
    def of(cls, chart: Chart, dates: Dates) -> "OfDates":
        """Take them; a range across a shift is none."""
        included = included_on(chart, dates)
        positions = np.flatnonzero(included)
        values = chart.observations.values[positions]
        segment = segments_at(chart, positions)
        same = segment[1:] == segment[:-1]
        return cls(values, np.abs(np.diff(values))[same], included)


def parts_answer(
    kpi: Kpi,
    now: datetime,
    chosen: list[str],
    by: Grain | None,
    dates: Dates,
    order: PartOrder,
) -> shapes.Parts:
    """Hold the parts of a KPI side by side; raises RefusalError where it has none."""
    names, rest = named_parts(kpi, chosen)
    whole = chart_of(kpi, now, View(by))
    charts = list(charts_of_parts(kpi, now, names, by).values())
    of_dates = [OfDates.of(chart, dates) for chart in charts]
    numbers = charts[0].words.numbers
    compared = compare_parts([one.values for one in of_dates], [one.ranges for one in of_dates])
    total = float(OfDates.of(whole, dates).values.sum())
    adds_up = Aggregation(kpi.aggregation) in COUNTED
    parts = [
        _part(names[n], charts[n], of_dates[n], compared, n, dates, total if adds_up else None)
        for n in range(len(names))
    ]
    return shapes.Parts(
        kpi=kpi.slug,
        name=kpi.name,
        unit=kpi.unit,
        direction=Direction(kpi.direction),
        numbers=numbers_answer(numbers),
        grain=whole.observations.grain,
        grains=coarser_grains(Grain(kpi.grain)),
        adds_up=adds_up,
        parts=_sorted(parts, order),
        rest=rest,
        dates=shown_days([whole], dates),
        segments=_segments(whole),
        average=None if compared is None else compared.average,
        answer=say_parts(compared, names, numbers),
        how=_how(compared, numbers),
    )


def named_parts(kpi: Kpi, chosen: list[str], most: int = MOST_PARTS) -> tuple[list[str], list[str]]:
    """Return the parts to show, and those that are left; raises RefusalError where there are none.

    Without a choice the first ones are shown.
    """
    names: list[str] = kpi.breakdowns
    if not names:
        raise RefusalError(
            "This KPI has no parts.",
            Issue(
                f"The values of {kpi.name} are of the whole alone.",
                "Bring its data in with a column of names, such as quay, vessel or person.",
            ),
        )
    unknown = [name for name in chosen if name not in names]
    if unknown:
        raise RefusalError(
            "These parts cannot be compared.",
            Issue(f"There are no values for {unknown[0]}.", "Choose another part.", "part"),
        )
    if len(chosen) > most:
        raise RefusalError(
            "These are too many parts to compare.",
            Issue(f"{len(chosen):,} are chosen.", f"Choose {most} at most.", "part"),
        )
    shown = list(dict.fromkeys(chosen)) or names[:most]
    return shown, [name for name in names if name not in shown]


def _part(
    name: str,
    chart: Chart,
    of_dates: OfDates,
    compared: PartsCompared | None,
    number: int,
    dates: Dates,
    total: float | None,
) -> shapes.ComparedPart:
    last, values = chart.analysis.segments[-1], of_dates.values
    judgment = None if compared is None else compared.parts[number]
    met = chart.target_met
    raised = raised_on(chart, dates)
    newest = chart.happenings.newest(1, raised)
    position = newest[0].points[0] if newest else None
    own = float(values.sum()) if len(values) else None
    return shapes.ComparedPart(
        name=name,
        chart=small_chart(chart, dates),
        n=len(values),
        average=float(values.mean()) if len(values) else None,
        lower=last.lower,
        upper=last.upper,
        mean_range=float(of_dates.ranges.mean()) if len(of_dates.ranges) else None,
        total=own,
        share=None if own is None or not total else own / total,
        share_met=None
        if met is None or not of_dates.included.any()
        else float(met[of_dates.included].mean()),
        findings=int(raised.sum()),
        newest="" if position is None else chart.words.label(position),
        newest_at="" if position is None else chart.observations.text(position),
        side=None if judgment is None else judgment.side,
        chance_lower=None if judgment is None else judgment.lower,
        chance_upper=None if judgment is None else judgment.upper,
    )


def _sorted(parts: list[shapes.ComparedPart], order: PartOrder) -> list[shapes.ComparedPart]:
    """Sort parts, those that there is nothing to sort by last."""
    if order is PartOrder.NAME:
        return parts
    if order is PartOrder.NEWEST:
        return sorted(parts, key=lambda part: part.newest_at, reverse=True)

    def key(part: shapes.ComparedPart) -> float:
        value = part.average if order is PartOrder.AVERAGE else part.share_met
        return -np.inf if value is None else value

    return sorted(parts, key=key, reverse=True)


def _segments(whole: Chart) -> list[shapes.StretchChoice]:
    data = whole.observations
    return [
        shapes.StretchChoice(
            name=whole.words.segments[number] or f"from {whole.words.label(segment.start)}",
            first=days_of(data, segment.start),
            last=days_of(data, segment.stop - 1),
        )
        for number, segment in enumerate(whole.analysis.segments)
        if segment.stop > segment.start
    ]


def _how(compared: PartsCompared | None, numbers: NumberStyle) -> str:
    text = HOW.format(factor=constants.MEAN_RANGE_TO_LIMITS, times=TIMES, fewest=FEWEST)
    if compared is None:
        return text
    return (
        f"{text} Here {numbers.level_amount(compared.average)} ± "
        f"{constants.MEAN_RANGE_TO_LIMITS:.3f} {TIMES} "
        f"{numbers.level(compared.mean_range)} / √n."
    )
