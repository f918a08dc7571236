"""Findings as the API answers with them."""

import math
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.core import Rule, Side, Signal
from fluctus.core.analysis import RULES, Against, Judges
from fluctus.core.judgment import false_alarms
from fluctus.core.words import percent_of_all, roughly
from fluctus.findings import shapes
from fluctus.findings.matching import MOST
from fluctus.findings.models import Entry, Finding, FindingPresence, FindingState
from fluctus.findings.queries import Surroundings, entries_of, people_of
from fluctus.kpis.calendar import DAYS_LONG, Grain, to_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.contributions.tables import has_parts
from fluctus.kpis.models import Event, EventKind

VALUES_TOLD = 12


def finding_answer(finding: Finding, since: datetime | None = None) -> shapes.Finding:
    """Return a finding as the log shows it; found after ``since`` it is new."""
    return shapes.Finding(**_parts(finding, since))


def detail_answer(finding: Finding, chart: Chart, near: Surroundings) -> shapes.FindingDetail:
    """Return a finding with why it is flagged, what was said, and what else was going on."""
    return shapes.FindingDetail(
        **_parts(finding),
        shared_out=_shared_out(finding, chart),
        why=_why(finding, chart),
        entries=[entry_answer(entry) for entry in entries_of(finding)],
        surroundings=_surroundings(finding, near),
        people=people_of(finding.kpi.workspace),
    )


def _parts(finding: Finding, since: datetime | None = None) -> dict[str, Any]:
    kpi = finding.kpi
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    rule = Rule(finding.rule)
    return {
        "id": finding.pk,
        "kpi": kpi.slug,
        "kpi_name": kpi.name,
        "rule": rule,
        "mark": RULES[rule].mark,
        "side": Side(finding.side),
        "first": to_text(finding.first, grain, zone),
        "last": to_text(finding.last, grain, zone),
        "label": finding.label,
        "points": finding.points,
        "title": finding.title,
        "text": finding.text,
        "evidence": [shapes.Evidence(**signal) for signal in finding.evidence],
        "favorable": finding.favorable,
        "state": FindingState(finding.state),
        "presence": FindingPresence(finding.presence),
        "cause": finding.cause,
        "action": finding.action,
        "person": finding.person.username if finding.person else None,
        "person_name": name_of(finding.person),
        "due": finding.due and finding.due.isoformat(),
        "version": finding.version,
        "is_new": since is not None and finding.found_at > since,
    }


def entry_answer(entry: Entry) -> shapes.Entry:
    """Return a remark, or something that happened."""
    return shapes.Entry(
        id=entry.pk,
        author=name_of(entry.author),
        at=entry.at.isoformat(),
        remark=entry.remark,
        text=entry.text,
    )


def _why(finding: Finding, chart: Chart) -> list[shapes.Reason]:
    """Describe why a finding is flagged, in numbers: rule, values, limit, distance, how often."""
    rule = Rule(finding.rule)
    true_when = RULES[rule].says(chart.state.run_length)
    reasons = [shapes.Reason("The rule", f"{true_when[0].upper()}{true_when[1:]}.")]
    signal = _signal(finding, chart)
    if signal is not None:
        reasons += _numbers(signal, chart)
    return [*reasons, shapes.Reason("With no change", _how_often(rule, chart))]


def _shared_out(finding: Finding, chart: Chart) -> shapes.Stretch | None:
    signal = _signal(finding, chart)
    if signal is None or not has_parts(finding.kpi):
        return None
    first, last = (chart.observations.text(signal.points[end]) for end in (0, -1))
    return shapes.Stretch(first, last)


def _signal(finding: Finding, chart: Chart) -> Signal | None:
    """Return the signal that a finding leads with; None where its points signal no more."""
    ends = (
        chart.observations.position_of(finding.first),
        chart.observations.position_of(finding.last),
    )
    every = chart.happenings
    newest = every.newest(MOST, every.raised_by(chart.raising))
    return next(
        (
            happening.lead
            for happening in newest
            if (happening.points[0], happening.points[-1]) == ends
            and happening.lead.rule == finding.rule
        ),
        None,
    )


