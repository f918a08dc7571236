"""What the sentence claims of series whose truth is known, counted.

Series of over forty kinds are drawn with a seed: levels, steps, fades, trends, seasons with and
without steps, values that wander, follow each other, are skewed, heavy-tailed, far off, counts,
shares, tied, short. What is claimed is read back from the text of the sentence by plain loops,
and held against what truly happened. Beside it, in the same run, what a claim by runs alone
would say, which is what is claimed without evidence.

    python -m bench.claims           5,000 series
    python -m bench.claims 20        twenty of each kind
"""

import sys
from collections import Counter

from fluctus.core import Rule
from tests.core.drawn import KINDS, STEPPED, STILL, draw
from tests.core.reading import read

ALL = 5_000
TARGET = 51.0
WITHIN = 2
LARGE = 2.0
"""Sigma from which on a change is to be dated."""


def main(each: int) -> None:
    """Draw so many series of each kind, and print what was claimed of them."""
    counts: dict[str, Counter[str]] = {kind: Counter() for kind in KINDS}
    contradicted = 0
    for kind in KINDS:
        for number in range(each):
            contradicted += _look(kind, number, counts[kind])
    print(f"{each * len(KINDS):,} series of {len(KINDS)} kinds, in 100 of each:")
    print(f"{'':28}change  by runs alone  dated within {WITHIN}  season  not predictable")
    for kind, count in counts.items():
        share = f"{_in_100(count['dated'], count['claimed']):.0f}" if count["dated"] else ""
        change, runs, season, wild = (
            _in_100(count[what], each) for what in ("claimed", "runs", "season", "unpredictable")
        )
        print(f"{kind:28}{change:6.1f}{runs:15.1f}{share:>16}{season:8.1f}{wild:17.1f}")
    still = [counts[kind] for kind in STILL]
    sized = [counts[kind] for kind, (_, sizes) in STEPPED.items() if min(map(abs, sizes)) >= LARGE]
    others = [count for kind, count in counts.items() if not draw(kind, 0).seasonal]
    over_all, by_runs = (
        _in_100(sum(count[what] for count in still), each * len(still))
        for what in ("claimed", "runs")
    )
    worst = _in_100(max(count["claimed"] for count in still), each)
    print(f"by runs alone, false claims of a change in 100: {by_runs:.1f}")
    print(f"false claims of a change in 100, over all: {over_all:.2f}   (at most 2)")
    print(f"false claims of a change in 100 of the worst kind: {worst:.1f}   (at most 5)")
    right, told = (sum(count[what] for count in sized) for what in ("dated", "claimed"))
    dated = _in_100(right, told)
    print(f"changes of 2 sigma dated within 2 periods in 100: {dated:.1f}   (at least 90)")
    seasons = _in_100(max(count["season"] for count in others), each)
    print(f"false seasons in 100 of the worst kind: {seasons:.1f}   (at most 3)")
    print(f"sentences that their own data contradict: {contradicted}   (at most 0)")


def _in_100(count: int, of: int) -> float:
    return 100 * count / of


def _look(kind: str, number: int, count: Counter[str]) -> int:
    drawn = draw(kind, number)
    chart, verdict, reading = read(drawn, TARGET)
    runs = [signal for signal in chart.signals if signal.rule is Rule.RUN]
    count["runs"] += any(
        run.points[0] > 0 and run.points[-1] >= len(drawn.values) - len(run.points) for run in runs
    )
    count["season"] += "follows the season" in f"{reading.headline} {reading.detail}"
    count["unpredictable"] += "not predictable" in reading.headline
    if reading.changed is not None:
        count["claimed"] += 1
        count["dated"] += any(
            verdict.change is not None and abs(place - verdict.change.position) <= WITHIN
            for place in drawn.changes
        )
    try:
        reading.check()
    except AssertionError as error:
        print(f"{kind} {number}: {reading.headline} {reading.detail}\n  {error}")
        return 1
    return 0


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else -(-ALL // len(KINDS)))
