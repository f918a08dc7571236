"""The number of a request: in its answer, in the log, and in the jobs that it leaves behind."""

import re
import secrets
from collections.abc import Callable
from functools import wraps
from typing import Any, Final, ParamSpec, TypeVar

from structlog.contextvars import bound_contextvars, get_contextvars

from fluctus.http.spans import parent, working

HEADER: Final = "X-Request-Id"
CARRIED: Final = "asked_in"
"""What the number is called among the arguments of a job."""
FITTING: Final = re.compile(r"[A-Za-z0-9._-]{1,64}")

P = ParamSpec("P")
Result = TypeVar("Result")


def number_for(given: str) -> str:
    """Return the number that a proxy has given to a request, or a new one."""
    return given if FITTING.fullmatch(given) else secrets.token_hex(8)


def request_number() -> str:
    """Return the number of the request that is answered, or that has left this job; "" of none."""
    return str(get_contextvars().get("request", ""))


def carried() -> dict[str, str]:
    """Return what a job is given besides its arguments, so that its log tells who asked."""
    number, span = request_number(), parent()
    # In one argument: a worker of the version before takes no other.
    return {CARRIED: f"{number} {span}".rstrip()} if number else {}


def traced(work: Callable[P, Result]) -> Callable[P, Result]:
    """Let what a job logs have the number of the request that left it, and its own name."""

    @wraps(work)
    def with_number(*args: P.args, **kwargs: P.kwargs) -> Result:
        told: dict[str, Any] = {"job": work.__name__}
        number, _, span = str(kwargs.pop(CARRIED, "")).partition(" ")
        if number:
            told["request"] = number
        with bound_contextvars(**told), working(work.__name__, span):
            return work(*args, **kwargs)

    return with_number
