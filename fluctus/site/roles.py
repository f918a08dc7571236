"""Who may do what: the one table of it, and the permission that holds every address to it.

An address that the table does not have is refused to everybody, and so is a method of one.
"""

from enum import Enum
from typing import TYPE_CHECKING

from django.contrib.auth.models import User
from django.db.models import F
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from fluctus.accounts.access import not_allowed, note_most_requests, note_role
from fluctus.accounts.models import ApiToken, Membership, Role, Workspace
from fluctus.accounts.record.log import note_denied
from fluctus.accounts.sign_in import refuse_unconfirmed
from fluctus.http import clock
from fluctus.http.client_address import client_address
from fluctus.http.compiled import Compiled
from fluctus.http.refusals import Issue, NotThereError, RefusalError

if TYPE_CHECKING:
    # Views take their permissions from here: they cannot be there before it is.
    from rest_framework.views import APIView


class Open(Enum):
    """What needs no role in a workspace."""

    ANYBODY = "anybody"
    """Whoever knows the address."""
    SIGNED_IN = "signed in"
    """Whoever is signed in: it is about themselves."""
    OPERATOR = "operator"
    """Whoever sees to the installation; nobody else is told that there is such an address."""


Need = Role | Open
Methods = dict[str, Need]
LOOK: Methods = {"GET": Role.VIEWER}
"""Reads: for every member."""
ASK: Methods = {"POST": Role.VIEWER}
"""Questions that need a body, and change nothing."""
ANYBODY: Methods = {"POST": Open.ANYBODY}

