"""The sentence, the signals in words, before and after, and thinning."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import Direction, SegmentSettings, Series, Settings, analyse
from fluctus.core.comparison import level_of
from fluctus.core.explanation import explain
from fluctus.core.sentence import summarise
from fluctus.core.thinning import thin
from fluctus.core.wording import NBSP, Words

STEADY = [10, 11, 9, 10, 11, 10, 9, 10, 11, 10, 9, 10, 11, 9, 10, 11, 10, 9]
LOW = [x - 5 for x in STEADY]


def words(**changes: object) -> Words:
    given = {
        "name": "Ramp cycle",
        "unit": "s",
        "decimals": 1,
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
            "expect any one week between 7.0 and 13.0 s. No signals so far.",
        ),
        (
            STEADY[:9],
            Settings(),
            {"decimals": 0},
            "Ramp cycle: 10.1 s on average.",
            "Provisional limits: 9 of 17 weeks.",
        ),
        (
            STEADY + LOW,
            shifted_at(18),
            {"segments": ("", "New ramp drill")},
            "Ramp cycle: 5.0 s on average since New ramp drill on week 18, 5.0 s less than before.",
            "No signals in this segment.",
        ),
        (
            STEADY + STEADY,
            shifted_at(18),
            {"segments": ("", "")},
            "Ramp cycle: 10.0 s on average since week 18, the same as before.",
            "No signals",
        ),
        (
            STEADY + LOW[:10],
            Settings((SegmentSettings(0, (0, 18)),)),
            {},
            "Eleven weeks in a row sit below the average of 10.0 s. "
            "Something changed around week 17.",
            "Limits still rest on 18 weeks from week 0. "
            "If the process has shifted, recalculate from week 17.",
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
            "Some weeks meet the target of 10.0 s, others do not.",
        ),
        (
            [*STEADY, 30],
            Settings(),
            {"unit": ""},
            "Ramp cycle: 11.1 on average.",
            "Three signals so far.",
        ),
    ],
)
def test_the_sentence_says_what_the_numbers_support(
    values: list[float], settings: Settings, changes: dict[str, object], headline: str, detail: str
) -> None:
    said = summarise(analyse(Series(values), settings), words(**changes))
    assert headline in said.headline.replace(NBSP, " ")
    assert detail in said.detail.replace(NBSP, " ")


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


@pytest.mark.parametrize(
    ("value", "decimals", "text"),
    [(1234.56, 1, "1,234.6"), (-0.04, 1, "0.0"), (-0.06, 1, "\u22120.1"), (7, 0, "7")],
)
def test_numbers_carry_the_decimals_of_the_kpi(value: float, decimals: int, text: str) -> None:
    assert words(decimals=decimals).number(value) == text


def test_before_and_after() -> None:
    chart = analyse(
        Series([*STEADY, 6.0, *LOW]),
        Settings((SegmentSettings(), SegmentSettings(18)), direction=Direction.LOWER, floor=4.5),
    )
    before, after = (level_of(chart, number, target=6.0) for number in (0, 1))
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
def test_thinning_covers_the_same_pixels(
    values: list[float], pixels: int, data: st.DataObject
) -> None:
    line = np.array(values)
    times = np.cumsum(
        data.draw(st.lists(st.integers(1, 5), min_size=len(line), max_size=len(line)))
    )
    keep = np.zeros(len(line), bool)
    keep[data.draw(st.integers(0, len(line) - 1))] = True
    chosen = thin(times.astype(float), [line], pixels, keep)
    assert chosen.tolist() == sorted(set(chosen.tolist()))
    assert keep[chosen].any()
    assert len(chosen) <= max(2 * pixels, 4 * pixels + 1)
    if len(times) > 2 * pixels:
        column = np.minimum((times - times[0]) / (times[-1] - times[0]) * pixels, pixels - 1)
        for own in np.unique(column.astype(int)):
            inside = np.flatnonzero((column.astype(int) == own) & ~np.isnan(line))
            kept = np.intersect1d(inside, chosen)
            for of in (np.min, np.max):
                if len(inside):
                    assert of(line[kept]) == of(line[inside])
            assert kept[:1].tolist() == inside[:1].tolist()
            assert kept[-1:].tolist() == inside[-1:].tolist()


def test_numbers_are_rounded_as_people_do_whatever_their_size() -> None:
    words = Words("Ramp cycle", "s", 1, "week", str)
    assert words.number(321.25) == "321.3"
    assert words.number(-0.25) == "\N{MINUS SIGN}0.3"
    assert words.number(-0.04) == "0.0"
    assert words.number(1e300).startswith("1,000,000")
