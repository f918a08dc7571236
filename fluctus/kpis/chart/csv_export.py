"""The analysis as CSV."""

from io import SEEK_END, BytesIO

import numpy as np
import polars as pl

from fluctus.core import Rule
from fluctus.core.arrays import Floats
from fluctus.http.csv_cells import as_text, csv_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.lines.kind import Overlay
from fluctus.kpis.chart.analysis.lines.registry import overlay_of

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


def analysis_as_csv(chart: Chart) -> bytes:
    """Write the analysis: a line of names, then one for each value, in full precision."""
    data, lines = chart.observations, chart.analysis.lines()
    drawn = [line for line in chart.state.lines if not line.hidden]
    overlays = [overlay_of(chart, line, 0, len(data)) for line in drawn]
    names = [
        f"{line.name}: {overlay.says}" if line.name else overlay.says
        for line, overlay in zip(drawn, overlays, strict=True)
    ]
    fraction = [side for side in (data.numerators, data.denominators) if side is not None]
    ratio = ["numerator", "denominator"][: len(fraction)]
    segments = [as_text(segment.name) or None for segment in chart.state.segments]
    columns = [
        pl.Series(data.texts(np.arange(len(data)))),
        _numbers(data.values),
        _numbers(chart.analysis.moving_ranges),
        _of_segments(chart, pl.Series(segments, dtype=pl.String)),
        *map(_numbers, (lines.centre, lines.lower, lines.upper)),
        _of_segments(chart, pl.Series([one.range_limit for one in chart.analysis.segments])),
        _some(len(data), dict.fromkeys(np.flatnonzero(data.set_aside).tolist(), "yes")),
        _some(len(data), {at: as_text(reason) for at, reason in data.reasons.items()}),
        _some(len(data), _flags(chart)),
        *map(_numbers, fraction),
        *(_heights(overlay, len(data)) for overlay in overlays),
    ]
    written = BytesIO(csv_text([[*HEADER, *ratio, *map(as_text, names)]]).encode())
    written.seek(0, SEEK_END)
    # Names of lines can be the same; those of its columns cannot.
    frame = pl.DataFrame({str(number): column for number, column in enumerate(columns)})
    frame.write_csv(written, include_header=False, line_terminator="\r\n")
    return written.getvalue()


def _numbers(column: Floats) -> pl.Series:
    """Return numbers to write, and nothing where there is none."""
    return pl.Series(column, nan_to_null=True)


def _of_segments(chart: Chart, each: pl.Series) -> pl.Series:
    """Return for each value what is of its segment."""
    lengths = [segment.stop - segment.start for segment in chart.analysis.segments]
    return each.gather(np.repeat(np.arange(len(lengths)), lengths))


def _some(count: int, texts: dict[int, str]) -> pl.Series:
    """Return what some of so many values have, by their position."""
    column: list[str | None] = [None] * count
    for position, text in texts.items():
        column[position] = text or None
    return pl.Series(column, dtype=pl.String)


def _flags(chart: Chart) -> dict[int, str]:
    flags: dict[int, list[str]] = {}
    for rule in Rule:
        for position in chart.analysis.signals.flagged(rule).tolist():
            flags.setdefault(position, []).append(rule.value)
    return {position: " ".join(rules) for position, rules in flags.items()}


def _heights(overlay: Overlay, count: int) -> pl.Series:
    """Return how high a line is at each of so many values."""
    if overlay.course is None:
        return pl.repeat(overlay.level, count, dtype=pl.Float64, eager=True)
    return _numbers(overlay.course)
