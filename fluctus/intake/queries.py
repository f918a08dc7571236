"""Reads of imports, all within the workspaces of the person who asks."""

from django.contrib.auth.models import User
from django.db.models import Prefetch, Q, QuerySet

from fluctus.http.refusals import NotThereError
from fluctus.intake.models import Import, ImportPart, ImportStatus
from fluctus.intake.understanding.mapping import Mapping
from fluctus.kpis.models import Kpi, PastValue

PAGE = 30
"""Imports in one answer of the log."""


def imports_of(person: User, workspace: str, before: int | None = None) -> list[Import]:
    """List imports, newest first, from ``before`` on."""
    rows = _all(person, workspace)
    if before is not None:
        rows = rows.filter(pk__lt=before)
    return list(rows.order_by("-id")[:PAGE])


def import_of(person: User, workspace: str, number: int) -> Import:
    """Return one import; raises NotThereError for one of another workspace."""
    row = _all(person, workspace).filter(pk=number).first()
    if row is None:
        raise NotThereError("import")
    return row


def _all(person: User, workspace: str) -> QuerySet[Import]:
    parts = Prefetch("parts", ImportPart.objects.select_related("kpi", "change").order_by("id"))
    return (
        Import.objects.filter(workspace__slug=workspace, workspace__members=person)
        .select_related("person", "into", "upload")
        .prefetch_related(parts)
    )


def last_layout(kpi: Kpi) -> tuple[Import, Mapping] | None:
    """Return the newest import into a KPI, and how its table was read."""
    part = (
        ImportPart.objects.filter(kpi=kpi, whole__status=ImportStatus.DONE)
        .select_related("whole__person")
        .order_by("-id")
        .first()
    )
    return None if part is None else (part.whole, Mapping.from_json(part.whole.mapping))


def later_edits(part: ImportPart) -> list[str]:
    """Describe what has been done since an import to what it wrote."""
    if part.kpi is None or part.change is None or part.change.undone_by_id is not None:
        return []
    touched = (
        PastValue.objects.filter(kpi=part.kpi, written_by=part.change)
        .filter(Q(replaced_by__undone_by=None), replaced_by__undoes=None)
        .count()
    )
    texts = []
    if touched:
        noun = "value was" if touched == 1 else "values were"
        texts.append(f"{touched:,} {noun} edited in {part.name} since.")
    if part.created and part.kpi.revision != part.revision and not touched:
        texts.append(f"The chart of {part.name} has been worked on since.")
    return texts
