"""Reads of people and workspaces."""

from django.contrib.auth.models import User

from fluctus.accounts.models import Membership, Workspace
from fluctus.accounts.shapes import NamedPerson
from fluctus.http.compiled import Compiled
from fluctus.http.refusals import NotThereError


def workspaces_of(person: User) -> list[Workspace]:
    """List the workspaces that ``person`` belongs to, by name."""
    return list(Workspace.objects.filter(members=person).order_by("name"))


def memberships_of(person: User) -> list[Membership]:
    """List the memberships of ``person`` with their workspaces, by name."""
    rows = Membership.objects.filter(person=person).select_related("workspace")
    return list(rows.order_by("workspace__name"))


_by_slug = Compiled(
    lambda person, slug: Workspace.objects.filter(members=person, slug=slug), person=int, slug=str
)


def workspace_of(person: User, slug: str) -> Workspace:
    """Return a workspace of ``person``; raises NotThereError for one of others."""
    workspace = _by_slug.first(person=person.pk, slug=slug)
    if workspace is None:
        raise NotThereError("workspace")
    return workspace


def name_of(person: User | None) -> str:
    """Name a person as others see them; "" for nobody."""
    return "" if person is None else person.get_full_name() or person.username


def named(person: User) -> NamedPerson:
    """Return a person as the API names them."""
    return NamedPerson(person.username, name_of(person))
