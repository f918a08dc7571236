"""Revisions: a write names the one it saw, so that a stale one overwrites nothing."""

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from fluctus.http.refusals import Issue, RefusalError

IF_MATCH = OpenApiParameter(
    "If-Match",
    str,
    OpenApiParameter.HEADER,
    required=True,
    description="The revision that the change was made on.",
)


def seen_revision(request: Request) -> int:
    """Read the revision that a write names; raises RefusalError where it names none."""
    # Of an answer's tag, the revision is what stands before the dot; one of an answer that came
    # compressed is weak.
    tag = request.headers.get("If-Match", "").strip().removeprefix("W/").strip('"')
    text = tag.partition(".")[0]
    # No number of changes has more digits, and int() reads no more than so many.
    if not (text.isascii() and text.isdecimal() and len(text) < 16):
        raise RefusalError(
            "A change must name the revision it was made on.",
            Issue("The If-Match header is missing or not a number.", "Send the revision you saw."),
            status=428,
        )
    return int(text)
