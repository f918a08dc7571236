"""Lines, bands and the axis of a chart, as the API answers with them."""

from collections.abc import Sequence
from dataclasses import asdict, replace

import numpy as np

from fluctus.core.arrays import Floats, Ints
from fluctus.core.words import percent_of_all
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import Overlay
from fluctus.kpis.chart.analysis.lines.registry import kind_of, on_other_scale, overlay_of
from fluctus.kpis.lines import LineState, Marks

GONE = "a line that is gone"


def line_answers(chart: Chart, start: int, stop: int, drawn: Ints) -> list[shapes.Line]:
    """Return the lines of a chart over the values shown, at the positions ``drawn``."""
    # What is not drawn is not sent, but for its level.
    ends = {key for band in chart.state.bands for key in (band.bottom, band.top)}
    nothing = drawn[:0]
    return [
        _line(
            chart,
            line,
            overlay_of(chart, line, start, stop),
            nothing if line.hidden and line.key not in ends else drawn,
        )
        for line in chart.state.lines
    ]


def _line(chart: Chart, line: LineState, overlay: Overlay, drawn: Ints) -> shapes.Line:
    numbers = chart.words.numbers
    if line.decimals is not None:
        numbers = replace(numbers, level_decimals=line.decimals)
    level = overlay.level

    def at_drawn(course: Floats | None) -> Floats | None:
        return None if course is None else course[drawn]

    height = np.full(len(drawn), np.nan if level is None else level)
    if overlay.course is not None:
        height = overlay.course[drawn]
    values = chart.observations.values[drawn]
    return shapes.Line(
        **asdict(line),
        says=overlay.says,
        over=overlay.over,
        level=level,
        text="" if level is None else numbers.level(level),
        amount_text="" if level is None else numbers.level_amount(level),
        other_scale=on_other_scale(line),
        course=at_drawn(overlay.course),
        differences=values - height if kind_of(line).compared else None,
        low=at_drawn(overlay.low),
        high=at_drawn(overlay.high),
        note=overlay.note,
        instead=overlay.instead,
        beyond=_beyond(line, values - height, drawn),
        above=np.maximum(values - height, 0) if line.shaded else None,
        under=np.minimum(values, height) if line.shaded else None,
    )


def _beyond(line: LineState, off: Floats, drawn: Ints) -> Ints:
    """Return the drawn positions to mark, by how far each value is ``off`` the line."""
    marks = Marks(line.marks)
    if line.hidden or marks is Marks.NONE:
        return drawn[:0]
    with np.errstate(invalid="ignore"):
        return drawn[off > 0 if marks is Marks.ABOVE else off < 0]


def band_answers(chart: Chart, lines: Sequence[shapes.Line]) -> list[shapes.Band]:
    """Return the bands of a chart, each with the two of its ``lines`` that it lies between."""
    names = {line.key: line.name or line.says for line in lines}
    answers = []
    for band in chart.state.bands:
        bottom, top = (names.get(key, GONE) for key in (band.bottom, band.top))
        note = "" if names.keys() >= {band.bottom, band.top} else "One of its lines is gone."
        answers.append(shapes.Band(**asdict(band), says=f"between {bottom} and {top}", note=note))
    return answers


def axis_answer(chart: Chart, start: int, stop: int) -> shapes.Axis:
    """Return where the axis is fixed, and how many of the values shown lie outside."""
    state, values = chart.state, chart.observations.values[start:stop]
    low, high = state.axis_low, state.axis_high
    below = 0 if low is None else int((values < low).sum())
    above = 0 if high is None else int((values > high).sum())
    note = ""
    if below or above:
        sides = [
            f"{count:,} {side}" for count, side in ((above, "above"), (below, "below")) if count
        ]
        share = percent_of_all((below + above) / len(values))
        note = f"The axis is fixed: {' and '.join(sides)} it, {share} of the values shown."
    return shapes.Axis(low, high, below, above, note)
