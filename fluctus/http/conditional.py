"""Answers that somebody has already: told so by their tag, before they are made again."""

from collections.abc import Sequence
from hashlib import sha256
from typing import Any

from django.http import HttpResponse, HttpResponseNotModified
from django.utils.cache import get_conditional_response
from rest_framework.request import Request

from fluctus.http.edition import edition


def tag_of(revision: int, made_of: Sequence[Any]) -> str:
    """Return the tag of an answer: its revision, and a digest of all else that it is made of."""
    digest = sha256(repr((edition(), revision, *made_of)).encode()).hexdigest()
    return f"{revision}.{digest[:24]}"


def unchanged(request: Request, tag: str) -> HttpResponse | None:
    """Return the answer to who has what has this tag; None to all others."""
    header = f'"{tag}"'
    answer = get_conditional_response(request._request, etag=header)
    if not isinstance(answer, HttpResponseNotModified):
        return None
    answer["ETag"] = header
    return answer
