"""What the rail shows of a KPI: kept with it, and made anew by every write."""

from dataclasses import asdict
from typing import Any

from fluctus.core import Pattern, Rule, Signal
from fluctus.core.analysis import RULES, Judges
from fluctus.kpis.chart.analysis.chart import Chart

STRIP_LENGTH = 26
FORMAT = 6
"""Of what is kept with a chart; one of an earlier format is made anew when the program starts."""
RECENT = 12
"""A signal that reaches into this many last values is marked in the rail."""


def digest_of(chart: Chart) -> dict[str, Any]:
    """Return the latest value, the last few for a strip, and the newest recent signal.

    Of fixed size, however long the KPI.
    """
    data, analysis = chart.observations, chart.analysis
    count = len(data)
    offset = max(0, count - STRIP_LENGTH)
    signals = analysis.signals
    recent = [signals[number] for number in signals.reaching_into(max(0, count - RECENT), count)]
    order = list(Rule)

    def telling(signal: Signal) -> tuple[bool, int, int]:
        # A strip shows values, so a range is marked only where nothing else is.
        of_values = RULES[signal.rule].judges is not Judges.RANGES
        return of_values, signal.points[-1], -order.index(signal.rule)

    newest = max(recent, key=telling, default=None)
    return {
        "format": FORMAT,
        "count": count,
        "latest": float(data.values[-1]) if count else None,
        "numbers": asdict(chart.words.numbers),
        "latest_period": data.text(-1) if count else None,
        "expected": _expected(chart),
        "strip": [float(value) for value in data.values[offset:]],
        "signal": newest and {"rule": newest.rule.value, "strip_index": newest.points[-1] - offset},
    }


def _expected(chart: Chart) -> list[float | None] | None:
    """Return lower limit, average and upper limit that the next value is held against.

    None where they follow a pattern, so that they are others for each period, or there are none.
    """
    last = chart.analysis.segments[-1] if chart.analysis.segments else None
    if last is None or last.average is None or last.pattern is not Pattern.LEVEL:
        return None
    return [last.lower, last.average, last.upper]
