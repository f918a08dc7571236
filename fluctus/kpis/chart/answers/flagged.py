"""What is flagged of a chart, as the API answers with it: all of it, or thinned with counts."""

from dataclasses import asdict, dataclass, replace

import numpy as np

from fluctus.core import Signal
from fluctus.core.analysis import RULES
from fluctus.core.arrays import Bools, Ints
from fluctus.core.judgment import Happening
from fluctus.core.words import Explanation, explain
from fluctus.kpis.chart import shapes
from fluctus.kpis.chart.analysis.chart import Chart

MOST_SIGNALS = 60
"""More than so many in view are thinned: the weightiest of each stretch stands for the others."""
STRETCHES = 40
MOST_POINTS = 6
"""More flagged points of one signal, in a view that is thinned, are told by some of them."""
MOST_TOLD = 24
"""Newest findings that are told beside a chart; the log has the others."""
SWINGS = "among the smallest quarter, and small ones swing more."
MOST_EVIDENCE = 6
"""Further signals of a finding that are told beside a chart."""


@dataclass(frozen=True, slots=True)
class Flagged:
    """The signals that are told, by their number, and how many each stands for."""

    signals: dict[int, Signal]
    counts: dict[int, int]
    in_view: int

    @property
    def points(self) -> list[int]:
        """The positions that they are drawn at."""
        return [point for signal in self.signals.values() for point in self.told_of(signal)]

    @property
    def is_thinned(self) -> bool:
        """Whether some stand for others."""
        return self.in_view > len(self.signals)

    def told_of(self, signal: Signal) -> tuple[int, ...]:
        """Return the points of a signal that are told: a long one's are thinned as well."""
        count = len(signal.points)
        if not self.is_thinned or count <= MOST_POINTS:
            return signal.points
        chosen = np.unique(np.linspace(0, count - 1, MOST_POINTS).astype(np.intp))
        furthest = int(np.argmax(np.abs(np.array(signal.values) - signal.centre)))
        return tuple(signal.points[at] for at in sorted({*chosen.tolist(), furthest}))


def flagged_in(chart: Chart, start: int, stop: int) -> Flagged:
    """Return the signals that reach into the positions from ``start`` to ``stop``."""
    signals = chart.analysis.signals
    numbers = signals.reaching_into(start, stop)
    in_view = len(numbers)
    counts = np.ones(in_view, np.intp)
    if in_view > MOST_SIGNALS:
        numbers, counts = _weightiest(chart, numbers, start, stop)
    return Flagged(
        {number: signals[number] for number in numbers.tolist()},
        dict(zip(numbers.tolist(), counts.tolist(), strict=True)),
        in_view,
    )


def noticed(chart: Chart, flagged: Flagged, most_aside: int) -> Bools:
    """Tell which positions are drawn however few are, shape (n,).

    Flagged ones that are told, the newest that take no part, and where segments begin.
    """
    keep = np.zeros(len(chart.observations), np.bool_)
    keep[flagged.points] = True
    keep[np.flatnonzero(chart.observations.no_part)[-most_aside:]] = True
    keep[[segment.start for segment in chart.analysis.segments if segment.start < len(keep)]] = True
    return keep


def _weightiest(chart: Chart, numbers: Ints, start: int, stop: int) -> tuple[Ints, Ints]:
    """Return the weightiest signal of each stretch of the view, and how many there are in it."""
    signals = chart.analysis.signals
    firsts = np.clip(signals.firsts[numbers], start, stop - 1) - start
    stretch = firsts * STRETCHES // max(1, stop - start)
    order = np.lexsort((-firsts, signals.weights[numbers], stretch))
    heads = np.flatnonzero(np.diff(stretch[order], prepend=-1))
    counts = np.diff(np.append(heads, len(order)))
    return numbers[order[heads]], counts


def explained(signal: Signal, chart: Chart) -> Explanation:
    """Say why a signal is one, and where it is by a small denominator."""
    said = explain(signal, chart.words)
    if not chart.swinging[list(signal.points)].all():
        return said
    which = "Its denominator is" if len(signal.points) == 1 else "Their denominators are"
    return replace(said, text=f"{said.text} {which} {SWINGS}")


def uneven_denominators(chart: Chart) -> list[str]:
    """Say that denominators differ so much that small ones swing more."""
    below = chart.observations.denominators
    if below is None or not chart.swinging.any():
        return []
    own = np.abs(below[chart.analysis.included_in(len(chart.analysis.segments) - 1)])
    return [
        f"The denominators go from {np.nanmin(own):,.6g} to {np.nanmax(own):,.6g}: values of "
        "periods with small ones swing more."
    ]


def signal_answers(chart: Chart, flagged: Flagged) -> list[shapes.Signal]:
    """Return the signals that are told."""
    return [
        shapes.Signal(
            rule=signal.rule,
            mark=RULES[signal.rule].mark,
            judges=RULES[signal.rule].judges,
            side=signal.side,
            segment=signal.segment,
            points=flagged.told_of(signal),
            count=len(signal.points),
            stands_for=flagged.counts[number],
            label=chart.words.label(signal.points[0]),
            **asdict(explained(signal, chart)),
            level=signal.level,
            sigmas=signal.sigmas,
            favorable=signal.favorable,
        )
        for number, signal in flagged.signals.items()
    ]


def happening_answers(
    chart: Chart, flagged: Flagged, start: int, stop: int
) -> tuple[list[shapes.Happening], int]:
    """Return the newest findings in view, and how many there are of the whole chart."""
    every = chart.happenings
    raised = every.raised_by(chart.raising)
    places = {number: at for at, number in enumerate(flagged.signals)}
    in_view = raised & every.reaching_into(start, stop)
    told = []
    for happening in every.newest(MOST_TOLD, in_view):
        at = [places[number] for number in happening.numbers if number in places]
        told.append(_happening(happening, at, chart))
    return told, int(raised.sum())


def _happening(happening: Happening, places: list[int], chart: Chart) -> shapes.Happening:
    lead, *others = happening.signals
    said = explained(lead, chart)
    return shapes.Happening(
        signals=places,
        first=chart.observations.text(happening.points[0]),
        last=chart.observations.text(happening.points[-1]),
        lead_first=chart.observations.text(lead.points[0]),
        lead_last=chart.observations.text(lead.points[-1]),
        position=lead.points[0],
        label=chart.words.label(lead.points[0]),
        mark=RULES[lead.rule].mark,
        title=said.title,
        text=said.text,
        evidence=[explain(signal, chart.words).title for signal in others[:MOST_EVIDENCE]],
    )
