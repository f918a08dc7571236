"""What a person keeps at hand: each their own, and only where they belong."""

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, RefusalError
from fluctus.kpis.models import Kpi
from fluctus.overview.models import Favorite

MOST = 50
"""More of them are a list of their own that is searched as long as that of all."""


def favorites_of(person: User, workspace: Workspace) -> list[str]:
    """Return the slugs of the KPIs that a person keeps at hand, as they took them there."""
    rows = Favorite.objects.filter(person=person, kpi__workspace=workspace).order_by("id")
    return list(rows.values_list("kpi__slug", flat=True))


@transaction.atomic
def keep_at_hand(person: User, kpi: Kpi) -> list[str]:
    """Add a KPI to what a person keeps at hand; returns all of them in its workspace.

    Raises RefusalError (409) where there are as many as can be.
    """
    kept = favorites_of(person, kpi.workspace)
    if kpi.slug in kept:
        return kept
    if len(kept) >= MOST:
        raise RefusalError(
            f"You keep {MOST} KPIs at hand, which is all there can be.",
            Issue(f"{kpi.name} would be one more.", "Let go of another one first."),
            status=409,
        )
    Favorite.objects.get_or_create(person=person, kpi=kpi)
    return [*kept, kpi.slug]


def let_go(person: User, kpi: Kpi) -> list[str]:
    """Take a KPI out of what a person keeps at hand; returns all of them in its workspace."""
    Favorite.objects.filter(person=person, kpi=kpi).delete()
    return favorites_of(person, kpi.workspace)
