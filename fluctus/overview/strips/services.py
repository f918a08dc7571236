"""What a person makes of the overview: their order."""

from django.contrib.auth.models import User

from fluctus.accounts.models import Workspace
from fluctus.overview.models import HandOrder


def keep_order(person: User, workspace: Workspace, slugs: list[str]) -> None:
    """Keep the order of a person; those that it does not name come after, as they came."""
    HandOrder.objects.update_or_create(
        person=person, workspace=workspace, defaults={"slugs": list(dict.fromkeys(slugs))}
    )
