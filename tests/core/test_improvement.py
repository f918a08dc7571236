"""What came of an improvement: worked cases, each state, and how seldom chance makes one."""

import json
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from fluctus.core import Settings, Side
from fluctus.core.judgment import ImprovementState, improvement_on
from fluctus.core.judgment.improvement import brought_so_far
from fluctus.core.words import ImprovementWords, NumberStyle, say_improvement
from fluctus.core.words.improvement import say_brought

BROUGHT = json.loads((Path(__file__).parent / "golden_verdict.json").read_text())["brought"]
SIDES = {"lower": Side.LOWER, "higher": Side.UPPER}
WORDS = ImprovementWords(NumberStyle("min", 0, 1, 1), "week", "4 May 2026", "3 August 2026")
RANDOM = np.random.default_rng(1957)


@pytest.mark.parametrize("case", BROUGHT)
def test_worked_cases_of_what_it_brought(case: dict[str, Any]) -> None:
    course, band = brought_so_far(
        np.array(case["base"]), np.array(case["since"]), SIDES[case["wanted"]]
    )
    assert course[-1] == pytest.approx(case["brought"], abs=1e-9)
    assert band[-1] == pytest.approx(case["band"], abs=1e-9)


def states(effect: float, m: int, back: int = 0, times: int = 200) -> Counter[ImprovementState]:
    found: Counter[ImprovementState] = Counter()
    for _ in range(times):
        since = np.concatenate([RANDOM.normal(20 + effect, 1, m), RANDOM.normal(20, 1, back)])
        base = RANDOM.normal(20, 1, 24)
        found[improvement_on(base, since, Side.LOWER, Settings()).state] += 1
    return found


def test_chance_alone_moves_nothing() -> None:
    by_chance = states(0, 12)
    moved = [ImprovementState.MOVED, ImprovementState.HELD, ImprovementState.FADED]
    assert sum(by_chance[state] for state in moved) <= 0.03 * 200
    assert by_chance[ImprovementState.OTHER_WAY] <= 0.03 * 200
    assert states(0, 2)[ImprovementState.TOO_EARLY] >= 0.9 * 200


def test_what_has_changed_is_seen_the_way_it_went() -> None:
    assert states(-3, 14)[ImprovementState.HELD] >= 0.9 * 200
    assert states(-3, 7)[ImprovementState.MOVED] >= 0.75 * 200
    assert states(3, 14)[ImprovementState.OTHER_WAY] >= 0.85 * 200
    assert states(-3, 14, back=14)[ImprovementState.FADED] >= 0.85 * 200


def steps(*levels: tuple[float, int]) -> np.ndarray:
    wobble = [0.4, -0.3, 0.1, -0.5, 0.3, 0.0, -0.2, 0.5, -0.1, -0.2]
    values = [level + wobble[n % 10] for level, count in levels for n in range(count)]
    return np.array(values)


@pytest.mark.parametrize(
    ("since", "state", "says"),
    [
        (steps((20, 2)), "too_early", "Two weeks in: too early to say anything before four."),
        (steps((20, 6)), "no_sign", "Six weeks in: no sign of it. What came so far may be chance"),
        (steps((17, 2)), "sign", "Two weeks in: a signal the wanted way, but no evidence yet"),
        (steps((17, 6)), "moved", "less than before, beyond chance. Some 18."),
        (steps((17, 12)), "held", "Twelve weeks in, and it holds: 3.0\u00a0min less than before"),
        (
            steps((17, 12), (19.6, 10)),
            "faded",
            "It moved, and has gone back since 3 August 2026: now 0.4\u00a0min less than before.",
        ),
        (steps((23, 8)), "other_way", "more than before, the other way and beyond chance."),
        (steps(), "too_early", "Nothing to go by yet: no value since 4 May 2026."),
    ],
)
def test_each_state_and_its_sentence(since: np.ndarray, state: str, says: str) -> None:
    found = improvement_on(steps((20, 20)), since, Side.LOWER, Settings())
    assert found.state == state
    assert says in say_improvement(found, Side.LOWER, WORDS)


def test_the_baseline_is_untouched_by_what_came_after() -> None:
    base = steps((20, 20))
    found = [improvement_on(base, steps((level, 8)), Side.LOWER, Settings()) for level in (17, 23)]
    assert (
        found[0].upper
        == found[1].upper
        == improvement_on(base, steps(), Side.LOWER, Settings()).upper
    )


def test_without_a_baseline_it_says_what_it_takes() -> None:
    found = improvement_on(steps((20, 3)), steps((17, 9)), Side.LOWER, Settings())
    assert say_improvement(found, Side.LOWER, WORDS) == (
        "A baseline takes five values before 4 May 2026; there are three."
    )


def test_a_sign_counts_only_within_the_time_allowed() -> None:
    late = np.concatenate([steps((20, 14)), [17.0, 20.1]])
    base, settings = steps((20, 20)), Settings()
    assert improvement_on(base, late, Side.LOWER, settings).state == "sign"
    assert improvement_on(base, late, Side.LOWER, settings, allowed=8).state == "no_sign"


def test_worth_is_said_with_its_give_or_take() -> None:
    worth = ImprovementWords(
        WORDS.numbers, "week", "4 May 2026", worth=10, worth_unit="\N{EURO SIGN}"
    )
    found = improvement_on(steps((20, 20)), steps((17, 6)), Side.LOWER, Settings())
    assert "saved so far, give or take" in say_improvement(found, Side.LOWER, worth)
    assert ", worth \N{EURO SIGN}180, give or take \N{EURO SIGN}25" in say_improvement(
        found, Side.LOWER, worth
    )


@pytest.mark.parametrize(
    ("brought", "band", "style", "says"),
    [
        (45.92, 13.6, NumberStyle("%", 0, 1, 2), "46\u00a0points saved so far, give or take 14"),
        (-11.0, 6.84, NumberStyle("", 0, 0, 0), "11 added so far, give or take 7"),
        (
            1.93e6,
            2.4e5,
            NumberStyle("\N{EURO SIGN}", 6, 2, 2),
            "\N{EURO SIGN}1.93\u00a0M saved so far, give or take \N{EURO SIGN}0.24\u00a0M",
        ),
        (
            3.0000000001,
            1.2e-14,
            NumberStyle("min", 0, 1, 2),
            "3.00\u00a0min saved so far, give or take 0.00",
        ),
        (3.0, 0.0, NumberStyle("min", 0, 1, 1), "3.0\u00a0min saved so far, give or take 0.0"),
    ],
)
def test_sums_are_told_no_finer_than_their_band(
    brought: float, band: float, style: NumberStyle, says: str
) -> None:
    words = ImprovementWords(style, "week", "4 May 2026")
    assert say_brought(brought, band, Side.LOWER, words) == says
