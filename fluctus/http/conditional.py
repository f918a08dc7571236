"""Answers known by a tag: who has one is told so, and what was made of it is not made again.

A tag stands for all that an answer is made of. So what is held needs no care: what does not hold
any more is not asked for.
"""

from collections.abc import Callable
from hashlib import sha256
from threading import Lock
from typing import Any

from cachetools import LRUCache
from django.http import HttpResponse, HttpResponseNotModified
from django.utils.cache import get_conditional_response
from rest_framework.request import Request

from fluctus.http.edition import edition
from fluctus.http.rendering import as_json

MOST_BYTES = 16 * 1024 * 1024
"""Answers that a process holds."""
_answers: LRUCache[str, bytes] = LRUCache(MOST_BYTES, getsizeof=len)
_lock = Lock()


def tag_of(what: str, *made_of: Any, revision: int = 0) -> str:
    """Return the tag of an answer: a revision, and a digest of all that it is made of."""
    digest = sha256(repr((edition(), what, revision, *made_of)).encode()).hexdigest()
    return f"{revision}.{digest[:24]}"


def unchanged(request: Request, tag: str) -> HttpResponse | None:
    """Return the answer to who has what has this tag; None to all others."""
    header = f'"{tag}"'
    answer = get_conditional_response(request._request, etag=header)
    if not isinstance(answer, HttpResponseNotModified):
        return None
    answer["ETag"] = header
    return answer


def answer_with(content: bytes, tag: str) -> HttpResponse:
    """Answer with JSON that has a tag."""
    return HttpResponse(content, "application/json", headers={"ETag": f'"{tag}"'})


def answer_once(request: Request, tag: str, make: Callable[[], Any]) -> HttpResponse:
    """Answer with what has a tag; it is made where this process does not hold it."""
    if (nothing_new := unchanged(request, tag)) is not None:
        return nothing_new
    content = held(tag)
    if content is None:
        content = as_json(make())
        hold(tag, content)
    return answer_with(content, tag)


def held(tag: str) -> bytes | None:
    """Return the answer with a tag where this process holds it."""
    with _lock:
        return _answers.get(tag)


def hold(tag: str, content: bytes) -> None:
    """Hold an answer for who asks next."""
    if len(content) <= MOST_BYTES:
        with _lock:
            _answers[tag] = content


def forget_answers() -> None:
    """Drop what is held, where a database is exchanged under the process."""
    with _lock:
        _answers.clear()
