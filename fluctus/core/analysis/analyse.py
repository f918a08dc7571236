"""The one way into the computation: from values and settings to an analysis."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import overload

import numpy as np

from fluctus.core.analysis.finders import FINDERS, Examined
from fluctus.core.analysis.layout import Layout, choices_of, lay_out
from fluctus.core.analysis.limits import Firmness, Limits, compute_limits, firmness
from fluctus.core.analysis.patterns import Followed, Trend, adjusted, follow
from fluctus.core.analysis.rules import Rule
from fluctus.core.analysis.series import Series
from fluctus.core.analysis.settings import Pattern, Settings
from fluctus.core.analysis.signals import SignalColumns, Signals, group
from fluctus.core.arrays import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of the series with limits of its own; numbers in the KPI's unit.

    Covers the positions [``start``, ``stop``). ``n`` counts the included
    values of its limit window. None where a number does not exist. Where the
    limits follow a pattern, levels are those of the values with the pattern
    taken out, at the level of their average: ``Analysis.lines`` draws them back.
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
    pattern: Pattern = Pattern.LEVEL
    trend: Trend | None = None
    relatives: tuple[float, ...] = ()
    """Seasonal relatives, one for each place in the cycle; empty without a season."""
    relatives_are_ratios: bool = True
    """Whether relatives are factors; else they are amounts that are added."""


@dataclass(frozen=True, slots=True, eq=False)
class Lines:
    """Centre and limits of each position, shape (n,), as drawn; NaN where there is none."""

    centre: Floats
    upper: Floats
    lower: Floats


@dataclass(frozen=True, slots=True)
class Expected:
    """What to expect of one period: the centre and the limits; None where there are none."""

    centre: float | None
    upper: float | None
    lower: float | None


@dataclass(frozen=True, slots=True, eq=False)
class Analysis:
    """What a process behavior chart shows of one series of n values."""

    series: Series
    settings: Settings
    adjusted: Floats
    """Shape (n,): the values with the patterns of their segments taken out."""
    moving_ranges: Floats
    """Of the adjusted values, shape (n,), in the KPI's unit; NaN where there is none."""
    segments: tuple[Segment, ...]
    signals: Signals
    followed: Followed | None
    """What limits follow; None where all segments are level."""

    def included_in(self, number: int) -> Ints:
        """Return the positions of the included values of segment ``number``, in order."""
        segment = self.segments[number]
        if self.series.complete:
            return np.arange(segment.start, segment.stop)
        included = self.series.included[segment.start : segment.stop]
        return np.flatnonzero(included).astype(np.intp) + segment.start

    def lines(self) -> Lines:
        """Return centre and limits at every position, held at the natural bounds."""
        levels = [
            np.repeat(
                [np.nan if level is None else level for level in each],
                [s.stop - s.start for s in self.segments],
            )
            for each in zip(*((s.average, s.upper, s.lower) for s in self.segments), strict=True)
        ]
        if self.followed is not None:
            levels = [self.followed.drawn(level) for level in levels]
        centre, upper, lower = levels
        floor, ceiling = self.settings.floor, self.settings.ceiling
        return Lines(
            centre,
            upper if ceiling is None else np.minimum(upper, ceiling),
            lower if floor is None else np.maximum(lower, floor),
        )

    def expected(self) -> Expected:
        """Return what to expect of the period after the last one, while nothing changes."""
        if self.followed is None:
            return self._expected(1.0, 0.0)
        return self._expected(self.followed.next_scale, self.followed.next_offset)

    def expected_in_cycle(self) -> list[Expected]:
        """Return what to expect at each place of the next cycle; empty without a season."""
        last = self.segments[-1]
        return [
            self._expected(relative, 0.0)
            if last.relatives_are_ratios
            else self._expected(1, relative)
            for relative in last.relatives
        ]

    def _expected(self, scale: float, offset: float) -> Expected:
        last, floor, ceiling = self.segments[-1], self.settings.floor, self.settings.ceiling

        def drawn(level: float | None) -> float | None:
            return None if level is None else level * scale + offset

        upper, lower = drawn(last.upper), drawn(last.lower)
        return Expected(
            drawn(last.average),
            upper if upper is None or ceiling is None else min(upper, ceiling),
            lower if lower is None or floor is None else max(lower, floor),
        )


