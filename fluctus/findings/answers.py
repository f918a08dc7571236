"""Findings as the API gives them."""

import math
from collections.abc import Iterable, Iterator
from datetime import date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from fluctus.accounts.queries import name_of
from fluctus.core import DEFINITIONS, Rule, Signal
from fluctus.core.judgment.false_alarms import false_alarms
from fluctus.core.words.wording import NBSP, percent_of_all
from fluctus.findings.models import Entry, Finding
from fluctus.findings.queries import DAYS, Surroundings
from fluctus.findings.services import STATE_WORDS
from fluctus.kpis.calendar import Grain, to_text
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.csv_export import as_text, csv_line
from fluctus.kpis.models import Event, Kpi

VALUES_TOLD = 12


def present_finding(finding: Finding, kpi: Kpi) -> dict[str, Any]:
    """Give a finding as the log shows it."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    return {
        "id": finding.pk,
        "kpi": kpi.slug,
        "kpi_name": kpi.name,
        "rule": finding.rule,
        "side": finding.side,
        "first": to_text(finding.first, grain, zone),
        "last": to_text(finding.last, grain, zone),
        "label": finding.label,
        "points": finding.points,
        "title": finding.title,
        "text": finding.text,
        "favorable": finding.favorable,
        "state": finding.state,
        "standing": finding.standing,
        "cause": finding.cause,
        "action": finding.action,
        "person": finding.person.username if finding.person else None,
        "person_name": name_of(finding.person),
        "due": finding.due and finding.due.isoformat(),
        "version": finding.version,
    }


def present_entry(entry: Entry) -> dict[str, Any]:
    """Give a remark, or something that happened."""
    return {
        "id": entry.pk,
        "author": name_of(entry.author),
        "at": entry.at.isoformat(),
        "remark": entry.remark,
        "text": entry.text,
    }


def present_why(finding: Finding, chart: Chart) -> list[dict[str, str]]:
    """Say why a finding is flagged, in numbers: rule, values, limit, distance, how often."""
    rule = Rule(finding.rule)
    run_length = chart.state.run_length
    true_when = DEFINITIONS[rule].true_when.replace("8 or more", f"{run_length} or more")
    told = [("The rule", f"{true_when[0].upper()}{true_when[1:]}.")]
    signal = _signal(finding, chart)
    if signal is not None:
        told += _numbers(signal, chart)
    told.append(("With no change", _how_often(rule, chart)))
    return [{"name": name, "text": text} for name, text in told]


def _signal(finding: Finding, chart: Chart) -> Signal | None:
    position = chart.observations.position_of(finding.first)
    return next(
        (
            one
            for one in chart.analysis.signals
            if (one.rule, int(one.side), one.points[0]) == (finding.rule, finding.side, position)
        ),
        None,
    )


def _numbers(signal: Signal, chart: Chart) -> list[tuple[str, str]]:
    words = chart.words
    ranged = signal.rule is Rule.RANGE_OUTSIDE_LIMIT
    values = ", ".join(words.number(value) for value in signal.values[:VALUES_TOLD])
    if len(signal.values) > VALUES_TOLD:
        values += f" and {len(signal.values) - VALUES_TOLD} more"
    unit = f"{NBSP}{words.unit}" if words.unit else ""
    told = [("Moving ranges" if ranged else "Values", f"{values}{unit}.")]
    if signal.level is not None:
        limit = ranged or signal.rule is Rule.OUTSIDE_LIMITS
        name = "The limit" if limit else "Judged by"
        told.append((name, f"{words.level_amount(signal.level)}."))
    if signal.sigmas is not None:
        side = "above" if signal.sigmas > 0 else "below"
        told.append(
            (
                "Distance",
                f"The furthest is {abs(signal.sigmas):.1f} sigma {side} the central line of "
                f"{words.level_amount(signal.centre)}.",
            )
        )
    return told


def _how_often(rule: Rule, chart: Chart) -> str:
    alarms = false_alarms([rule], chart.state.run_length)
    count, grain = len(chart.observations), chart.words.grain
    if math.isinf(alarms.average_points):
        return "This hardly ever comes up."
    chance = alarms.chance(count)
    return (
        f"This rule alone would show a signal once in about {alarms.average_points:,.0f} {grain}s; "
        f"in the {count:,} {grain}s of this chart with a chance of "
        f"{percent_of_all(chance)}."
    )


def present_surroundings(finding: Finding, near: Surroundings) -> dict[str, Any]:
    """Give what else was going on, each with how far it is from the finding."""
    kpi = finding.kpi
    zone = ZoneInfo(kpi.time_zone)

    def when(first: date, last: date) -> str:
        begin = finding.first.astimezone(zone).date()
        end = finding.last.astimezone(zone).date()
        grain = Grain(kpi.grain)
        if last < begin:
            return _apart((begin - last).days, grain, "before")
        # A period lasts to the start of the next one.
        over = (first - end).days - math.ceil(DAYS[grain]) + 1
        return _apart(over, grain, "after") if over > 0 else "at the same time"

    def told(event: Event) -> dict[str, Any]:
        return {"title": event.title, "first": event.first.isoformat(),
                "last": event.last.isoformat(), "when": when(event.first, event.last)}  # fmt: skip

    return {
        "findings": [
            {
                "kpi": one.kpi.slug,
                "kpi_name": one.kpi.name,
                "title": one.title,
                "label": one.label,
                "when": when(one.first.astimezone(zone).date(), one.last.astimezone(zone).date()),
            }
            for one in near.findings
        ],
        "events": [told(one) for one in near.events if one.kind != Event.Kind.STATE],
        "states": [told(one) for one in near.events if one.kind == Event.Kind.STATE],
        "imports": [
            {
                "kpi": one.kpi.slug,
                "kpi_name": one.kpi.name,
                "title": one.summary,
                "author": name_of(one.author),
                "when": when(_day(one.at, zone), _day(one.at, zone)),
            }
            for one in near.acts
        ],
    }


def _day(moment: datetime, zone: ZoneInfo) -> date:
    return moment.astimezone(zone).date()


def _apart(days: int, grain: Grain, way: str) -> str:
    if DAYS[grain] < 1:
        return f"{days} day{'' if days == 1 else 's'} {way}"
    periods = max(1, math.ceil(days / DAYS[grain]))
    return f"{periods} {grain}{'' if periods == 1 else 's'} {way}"


HEADER = [
    "kpi", "finding", "rule", "side", "first", "last", "points", "favorable", "on_the_chart",
    "state", "cause", "action", "person", "due", "in_numbers",
]  # fmt: skip


def findings_as_csv(findings: Iterable[Finding]) -> Iterator[str]:
    """Write findings line by line; no cell can run as a formula."""
    yield csv_line(HEADER)
    for finding in findings:
        one = present_finding(finding, finding.kpi)
        favorable = {True: "yes", False: "no", None: ""}[finding.favorable]
        yield csv_line(
            [
                as_text(one["kpi_name"]), as_text(one["title"]), one["rule"],
                {1: "upper", 0: "", -1: "lower"}[finding.side], one["first"], one["last"],
                str(one["points"]), favorable,
                "yes" if finding.standing == Finding.Standing.PRESENT else "no",
                STATE_WORDS[Finding.State(finding.state)], as_text(one["cause"]),
                as_text(one["action"]), as_text(one["person_name"]), one["due"] or "",
                as_text(one["text"]),
            ]
        )  # fmt: skip
