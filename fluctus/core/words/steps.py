"""A chart built up step by step for people who have never seen one: a plain sentence for each."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.judgment.nature import nature_of
from fluctus.core.judgment.verdict import Verdict
from fluctus.core.words.claims import say_place
from fluctus.core.words.wording import Words, counted

TOLD: Final = 3
"""Findings and events that are told one by one; more are counted."""


class BuildUpPart(StrEnum):
    """What a step adds to the picture."""

    VALUES = "values"
    AVERAGE = "average"
    LIMITS = "limits"
    SIGNALS = "signals"
    EVENTS = "events"
    DECISION = "decision"


@dataclass(frozen=True, slots=True)
class Step:
    """A step: what it adds, and the sentence that is said with it."""

    part: BuildUpPart
    text: str


def build_up(
    analysis: Analysis,
    words: Words,
    verdict: Verdict,
    findings: Sequence[str],
    events: Sequence[str],
    decision: str,
) -> list[Step]:
    """Return the steps of a chart in the order they are shown.

    ``findings`` and ``events`` are told newest first, each in a few words; ``decision`` says
    what was decided last, empty where nothing was. Where there are too few values for limits,
    or values of a kind of which limits by period say little, there is no step for them.
    """
    steps = [Step(BuildUpPart.VALUES, _values(analysis, words))]
    last = analysis.segments[-1] if analysis.segments else None
    usual = nature_of(analysis.series) is None
    if last is not None and last.average is not None and usual:
        steps.append(Step(BuildUpPart.AVERAGE, _average(analysis, words)))
        if last.upper is not None or last.lower is not None:
            steps.append(Step(BuildUpPart.LIMITS, _limits(analysis, words, verdict)))
            steps.append(Step(BuildUpPart.SIGNALS, _signals(findings, words)))
    if events:
        steps.append(Step(BuildUpPart.EVENTS, f"What happened: {_told(events)}."))
    if decision:
        steps.append(Step(BuildUpPart.DECISION, decision))
    return steps


def _values(analysis: Analysis, words: Words) -> str:
    values, included = analysis.series.values, analysis.series.included
    count = len(values)
    if not count:
        return f"{words.name} has no values yet."
    shown = values[included] if included.any() else values
    low, high = (words.numbers.value(float(end)) for end in (np.min(shown), np.max(shown)))
    reach = (
        f"all {words.numbers.amount(float(shown[0]))}"
        if low == high
        else f"between {low} and {words.numbers.amount(float(np.max(shown)))}"
    )
    aside = int((~included).sum())
    left_out = f" ({counted(aside).lower()} set aside)" if aside and included.any() else ""
    return (
        f"{words.name}: {words.periods(count)}, from {words.label(0)} to "
        f"{words.label(count - 1)}, {reach}{left_out}."
    )


def _average(analysis: Analysis, words: Words) -> str:
    last = analysis.segments[-1]
    assert last.average is not None, "the caller has seen it"
    level = words.numbers.level_amount(last.average)
    before = analysis.segments[-2] if len(analysis.segments) > 1 else None
    if before is None or before.average is None:
        return f"On average it is {level}: the line in the middle."
    return (
        f"Since {words.label(last.start)} it is {level} on average; before, it was "
        f"{words.numbers.level_amount(before.average)}."
    )


def _limits(analysis: Analysis, words: Words, verdict: Verdict) -> str:
    expected = analysis.expected()
    write = words.numbers
    if expected.lower is not None and expected.upper is not None:
        between = f"between {write.level(expected.lower)} and {write.level_amount(expected.upper)}"
    elif expected.upper is not None:
        between = f"up to {write.level_amount(expected.upper)}"
    else:
        assert expected.lower is not None, "the caller has seen one of them"
        between = f"from {write.level_amount(expected.lower)} up"
    kept = verdict.kept
    if kept is not None and not kept.is_predictable:
        return (
            f"These limits would be {between}, but {kept.beyond:,} of "
            f"{words.periods(kept.count)} are beyond them: they are no forecast."
        )
    if verdict.far_off is not None:
        return f"These limits would be {between}, but a value far off moves them."
    if verdict.change is not None:
        return (
            f"These limits would be {between}, but something changed "
            f"{say_place(verdict.change, words)}: they are no forecast."
        )
    if verdict.offered is not None:
        return f"As the values lie, limits are {between}; they follow a pattern that limits do not."
    return (
        f"While nothing changes, any one {words.grain} can be expected {between}. "
        "Up and down within these limits is routine."
    )


def _signals(findings: Sequence[str], words: Words) -> str:
    if not findings:
        return f"No {words.grain} stands out: all of it is routine variation."
    verb = "is" if len(findings) == 1 else "are"
    return f"{counted(len(findings))} {verb} more than routine: {_told(findings)}."


def _told(told: Sequence[str]) -> str:
    more = len(told) - TOLD
    return "; ".join(told[:TOLD]) + (f"; and {more:,} more" if more > 0 else "")
