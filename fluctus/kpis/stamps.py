"""What is another one as soon as anything of the KPIs of a workspace is, without reading them."""

from collections.abc import Sequence
from typing import Any, Final

from django.db.models import BigIntegerField, Count, Func, QuerySet, Sum, Value
from django.db.models.expressions import Combinable

from fluctus.accounts.models import Workspace
from fluctus.http.compiled import Compiled
from fluctus.kpis.models import Kpi


def digests(*columns: str) -> Combinable:
    """Return the sum of a digest of each row: another one as soon as any of its columns is.

    Of the columns themselves, what rises in one row and falls in another would sum to the same.
    """
    template = "hashtextextended(ROW(%(expressions)s)::text, 0)"
    return Sum(Func(*columns, template=template, output_field=BigIntegerField()))


COUNTED: Final[tuple[Combinable, ...]] = (
    Count("pk"),
    digests("pk", "revision", "logged", "unexplained", "renew_at"),
)


_counted = Compiled(
    lambda workspace: counted(Kpi.objects.filter(workspace=workspace)), workspace=int
)


def counted(rows: QuerySet[Any], what: Sequence[Combinable] = COUNTED) -> QuerySet[Any]:
    """Return a query of what rows of one workspace come to."""
    named = {f"n{number}": each for number, each in enumerate(what)}
    sums: QuerySet[Any] = rows.order_by().values(one=Value(1)).annotate(**named)
    return sums


def stamp_of_kpis(workspace: Workspace) -> list[Any]:
    """Return the stamp of the KPIs of a workspace."""
    return _counted.values(workspace=workspace.pk)
