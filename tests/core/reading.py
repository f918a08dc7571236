"""The sentence on a chart, read back from its text and checked by plain loops."""

import math
import re
from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from itertools import pairwise

from fluctus.core import Analysis, Direction, Series, Settings, analyse
from fluctus.core.judgment import Verdict, no_seasons, verdict_of
from fluctus.core.words import Background, NumberStyle, Words, summarise
from fluctus.core.words.sentence import LINE
from fluctus.core.words.wording import SMALL_NUMBERS
from tests.core.drawn import Drawn, seasons
from tests.core.test_happenings import gathered

NUMBER = r"(\N{MINUS SIGN}?[\d,]+(?:\.\d+)?)"
COUNTS = {word.lower(): n for n, word in enumerate(SMALL_NUMBERS)}


def parsed(text: str) -> Decimal:
    return Decimal(text.replace("\N{MINUS SIGN}", "-").replace(",", ""))


def written(value: float) -> Decimal:
    """A number with one decimal, as people round."""
    return Decimal(repr(value)).quantize(Decimal("0.1"), ROUND_HALF_UP) + Decimal(0)


def count_of(word: str) -> int:
    low = word.lower()
    return COUNTS[low] if low in COUNTS else int(word.replace(",", ""))


def near(text: str, value: float) -> bool:
    """Whether a number as written is ``value``, but for the last digit of a sum."""
    decimals = len(text.partition(".")[2])
    return abs(float(parsed(text)) - value) <= 0.500001 * 10.0**-decimals + 1e-9 * abs(value)


class Plain:
    """Average and limits of some values, by their definitions."""

    def __init__(self, values: list[float], floor: float | None = None) -> None:
        ranges = [abs(b - a) for a, b in pairwise(values)]
        self.average = sum(values) / len(values)
        self.values = values
        reach = 2.66 * sum(ranges) / len(ranges)
        self.upper, self.lower = self.average + reach, self.average - reach
        if floor is not None:
            self.lower = max(self.lower, floor)
        self.floor = floor

    def side_beyond(self, value: float) -> int:
        room = 1e-9 * max(abs(value), abs(self.upper), abs(self.lower))
        held = self.floor is not None and self.lower == self.floor
        below = value < self.lower - room and not held
        return 1 if value > self.upper + room else -1 if below else 0

    @property
    def beyond(self) -> int:
        return sum(self.side_beyond(value) != 0 for value in self.values)

    @property
    def is_predictable(self) -> bool:
        """Whether a process with 1 value in 100 beyond would show so many 1 time in 1,000."""
        n, k = len(self.values), self.beyond
        less = sum(math.comb(n, j) * 0.01**j * 0.99 ** (n - j) for j in range(k))
        return 1 - less >= 0.001


