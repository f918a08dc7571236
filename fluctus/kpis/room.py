"""How much of the room of workspaces KPIs and their values take."""

from collections.abc import Collection

from django.db.models import Count, Sum

from fluctus.kpis.models import Kpi


def kpis_in(workspaces: Collection[int]) -> dict[int, int]:
    """Count the KPIs of workspaces."""
    rows = Kpi.objects.filter(workspace__in=workspaces).values("workspace")
    return dict(rows.annotate(all=Count("pk")).values_list("workspace", "all"))


def values_in(workspaces: Collection[int]) -> dict[int, int]:
    """Count the stored values of workspaces, by what each write has counted; none is read."""
    rows = Kpi.objects.filter(workspace__in=workspaces).values("workspace")
    return dict(rows.annotate(all=Sum("stored")).values_list("workspace", "all"))
