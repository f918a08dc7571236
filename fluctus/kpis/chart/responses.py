"""How a person looks at a chart, and the answer that shows it so."""

from collections.abc import Callable
from dataclasses import astuple, dataclass, fields, replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from django.http import HttpResponse
from rest_framework.request import Request

from fluctus.http import clock
from fluctus.http.conditional import answer_with, held, hold, tag_of, unchanged
from fluctus.http.rendering import as_json
from fluctus.http.requests import person_of
from fluctus.http.revisions import seen_revision
from fluctus.http.snapshots import one_snapshot
from fluctus.kpis import models
from fluctus.kpis.actor import Actor, actor_of
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart import kpi_shapes, shapes
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.answers.chart import (
    COLUMNS,
    OnRecord,
    Window,
    chart_answer,
    refuse_window,
)
from fluctus.kpis.chart.answers.kpi import history_answer, kpi_answer
from fluctus.kpis.chart.answers.retold import retold
from fluctus.kpis.chart.keeping import Kept
from fluctus.kpis.chart.kept_answers import keep_answer, kept_answer
from fluctus.kpis.chart.queries import STALE_AFTER, WHOLE, View, chart_of, kpi_of, refuse_view
from fluctus.kpis.chart.requests import WindowSerializer
from fluctus.kpis.record.queries import next_undo_and_redo
from fluctus.kpis.state import LOOKS


@dataclass(frozen=True, slots=True)
class Look:
    """What of a chart is looked at: by which grain, which breakdown, and which periods of it."""

    view: View
    window: Window

    @classmethod
    def of(cls, request: Request) -> "Look":
        """Read how a chart is looked at."""
        return cls.from_query(WindowSerializer.of(request))

    @classmethod
    def from_query(cls, query: dict[str, Any]) -> "Look":
        """Take it from a query that has been checked."""
        by = query.get("by")
        return cls(
            View(Grain(by) if by else None, query.get("breakdown")),
            Window(
                # As wide as anything is drawn that is thinned.
                min(query["width"], COLUMNS),
                query.get("first"),
                query.get("last"),
                query.get("weeks"),
            ),
        )


WHOLE_CHART = Look(WHOLE, Window(COLUMNS))
"""How a chart is looked at first."""


def answer_write(
    request: Request,
    workspace: str,
    slug: str,
    write: Callable[[models.Kpi, int, Actor], Kept],
) -> HttpResponse:
    """Carry out a write to a KPI, on the revision that the request names.

    Answers with the chart as it is then, looked at as the request does.
    """
    look, actor = Look.of(request), actor_of(request)
    kpi = kpi_of(person_of(request), workspace, slug)
    # What cannot be shown is refused before anything is written.
    refuse_view(kpi, look.view)
    refuse_window(look.window, look.view.by or Grain(kpi.grain), ZoneInfo(kpi.time_zone))
    before = Saved.of(kpi, WHOLE_CHART, actor.now)
    kept = write(kpi, seen_revision(request), actor)
    stored = _as_stored(kept.kpi)
    _tell_again(before, kept, stored)
    if look.view.breakdown not in (None, *kept.kpi.breakdowns):
        # Its last value has gone with the write.
        look = replace(look, view=View(look.view.by))
    if look.view == WHOLE:
        saved = Saved.of(stored, look, actor.now)
        if (content := saved.known()) is not None:
            return answer_with(content, saved.tag)
        content = saved.content(kept.chart)
    else:
        with one_snapshot():
            newest = kpi_of(person_of(request), workspace, slug)
            saved = Saved.of(newest, look, actor.now)
            content = saved.content(chart_of(newest, actor.now, look.view))
    saved.keep(content)
    return answer_with(content, saved.tag)


LONG = 4_096
"""Values from which on the answer is made with each write: whoever opens it first need not wait."""


def keep_long(kpi: models.Kpi, chart: Chart, now: datetime) -> None:
    """Keep the answer of the whole chart that a write has made, where it is a long one."""
    if len(chart.observations) >= LONG:
        saved = Saved.of(_as_stored(kpi), WHOLE_CHART, now)
        saved.keep(saved.content(chart))


