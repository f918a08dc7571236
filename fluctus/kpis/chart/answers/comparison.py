"""Two segments side by side, as the API answers with them."""

import numpy as np

from fluctus.core.context import level_of
from fluctus.core.judgment import nature_of
from fluctus.core.words import NBSP, Words, compare, percent, percent_of_all, rounded, say_evidence
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.analysis.chart import Chart

NONE = "\N{EM DASH}"
MOST_HELD = 10_000
"""Values on each side of a shift that are held against chance."""


def comparison_answer(
    chart: Chart, before: int, after: int | None = None
) -> shapes.Comparison | None:
    """Compare a segment with another, by default the next; None where there is none."""
    after = before + 1 if after is None else after
    if before < 0:
        return None
    words = chart.words
    met = chart.target_met
    was, now = (level_of(chart.analysis, n, met) for n in (before, after))
    rows = [
        _row("Average", was.average, now.average, words),
        _row("Average mR", was.mean_range, now.mean_range, words),
        _row("Upper limit", was.upper, now.upper, words),
        _row("Lower limit", was.lower, now.lower, words),
        _row("Limits apart", was.limits_width, now.limits_width, words),
    ]
    if now.share_meeting_target is not None:
        rows.append(_share_row("Meets target", was.share_meeting_target, now.share_meeting_target))
    ahead = after == len(chart.analysis.segments) - 1 and chart.verdict.tells_ahead
    first, second = segment_name(chart, before), segment_name(chart, after)
    return shapes.Comparison(
        before=first,
        after=second,
        numbers=[before, after],
        rows=rows,
        evidence=_evidence(chart, before, after),
        sentence=compare(was, now, (first, second), words, ahead=ahead),
    )


def _evidence(chart: Chart, before: int, after: int) -> str:
    """Say whether two stretches side by side differ by more than random order of them would."""
    if after != before + 1 or nature_of(chart.analysis.series) is not None:
        return ""
    # Of long stretches what lies on both sides of the border.
    included = [
        chart.analysis.included_in(before)[-MOST_HELD:],
        chart.analysis.included_in(after)[:MOST_HELD],
    ]
    values = chart.observations.values[np.concatenate(included)]
    return say_evidence(values, len(included[0]))


def segment_name(chart: Chart, number: int) -> str:
    """Name a segment for people."""
    start = chart.analysis.segments[number].start
    return chart.state.segments[number].name or (
        f"From {chart.words.label(start)}" if len(chart.observations) else "No values"
    )


def _row(name: str, was: float | None, now: float | None, words: Words) -> shapes.ComparisonRow:
    def text(value: float | None) -> str:
        return NONE if value is None else words.numbers.level(value)

    if was is None or now is None:
        return shapes.ComparisonRow(name, text(was), text(now), NONE, NONE)
    # The difference of the two numbers as written, so that a reader can check it.
    base = words.numbers.level_as_written(was)
    by = words.numbers.level_as_written(now) - base
    return shapes.ComparisonRow(
        name=name,
        before=text(was),
        after=text(now),
        change=_signed(words.numbers.level(abs(float(by))), float(by)),
        percent=_signed(percent(abs(float(by / base))), float(by))
        if base and not words.numbers.in_percent
        else NONE,
    )


def _share_row(name: str, was: float | None, now: float | None) -> shapes.ComparisonRow:
    def text(share: float | None) -> str:
        return NONE if share is None else percent_of_all(share)

    change = NONE
    if was is not None and now is not None:
        points = float(rounded(now * 100, 0) - rounded(was * 100, 0))
        change = _signed(f"{abs(points):.0f}{NBSP}points", points)
    return shapes.ComparisonRow(name, text(was), text(now), change, NONE)


def _signed(text: str, number: float) -> str:
    return f"+{text}" if number > 0 else f"\N{MINUS SIGN}{text}" if number < 0 else text
