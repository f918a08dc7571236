"""The one way into the computation: from values and settings to an analysis."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import overload

import numpy as np

from fluctus.core.arrays import Floats, Ints
from fluctus.core.detection import FINDERS, Judged
from fluctus.core.layout import Layout, choices_of, lay_out
from fluctus.core.limits import Firmness, Limits, compute_limits, firmness
from fluctus.core.rules import Rule
from fluctus.core.series import Series
from fluctus.core.settings import Settings
from fluctus.core.signals import SignalColumns, Signals, group


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of the series with limits of its own; numbers in the KPI's unit.

    Covers the positions [``start``, ``stop``). ``n`` counts the included
    values of its limit window. None where a number does not exist.
    """

    start: int
    stop: int
    n: int
    average: float | None
    spread: float | None
    upper: float | None
    lower: float | None
    range_limit: float | None
    sigma: float | None
    upper_clipped: bool
    lower_clipped: bool
    firmness: Firmness


@dataclass(frozen=True, slots=True, eq=False)
class Analysis:
    """What a process behavior chart shows of one series of n values."""

    series: Series
    settings: Settings
    moving_ranges: Floats
    """Shape (n,), in the KPI's unit; NaN where there is none."""
    segments: tuple[Segment, ...]
    signals: Signals


def analyse(series: Series, settings: Settings | None = None) -> Analysis:
    """Analyse one series.

    Raises ValueError when a segment starts past the last value or a limit
    window leaves its segment.
    """
    return analyse_many([series], settings)[0]


def analyse_many(
    series: Sequence[Series], settings: Settings | Sequence[Settings] | None = None
) -> "Analyses":
    """Analyse many series in one pass, with one ``Settings`` for all or one for each.

    Ten thousand short series cost about what one long one does. All settings
    must name the same rules and run length. Raises ValueError as ``analyse``
    does, and when these differ or the numbers of series and settings do.
    """
    if settings is None:
        settings = Settings()
    first = settings if isinstance(settings, Settings) else next(iter(settings), Settings())
    if not isinstance(settings, Settings):
        if len(settings) != len(series):
            raise ValueError(f"{len(series)} series, but {len(settings)} settings")
        if any((s.rules, s.run_length) != (first.rules, first.run_length) for s in settings):
            raise ValueError("all settings of a batch must have the same rules and run length")
    if not series:
        return Analyses((), settings, None)
    choices = choices_of(settings, len(series))
    layout = lay_out(series, choices)
    limits = compute_limits(layout, choices)
    judged = Judged(layout, limits, first.run_length)
    found = [one for rule in Rule if rule in first.rules for one in FINDERS[rule](judged)]
    signals = group(layout, found)
    # Signals are in order of their first value, so each series has a stretch of them.
    heads = signals.points[signals.starts]
    rows = np.searchsorted(heads, layout.series_starts).astype(np.intp)
    return Analyses(tuple(series), settings, Columns(layout, limits, signals, rows))


@dataclass(frozen=True, slots=True, eq=False)
class Columns:
    """All of a batch's results. ``rows`` are the edges of each series' signals."""

    layout: Layout
    limits: Limits
    signals: SignalColumns
    rows: Ints


@dataclass(frozen=True, slots=True, eq=False)
class Analyses(Sequence[Analysis]):
    """The analyses of a batch; each is put together when it is asked for."""

    series: tuple[Series, ...]
    settings: Settings | Sequence[Settings]
    columns: Columns | None
    """None for a batch of nothing."""

    def __len__(self) -> int:
        return len(self.series)

    @overload
    def __getitem__(self, index: int) -> Analysis: ...
    @overload
    def __getitem__(self, index: slice) -> list[Analysis]: ...
    def __getitem__(self, index: int | slice) -> Analysis | list[Analysis]:
        if isinstance(index, slice):
            return [self._analysis(number) for number in range(len(self))[index]]
        return self._analysis(range(len(self))[index])

    def __iter__(self) -> Iterator[Analysis]:
        return map(self._analysis, range(len(self)))

    def _analysis(self, number: int) -> Analysis:
        assert self.columns is not None, "a batch of nothing has no analysis to give"
        layout, limits, signals = self.columns.layout, self.columns.limits, self.columns.signals
        start = int(layout.series_starts[number])
        stop = int(layout.series_starts[number + 1])
        own = slice(*(int(edge) for edge in layout.segment_starts[number : number + 2]))
        rows = self.columns.rows
        moving_ranges = layout.ranges[start:stop]
        settings = self.settings if isinstance(self.settings, Settings) else self.settings[number]
        return Analysis(
            series=self.series[number],
            settings=settings,
            moving_ranges=moving_ranges,
            segments=tuple(
                _segment(layout, limits, segment, start) for segment in range(own.start, own.stop)
            ),
            signals=Signals(
                columns=signals,
                chosen=range(int(rows[number]), int(rows[number + 1])),
                first_segment=own.start,
                first_position=start,
                values=layout.values[start:stop],
                ranges=moving_ranges,
                centre=limits.centre[own],
                upper=limits.upper[own],
                lower=limits.lower[own],
                range_limit=limits.range_limit[own],
                sigma=limits.sigma[own],
                direction=settings.direction,
            ),
        )


def _segment(layout: Layout, limits: Limits, number: int, first_position: int) -> Segment:
    def known(column: Floats) -> float | None:
        value = float(column[number])
        return None if np.isnan(value) else value

    n = int(limits.n[number])
    return Segment(
        start=int(layout.borders[number]) - first_position,
        stop=int(layout.borders[number + 1]) - first_position,
        n=n,
        average=known(limits.centre),
        spread=known(limits.spread),
        upper=known(limits.upper),
        lower=known(limits.lower),
        range_limit=known(limits.range_limit),
        sigma=known(limits.sigma),
        upper_clipped=bool(limits.upper_clipped[number]),
        lower_clipped=bool(limits.lower_clipped[number]),
        firmness=firmness(n, has_limits=bool(limits.exist[number])),
    )
