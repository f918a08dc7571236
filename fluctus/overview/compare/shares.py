"""Shares of a total: over the dates shown, and period by period."""

from datetime import datetime
from typing import Any

import numpy as np

from fluctus.core import Aggregation
from fluctus.core.arrays import Floats
from fluctus.core.words import percent_of_all
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import COUNTED
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked, shown_days
from fluctus.overview.compare.parts import named_parts
from fluctus.overview.strips.drawing import Dates, places_in

MOST_COLUMNS = 80
"""More periods than that are shown by a longer grain, down to this many columns."""
MOST_SHARES = 10
OTHERS = "All others"


def shares_answer(kpi: Kpi, now: datetime, query: dict[str, Any]) -> shapes.Shares:
    """Return what each part adds to the total; raises RefusalError where nothing adds up."""
    if Aggregation(kpi.aggregation) not in COUNTED:
        raise RefusalError(
            "This KPI has no total to share.",
            Issue(
                f"The values of {kpi.name} are a {kpi.aggregation} of its parts.",
                "Shares are of what adds up, such as counts and sums.",
            ),
        )
    names, rest = named_parts(kpi, query["part"])
    asked = Grain(query["by"]) if query.get("by") else None
    whole = chart_of(kpi, now, View(asked))
    dates = dates_asked([whole], query)
    if asked is None:
        whole = _fewer_columns(kpi, now, whole, dates)
    grain = whole.observations.grain
    start, stop = places_in(whole.observations, dates)
    instants = whole.observations.instants[start:stop]
    by_part = {name: _on(instants, chart_of(kpi, now, View(grain, name))) for name in names}
    if rest:
        own = _on(instants, whole)
        by_part[OTHERS] = own - sum(by_part.values(), np.zeros(len(own)))
    return _answer(kpi, whole, _largest(by_part), start, stop, dates)


def _answer(
    kpi: Kpi, whole: Chart, by_part: dict[str, Floats], start: int, stop: int, dates: Dates
) -> shapes.Shares:
    totals = {name: float(values.sum()) for name, values in by_part.items()}
    total = sum(totals.values())
    numbers = whole.words.numbers
    largest = max(totals, key=lambda name: totals[name])
    share = totals[largest] / total if total else 0.0
    return shapes.Shares(
        kpi=kpi.slug,
        name=kpi.name,
        numbers=numbers_answer(numbers),
        grain=whole.observations.grain,
        period=whole.observations.texts(np.arange(start, stop)),
        total=total,
        parts=[
            shapes.SharePart(name, totals[name], totals[name] / total if total else 0.0, values)
            for name, values in by_part.items()
        ],
        dates=shown_days([whole], dates),
        sentence=f"{largest} has {percent_of_all(share)} of {numbers.amount(total)}."
        if total
        else "There is nothing to share in these dates.",
    )


def _fewer_columns(kpi: Kpi, now: datetime, whole: Chart, dates: Dates) -> Chart:
    """Return the chart at the first grain with few enough columns to be looked at."""
    for grain in coarser_grains(Grain(kpi.grain)):
        whole = chart_of(kpi, now, View(grain))
        start, stop = places_in(whole.observations, dates)
        if stop - start <= MOST_COLUMNS:
            break
    return whole


def _on(instants: Floats, chart: Chart) -> Floats:
    """Return the values of a chart at the periods that begin at ``instants``; 0 where it has none.

    A value that is set aside adds nothing, as it takes no part in the whole.
    """
    data = chart.observations
    values = np.where(data.set_aside, 0.0, data.values)
    places = np.searchsorted(data.instants, instants)
    there = places < len(data)
    there[there] = data.instants[places[there]] == instants[there]
    result = np.zeros(len(instants))
    result[there] = values[places[there]]
    return result


def _largest(by_part: dict[str, Floats]) -> dict[str, Floats]:
    """Keep the largest parts, largest first, and gather the others."""
    others = by_part.pop(OTHERS, None)
    order = sorted(by_part, key=lambda name: -float(by_part[name].sum()))
    kept = {name: by_part[name] for name in order[:MOST_SHARES]}
    left = [by_part[name] for name in order[MOST_SHARES:]]
    if others is not None:
        left.append(others)
    return kept | ({OTHERS: np.sum(left, axis=0)} if left else {})