def _numbers(signal: Signal, chart: Chart) -> list[shapes.Reason]:
    words, rule = chart.words, RULES[signal.rule]
    *first, last = signal.values[:VALUES_TOLD]
    told = [*map(words.numbers.value, first), words.numbers.amount(last)]
    values = ", ".join(told)
    if len(signal.values) > VALUES_TOLD:
        values += f" and {len(signal.values) - VALUES_TOLD} more"
    name = "Moving ranges" if rule.judges is Judges.RANGES else "Values"
    reasons = [shapes.Reason(name, f"{values}.")]
    if signal.level is not None:
        is_limit = rule.against in (Against.LIMIT, Against.RANGE_LIMIT)
        name = "The limit" if is_limit else "Held against"
        reasons.append(shapes.Reason(name, f"{words.numbers.level_amount(signal.level)}."))
    if signal.sigmas is not None:
        side = "above" if signal.sigmas > 0 else "below"
        reasons.append(
            shapes.Reason(
                "Distance",
                f"The furthest is {abs(signal.sigmas):.1f} sigma {side} the central line of "
                f"{words.numbers.level_amount(signal.centre)}.",
            )
        )
    return reasons


def _how_often(rule: Rule, chart: Chart) -> str:
    alarms = false_alarms([rule], chart.state.run_length)
    count, grain = len(chart.observations), chart.words.grain
    if math.isinf(alarms.average_points):
        return "This hardly ever comes up."
    chance = alarms.chance(count)
    return (
        "Where nothing changes, this rule alone would show a signal once in some "
        f"{roughly(alarms.average_points)} {grain}s; in the {count:,} {grain}s of this chart with "
        f"a chance of {percent_of_all(chance)}."
    )


def _surroundings(finding: Finding, near: Surroundings) -> shapes.Surroundings:
    """Return what else was going on, each with how far it is from the finding."""
    zone = ZoneInfo(finding.kpi.time_zone)
    return shapes.Surroundings(
        findings=[
            shapes.NearFinding(
                kpi=other.kpi.slug,
                kpi_name=other.kpi.name,
                title=other.title,
                label=other.label,
                when=_when(finding, _day(other.first, zone), _day(other.last, zone)),
            )
            for other in near.findings
        ],
        events=[
            _near_event(finding, event) for event in near.events if event.kind != EventKind.STATE
        ],
        states=[
            _near_event(finding, event) for event in near.events if event.kind == EventKind.STATE
        ],
        imports=[
            shapes.NearImport(
                kpi=act.kpi.slug,
                kpi_name=act.kpi.name,
                title=act.summary,
                author=name_of(act.author),
                when=_when(finding, _day(act.at, zone), _day(act.at, zone)),
            )
            for act in near.acts
        ],
    )


def _near_event(finding: Finding, event: Event) -> shapes.NearEvent:
    return shapes.NearEvent(
        title=event.title,
        first=event.first.isoformat(),
        last=event.last.isoformat(),
        when=_when(finding, event.first, event.last),
    )


def _when(finding: Finding, first: date, last: date) -> str:
    """Describe how far something that went from ``first`` to ``last`` is from a finding."""
    zone, grain = ZoneInfo(finding.kpi.time_zone), Grain(finding.kpi.grain)
    begin, end = _day(finding.first, zone), _day(finding.last, zone)
    if last < begin:
        return _distance((begin - last).days, grain, "before")
    # A period lasts to the start of the next one.
    over = (first - end).days - math.ceil(DAYS_LONG[grain]) + 1
    return _distance(over, grain, "after") if over > 0 else "at the same time"


def _day(moment: datetime, zone: ZoneInfo) -> date:
    return moment.astimezone(zone).date()


def _distance(days: int, grain: Grain, way: str) -> str:
    if DAYS_LONG[grain] < 1:
        return f"{days} day{'' if days == 1 else 's'} {way}"
    periods = max(1, math.ceil(days / DAYS_LONG[grain]))
    return f"{periods} {grain}{'' if periods == 1 else 's'} {way}"
