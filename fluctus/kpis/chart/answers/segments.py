"""Segments, their limits and comparisons as the API gives them."""

from dataclasses import asdict, replace
from typing import Any

from fluctus.core import Centre, Firmness, Spread, analyse
from fluctus.core.analysis.constants import MIN_VALUES_FOR_FIRM_LIMITS
from fluctus.core.context.comparison import compare, level_of
from fluctus.core.judgment.shift_candidates import Levels
from fluctus.core.judgment.shift_review import Answer, Question, advise_shift
from fluctus.core.words.wording import NBSP, Words, level_decimals, percent, percent_of_all, rounded
from fluctus.kpis.calendar import from_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.proposals import levels_text
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.seasons import NAMES, Follows
from fluctus.kpis.state import SegmentState

TIMES = "\N{MULTIPLICATION SIGN}"
NONE = "\N{EM DASH}"


def present_segment(chart: Chart, number: int, settings: SegmentState) -> dict[str, Any]:
    """Give a segment with its settings, its limits, and how they were made."""
    segment = chart.analysis.segments[number]
    data = chart.observations
    return {
        **asdict(settings),
        "advice": advise_shift(
            {Question(question): Answer(answer) for question, answer in settings.review.items()}
        ),
        "label": data.label(segment.start) if segment.start < len(data) else "",
        "first": segment.start,
        "stop": segment.stop,
        "n": segment.n,
        "average": segment.average,
        "average_range": segment.spread,
        "upper": segment.upper,
        "lower": segment.lower,
        "upper_clipped": segment.upper_clipped,
        "lower_clipped": segment.lower_clipped,
        "range_limit": segment.range_limit,
        "sigma": segment.sigma,
        "firmness": segment.firmness,
        "made": _made(chart, number, settings),
        "basis": _basis(chart, number),
        "firmer": _firmer(chart, number, settings),
    }


def _basis(chart: Chart, number: int) -> dict[str, Any] | None:
    """Give the stretch that the limits of a segment come from: its window, or all of it."""
    segment = chart.analysis.segments[number]
    window = chart.analysis.settings.segments[number].window
    first, stop = window or (segment.start, segment.stop)
    if first == stop:
        return None
    data = chart.observations
    return {
        "first": first, "last": stop - 1,
        "first_period": data.text(first), "last_period": data.text(stop - 1),
    }  # fmt: skip


def _firmer(chart: Chart, number: int, settings: SegmentState) -> str | None:
    """Say what limits from all values would be, where they are firm and the baseline's are not."""
    segment = chart.analysis.segments[number]
    own = slice(segment.start, segment.stop)
    there = int(chart.analysis.series.included[own].sum())
    enough = segment.n < MIN_VALUES_FOR_FIRM_LIMITS <= there
    if settings.window is None or not enough:
        return None
    core = chart.analysis.settings
    whole = tuple(
        replace(one, window=None) if n == number else one for n, one in enumerate(core.segments)
    )
    all_in = analyse(chart.analysis.series, replace(core, segments=whole)).segments[number]
    words = chart.words
    if all_in.average is None or all_in.lower is None or all_in.upper is None:
        return None
    return (
        f"{words.periods(there)} are there now, enough for firm limits: from all of them, "
        f"{words.level_amount(all_in.average)} on average, limits {words.level(all_in.lower)} to "
        f"{words.level(all_in.upper)}."
    )


def _made(chart: Chart, number: int, settings: SegmentState) -> str:
    """Say how the numbers of a segment were made."""
    segment, words = chart.analysis.segments[number], chart.words
    if segment.average is None:
        return "No values take part."
    median = settings.centre == Centre.MEDIAN
    source = f"{words.periods(segment.n)} from {words.label(segment.start)}"
    if settings.window is not None:
        source = f"a baseline of {words.periods(segment.n)}"
    text = f"{'Median' if median else 'Average'} {words.level_amount(segment.average)} of {source}."
    if segment.trend is not None:
        by = words.small_amount(abs(segment.trend.slope))
        rises = "rising" if segment.trend.slope > 0 else "falling"
        text += f" A least-squares line, {rises} by {by} a {words.grain}, is their central line."
    elif segment.relatives:
        name = NAMES[Follows(settings.follows)]
        text += f" Worked on values divided by the seasonal relative of their {name}."
    what = "residuals" if segment.trend is not None else "values so worked on"
    of = f" of the {what}" if segment.trend is not None or segment.relatives else ""
    if segment.spread is None or segment.upper is None or segment.lower is None:
        return f"{text} Too few for limits, which need 5."
    by_median = settings.spread == Spread.MEDIAN_RANGE
    factor, range_factor = ("3.145", "3.865") if by_median else ("2.660", "3.268")
    level = "line" if segment.trend is not None else words.level(segment.average)
    limits = f"{words.level(segment.lower)} to {words.level_amount(segment.upper)}"
    spread, limits_text = words.level(segment.spread), "" if segment.trend else f" {limits}"
    ranges = f"the {'median' if by_median else 'average'} moving range{of}"
    text += (
        f" Limits{limits_text}: {level} ± {factor} {TIMES} {spread}, {ranges}. "
        f"Range limit: {range_factor} {TIMES} {spread}."
    )
    if segment.lower_clipped or segment.upper_clipped:
        text += " A limit past the natural bound is held at the bound."
    if segment.firmness is Firmness.PROVISIONAL:
        text += " Provisional: firm from 17 values."
    return text


