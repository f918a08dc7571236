"""How numbers are written: the cases that the browser is held to as well, and how one is chosen."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.core.words import NBSP, POWERS, NumberStyle, ShownIn, percent_of_all, rounded, style_of

CASES: list[dict[str, Any]] = json.loads((Path(__file__).parent / "numbers.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["amount"])
def test_numbers_are_written_by_the_table_of_cases(case: dict[str, Any]) -> None:
    style = NumberStyle(case["unit"], case["power"], case["decimals"], case["level_decimals"])
    assert style.amount(case["number"]).replace(NBSP, " ") == case["amount"]
    assert style.level_amount(case["number"]).replace(NBSP, " ") == case["level"]


@pytest.mark.parametrize(
    ("values", "unit", "decimals", "written", "level"),
    [
        ([19.4, 18.2, 20.6], "min", 1, "19.4 min", "19.4 min"),
        ([2, 3, 1, 4], "", 0, "2", "2.71"),
        ([41250, 38900, 44105], "", 0, "41,250", "41,250"),
        ([1934512, 1850000, 2010000], "€", 0, "€1.93 M", "€1.93 M"),
        # Two figures after the point would not tell these apart.
        ([1000200, 1000900, 1000400], "€", 0, "€1.0002 M", "€1.0002 M"),
        ([5, 6, 5, 9_000_000, 6], "", 0, "5", "5.00"),
        ([1e13, 1.2e13], "", 0, "10.0 tn", "10.0 tn"),
        ([1.2e-7, 3.4e-7], "g", 7, "0.0000001 g", "0.000000120 g"),
        ([0, 0, 0], "", 0, "0", "0"),
    ],
)
def test_numbers_are_shown_by_their_size(
    values: list[float], unit: str, decimals: int, written: str, level: str
) -> None:
    style = style_of(np.array(values, float), unit, decimals)
    first = float(values[0])
    assert style.amount(first).replace(NBSP, " ") == written
    shown = 2.708 if level == "2.71" else first
    assert style.level_amount(shown).replace(NBSP, " ") == level


@given(
    st.lists(st.floats(-1e15, 1e15).map(lambda x: round(x, 2)), max_size=30),
    st.integers(0, 6),
    st.sampled_from(list(ShownIn)),
)
def test_a_style_is_chosen_for_any_values_and_reads_back(
    values: list[float], decimals: int, shown_in: ShownIn
) -> None:
    style = style_of(np.array(values, float), "", decimals, shown_in)
    if shown_in is not ShownIn.AUTOMATIC:
        assert style.power == POWERS[shown_in]
    assert 0 <= style.decimals <= max(decimals + style.power, 0)
    assert style.level_decimals <= 12
    for value in values:
        text, _, suffix = style.value(value).partition(NBSP)
        number = float(text.replace(",", "").replace("\N{MINUS SIGN}", "-"))
        assert suffix == {0: "", 3: "k", 6: "M", 9: "bn", 12: "tn"}[style.power]
        room = 0.5 * 10.0 ** (style.power - style.decimals)
        seven = abs(value) >= 1e6 * 10.0**style.power
        assert abs(number * 10.0**style.power - value) <= (
            (0.5 * 10.0**style.power if seven else room) * (1 + 1e-9) + abs(value) * 1e-12
        )
        if seven:
            assert "." not in text


@pytest.mark.parametrize(
    ("share", "text"),
    [
        (0.0, "0%"),
        (0.004, "under 1%"),
        (0.005, "1%"),
        (0.28, "28%"),
        (0.995, "over 99%"),
        (1.0, "100%"),
    ],
)
def test_some_is_never_none_and_most_is_never_all(share: float, text: str) -> None:
    assert percent_of_all(share) == text


def test_differences_are_of_the_numbers_as_written() -> None:
    style = NumberStyle("", 6, 2, 2)
    assert float(style.level_as_written(1934512)) == 1_930_000
    assert rounded(321.25, 1) == rounded(321.3, 1)


def test_a_limit_is_told_from_the_value_that_is_beyond_it() -> None:
    style = NumberStyle("min", 0, 0, 0)
    assert style.level_apart(1176.3, 1176).replace(NBSP, " ") == "1,176.3 min"
    assert style.level_apart(1176.3, 1170).replace(NBSP, " ") == "1,176 min"
    # A tie is on the other, and is written as it is.
    assert style.level_apart(1176.0, 1176.0).replace(NBSP, " ") == "1,176 min"
