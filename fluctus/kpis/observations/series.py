"""The values of a chart: one per period of the grain shown, made from those that are stored."""

from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np
import polars as pl

from fluctus.core import Aggregation, Parts, aggregate, coarser
from fluctus.core.analysis.arrays import Bools, Floats, Ints
from fluctus.kpis.calendar import ADVERBS, MONTHS_LONG, Calendar, Grain, label, to_text

SECONDS_A_DAY = 86_400
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
    notes: dict[int, str] = field(default_factory=dict)
    incomplete: bool = False
    """Whether the last period is not over; it then takes no part."""
    part: str = ""
    """The one breakdown these are values of, which need not have every period; "" for the whole."""
    summed: bool = False
    """Whether values are sums of other periods, or a part of sums: a level set for the
    stored periods as a whole, such as the KPI's target, does not hold for them."""
    remarks: tuple[str, ...] = ()
    """What could not keep its meaning at this grain, in words."""

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
        """Return the start of the period at ``position``; negative counts from the end."""
        return datetime.fromtimestamp(self.instants[position], self.zone)

    def text(self, position: int) -> str:
        """Write the period at ``position``."""
        return to_text(self.period(position), self.grain, self.zone)

    def label(self, position: int) -> str:
        """Name the period at ``position`` for people."""
        return self.name(self.period(position))

    def name(self, period: datetime) -> str:
        """Name any period for people."""
        beside = self.period(-1) if len(self) else datetime.now(UTC)
        return label(period, self.grain, self.zone, beside)

    def position_of(self, period: datetime) -> int | None:
        """Return where ``period`` is; None where it has no value."""
        position = int(np.searchsorted(self.instants, period.timestamp()))
        found = position < len(self) and self.instants[position] == period.timestamp()
        return position if found else None

    @property
    def missing_periods(self) -> int:
        """How many periods between the first and the last have no value.

        Only those that could have one: a KPI that has no Sundays, or no hours at
        night, does not miss them.
        """
        if len(self) < 2:
            return 0
        if self.grain in MONTHS_LONG:
            first, last = (self.period(n) for n in (0, -1))
            months = (last.year - first.year) * 12 + last.month - first.month
            return max(0, months // MONTHS_LONG[self.grain] + 1 - len(self))
        # Days that a clock change makes longer or shorter still round to whole ones.
        days = np.rint((self.instants - self.instants[0]) / SECONDS_A_DAY).astype(np.intp)
        if self.grain is Grain.WEEK:
            return max(0, int(days[-1]) // 7 + 1 - len(self))
        hours = 1
        if self.grain is Grain.HOUR:
            local = self.calendar.local(self.instants)
            days, hours = local.dt.date().cast(pl.Int32).to_numpy(), local.dt.hour().n_unique()
        every = np.arange(days[0], days[-1] + 1)
        usual = int(np.isin(every % 7, np.unique(days % 7)).sum())
        return max(0, usual * hours - len(self))

    def with_mixed(self, positions: dict[int, str]) -> "Observations":
        """Set some periods aside that mix two segments, each with its reason."""
        aside = self.set_aside.copy()
        aside[list(positions)] = True
        return replace(self, set_aside=aside, reasons=self.reasons | positions)


@dataclass(frozen=True, slots=True)
class Stored:
    """Values as they are stored: all shapes (n,), in order of period; several may share one."""

    instants: Floats
    values: Floats
    numerators: Floats
    denominators: Floats
    targets: Floats
    rows: Ints
    set_aside: Bools
    reasons: dict[float, str]
    """Reasons of set-aside values, by the start of their period."""
    notes: dict[float, str]


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


def make_observations(data: Stored, shown: Shown) -> Observations:
    """Make one value for each period of the grain shown.

    A value that is set aside takes no part in that of its period. Where all
    are, the period is set aside; so is a sum or a count that lacks some.
    """
    is_finer = shown.grain is not shown.stored
    starts = shown.calendar.starts(data.instants, shown.grain) if is_finer else data.instants
    order = np.argsort(starts, kind="stable") if is_finer else np.arange(len(starts))
    starts = starts[order]
    heads = np.flatnonzero(np.diff(starts, prepend=np.nan) != 0).astype(np.intp)
    edges = np.append(heads, len(starts)).astype(np.intp)
    aside = data.set_aside[order]
    values = data.values[order]
    parts = Parts(
        np.where(aside, np.nan, values),
        data.rows[order],
        np.where(aside, np.nan, data.numerators[order]),
        np.where(aside, np.nan, data.denominators[order]),
    )
    how = coarser(shown.how)
    lengths = np.diff(edges)
    if len(heads) and (lengths > 1).any():
        made = aggregate(parts, edges, how).values
        whole = aggregate(Parts(values, parts.rows, data.numerators[order],
                                data.denominators[order]), edges, how).values  # fmt: skip
        out = np.add.reduceat(aside.astype(np.intp), heads)
    else:
        made, whole, out = np.where(aside, np.nan, values), values, aside.astype(np.intp)
    without = out == lengths
    if how in COUNTED:
        without = out > 0
    kept = np.where(without, whole, made)
    there = ~np.isnan(kept)
    instants, kept, without = starts[heads][there], kept[there], without[there]
    targets = _targets(data.targets[order], edges, how)[there]
    observations = Observations(
        instants=instants,
        values=kept,
        set_aside=without,
        reasons={},
        grain=shown.grain,
        calendar=shown.calendar,
        stored=shown.stored,
        part=shown.breakdown or "",
        basis=_basis(data, shown, int(lengths.max(initial=1))),
        targets=None if np.isnan(targets).all() else targets,
        summed=how in COUNTED and (is_finer or shown.breakdown is not None),
    )
    return replace(
        observations,
        reasons=_reasons(observations, data, out[there], lengths[there]),
        notes={
            position: text
            for instant, text in data.notes.items()
            if (position := _position(instants, instant)) is not None
        }
        if not is_finer
        else {},
        incomplete=_incomplete(observations, data, shown),
        remarks=_remarks(shown, summed=observations.summed),
    )


def _targets(targets: Floats, edges: Ints, how: Aggregation) -> Floats:
    """Make the target of each period: sums have the sum of theirs, others the last one."""
    if len(edges) == 1:
        return targets
    ones = np.ones(len(targets), np.intp)
    return aggregate(
        Parts(targets, ones, targets, targets), edges, how if how in COUNTED else Aggregation.LAST
    ).values


def _position(instants: Floats, instant: float) -> int | None:
    position = int(np.searchsorted(instants, instant))
    return position if position < len(instants) and instants[position] == instant else None


def _reasons(observations: Observations, data: Stored, out: Ints, of: Ints) -> dict[int, str]:
    """Say why each period is set aside: the reasons of its parts, and how many of them."""
    found: dict[int, list[str]] = {}
    at = np.array(list(data.reasons), dtype=np.float64)
    if len(at) and observations.grain is not observations.stored:
        at = observations.calendar.starts(at, observations.grain)
    for start, reason in zip(at.tolist(), data.reasons.values(), strict=True):
        position = _position(observations.instants, start)
        if position is not None and observations.set_aside[position]:
            found.setdefault(position, []).append(reason)
    reasons = {}
    for position in np.flatnonzero(observations.set_aside).tolist():
        text = "; ".join(dict.fromkeys(found.get(position, [])))
        if out[position] < of[position]:
            text = f"{out[position]} of its {of[position]} values set aside: {text}"
        reasons[position] = text
    return reasons


def _basis(data: Stored, shown: Shown, most: int) -> str:
    """Say how the values were made: ``weekly mean of 212 rows``, ``monthly sum of days``."""
    adverb = ADVERBS[shown.grain]
    rows = int(data.rows.sum())
    if shown.how is Aggregation.RATIO:
        made = f"{adverb} ratio of sums"
    elif most > 1 and shown.grain is not shown.stored:
        made = f"{adverb} {shown.how} of {len(data.values):,} {ADVERBS[shown.stored]} values"
    elif rows > len(data.values) or most > 1 or shown.how is Aggregation.COUNT:
        made = f"{adverb} {shown.how} of {rows:,} rows"
    else:
        made = adverb
    return f"{made}, {shown.breakdown} only" if shown.breakdown else made


def _incomplete(observations: Observations, data: Stored, shown: Shown) -> bool:
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
    newest = datetime.fromtimestamp(data.instants[-1], calendar.zone)
    return calendar.following(newest, shown.stored) < end


def _remarks(shown: Shown, *, summed: bool) -> tuple[str, ...]:
    remarks = []
    if shown.stored is Grain.WEEK and shown.grain is not Grain.WEEK:
        remarks.append(f"A week counts in the {shown.grain} that it starts in.")
    if summed and shown.limited:
        of = f"the whole of a {shown.stored}" if shown.breakdown else f"a {shown.stored}"
        remarks.append(f"Target and ceiling are set for {of}, and do not hold here.")
    return tuple(remarks)
