"""What the program proposes of a chart: shifts to ask about, patterns that limits could follow.

Kept with the KPI by every write, so that showing a chart searches for nothing.
"""

from dataclasses import asdict
from typing import Any

from fluctus.core import Season
from fluctus.core.judgment.evidence import (
    SeasonEvidence,
    TrendEvidence,
    season_evidence,
    trend_evidence,
)
from fluctus.core.judgment.shift_candidates import shift_candidates
from fluctus.core.words.wording import NBSP, Words, percent_of_all
from fluctus.kpis.calendar import MONTHS
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.positions import season_at
from fluctus.kpis.chart.shapes import Pattern
from fluctus.kpis.seasons import NAMES, SEASONS, Follows

MOST = 12
"""Newest candidates that are kept: a long history has many, and people decide on the newest."""
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
PLACES_TOLD = {
    Follows.WEEKDAY: WEEKDAYS, Follows.MONTH: MONTHS, Follows.QUARTER: ("Q1", "Q2", "Q3", "Q4"),
}  # fmt: skip


def proposals_of(chart: Chart) -> dict[str, Any]:
    """Find the newest shift candidates, by period, and the patterns with enough evidence."""
    data = chart.observations
    last = chart.state.segments[-1]
    level = last.follows == Follows.LEVEL
    return {
        "candidates": [
            {
                "period": data.text(candidate.position),
                "first": data.text(candidate.first),
                "last": data.text(candidate.last),
                "located": candidate.located,
                "run": candidate.run,
                "support": candidate.support,
                "before": asdict(candidate.before),
                "after": asdict(candidate.after),
            }
            for candidate in shift_candidates(chart.analysis)[-MOST:]
        ],
        "patterns": [asdict(candidate) for candidate in evidence_of(chart) if candidate.proposed]
        if level
        else [],
    }


def evidence_of(chart: Chart) -> list[Pattern]:
    """Weigh every pattern that the limits of the last segment could follow."""
    words, data = chart.words, chart.observations
    patterns: list[Pattern] = []
    trend = trend_evidence(chart.analysis)
    if trend is not None:
        patterns.append(_trend(trend, words))
    for kind in SEASONS[data.grain]:
        season = season_at(data, kind)
        evidence = None if season is None else season_evidence(chart.analysis, season)
        if season is not None and evidence is not None:
            patterns.append(_season(kind, season, evidence))
    return patterns


def _trend(evidence: TrendEvidence, words: Words) -> Pattern:
    rises = "rises" if evidence.slope > 0 else "falls"
    line, steps = percent_of_all(evidence.r_squared), percent_of_all(evidence.steps_r_squared)
    by = words.small_amount(abs(evidence.slope))
    text = (
        f"It {rises} by {by} a {words.grain}. A line explains {line} of the variance "
        f"(R\N{SUPERSCRIPT TWO} {_of_one(evidence.r_squared)}), {_steps(evidence)} {steps}. "
        f"Average mR {words.level(evidence.mean_range)}, of the residuals "
        f"{words.level(evidence.residual_range)}."
    )
    return Pattern(Follows.TREND, evidence.proposed, "A trend", text)


def _of_one(share: float) -> str:
    return "over 0.99" if 0.995 <= share < 1 else f"{share:.2f}"


def _steps(evidence: TrendEvidence) -> str:
    return f"{evidence.steps} step{'' if evidence.steps == 1 else 's'} of level"


def _season(kind: Follows, season: Season, evidence: SeasonEvidence) -> Pattern:
    places = PLACES_TOLD[kind]
    relatives = ", ".join(
        f"{name} {relative:.2f}" for name, relative in zip(places, evidence.relatives, strict=True)
    )
    chance = "under 0.1" if evidence.chance < 0.001 else f"{evidence.chance * 100:.1f}"
    text = (
        f"Relatives: {relatives}. They explain {percent_of_all(evidence.share)} of the variance; "
        f"with no season, so much would come about with a chance of {chance}{NBSP}%."
    )
    name = NAMES[kind]
    return Pattern(kind, evidence.proposed, f"A season by {name}", text)
