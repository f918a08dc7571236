"""Reports that are made by themselves: asked for when due, and mailed once they are made."""

from collections.abc import Sequence
from datetime import datetime
from typing import Final
from zoneinfo import ZoneInfo

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.jobs.claiming import for_each
from fluctus.jobs.models import JobStatus
from fluctus.jobs.schedule import Every, Schedule, next_times, refuse_unfit
from fluctus.messages.letters import Letter, address_of
from fluctus.messages.models import ScheduledReport
from fluctus.messages.outbox import write_letter
from fluctus.messages.wishes import reached_by_mail
from fluctus.reports.asked import Asked
from fluctus.reports.jobs import order
from fluctus.reports.models import Format, Report
from fluctus.reports.outputs.registry import output_of
from fluctus.reports.queries import file_name_of
from fluctus.reports.services import ask_for

MOST: Final = 50
"""Scheduled reports of a workspace."""


def keep_scheduled(
    report: Report,
    person: User,
    schedule: Schedule,
    zone: str,
    to: Sequence[str],
    now: datetime,
) -> ScheduledReport:
    """Let a report that was made be made again by itself; ``to`` are usernames of members.

    Raises RefusalError for a schedule that is none, or somebody who is no member.
    """
    if schedule.every is Every.ARRIVAL:
        issue = Issue("A report follows the clock.", "Choose a day and an hour.", "schedule")
        raise RefusalError("This is no schedule for a report.", issue)
    refuse_unfit(schedule, now, ZoneInfo(zone))
    workspace = report.workspace
    people = list(workspace.members.filter(username__in=to))
    if missing := set(to) - {member.username for member in people}:
        issue = Issue(f"{min(missing)} is no member.", "Choose from the list.", "to")
        raise RefusalError("The report is not mailed so.", issue)
    with transaction.atomic():
        Workspace.objects.select_for_update().get(pk=workspace.pk)
        if workspace.scheduled_reports.count() >= MOST:
            issue = Issue(f"There are {MOST} already.", "Remove those that are not needed.")
            raise RefusalError("The report is not made by itself.", issue)
        row = ScheduledReport.objects.create(
            workspace=workspace,
            person=person,
            title=report.title,
            format=report.format,
            asked=report.asked,
            schedule=schedule.to_json(),
            time_zone=zone,
            next_at=next_times(schedule, now, ZoneInfo(zone), 1)[0],
        )
        row.to.set(people)
    return row


def remove_scheduled(workspace: Workspace, number: int) -> None:
    """Let a report be made no more by itself; those that were made stay."""
    row = workspace.scheduled_reports.filter(pk=number).first()
    if row is None:
        raise NotThereError("scheduled report")
    row.delete()


def ask_for_due(now: datetime) -> int:
    """Ask for the reports that are due; a time that was missed is made up once."""
    due = ScheduledReport.objects.filter(next_at__lte=now).select_related("workspace", "person")
    return for_each(due.order_by("next_at", "pk"), lambda row: _ask(row, now))


def _ask(row: ScheduledReport, now: datetime) -> int:
    schedule = Schedule.from_json(row.schedule)
    row.next_at = next_times(schedule, now, ZoneInfo(row.time_zone), 1)[0]
    row.problem = ""
    if not row.workspace.members.filter(pk=row.person_id, is_active=True).exists():
        row.problem = "Who set it up has left the workspace."
    else:
        try:
            with transaction.atomic():
                row.last_report = order(
                    lambda: ask_for(
                        row.workspace,
                        row.person,
                        row.title,
                        Format(row.format),
                        Asked.from_json(row.asked),
                        now,
                    )
                )
            row.mailed = False
        except RefusalError as error:
            detail = error.issues[0].detail if error.issues else ""
            row.problem = f"{error.title} {detail}"[:300]
    row.save()
    return 1


def mail_made(now: datetime) -> int:
    """Write to whom each report goes that has been made since; returns how many letters."""
    made = ScheduledReport.objects.filter(mailed=False, last_report__status=JobStatus.DONE)
    rows = made.select_related("workspace", "last_report").order_by("pk")
    return for_each(rows, lambda row: _mail(row, now))


def _mail(row: ScheduledReport, now: datetime) -> int:
    to = [
        person
        for person in row.to.filter(workspaces=row.workspace, is_active=True)
        if reached_by_mail(row.workspace, person)
    ]
    for person in to:
        write_letter(row.workspace, _letter(row), now, person, _enclosed(row))
    row.mailed = True
    row.save(update_fields=["mailed"])
    return len(to)


def _letter(row: ScheduledReport) -> Letter:
    assert row.last_report is not None, "it has been made"
    where = address_of(row.workspace, f"/reports/{row.last_report.pk}")
    opening = f"{row.title}, as of today, is enclosed. It is also at {where}."
    return Letter(row.title[:150], opening, (), f"It comes by itself; {row.person} set it up.")


def _enclosed(row: ScheduledReport) -> dict[str, object]:
    assert row.last_report is not None, "it has been made"
    return {
        "report": row.last_report.pk,
        "name": file_name_of(row.last_report),
        "type": output_of(row.format).media_type,
    }
