"""Errors as RFC 9457 problem documents: what is wrong, where, what to do."""

from dataclasses import asdict
from http import HTTPStatus
from typing import Any

from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler

from fluctus.refusals import Issue, RefusalError

PROBLEM_TYPE = "application/problem+json"


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an exception of the API into a problem document; others are left to Django."""
    if isinstance(error, RefusalError):
        return problem(error.status, error.title, error.issues, error.more)
    response = exception_handler(error, context)
    if response is None:
        return None
    if isinstance(error, exceptions.ValidationError):
        made = problem(400, "Some of what was sent does not fit.", _fields(error.detail))
    else:
        detail = getattr(error, "detail", None) or HTTPStatus(response.status_code).phrase
        made = problem(response.status_code, _title(error, str(detail)), ())
    for name in ("WWW-Authenticate", "Retry-After", "Allow"):
        if name in response:
            made[name] = response[name]
    return made


def problem(
    status: int,
    title: str,
    issues: tuple[Issue, ...] | list[Issue],
    more: dict[str, Any] | None = None,
) -> Response:
    """Build a problem document."""
    body = {
        "type": "about:blank",
        "title": title,
        "status": status,
        "detail": " ".join(issue.detail for issue in issues[:1]),
        "issues": [asdict(issue) for issue in issues],
    }
    return Response(body | (more or {}), status=status, content_type=PROBLEM_TYPE)


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
