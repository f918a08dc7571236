"""JSON that comes in pages, put together into one list of records."""

from collections import deque
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Final

import httpx
import orjson

from fluctus.http.outgoing import checked_url
from fluctus.http.refusals import Issue, RefusalError

MOST_PAGES: Final = 1_000
TITLE: Final = "The pages could not be put together."
Read = Callable[[httpx.URL], tuple[bytes, httpx.Headers]]


@dataclass(frozen=True, slots=True)
class Paging:
    """How the next page is found: by a ``link`` that a page says, or by its ``number``."""

    by: str
    next_field: str
    page_name: str


def paged(url: httpx.URL, paging: Paging, first: int, read: Read) -> Iterator[bytes]:
    """Yield one list of the records of all pages, as JSON.

    Raises RefusalError for pages that lead in a circle, are too many, or are none.
    """
    seen: set[str] = set()
    number, began, last = first, False, b""
    at: httpx.URL | None = url
    if paging.by == "number":
        at = url.copy_set_param(paging.page_name, str(number))
    yield b"["
    while at is not None:
        if str(at) in seen:
            raise _wrong("They lead in a circle.", "Check where a page says the next one.")
        if len(seen) >= MOST_PAGES:
            raise _wrong(
                f"There are more than {MOST_PAGES:,}.", "Ask for larger pages, or fewer rows."
            )
        seen.add(str(at))
        content, headers = read(at)
        document = _document(content)
        records = _records(document)
        if paging.by == "number":
            if records and content == last:
                raise _wrong(
                    "Every page is the same.",
                    f"Check whether pages are numbered by “{paging.page_name}”.",
                )
            last, number = content, number + 1
            at = url.copy_set_param(paging.page_name, str(number)) if records else None
        else:
            at = _next(document, headers, paging.next_field, at)
        for record in records:
            yield (b"," if began else b"") + orjson.dumps(record)
            began = True
    yield b"]"


def _document(content: bytes) -> Any:
    try:
        return orjson.loads(content)
    except orjson.JSONDecodeError as error:
        raise _wrong(
            "A page is no JSON.", "Fetch it without pages, or check the address."
        ) from error


def _records(document: Any) -> list[Any]:
    """Return the first list of a page that is one of records, the outermost of them."""
    queue = deque([document])
    while queue:
        part = queue.popleft()
        if isinstance(part, list):
            return part
        if isinstance(part, dict):
            queue.extend(value for value in part.values() if isinstance(value, dict | list))
    return []


def _next(document: Any, headers: httpx.Headers, field: str, before: httpx.URL) -> httpx.URL | None:
    """Return the address that a page, or the header Link (RFC 8288), says comes next."""
    part = document
    for name in field.split("."):
        part = part.get(name) if isinstance(part, dict) else None
    if not isinstance(part, str) or not part:
        links = httpx.Response(200, headers=headers).links
        part = links.get("next", {}).get("url")
    return None if not part else checked_url(str(before.join(part)))


def _wrong(detail: str, remedy: str) -> RefusalError:
    return RefusalError(TITLE, Issue(detail, remedy, "pages"))
