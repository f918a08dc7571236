"""What is another one as soon as anything of the KPIs of a workspace is: sums that only rise."""

from collections.abc import Sequence
from typing import Any, Final

from django.db.models import Count, Max, QuerySet, Sum, Value
from django.db.models.expressions import Combinable
from django.db.models.functions import Extract

from fluctus.accounts.models import Workspace
from fluctus.http.compiled import Compiled
from fluctus.kpis.models import Kpi

COUNTED: Final[tuple[Combinable, ...]] = (
    Count("pk"),
    # One that has gone and one that has come in its place.
    Max("pk"),
    Sum("revision"),
    Sum("logged"),
    Sum("unexplained"),
    # Time alone makes others of them, and moves this.
    Sum(Extract("renew_at", "epoch")),
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
