"""Shift candidates as the API answers with them."""

from typing import Any

from fluctus.core.judgment import Levels
from fluctus.core.words import Words
from fluctus.kpis.calendar import from_text
from fluctus.kpis.chart import asking_shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.observations.series import Observations


def candidate_answers(chart: Chart, proposals: dict[str, Any]) -> list[asking_shapes.Candidate]:
    """Return the candidates that nobody has decided on, with their places on the chart."""
    starts = {segment.start for segment in chart.analysis.segments}
    answers = []
    for proposal in proposals.get("candidates", []):
        positions = [
            _position(chart.observations, proposal[name]) for name in ("period", "first", "last")
        ]
        if None in positions or positions[0] in starts:
            continue
        position, first, last = (int(at or 0) for at in positions)
        likely_range = range(min(first, position), max(last, position) + 1)
        # Asked the other way round, a long stretch would be walked through.
        if not any(at in likely_range for at in chart.words.settled):
            answers.append(_candidate(proposal, position, first, last, chart.words))
    return answers


def _candidate(
    proposal: dict[str, Any], position: int, first: int, last: int, words: Words
) -> asking_shapes.Candidate:
    before, after = (_levels_text(Levels(**proposal[side]), words) for side in ("before", "after"))
    likely = ""
    if not proposal["evidence"]:
        likely = "There is no evidence that anything changed."
    elif first != last:
        likely = f"It likely began between {words.label(first)} and {words.label(last)}."
    text = (
        f"{words.periods(proposal['support'])} from {words.label(position)}: {after}; "
        f"before: {before}. {likely}"
    )
    return asking_shapes.Candidate(
        period=proposal["period"],
        label=words.label(position),
        position=position,
        first=first,
        last=last,
        evidence=proposal["evidence"],
        run=proposal["run"],
        support=proposal["support"],
        text=text.strip(),
        likely=likely,
    )


def _levels_text(levels: Levels, words: Words) -> str:
    """Write a level and its limits: ``19.0 min on average, 16.7 to 21.2``."""
    if levels.average is None:
        return "no values"
    text = f"{words.numbers.level_amount(levels.average)} on average"
    if levels.lower is None or levels.upper is None:
        return text
    return (
        f"{text}, limits {words.numbers.level(levels.lower)} to {words.numbers.level(levels.upper)}"
    )


def _position(data: Observations, text: str) -> int | None:
    return data.position_of(from_text(text, data.grain, data.zone))
