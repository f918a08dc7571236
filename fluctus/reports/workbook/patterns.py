"""What limits follow, as formulas: the line of a trend, the relatives of a season.

Which values take part is known when the workbook is made; what they come to is computed from the
column of values, so that a value which is changed changes the pattern as well.
"""

from dataclasses import dataclass

import numpy as np

from fluctus.core import Analysis, Pattern
from fluctus.core.arrays import Floats, Ints
from fluctus.reports.workbook import columns as at
from fluctus.reports.workbook.columns import Layout


@dataclass(frozen=True, slots=True)
class SegmentPattern:
    """What the limits of one segment follow, over the values of its window that take part."""

    number: int
    first: int
    last: int
    members: Ints
    """Positions of the values that take part, shape (m,)."""
    distances: Floats
    """Of each position of the segment from the middle of these, in periods; empty in a season."""
    start: int
    places: Ints
    """The place in the season of each position of the chart; empty on a trend."""
    length: int

    @classmethod
    def of(cls, analysis: Analysis, number: int) -> "SegmentPattern | None":
        """Return what a segment follows; None where it is level."""
        segment, chosen = analysis.segments[number], analysis.settings.segments[number]
        if segment.pattern is Pattern.LEVEL:
            return None
        first, stop = chosen.window or (segment.start, segment.stop)
        members = np.flatnonzero(analysis.series.included[first:stop]).astype(np.intp) + first
        nothing = np.empty(0, np.intp)
        if chosen.season is not None:
            places, length = chosen.season.places, chosen.season.length
            return cls(number, first, stop - 1, members, np.empty(0), segment.start, places, length)
        positions = np.arange(segment.start, segment.stop, dtype=np.float64)
        distances = positions - float(members.mean())
        return cls(number, first, stop - 1, members, distances, segment.start, nothing, 0)

    def rise(self, layout: Layout) -> str:
        """Return the slope of the least-squares line, as a formula."""
        off = self.distances[self.members - self.start]
        taken, distances = (
            layout.held_stretch(column, self.first, self.last) for column in (at.TAKEN, at.DISTANCE)
        )
        return f"=SUMPRODUCT({distances},{taken})/{float(off @ off)!r}"

    def of_place(self, slot: int, layout: Layout) -> list[str]:
        """Return mean, ratio to the mean of all, times and plus of a place, as formulas.

        Where a value is zero or below, differences in place of ratios.
        """
        number = self.number
        taken, places = (
            layout.held_stretch(column, self.first, self.last) for column in (at.TAKEN, at.PLACE)
        )
        count = int(np.count_nonzero(self.places[self.members] == slot))
        mean, ratio = (layout.of_season(column, number, slot) for column in (at.N_MEAN, at.N_RATIO))
        everything = f"SUM({taken})/{len(self.members)}"
        ratios = layout.season_stretch(at.N_RATIO, number)
        means = layout.season_stretch(at.N_MEAN, number)
        above_zero = f"MIN({taken})>0"
        return [
            f"=SUMIF({places},{slot + 1},{taken})/{count}",
            f'=IF({everything}=0,"",{mean}/({everything}))',
            f"=IF({above_zero},{ratio}*{self.length}/SUM({ratios}),1)",
            f"=IF({above_zero},0,{mean}-AVERAGE({means}))",
        ]

    def at_position(self, position: int, layout: Layout) -> tuple[str, str]:
        """Return what a level is multiplied by and what is added to it there, as formulas."""
        if self.length:
            slot = int(self.places[position])
            return (
                f"={layout.of_season(at.N_TIMES, self.number, slot)}",
                f"={layout.of_season(at.N_PLUS, self.number, slot)}",
            )
        rise = layout.of_segment(self.number, at.S_RISE)
        return "=1", f"={rise}*{layout.cell(at.DISTANCE, position)}"


def drawn_by(analysis: Analysis) -> tuple[Floats, Floats] | None:
    """Return what levels are drawn by at each position: factors and amounts; None: level."""
    if analysis.followed is None:
        return None
    nothing = np.zeros(len(analysis.series.values))
    amount = analysis.followed.drawn(nothing)
    return analysis.followed.drawn(nothing + 1.0) - amount, amount
