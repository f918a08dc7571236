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
    _one_after_the_other(viewer)
    slugs = slugs_in_order(viewer, order)
    if _moved(slugs, slug, next_to, "KPI", after=after):
        _keep(viewer, slugs=slugs)


@transaction.atomic
def move_group(viewer: Viewer, group: str, next_to: str, *, after: bool) -> None:
    """Put a group before another one, or after it, in the order of a person.

    Raises NotThereError for groups that are not there.
    """
    _one_after_the_other(viewer)
    rows = Kpi.objects.filter(workspace=viewer.workspace)
    names = [name for name, _ in group_counts(viewer, rows)]
    if _moved(names, group, next_to, "group", after=after):
        _keep(viewer, groups=names)


def _one_after_the_other(viewer: Viewer) -> None:
    """Let two moves that come at once follow each other."""
    Workspace.objects.select_for_update(no_key=True).get(pk=viewer.workspace.pk)


def _moved(order: list[str], name: str, next_to: str, what: str, *, after: bool) -> bool:
    """Put a name of an order next to another one; tells whether it is another one than that.

    Raises NotThereError where either is not there.
    """
    if name not in order or next_to not in order:
        raise NotThereError(what)
    if name == next_to:
        return False
    order.remove(name)
    order.insert(order.index(next_to) + after, name)
    return True


def _keep(viewer: Viewer, **order: list[str]) -> None:
    HandOrder.objects.update_or_create(
        person=viewer.person, workspace=viewer.workspace, defaults=order
    )
