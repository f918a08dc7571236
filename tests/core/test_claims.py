"""Every claim of the sentence, read back from its text and checked by plain loops."""

import re
from decimal import ROUND_HALF_UP, Decimal
from itertools import pairwise

from hypothesis import event, given
from hypothesis import strategies as st

from fluctus.core import Direction, SegmentSettings, Series, Settings, analyse
from fluctus.core.context.comparison import level_of
from fluctus.core.words.comparison_sentence import compare
from fluctus.core.words.sentence import LINE, summarise
from fluctus.core.words.wording import SMALL_NUMBERS, Words

NUMBER = r"(\N{MINUS SIGN}?[\d,]+\.\d)"
COUNTS = {word: n for n, word in enumerate(SMALL_NUMBERS)}


def parsed(text: str) -> Decimal:
    return Decimal(text.replace("\N{MINUS SIGN}", "-").replace(",", ""))


def written(value: float) -> Decimal:
    """A number with one decimal, as people round."""
    return Decimal(repr(value)).quantize(Decimal("0.1"), ROUND_HALF_UP) + Decimal(0)


def count_of(word: str) -> int:
    return COUNTS[word] if word in COUNTS else int(word.replace(",", ""))


class Plain:
    """Average and limits of some values, by their definitions."""

    def __init__(self, values: list[float], floor: float | None) -> None:
        ranges = [abs(b - a) for a, b in pairwise(values)]
        self.average = sum(values) / len(values)
        reach = 2.66 * sum(ranges) / len(ranges)
        self.upper, self.lower = self.average + reach, self.average - reach
        if floor is not None:
            self.lower = max(self.lower, floor)


def near(text: str, value: float) -> bool:
    """Whether a number as written is ``value``, but for the last digit of a sum."""
    return abs(float(parsed(text)) - value) <= 0.0500001


VALUES = st.lists(st.integers(0, 400).map(lambda n: n / 10), min_size=6, max_size=40)


@given(
    VALUES,
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
    settings = Settings(tuple(map(SegmentSettings, starts)), floor=floor, direction=direction)
    chart = analyse(Series(values), settings)
    words = Words("Ramp cycle", "s", 1, "week", "week {}".format, ("",) * len(starts), target)
    said = summarise(chart, words)
    headline, detail = (text.replace("\xa0", " ") for text in (said.headline, said.detail))
    own = Plain(values[starts[-1] :], floor)

    run = re.match(
        rf"(\S+) weeks in a row (sit|sat) (above|below) the average of {NUMBER} s", headline
    )
    if run:
        event("a run")
        first = int(headline.rsplit("week ", 1)[1].rstrip("."))
        length, side = count_of(run[1]), 1 if run[3] == "above" else -1
        assert near(run[4], own.average)
        assert length >= 8
        assert first > starts[-1]
        assert all((value - own.average) * side > 0 for value in values[first : first + length])
        assert (run[2] == "sit") is (first + length == len(values))
        return
    level = re.match(rf"Ramp cycle: {NUMBER} s on average", headline)
    assert level, headline
    assert near(level[1], own.average)
    changed = re.search(rf"{NUMBER} s (more|less) than before", headline)
    if after is None:
        assert changed is None
    elif changed:
        was = written(sum(before) / len(before))
        difference = parsed(level[1]) - was
        assert abs(abs(difference) - parsed(changed[1])) <= Decimal("0.1")
        assert (difference > 0) is (changed[2] == "more")
    else:
        assert headline.endswith("the same as before.")

    limits = re.search(rf"between {NUMBER} and {NUMBER} s", detail)
    assert limits, detail
    assert near(limits[1], own.lower)
    assert near(limits[2], own.upper)
    signals = re.search(r"(\S+) signals? (so far|in this segment)", detail)
    assert signals, detail
    last = [one for one in chart.signals if one.segment == len(starts) - 1]
    assert (0 if signals[1] == "No" else count_of(signals[1])) == len(last)
    assert ("signal " in signals[0]) is (len(last) == 1)
    few = f" Provisional limits: {len(values) - starts[-1]} of 17 weeks."
    if len(values) - starts[-1] < 17:
        # What matters less goes where there is no room for all.
        assert detail.endswith(few) or len(detail + few) > LINE
    else:
        assert "Provisional" not in detail
    _check_target(detail, own, target, direction)


def _check_target(detail: str, own: Plain, target: float | None, direction: Direction) -> None:
    """What is said of the target holds for every value between the limits, or for some."""
    if target is None:
        assert "target" not in detail
        return
    if min(abs(own.lower - target), abs(own.upper - target)) < 1e-9:
        return  # A limit on the target, but for a rounding error: either may be said.
    meets = [
        level >= target if direction is Direction.HIGHER else level <= target
        for level in (own.lower, own.upper)
    ]
    verdict = (
        "Any week can be expected to meet" if all(meets)
        else "Some weeks meet" if any(meets)
        else "does not reach"
    )  # fmt: skip
    event(verdict)
    assert verdict in detail, detail


@given(
    VALUES,
    VALUES,
    st.integers(0, 400).map(lambda n: n / 10),
    st.sampled_from([Direction.HIGHER, Direction.LOWER]),
)
def test_a_comparison_can_be_checked_from_its_own_words(
    before: list[float], after: list[float], target: float, direction: Direction
) -> None:
    settings = Settings((SegmentSettings(), SegmentSettings(len(before))), direction=direction)
    chart = analyse(Series(before + after), settings)
    words = Words("Ramp cycle", "s", 1, "week", str, target=target)
    was, now = (level_of(chart, number, target) for number in (0, 1))
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
        moved = re.search(rf"{NUMBER} s (more|less)(?: \((\d+) %\))?", said)
        assert moved, said
        assert parsed(moved[1]) == abs(change)
        assert moved[2] == ("more" if change > 0 else "less")
        if parsed(went[1]):
            percent = abs(change) / abs(parsed(went[1])) * 100
            assert moved[3], said
            assert abs(percent - int(moved[3])) <= Decimal("0.5")
        else:
            assert moved[3] is None  # Of nothing, no percentage.
    limits = re.search(rf"expected between {NUMBER} and {NUMBER} s", said)
    assert limits, said
    assert near(limits[1], plain[1].lower)
    assert near(limits[2], plain[1].upper)
    shares = re.search(r"met in (\d+) % of the weeks before and (\d+) % after", said)
    assert shares, said
    for text, values in zip(shares.groups(), (before, after), strict=True):
        meeting = sum(v >= target if direction is Direction.HIGHER else v <= target for v in values)
        assert abs(100 * meeting / len(values) - int(text)) <= 0.5
    assert f"(Before: {len(before)} weeks; After: {len(after)} weeks)" in said
