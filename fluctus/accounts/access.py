"""What whoever asks may do in the workspace that they ask about.

The permission of ``fluctus.site.roles`` looks it up once a request and leaves it here.
"""

from rest_framework.request import Request

from fluctus.accounts.models import Role
from fluctus.http.refusals import Issue, RefusalError

_ATTRIBUTE = "role_in_workspace"
_MOST_REQUESTS = "most_requests_a_minute"


def note_role(request: Request, role: Role) -> None:
    """Keep the role of whoever asks, for the rest of the request."""
    setattr(request, _ATTRIBUTE, role)


def note_most_requests(request: Request, most: int | None) -> None:
    """Keep how many requests a minute the workspace that is asked about was given; None: none."""
    setattr(request, _MOST_REQUESTS, most)


def most_requests_of(request: Request) -> int | None:
    """Return that; None as well where the request is about no workspace."""
    most: int | None = getattr(request, _MOST_REQUESTS, None)
    return most


def role_of(request: Request) -> Role:
    """Return the role of whoever asks."""
    role = getattr(request, _ATTRIBUTE)
    assert isinstance(role, Role), "the permission of every address has noted it"
    return role


def refuse_below(request: Request, needed: Role, what: str) -> None:
    """Raise RefusalError (403) where the role does not include ``needed``.

    For addresses of which only some uses need more; ``what`` names the use.
    """
    if not role_of(request).includes(needed):
        raise not_allowed(role_of(request), needed, what)


def refuse_of_others(request: Request, author: int | None, needed: Role, what: str) -> None:
    """Raise RefusalError (403) for what somebody else did, where the role is below ``needed``."""
    if author is None or author != request.user.pk:
        refuse_below(request, needed, what)


def not_allowed(role: Role, needed: Role, what: str = "This") -> RefusalError:
    """Say what somebody with ``role`` lacks."""
    return RefusalError(
        f"{what} is for {_PLURAL[needed]} of this workspace.",
        Issue(
            f"You are {_ARTICLE[role]} here.",
            "An owner can give you another role, on the page People.",
        ),
        status=403,
    )


_PLURAL = {
    Role.VIEWER: "members",
    Role.CONTRIBUTOR: "contributors and editors",
    Role.EDITOR: "editors and owners",
    Role.OWNER: "owners",
}
_ARTICLE = {
    Role.VIEWER: "a viewer",
    Role.CONTRIBUTOR: "a contributor",
    Role.EDITOR: "an editor",
    Role.OWNER: "an owner",
}
