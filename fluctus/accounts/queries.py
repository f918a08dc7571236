"""Reads of people and workspaces."""

from typing import TypedDict

from django.contrib.auth.models import User

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import NotThereError


class WorkspaceRow(TypedDict):
    """A workspace, as the session names it."""

    slug: str
    name: str


def workspaces_of(person: User) -> list[WorkspaceRow]:
    """List the workspaces that ``person`` belongs to, by name."""
    rows = Workspace.objects.filter(members=person).order_by("name").values("slug", "name")
    return [WorkspaceRow(slug=row["slug"], name=row["name"]) for row in rows]


def workspace_of(person: User, slug: str) -> Workspace:
    """Return a workspace of ``person``; raises NotThereError for one of others."""
    workspace = Workspace.objects.filter(members=person, slug=slug).first()
    if workspace is None:
        raise NotThereError("workspace")
    return workspace


def name_of(person: User | None) -> str:
    """Name a person as others see them; "" for nobody."""
    return "" if person is None else person.get_full_name() or person.username
