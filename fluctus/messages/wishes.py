"""Who wants to hear of what, and how."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.contrib.auth.models import User

from fluctus.accounts.models import Membership, Workspace
from fluctus.messages.models import QUIET_DEFAULT, Digest, Happening, How, Topic, Wish


@dataclass(frozen=True, slots=True)
class Wishes:
    """All that a person wants to hear of in a workspace."""

    person: User
    everything: Wish | None
    groups: dict[str, Wish]
    kpis: dict[int, Wish]

    def how(self, happening: Happening, now: datetime) -> How:
        """Tell how the person wants to hear of something: the nearest of what they said counts."""
        kpi = happening.kpi
        near = [
            self.kpis.get(kpi.pk) if kpi else None,
            self.groups.get(kpi.group) if kpi and kpi.group else None,
            self.everything,
        ]
        if any(w and w.quiet_until is not None and w.quiet_until > now for w in near):
            return How.HERE
        told = next((w.how[happening.topic] for w in near if w and happening.topic in w.how), None)
        return How(told or self._unasked(happening))

    def _unasked(self, happening: Happening) -> str:
        """Tell how somebody hears of something who has said nothing of it."""
        topic, kpi = Topic(happening.topic), happening.kpi
        if topic is Topic.LATE and kpi is not None and kpi.filled_by_id == self.person.pk:
            # Theirs to see to.
            return How.AT_ONCE
        return QUIET_DEFAULT[topic]


def wishes_of(workspace: Workspace, people: Iterable[User]) -> dict[int, Wishes]:
    """Return what each of some people wants to hear of in a workspace, by their number."""
    found = {person.pk: Wishes(person, None, {}, {}) for person in people}
    for wish in Wish.objects.filter(workspace=workspace, person__in=list(found)):
        own = found[wish.person_id]
        if wish.kpi_id is not None:
            own.kpis[wish.kpi_id] = wish
        elif wish.group:
            own.groups[wish.group] = wish
        else:
            found[wish.person_id] = Wishes(own.person, wish, own.groups, own.kpis)
    return found


def members_of(workspace: Workspace) -> list[User]:
    """Return who is in a workspace and may sign in."""
    rows = Membership.objects.filter(workspace=workspace, person__is_active=True)
    return [row.person for row in rows.select_related("person").order_by("pk")]


def reached_by_mail(workspace: Workspace, person: User) -> bool:
    """Tell whether a person gets mail of a workspace."""
    if not person.email:
        return False
    return not Digest.objects.filter(workspace=workspace, person=person, no_mail=True).exists()


def concerns(happening: Happening, person: User) -> bool:
    """Tell whether something is for a person at all: what is somebody's is theirs alone."""
    return happening.person_id is None or happening.person_id == person.pk
