"""What a report shows, gathered chapter by chapter before any of it is set on a page."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import partial
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.findings.models import Finding, FindingPresence, FindingState
from fluctus.findings.services import STATE_WORDS
from fluctus.improvements.queries import told_of
from fluctus.jobs.life import Progress
from fluctus.kpis.chart import asked_shapes, shapes
from fluctus.kpis.chart.answers.selection import summaries_answer
from fluctus.kpis.events.queries import events_of
from fluctus.kpis.models import Kpi
from fluctus.overview.panels.contents import (
    Nothing,
    PanelContent,
    as_answered,
    content_of,
    days_kept,
    named_kpis,
)
from fluctus.overview.panels.kind import Look, Table
from fluctus.overview.panels.kinds.chart import CHART, ChartPanel
from fluctus.overview.panels.panel import Panel
from fluctus.overview.panels.registry import KINDS
from fluctus.overview.panels.viewed import Viewed, viewed
from fluctus.reports.asked import Asked
from fluctus.reports.drawing import a_renderer
from fluctus.reports.entries import Entry, entries_of, kpi_of_entry, nothing_to_show
from fluctus.reports.models import Report

Draw = Callable[[PanelContent, int, int], str]
"""Returns the picture of what a panel shows, of a width and a height."""
MOST_EVENTS = 30
DAY = timedelta(days=1)
MOST_FINDINGS = 40
"""Findings of a chart in a report, the newest."""


@dataclass(frozen=True, slots=True)
class Size:
    """How large charts are drawn, in pixels of 1/96 inch."""

    width: int
    height: int


ON_PAPER = Size(680, 400)
ON_SLIDE = Size(980, 440)
IN_LETTER = Size(600, 330)


@dataclass(frozen=True, slots=True)
class FindingLine:
    """A finding as a report tells it."""

    label: str
    title: str
    text: str
    state: str
    cause: str
    action: str
    person: str
    due: date | None


@dataclass(frozen=True, slots=True)
class Chapter:
    """One chart with all that is told of it, another panel, or a text that stands alone."""

    text: str = ""
    """Words of the author's own, before the chart."""
    slug: str = ""
    name: str = ""
    revision: int = 0
    dates: str = ""
    headline: str = ""
    detail: str = ""
    remarks: tuple[str, ...] = ()
    svg: str = ""
    chart: shapes.Chart | None = None
    summaries: asked_shapes.Summaries | None = None
    findings: tuple[FindingLine, ...] = ()
    more_findings: int = 0
    events: tuple[tuple[str, str], ...] = ()
    improvements: tuple[tuple[str, str], ...] = ()
    how: tuple[str, ...] = ()
    table: Table | None = None

    @property
    def number_pairs(self) -> list[tuple[tuple[str, str], ...]]:
        """The numbers of its summary with their names, two to a line."""
        rows = self.summaries.rows if self.summaries else []
        named = [(row.name, row.texts[0]) for row in rows]
        return [tuple(named[n : n + 2]) for n in range(0, len(named), 2)]


@dataclass(frozen=True, slots=True)
class Contents:
    """A whole report, before it is set."""

    title: str
    author: str
    made_at: datetime
    workspace: str
    intro: str
    dates: str
    chapters: tuple[Chapter, ...]
    left_out: tuple[str, ...]


def gather(report: Report, now: datetime, size: Size, progress: Progress) -> Contents:
    """Gather all that a report shows, drawing its charts.

    A KPI that has gone meanwhile is left out and named. Raises RefusalError where there
    is nothing to show, or more than a report holds.
    """
    asked = Asked.from_json(report.asked)
    entries = entries_of(report, asked, now)
    chapters: list[Chapter] = []
    left_out: list[str] = []
    dates = {"first": asked.first, "last": asked.last, "weeks": asked.weeks}
    look = Look(report.workspace, now, days_kept(dates), size.width)
    with a_renderer() as renderer:
        draw = partial(renderer.draw, still_wanted=progress.still_wanted)
        for number, entry in enumerate(entries):
            progress(f"Drawing {entry.name or 'a text'}", 0.8 * number / len(entries))
            if entry.panel is not None:
                chapter = _panel_chapter(entry.panel, look, size, draw)
                if isinstance(chapter, Nothing):
                    left_out.append(f"{chapter.title}; it is not shown.")
                else:
                    chapters.append(chapter)
                continue
            kpi = kpi_of_entry(report.workspace, entry, now, left_out)
            if kpi is not None:
                chapters.append(_chapter(kpi, entry, asked, now, size, draw))
    if not any(chapter.headline for chapter in chapters):
        raise nothing_to_show(*left_out)
    return Contents(
        title=report.title,
        author=asked.author,
        made_at=now,
        workspace=report.workspace.name,
        intro=asked.intro,
        dates=_dates_asked(asked),
        chapters=tuple(chapters),
        left_out=tuple(left_out),
    )


