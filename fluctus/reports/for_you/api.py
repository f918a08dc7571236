"""What waits for a person, over HTTP."""

from dataclasses import dataclass
from datetime import date

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from fluctus.accounts.queries import workspace_of
from fluctus.findings import shapes as finding_shapes
from fluctus.findings.answers import finding_answer
from fluctus.http import clock
from fluctus.http.problems import PROBLEMS
from fluctus.http.requests import person_of
from fluctus.http.shapes import Shape, schema_of
from fluctus.http.snapshots import one_snapshot
from fluctus.improvements.queries import faded_for
from fluctus.reports import shapes
from fluctus.reports.api import report_answer
from fluctus.reports.for_you.queries import MOST, assigned_to, namings_of, shared_with


@dataclass(frozen=True, slots=True)
class Named(Shape):
    """Words in which the person is named."""

    kind: str
    """``remark``, ``event`` or ``shift``."""
    text: str
    where: str
    kpi: str
    """The slug of a KPI it is told with; "" for none."""
    finding: int | None
    by: str
    day: date


@dataclass(frozen=True, slots=True)
class Faded(Shape):
    """An improvement of the person that did not last on a KPI, or went the other way."""

    improvement: int
    name: str
    kpi_name: str
    says: str
    since: date


@dataclass(frozen=True, slots=True)
class ForYou(Shape):
    """What waits for the person who asks."""

    assigned: list[finding_shapes.Finding]
    """Findings to look into: those with a day they are due by first."""
    overdue: int
    faded: list[Faded]
    """What has faded of the person's improvements, or went the other way."""
    named: list[Named]
    shared: list[shapes.Report]
    """Reports that others have made lately."""


class ForYouView(APIView):
    """What waits for the person who asks."""

    @extend_schema(operation_id="for_you", responses={200: schema_of(ForYou), **PROBLEMS})
    @one_snapshot()
    def get(self, request: Request, workspace: str) -> Response:
        """List it."""
        person, now = person_of(request), clock.now()
        workspace_row = workspace_of(person, workspace)
        assigned = assigned_to(person, workspace_row)
        return Response(
            ForYou(
                [finding_answer(row) for row in assigned[:MOST]],
                assigned.filter(due__lt=now.date()).count(),
                [
                    Faded(
                        aim.improvement_id,
                        aim.improvement.name,
                        aim.kpi.name,
                        aim.outcome.get("says", ""),
                        aim.state_since.date(),
                    )
                    for aim in faded_for(person, workspace_row)
                ],
                [
                    Named(row.kind, row.text, row.where, row.kpi, row.finding, row.by, row.day)
                    for row in namings_of(person, workspace_row)
                ],
                [report_answer(row) for row in shared_with(person, workspace_row, now)[:20]],
            )
        )
