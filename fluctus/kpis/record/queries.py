"""Reads of the record: what was done to a chart, by whom, and what undo would take back."""

from django.db.models import Q, QuerySet, Subquery

from fluctus.accounts.queries import name_of
from fluctus.http.compiled import Compiled
from fluctus.kpis.models import ActState, ChartChange, Kpi

ACTS_TOLD = 5
"""Acts that somebody whose own was refused is told of."""
PAGE = 50
"""Acts in one answer of the history."""


def acts_since(kpi: Kpi, revision: int) -> list[str]:
    """Return who did what to a chart since ``revision``: the newest few acts, oldest first."""
    rows = ChartChange.objects.filter(kpi=kpi, revision__gt=revision)
    summaries = []
    for act in rows.select_related("author", "turned_by").order_by("-revision")[:ACTS_TOLD]:
        if act.turned_at is None:
            summaries.append(f"{name_of(act.author) or 'somebody'}: {act.summary}")
        else:
            verb = "undid" if act.state != ActState.KEPT else "redid"
            summaries.append(f"{name_of(act.turned_by) or 'somebody'} {verb}: {act.summary}")
    return summaries[::-1]


def history_of(kpi: Kpi, before: int | None = None) -> tuple[list[ChartChange], bool]:
    """Return the newest acts on a chart of those ``before`` a number; whether there are older."""
    rows = ChartChange.objects.filter(kpi=kpi).select_related("author", "turned_by")
    asked_for = rows if before is None else rows.filter(pk__lt=before)
    acts = list(asked_for.order_by("-id")[: PAGE + 1])
    return acts[:PAGE], len(acts) > PAGE


def _turnable(kpi: int) -> QuerySet[ChartChange]:
    acts = ChartChange.objects.filter(kpi=kpi).values("pk")
    kept = acts.filter(state=ActState.KEPT).order_by("-id")[:1]
    undone = acts.filter(state=ActState.UNDONE).order_by("id")[:1]
    either = Q(pk=Subquery(kept)) | Q(pk=Subquery(undone))
    return ChartChange.objects.filter(either).only("state", "summary")


_next_acts = Compiled(_turnable, kpi=int)


def next_undo_and_redo(kpi: Kpi) -> tuple[ChartChange | None, ChartChange | None]:
    """Return the act that undo would take back and the one that redo would bring back.

    Of each, what it is called is read at once; the rest where it is asked for.
    """
    both = {act.state: act for act in _next_acts.rows(kpi=kpi.pk)}
    return both.get(ActState.KEPT), both.get(ActState.UNDONE)
