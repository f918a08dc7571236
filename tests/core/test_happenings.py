"""Happenings, gathered anew by plain loops from the words of the definition."""

from hypothesis import given
from hypothesis import strategies as st

from fluctus.core import RULES, Analysis, Rule, SegmentSettings, Series, Settings, Side, analyse
from fluctus.core.judgment import happenings_of

STEPS = st.lists(
    st.one_of(st.integers(0, 6), st.integers(0, 30), st.none()), min_size=1, max_size=60
)


def gathered(chart: Analysis) -> list[tuple[set[int], set[int]]]:
    """The signals of each happening by number, and its points."""
    signals = list(chart.signals)
    present = [n for n, taken in enumerate(chart.series.included) if taken]

    def counted(number: int) -> set[int]:
        points = set(signals[number].points)
        if signals[number].rule is Rule.RANGE_OUTSIDE_LIMIT:
            points |= {max(p for p in present if p < point) for point in points}
        return points

    def alike(one: int, other: int) -> bool:
        a, b = signals[one], signals[other]
        return a.segment == b.segment and bool(counted(one) & counted(other))

    def joined(numbers: list[int], same_side: bool) -> list[set[int]]:
        groups: list[set[int]] = []
        for number in numbers:
            mine = [
                group
                for group in groups
                if any(
                    alike(number, other)
                    and (not same_side or signals[number].side is signals[other].side)
                    for other in group
                )
            ]
            groups = [group for group in groups if group not in mine]
            groups.append({number}.union(*mine))
        return groups

    ranges = [n for n, s in enumerate(signals) if s.rule is Rule.RANGE_OUTSIDE_LIMIT]
    sided = [n for n, s in enumerate(signals) if n not in ranges and s.side is not Side.NEITHER]
    alone = [{n} for n in range(len(signals)) if n not in ranges and n not in sided]
    groups = joined(sided, same_side=True)
    points_of = [set().union(*(counted(n) for n in group)) for group in groups]
    joining: dict[int, list[int]] = {}
    lonely = []
    for number in ranges:
        shared = [
            len(counted(number) & points)
            if signals[number].segment == signals[min(group)].segment
            else 0
            for group, points in zip(groups, points_of, strict=True)
        ]
        if max(shared, default=0):
            best = max(range(len(groups)), key=lambda g: (shared[g], max(points_of[g])))
            joining.setdefault(best, []).append(number)
        else:
            lonely.append(number)
    for group, numbers in joining.items():
        groups[group] |= set(numbers)
    groups += alone + joined(lonely, same_side=False)
    return [(group, {p for n in group for p in signals[n].points}) for group in groups]


@given(STEPS, st.integers(0, 3), st.sampled_from([7, 8]), st.booleans())
def test_signals_that_say_the_same_are_one_happening(
    values: list[int | None], cuts: int, run_length: int, every_rule: bool
) -> None:
    known = [float("nan") if value is None else value for value in values]
    aside = [n % 11 == 7 for n in range(len(values))]
    starts = sorted({0, *(n * len(values) // 4 for n in range(1, cuts + 1))})
    rules = frozenset(RULES) if every_rule else Settings().rules
    chart = analyse(
        Series(known, aside),
        Settings(tuple(map(SegmentSettings, starts)), rules=rules, run_length=run_length),
    )
    found = happenings_of(chart)
    plain = gathered(chart)
    assert len(found) == len(plain)
    signals = list(chart.signals)
    happenings = found.newest(len(plain))
    as_sets = [
        (frozenset(signals.index(signal) for signal in one.signals), frozenset(one.points))
        for one in happenings
    ]
    assert set(as_sets) == {(frozenset(group), frozenset(points)) for group, points in plain}
    order = [
        Rule.OUTSIDE_LIMITS,
        Rule.RUN,
        Rule.TWO_OF_THREE_BEYOND_TWO_SIGMA,
        Rule.FOUR_OF_FIVE_BEYOND_ONE_SIGMA,
        Rule.NEAR_LIMIT,
        Rule.SIX_TRENDING,
    ]
    for one in happenings:
        for signal in one.signals[1:]:
            if signal.rule in order:
                assert one.lead.rule in order
                assert order.index(one.lead.rule) <= order.index(signal.rule)
        if one.lead.rule is Rule.RANGE_OUTSIDE_LIMIT:
            assert {signal.rule for signal in one.signals} == {Rule.RANGE_OUTSIDE_LIMIT}
    firsts = [one.points[0] for one in happenings]
    assert firsts == sorted(firsts)
    assert [one.points for one in found.newest(2)] == [one.points for one in happenings[-2:]]


def test_a_spike_with_its_two_ranges_is_one_happening() -> None:
    values = [5, 6, 5, 7, 6, 5, 6, 5, 6, 7, 40, 6, 5, 6, 7, 5, 6]
    settings = Settings((SegmentSettings(window=(0, 10)),))
    (one,) = happenings_of(analyse(Series(values), settings)).newest(9)
    assert [signal.rule for signal in one.signals] == [
        Rule.OUTSIDE_LIMITS,
        Rule.RANGE_OUTSIDE_LIMIT,
    ]
    assert one.points == (10, 11)
