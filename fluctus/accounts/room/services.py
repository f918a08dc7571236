"""Reads and writes of the room of workspaces, and the refusal of what is beyond it.

Nobody waits for anybody else's count: what several write at one moment may go beyond by that much.
"""

from collections.abc import Collection, Mapping

from django.conf import settings

from fluctus.accounts.models import Room, Workspace
from fluctus.accounts.room.kinds import NAMES, Kind, counters
from fluctus.http.refusals import Issue, RefusalError

NEAR = 0.8
"""The share from which on people are told that there is little room left."""


def most_of(workspace: Workspace, kind: Kind) -> int | None:
    """Return how much of a kind a workspace may hold; None for as much as it likes."""
    return rooms_of([workspace.pk])[workspace.pk][kind]


def rooms_of(workspaces: Collection[int]) -> dict[int, dict[Kind, int | None]]:
    """Return how much of each kind some workspaces may hold."""
    own = {row.pk: row for row in Room.objects.filter(pk__in=workspaces)}
    return {number: _room(own.get(number)) for number in workspaces}


def _room(row: Room | None) -> dict[Kind, int | None]:
    given: Mapping[str, int | None] = settings.ROOM
    own = {kind: None if row is None else getattr(row, kind) for kind in Kind}
    return {kind: given[kind] if most is None else most for kind, most in own.items()}


def refuse_beyond(workspace: Workspace, kind: Kind, more: int) -> None:
    """Raise RefusalError (409) where so many ``more`` of a kind are beyond what there is room for.

    Where there is too much already, as after the room was made smaller, nothing is lost, and what
    adds nothing goes on.
    """
    most = most_of(workspace, kind) if more > 0 else None
    if most is None:
        return
    there = counters[kind]([workspace.pk]).get(workspace.pk, 0)
    if there + more > most:
        raise beyond(kind, most, f"There are {there:,} already, and this is {more:,} more.")


def beyond(kind: Kind, most: int, why: str, status: int = 409) -> RefusalError:
    """Return what is said where there is no room, and whom to ask for more."""
    said = NAMES[kind]
    return RefusalError(
        f"This workspace has room for {most:,} {said.things}.",
        Issue(why, f"{said.remedy}, or ask {settings.OPERATOR} for more room."),
        status=status,
    )


def give_room(workspace: Workspace, room: Mapping[Kind, int | None]) -> None:
    """Let a workspace hold so much of each kind; None for what the installation has it at."""
    Room.objects.update_or_create(
        workspace=workspace, defaults={kind.value: most for kind, most in room.items()}
    )
