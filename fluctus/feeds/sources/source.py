"""What a kind of source is."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

from fluctus.http.requests import Plain


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked of a source.

    ``until`` is when it has to be done, by ``time.monotonic``; ``validators`` is what the source
    said the last time by which it tells whether there is something new, empty to have all.
    """

    options: dict[str, Any]
    secrets: dict[str, str]
    validators: dict[str, str]
    until: float


def nothing_more() -> None:
    """Leave a source as it is once what it gave has been brought in."""


@dataclass(frozen=True, slots=True)
class Arrived:
    """A table that has come: its bytes as they come, and what is to be kept of it.

    ``blocks`` may raise what fetching raises, as they are read. ``done`` is called once the
    table has been brought in, or left out; ``more`` says that another one waits.
    """

    name: str
    blocks: Iterable[bytes]
    validators: dict[str, str] = field(default_factory=dict)
    done: Callable[[], None] = nothing_more
    more: bool = False


@dataclass(frozen=True, slots=True)
class SourceKind:
    """All that a kind of source is.

    ``form`` checks its options, of which ``hidden`` parts the secrets: called with the options
    and the secrets that were kept before, it returns what may be shown and what is sealed.
    ``where`` is what secrets belong to: given for another, they are typed again. ``says`` goes
    on a sentence. ``fetch`` returns what has come, None where there is nothing new, and raises
    RefusalError where it cannot be fetched, with ``retry_after`` where the source said so.
    """

    name: str
    form: type[Plain]
    hidden: Callable[[dict[str, Any], dict[str, str]], tuple[dict[str, Any], dict[str, str]]]
    where: Callable[[dict[str, Any]], Sequence[Any]]
    says: Callable[[dict[str, Any]], str]
    fetch: Callable[[Asked], Arrived | None]


def with_password(
    options: dict[str, Any], before: dict[str, str]
) -> tuple[dict[str, Any], dict[str, str]]:
    """Part the password of options: one that is not typed stays what it was."""
    password = options.get("password")
    if password is None:
        password = before.get("password", "")
    shown = {name: value for name, value in options.items() if name != "password"}
    return shown, ({"password": password} if password else {})
