"""Two KPIs against each other: the values of the same periods, with a lag."""

from dataclasses import asdict, dataclass, replace
from datetime import datetime
from typing import Any

import numpy as np

from fluctus.core.analysis import constants
from fluctus.core.arrays import Ints
from fluctus.core.context import (
    LagPoint,
    Numbered,
    PairLine,
    Pairs,
    lag_curve,
    line_through,
    pair_up,
    without_season,
    without_trend,
)
from fluctus.core.judgment import season_evidence, trend_evidence
from fluctus.core.words import say_equation, say_pair
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain, coarser_grains, period_numbers
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.positions import season_at
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.models import Kpi
from fluctus.kpis.seasons import NAMES, SEASONS
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked, included_on, segments_at, shown_days
from fluctus.overview.strips.drawing import Dates

MOST_DRAWN = 1_500
MOST_OFF = 12
"""Pairs furthest off the line that are named."""
CANNOT = "These KPIs cannot be held against each other."
CAUTION = "Going together is not causing: both may follow something else."
SHIFTED = (
    "{names} shifted in these dates, which alone can make two go together, or hide that they do."
)
HOW = (
    "Each point is one {grain}: {x} across, {y} {later} up. The line is that of least squares. "
    "Named are those whose distance from it is beyond {factor:.3f} times the mean moving range of "
    "these distances, in order of time. Chance reaches ±2 / √n, with the n of "
    "pairs that would say as much if none followed the one before."
)


@dataclass(frozen=True, slots=True, eq=False)
class Side:
    """One of two KPIs: its chart at the common grain, and the positions that take part."""

    kpi: Kpi
    chart: Chart
    positions: Ints
    series: Numbered

    @classmethod
    def of(cls, kpi: Kpi, chart: Chart, dates: Dates) -> "Side":
        """Take the values on the days looked at."""
        data = chart.observations
        positions = np.flatnonzero(included_on(chart, dates)).astype(np.intp)
        numbers = period_numbers(data.instants[positions], data.grain, data.calendar)
        return cls(kpi, chart, positions, Numbered(numbers, data.values[positions]))

    @property
    def segment(self) -> Ints:
        """The segment that each of its values is in, shape (n,)."""
        return segments_at(self.chart, self.positions)

    def answer(self) -> shapes.PairSide:
        """Return it as the API does."""
        numbers = numbers_answer(self.chart.words.numbers)
        return shapes.PairSide(self.kpi.slug, self.chart.state.name, self.kpi.unit, numbers)


@dataclass(frozen=True, slots=True)
class Fitted:
    """What the pairs at a lag come to, and the correlation at every lag."""

    lag: int
    pairs: Pairs
    line: PairLine | None
    curve: list[LagPoint]


def pair_answer(x: Kpi, y: Kpi, now: datetime, query: dict[str, Any]) -> shapes.Pair:
    """Hold two KPIs against each other; raises RefusalError where no period has both."""
    if x.pk == y.pk:
        raise RefusalError(
            CANNOT, Issue("It is the same KPI twice.", "Choose another one.", "y"), status=422
        )
    grains = _common_grains(x, y)
    grain = Grain(query["by"]) if query.get("by") else grains[0]
    if grain not in grains:
        raise RefusalError(
            CANNOT,
            Issue(f"One of them has no values by {grain}.", f"Choose {grains[0]} or longer.", "by"),
        )
    charts = [chart_of(kpi, now, View(grain)) for kpi in (x, y)]
    dates = dates_asked(charts, query)
    sides = [Side.of(kpi, chart, dates) for kpi, chart in zip((x, y), charts, strict=True)]
    lag = query["lag"]
    _refuse_apart(sides[0], sides[1], lag, grain)
    shared, without = _shared(sides[0], sides[1])
    on_residuals = bool(shared) and not query["as_they_are"]
    first, second = without if on_residuals else (sides[0].series, sides[1].series)
    pairs = pair_up(first, second, lag)
    fitted = Fitted(lag, pairs, line_through(pairs), lag_curve(first, second))
    answer = _answer(sides, fitted, grains, dates)
    if not shared:
        return answer
    shown = "Shown is what is left without." if on_residuals else "Shown is all of it."
    return replace(answer, warning=f"{shared} {shown}", on_residuals=on_residuals)


