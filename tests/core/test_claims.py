"""Every claim of the sentence, read back from its text and checked by plain loops."""

import math
import re
from decimal import ROUND_HALF_UP, Decimal
from itertools import pairwise

from hypothesis import event, given, settings
from hypothesis import strategies as st

from fluctus.core import Analysis, Direction, SegmentSettings, Series, Settings, analyse
from fluctus.core.context import level_of
from fluctus.core.judgment import false_alarms
from fluctus.core.words import NumberStyle, compare
from fluctus.core.words.sentence import LINE, summarise
from fluctus.core.words.wording import SMALL_NUMBERS, Words
from tests.core.test_happenings import gathered

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
        self.values = values
        reach = 2.66 * sum(ranges) / len(ranges)
        self.upper, self.lower = self.average + reach, self.average - reach
        if floor is not None:
            self.lower = max(self.lower, floor)
        self.floor = floor

    def is_beyond(self, value: float) -> bool:
        room = 1e-9 * max(abs(value), abs(self.upper), abs(self.lower))
        held = self.floor is not None and self.lower == self.floor
        return value > self.upper + room or (value < self.lower - room and not held)


def near(text: str, value: float) -> bool:
    """Whether a number as written is ``value``, but for the last digit of a sum."""
    return abs(float(parsed(text)) - value) <= 0.0500001


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
    headline, detail = (text.replace("\xa0", " ") for text in (said.headline, said.detail))
    own = Plain(values[starts[-1] :], floor)
    if _says_a_kind(headline, values):
        assert "expect" not in detail
        return
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
    _check_findings(detail, chart, values[starts[-1] :])
    few = f" Provisional limits: {len(values) - starts[-1]} of 17 weeks."
    if len(values) - starts[-1] < 17:
        # What matters less goes where there is no room for all.
        assert few.strip() in detail or len(detail + few) > LINE
    else:
        assert "Provisional" not in detail
    beyond = sum(own.is_beyond(value) for value in own.values)
    tail = sum(
        math.comb(len(own.values), k) * 0.01**k * 0.99 ** (len(own.values) - k)
        for k in range(beyond, len(own.values) + 1)
    )
    if tail < 0.001:
        event("not predictable")
        were = "was" if beyond == 1 else "were"
        assert headline == (
            f"Ramp cycle: not predictable, {beyond} of the {len(own.values)} weeks {were} "
            "beyond the limits."
        )
        assert "expect" not in detail
        if target is not None:
            met = sum(
                value >= target if direction is Direction.HIGHER else value <= target
                for value in own.values
            )
            assert f"{met} met the target of {target:.1f} s." in detail
        return
    _check_level(headline, before if after else None, own)
    limits = re.search(rf"between {NUMBER} and {NUMBER} s", detail)
    assert limits, detail
    assert near(limits[1], own.lower)
    assert near(limits[2], own.upper)
    _check_target(detail, own, target, direction)


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


def _check_findings(detail: str, chart: Analysis, values: list[float]) -> None:
    """The count of findings, and what chance alone would bring beside it."""
    last = len(chart.segments) - 1
    signals = list(chart.signals)
    count = sum(signals[min(group)].segment == last for group, _ in gathered(chart))
    said = re.search(
        r"(\S+) findings? (?:so far|in this segment)(; about ([\d.]+) by chance)?", detail
    )
    if said is None:
        # Only where there was no room for it.
        assert len(detail) > LINE - 70, detail
        return
    assert (0 if said[1] == "No" else count_of(said[1])) == count
    assert ("finding " in said[0]) is (count == 1)
    if count and len(values) >= 20:
        expected = len(values) / false_alarms(chart.settings.rules).average_points
        assert said[3] is not None
        assert abs(float(said[3]) - expected) <= (0.5 if expected >= 1.5 else 0.05)
    else:
        assert said[2] is None


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
        "Any week can be expected to meet"
        if all(meets)
        else "Some weeks meet"
        if any(meets)
        else "does not reach"
    )
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