NEEDS: dict[str, Methods] = {
    # One's own account
    "session": {"GET": Open.ANYBODY, "POST": Open.ANYBODY, "DELETE": Open.ANYBODY},
    "session-code": ANYBODY,
    "demo-session": ANYBODY,
    "password": {"POST": Open.SIGNED_IN},
    "password-letter": ANYBODY,
    "password-reset": ANYBODY,
    "browsers": {"GET": Open.SIGNED_IN, "DELETE": Open.SIGNED_IN},
    "browser": {"DELETE": Open.SIGNED_IN},
    "second-step": dict.fromkeys(("GET", "POST", "PUT", "DELETE"), Open.SIGNED_IN),
    "session-elsewhere": ANYBODY,
    "elsewhere": dict.fromkeys(("GET", "POST", "DELETE"), Open.SIGNED_IN),
    "confirm": {"POST": Open.SIGNED_IN},
    "account": {"DELETE": Open.SIGNED_IN},
    "account-data": {"GET": Open.SIGNED_IN},
    "open-invitation": ANYBODY,
    "join": ANYBODY,
    "vocabulary": {"GET": Open.ANYBODY},
    "schema": {"GET": Open.ANYBODY},
    "letters": {"GET": Open.SIGNED_IN},
    "news": {"GET": Open.SIGNED_IN},
    # People
    "people": {"GET": Role.OWNER},
    "members": LOOK,
    "person": {"PATCH": Role.OWNER, "DELETE": Role.OWNER},
    "leave": {"POST": Role.VIEWER},
    "workspace": {"DELETE": Role.OWNER},
    "invitations": {"POST": Role.OWNER},
    "invitation": {"DELETE": Role.OWNER},
    "tokens": {"GET": Role.VIEWER, "POST": Role.VIEWER},
    "token": {"DELETE": Role.VIEWER},
    "record": {"GET": Role.OWNER},
    "room": LOOK,
    # The installation
    "condition": {"GET": Open.OPERATOR},
    "job-again": {"POST": Open.OPERATOR},
    "give-room": {"PUT": Open.OPERATOR},
    # Charts
    "kpis": LOOK,
    "kpi": {"PATCH": Role.EDITOR, "DELETE": Role.OWNER},
    "analysis": LOOK,
    "analysis-csv": LOOK,
    "preview": ASK,
    "preview-levels": ASK,
    "comparison": LOOK,
    "summary": LOOK,
    "patterns": LOOK,
    "false-alarms": LOOK,
    "offers": LOOK,
    "how-soon": LOOK,
    "reach": LOOK,
    "derived": {"POST": Role.EDITOR},
    "preview-derived": ASK,
    "contributions": LOOK,
    "trial": {"POST": Role.EDITOR},
    "history": {"GET": Role.VIEWER, "POST": Role.EDITOR},
    # A contributor takes back what they did themselves.
    "undo": {"POST": Role.CONTRIBUTOR},
    "redo": {"POST": Role.CONTRIBUTOR},
    # Values
    "values": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "versions": LOOK,
    "values-on-chart": LOOK,
    "set-aside": {"POST": Role.EDITOR},
    # A contributor adds to a KPI that is there; making one takes an editor.
    "uploads": {"POST": Role.CONTRIBUTOR},
    "upload": {"GET": Role.CONTRIBUTOR, "DELETE": Role.CONTRIBUTOR},
    "read-upload": {"POST": Role.CONTRIBUTOR},
    "bring-in": {"POST": Role.CONTRIBUTOR},
    "keep-reading": {"POST": Role.CONTRIBUTOR},
    "kept-readings": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "kept-reading": {"GET": Role.VIEWER, "DELETE": Role.EDITOR},
    "imports": LOOK,
    "import": LOOK,
    "cancel-import": {"POST": Role.CONTRIBUTOR},
    "begin-again": {"POST": Role.CONTRIBUTOR},
    "undo-import": {"POST": Role.CONTRIBUTOR},
    # Values that are due, typed together
    "fill-in": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "judge-values": ASK,
    "filled-by": {"POST": Role.EDITOR},
    # Tables that fetch themselves: set up by editors, fetched now by contributors
    "feeds": LOOK,
    "look-at-feed": {"POST": Role.EDITOR},
    "set-up-feed": {"POST": Role.EDITOR},
    "when": ASK,
    "feed": {"GET": Role.VIEWER, "PATCH": Role.EDITOR, "DELETE": Role.EDITOR},
    "fetch-now": {"POST": Role.CONTRIBUTOR},
    "stop-fetch": {"POST": Role.CONTRIBUTOR},
    "decide-on-feed": {"POST": Role.EDITOR},
    "held-table": {"POST": Role.EDITOR},
    "learn-shape": {"POST": Role.EDITOR},
    # What happened
    "lane": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "lane-event": {"PATCH": Role.CONTRIBUTOR, "DELETE": Role.CONTRIBUTOR},
    "states": LOOK,
    "events": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "event": {"PATCH": Role.CONTRIBUTOR, "DELETE": Role.CONTRIBUTOR},
    "events-file": LOOK,
    "read-calendar": {"POST": Role.CONTRIBUTOR},
    "bring-calendar": {"POST": Role.CONTRIBUTOR},
    "brought-calendar": {"DELETE": Role.EDITOR},
    # Findings
    "findings": LOOK,
    "findings-csv": LOOK,
    # When somebody looked is theirs to note.
    "new-findings": {"GET": Role.VIEWER, "POST": Role.VIEWER},
    "several-findings": {"POST": Role.CONTRIBUTOR},
    "finding": {"GET": Role.VIEWER, "PATCH": Role.CONTRIBUTOR},
    "remarks": {"POST": Role.CONTRIBUTOR},
    "kpi-findings": LOOK,
    # What was done about it
    "improvements": {"GET": Role.VIEWER, "POST": Role.CONTRIBUTOR},
    "improvement": {
        "GET": Role.VIEWER,
        "PATCH": Role.CONTRIBUTOR,
        "DELETE": Role.EDITOR,
    },
    "bring-back": {"POST": Role.EDITOR},
    "expected-improvement": LOOK,
    # All KPIs, side by side, on pages
    "overview": LOOK,
    "hand-order": {"PUT": Role.VIEWER},
    "group-order": {"PUT": Role.VIEWER},
    "favorites": LOOK,
    "favorite": {"PUT": Role.VIEWER, "DELETE": Role.VIEWER},
    "together": LOOK,
    "parts": LOOK,
    "shares": LOOK,
    "by-place": LOOK,
    "against-goal": LOOK,
    "pair": LOOK,
    "suggestions": LOOK,
    "places": {"PUT": Role.EDITOR},
    "areas": {"GET": Role.VIEWER, "POST": Role.EDITOR, "DELETE": Role.EDITOR},
    "pages": {"GET": Role.VIEWER, "POST": Role.EDITOR},
    "page": {"GET": Role.VIEWER, "PATCH": Role.EDITOR, "DELETE": Role.OWNER},
    "panels": {"POST": Role.EDITOR},
    "shown-panels": ASK,
    "page-history": LOOK,
    "undo-page": {"POST": Role.EDITOR},
    "redo-page": {"POST": Role.EDITOR},
    # Reports: everybody takes exports; deleting those of others takes an editor.
    "reports": {"GET": Role.VIEWER, "POST": Role.VIEWER},
    "report": {"GET": Role.VIEWER, "DELETE": Role.VIEWER},
    "cancel-report": {"POST": Role.VIEWER},
    "report-again": {"POST": Role.VIEWER},
    "scheduled-reports": LOOK,
    "scheduled-report": {"DELETE": Role.EDITOR},
    "keep-scheduled": {"POST": Role.EDITOR},
    "report-file": LOOK,
    "report-page": LOOK,
    # Links: made by editors, listed sites by owners; opened by whoever has one.
    "links": {"GET": Role.EDITOR, "POST": Role.EDITOR},
    "link": {"DELETE": Role.EDITOR},
    "frames": {"PUT": Role.OWNER},
    "shared": {"GET": Open.ANYBODY},
    "shared-key": ANYBODY,
    "shared-file": {"GET": Open.ANYBODY},
    "shared-page": {"GET": Open.ANYBODY},
    "packages": {"POST": Role.EDITOR},
    "build-up": LOOK,
    "for-you": LOOK,
    # Word: what one hears of is one's own; what the workspace tells others is its owners'.
    "messages": LOOK,
    "changes": LOOK,
    "wish": {"PUT": Role.VIEWER},
    "digest": {"PUT": Role.VIEWER},
    "digest-letter": LOOK,
    "unsubscribe": ANYBODY,
    "follow": {"POST": Role.VIEWER, "DELETE": Role.VIEWER},
    "followed-findings": {"GET": Open.ANYBODY},
    "followed-events": {"GET": Open.ANYBODY},
    "webhooks": {"GET": Role.OWNER, "POST": Role.OWNER},
    "webhook": {"DELETE": Role.OWNER},
    "try-webhook": {"POST": Role.OWNER},
    "send-again": {"POST": Role.OWNER},
}
CONFIRMED: dict[str, frozenset[str]] = {
    "person": frozenset({"PATCH", "DELETE"}),
    "invitations": frozenset({"POST"}),
    "tokens": frozenset({"POST"}),
    "webhooks": frozenset({"POST"}),
    "kpi": frozenset({"DELETE"}),
    "page": frozenset({"DELETE"}),
    "workspace": frozenset({"DELETE"}),
    "account": frozenset({"DELETE"}),
    "account-data": frozenset({"GET"}),
    "give-room": frozenset({"PUT"}),
    "second-step": frozenset({"POST", "DELETE"}),
    "elsewhere": frozenset({"POST", "DELETE"}),
}
"""What asks for the password again, where it was typed some time ago: roles, tokens, deletion."""
NOT_BY_TOKEN = frozenset(
    {"tokens", "token", "leave", "workspace", "look-at-feed", "webhooks", "follow"}
)
"""Addresses that a person uses, and no program for them."""


