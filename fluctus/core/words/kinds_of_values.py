"""What is said of values that limits by period say little of, and the one act that helps."""

import numpy as np

from fluctus.core.analysis.analyse import Analysis
from fluctus.core.analysis.constants import MIN_VALUES_FOR_LIMITS
from fluctus.core.arrays import Floats, Ints
from fluctus.core.judgment.nature import Nature
from fluctus.core.words.wording import Words, counted

CHANGES_TOLD = 4


def said_of(kind: Nature, analysis: Analysis, words: Words) -> tuple[str, list[str]] | None:
    """Return a headline and what else there is to say, the weightiest first.

    None where the values are too few to say that much of them.
    """
    positions = np.flatnonzero(analysis.series.included)
    values = analysis.series.values[positions]
    if kind is Nature.ALL_EQUAL:
        return _all_equal(values, words)
    if kind is Nature.RARE:
        return _rare(values, words) if len(values) >= MIN_VALUES_FOR_LIMITS else None
    return _holds(positions, values, words, drawn=analysis.settings.holds)


def _all_equal(values: Floats, words: Words) -> tuple[str, list[str]]:
    every = "both" if len(values) == 2 else f"all {len(values):,}"
    headline = f"{words.name}: {every} {words.grain}s are {words.numbers.amount(float(values[0]))}."
    return headline, ["Nothing varies, so there is nothing to tell until a value differs."]


def _rare(values: Floats, words: Words) -> tuple[str, list[str]]:
    zeros = int(np.count_nonzero(values == 0))
    headline = (
        f"{words.name}: none in {zeros:,} of the {words.periods(len(values))}, "
        f"too rare to chart by {words.grain}."
    )
    return headline, [
        "Chart the time between events: it says more than counts that are mostly zero."
    ]


def _holds(positions: Ints, values: Floats, words: Words, *, drawn: bool) -> tuple[str, list[str]]:
    changes = np.flatnonzero(values[1:] != values[:-1]) + 1
    count = len(changes)
    times = {1: "once", 2: "twice"}.get(count, f"{counted(count).lower()} times")
    newest = int(changes[-1]) if count else 0
    headline = (
        f"{words.name}: {words.numbers.amount(float(values[-1]))} "
        f"since {words.label(int(positions[newest]))}, "
        f"changed {times if count else 'never'} in {words.periods(len(values))}."
    )
    if not drawn:
        return headline, [
            "A value that holds until somebody changes it has no limits to speak of: "
            "draw it as steps."
        ]
    heads = [0, *changes.tolist()][-CHANGES_TOLD - 1 : -1]
    before = ", ".join(
        f"{words.numbers.amount(float(values[head]))} from {words.label(int(positions[head]))}"
        for head in reversed(heads)
    )
    return headline, [f"Before that {before}." if before else "It has never changed."]
