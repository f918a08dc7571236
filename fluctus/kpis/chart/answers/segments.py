"""Segments with their limits, and how these were made, as the API answers with them."""

from dataclasses import asdict, replace

from fluctus.core import Centre, Firmness, Spread, analyse
from fluctus.core.analysis import FACTORS, constants
from fluctus.core.judgment import ReviewAnswer, ReviewQuestion, advise_shift
from fluctus.core.words import TIMES
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.seasons import NAMES, Follows
from fluctus.kpis.state import SegmentState


def segment_answer(chart: Chart, number: int) -> shapes.Segment:
    """Return a segment with its settings, its limits, and how they were made."""
    settings = chart.state.segments[number]
    segment = chart.analysis.segments[number]
    data = chart.observations
    answers = {
        ReviewQuestion(question): ReviewAnswer(answer)
        for question, answer in settings.review.items()
    }
    return shapes.Segment(
        **asdict(settings),
        advice=advise_shift(answers),
        label=data.label(segment.start) if segment.start < len(data) else "",
        first=segment.start,
        stop=segment.stop,
        n=segment.n,
        average=segment.average,
        average_range=segment.spread,
        upper=segment.upper,
        lower=segment.lower,
        upper_clipped=segment.upper_clipped,
        lower_clipped=segment.lower_clipped,
        range_limit=segment.range_limit,
        sigma=segment.sigma,
        firmness=segment.firmness,
        how=_how(chart, number, settings),
        basis=_basis(chart, number),
        firmer=_firmer(chart, number, settings),
    )


def _basis(chart: Chart, number: int) -> shapes.Basis | None:
    """Return the stretch that the limits of a segment come from: its window, or all of it."""
    segment = chart.analysis.segments[number]
    window = chart.analysis.settings.segments[number].window
    first, stop = window or (segment.start, segment.stop)
    if first == stop:
        return None
    data = chart.observations
    return shapes.Basis(first, stop - 1, data.text(first), data.text(stop - 1))


def _firmer(chart: Chart, number: int, settings: SegmentState) -> str | None:
    """Describe limits from all values, where these are firm and the baseline's are not."""
    segment = chart.analysis.segments[number]
    count = int(chart.analysis.series.included[segment.start : segment.stop].sum())
    enough = segment.n < constants.MIN_VALUES_FOR_FIRM_LIMITS <= count
    if settings.window is None or not enough:
        return None
    core = chart.analysis.settings
    whole = tuple(
        replace(other, window=None) if n == number else other
        for n, other in enumerate(core.segments)
    )
    all_in = analyse(chart.analysis.series, replace(core, segments=whole)).segments[number]
    words, numbers = chart.words, chart.words.numbers
    if all_in.average is None or all_in.lower is None or all_in.upper is None:
        return None
    return (
        f"{words.periods(count)} are there now, enough for firm limits: from all of them, "
        f"{numbers.level_amount(all_in.average)} on average, limits {numbers.level(all_in.lower)} "
        f"to {numbers.level(all_in.upper)}."
    )


def _how(chart: Chart, number: int, settings: SegmentState) -> str:
    """Describe how the numbers of a segment were made."""
    segment, words = chart.analysis.segments[number], chart.words
    numbers = words.numbers
    if segment.average is None:
        return "No values take part."
    median = settings.centre == Centre.MEDIAN
    source = f"{words.periods(segment.n)} from {words.label(segment.start)}"
    if settings.window is not None:
        source = f"a baseline of {words.periods(segment.n)}"
    text = (
        f"{'Median' if median else 'Average'} {numbers.level_amount(segment.average)} of {source}."
    )
    if segment.trend is not None:
        by = numbers.small_difference(abs(segment.trend.slope))
        each = "from value to value" if chart.missing_before.any() else f"a {words.grain}"
        rises = "rising" if segment.trend.slope > 0 else "falling"
        text += f" A least-squares line, {rises} by {by} {each}, is their central line."
    elif segment.relatives:
        name = NAMES[Follows(settings.follows)]
        worked = "divided by" if segment.relatives_are_ratios else "less"
        text += f" Worked on values {worked} the seasonal relative of their {name}."
    what = "residuals" if segment.trend is not None else "values so worked on"
    of = f" of the {what}" if segment.trend is not None or segment.relatives else ""
    if segment.spread is None or segment.upper is None or segment.lower is None:
        return f"{text} Too few for limits, which need {constants.MIN_VALUES_FOR_LIMITS}."
    by_median = settings.spread == Spread.MEDIAN_RANGE
    factor, range_factor = FACTORS[Spread(settings.spread)]
    level = "line" if segment.trend is not None else numbers.level(segment.average)
    limits = f"{numbers.level(segment.lower)} to {numbers.level_amount(segment.upper)}"
    spread, limits_text = numbers.level(segment.spread), "" if segment.trend else f" {limits}"
    ranges = f"the {'median' if by_median else 'average'} moving range{of}"
    text += (
        f" Limits{limits_text}: {level} ± {factor:.3f} {TIMES} {spread}, {ranges}. "
        f"Range limit: {range_factor:.3f} {TIMES} {spread}."
    )
    if segment.lower_clipped or segment.upper_clipped:
        text += " A limit past the natural bound is held at the bound."
    if segment.firmness is Firmness.PROVISIONAL:
        text += f" Provisional: firm from {constants.MIN_VALUES_FOR_FIRM_LIMITS} values."
    return text
