"""Errors as RFC 9457 problem documents: what is wrong, where, what to do."""

import sys
from collections.abc import Sequence
from dataclasses import dataclass
from http import HTTPStatus
from typing import Any

import orjson
from django.core.exceptions import RequestDataTooBig, SuspiciousOperation
from django.db import DatabaseError, DataError, IntegrityError, InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from psycopg.errors import DeadlockDetected, LockNotAvailable
from rest_framework import exceptions
from rest_framework.views import exception_handler

from fluctus.http.metrics import LOCK_WAITS
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.shapes import Shape, schema_of
from fluctus.http.tracing import request_number

PROBLEM_TYPE = "application/problem+json"


@dataclass(frozen=True, slots=True)
class Problem(Shape):
    """An RFC 9457 problem document."""

    type: str
    title: str
    status: int
    detail: str
    issues: tuple[Issue, ...]
    revision: int | None
    """The revision that a stale write should have seen."""
    later_edits: tuple[str, ...]
    """What has been done since to what an undo would take back."""
    request: str
    """The number of the request, by which the server's log is searched."""


PROBLEMS = {
    (status, PROBLEM_TYPE): schema_of(Problem)
    for status in (400, 401, 403, 404, 408, 409, 410, 412, 413, 415, 422, 428, 429, 503)
}
"""How the description of the API tells of refusals: any address may answer with any of them."""
TRY_AGAIN_AFTER = "3"
"""Seconds after which what was in the way is probably gone."""


def handle(error: Exception, context: dict[str, Any]) -> HttpResponse | None:
    """Turn an exception of the API into a problem document; others are left to Django."""
    if isinstance(error, RefusalError):
        answer = problem(error.status, error.title, error.issues, error.revision, error.later_edits)
        if error.retry_after is not None:
            answer["Retry-After"] = str(error.retry_after)
        return answer
    if isinstance(error, DatabaseError | InterfaceError):
        return _of_database(error)
    if isinstance(error, SuspiciousOperation):
        return problem(*_suspicious(error))
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        answer = problem(400, "Some of what was sent does not fit.", field_issues(error.detail))
    else:
        detail = getattr(error, "detail", None) or HTTPStatus(response.status_code).phrase
        answer = problem(response.status_code, _title(error, str(detail)))
    for name in ("WWW-Authenticate", "Retry-After", "Allow"):
        if name in response:
            answer[name] = response[name]
    return answer


def problem(
    status: int,
    title: str,
    issues: Sequence[Issue] = (),
    revision: int | None = None,
    later_edits: Sequence[str] = (),
) -> HttpResponse:
    """Answer with a problem document, whatever a view renders or a request asks for."""
    document = Problem(
        type="about:blank",
        title=title,
        status=status,
        detail=" ".join(issue.detail for issue in issues[:1]),
        issues=tuple(issues),
        revision=revision,
        later_edits=tuple(later_edits),
        request=request_number(),
    )
    return HttpResponse(orjson.dumps(document), status=status, content_type=PROBLEM_TYPE)


def _of_database(error: DatabaseError | InterfaceError) -> HttpResponse | None:
    """Answer where the database refused, is away, or is held by others; else leave it to Django."""
    if isinstance(error, IntegrityError):
        return problem(
            409,
            "Somebody else changed the same at the same time; nothing was saved.",
            [Issue("What was asked does not fit to it any more.", "Look again, then try again.")],
        )
    if isinstance(error, DataError):
        return problem(
            422,
            "Some of what was sent does not fit.",
            [Issue("A number or a text is larger than can be kept.", "Send a smaller one.")],
        )
    if isinstance(error, OperationalError | InterfaceError):
        answer = problem(503, *_unavailable(error))
        answer["Retry-After"] = TRY_AGAIN_AFTER
        return answer
    return None


def _unavailable(error: DatabaseError | InterfaceError) -> tuple[str, list[Issue]]:
    if isinstance(error.__cause__, LockNotAvailable | DeadlockDetected):
        LOCK_WAITS.inc()
        return "Somebody else is writing to this just now; nothing was saved.", [
            Issue("It took too long until they were done.", "Try again in a moment.")
        ]
    return "Fluctus cannot reach its data just now; nothing was saved.", [
        Issue("The database is away, or busy with others.", "Try again in a moment.")
    ]


def _suspicious(error: SuspiciousOperation) -> tuple[int, str, list[Issue]]:
    if isinstance(error, RequestDataTooBig):
        return 413, "This is too much at once.", [Issue("The body is too large.", "Send less.")]
    return (
        400,
        "This request cannot be read.",
        [Issue("It has too many fields, or an address that is none.", "Send a smaller one.")],
    )


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Answer a request that Django itself could not read."""
    if isinstance(exception, SuspiciousOperation):
        status, title, issues = _suspicious(exception)
        return problem(status, title, issues)
    return problem(
        400, "This request cannot be read.", [Issue(str(exception)[:200], "Check its address.")]
    )


def forbidden_forgery(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer a write without its CSRF token."""
    issue = Issue(f"{reason}.", "Reload the page, then try again.")
    return problem(403, "This request did not come from a page of Fluctus.", [issue])


def no_such_address(request: HttpRequest) -> HttpResponse:
    """Answer an API address that does not exist."""
    return problem(404, "There is no such address in the API.")


def failure(request: HttpRequest) -> HttpResponse:
    """Answer when the server itself has failed, or has lost its database."""
    error = sys.exc_info()[1]
    if isinstance(error, DatabaseError | InterfaceError):
        answer = _of_database(error)
        if answer is not None:
            return answer
    issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
    return problem(500, "Something went wrong in Fluctus; nothing was saved.", [issue])


def _title(error: Exception, detail: str) -> str:
    if isinstance(error, exceptions.NotAuthenticated):
        return "You are not signed in. Sign in and try again."
    return detail


def field_issues(detail: Any, path: str = "") -> list[Issue]:
    """Return what a form says of its fields, each by its path."""
    if isinstance(detail, dict):
        return [i for name, inner in detail.items() for i in field_issues(inner, f"{path}.{name}")]
    if isinstance(detail, list) and any(isinstance(inner, (dict, list)) for inner in detail):
        return [i for n, inner in enumerate(detail) for i in field_issues(inner, f"{path}.{n}")]
    texts = detail if isinstance(detail, list) else [detail]
    return [Issue(str(text), field=path.lstrip(".")) for text in texts]
