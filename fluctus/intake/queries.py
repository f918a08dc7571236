"""Reads of imports, all within the workspaces of the person who asks."""

from dataclasses import replace

from django.contrib.auth.models import User
from django.db.models import Prefetch, Q, QuerySet

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError
from fluctus.intake.models import Import, ImportKind, ImportPart
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.read_table import word_key
from fluctus.jobs.models import JobStatus
from fluctus.kpis.hooks import writings
from fluctus.kpis.models import Kpi, PastValue
from fluctus.tables.meaning.dates import DateStyle

LOOKED_BACK = 30
"""Imports that are looked through for what was answered before."""
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
        ImportPart.objects.filter(
            kpi=kpi, whole__status=JobStatus.DONE, whole__kind=ImportKind.TABLE
        )
        .select_related("whole__person")
        .order_by("-id")
        .first()
    )
    return None if part is None else (part.whole, Mapping.from_json(part.whole.mapping))


def remembered(workspace: Workspace, mapping: Mapping) -> Mapping:
    """Return a mapping with what was answered for earlier tables of a workspace.

    Words for a value that is not there, unless they are taken back, and the month that begins
    its years.
    """
    done = Import.objects.filter(
        workspace=workspace, status=JobStatus.DONE, kind=ImportKind.TABLE
    ).order_by("-id")[:LOOKED_BACK]
    # With every choice of a mapping is asked again: only what counts is fetched.
    told = list(
        done.values_list("mapping__missing_words", "mapping__date_style", "mapping__first_month")
    )
    words = dict.fromkeys(
        [*mapping.missing_words, *(word for known, *_ in told for word in known or ())]
    )
    fiscal = (month for _, style, month in told if style == DateStyle.FISCAL_YEAR)
    return replace(
        mapping,
        missing_words=tuple(w for w in words if word_key(w) not in mapping.taken_back),
        first_month=mapping.first_month or next(fiscal, None),
    )


def written_since(part: ImportPart) -> list[str]:
    """Describe what people have done since an import to what it wrote, in words.

    Of a KPI that it made this is all that anybody has written to it, which would go with it.
    """
    if part.kpi is None:
        return []
    taken_back = part.change is None or part.change.undone_by_id is not None
    texts = [] if taken_back else _edits_since(part, part.kpi)
    if part.created:
        texts += [text for written in writings for text in written(part.kpi)]
    return texts


def _edits_since(part: ImportPart, kpi: Kpi) -> list[str]:
    touched = (
        PastValue.objects.filter(kpi=kpi, written_by=part.change)
        .filter(Q(replaced_by__undone_by=None), replaced_by__undoes=None)
        .count()
    )
    texts = []
    if touched:
        noun = "value was" if touched == 1 else "values were"
        texts.append(f"{touched:,} {noun} edited in {kpi.name} since.")
    if part.created and kpi.revision != part.revision and not touched:
        texts.append(f"The chart of {kpi.name} has been worked on since.")
    return texts
