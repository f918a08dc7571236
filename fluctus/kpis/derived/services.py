"""KPIs made from others, and brought up to date as these are written to."""

from collections.abc import Sequence
from dataclasses import replace

from django.db import transaction
from django.db.models import Q

from fluctus.core import MadeFrom
from fluctus.core.words import in_a_row
from fluctus.http import clock
from fluctus.kpis.actor import Actor
from fluctus.kpis.chart.keeping import locked, move_periods
from fluctus.kpis.chart.services import create_kpi
from fluctus.kpis.derived.kind import DerivedKind, Proposal, cannot
from fluctus.kpis.derived.registry import DERIVED_KINDS
from fluctus.kpis.hooks import Charted
from fluctus.kpis.models import Kpi
from fluctus.kpis.origin import Origin
from fluctus.kpis.values.services import ImportMode, write_frame

MOST_FROM_ONE = 40
"""KPIs that are made from one at the most: each write to it writes to them all."""


@transaction.atomic
def derive(
    made_by: MadeFrom, sources: Sequence[Kpi], name: str, times: float | None, actor: Actor
) -> tuple[Kpi, tuple[str, ...]]:
    """Make a KPI from others, which it follows from then on; returns what could not be made too.

    Raises RefusalError where that cannot be, and for a name that is taken.
    """
    held = {source.pk: locked(source) for source in sorted(sources, key=lambda kpi: kpi.pk)}
    sources = [held[source.pk] for source in sources]
    kind, proposal = proposed(made_by, sources, times)
    for source in sources:
        if Kpi.objects.filter(Q(source=source) | Q(second=source)).count() >= MOST_FROM_ONE:
            raise cannot(
                f"{MOST_FROM_ONE} KPIs are made from {source.name} already.",
                "Delete one that is not needed.",
            )
    made = kind.make(sources, proposal.grain, proposal.times)
    state = replace(proposal.state, name=name.strip() or proposal.state.name)
    kpi, _ = create_kpi(
        sources[0].workspace,
        state,
        proposal.grain,
        made.frame,
        actor,
        summary=_summary(made_by, sources),
        origin=Origin.of(made_by, sources, proposal.times, made.left_out),
    )
    return kpi, made.left_out


def proposed(
    made_by: MadeFrom, sources: Sequence[Kpi], times: float | None
) -> tuple[DerivedKind, Proposal]:
    """Return what would be made; raises RefusalError where it cannot be."""
    kind = DERIVED_KINDS[made_by]
    if len({source.pk for source in sources}) < len(sources):
        raise cannot(
            f"{sources[0].name} and itself make nothing new.", "Choose another KPI.", "second"
        )
    if len(sources) != kind.sources:
        raise cannot("It takes another KPI.", "Choose one.", "second")
    for source in sources:
        if source.made_by == MadeFrom.TIME_BETWEEN:
            raise cannot(
                f"The values of {source.name} come when events do, and have no periods.",
                "Choose a KPI that has a value for each period.",
                "second" if source is not sources[0] else "",
            )
    return kind, kind.propose(sources, times)


def _summary(made_by: MadeFrom, sources: Sequence[Kpi]) -> str:
    if made_by is MadeFrom.TIME_BETWEEN:
        return f"Made of the time between events of {sources[0].name}"
    return f"Made as the {made_by} of {in_a_row([source.name for source in sources])}"[:200]


def follow_sources(charted: Sequence[Charted]) -> None:
    """Bring the KPIs that are made from locked ones up to date with these.

    Raises RefusalError, which undoes the write, for values that they cannot follow.
    """
    held = _held_descendants({each.kpi.pk for each in charted})
    for each in charted if held else ():
        source = each.kpi
        for found in held:
            # What is made from these in turn follows with their own writes.
            if source.pk in (found.source_id, found.second_id) and found.follows:
                _follow(found, f"Followed {source.name}: {each.why}"[:200])


def _held_descendants(sources: set[int]) -> list[Kpi]:
    """Lock all that is made from some KPIs, directly or not, in the order it came.

    All who write lock in that order, since what is made of others comes after these.
    """
    found: set[int] = set()
    newest = sources
    while newest:
        made = Kpi.objects.filter(Q(source__in=newest) | Q(second__in=newest))
        newest = set(made.values_list("pk", flat=True)) - found
        found |= newest
    if not found:
        return []
    rows = Kpi.objects.select_for_update(of=("self",), no_key=True).filter(pk__in=found)
    return list(rows.select_related("source", "second", "workspace").order_by("pk"))


def _follow(kpi: Kpi, why: str) -> None:
    _move_with(kpi, kpi.follows[0])
    made = DERIVED_KINDS[MadeFrom(kpi.made_by)].follow(kpi, kpi.follows)
    if list(made.left_out) != kpi.left_out:
        Kpi.objects.filter(pk=kpi.pk).update(left_out=list(made.left_out))
    write_frame(kpi, made.frame, ImportMode.REPLACE, Actor(None, clock.now()), why)


def _move_with(kpi: Kpi, source: Kpi) -> None:
    """Let periods begin by the clock that those of its source begin by."""
    if kpi.time_zone != source.time_zone:
        move_periods(kpi, kpi.time_zone, source.time_zone)
    names = ("time_zone", "first_weekday", "first_month")
    if any(getattr(kpi, name) != getattr(source, name) for name in names):
        for name in names:
            setattr(kpi, name, getattr(source, name))
        kpi.save(update_fields=names)


def followed_in_words(kpi: Kpi) -> list[str]:
    """Tell which KPIs would no longer follow, were this one deleted."""
    rows = Kpi.objects.filter(Q(source=kpi) | Q(second=kpi)).order_by("name")
    return [f"{row.name} is made from it, and keeps its values without it." for row in rows]
