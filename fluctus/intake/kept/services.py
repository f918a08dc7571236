"""Keeping readings by name."""

from collections.abc import Sequence

from django.db import transaction

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.intake.kept.shape import ShapeColumn, kept_shape
from fluctus.intake.models import KeptReading
from fluctus.intake.understanding.mapping import Mapping
from fluctus.kpis.actor import Actor

MOST = 200


def keep(
    workspace: Workspace,
    actor: Actor,
    name: str,
    columns: Sequence[ShapeColumn],
    mapping: Mapping,
    *,
    replace: bool,
) -> KeptReading:
    """Keep a reading by a name; raises RefusalError where another has it, unless it is replaced."""
    plain = kept_shape(columns)
    told = mapping.for_the_next().to_json()
    with transaction.atomic():
        Workspace.objects.select_for_update().get(pk=workspace.pk)
        same = KeptReading.objects.filter(workspace=workspace, name__iexact=name).first()
        if same is not None and not replace:
            raise _taken(same)
        if same is None and workspace.kept_readings.count() >= MOST:
            raise RefusalError(
                "This reading cannot be kept.",
                Issue(f"There are {MOST} already.", "Remove those that are not used any more."),
            )
        row = same or KeptReading(workspace=workspace)
        row.name, row.columns, row.mapping = name, plain, told
        row.person, row.at = actor.person, actor.now
        row.save()
    return row


def _taken(same: KeptReading) -> RefusalError:
    return RefusalError(
        "There is a reading of that name.",
        Issue(f"{same.name} was kept before.", "Replace it, or choose another name.", "name"),
        status=409,
    )


def kept_of(workspace: Workspace, number: int) -> KeptReading:
    """Return one of the readings of a workspace; raises NotThereError for any other."""
    row = workspace.kept_readings.select_related("person").filter(pk=number).first()
    if row is None:
        raise NotThereError("reading")
    return row
