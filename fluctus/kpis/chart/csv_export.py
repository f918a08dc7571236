"""The analysis as CSV."""

from collections.abc import Iterator

import numpy as np

from fluctus.core import Rule
from fluctus.http.csv_cells import as_text, csv_line
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import Overlay
from fluctus.kpis.chart.analysis.lines.registry import overlay_of
from fluctus.kpis.observations.series import Observations

HEADER = [
    "period",
    "value",
    "moving_range",
    "segment",
    "average",
    "lower_limit",
    "upper_limit",
    "range_limit",
    "set_aside",
    "reason",
    "signals",
]


def analysis_as_csv(chart: Chart) -> Iterator[str]:
    """Write the analysis line by line: a header, then one row per value in full precision."""
    data, analysis = chart.observations, chart.analysis
    flags: dict[int, list[str]] = {}
    for rule in Rule:
        for position in analysis.signals.flagged(rule).tolist():
            flags.setdefault(position, []).append(rule.value)
    drawn = [line for line in chart.state.lines if not line.hidden]
    overlays = [overlay_of(chart, line, 0, len(data)) for line in drawn]
    names = [
        f"{line.name}: {overlay.says}" if line.name else overlay.says
        for line, overlay in zip(drawn, overlays, strict=True)
    ]
    ratio = [] if data.numerators is None else ["numerator", "denominator"]
    yield csv_line([*HEADER, *ratio, *map(as_text, names)])
    lines = analysis.lines()
    for segment, settings in zip(analysis.segments, chart.state.segments, strict=True):
        range_limit = _number(segment.range_limit)
        for n in range(segment.start, segment.stop):
            moving_range = analysis.moving_ranges[n]
            levels = (float(line[n]) for line in (lines.centre, lines.lower, lines.upper))
            limits = ["" if np.isnan(level) else _number(level) for level in levels]
            yield csv_line(
                [
                    data.text(n),
                    _number(float(data.values[n])),
                    "" if np.isnan(moving_range) else _number(float(moving_range)),
                    as_text(settings.name),
                    *limits,
                    range_limit,
                    "yes" if data.set_aside[n] else "",
                    as_text(data.reasons.get(n, "")),
                    " ".join(flags.get(n, [])),
                    *_fraction(data, n),
                    *(_height(overlay, n) for overlay in overlays),
                ]
            )


def _height(overlay: Overlay, n: int) -> str:
    height = overlay.level if overlay.course is None else float(overlay.course[n])
    return "" if height is None or np.isnan(height) else _number(height)


def _number(value: float | None) -> str:
    return "" if value is None else repr(value)


def _fraction(data: Observations, n: int) -> list[str]:
    if data.numerators is None or data.denominators is None:
        return []
    both = (float(data.numerators[n]), float(data.denominators[n]))
    return ["" if np.isnan(number) else _number(number) for number in both]