class Reading:
    """What the last segment of a chart of level limits claims, held against its own values.

    Periods are named by their positions, ``week 12``; missing values are passed over.
    """

    def __init__(
        self, headline: str, detail: str, analysis: Analysis, target: float | None = None
    ) -> None:
        self.headline, self.detail = (text.replace("\xa0", " ") for text in (headline, detail))
        self.analysis, self.target = analysis, target
        start = analysis.segments[-1].start
        included = analysis.series.included.tolist()
        self.positions = [at for at in range(start, len(included)) if included[at]]
        self.at = dict(enumerate(analysis.series.values.tolist()))
        self.own = Plain([self.at[at] for at in self.positions], analysis.settings.floor)

    def check(self) -> None:
        """Raise AssertionError for a claim that the values contradict."""
        assert re.match(r"\S", self.headline)
        assert self.headline.endswith("."), self.headline
        self._check_change()
        self._check_run()
        self._check_far_off()
        self._check_out_now()
        self._check_predictable()
        self._check_firmness()
        self._check_findings()
        self._check_expected()
        self._check_target()

    @property
    def changed(self) -> tuple[int, int] | None:
        """The place, or the two that it lies between, where something is said to have changed."""
        text = f"{self.headline} {self.detail}"
        if found := re.search(r"Something changed around week (\d+)", text):
            return int(found[1]), int(found[1])
        found = re.search(r"Something changed between week (\d+) and week (\d+)", text)
        return None if found is None else (int(found[1]), int(found[2]))

    def _check_change(self) -> None:
        if self.changed is None:
            assert "recalculate" not in self.detail
            return
        first, last = self.changed
        assert self.positions[0] < first <= last <= self.positions[-1]
        assert first == last or last - first > 4
        assert "expect" not in self.detail
        went = re.match(rf"Ramp cycle went from {NUMBER} to {NUMBER} s on average", self.headline)
        if went is None or first != last:
            return
        after = [self.at[at] for at in self.positions if at >= first]
        assert near(went[2], sum(after) / len(after)), self.headline
        # Before it, as far back as some earlier change, or the first value.
        before = [self.at[at] for at in self.positions if at < first]
        means = [sum(before[at:]) / len(before[at:]) for at in range(len(before))]
        assert any(near(went[1], mean) for mean in means), self.headline

    def _check_run(self) -> None:
        run = re.match(
            rf"(\S+) weeks in a row (sit|sat) (above|below) the average of {NUMBER} s",
            self.headline,
        )
        if run is None:
            return
        length, side = count_of(run[1]), 1 if run[3] == "above" else -1
        assert near(run[4], self.own.average)
        assert length >= 7
        on_side = [(self.at[at] - self.own.average) * side > 0 for at in self.positions]
        runs = "".join("x" if each else " " for each in on_side)
        stretches = [len(each) for each in runs.split()]
        assert length in stretches, self.headline
        assert run[2] == "sat" or stretches[-1] == length
        assert run[2] == "sat" or on_side[-1]
        # It is the last segment's own: not all of it, or there is nothing to shift from.
        assert length < len(on_side)

    def _check_far_off(self) -> None:
        far = re.match(
            rf"Ramp cycle: {NUMBER} s on week (\d+)(?: and (\S+) other values?)? (?:is|are) "
            rf"(?:some {NUMBER} times the others|far off the others"
            rf"(?:, which lie between {NUMBER} and {NUMBER} s)?)\.",
            self.headline,
        )
        if far is None:
            assert "far off" not in self.headline
            assert "times the others" not in self.headline
            return
        assert "expect" not in self.detail
        value = self.at[int(far[2])]
        assert near(far[1], value)
        ordered = sorted(self.own.values)
        middle = _median(ordered)
        # No further value is as near to the middle: those that are named lie outermost.
        count = 1 + (count_of(far[3]) if far[3] else 0)
        assert count <= max(1, min(3, len(ordered) // 20))
        outermost = sorted(self.own.values, key=lambda each: -abs(each - middle))[:count]
        assert value in outermost
        others = sorted(self.own.values)
        for each in outermost:
            others.remove(each)
        if far[4]:
            assert abs(value / _median(others) / float(parsed(far[4])) - 1) < 0.051
        if far[5]:
            assert near(far[5], others[0])
            assert near(far[6], others[-1])

    def _check_out_now(self) -> None:
        out = re.match(
            r"Ramp cycle: the last (?:week, "
            rf"{NUMBER} s, is|(\S+) weeks are) (above|below) the (?:upper|lower) limit of {NUMBER}",
            self.headline,
        )
        sides = [self.own.side_beyond(value) for value in self.own.values]
        if out is None:
            leads = (
                any(
                    part in self.headline
                    for part in ("changed", "far off", "times the others", "predictable", "follows")
                )
                or self._is_of_a_kind
            )
            assert leads or not sides[-1] or "keeps to" in self.headline, self.headline
            return
        side = 1 if out[3] == "above" else -1
        count = 1 if out[1] else count_of(out[2])
        assert sides[-count:] == [side] * count
        assert count == len(sides) or sides[-count - 1] != side
        assert near(out[4], self.own.upper if side > 0 else self.own.lower)
        if out[1]:
            assert near(out[1], self.own.values[-1])

    @property
    def _is_of_a_kind(self) -> bool:
        kinds = (r"(all|both) .*weeks are ", r"none in ", r".* since week \d+, changed ")
        return any(re.match(rf"Ramp cycle: {kind}", self.headline) for kind in kinds)

    def _check_predictable(self) -> None:
        if self._is_of_a_kind:
            return
        found = re.match(
            r"Ramp cycle: not predictable, (\S+) of the (\d+) weeks (?:was|were) beyond the limits"
            r"(?:, the last (?:one|(\d+)) among them)?\.",
            self.headline,
        )
        if found is not None:
            assert count_of(found[1]) == self.own.beyond
            assert int(found[2]) == len(self.own.values)
            assert not self.own.is_predictable
        if not self.own.is_predictable:
            assert "expect" not in self.detail, (self.headline, self.detail)
            assert "in random order" not in self.detail
            assert "by chance about" not in self.detail
            level = re.match(rf"Ramp cycle: {NUMBER} s on average", self.headline)
            assert level is None, self.headline
        follows = re.search(
            r"of (\S+) weeks? beyond the limits, (\S+) would remain",
            f"{self.headline} {self.detail}",
        )
        if follows is not None:
            assert count_of(follows[1]) == self.own.beyond
            remain = 0 if follows[2] == "none" else count_of(follows[2])
            assert remain <= self.own.beyond

    def _check_firmness(self) -> None:
        count = len(self.own.values)
        few = f"Provisional limits: {count} of 17 weeks."
        if self._is_of_a_kind or "limits yet" in self.detail:
            return
        if count < 17:
            # What matters less goes where there is no room for all.
            assert few in self.detail or len(f"{self.detail} {few}") > LINE
        else:
            assert "Provisional" not in self.detail

    def _check_findings(self) -> None:
        """The count of findings, and what chance alone would bring beside it."""
        last = len(self.analysis.segments) - 1
        said = re.search(
            r"(\S+) findings? (?:so far|in this segment)"
            r"(; (?:values like these in random order would bring|by chance) "
            r"(?:about ([\d.,]+)|hardly any))?",
            self.detail,
        )
        if said is None:
            return
        signals = list(self.analysis.signals)
        count = sum(signals[min(group)].segment == last for group, _ in gathered(self.analysis))
        assert (0 if said[1] == "No" else count_of(said[1])) == count
        assert ("finding " in said[0]) is (count == 1)
        enough = count and len(self.own.values) >= 20 and self.own.is_predictable
        far = "times the others" in self.headline or "far off" in self.headline
        assert (said[2] is not None) is bool(enough and not far)

    def _check_expected(self) -> None:
        limits = re.search(rf"between {NUMBER} and {NUMBER} s\.", self.detail)
        if "xpect any one week" not in self.detail:
            return
        assert limits, self.detail
        assert near(limits[1], self.own.lower)
        assert near(limits[2], self.own.upper)
        if self.target is not None:
            # A target is on the same side of a limit as written as it is in truth.
            for text, level in ((limits[1], self.own.lower), (limits[2], self.own.upper)):
                shown, wanted = parsed(text), written(self.target)
                if abs(level - self.target) > 1e-9 * max(abs(level), abs(self.target)):
                    assert (shown > wanted) is (level > self.target) or shown == wanted
                    assert shown != wanted or abs(Decimal(repr(self.target)) - wanted) > 0

    def _check_target(self) -> None:
        """What is said of the target holds for every value between the limits, or is counted."""
        direction = self.analysis.settings.direction
        if self.target is None:
            assert "target" not in self.detail
            return

        def meets(value: float) -> bool:
            room = 1e-9 * max(abs(value), abs(self.target or 0.0))
            if direction is Direction.HIGHER:
                return value >= (self.target or 0.0) - room
            return value <= (self.target or 0.0) + room

        bounds = [meets(level) for level in (self.own.lower, self.own.upper)]
        if "can be expected to meet" in self.detail:
            assert all(bounds), self.detail
        if "does not reach" in self.detail:
            assert not any(bounds), self.detail
        met = sum(meets(value) for value in self.own.values)
        said = re.search(r"(None of|All|\S+ of) (\d+) weeks met the target", self.detail)
        if said is not None:
            assert int(said[2]) == len(self.own.values)
            word = said[1].removesuffix(" of")
            count = 0 if word == "None" else int(said[2]) if word == "All" else count_of(word)
            assert count == met, self.detail


def read(drawn: Drawn, target: float) -> tuple[Analysis, Verdict, Reading]:
    """Judge a drawn series and read its sentence; a lower value is better."""
    chart = analyse(Series(drawn.values), Settings(direction=Direction.LOWER))
    words = Words("Ramp cycle", NumberStyle("s", 0, 1, 1), "week", "week {}".format, ("",), target)
    verdict = verdict_of(chart, seasons(season=drawn.season) if drawn.season else no_seasons)
    offered = verdict.offered
    pattern = "" if offered is None else "the season" if offered.key else "a trend"
    said = summarise(chart, words, Background(verdict, pattern=pattern))
    return chart, verdict, Reading(said.headline, said.detail, chart, target)


def _median(ordered: Sequence[float]) -> float:
    middle = len(ordered) // 2
    return ordered[middle] if len(ordered) % 2 else (ordered[middle - 1] + ordered[middle]) / 2