def _panel_chapter(panel: Panel, look: Look, size: Size, draw: Draw) -> Chapter | Nothing:
    """Return a panel as a chapter, or why there is nothing of it to show."""
    if not KINDS[panel.kind].picture:
        return Chapter(text=panel.text)
    content = content_of(panel, look)
    if isinstance(content, Nothing):
        return content
    return Chapter(
        name=" and ".join(name for _, name in named_kpis(panel)) or panel.group or "All KPIs",
        headline=content.title,
        detail=content.detail,
        svg=draw(as_answered(panel, content), size.width, size.height),
        table=content.table,
    )


def _chapter(
    kpi: Kpi, entry: Entry, asked: Asked, now: datetime, size: Size, draw: Draw
) -> Chapter:
    shown = viewed(kpi, entry.view, now, size.width, (asked.first, asked.last, asked.weeks))
    answer, days = shown.answer, shown.days
    if days is None:
        return Chapter(
            text=entry.text,
            slug=kpi.slug,
            name=kpi.name,
            revision=kpi.revision,
            headline=answer.sentence.headline,
            detail="There are no values on these dates.",
        )
    findings, more = _findings(kpi, days, names=asked.names)
    events = events_of(kpi).filter(first__lte=days[1], last__gte=days[0]).order_by("first", "pk")
    periods = answer.points.period
    return Chapter(
        text=entry.text,
        slug=kpi.slug,
        name=_name(kpi, entry, shown),
        revision=kpi.revision,
        dates=_between(*days),
        headline=answer.sentence.headline,
        detail=answer.sentence.detail,
        remarks=tuple(answer.remarks),
        svg=draw(_drawn(kpi, shown), size.width, size.height),
        chart=answer,
        summaries=summaries_answer(shown.chart, [(periods[0], periods[-1])]),
        findings=findings,
        more_findings=more,
        events=_events(list(events.values_list("title", "first", "last"))),
        improvements=told_of(kpi),
        how=(
            answer.basis,
            *(
                f"{segment.name or 'Segment'} from {segment.label}: {segment.how}"
                for segment in answer.segments
            ),
        ),
    )


def told_of_kpi(kpi: Kpi, now: datetime, weeks: int) -> str:
    """Return the sentence of a chart over the newest weeks."""
    shown = viewed(kpi, "", now, IN_LETTER.width, (None, None, weeks))
    return shown.answer.sentence.headline


def drawn_of_kpi(kpi: Kpi, now: datetime, weeks: int, draw: Draw) -> str:
    """Return the picture of a chart over the newest weeks, as SVG."""
    shown = viewed(kpi, "", now, IN_LETTER.width, (None, None, weeks))
    return draw(_drawn(kpi, shown), IN_LETTER.width, IN_LETTER.height)


def _drawn(kpi: Kpi, shown: Viewed) -> PanelContent:
    """Return a chart as the panel that is drawn of it."""
    panel = ChartPanel(shown.answer, "", shown.pins, shown.hidden)
    return PanelContent(kpi.slug, CHART.name, "", "", "", panel)


def _name(kpi: Kpi, entry: Entry, shown: Viewed) -> str:
    view = shown.view
    if view is None:
        return kpi.name
    by = f"by {shown.chart.observations.grain}" if view.by else ""
    return ", ".join(filter(None, (kpi.name, view.breakdown, entry.view, by)))


def _findings(
    kpi: Kpi, days: tuple[date, date], *, names: bool
) -> tuple[tuple[FindingLine, ...], int]:
    """Return the newest findings between two days, and how many more there are."""
    zone = ZoneInfo(kpi.time_zone)
    first, last = (datetime.combine(day, time(), zone) for day in days)
    rows = Finding.objects.filter(
        kpi=kpi, presence=FindingPresence.PRESENT, last__gte=first, first__lt=last + DAY
    )
    lines = tuple(
        FindingLine(
            row.label,
            row.title,
            row.text,
            STATE_WORDS[FindingState(row.state)],
            row.cause,
            row.action,
            name_of(row.person) if names else "",
            row.due,
        )
        for row in rows.select_related("person").order_by("-first", "-pk")[:MOST_FINDINGS]
    )
    return lines, max(0, rows.count() - MOST_FINDINGS)


def _events(rows: list[tuple[str, date, date]]) -> tuple[tuple[str, str], ...]:
    """Return what happened and when; what happened often is told once, with how often."""
    often: dict[str, list[tuple[date, date]]] = {}
    for title, first, last in rows:
        often.setdefault(title, []).append((first, last))
    told = [
        (
            title,
            _between(*spans[0])
            if len(spans) == 1
            else f"{len(spans)} times, last {_between(*spans[-1])}",
        )
        for title, spans in often.items()
    ]
    return tuple(told[:MOST_EVENTS])


def _dates_asked(asked: Asked) -> str:
    if asked.first and asked.last:
        return _between(date.fromisoformat(asked.first[:10]), date.fromisoformat(asked.last[:10]))
    return f"Last {asked.weeks} weeks" if asked.weeks else "All dates"


def _between(first: date, last: date) -> str:
    name = "{0:%-d %B %Y}".format
    return name(first) if first == last else f"{name(first)} to {name(last)}"
