"""Errors as RFC 9457 problem documents: what is wrong, where, what to do."""

from collections.abc import Sequence
from dataclasses import dataclass
from http import HTTPStatus
from typing import Any

import orjson
from django.http import HttpRequest, HttpResponse
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler

from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.shapes import Shape, schema_of

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


PROBLEMS = dict.fromkeys((404, 412, 422), schema_of(Problem))
"""How the description of the API tells of refusals."""


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an exception of the API into a problem document; others are left to Django."""
    if isinstance(error, RefusalError):
        return problem(error.status, error.title, error.issues, error.revision, error.later_edits)
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        answer = problem(400, "Some of what was sent does not fit.", _fields(error.detail))
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
) -> Response:
    """Answer with a problem document."""
    document = Problem(
        type="about:blank",
        title=title,
        status=status,
        detail=" ".join(issue.detail for issue in issues[:1]),
        issues=tuple(issues),
        revision=revision,
        later_edits=tuple(later_edits),
    )
    return Response(document, status=status, content_type=PROBLEM_TYPE)


def forbidden_forgery(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Answer a write without its CSRF token."""
    issue = Issue(f"{reason}.", "Reload the page, then try again.")
    return _as_http(403, "This request did not come from a page of Fluctus.", issue)


def no_such_address(request: HttpRequest) -> HttpResponse:
    """Answer an API address that does not exist."""
    return _as_http(404, "There is no such address in the API.")


def failure(request: HttpRequest) -> HttpResponse:
    """Answer when the server itself has failed."""
    issue = Issue("The failure is in the server's log.", "Try again; if it stays, say so.")
    return _as_http(500, "Something went wrong in Fluctus; nothing was saved.", issue)


def _as_http(status: int, title: str, *issues: Issue) -> HttpResponse:
    document = problem(status, title, issues).data
    return HttpResponse(orjson.dumps(document), status=status, content_type=PROBLEM_TYPE)


def _title(error: Exception, detail: str) -> str:
    if isinstance(error, exceptions.NotAuthenticated):
        return "You are not signed in. Sign in and try again."
    if isinstance(error, exceptions.Throttled):
        return "Too many tries. Wait a minute, then try again."
    return detail


def _fields(detail: Any, path: str = "") -> list[Issue]:
    if isinstance(detail, dict):
        return [i for name, inner in detail.items() for i in _fields(inner, f"{path}.{name}")]
    if isinstance(detail, list) and any(isinstance(inner, (dict, list)) for inner in detail):
        return [i for n, inner in enumerate(detail) for i in _fields(inner, f"{path}.{n}")]
    texts = detail if isinstance(detail, list) else [detail]
    return [Issue(str(text), field=path.lstrip(".")) for text in texts]