_membership = Compiled(
    # With how many requests its workspace may make, which costs no question of its own.
    lambda workspace, person: Membership.objects.filter(
        workspace__slug=workspace, person=person
    ).annotate(most_requests=F("workspace__room__requests_a_minute")),
    workspace=str,
    person=int,
)


class MayByRole(BasePermission):
    """Lets through whoever has the role that the table asks for."""

    def has_permission(self, request: Request, view: "APIView") -> bool:
        """Tell whether it may be; raises RefusalError with the role that is needed."""
        needed = need_of(request)
        if needed is Open.ANYBODY:
            return True
        if needed is None or not isinstance(request.user, User):
            return False
        if isinstance(needed, Open):
            if isinstance(request.auth, ApiToken):
                return False
            if needed is Open.OPERATOR and not request.user.is_staff:
                raise NotThereError("address")
            _refuse_unconfirmed(request)
            return True
        slug = str(view.kwargs["workspace"])
        try:
            role = _role_in(slug, request.user, request)
        except NotThereError:
            _note_denied(request, slug)
            raise
        if not role.includes(needed):
            _note_denied(request, slug)
            raise not_allowed(role, needed)
        _refuse_unconfirmed(request)
        note_role(request, role)
        return True


def _note_denied(request: Request, slug: str) -> None:
    workspace = Workspace.objects.filter(slug=slug).first()
    if workspace is not None and isinstance(request.user, User):
        what = f"{request.method} {_name_of_address(request)}"
        address = client_address(request._request)
        note_denied(workspace, request.user, clock.now(), what, address)


def _refuse_unconfirmed(request: Request) -> None:
    """Raise RefusalError (403) where a password has to be typed again for what is asked."""
    if request.method in CONFIRMED.get(_name_of_address(request), ()):
        assert isinstance(request.user, User), "the permission has seen that it is somebody"
        refuse_unconfirmed(request._request, request.user, clock.now())


def _name_of_address(request: Request) -> str:
    match = request._request.resolver_match
    return (match.url_name or "") if match else ""


def need_of(request: Request) -> Need | None:
    """Return what the table asks for; None where it lacks the address or the method."""
    if "token" in request.query_params:
        raise RefusalError(
            "A token does not belong into an address, where it is kept in logs.",
            Issue(
                "This one was not looked at; take it for known to others.",
                'Revoke it, make another, and send it in the header "Authorization: Bearer …".',
                "token",
            ),
            status=400,
        )
    match = request._request.resolver_match
    methods = NEEDS.get(match.url_name or "", {}) if match else {}
    # A method that an address does not have at all is left to the view, which answers 405.
    if request.method in ("HEAD", "OPTIONS"):
        return methods.get("GET", Open.SIGNED_IN)
    return methods.get(request.method or "", Open.SIGNED_IN if methods else None)


def _role_in(workspace: str, person: User, request: Request) -> Role:
    membership = _membership.first(workspace=workspace, person=person.pk)
    if membership is None:
        raise NotThereError("workspace")
    role, token = Role(membership.role), request.auth
    note_most_requests(request, membership.most_requests)  # type: ignore[attr-defined]
    if not isinstance(token, ApiToken):
        return role
    match = request._request.resolver_match
    if token.workspace.slug != workspace or (match and match.url_name in NOT_BY_TOKEN):
        raise NotThereError("address for this token")
    allowed = Role(token.role)
    return allowed if role.includes(allowed) else role
