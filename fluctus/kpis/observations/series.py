"""The values of a chart: one per period of the grain shown, made from those that are stored."""

from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from typing import TypeVar
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from fluctus.core import Aggregation, Parts, aggregate, coarser
from fluctus.core.arrays import Bools, Floats, Ints
from fluctus.kpis.calendar import ADVERBS, Calendar, Grain, label, to_text, to_texts
from fluctus.kpis.observations.missing import missing_before
from fluctus.kpis.observations.stored import Stored

Kind = TypeVar("Kind", bound=np.generic)
COUNTED = (Aggregation.SUM, Aggregation.COUNT)
"""Made from parts that must all be there: without one, the period is not what it would be."""


@dataclass(frozen=True, slots=True)
class Observations:
    """A KPI's values in time order, one for each period of ``grain`` that has any.

    ``instants`` are the starts of their periods, in whole seconds since 1970:
    numbers are read and searched many times faster than datetimes. ``stored``
    is the grain that settings are written in; ``grain`` may be a coarser one.
    """

    instants: Floats
    values: Floats
    set_aside: Bools
    reasons: dict[int, str]
    """Why a value is set aside, by its position."""
    grain: Grain
    calendar: Calendar
    stored: Grain
    basis: str = ""
    """How each value was made, in words: ``weekly mean of 212 rows``."""
    targets: Floats | None = None
    """The target of each period, where it changes over time; NaN where there is none."""
    targets_high: Floats | None = None
    """The high side of each, where it is a range; ``targets`` has the low one."""
    notes: dict[int, str] = field(default_factory=dict)
    incomplete: bool = False
    """Whether the last period is not over; it then takes no part."""
    holds_until: datetime | None = None
    """When time alone makes others of them, as the last period begins or ends; None: never."""
    now: datetime | None = None
    """When it is; None where that is not asked."""
    irregular: bool = False
    """Whether values come when they come, so that no period is missing."""
    part: str = ""
    """The one breakdown these are values of, which need not have every period; "" for the whole."""
    summed: bool = False
    """Whether values are sums of other periods, or a part of sums: a level set for the
    stored periods as a whole, such as the KPI's target, does not hold for them."""
    remarks: tuple[str, ...] = ()
    """What could not keep its meaning at this grain, in words."""
    numerators: Floats | None = None
    denominators: Floats | None = None
    """Those of a ratio, in the order of its values."""
    times: float = 1.0
    """What numerators by denominators are multiplied by."""
    breakdowns: dict[str, Floats] = field(default_factory=dict)
    """The values of each breakdown, where a value of the whole is an average of several."""

    def __len__(self) -> int:
        return len(self.values)

    @property
    def zone(self) -> ZoneInfo:
        """The time zone that periods are written in."""
        return self.calendar.zone

    @property
    def no_part(self) -> Bools:
        """Which values take no part: those set aside, and an incomplete last one."""
        if not self.incomplete:
            return self.set_aside
        without = self.set_aside.copy()
        without[-1] = True
        return without

    def period(self, position: int) -> datetime:
        """Return the start of the period at ``position``, in UTC; negative counts from the end."""
        return datetime.fromtimestamp(self.instants[position], UTC)

    def text(self, position: int) -> str:
        """Write the period at ``position``."""
        return to_text(self.period(position), self.grain, self.zone)

    def texts(self, positions: Ints) -> list[str]:
        """Write the periods at some positions, all at once."""
        return to_texts(self.instants[positions], self.grain, self.zone)

    def label(self, position: int) -> str:
        """Name the period at ``position`` for people."""
        return self.name(self.period(position))

    def name(self, period: datetime) -> str:
        """Name any period for people."""
        beside = self.now or (self.period(-1) if len(self) else None)
        return label(period, self.grain, self.zone, beside)

    def ahead(self, count: int) -> str:
        """Name the period so many after the last one."""
        period = self.period(-1)
        for _ in range(count):
            period = self.calendar.following(period, self.grain)
        return self.name(period)

    def position_of(self, period: datetime) -> int | None:
        """Return where ``period`` is; None where it has no value."""
        position = int(np.searchsorted(self.instants, period.timestamp()))
        is_there = position < len(self) and self.instants[position] == period.timestamp()
        return position if is_there else None

    @property
    def missing_before(self) -> Ints:
        """How many periods before each one, since the last that has a value, have none."""
        if self.irregular:
            return np.zeros(len(self), np.intp)
        return missing_before(self.instants, self.grain, self.calendar)

    def ratio_over(self, positions: Bools) -> tuple[float, float, float] | None:
        """Return the ratio of the sums over some positions, shape (n,), with both sums.

        None where this is no ratio, or where one of both is not known.
        """
        if self.numerators is None or self.denominators is None:
            return None
        above, below = (
            float(side[positions].sum()) for side in (self.numerators, self.denominators)
        )
        if np.isnan(above) or np.isnan(below) or not below:
            return None
        return self.times * above / below, above, below

    def with_mixed(self, positions: dict[int, str]) -> "Observations":
        """Set some periods aside that mix two segments, each with its reason."""
        aside = self.set_aside.copy()
        aside[list(positions)] = True
        return replace(self, set_aside=aside, reasons=self.reasons | positions)