def _as_stored(kpi: models.Kpi) -> models.Kpi:
    """Return a KPI that was written as others will read it; as it was written where it moved on.

    What goes into a column as 20 comes out of it as 20.0, and would have another tag.
    """
    stored = models.Kpi.objects.filter(pk=kpi.pk, revision=kpi.revision).first()
    return kpi if stored is None else stored


def answer_saved(request: Request, workspace: str, slug: str) -> HttpResponse:
    """Answer with a KPI's chart as it is saved, looked at as the request does.

    Nothing is read or analysed for who has it already, and where it has been answered before.
    """
    look, now = Look.of(request), clock.now()
    with one_snapshot():
        kpi = kpi_of(person_of(request), workspace, slug)
        saved = Saved.of(kpi, look, now)
        if (nothing_new := unchanged(request, saved.tag)) is not None:
            return nothing_new
        if (content := saved.known()) is not None:
            return answer_with(content, saved.tag)
        content = saved.content(chart_of(kpi, now, look.view))
    saved.keep(content)
    return answer_with(content, saved.tag)


@dataclass(frozen=True, slots=True)
class Saved:
    """The chart of a KPI as it is saved, as somebody looks at it at a moment."""

    kpi: models.Kpi
    look: Look
    now: datetime
    history: kpi_shapes.History
    tag: str
    """Of all that the answer is made of: no other answer has it."""

    @classmethod
    def of(cls, kpi: models.Kpi, look: Look, now: datetime) -> "Saved":
        """Note what the answer is made of; that is known without a value being read."""
        turnable = next_undo_and_redo(kpi)
        due = kpi.renew_at is not None and kpi.renew_at <= now
        tag = tag_of(
            "chart",
            [getattr(kpi, field.attname) for field in models.Kpi._meta.concrete_fields],
            _sources(kpi),
            [act and (act.pk, act.summary) for act in turnable],
            astuple(look),
            # What else time makes others of it, it does within no quarter of an hour.
            int(now.timestamp()) // STALE_AFTER if due or look.view != WHOLE else None,
            revision=kpi.revision,
        )
        return cls(kpi, look, now, history_answer(*turnable), tag)

    def known(self) -> bytes | None:
        """Return the answer as it was given before; of the whole chart, by any process."""
        content = held(self.tag)
        if content is None and self.look == WHOLE_CHART:
            content = kept_answer(self.kpi, self.tag)
        return content

    def content(self, chart: Chart) -> bytes:
        """Return the answer, made of its chart."""
        on_record = OnRecord.of(self.kpi, chart, self.now)
        answer = chart_answer(shown_kpi(self.kpi, chart), chart, self.look.window, on_record)
        parts = {part.name: getattr(answer, part.name) for part in fields(answer)}
        return as_json(shapes.SavedChart(**parts, history=self.history))

    def keep(self, content: bytes) -> None:
        """Keep the answer for who asks next: the whole chart for every process."""
        hold(self.tag, content)
        if self.look == WHOLE_CHART:
            keep_answer(self.kpi, self.tag, content)


def _tell_again(before: Saved, kept: Kept, stored: models.Kpi) -> None:
    """Keep the answer after a write that changed looks alone, made of the one before it."""
    if kept.looks is None or _resting_on(stored) != _resting_on(before.kpi):
        return
    content = before.known()
    if content is None:
        return
    saved = Saved.of(stored, WHOLE_CHART, kept.now)
    told = retold(content, *kept.looks, stored.revision, saved.history)
    if told is not None:
        saved.keep(told)


def _resting_on(kpi: models.Kpi) -> tuple[Any, ...]:
    """Return what of a KPI an answer under another name rests on."""
    fields_of = models.Kpi._meta.concrete_fields
    own = [one.attname for one in fields_of if one.name not in (*LOOKS, "revision")]
    return (*(getattr(kpi, name) for name in own), *_sources(kpi))


def _sources(kpi: models.Kpi) -> list[tuple[str, str]]:
    return [(source.slug, source.name) for source in (kpi.source, kpi.second) if source]


def shown_kpi(kpi: models.Kpi, chart: Chart) -> kpi_shapes.Kpi:
    """Return a KPI with the settings that its chart is drawn by."""
    return kpi_answer(
        chart,
        slug=kpi.slug,
        revision=kpi.revision,
        breakdowns=kpi.breakdowns,
        kpi=kpi,
    )
