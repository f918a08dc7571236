"""What a person makes of the overview: their order of KPIs and of groups."""

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError
from fluctus.kpis.models import Kpi
from fluctus.overview.models import HandOrder
from fluctus.overview.strips.queries import Order, Viewer, group_counts, slugs_in_order


@transaction.atomic
def move_in_order(viewer: Viewer, slug: str, next_to: str, order: Order, *, after: bool) -> None:
    """Put a KPI before another one, or after it, in the order that a person looks at.

    That becomes their own order. Raises NotThereError for KPIs that are not there.
    """
    # Two moves that come at once follow each other.
    Workspace.objects.select_for_update(no_key=True).get(pk=viewer.workspace.pk)
    slugs = slugs_in_order(viewer, order)
    if slug not in slugs or next_to not in slugs:
        raise NotThereError("KPI")
    slugs.remove(slug)
    if slug != next_to:
        slugs.insert(slugs.index(next_to) + after, slug)
        HandOrder.objects.update_or_create(
            person=viewer.person, workspace=viewer.workspace, defaults={"slugs": slugs}
        )


@transaction.atomic
def move_group(viewer: Viewer, group: str, next_to: str, *, after: bool) -> None:
    """Put a group before another one, or after it, in the order of a person.

    Raises NotThereError for groups that are not there.
    """
    Workspace.objects.select_for_update(no_key=True).get(pk=viewer.workspace.pk)
    rows = Kpi.objects.filter(workspace=viewer.workspace)
    names = [name for name, _ in group_counts(viewer, rows)]
    if group not in names or next_to not in names:
        raise NotThereError("group")
    names.remove(group)
    if group != next_to:
        names.insert(names.index(next_to) + after, group)
        HandOrder.objects.update_or_create(
            person=viewer.person, workspace=viewer.workspace, defaults={"groups": names}
        )
