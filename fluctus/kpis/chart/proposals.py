"""What the program proposes of a chart: shifts to ask about, patterns that limits could follow.

Kept with the KPI by every write, so that showing a chart searches for nothing.
"""

from dataclasses import asdict, replace
from typing import Any

from fluctus.core.judgment import (
    Offered,
    SeasonEvidence,
    TrendEvidence,
    Verdict,
    season_evidence,
    shift_candidates,
    trend_evidence,
)
from fluctus.core.words import Words, percent_of_all, rounded
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.analysis.positions import seasons_at
from fluctus.kpis.chart.shapes import Pattern
from fluctus.kpis.seasons import NAMES, PLACE_NAMES, SEASONS, Follows

MOST = 12
"""Newest candidates that are kept: a long history has many, and people decide on the newest."""
MOST_PLACES_TOLD = 12
SMALLEST_CHANCE = 0.001


def proposals_of(chart: Chart) -> dict[str, Any]:
    """Find the newest shift candidates, by period, and the pattern with enough evidence."""
    data, verdict = chart.observations, chart.verdict
    offered = verdict.offered
    changes = None if verdict.kept is None else verdict.changes
    evident_only = offered is not None or verdict.far_off is not None
    candidates = shift_candidates(chart.analysis, changes, evident_only=evident_only)
    follows = None if offered is None else _follows(offered)
    return {
        "candidates": [
            {
                "period": data.text(candidate.position),
                "first": data.text(candidate.first),
                "last": data.text(candidate.last),
                "evidence": candidate.evidence,
                "run": candidate.run,
                "support": candidate.support,
                "before": asdict(candidate.before),
                "after": asdict(candidate.after),
            }
            for candidate in candidates[-MOST:]
        ],
        "patterns": []
        if follows is None
        else [asdict(each) for each in evidence_of(chart) if each.follows is follows],
    }


def _follows(offered: Offered) -> Follows:
    return Follows.TREND if offered.key is None else Follows(offered.key)


def offered_pattern(verdict: Verdict) -> str:
    """Name the pattern that is offered: ``the month of the year``; "" where none is."""
    if verdict.offered is None:
        return ""
    follows = _follows(verdict.offered)
    return "a trend" if follows is Follows.TREND else f"the {NAMES[follows]}"


def evidence_of(chart: Chart) -> list[Pattern]:
    """Weigh every pattern that the limits of the last segment could follow."""
    words, data, offered = chart.words, chart.observations, chart.verdict.offered
    follows = None if offered is None else _follows(offered)
    patterns: list[Pattern] = []
    trend = trend_evidence(chart.analysis)
    if trend is not None:
        patterns.append(_trend(trend, words, gaps=bool(chart.missing_before.any())))
    for kind, season in seasons_at(data, SEASONS[data.grain]).items():
        evidence = season_evidence(chart.analysis, season)
        if evidence is not None:
            patterns.append(_season(kind, evidence, words))
    # What holds by itself is offered only where the verdict on the whole chart offers it.
    return [replace(pattern, proposed=pattern.follows is follows) for pattern in patterns]


def _trend(evidence: TrendEvidence, words: Words, *, gaps: bool) -> Pattern:
    rises = "rises" if evidence.slope > 0 else "falls"
    line, steps = percent_of_all(evidence.r_squared), percent_of_all(evidence.steps_r_squared)
    by = words.numbers.small_difference(abs(evidence.slope))
    each = "from value to value" if gaps else f"a {words.grain}"
    text = (
        f"It {rises} by {by} {each}. A line explains {line} of the variance "
        f"(R\N{SUPERSCRIPT TWO} {_of_one(evidence.r_squared)}), {_steps(evidence)} {steps}. "
        f"Average mR {words.numbers.level(evidence.mean_range)}, of the residuals "
        f"{words.numbers.level(evidence.residual_range)}."
    )
    return Pattern(Follows.TREND, evidence.proposed, "A trend", text, evidence.r_squared)


def _of_one(share: float) -> str:
    return "over 0.99" if 0.995 <= share < 1 else f"{share:.2f}"


def _steps(evidence: TrendEvidence) -> str:
    return f"{evidence.steps} step{'' if evidence.steps == 1 else 's'} of level"


def _season(kind: Follows, evidence: SeasonEvidence, words: Words) -> Pattern:
    names, test = PLACE_NAMES[kind], evidence.test
    told = [
        f"{name} {_relative(each, evidence, words)}"
        for name, each in zip(names, evidence.relatives, strict=True)
    ]
    if len(told) > MOST_PLACES_TOLD:
        order = sorted(range(len(told)), key=lambda at: evidence.relatives[at])
        told = [f"least {told[order[0]]}", f"most {told[order[-1]]}"]
    foretold = (
        f"Of {test.cycles:,} full cycles {test.foretold:,} are foretold by the others, which take "
        f"{percent_of_all(test.fall)} off their variance"
        if test.foretold and test.fall > 0
        else "Its cycles do not foretell each other"
    )
    chance = "under 0.1%" if test.chance < SMALLEST_CHANCE else f"{rounded(test.chance * 100, 1)}%"
    text = (
        f"Relatives: {', '.join(told)}. They explain {percent_of_all(evidence.share)} of the "
        f"variance. {foretold}. With no season, and values that follow the ones before as these "
        f"do, such differences would come about with a chance of {chance}."
    )
    return Pattern(kind, evidence.proposed, f"A season by {NAMES[kind]}", text, evidence.share)


def _relative(relative: float, evidence: SeasonEvidence, words: Words) -> str:
    if evidence.relatives_are_ratios:
        return f"{relative:.2f}"
    sign = "+" if relative > 0 else ""
    return f"{sign}{words.numbers.level(relative)}"
