"""Where parts are: kept for a workspace, each write one transaction."""

from collections.abc import Sequence

from django.contrib.auth.models import User
from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.overview.models import AreaMap, Place
from fluctus.tables.area_file import Area
from fluctus.tables.place_table import PlaceRow


@transaction.atomic
def keep_places(workspace: Workspace, places: Sequence[PlaceRow]) -> int:
    """Keep where parts are; those that are kept already move. Returns how many there were."""
    rows = [
        Place(
            workspace=workspace,
            name=place.name,
            latitude=place.latitude,
            longitude=place.longitude,
        )
        for place in places
    ]
    Place.objects.bulk_create(
        rows,
        update_conflicts=True,
        unique_fields=["workspace", "name"],
        update_fields=["latitude", "longitude"],
    )
    return len(rows)


@transaction.atomic
def keep_areas(
    workspace: Workspace, file_name: str, areas: Sequence[Area], author: User
) -> AreaMap:
    """Keep the areas of a file in place of those that there were."""
    features = [
        {"type": "Feature", "properties": {"name": area.name}, "geometry": area.geometry}
        for area in areas
    ]
    names = [area.name for area in areas]
    kept, _ = AreaMap.objects.update_or_create(
        workspace=workspace,
        defaults={
            "file_name": file_name[:200],
            "author": author,
            "names": names,
            "features": features,
        },
    )
    return kept


def remove_areas(workspace: Workspace) -> None:
    """Remove the areas of a workspace."""
    AreaMap.objects.filter(workspace=workspace).delete()
