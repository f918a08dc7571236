"""A chart built up in words: each sentence read back against the numbers it is made from."""

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import SegmentSettings, Series, Settings, analyse
from fluctus.core.judgment import verdict_of
from fluctus.core.words import BuildUpPart, Words, build_up, style_of


def said(
    values: list[float],
    *,
    start: int | None = None,
    findings: tuple[str, ...] = (),
    events: tuple[str, ...] = (),
    decision: str = "",
) -> dict[BuildUpPart, str]:
    segments = (
        (SegmentSettings(),) if start is None else (SegmentSettings(), SegmentSettings(start=start))
    )
    analysis = analyse(Series(np.array(values)), Settings(segments=segments))
    words = Words("Ramp", style_of(np.array(values), "min", 1), "week", lambda n: f"week {n + 1}")
    steps = build_up(analysis, words, verdict_of(analysis), findings, events, decision)
    return {step.part: step.text for step in steps}


ROUTINE = [20.0, 22, 21, 23, 20, 22, 21, 20, 22, 21, 23, 20]


def test_the_steps_stand_in_order_and_say_what_the_chart_holds() -> None:
    steps = said(ROUTINE, findings=("a", "b", "c", "d", "e"), events=("Gale",), decision="So.")
    assert list(steps) == list(BuildUpPart)
    text = " ".join(steps.values()).replace("\u00a0", " ")
    analysis = analyse(Series(np.array(ROUTINE)))
    (segment,) = analysis.segments
    assert segment.average is not None
    assert segment.lower is not None
    assert segment.upper is not None
    assert "12 weeks, from week 1 to week 12, between 20.0 and 23.0 min" in text
    assert f"it is {segment.average + 1e-9:.1f} min" in text
    assert f"between {segment.lower:.1f} and {segment.upper:.1f} min" in text
    assert "Five are more than routine: a; b; c; and 2 more." in text
    assert text.endswith("What happened: Gale. So.")


def test_nothing_is_said_that_the_numbers_do_not_hold() -> None:
    assert "routine variation" in said(ROUTINE)[BuildUpPart.SIGNALS]
    few = said([20.0, 22, 21])
    assert list(few) == [BuildUpPart.VALUES, BuildUpPart.AVERAGE]
    holds = said([182.0] * 8 + [196.0] * 8)
    assert list(holds) == [BuildUpPart.VALUES]
    assert "all 5.0" in said([5.0] * 6)[BuildUpPart.VALUES].replace("\u00a0", " ")
    assert said([]) == {BuildUpPart.VALUES: "Ramp has no values yet."}


def test_limits_that_do_not_hold_are_no_forecast() -> None:
    values = [*ROUTINE, 60, 61, 62, 60, 61, 20, 21, 22, 20, 21]
    text = said([float(value) for value in values])[BuildUpPart.LIMITS]
    assert "they are no forecast" in text
    assert "can be expected" not in text


@pytest.mark.parametrize("start", [6, 7])
def test_what_changed_is_told_with_what_was(start: int) -> None:
    values = [20.0, 22, 21, 23, 20, 22, 21, 30, 32, 31, 33, 30, 32, 31]
    text = said(values, start=start)[BuildUpPart.AVERAGE].replace("\u00a0", " ")
    assert f"Since week {start + 1} it is" in text
    before, after = np.mean(values[:start]), np.mean(values[start:])
    assert [float(n) for n in re.findall(r"(\d+\.\d+) min", text)] == [
        pytest.approx(after, abs=0.06),
        pytest.approx(before, abs=0.06),
    ]


@given(st.lists(st.floats(-1e6, 1e6, allow_nan=False), max_size=40))
def test_it_never_fails_and_never_says_nan(values: list[float]) -> None:
    for text in said(values).values():
        assert text
        assert "nan" not in text.lower()
        assert text[0].isupper()
