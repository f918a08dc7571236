"""KPIs, as the API answers with them."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any, Protocol

from fluctus.core import MadeFrom, Rule
from fluctus.core.analysis import RULES
from fluctus.core.words import NumberStyle
from fluctus.kpis import models
from fluctus.kpis.calendar import Calendar, Grain, coarser_grains, label, to_text
from fluctus.kpis.chart import kpi_shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.state import DETAILS


def kpis_answer(rows: Sequence[models.Kpi], count: int, start: int) -> kpi_shapes.Kpis:
    """Return a stretch of KPIs as the rail shows them."""
    return kpi_shapes.Kpis(count, start, [row_answer(kpi) for kpi in rows])


def row_answer(kpi: models.Kpi) -> kpi_shapes.KpiRow:
    """Return a KPI as the rail shows it, from its digest alone."""
    digest = kpi.digest
    signal = digest["signal"]
    return kpi_shapes.KpiRow(
        slug=kpi.slug,
        name=kpi.name,
        group=kpi.group,
        unit=kpi.unit,
        count=digest["count"],
        latest=""
        if digest["latest"] is None
        else NumberStyle(**digest["numbers"]).amount(digest["latest"]),
        latest_period=digest["latest_period"],
        strip=_in_percent(digest["strip"]),
        parts=len(kpi.breakdowns),
        signal=signal and _strip_signal(Rule(signal["rule"]), signal["strip_index"]),
        unexplained=kpi.unexplained,
    )


def _in_percent(values: Sequence[float]) -> list[int]:
    """Place values between the lowest, 0, and the highest, 100: a strip has no more pixels."""
    low, high = min(values, default=0.0), max(values, default=0.0)
    if not high > low:
        return [50] * len(values)
    return [round(100 * (value - low) / (high - low)) for value in values]


def _strip_signal(rule: Rule, strip_index: int) -> kpi_shapes.StripSignal:
    return kpi_shapes.StripSignal(rule, RULES[rule].mark, strip_index)


def kpi_answer(
    chart: Chart,
    *,
    slug: str = "",
    revision: int = 0,
    kpi: models.Kpi | None = None,
    breakdowns: Sequence[str] = (),
) -> kpi_shapes.Kpi:
    """Return a KPI with the settings that its chart is drawn by; one not saved yet has no slug."""
    state, data = chart.state, chart.observations
    return kpi_shapes.Kpi(
        slug=slug,
        **{name: getattr(state, name) for name in DETAILS},
        grain=data.grain,
        stored_grain=data.stored,
        grains=coarser_grains(data.stored),
        breakdowns=list(breakdowns),
        derivation=None if kpi is None else _derivation(kpi),
        times=1.0 if kpi is None else kpi.times,
        rules=tuple(map(Rule, state.rules)),
        revision=revision,
        numbers=numbers_answer(chart.words.numbers),
    )


def _derivation(kpi: models.Kpi) -> kpi_shapes.Derivation | None:
    if not kpi.made_by:
        return None
    sources = [source for source in (kpi.source, kpi.second) if source is not None]
    return kpi_shapes.Derivation(
        by=MadeFrom(kpi.made_by),
        sources=[kpi_shapes.Source(source.slug, source.name) for source in sources],
        follows=bool(kpi.follows),
        left_out=list(kpi.left_out),
    )


def numbers_answer(numbers: NumberStyle) -> kpi_shapes.Numbers:
    """Return how numbers are written."""
    return kpi_shapes.Numbers(**asdict(numbers))


def numbers_style(numbers: kpi_shapes.Numbers) -> NumberStyle:
    """Return how the numbers of an answer are written, for what is set in words."""
    return NumberStyle(**asdict(numbers))


def next_answer(
    last: datetime | None, grain: Grain, calendar: Calendar
) -> kpi_shapes.NextPeriod | None:
    """Return the period after the last one, which a person would write next."""
    if last is None:
        return None
    period = calendar.following(last, grain)
    return kpi_shapes.NextPeriod(
        period=to_text(period, grain, calendar.zone),
        label=label(period, grain, calendar.zone, last),
    )


class Act(Protocol):
    """What was done to a chart, or to what else has a record of its own."""

    summary: Any


def history_answer(undo: Act | None, redo: Act | None) -> kpi_shapes.History:
    """Return what undo and redo would do."""
    return kpi_shapes.History(
        undo=None if undo is None else undo.summary, redo=None if redo is None else redo.summary
    )
