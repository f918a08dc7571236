"""Writes of people and workspaces."""

from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.core.validators import validate_slug
from django.db import transaction

from fluctus.accounts.models import Membership, Role, Workspace

DEMO_PERSON = "demo"
DEMO_WORKSPACE = "marrowick"
DEMO_PEOPLE = {
    DEMO_PERSON: ("Isla Corrie", Role.OWNER),
    "demo-rhona": ("Rhona Baird", Role.EDITOR),
    "demo-calum": ("Calum Weir", Role.CONTRIBUTOR),
}
"""First and last names, and roles, by account.

None has a password: the first can be entered in demo mode, the others through the staff
directory that ships with it."""


@transaction.atomic
def open_demo_workspace() -> tuple[Workspace, bool]:
    """Make the demo workspace and its people, unless they are there; tells whether it is new."""
    workspace, created = Workspace.objects.get_or_create(
        slug=DEMO_WORKSPACE, defaults={"name": "Marrowick Ferries"}
    )
    for account, (name, role) in DEMO_PEOPLE.items():
        first, last = name.split()
        person, new = User.objects.get_or_create(
            username=account,
            defaults={
                "first_name": first,
                "last_name": last,
                "email": f"{first.lower()}@marrowick.example",
            },
        )
        if new:
            person.set_unusable_password()
            person.save(update_fields=["password"])
        Membership.objects.get_or_create(
            workspace=workspace, person=person, defaults={"role": role}
        )
    return workspace, created


@transaction.atomic
def add_person(
    name: str,
    password: str | None,
    workspace: str,
    role: Role | None = None,
    *,
    operates: bool | None = None,
) -> User:
    """Add a person with an account in a workspace, making either where it is not there.

    Somebody who is there keeps their password where ``password`` is None. The first of a
    workspace is its owner, others are editors, unless a ``role`` is named. ``operates`` says
    whether they see to the installation; None leaves that as it is. Raises
    ValidationError for a weak password, or a name or workspace that cannot be one.
    """
    validate_slug(workspace)
    person = User.objects.filter(username=name).first() or User(username=name)
    if password is not None:
        validate_password(password, person)
        person.set_password(password)
    if operates is not None:
        person.is_staff = operates
    person.full_clean()
    person.save()
    workspace_row, created = Workspace.objects.get_or_create(
        slug=workspace, defaults={"name": workspace.replace("-", " ").capitalize()}
    )
    member, joined = Membership.objects.get_or_create(
        workspace=workspace_row,
        person=person,
        defaults={"role": role or (Role.OWNER if created else Role.EDITOR)},
    )
    if role is not None and not joined:
        member.role = role
        member.save(update_fields=["role"])
    return person
