"""What fell together: findings and shifts of several KPIs within some days."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from fluctus.accounts.models import Workspace
from fluctus.core.judgment import SEED, SHIFTS, Timeline, Together, fell_together
from fluctus.core.words import chance_explains, counted, say_chance
from fluctus.findings.models import Finding, FindingPresence, FindingState
from fluctus.kpis.calendar import DAYS_LONG, Grain, label, to_text
from fluctus.kpis.models import Event, Kpi, Segment
from fluctus.overview.strips import shapes
from fluctus.overview.strips.drawing import Dates

MOST_STRETCHES = 9
MOST_MEMBERS = 24
MOST_EVENTS = 8
HOW = (
    "Findings and shifts are counted by the period they begin in. For the chance, those of each "
    f"KPI were shifted {SHIFTS:,} times by a random number of its own periods, around its dates "
    f"(seed {SEED}). That some fell together says nothing of a cause."
)


@dataclass(frozen=True, slots=True)
class Happened:
    """A finding or a shift of a KPI, and when it began."""

    kpi: Kpi
    at: datetime
    what: str

    @property
    def label(self) -> str:
        """Its period, named for people."""
        return label(self.at, Grain(self.kpi.grain), ZoneInfo(self.kpi.time_zone))

    @property
    def text(self) -> str:
        """Its period, as periods are written."""
        return to_text(self.at, Grain(self.kpi.grain), ZoneInfo(self.kpi.time_zone))


def together_answer(workspace: Workspace, dates: Dates, within: int) -> shapes.FellTogether:
    """Find what fell together, with the events there and the chance of as much."""
    by_kpi = _happened(workspace, dates)
    series = [_series(happened, dates) for happened in by_kpi]
    found = fell_together(series, within * 86_400, most_told=MOST_STRETCHES)
    return shapes.FellTogether(
        within=within,
        stretches=[_stretch(workspace, together, by_kpi) for together in found],
        how=HOW,
    )


def _happened(workspace: Workspace, dates: Dates) -> list[list[Happened]]:
    """Return what happened to each KPI on the days looked at, one happening a period."""
    begin, end = _bounds(dates)
    rows = Kpi.objects.filter(workspace=workspace).select_related("summary")
    kpis = {kpi.pk: kpi for kpi in rows.only("slug", "name", "grain", "time_zone", "summary")}
    happened: dict[int, dict[datetime, Happened]] = {pk: {} for pk in kpis}
    findings = Finding.objects.filter(
        kpi__in=kpis, presence=FindingPresence.PRESENT, first__gte=begin, first__lt=end
    ).exclude(state=FindingState.ASIDE)
    for pk, at, title in findings.order_by("first").values_list("kpi", "first", "title"):
        happened[pk].setdefault(at, Happened(kpis[pk], at, title))
    shifts = Segment.objects.filter(kpi__in=kpis, start__gte=begin, start__lt=end)
    for pk, start, name in shifts.values_list("kpi", "start", "name"):
        if start is not None:
            happened[pk][start] = Happened(kpis[pk], start, f"Shift: {name}" if name else "Shift")
    return [
        sorted(of_kpi.values(), key=lambda happened: happened.at)
        for of_kpi in happened.values()
        if of_kpi
    ]


def _bounds(dates: Dates) -> tuple[datetime, datetime]:
    if dates.first is None or dates.last is None:
        return datetime.min.replace(tzinfo=UTC), datetime.max.replace(tzinfo=UTC)
    begin = datetime(dates.first.year, dates.first.month, dates.first.day, tzinfo=UTC)
    last = datetime(dates.last.year, dates.last.month, dates.last.day, tzinfo=UTC)
    # A day somewhere begins up to half a day before, or ends half a day after, that in UTC.
    return begin - timedelta(hours=12), last + timedelta(hours=36)


def _series(happened: list[Happened], dates: Dates) -> Timeline:
    """Return when things happened to a KPI, in the dates that it has of those looked at."""
    kpi, summary = happened[0].kpi, happened[0].kpi.summary
    step = round(DAYS_LONG[Grain(kpi.grain)] * 86_400)
    begin, end = _bounds(dates)
    first = max(begin, summary.oldest) if summary.oldest else begin
    last = min(end, summary.newest) if summary.newest else end
    times = np.array([int(one.at.timestamp()) for one in happened], np.int64)
    # The last period lasts to its end; what lies outside of the values widens their dates.
    low = min(int(first.timestamp()), int(times[0]))
    high = max(int(last.timestamp()), int(times[-1])) + step
    return Timeline(times, low, high, step)


def _stretch(
    workspace: Workspace, together: Together, by_kpi: list[list[Happened]]
) -> shapes.TogetherStretch:
    members = [by_kpi[series][number] for series, number in together.members.tolist()]
    first, last = _day(members[0]), _day(members[-1])
    events = Event.objects.filter(workspace=workspace, first__lte=last, last__gte=first)
    label_text = _label(first, last)
    return shapes.TogetherStretch(
        first=first.isoformat(),
        last=last.isoformat(),
        label=label_text,
        title=f"{counted(together.series)} KPIs, {label_text}",
        members=[
            shapes.TogetherMember(one.kpi.slug, one.kpi.name, one.what, one.label, one.text)
            for one in members[:MOST_MEMBERS]
        ],
        events=list(events.order_by("first").values_list("title", flat=True)[:MOST_EVENTS]),
        chance=say_chance(together),
        explained=chance_explains(together),
    )


def _day(happened: Happened) -> date:
    return happened.at.astimezone(ZoneInfo(happened.kpi.time_zone)).date()


def _label(first: date, last: date) -> str:
    """Name a stretch of days: ``18 to 25 May 2026``."""
    zone = ZoneInfo("UTC")
    ends = [datetime(day.year, day.month, day.day, tzinfo=UTC) for day in (first, last)]
    begin, end = (label(moment, Grain.DAY, zone) for moment in ends)
    if first == last:
        return end
    if first.year == last.year:
        begin = begin.removesuffix(f" {first.year}")
    return f"{begin} to {end}"
