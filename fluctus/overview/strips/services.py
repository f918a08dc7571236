"""What a person makes of the overview: their order."""

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError
from fluctus.overview.models import HandOrder
from fluctus.overview.strips.queries import Order, Viewer, slugs_in_order


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
