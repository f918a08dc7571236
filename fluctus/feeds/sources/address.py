"""A table at an address: fetched by HTTP, with sign-in, in pages where it is JSON."""

from collections.abc import Iterator
from datetime import UTC, datetime
from email.utils import parsedate_to_datetime
from typing import Any, Final

import httpx
from rest_framework import serializers

from fluctus.feeds.sources.pages import Paging, paged
from fluctus.feeds.sources.source import Arrived, Asked, SourceKind
from fluctus.http.outgoing import blocks_of, checked_url, client, followed
from fluctus.http.refusals import Issue, RefusalError
from fluctus.http.requests import Plain

NOT_FETCHED: Final = "The table could not be fetched."
MOST_NAMED: Final = 30
LONGEST_WAIT: Final = 86_400
OWN_HEADERS: Final = frozenset(
    {"host", "connection", "content-length", "transfer-encoding", "upgrade", "te", "trailer"}
)
"""Headers that belong to the connection: nobody sets them."""


class NamedValueSerializer(Plain):
    """A header or a value of the query; a secret that is null stays what it was."""

    name = serializers.RegexField(r"^[!#$%&'*+\-.^_`|~0-9A-Za-z\[\]]+$", max_length=80)
    value = serializers.RegexField(
        r"^[^\r\n\x00]*$", max_length=2_000, allow_blank=True, allow_null=True
    )
    secret = serializers.BooleanField(default=False)