def analyse(series: Series, settings: Settings | None = None) -> Analysis:
    """Analyse one series.

    Raises ValueError when a segment starts past the last value or a limit
    window leaves its segment, and its kind UnfitPatternError for limits that
    should follow what the values do not carry.
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
    each = [settings] * len(series) if isinstance(settings, Settings) else settings
    followed = [follow(single, chosen) for single, chosen in zip(series, each, strict=True)]
    layout = lay_out(adjusted(series, followed), choices)
    limits = compute_limits(layout, choices)
    bounded = _bounded(layout, limits, followed, each)
    seen = Examined(layout, limits, first.run_length, bounded)
    flagged = [flags for rule in Rule if rule in first.rules for flags in FINDERS[rule](seen)]
    signals = group(layout, flagged)
    # Signals are in order of their first value, so each series has a stretch of them.
    heads = signals.points[signals.starts]
    rows = np.searchsorted(heads, layout.series_starts).astype(np.intp)
    return Analyses(tuple(series), settings, Columns(layout, limits, signals, rows, followed))


def _bounded(
    layout: Layout,
    limits: Limits,
    followed: Sequence[Followed | None],
    settings: Sequence[Settings],
) -> tuple[Bools, Bools] | None:
    """Return where limits that follow a pattern are past a natural bound."""
    if all(pattern is None for pattern in followed):
        return None
    lengths = np.diff(layout.borders)
    upper, lower = np.repeat(limits.upper, lengths), np.repeat(limits.lower, lengths)
    past = np.zeros(len(upper), np.bool_), np.zeros(len(upper), np.bool_)
    for number, (pattern, choices) in enumerate(zip(followed, settings, strict=True)):
        if pattern is None:
            continue
        part = slice(int(layout.series_starts[number]), int(layout.series_starts[number + 1]))
        if choices.ceiling is not None:
            past[0][part] = pattern.drawn(upper[part]) > choices.ceiling
        if choices.floor is not None:
            past[1][part] = pattern.drawn(lower[part]) < choices.floor
    return past


@dataclass(frozen=True, slots=True, eq=False)
class Columns:
    """All of a batch's results. ``rows`` are the edges of each series' signals."""

    layout: Layout
    limits: Limits
    signals: SignalColumns
    rows: Ints
    followed: Sequence[Followed | None]


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
        span = slice(*(int(edge) for edge in layout.segment_starts[number : number + 2]))
        rows = self.columns.rows
        moving_ranges = layout.ranges[start:stop]
        settings = self.settings if isinstance(self.settings, Settings) else self.settings[number]
        followed = self.columns.followed[number]
        return Analysis(
            series=self.series[number],
            settings=settings,
            adjusted=layout.values[start:stop],
            moving_ranges=moving_ranges,
            segments=tuple(
                _followed(_segment(layout, limits, segment, start), followed, segment - span.start)
                for segment in range(span.start, span.stop)
            ),
            followed=followed,
            signals=Signals(
                columns=signals,
                chosen=range(int(rows[number]), int(rows[number + 1])),
                first_segment=span.start,
                first_position=start,
                values=self.series[number].values,
                adjusted=layout.values[start:stop],
                followed=followed,
                ranges=moving_ranges,
                centre=limits.centre[span],
                upper=limits.upper[span],
                lower=limits.lower[span],
                range_limit=limits.range_limit[span],
                sigma=limits.sigma[span],
                direction=settings.direction,
            ),
        )


def _followed(segment: Segment, followed: Followed | None, number: int) -> Segment:
    fit = None if followed is None else followed.fits[number]
    if fit is None:
        return segment
    if isinstance(fit, Trend):
        return replace(segment, pattern=Pattern.TREND, trend=fit)
    return replace(
        segment,
        pattern=Pattern.SEASON,
        relatives=tuple(fit.each.tolist()),
        relatives_are_ratios=fit.are_ratios,
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
