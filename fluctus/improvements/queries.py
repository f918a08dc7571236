"""Reads of improvements, all within the workspaces of the person who asks."""

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, timedelta

from django.contrib.auth.models import User
from django.db.models import QuerySet

from fluctus.accounts.models import Workspace
from fluctus.core.judgment import ImprovementState
from fluctus.http.refusals import NotThereError
from fluctus.improvements.models import Aim, Improvement, ImprovementAct
from fluctus.kpis.models import Kpi

STATE_ORDER = (
    ImprovementState.FADED,
    ImprovementState.OTHER_WAY,
    ImprovementState.MOVED,
    ImprovementState.SIGN,
    ImprovementState.HELD,
    ImprovementState.NO_SIGN,
    ImprovementState.TOO_EARLY,
    ImprovementState.NO_BASELINE,
)
"""What asks for something comes first."""
MOST = 200
"""Improvements of a workspace at one time."""
MOST_TOLD = 30


def improvements_in(workspace: Workspace) -> QuerySet[Improvement]:
    """Return the improvements of a workspace that are not removed, the newest first."""
    rows = Improvement.objects.filter(workspace=workspace, removed_at=None)
    return rows.select_related("owner", "finding__kpi", "event").order_by("-began", "-pk")


def improvement_of(person: User, workspace: str, number: int) -> Improvement:
    """Return one improvement; raises NotThereError for one of another workspace."""
    rows = Improvement.objects.filter(workspace__slug=workspace, workspace__members=person)
    found = rows.select_related("workspace", "owner", "finding__kpi", "event").filter(pk=number)
    row = found.first()
    if row is None:
        raise NotThereError("improvement")
    return row


def aims_of(improvements: Sequence[Improvement]) -> dict[int, list[Aim]]:
    """Return the aims of some improvements, by the number of each."""
    found: dict[int, list[Aim]] = defaultdict(list)
    rows = Aim.objects.filter(improvement__in=improvements).select_related("kpi", "improvement")
    for aim in rows.order_by("pk"):
        found[aim.improvement_id].append(aim)
    return found


def at_the_same_time(aims: Sequence[Aim], every: Sequence[Aim]) -> dict[int, list[str]]:
    """Name, for each aim, the improvements on the same KPI within its time or it within theirs.

    What they brought is theirs together. The time of one lasts from its day to the day it was to
    show by, or on and on.
    """
    by_kpi: dict[int, list[Aim]] = defaultdict(list)
    for aim in every:
        by_kpi[aim.kpi_id].append(aim)
    return {
        aim.pk: [
            other.improvement.name
            for other in by_kpi[aim.kpi_id]
            if other.improvement_id != aim.improvement_id
            and other.improvement.removed_at is None
            and _overlap(aim, other)
        ]
        for aim in aims
    }


def _overlap(aim: Aim, other: Aim) -> bool:
    (first, end), (second, end_of_second) = _time(aim), _time(other)
    return first <= end_of_second and second <= end


def _time(aim: Aim) -> tuple[date, date]:
    began = aim.improvement.began
    return began, date.max - timedelta(days=1) if aim.by is None else max(began, aim.by)


def acts_of(improvement: Improvement) -> QuerySet[ImprovementAct]:
    """Return what was done to an improvement and came of it, the newest first."""
    return improvement.acts.select_related("author").order_by("-pk")


def aimed_at_in_words(kpi: Kpi) -> list[str]:
    """Name the improvements that are to move a KPI and no other."""
    rows = Improvement.objects.filter(aims__kpi=kpi, removed_at=None)
    return [
        f"The improvement {row.name} is to move it."
        for row in rows
        if not row.aims.exclude(kpi=kpi).exists()
    ]


def faded_for(person: User, workspace: Workspace) -> list[Aim]:
    """Return what has faded, or went the other way, of the improvements of a person."""
    states = (ImprovementState.FADED, ImprovementState.OTHER_WAY)
    rows = Aim.objects.filter(
        improvement__workspace=workspace,
        improvement__owner=person,
        improvement__removed_at=None,
        state__in=states,
    )
    return list(rows.select_related("kpi", "improvement").order_by("-state_since"))


def told_of(kpi: Kpi) -> tuple[tuple[str, str], ...]:
    """Return what was done to move a KPI, since when, and what came of that, the newest first."""
    rows = Aim.objects.filter(kpi=kpi, improvement__removed_at=None).select_related("improvement")
    return tuple(
        (
            f"{aim.improvement.name}, {aim.improvement.began:%-d %B %Y}",
            str(aim.outcome.get("says", "")),
        )
        for aim in rows.order_by("-improvement__began", "-pk")[:MOST_TOLD]
    )
