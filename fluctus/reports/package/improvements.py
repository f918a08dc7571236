"""The improvements of a package: a row for each KPI that one is to move."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any

from rest_framework.exceptions import ValidationError

from fluctus.accounts.models import Workspace
from fluctus.http.problems import field_issues
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import checked
from fluctus.improvements.models import Aim
from fluctus.improvements.requests import NewImprovementSerializer, aims_in
from fluctus.improvements.services import create_improvement
from fluctus.kpis.actor import Actor
from fluctus.kpis.models import Kpi
from fluctus.reports.package.fields import IMPROVEMENTS_FILE, NOT_BROUGHT


def improvement_rows(kpis: Sequence[Kpi]) -> Iterable[list[Any]]:
    """Return a row for each KPI that an improvement is to move."""
    rows = Aim.objects.filter(kpi__in=kpis, improvement__removed_at=None)
    for aim in rows.select_related("improvement", "kpi").order_by("improvement", "pk"):
        yield [
            str(aim.improvement_id),
            aim.improvement.name,
            aim.improvement.text,
            aim.improvement.began.isoformat(),
            aim.kpi.slug,
            aim.wanted,
            aim.amount,
            aim.by.isoformat() if aim.by else "",
            aim.worth,
            aim.worth_unit,
            aim.state,
            aim.outcome.get("says", ""),
        ]


def bring_improvements(
    workspace: Workspace, rows: Sequence[dict[str, str]], created: dict[str, Kpi], actor: Actor
) -> None:
    """Write down the improvements of a package; what came of them is computed anew.

    Raises RefusalError naming the row of one that cannot be.
    """
    forms: dict[str, dict[str, Any]] = {}
    first_row: dict[str, int] = {}
    for number, row in enumerate(rows, start=2):
        if row["kpi"] not in created:
            continue
        form = forms.setdefault(
            row["improvement"],
            {"name": row["name"], "text": row["text"], "began": row["began"], "aims": []},
        )
        first_row.setdefault(row["improvement"], number)
        form["aims"].append(
            {
                "kpi": created[row["kpi"]].slug,
                "wanted": row["wanted"],
                "amount": row["amount"] or None,
                "by": row["by"] or None,
                "worth": row["worth"] or None,
                "worth_unit": row["worth_unit"],
            }
        )
    for key, form in forms.items():
        try:
            taken = checked(NewImprovementSerializer, form)
            create_improvement(workspace, taken, aims_in(taken) or [], actor)
        except ValidationError as error:
            raise _refused(field_issues(error.detail), first_row[key]) from None
        except RefusalError as error:
            raise _refused(error.issues, first_row[key]) from None


def _refused(issues: Iterable[Issue], row: int) -> RefusalError:
    placed = [
        replace(issue, row=row, column=IMPROVEMENTS_FILE, remedy=issue.remedy or "Put it right.")
        for issue in issues
    ]
    return RefusalError(NOT_BROUGHT, *placed)
