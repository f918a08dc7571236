"""What made a value, as the API answers with it."""

from dataclasses import dataclass
from datetime import datetime

import numpy as np

from fluctus.core import Aggregation, Side
from fluctus.core.arrays import Bools
from fluctus.core.judgment import WhatMadeIt, Whole, parts_of_fraction, what_made_it
from fluctus.core.words import say_halves, say_how_shared, say_what_made_it
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.positions import read_period
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import View, chart_of
from fluctus.kpis.contributions import shapes
from fluctus.kpis.contributions.shapes import SharedBy
from fluctus.kpis.contributions.tables import WHOLES, table_of_parts, table_of_sources
from fluctus.kpis.models import Kpi

MOST_BARS = 12
"""More parts are summed with the others."""
CANNOT = "What made it cannot be told."


@dataclass(frozen=True, slots=True)
class Asked:
    """Which periods are looked at, and what they are held against: by their texts.

    Without ``against`` that is the limit window of the segment that the first period is in; with
    ``shift`` it is the segment so far, up to the first period, and all from there on is looked at.
    """

    first: str
    last: str | None = None
    against: tuple[str, str] | None = None
    shift: bool = False
    by: Grain | None = None


@dataclass(frozen=True, slots=True, eq=False)
class _Sides:
    """The periods looked at and those they are held against, shapes (n,)."""

    looked_at: Bools
    window: Bools
    label: str
    than: str


def contributions_answer(kpi: Kpi, now: datetime, asked: Asked) -> shapes.Contributions:
    """Tell what made a value, a finding, a shift, or a difference between two dates.

    Raises RefusalError where either side has no value that takes part.
    """
    chart = chart_of(kpi, now, View(asked.by))
    sides = _sides(chart, asked)
    numbers = chart.words.numbers
    shared_out = _shared_out(kpi, chart, sides)
    return shapes.Contributions(
        label=sides.label,
        than=sides.than,
        numbers=numbers_answer(numbers),
        shared_out=shared_out,
        says="" if shared_out else _why_none(kpi),
        how=say_how_shared(WHOLES.get(Aggregation(kpi.aggregation))),
    )


def _why_none(kpi: Kpi) -> str:
    if len(kpi.breakdowns) < 2:
        return (
            f"{kpi.name} has no parts: bring its data in with a column of names, such as quay, "
            "vessel or person."
        )
    return f"The {kpi.aggregation} of several values is not made of what each part brings."


def _sides(chart: Chart, asked: Asked) -> _Sides:
    data, analysis = chart.observations, chart.analysis
    included = analysis.series.included
    first = _instant(chart, asked.first, "first")
    last = first if asked.last is None else _instant(chart, asked.last, "last")
    instants = data.instants
    looked_at = (instants >= first) & (instants <= last)
    position = int(np.searchsorted(instants, first))
    if position >= len(data):
        raise _cannot("There is no value at or after this date.", "Choose another.", "first")
    number = next(n for n, s in enumerate(analysis.segments) if position < s.stop)
    segment = analysis.segments[number]
    here = np.zeros(len(data), np.bool_)
    if asked.shift:
        looked_at = (instants >= first) & (np.arange(len(data)) < segment.stop)
        before = segment
        if position == segment.start and number:
            before = analysis.segments[number - 1]
        here[before.start : position] = True
        than = f"before {data.label(position)}"
    elif asked.against is not None:
        begin, end = (_instant(chart, text, "against") for text in asked.against)
        here = (instants >= begin) & (instants <= end)
        than = _stretch(chart, here)
    else:
        window = analysis.settings.segments[number].window
        start, stop = window or (segment.start, segment.stop)
        here[start:stop] = True
        than = "usual"
    # A value that is set aside can be asked about by itself; in a stretch it takes no part.
    looked_at = looked_at if looked_at.sum() == 1 else looked_at & included
    here &= included
    if not looked_at.any() or not here.any():
        raise _cannot(
            "There is no value that takes part on one of both sides.",
            "Choose other dates.",
            "first",
        )
    at = np.flatnonzero(looked_at)
    label = data.label(int(at[0]))
    if len(at) > 1:
        label = f"{label} to {data.label(int(at[-1]))}"
    return _Sides(looked_at, here, label, than)


def _stretch(chart: Chart, positions: Bools) -> str:
    at, label = np.flatnonzero(positions), chart.observations.label
    if not len(at):
        raise _cannot("There is no value on these dates.", "Choose others.", "against_first")
    first, last = int(at[0]), int(at[-1])
    if first == last:
        return f"{chart.words.preposition} {label(first)}"
    return f"from {label(first)} to {label(last)}"