def present_comparison(
    chart: Chart, before: int, after: int | None = None
) -> dict[str, Any] | None:
    """Compare a segment with another, by default the next; None where there is none."""
    after = before + 1 if after is None else after
    if before < 0:
        return None
    words = chart.words
    was, now = (level_of(chart.analysis, n, words.target) for n in (before, after))
    rows = [
        _row("Average", was.average, now.average, words),
        _row("Average mR", was.mean_range, now.mean_range, words),
        _row("Upper limit", was.upper, now.upper, words),
        _row("Lower limit", was.lower, now.lower, words),
        _row("Limits apart", was.limits_width, now.limits_width, words),
    ]
    if now.share_meeting_target is not None:
        rows.append(_share_row("Meets target", was.share_meeting_target, now.share_meeting_target))
    first, second = segment_name(chart, before), segment_name(chart, after)
    return {
        "before": first,
        "after": second,
        "numbers": [before, after],
        "rows": rows,
        "sentence": compare(was, now, (first, second), words),
    }


def segment_name(chart: Chart, number: int) -> str:
    """Name a segment for people."""
    start = chart.analysis.segments[number].start
    return chart.state.segments[number].name or (
        f"From {chart.words.label(start)}" if len(chart.observations) else "No values"
    )


def _row(name: str, was: float | None, now: float | None, words: Words) -> dict[str, str]:
    def text(value: float | None) -> str:
        return NONE if value is None else words.level(value)

    row = {"name": name, "before": text(was), "after": text(now), "change": NONE, "percent": NONE}
    if was is None or now is None:
        return row
    # The difference of the two numbers as written, so that a reader can check it.
    decimals = level_decimals(words.decimals)
    base, by = rounded(was, decimals), rounded(now, decimals) - rounded(was, decimals)
    row["change"] = _signed(words.level(abs(float(by))), float(by))
    if base:
        row["percent"] = _signed(percent(abs(float(by / base))), float(by))
    return row


def _share_row(name: str, was: float | None, now: float | None) -> dict[str, str]:
    def text(share: float | None) -> str:
        return NONE if share is None else percent_of_all(share)

    row = {"name": name, "before": text(was), "after": text(now), "change": NONE, "percent": NONE}
    if was is not None and now is not None:
        points = float(rounded(now * 100, 0) - rounded(was * 100, 0))
        row["change"] = _signed(f"{abs(points):.0f}{NBSP}points", points)
    return row


def _signed(text: str, number: float) -> str:
    return f"+{text}" if number > 0 else f"\N{MINUS SIGN}{text}" if number < 0 else text


def present_candidates(chart: Chart, proposals: dict[str, Any]) -> list[dict[str, Any]]:
    """Give the shift candidates that nobody has decided on, with their places on the chart."""
    data, words = chart.observations, chart.words
    starts = {segment.start for segment in chart.analysis.segments}
    found = []
    for one in proposals.get("candidates", []):
        places = [_position(data, one[name]) for name in ("period", "first", "last")]
        if None in places or places[0] in starts:
            continue
        position, first, last = (int(place or 0) for place in places)
        if not words.settled.isdisjoint(range(min(first, position), max(last, position) + 1)):
            continue
        before, after = (levels_text(Levels(**one[side]), words) for side in ("before", "after"))
        likely = ""
        if not one["located"]:
            likely = "When it began, the values do not say."
        elif first != last:
            likely = f"It likely began between {words.label(first)} and {words.label(last)}."
        found.append(
            {
                "period": one["period"],
                "label": words.label(position),
                "position": position,
                "first": first,
                "last": last,
                "located": one["located"],
                "run": one["run"],
                "support": one["support"],
                "text": f"{words.periods(one['support'])} from {words.label(position)}: {after}; "
                f"before: {before}. {likely}".strip(),
                "likely": likely,
            }
        )
    return found


def _position(data: Observations, text: str) -> int | None:
    return data.position_of(from_text(text, data.grain, data.zone))
