"""What the program proposes of a chart: shifts to ask about, patterns that limits could follow.

Kept with the KPI by every write, so that showing a chart searches for nothing.
"""

from dataclasses import asdict
from typing import Any

from fluctus.core import Season
from fluctus.core.judgment import (
    SeasonEvidence,
    TrendEvidence,
    season_evidence,
    shift_candidates,
    trend_evidence,
)
from fluctus.core.words import Words, percent_of_all
from fluctus.kpis.calendar import MONTHS
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.positions import season_at
from fluctus.kpis.chart.shapes import Pattern
from fluctus.kpis.seasons import NAMES, SEASONS, Follows

MOST = 12
"""Newest candidates that are kept: a long history has many, and people decide on the newest."""
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
MOST_PLACES_TOLD = 12
PLACES_TOLD = {
    Follows.WEEKDAY: WEEKDAYS,
    Follows.MONTH: MONTHS,
    Follows.QUARTER: ("Q1", "Q2", "Q3", "Q4"),
    Follows.WEEKDAY_AND_MONTH: [f"{day} in {month}" for month in MONTHS for day in WEEKDAYS],
}


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
        "patterns": [asdict(pattern) for pattern in _worth_asking(evidence_of(chart))]
        if level
        else [],
    }


def proposed_pattern(proposals: dict[str, Any]) -> str:
    """Name the first pattern that is proposed: ``the month of the year``; "" where none is."""
    patterns = proposals.get("patterns") or [{"follows": Follows.LEVEL}]
    follows = Follows(patterns[0]["follows"])
    if follows is Follows.TREND:
        return "a trend"
    return f"the {NAMES[follows]}" if follows in NAMES else ""


def _worth_asking(patterns: list[Pattern]) -> list[Pattern]:
    """Keep the patterns with enough evidence; of seasons, which overlap, the one that carries all.

    Where both the day of the week and the month carry, and so does one within the
    other, that is the season; else the one that explains most.
    """
    proposed = [pattern for pattern in patterns if pattern.proposed]
    seasons = {pattern.follows: pattern for pattern in proposed if pattern.follows in NAMES}
    combined = seasons.pop(Follows.WEEKDAY_AND_MONTH, None)
    both = Follows.WEEKDAY in seasons and Follows.MONTH in seasons
    season = combined if both else max(seasons.values(), key=lambda s: s.share, default=None)
    trend = [pattern for pattern in proposed if pattern.follows is Follows.TREND]
    return [*([season] if season else []), *trend]


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
    by = words.numbers.small_amount(abs(evidence.slope))
    text = (
        f"It {rises} by {by} a {words.grain}. A line explains {line} of the variance "
        f"(R\N{SUPERSCRIPT TWO} {_of_one(evidence.r_squared)}), {_steps(evidence)} {steps}. "
        f"Average mR {words.numbers.level(evidence.mean_range)}, of the residuals "
        f"{words.numbers.level(evidence.residual_range)}."
    )
    return Pattern(Follows.TREND, evidence.proposed, "A trend", text, evidence.r_squared)


def _of_one(share: float) -> str:
    return "over 0.99" if 0.995 <= share < 1 else f"{share:.2f}"


def _steps(evidence: TrendEvidence) -> str:
    return f"{evidence.steps} step{'' if evidence.steps == 1 else 's'} of level"


def _season(kind: Follows, season: Season, evidence: SeasonEvidence) -> Pattern:
    places = PLACES_TOLD[kind]
    told = [
        f"{name} {relative:.2f}" for name, relative in zip(places, evidence.relatives, strict=True)
    ]
    if len(told) > MOST_PLACES_TOLD:
        order = sorted(range(len(told)), key=lambda at: evidence.relatives[at])
        told = [f"least {told[order[0]]}", f"most {told[order[-1]]}"]
    relatives = ", ".join(told)
    chance = "under 0.1" if evidence.chance < 0.001 else f"{evidence.chance * 100:.1f}"
    text = (
        f"Relatives: {relatives}. They explain {percent_of_all(evidence.share)} of the variance; "
        f"with no season, so much would come about with a chance of {chance}%."
    )
    name = NAMES[kind]
    return Pattern(kind, evidence.proposed, f"A season by {name}", text, evidence.share)
