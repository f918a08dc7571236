"""Reads and writes of the room of workspaces, and the refusal of what is beyond it.

Nobody waits for anybody else's count: what several write at one moment may go beyond by that much.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from django.conf import settings

from fluctus.accounts.models import Room, Workspace
from fluctus.accounts.room.kinds import REMEDIES, THINGS, Kind, counters
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.shapes import Shape

NEAR: Final = 0.8
"""The share from which on people are told that there is little room left."""


@dataclass(frozen=True, slots=True)
class Bound(Shape):
    """How much of a kind a workspace holds (null: not counted), and may: null as it likes.

    ``given`` is what it was given of its own; null where it has what the installation says.
    """

    kind: Kind
    things: str
    there: int | None
    most: int | None
    given: int | None
    near: bool


def bounds_of(workspaces: Sequence[Workspace]) -> list[list[Bound]]:
    """Return the bounds of workspaces, each with how much there is; counted for all at once."""
    numbers = [row.pk for row in workspaces]
    counted = {kind: counter(numbers) for kind, counter in counters.items()}
    return [
        [
            _bound(row, kind, counted[kind].get(row.pk, 0) if kind in counted else None)
            for kind in Kind
        ]
        for row in workspaces
    ]


def _bound(workspace: Workspace, kind: Kind, there: int | None) -> Bound:
    most = most_of(workspace, kind)
    near = there is not None and most is not None and there >= NEAR * most
    return Bound(kind, THINGS[kind], there, most, _given(workspace, kind), near)


def most_of(workspace: Workspace, kind: Kind) -> int | None:
    """Return how much of a kind a workspace may hold; None for as much as it likes.

    Asks the database only where the workspace was read without its room.
    """
    given, everywhere = _given(workspace, kind), settings.ROOM[kind]
    most: int | None = everywhere if given is None else given
    return most


def _given(workspace: Workspace, kind: Kind) -> int | None:
    given: int | None = getattr(getattr(workspace, "room", None), kind, None)
    return given


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
        raise RefusalError(
            f"This workspace has room for {most:,} {THINGS[kind]}.",
            Issue(
                f"There are {there:,} already, and this is {more:,} more.",
                f"{REMEDIES[kind]}, or ask {settings.OPERATOR} for more room.",
            ),
            status=409,
        )


def give_room(workspace: Workspace, room: Mapping[Kind, int | None]) -> None:
    """Let a workspace hold so much of each kind; None for what the installation has it at."""
    Room.objects.update_or_create(
        workspace=workspace, defaults={kind.value: most for kind, most in room.items()}
    )