@dataclass(frozen=True, slots=True)
class Shown:
    """How stored values become those of a chart."""

    stored: Grain
    grain: Grain
    calendar: Calendar
    how: Aggregation
    breakdown: str | None = None
    limited: bool = False
    """Whether the KPI has a target or a ceiling, which hold for its stored periods."""
    now: datetime | None = None
    """When it is; None takes every period for over."""
    irregular: bool = False
    times: float = 1.0
    """What the stored numerators of a ratio were multiplied by."""


@dataclass(frozen=True, slots=True)
class _Periods:
    """Stored values gathered by the period shown: p periods of n stored values.

    ``order`` (n,) sorts the stored values by period, None where they are sorted so; ``edges``
    (p + 1) are the stretches of each period; ``starts`` (p,) are when they begin.
    """

    order: Ints | None
    edges: Ints
    starts: Floats

    @classmethod
    def of(cls, stored: Stored, shown: Shown) -> "_Periods":
        order, starts = None, stored.instants
        if shown.grain is not shown.stored:
            begun = shown.calendar.starts(stored.instants, shown.grain)
            order = np.argsort(begun, kind="stable")
            starts = begun[order]
        begins = np.ones(len(starts), np.bool_)
        np.not_equal(starts[1:], starts[:-1], out=begins[1:])
        if begins.all():
            return cls(order, np.arange(len(starts) + 1), starts)
        heads = np.flatnonzero(begins).astype(np.intp)
        return cls(order, np.append(heads, len(starts)).astype(np.intp), starts[heads])

    def sorted(self, column: NDArray[Kind]) -> NDArray[Kind]:
        """Return a column of stored values, shape (n,), in order of their periods."""
        return column if self.order is None else column[self.order]

    @property
    def lengths(self) -> Ints:
        """How many stored values each period has, shape (p,)."""
        return np.diff(self.edges)


def make_observations(stored: Stored, shown: Shown) -> Observations:
    """Make one value for each period of the grain shown.

    A value that is set aside takes no part in that of its period. Where all
    are, the period is set aside; so is a sum or a count that lacks some.
    """
    how = coarser(shown.how)
    periods = _Periods.of(stored, shown)
    combined, set_aside, left_out = _combined(stored, periods, how)
    values = combined.values
    there = ~np.isnan(values)
    # Where nothing is left out, nothing need be copied.
    present = slice(None) if there.all() else there
    ratio = how is Aggregation.RATIO
    coarser_shown = shown.grain is not shown.stored
    targets, targets_high = (
        _targets(periods.sorted(sides), periods.edges, how)[present]
        for sides in (stored.targets, stored.targets_high)
    )
    averaged = shown.breakdown is None and how not in COUNTED
    observations = Observations(
        instants=periods.starts[present],
        values=values[present],
        set_aside=set_aside[present],
        reasons={},
        grain=shown.grain,
        calendar=shown.calendar,
        stored=shown.stored,
        part=shown.breakdown or "",
        basis=_basis(stored, shown, int(periods.lengths.max(initial=1))),
        targets=None if np.isnan(targets).all() else targets,
        targets_high=None if np.isnan(targets_high).all() else targets_high,
        irregular=shown.irregular and not coarser_shown,
        now=shown.now,
        summed=how in COUNTED and (coarser_shown or shown.breakdown is not None),
        numerators=combined.numerators[present] / shown.times if ratio else None,
        denominators=combined.denominators[present] if ratio else None,
        times=shown.times,
        breakdowns=stored.by_breakdown() if averaged else {},
    )
    return replace(
        observations,
        reasons=_reasons(observations, stored, left_out[present], periods.lengths[present]),
        notes={} if coarser_shown else _notes(observations, stored),
        incomplete=_incomplete(observations, stored, shown),
        holds_until=_holds_until(observations, shown),
        remarks=_remarks(shown, summed=observations.summed),
    )


def _combined(stored: Stored, periods: _Periods, how: Aggregation) -> tuple[Parts, Bools, Ints]:
    """Return what is of each period, whether it is set aside, and how many of its values are."""
    edges, in_order = periods.edges, periods.sorted
    aside, values = in_order(stored.set_aside), in_order(stored.values)
    sides = in_order(stored.numerators), in_order(stored.denominators)
    parts = Parts(values, in_order(stored.rows), *sides)
    if len(periods.starts) == len(values):
        return parts, aside, aside.astype(np.intp)
    taking_part = Parts(
        np.where(aside, np.nan, parts.values),
        parts.rows,
        np.where(aside, np.nan, parts.numerators),
        np.where(aside, np.nan, parts.denominators),
    )
    left_out = np.add.reduceat(aside.astype(np.intp), edges[:-1])
    set_aside = left_out > 0 if how in COUNTED else left_out == periods.lengths
    of_all, of_some = aggregate(parts, edges, how), aggregate(taking_part, edges, how)
    combined = Parts(
        np.where(set_aside, of_all.values, of_some.values),
        of_all.rows,
        np.where(set_aside, of_all.numerators, of_some.numerators),
        np.where(set_aside, of_all.denominators, of_some.denominators),
    )
    return combined, set_aside, left_out


