"""States of the world beside a KPI: which there are, and the KPI in and out of one."""

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np
import polars as pl
from django.db.models import Count, Max, Min

from fluctus.accounts.models import Workspace
from fluctus.core.arrays import Bools, Ints
from fluctus.http.refusals import NotThereError
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.selection import summaries_of
from fluctus.kpis.events import shapes
from fluctus.kpis.events.queries import events_in, events_of
from fluctus.kpis.models import EventKind, Kpi
from fluctus.kpis.observations.series import Observations

MOST_STATES = 40
"""States that are named with a KPI."""
MOST_LISTED = 200
"""States of a workspace in one answer, the one that held last first."""
MOST_NAMED = 4
"""Days that fall on no period, of which so many are named."""
EPOCH = date(1970, 1, 1)


def titles_of(kpi: Kpi) -> list[str]:
    """Name the states that are told with a KPI, the most frequent first."""
    titles = events_of(kpi).filter(kind=EventKind.STATE).values_list("title", flat=True)
    counted: dict[str, int] = {}
    for title in titles:
        counted[title] = counted.get(title, 0) + 1
    return sorted(counted, key=lambda title: (-counted[title], title))[:MOST_STATES]


def states_in(workspace: Workspace, search: str = "") -> list[tuple[str, int, date, date]]:
    """Return the states of a workspace, each once: title, times, first and last day."""
    rows = events_in(workspace, search).filter(kind=EventKind.STATE).values("title")
    held = rows.annotate(times=Count("pk"), since=Min("first"), until=Max("last"))
    newest = held.order_by("-until", "title")[:MOST_LISTED]
    return list(newest.values_list("title", "times", "since", "until"))


def compare_state(kpi: Kpi, chart: Chart, title: str) -> shapes.StateComparison:
    """Compare a KPI in a state with it out of the state; raises NotThereError without one."""
    rows = events_of(kpi).filter(kind=EventKind.STATE, title=title).order_by("first")
    spans = _joined([(event.first, event.last) for event in rows])
    if not spans:
        raise NotThereError("state")
    firsts, lasts = days_of(chart.observations)
    inside = in_spans(firsts, lasts, spans)
    names = [(f"In {title}", inside)]
    return shapes.StateComparison(
        title=title,
        joined=_say_joined(chart, title, spans, inside),
        spans=[shapes.StateSpan(first.isoformat(), last.isoformat()) for first, last in spans],
        summaries=summaries_of(chart, names, f"Out of {title}"),
    )


Span = tuple[date, date]


def _joined(spans: Sequence[Span]) -> list[Span]:
    """Join spans that overlap or follow each other; they come in order of their first days."""
    joined: list[Span] = []
    for first, last in spans:
        if joined and first <= joined[-1][1] + timedelta(days=1):
            joined[-1] = (joined[-1][0], max(last, joined[-1][1]))
        else:
            joined.append((first, last))
    return joined


def days_of(data: Observations) -> tuple[Ints, Ints]:
    """Return the first and the last day of each period, in days since 1970, both (n,)."""
    local = data.calendar.local(data.instants).dt.date()
    firsts = local.cast(pl.Int32).to_numpy().astype(np.intp)
    if data.grain in (Grain.HOUR, Grain.DAY):
        return firsts, firsts
    if data.grain is Grain.WEEK:
        return firsts, firsts + 6
    following = [data.calendar.following(data.period(n), data.grain) for n in range(len(data))]
    ends = [moment.astimezone(data.zone).date() for moment in following]
    return firsts, np.array([(end - EPOCH).days - 1 for end in ends], np.intp)


def in_spans(firsts: Ints, lasts: Ints, spans: Sequence[Span]) -> Bools:
    """Tell which periods, from their first day to their last, have a day in one of ``spans``.

    The spans are in order and do not overlap.
    """
    begins = np.array([(first - EPOCH).days for first, _ in spans], np.intp)
    ends = np.array([(last - EPOCH).days for _, last in spans], np.intp)
    newest = np.searchsorted(begins, lasts, side="right") - 1
    inside: Bools = (newest >= 0) & (ends[np.maximum(newest, 0)] >= firsts)
    return inside


def _say_joined(chart: Chart, title: str, spans: Sequence[Span], inside: Bools) -> str:
    """Say how many days of a state fall on periods of the chart, and which do not."""
    days = [
        first + timedelta(days=n) for first, last in spans for n in range((last - first).days + 1)
    ]
    firsts, lasts = days_of(chart.observations)
    numbers = np.array([(day - EPOCH).days for day in days], np.intp)
    newest = np.searchsorted(firsts, numbers, side="right") - 1
    on_a_period = (newest >= 0) & (lasts[np.maximum(newest, 0)] >= numbers)
    missed = [day for day, there in zip(days, on_a_period.tolist(), strict=True) if not there]
    words = chart.words
    text = (
        f"{title} held on {len(days):,} day{'' if len(days) == 1 else 's'}; "
        f"{len(days) - len(missed):,} of them fall on {words.periods(int(inside.sum()))} of this "
        f"chart."
    )
    if words.grain not in ("day", "hour"):
        text += f" A {words.grain} counts where it held on any of its days."
    if missed:
        named = ", ".join(day.strftime("%-d %b %Y") for day in missed[:MOST_NAMED])
        more = f" and {len(missed) - MOST_NAMED:,} more" if len(missed) > MOST_NAMED else ""
        text += f" No value is there for {named}{more}."
    return text