def _answer(sides: list[Side], fitted: Fitted, grains: list[Grain], dates: Dates) -> shapes.Pair:
    lag, pairs, line, curve = fitted.lag, fitted.pairs, fitted.line, fitted.curve
    x, y = sides
    grain = x.chart.observations.grain
    names = (x.chart.state.name, y.chart.state.name)
    drawn, off = _drawn(pairs, line)
    positions = y.positions[pairs.second[drawn]]
    styles = x.chart.words.numbers, y.chart.words.numbers
    charts = [side.chart for side in sides]
    return shapes.Pair(
        x=x.answer(),
        y=y.answer(),
        grain=grain,
        grains=grains,
        lag=lag,
        n=len(pairs),
        told=len(drawn),
        points=shapes.PairPoints(
            label=[y.chart.words.label(int(position)) for position in positions],
            x=pairs.x[drawn],
            y=pairs.y[drawn],
            segment=y.segment[pairs.second[drawn]],
            off=off,
        ),
        segments=[
            name or f"Segment {number}"
            for number, name in enumerate(y.chart.words.segments, start=1)
        ],
        line=None
        if line is None
        else shapes.PairFit(
            line.start, line.slope, line.r_squared, say_equation(line, *names, *styles)
        ),
        curve=[shapes.LagShape(**asdict(point)) for point in curve],
        sentence=say_pair(line, curve[lag], names),
        off_count=0 if line is None else int(line.off.sum()),
        warning="",
        on_residuals=False,
        caution=_caution(sides),
        how=HOW.format(
            factor=constants.MEAN_RANGE_TO_LIMITS,
            grain=grain,
            x=names[0],
            y=names[1],
            later=so_much_later(lag, grain),
        ).replace("  ", " "),
        dates=shown_days(charts, dates),
    )


def _caution(sides: list[Side]) -> str:
    shifted = [side.chart.state.name for side in sides if len(set(side.segment)) > 1]
    if not shifted:
        return CAUTION
    return f"{CAUTION} {SHIFTED.format(names=' and '.join(shifted))}"


def so_much_later(lag: int, grain: Grain) -> str:
    """Say how much later one of two is paired: ``2 weeks later``; "" for at once."""
    return f"{lag} {grain}{'' if lag == 1 else 's'} later" if lag else ""


def _common_grains(x: Kpi, y: Kpi) -> list[Grain]:
    both = [coarser_grains(Grain(kpi.grain)) for kpi in (x, y)]
    return [grain for grain in both[0] if grain in both[1]]


def _refuse_apart(x: Side, y: Side, lag: int, grain: Grain) -> None:
    """Raise RefusalError where no period has both, or none does with so long a lag."""
    if len(pair_up(x.series, y.series, lag)):
        return
    if lag and len(pair_up(x.series, y.series)):
        raise RefusalError(
            CANNOT,
            Issue(
                f"A lag of {lag} {grain}s is longer than the data they have in common.",
                "Choose a shorter lag, or more dates.",
                "lag",
            ),
        )
    raise RefusalError(
        CANNOT,
        Issue(
            f"{x.chart.state.name} and {y.chart.state.name} have no {grain} in common "
            "in these dates.",
            "Choose more dates, a longer grain, or other KPIs.",
        ),
    )


def still_together(x: Kpi, y: Kpi, charts: tuple[Chart, Chart], lag: int) -> bool:
    """Tell whether two KPIs go together by more than what both follow."""
    sides = [Side.of(kpi, chart, Dates()) for kpi, chart in zip((x, y), charts, strict=True)]
    shared, without = _shared(sides[0], sides[1])
    if not shared:
        return True
    left = lag_curve(*without, longest=lag)[lag]
    return left.correlation is not None and abs(left.correlation) > (left.noise or 1.0)


def _shared(x: Side, y: Side) -> tuple[str, tuple[Numbered, Numbered]]:
    """Say what both follow, and return them without it."""
    trends = [trend_evidence(side.chart.analysis) for side in (x, y)]
    if all(trend is not None and trend.proposed for trend in trends):
        text = "Both have a trend: they would go together anyway."
        return text, (without_trend(x.series), without_trend(y.series))
    for kind in SEASONS[x.chart.observations.grain]:
        seasons = [season_at(side.chart.observations, kind) for side in (x, y)]
        if seasons[0] is None or seasons[1] is None:
            continue
        evidence = [
            season_evidence(side.chart.analysis, season)
            for side, season in zip((x, y), seasons, strict=True)
            if season is not None
        ]
        if all(one is not None and one.proposed for one in evidence):
            text = f"Both follow the {NAMES[kind]}: they would go together anyway."
            return text, (
                without_season(x.series, seasons[0].places[x.positions]),
                without_season(y.series, seasons[1].places[y.positions]),
            )
    return "", (x.series, y.series)


def _drawn(pairs: Pairs, line: PairLine | None) -> tuple[Ints, Ints]:
    """Return the pairs that are drawn, and the places among them of the furthest off the line."""
    count = len(pairs)
    off = np.empty(0, np.intp)
    if line is not None:
        distance = np.abs(pairs.y - line.start - line.slope * pairs.x)
        marked = np.flatnonzero(line.off)
        off = np.sort(marked[np.argsort(-distance[marked])][:MOST_OFF]).astype(np.intp)
    drawn = np.arange(count)
    if count > MOST_DRAWN:
        even = np.linspace(0, count - 1, MOST_DRAWN).astype(np.intp)
        drawn = np.unique(np.concatenate((even, off)))
    return drawn, np.searchsorted(drawn, off).astype(np.intp)
