"""The sentence, the signals in words, before and after, and thinning."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import (
    Direction,
    Pattern,
    Season,
    SegmentSettings,
    Series,
    Settings,
    analyse,
)
from fluctus.core.context import level_of
from fluctus.core.judgment import Doubt, Fitness, verdict_of
from fluctus.core.shaping import thin
from fluctus.core.words import NBSP, NumberStyle, Words, compare, explain
from fluctus.core.words.sentence import LINE, Background, summarise
from tests.core.drawn import season, seasons

STEADY = [10, 11, 9, 10, 11, 10, 9, 10, 11, 10, 9, 10, 11, 9, 10, 11, 10, 9]
LOW = [x - 5 for x in STEADY]


def words(**changes: object) -> Words:
    given = {
        "name": "Ramp cycle",
        "numbers": NumberStyle("s"),
        "grain": "week",
        "label": lambda position: f"week {position}",
    }
    return Words(**given | changes)  # type: ignore[arg-type]


def shifted_at(*starts: int) -> Settings:
    return Settings((SegmentSettings(), *map(SegmentSettings, starts)))


@pytest.mark.parametrize(
    ("values", "settings", "changes", "headline", "detail"),
    [
        ([], Settings(), {}, "Ramp cycle: no values yet.", "Add data to see how"),
        (
            [10, 12],
            Settings(),
            {},
            "Ramp cycle: 11.0 s on average.",
            "Limits come with 5 values; there are 2 so far.",
        ),
        (
            STEADY,
            Settings(),
            {},
            "Ramp cycle: 10.0 s on average.",
            "expect any one week between 7.0 and 13.0 s. No findings so far.",
        ),
        (
            STEADY[:9],
            Settings(),
            {"numbers": NumberStyle("s", 0, 0, 1)},
            "Ramp cycle: 10.1 s on average.",
            "Provisional limits: 9 of 17 weeks.",
        ),
        (
            STEADY + LOW,
            shifted_at(18),
            {"segments": ("", "New ramp drill")},
            "Ramp cycle: 5.0 s on average since New ramp drill on week 18, 5.0 s less than before.",
            "No findings in this segment.",
        ),
        (
            STEADY + STEADY,
            shifted_at(18),
            {"segments": ("", "")},
            "Ramp cycle: 10.0 s on average since week 18, the same as before.",
            "No findings",
        ),
        (
            STEADY + LOW[:10],
            Settings((SegmentSettings(0, (0, 18)),)),
            {},
            "Ramp cycle: the last ten weeks are below the lower limit of 7.0 s. "
            "Something changed around week 18.",
            "Limits still rest on 18 weeks from week 0. "
            "If the process has shifted, recalculate from week 18.",
        ),
        (
            STEADY,
            Settings(direction=Direction.LOWER),
            {"target": 14.0},
            "on average",
            "Any week can be expected to meet the target of 14.0 s.",
        ),
        (
            STEADY,
            Settings(direction=Direction.LOWER),
            {"target": 5.0},
            "on average",
            "The process as it is does not reach the target of 5.0 s.",
        ),
        (
            STEADY,
            Settings(direction=Direction.HIGHER),
            {"target": 10.0},
            "on average",
            " of 18 weeks met the target of 10.0 s.",
        ),
        (
            [*STEADY, 30],
            Settings(),
            {"numbers": NumberStyle()},
            "Ramp cycle: 30.0 on week 18 is some 3 times the others.",
            "Mend it, set it aside, or say that it is right: limits rest on it. Two findings",
        ),
    ],
)
def test_the_sentence_says_what_the_numbers_support(
    values: list[float], settings: Settings, changes: dict[str, object], headline: str, detail: str
) -> None:
    said = summarise(analyse(Series(values), settings), words(**changes))
    assert headline in said.headline.replace(NBSP, " ")
    assert detail in said.detail.replace(NBSP, " ")


@pytest.mark.parametrize(
    ("known", "said", "unsaid"),
    [
        ({"logged": 2, "unexplained": 0}, "Two findings, all causes on record.", "so far"),
        ({"logged": 2, "unexplained": 1}, "Two findings, one without a cause.", "so far"),
        ({"logged": 1, "unexplained": 0}, "Two findings so far.", "cause"),
        ({"incomplete": True}, "The last week is not over and takes no part.", "missing"),
        ({"raising": frozenset()}, "on average", "finding"),
        ({}, "Two findings so far.", "cause"),
        (
            {"doubts": [Doubt(Fitness.RUNNING_TOTAL, 1.0, 1.0)]},
            "These values look like a running total, which has no limits.",
            "coarse",
        ),
        (
            {"doubts": [Doubt(Fitness.COARSE_STEP, 2, 1), Doubt(Fitness.MIXED_BREAKDOWNS, 9, 3)]},
            "It mixes things whose averages differ. Its steps are too coarse for these limits.",
            "running",
        ),
        (
            {"doubts": [Doubt(Fitness.AUTOCORRELATION, 0.5, 0.3)]},
            "Values follow the ones before: runs say little.",
            "swing",
        ),
        (
            {"doubts": [Doubt(Fitness.AUTOCORRELATION, -0.5, 0.3)]},
            "Values swing back and forth: its limits are wide.",
            "runs",
        ),
        # Few values are said as provisional limits.
        (
            {"doubts": [Doubt(Fitness.FEW_VALUES, 3, 17), Doubt(Fitness.MISSING_PERIODS, 2, 0)]},
            "2 weeks missing.",
            "few",
        ),
    ],
)
def test_the_sentence_says_what_is_on_record_and_what_to_doubt(
    known: dict[str, Any], said: str, unsaid: str
) -> None:
    told = summarise(
        analyse(Series([*STEADY[:9], 17, *STEADY[9:17], 17])), words(), Background(**known)
    )
    assert said in told.detail
    assert unsaid not in told.detail


@pytest.mark.parametrize(
    ("values", "grain", "detail"),
    [
        (
            [30 + 0.25 * n + (0.2, -0.2, 0.1)[n % 3] for n in range(24)],
            "week",
            "It rises by 0.25 s a week; next, expect a value between",
        ),
        (
            [90 - 1.5 * n + (0.2, -0.2, 0.1)[n % 3] for n in range(24)],
            "month",
            "It falls by 1.5 s a month; next, expect a value between",
        ),
    ],
)
def test_a_trend_is_said_with_its_rate_and_its_way(
    values: list[float], grain: str, detail: str
) -> None:
    settings = Settings((SegmentSettings(pattern=Pattern.TREND),))
    said = summarise(analyse(Series(values), settings), words(grain=grain))
    assert said.detail.replace(NBSP, " ").startswith(detail)


def test_a_season_expects_what_its_next_place_has() -> None:
    values = [10.0, 20.0, 30.0, 11.0, 19.0, 31.0, 9.0, 21.0, 29.0]
    order = np.arange(10)
    season = Season(order[:-1] % 3, order[:-1] // 3, 3, 0)
    settings = Settings((SegmentSettings(pattern=Pattern.SEASON, season=season),))
    chart = analyse(Series(values), settings)
    said = summarise(chart, words(grain="quarter")).detail.replace(NBSP, " ")
    next_one = chart.expected()
    between = f"{next_one.lower:.1f} and {next_one.upper:.1f} s"
    assert said.startswith(f"In season, expect the next quarter between {between}.")
    assert next_one.centre == pytest.approx(10, abs=0.5)


@given(
    st.lists(st.integers(0, 99_999), min_size=0, max_size=40),
    st.integers(0, 40),
    st.lists(st.sampled_from(list(Fitness)), max_size=8),
    st.sampled_from(["hour", "day", "week", "quarter"]),
    st.one_of(st.none(), st.floats(0, 99_999)),
)
def test_whatever_there_is_to_say_fits_two_lines(
    values: list[int], unexplained: int, doubts: list[Fitness], grain: str, target: float | None
) -> None:
    chart = analyse(Series([float(v) for v in values]), Settings(direction=Direction.LOWER))
    said = summarise(
        chart,
        words(grain=grain, target=target),
        Background(
            verdict_of(chart, seasons(season=season(len(values), 3))),
            [Doubt(one, 1.0, 2.0) for one in doubts],
            unexplained,
            unexplained,
            "the day of the week within the month of the year",
        ),
    )
    assert len(said.detail) <= LINE
    assert "\n" not in said.headline + said.detail
    assert said.headline.endswith(".")
    assert said.detail.endswith(".")


@pytest.mark.parametrize(
    ("before", "after", "unit", "sentence"),
    [
        (
            STEADY,
            LOW,
            "s",
            "Ramp cycle went from 10.0 to 5.0 s on average, 5.0 s less (50%); any one week is now "
            "expected between 2.0 and 8.0 s (Before: 18 weeks; After: 18 weeks).",
        ),
        (
            STEADY,
            STEADY,
            "",
            "Ramp cycle went from 10.0 to 10.0 on average, no change; any one week is now expected "
            "between 7.0 and 13.0 (Before: 18 weeks; After: 18 weeks).",
        ),
        (
            LOW[:3],
            [10.0],
            "s",
            "Ramp cycle went from 5.0 to 10.0 s on average, 5.0 s more (100%) (Before: 3 weeks; "
            "After: 1 week).",
        ),
        (
            [0.0] * 6,
            [2.0] * 6,
            "s",
            "Ramp cycle went from 0.0 to 2.0 s on average, 2.0 s more; any one week is now "
            "expected between 2.0 and 2.0 s (Before: 6 weeks; After: 6 weeks).",
        ),
    ],
)
def test_a_comparison_is_a_sentence_for_a_report(
    before: list[float], after: list[float], unit: str, sentence: str
) -> None:
    chart = analyse(Series([*before, *after]), shifted_at(len(before)))
    was, now = (level_of(chart, number, None) for number in (0, 1))
    said = compare(was, now, ("Before", "After"), words(numbers=NumberStyle(unit)))
    assert said.replace(NBSP, " ") == sentence


def test_a_comparison_says_the_share_that_meets_the_target_or_that_it_cannot() -> None:
    settings = Settings((SegmentSettings(), SegmentSettings(18)), direction=Direction.LOWER)
    chart = analyse(Series([*STEADY, *LOW]), settings)
    was, now = (level_of(chart, number, chart.series.values <= 9) for number in (0, 1))
    said = compare(was, now, ("Before", "After"), words()).replace(NBSP, " ")
    assert "the target was met in 28% of the weeks before and 100% after" in said
    nothing = analyse(Series([np.nan, np.nan, 1.0]), shifted_at(2))
    none, one = (level_of(nothing, number, None) for number in (0, 1))
    assert compare(none, one, ("Before", "After"), words()) == (
        "Ramp cycle: there are too few values to compare Before with After."
    )


def test_signals_explain_themselves_with_their_numbers() -> None:
    chart = analyse(
        Series([*STEADY, 30, *LOW[:9]]),
        Settings((SegmentSettings(0, (0, 18)),), direction=Direction.LOWER),
    )
    said = [explain(signal, words()) for signal in chart.signals]
    text = {one.title: one.text.replace(NBSP, " ") for one in said}
    assert text["Above the upper limit"] == (
        "30.0 s; the upper limit is 13.0 s, 20.2 sigma from the average. Unfavorable."
    )
    assert text["2 ranges above limit"].startswith("Moved by 21.0 to 25.0 s from")
    assert text["Run of 9 below average"].endswith("the average is 10.0 s. Favorable.")


def test_before_and_after() -> None:
    chart = analyse(
        Series([*STEADY, 6.0, *LOW]),
        Settings((SegmentSettings(), SegmentSettings(18)), direction=Direction.LOWER, floor=4.5),
    )
    before, after = (level_of(chart, number, chart.series.values <= 6) for number in (0, 1))
    assert (before.average, before.share_meeting_target) == (10.0, 0.0)
    assert after.average == pytest.approx((6 + sum(LOW)) / 19)
    assert after.share_meeting_target == 1.0
    segment = chart.segments[1]
    assert segment.upper is not None
    assert after.limits_width == pytest.approx(segment.upper - 4.5)


@given(
    st.lists(st.one_of(st.floats(-1e6, 1e6), st.just(float("nan"))), min_size=1, max_size=400),
    st.integers(1, 40),
    st.data(),
)
def test_thinning_keeps_how_far_the_line_goes(
    values: list[float], columns: int, data: st.DataObject
) -> None:
    line = np.array(values)
    ranges = np.abs(np.diff(line, prepend=np.nan))
    times = np.cumsum(
        data.draw(st.lists(st.integers(1, 5), min_size=len(line), max_size=len(line)))
    )
    keep = np.zeros(len(line), bool)
    keep[data.draw(st.integers(0, len(line) - 1))] = True
    chosen = thin(times.astype(float), line, ranges, columns, keep)
    assert chosen.tolist() == sorted(set(chosen.tolist()))
    assert keep[chosen].any()
    assert {0, len(line) - 1} <= set(chosen.tolist())
    assert len(chosen) <= max(2 * columns, 3 * columns + 3)
    if len(times) > 2 * columns:
        column = np.minimum((times - times[0]) / (times[-1] - times[0]) * columns, columns - 1)
        for own in np.unique(column.astype(int)):
            for part, extremes in ((line, (np.nanmin, np.nanmax)), (ranges, (np.nanmax,))):
                inside = np.flatnonzero((column.astype(int) == own) & ~np.isnan(part))
                kept = np.intersect1d(inside, chosen)
                for of in extremes:
                    if len(inside):
                        assert of(part[kept]) == of(part[inside])
