"""What is another one as soon as anything of the KPIs of a workspace is: sums that only rise."""

from typing import Any, Final

from django.db.models import Count, Max, Sum
from django.db.models.expressions import Combinable
from django.db.models.functions import Extract

from fluctus.accounts.models import Workspace
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


def stamp_of_kpis(workspace: Workspace) -> list[Any]:
    """Return the stamp of the KPIs of a workspace."""
    counted = {f"n{number}": what for number, what in enumerate(COUNTED)}
    return list(Kpi.objects.filter(workspace=workspace).aggregate(**counted).values())
