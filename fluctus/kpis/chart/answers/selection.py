"""Selected periods of a chart, each summarised beside the rest, as the API answers with them."""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from fluctus.core import Aggregation
from fluctus.core.arrays import Bools
from fluctus.core.context import Summary, summarise_values
from fluctus.core.judgment import against_placements
from fluctus.core.words import percent_of_all, say_placed
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.calendar import from_text
from fluctus.kpis.chart import asked_shapes as shapes
from fluctus.kpis.chart.analysis.chart import Chart

NONE = "\N{EM DASH}"
MOST_MODES = 3
"""More values that are the most frequent are counted, not listed."""
Span = tuple[str, str]


def summaries_answer(chart: Chart, spans: Sequence[Span]) -> shapes.Summaries:
    """Summarise the values of each span, from its first period to its last, and the rest.

    Raises RefusalError for a span that ends before it begins, or of no period.
    """
    masks = [_mask(chart, span, number) for number, span in enumerate(spans)]
    named = [(_dates(chart, mask), mask) for mask in masks]
    return summaries_of(chart, named, "The rest")


def summaries_of(chart: Chart, named: Sequence[tuple[str, Bools]], others: str) -> shapes.Summaries:
    """Summarise stretches of a chart by name, and ``others``, which are in none of them."""
    masks = [mask for _, mask in named]
    rest = ~np.logical_or.reduce(masks)
    columns = [_column(chart, mask, name) for name, mask in named]
    if (rest & chart.analysis.series.included).any():
        columns.append(_column(chart, rest, others))
    summaries = [_summary(chart, mask) for mask in (*masks, rest)][: len(columns)]
    rows = [
        shapes.SummaryRow(name, [write(chart, summary) for summary in summaries])
        for name, write in ROWS
    ]
    of_sums = [_of_sums(chart, mask) for mask in (*masks, rest)][: len(columns)]
    rows.insert(1, shapes.SummaryRow(OF_SUMS, of_sums))
    # What no column has is left out: a total of what is no amount, a target where there is none.
    told = [row for row in rows if row.name not in MAY_LACK or set(row.texts) != {NONE}]
    chance = [_beyond_chance(chart, mask) for mask in masks] if len(columns) > len(named) else []
    return shapes.Summaries(columns=columns, rows=told, chance=chance)


def _mask(chart: Chart, span: Span, number: int) -> Bools:
    data = chart.observations
    try:
        first, last = (from_text(text, data.grain, data.zone).timestamp() for text in span)
    except (ValueError, OverflowError):
        raise _refused("This is not a period.", number) from None
    if last < first:
        raise _refused("The selection ends before it begins.", number)
    return (data.instants >= first) & (data.instants <= last)


def _refused(what: str, number: int) -> RefusalError:
    issue = Issue(what, "Write two dates, as in 2026-05-18/2026-06-01.", f"spans.{number}")
    return RefusalError("These dates cannot be summarised.", issue)


def _dates(chart: Chart, mask: Bools) -> str:
    positions = np.flatnonzero(mask)
    if not len(positions):
        return "No values"
    first, last = (chart.observations.label(int(at)) for at in (positions[0], positions[-1]))
    return first if first == last else f"{first} to {last}"


def _summary(chart: Chart, mask: Bools) -> Summary:
    """Summarise the values of a selection that take part."""
    values = chart.observations.values
    included = mask & chart.analysis.series.included
    # A range lies between values that follow each other, both of them selected.
    pairs = included[1:] & included[:-1]
    for segment in chart.analysis.segments[1:]:
        # Nothing is computed across a shift.
        pairs[segment.start - 1] = False
    met = chart.target_met
    summary = summarise_values(
        values[included], np.abs(np.diff(values))[pairs], None if met is None else met[included]
    )
    # A sum of levels, shares or means is a sum of nothing.
    return summary if _are_amounts(chart) else replace(summary, total=None)


def _are_amounts(chart: Chart) -> bool:
    return chart.state.aggregation in (Aggregation.SUM, Aggregation.COUNT)


def _beyond_chance(chart: Chart, inside: Bools) -> str:
    """Say how often a set of periods differs as much from the rest wherever in time it lies."""
    included = chart.analysis.series.included
    placed = against_placements(chart.observations.values[included], inside[included])
    return "" if placed is None else say_placed(placed)


def _column(chart: Chart, mask: Bools, name: str) -> shapes.SummaryColumn:
    included = mask & chart.analysis.series.included
    aside = int(mask.sum()) - int(included.sum())
    summary = _summary(chart, mask)
    heading = f"{chart.words.periods(summary.n)}"
    numbers = chart.words.numbers
    if summary.total is not None:
        heading += f", total {numbers.amount(summary.total)}"
    of_sums = _of_sums(chart, mask)
    if of_sums != NONE:
        heading += f", {of_sums}"
    elif summary.mean is not None:
        heading += f", mean {numbers.level_amount(summary.mean)}"
    takes = "takes" if aside == 1 else "take"
    left_out = f"{chart.words.periods(aside)} {takes} no part." if aside else ""
    return shapes.SummaryColumn(name=name, heading=heading, left_out=left_out)


def _of_sums(chart: Chart, mask: Bools) -> str:
    """Write the ratio of the sums of a selection: ``92.9% (5,096 of 5,487)``."""
    found = chart.observations.ratio_over(mask & chart.analysis.series.included)
    if found is None:
        return NONE
    ratio, above, below = found
    return f"{chart.words.numbers.level_amount(ratio)} ({above:,.10g} of {below:,.10g})"


def _value(number: float | None, chart: Chart) -> str:
    return NONE if number is None else chart.words.numbers.amount(number)


def _level(number: float | None, chart: Chart) -> str:
    return NONE if number is None else chart.words.numbers.level_amount(number)


def _modes(chart: Chart, summary: Summary) -> str:
    if not summary.modes:
        return "no repeated value"
    if len(summary.modes) > MOST_MODES:
        return f"{len(summary.modes):,} values"
    return ", ".join(chart.words.numbers.amount(mode) for mode in summary.modes)


def _change(chart: Chart, summary: Summary) -> str:
    text = _value(summary.change, chart)
    return f"+{text}" if summary.change is not None and summary.change > 0 else text


def _share(_: Chart, summary: Summary) -> str:
    share = summary.share_meeting_target
    return NONE if share is None else percent_of_all(share)


OF_SUMS = "Ratio of sums"
MAY_LACK = (OF_SUMS, "Total", "Meets target")
ROWS: list[tuple[str, Callable[[Chart, Summary], str]]] = [
    ("Values", lambda _, summary: f"{summary.n:,}"),
    ("Total", lambda chart, summary: _value(summary.total, chart)),
    ("Mean", lambda chart, summary: _level(summary.mean, chart)),
    ("Median", lambda chart, summary: _level(summary.median, chart)),
    ("Most frequent", _modes),
    ("Lowest", lambda chart, summary: _value(summary.minimum, chart)),
    ("Highest", lambda chart, summary: _value(summary.maximum, chart)),
    ("Highest less lowest", lambda chart, summary: _value(summary.range, chart)),
    ("Standard deviation", lambda chart, summary: _level(summary.deviation, chart)),
    ("Lower quartile", lambda chart, summary: _level(summary.lower_quartile, chart)),
    ("Upper quartile", lambda chart, summary: _level(summary.upper_quartile, chart)),
    ("First", lambda chart, summary: _value(summary.first, chart)),
    ("Last", lambda chart, summary: _value(summary.last, chart)),
    ("Change", _change),
    ("Mean moving range", lambda chart, summary: _level(summary.mean_range, chart)),
    ("Meets target", _share),
]
