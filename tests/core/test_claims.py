"""Every claim of the sentence, read back from its text and checked by plain loops."""

import re
from decimal import Decimal
from itertools import pairwise

import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from fluctus.core import Direction, SegmentSettings, Series, Settings, analyse
from fluctus.core.context import level_of
from fluctus.core.words import NumberStyle, compare, summarise
from fluctus.core.words.wording import Words
from tests.core.drawn import KINDS, STEPPED, STILL, draw
from tests.core.reading import NUMBER, Plain, Reading, count_of, near, parsed, read, written

VALUES = st.lists(st.integers(0, 400).map(lambda n: n / 10), min_size=6, max_size=40)


DRAWN = st.one_of(
    VALUES,
    # Values that repeat, that are mostly zero, and with many far out.
    st.lists(st.sampled_from([0.0, 0.0, 0.0, 1.0, 2.0]), min_size=6, max_size=40),
    st.lists(st.sampled_from([4.0] * 9 + [4.5]), min_size=6, max_size=40),
    st.lists(st.sampled_from([10.0, 10.1, 10.2, 9.9] * 4 + [40.0, 0.0]), min_size=6, max_size=80),
)


@settings(max_examples=2000)
@given(
    DRAWN,
    st.one_of(st.none(), st.lists(st.integers(300, 600).map(lambda n: n / 10), min_size=6)),
    st.one_of(st.none(), st.integers(0, 500).map(lambda n: n / 10)),
    st.sampled_from([Direction.HIGHER, Direction.LOWER]),
    st.one_of(st.none(), st.just(0.0)),
)
def test_the_sentence_never_says_more_than_the_numbers(
    before: list[float],
    after: list[float] | None,
    target: float | None,
    direction: Direction,
    floor: float | None,
) -> None:
    values = before + (after or [])
    starts = [0] if after is None else [0, len(before)]
    chosen = Settings(tuple(map(SegmentSettings, starts)), floor=floor, direction=direction)
    chart = analyse(Series(values), chosen)
    style = NumberStyle("s", 0, 1, 1)
    words = Words("Ramp cycle", style, "week", "week {}".format, ("",) * len(starts), target)
    said = summarise(chart, words)
    reading = Reading(said.headline, said.detail, chart, target)
    own = Plain(values[starts[-1] :], floor)
    if _says_a_kind(reading.headline, values):
        assert "expect" not in reading.detail
        return
    reading.check()
    if reading.headline.startswith("Ramp cycle: ") and " on average" in reading.headline:
        _check_level(reading.headline, before if after else None, own)


def _check_level(headline: str, before: list[float] | None, own: Plain) -> None:
    """The average, and how it differs from that of the segment before."""
    level = re.match(rf"Ramp cycle: {NUMBER} s on average", headline)
    assert level, headline
    assert near(level[1], own.average)
    changed = re.search(rf"{NUMBER} s (more|less) than before", headline)
    if before is None:
        assert changed is None
    elif changed:
        was = written(sum(before) / len(before))
        difference = parsed(level[1]) - was
        assert abs(abs(difference) - parsed(changed[1])) <= Decimal("0.1")
        assert (difference > 0) is (changed[2] == "more")
    else:
        assert headline.endswith("the same as before.")


def _says_a_kind(headline: str, values: list[float]) -> bool:
    """Whether it says what kind of values these are, and is right."""
    if equal := re.match(rf"Ramp cycle: (?:all (\d+)|both) weeks are {NUMBER} s", headline):
        event("all equal")
        assert set(values) == {values[0]}
        assert int(equal[1] or 2) == len(values)
        assert near(equal[2], values[0])
        return True
    if rare := re.match(r"Ramp cycle: none in (\d+) of the (\d+) weeks, too rare", headline):
        event("rare")
        assert (int(rare[1]), int(rare[2])) == (values.count(0), len(values))
        assert 2 * values.count(0) > len(values)
        return True
    holds = re.match(
        rf"Ramp cycle: {NUMBER} s since week (\d+), changed (once|twice|(\S+) times) in",
        headline,
    )
    if holds:
        event("holds")
        changes = [n for n, (a, b) in enumerate(pairwise(values), 1) if a != b]
        assert near(holds[1], values[-1])
        assert int(holds[2]) == changes[-1]
        assert f"in {len(values)} weeks" in headline
        said = {"once": 1, "twice": 2}.get(holds[3]) or count_of(holds[4].capitalize())
        assert said == len(changes)
        assert len(values) - 1 - len(changes) >= 0.75 * (len(values) - 1)
        return True
    return False


@pytest.mark.parametrize("kind", KINDS)
def test_what_truly_happened_is_claimed_and_nothing_else(kind: str) -> None:
    """A small part of what ``bench/claims.py`` measures over 5,000 series."""
    false, dated, claimed = 0, 0, 0
    for number in range(20):
        drawn = draw(kind, number)
        _, _, reading = read(drawn, 51.0)
        reading.check()
        changed = reading.changed
        if changed is None:
            continue
        claimed += 1
        false += kind in STILL
        dated += any(changed[0] - 2 <= place <= changed[1] + 2 for place in drawn.changes)
    assert false <= 3
    if kind in STEPPED and kind not in ("up and back", "step of 1"):
        assert claimed >= 14
        assert dated >= 0.8 * claimed


@given(
    VALUES,
    VALUES,
    st.integers(0, 400).map(lambda n: n / 10),
    st.sampled_from([Direction.HIGHER, Direction.LOWER]),
)
def test_a_comparison_can_be_checked_from_its_own_words(
    before: list[float], after: list[float], target: float, direction: Direction
) -> None:
    chosen = Settings((SegmentSettings(), SegmentSettings(len(before))), direction=direction)
    chart = analyse(Series(before + after), chosen)
    words = Words("Ramp cycle", NumberStyle("s", 0, 1, 1), "week", str, target=target)
    wanted = words.wanted(direction)
    met = None if wanted is None else wanted.met_by(chart.series.values)
    was, now = (level_of(chart, number, met) for number in (0, 1))
    said = compare(was, now, ("Before", "After"), words).replace("\xa0", " ")
    plain = [Plain(values, None) for values in (before, after)]

    went = re.match(rf"Ramp cycle went from {NUMBER} to {NUMBER} s on average, ", said)
    assert went, said
    assert near(went[1], plain[0].average)
    assert near(went[2], plain[1].average)
    change = parsed(went[2]) - parsed(went[1])
    if change == 0:
        assert "no change" in said
    else:
        moved = re.search(rf"{NUMBER} s (more|less)(?: \(([\d,]+)%\))?", said)
        assert moved, said
        assert parsed(moved[1]) == abs(change)
        assert moved[2] == ("more" if change > 0 else "less")
        if parsed(went[1]):
            percent = abs(change) / abs(parsed(went[1])) * 100
            assert moved[3], said
            assert abs(percent - parsed(moved[3])) <= Decimal("0.5")
        else:
            assert moved[3] is None  # Of nothing, no percentage.
    limits = re.search(rf"expected between {NUMBER} and {NUMBER} s", said)
    assert limits, said
    assert near(limits[1], plain[1].lower)
    assert near(limits[2], plain[1].upper)
    shares = re.search(r"met in (\d+)% of the weeks before and (\d+)% after", said)
    assert shares, said
    for text, values in zip(shares.groups(), (before, after), strict=True):
        meeting = sum(v >= target if direction is Direction.HIGHER else v <= target for v in values)
        assert abs(100 * meeting / len(values) - int(text)) <= 0.5
    assert f"(Before: {len(before)} weeks; After: {len(after)} weeks)" in said