def _notes(observations: Observations, stored: Stored) -> dict[int, str]:
    """Return the notes of the values, by position."""
    placed = (
        (_position(observations.instants, instant), text) for instant, text in stored.notes.items()
    )
    return {position: text for position, text in placed if position is not None}


def _targets(targets: Floats, edges: Ints, how: Aggregation) -> Floats:
    """Make the target of each period: sums have the sum of theirs, others the last one."""
    if len(edges) - 1 == len(targets):
        return targets
    if np.isnan(targets).all():
        return np.full(len(edges) - 1, np.nan)
    weights = np.ones(len(targets), np.intp)
    return aggregate(
        Parts(targets, weights, targets, targets),
        edges,
        how if how in COUNTED else Aggregation.LAST,
    ).values


def _position(instants: Floats, instant: float) -> int | None:
    position = int(np.searchsorted(instants, instant))
    return position if position < len(instants) and instants[position] == instant else None


def _reasons(observations: Observations, stored: Stored, out: Ints, of: Ints) -> dict[int, str]:
    """Describe why each period is set aside: the reasons of its parts, and how many of them."""
    reasons: dict[int, list[str]] = {}
    at = np.array(list(stored.reasons), dtype=np.float64)
    if len(at) and observations.grain is not observations.stored:
        at = observations.calendar.starts(at, observations.grain)
    for start, reason in zip(at.tolist(), stored.reasons.values(), strict=True):
        position = _position(observations.instants, start)
        if position is not None and observations.set_aside[position]:
            reasons.setdefault(position, []).append(reason)
    joined: dict[int, str] = {}
    for position in np.flatnonzero(observations.set_aside).tolist():
        text = "; ".join(dict.fromkeys(reasons.get(position, [])))
        if out[position] < of[position]:
            text = f"{out[position]} of its {of[position]} values set aside: {text}"
        joined[position] = text
    return joined


def _basis(stored: Stored, shown: Shown, most: int) -> str:
    """Describe how the values were made: ``weekly mean of 212 rows``, ``monthly sum of days``."""
    adverb = ADVERBS[shown.grain]
    rows = int(stored.rows.sum())
    if shown.how is Aggregation.RATIO:
        description = f"{adverb} ratio of sums"
    elif most > 1 and shown.grain is not shown.stored:
        description = (
            f"{adverb} {shown.how} of {len(stored.values):,} {ADVERBS[shown.stored]} values"
        )
    elif rows > len(stored.values) or most > 1 or shown.how is Aggregation.COUNT:
        description = f"{adverb} {shown.how} of {rows:,} rows"
    else:
        description = adverb
    return f"{description}, {shown.breakdown} only" if shown.breakdown else description


def _incomplete(observations: Observations, stored: Stored, shown: Shown) -> bool:
    """Tell whether the last period still runs, or its values stop before its end."""
    if shown.now is None or len(observations) == 0:
        return False
    calendar = shown.calendar
    last = observations.period(-1)
    end = calendar.following(last, shown.grain)
    if last <= shown.now < end:
        return True
    if shown.grain is shown.stored:
        return False
    newest = datetime.fromtimestamp(stored.instants[-1], UTC)
    return calendar.following(newest, shown.stored) < end


def _holds_until(observations: Observations, shown: Shown) -> datetime | None:
    """Return when the last period begins or ends next, or the year of which none is written."""
    if shown.now is None or len(observations) == 0:
        return None
    begin, zone = observations.period(-1), observations.zone
    moments = [begin, shown.calendar.following(begin, shown.grain)]
    if begin.astimezone(zone).year == shown.now.astimezone(zone).year:
        moments.append(datetime(begin.astimezone(zone).year + 1, 1, 1, tzinfo=zone).astimezone(UTC))
    return min((moment for moment in moments if moment > shown.now), default=None)


def _remarks(shown: Shown, *, summed: bool) -> tuple[str, ...]:
    remarks = []
    if shown.stored is Grain.WEEK and shown.grain is not Grain.WEEK:
        remarks.append(f"A week counts in the {shown.grain} that it starts in.")
    if summed and shown.limited:
        of = f"the whole of a {shown.stored}" if shown.breakdown else f"a {shown.stored}"
        remarks.append(f"Target and ceiling are set for {of}, and do not hold here.")
    return tuple(remarks)