def _instant(chart: Chart, text: str, field: str) -> float:
    return read_period(chart.observations, text, field, chart.observations.grain).timestamp()


def _cannot(detail: str, remedy: str, field: str) -> RefusalError:
    return RefusalError(CANNOT, Issue(detail, remedy, field))


def _shared_out(kpi: Kpi, chart: Chart, sides: _Sides) -> list[shapes.SharedOut]:
    numbers = chart.words.numbers
    found: list[tuple[float, shapes.SharedOut]] = []
    for by, table in (
        (SharedBy.PARTS, table_of_parts(kpi, chart)),
        (SharedBy.SOURCES, table_of_sources(kpi, chart)),
    ):
        if table is None:
            continue
        names, parts = table
        made = what_made_it(parts, sides.window, sides.looked_at)
        if by is SharedBy.PARTS:
            says = say_what_made_it(made, names, numbers, sides.than)
        else:
            says = say_halves(made, names, numbers, sides.than)
        ratio = parts.whole is Whole.RATIO
        way = _shared(by, made, names, says, ratio=ratio)
        found.append((_weight(made, by), way))
    if (numbers_made := _by_numbers(kpi, chart, sides)) is not None:
        names, made = numbers_made
        says = say_halves(made, names, numbers, sides.than)
        found.append(
            (_weight(made, SharedBy.NUMBERS), _shared(SharedBy.NUMBERS, made, names, says))
        )
    return [way for _, way in sorted(found, key=lambda pair: -pair[0])]


def _weight(shares: WhatMadeIt, by: SharedBy) -> float:
    """Return how well a way tells what made it: parts that stand out come before all else."""
    stands_out = by is SharedBy.PARTS and bool(shares.stands_out.any())
    return shares.concentration + (1.0 if stands_out else 0.0)


def _by_numbers(kpi: Kpi, chart: Chart, sides: _Sides) -> tuple[list[str], WhatMadeIt] | None:
    data = chart.observations
    if data.numerators is None or data.denominators is None:
        return None
    above, below = data.numerators * data.times, data.denominators
    known = ~np.isnan(above) & ~np.isnan(below) & (below != 0)
    window, looked_at = sides.window & known, sides.looked_at & known
    if not window.any() or not looked_at.any():
        return None
    names = [source.name for source in kpi.follows] or ["The numerator", "The denominator"]
    return names, parts_of_fraction(above, below, window, looked_at)


def _shared(
    by: SharedBy,
    shares: WhatMadeIt,
    names: list[str],
    says: str,
    *,
    ratio: bool = False,
) -> shapes.SharedOut:
    brought = shares.brought
    order = np.argsort(-np.abs(brought), kind="stable").tolist()
    told = [part for part in order if by is not SharedBy.PARTS or not shares.ordinary[part]]
    told = told[:MOST_BARS]
    others = [part for part in order if part not in set(told)]
    bars, level = [], shares.usual
    for part in told:
        stop = level + float(brought[part])
        bars.append(_bar(shares, part, names[part], (level, stop), ratio=ratio))
        level = stop
    if others:
        rest = float(brought[others].sum())
        name = "The others" if told else "All parts together"
        bars.append(
            shapes.Bar(
                name=name if len(others) > 1 or not told else names[others[0]],
                brought=rest,
                rate=None,
                weight=None,
                now=None,
                before=None,
                beyond=shares.side_of(others[0]) if len(others) == 1 else Side.NEITHER,
                stands_out=False,
                start=level,
                stop=level + rest,
                stands_for=len(others),
            )
        )
    return shapes.SharedOut(by, says, shares.usual, shares.value, bars)


def _bar(
    shares: WhatMadeIt,
    part: int,
    name: str,
    ends: tuple[float, float],
    *,
    ratio: bool,
) -> shapes.Bar:
    rate, weight = float(shares.rate[part]), float(shares.weight[part])
    return shapes.Bar(
        name=name,
        brought=rate + weight,
        rate=rate if ratio else None,
        weight=weight if ratio else None,
        now=_known(float(shares.now[part])),
        before=_known(float(shares.before[part])),
        beyond=shares.side_of(part),
        stands_out=bool(shares.stands_out[part]),
        start=ends[0],
        stop=ends[1],
        stands_for=1,
    )


def _known(number: float) -> float | None:
    return None if np.isnan(number) else number