class AddressSerializer(Plain):
    """An address, and how to ask it."""

    address = serializers.CharField(max_length=2_000)
    query = serializers.ListField(child=NamedValueSerializer(), default=list, max_length=MOST_NAMED)
    headers = serializers.ListField(
        child=NamedValueSerializer(), default=list, max_length=MOST_NAMED
    )
    sign_in = serializers.ChoiceField(
        [("none", "none"), ("basic", "basic"), ("bearer", "bearer")], default="none"
    )
    user = serializers.CharField(max_length=200, allow_blank=True, default="")
    password = serializers.RegexField(
        r"^[^\r\n\x00]*$",
        max_length=4_000,
        allow_blank=True,
        allow_null=True,
        default=None,
        trim_whitespace=False,
        help_text="Or the token; null keeps the one that is there.",
    )
    pages = serializers.ChoiceField(
        [("none", "none"), ("link", "link"), ("number", "number")],
        default="none",
        help_text="Whether JSON comes in pages, and how the next one is found.",
    )
    next_field = serializers.CharField(
        max_length=200, default="next", help_text="Where a page says the address of the next one."
    )
    page_name = serializers.CharField(
        max_length=80, default="page", help_text="The value of the query that numbers pages."
    )
    first_page = serializers.IntegerField(default=1, min_value=0, max_value=1)

    def validate_address(self, value: str) -> str:
        """Refuse what is no address, with the words of whoever fetches."""
        try:
            return str(checked_url(value))
        except RefusalError as refused:
            raise serializers.ValidationError(
                f"{refused.issues[0].detail} {refused.issues[0].remedy}"
            ) from refused

    def validate_headers(self, value: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Refuse those of the connection itself."""
        for header in value:
            if header["name"].lower() in OWN_HEADERS:
                raise serializers.ValidationError(f"{header['name']} cannot be set.")
        return value


def _hidden(
    options: dict[str, Any], before: dict[str, str]
) -> tuple[dict[str, Any], dict[str, str]]:
    shown, secrets = dict(options), {}
    password = shown.pop("password", None)
    if shown["sign_in"] != "none":
        secrets["password"] = before.get("password", "") if password is None else password
    for field in ("query", "headers"):
        told = []
        for one in shown[field]:
            key = f"{field}/{one['name']}"
            if one["secret"]:
                secrets[key] = before.get(key, "") if one["value"] is None else one["value"]
            told.append(one | {"value": "" if one["secret"] else one["value"] or ""})
        shown[field] = told
    return shown, secrets


def _where(options: dict[str, Any]) -> tuple[str, ...]:
    url = httpx.URL(options["address"])
    return (url.scheme, url.host, str(url.port), options["sign_in"], options["user"])


def _says(options: dict[str, Any]) -> str:
    url = httpx.URL(options["address"])
    return url.host if url.path in ("", "/") else f"{_name_of(url)} at {url.host}"


def _values(asked: Asked, field: str) -> list[tuple[str, str]]:
    return [
        (
            one["name"],
            asked.secrets.get(f"{field}/{one['name']}", "") if one["secret"] else one["value"],
        )
        for one in asked.options[field]
    ]


def _fetch(asked: Asked) -> Arrived | None:
    options = asked.options
    url = checked_url(options["address"])
    query = _values(asked, "query")
    if query:
        url = url.copy_with(params=[*url.params.multi_items(), *query])
    if options["pages"] != "none":
        paging = Paging(options["pages"], options["next_field"], options["page_name"])
        blocks = _in_session(
            lambda sender: paged(
                url, paging, options["first_page"], lambda at: _read(sender, at, asked)
            )
        )
        return Arrived(_name_of(url), blocks)
    sender = client()
    try:
        answer = _asked_for(sender, url, asked, _conditions(asked.validators))
        if answer.status_code == 304:
            sender.close()
            return None
    except BaseException:
        sender.close()
        raise
    validators = {
        name: answer.headers[name] for name in ("etag", "last-modified") if name in answer.headers
    }
    return Arrived(_name_of(url), _closing(sender, answer, asked.until), validators)


def _in_session(blocks: Any) -> Iterator[bytes]:
    with client() as sender:
        yield from blocks(sender)


def _closing(sender: httpx.Client, answer: httpx.Response, until: float) -> Iterator[bytes]:
    try:
        yield from blocks_of(answer, until)
    except httpx.HTTPError as error:
        raise _broken(error) from error
    finally:
        answer.close()
        sender.close()


def _conditions(validators: dict[str, str]) -> dict[str, str]:
    names = {"etag": "If-None-Match", "last-modified": "If-Modified-Since"}
    return {names[name]: value for name, value in validators.items() if name in names}


def _read(sender: httpx.Client, url: httpx.URL, asked: Asked) -> tuple[bytes, httpx.Headers]:
    """Return a page: its content and its headers."""
    answer = _asked_for(sender, url, asked, {})
    try:
        return b"".join(blocks_of(answer, asked.until)), answer.headers
    except httpx.HTTPError as error:
        raise _broken(error) from error
    finally:
        answer.close()


def _asked_for(
    sender: httpx.Client, url: httpx.URL, asked: Asked, conditions: dict[str, str]
) -> httpx.Response:
    """Send a request; raises RefusalError for an answer that is no table."""
    options, headers = asked.options, conditions | dict(_values(asked, "headers"))
    # Of pages, the next address comes from the answer: nothing secret goes to another host.
    own = httpx.URL(options["address"])
    if (url.scheme, url.host, url.port) != (own.scheme, own.host, own.port):
        headers = conditions
    elif options["sign_in"] == "bearer":
        headers["Authorization"] = f"Bearer {asked.secrets.get('password', '')}"
    elif options["sign_in"] == "basic":
        basic = httpx.BasicAuth(options["user"], asked.secrets.get("password", ""))
        signed = next(basic.auth_flow(httpx.Request("GET", url)))
        headers["Authorization"] = signed.headers["Authorization"]
    try:
        answer = followed(sender, sender.build_request("GET", url, headers=headers))
    except UnicodeEncodeError as error:
        raise RefusalError(
            NOT_FETCHED,
            Issue("A header holds a letter that headers cannot hold.", "Write it otherwise."),
        ) from error
    except httpx.HTTPError as error:
        raise _broken(error) from error
    if answer.status_code == 200 or (answer.status_code == 304 and conditions):
        return answer
    answer.close()
    raise _no_table(answer)


def _no_table(answer: httpx.Response) -> RefusalError:
    """Return what an answer says that is none."""
    code = answer.status_code
    if code in (401, 403):
        issue = Issue(f"It lets nobody in (answer {code}).", "Check the sign-in.", "password")
    elif code in (404, 410):
        issue = Issue(f"There is nothing at this address (answer {code}).", "Check it.", "address")
    elif code == 429:
        issue = Issue("It was asked too often (answer 429).", "It is asked again later.")
    elif code >= 500:
        issue = Issue(f"It has failed itself (answer {code}).", "It is asked again later.")
    else:
        issue = Issue(f"It answers {code}, which is no table.", "Check the address.", "address")
    wait = _wait_of(answer) if code in (429, 503) else None
    return RefusalError(NOT_FETCHED, issue, retry_after=wait)


def _wait_of(answer: httpx.Response) -> int | None:
    """Return how many seconds a source asks to wait: as a number, or until a date."""
    told = answer.headers.get("retry-after", "").strip()
    if told.isascii() and told.isdecimal() and len(told) < 9:
        return min(int(told), LONGEST_WAIT)
    try:
        until = parsedate_to_datetime(told)
    except (ValueError, TypeError):
        return None
    until = until if until.tzinfo else until.replace(tzinfo=UTC)
    seconds = (until - datetime.now(UTC)).total_seconds()
    return int(min(max(seconds, 0), LONGEST_WAIT))


def _broken(error: httpx.HTTPError) -> RefusalError:
    """Say in words what stood in the way, and nothing of the address."""
    if isinstance(error, httpx.ConnectTimeout):
        detail = "It could not be connected to in time."
    elif isinstance(error, httpx.TimeoutException):
        detail = "It did not answer in time."
    elif isinstance(error, httpx.ConnectError):
        certificate = "certificate" in str(error).lower()
        detail = "Its certificate is not valid." if certificate else "Nobody answers there."
    elif isinstance(error, httpx.DecodingError):
        detail = "What it sent is compressed, and damaged."
    else:
        detail = "The connection broke off."
    return RefusalError(NOT_FETCHED, Issue(detail, "It is asked again later.", "address"))


def _name_of(url: httpx.URL) -> str:
    """Return what the table is called: the last part of the path, or the host."""
    return url.path.rstrip("/").rpartition("/")[2][:120] or url.host


ADDRESS = SourceKind("address", AddressSerializer, _hidden, _where, _says, _fetch)
