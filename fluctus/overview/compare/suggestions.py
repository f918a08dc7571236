"""What of a workspace is worth comparing: found before anybody asks."""

from collections.abc import Sequence
from datetime import datetime
from itertools import groupby
from typing import Final

import numpy as np
from scipy.stats import rankdata

from fluctus.accounts.models import Workspace
from fluctus.core.context import GoesWith, Numbered, go_together, without_trend
from fluctus.core.judgment import trend_evidence
from fluctus.core.words import in_a_row
from fluctus.kpis.calendar import Grain, period_numbers
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import chart_or_none
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked
from fluctus.overview.compare.pair import so_much_later, still_together
from fluctus.overview.compare.parts import PartOrder, parts_answer

MOST_LOOKED_AT: Final = 60
"""KPIs whose charts are looked at; of more, those that came last."""
MOST_LONG: Final = 20_000
MOST_WITH_PARTS: Final = 8
MOST_PAIRS: Final = 4
SHOWN_FIRST: Final = {"weeks": 52}
"""The dates that a comparison is opened with."""
MOST_GOALS: Final = 3
MOST_OF_ONE_UNIT: Final = 6
HOW: Final = (
    "Looked at are the newest 520 periods of {count}, each pair with up to 12 periods between "
    "them, without the shifts, trends and seasons that they have. Told is what chance alone would "
    "show less than 1 time in 100, of all that was looked at. Going together is not causing."
)


def suggestions_answer(workspace: Workspace, now: datetime) -> shapes.Suggestions:
    """Find parts that differ, pairs that go together, and KPIs of one unit with targets."""
    kpis = Kpi.objects.filter(workspace=workspace, stored__lte=MOST_LONG)
    newest = kpis.select_related("workspace", "source", "second").order_by("-pk")
    found = {kpi: chart_or_none(kpi, now) for kpi in newest[:MOST_LOOKED_AT]}
    charts = {kpi: chart for kpi, chart in found.items() if chart is not None}
    every = Kpi.objects.filter(workspace=workspace).count()
    count = f"{len(charts)} KPI{'' if len(charts) == 1 else 's'}"
    if len(charts) < every:
        count = f"{len(charts)} of {every} KPIs"
    return shapes.Suggestions(
        parts=_parts(charts, now),
        pairs=_pairs(charts),
        goals=_goals(list(charts)),
        how=HOW.format(count=count),
    )


def _parts(charts: dict[Kpi, Chart], now: datetime) -> list[shapes.SuggestedKpis]:
    """Return the KPIs whose parts differ by more than chance explains, with what differs."""
    told = []
    for kpi in [kpi for kpi in charts if len(kpi.breakdowns) > 1][:MOST_WITH_PARTS]:
        dates = dates_asked([charts[kpi]], SHOWN_FIRST)
        answer = parts_answer(kpi, now, [], None, dates, PartOrder.NAME)
        if any(part.side for part in answer.parts):
            told.append(shapes.SuggestedKpis([kpi.slug], kpi.name, answer.answer))
    return told


def _pairs(charts: dict[Kpi, Chart]) -> list[shapes.SuggestedPair]:
    """Return the pairs that go together, also without a season that both have."""
    told: list[shapes.SuggestedPair] = []
    # What is made of others goes with them by its making.
    alone = [kpi for kpi in charts if not kpi.follows]
    by_grain = sorted(alone, key=lambda kpi: (kpi.grain, kpi.pk))
    for _, same in groupby(by_grain, key=lambda kpi: kpi.grain):
        members = list(same)
        series = [_steady(charts[kpi]) for kpi in members]
        for pair in go_together(series):
            x, y = members[pair.first], members[pair.second]
            if still_together(x, y, (charts[x], charts[y]), pair.lag):
                told.append(_pair(x, y, pair))
            if len(told) == MOST_PAIRS:
                return told
    return told


def _steady(chart: Chart) -> Numbered:
    """Return the values that take part as ranks within their segment, without a trend they have.

    By ranks, a level that is left is left without moving the small ones of skewed values.
    """
    data, analysis = chart.observations, chart.analysis
    found = [analysis.included_in(number) for number in range(len(analysis.segments))]
    positions = np.concatenate(found)
    series = Numbered(
        period_numbers(data.instants[positions], data.grain, data.calendar),
        analysis.adjusted[positions],
    )
    evidence = trend_evidence(analysis)
    if evidence is not None and evidence.proposed:
        series = without_trend(series)
    lengths = np.cumsum([len(each) for each in found])[:-1]
    parts = [rankdata(part) / (len(part) + 1) for part in np.split(series.values, lengths)]
    return Numbered(series.periods, np.concatenate(parts))


def _pair(x: Kpi, y: Kpi, pair: GoesWith) -> shapes.SuggestedPair:
    grain = Grain(x.grain)
    way = "high" if pair.correlation > 0 else "low"
    then = f"{way} {so_much_later(pair.lag, grain)}".strip()
    says = (
        f"Where {x.name} is high, {y.name} is {then}: "
        f"r {pair.correlation:.2f} by ranks, over {pair.n} {grain}s."
    )
    return shapes.SuggestedPair(x.slug, y.slug, pair.lag, f"{x.name} and {y.name}", says)


def _goals(kpis: Sequence[Kpi]) -> list[shapes.SuggestedKpis]:
    """Return KPIs of one unit that have a target, for one plot."""
    with_goal = [kpi for kpi in kpis if kpi.unit and kpi.target is not None]
    told = []
    in_order = sorted(with_goal, key=lambda kpi: (kpi.unit, kpi.name))
    for unit, same in groupby(in_order, key=lambda kpi: kpi.unit):
        members = list(same)[:MOST_OF_ONE_UNIT]
        if len(members) > 1:
            names = in_a_row([kpi.name for kpi in members])
            says = f"{names} are in {unit}, and have a target each."
            told.append(shapes.SuggestedKpis([kpi.slug for kpi in members], f"In {unit}", says))
    return told[:MOST_GOALS]
