"""What cannot be done, in words a person can act on."""

from collections.abc import Sequence
from dataclasses import dataclass

from fluctus.http.shapes import Shape


@dataclass(frozen=True, slots=True)
class Issue(Shape):
    """One thing that is wrong: where, what was found there, and what to do."""

    detail: str
    remedy: str = ""
    field: str = ""
    row: int | None = None
    column: str = ""
    found: str = ""


class RefusalError(Exception):
    """Something that cannot be done as asked; nothing has been changed.

    ``title`` says what is refused, each of ``issues`` why. ``status`` is the
    HTTP status that fits; ``revision`` is the one that a stale write should have
    seen, ``later_edits`` what an undo would touch, ``retry_after`` the seconds to wait.
    """

    def __init__(
        self,
        title: str,
        *issues: Issue,
        status: int = 422,
        revision: int | None = None,
        later_edits: Sequence[str] = (),
        retry_after: int | None = None,
    ) -> None:
        super().__init__(title)
        self.title = title
        self.issues = issues
        self.status = status
        self.revision = revision
        self.later_edits = tuple(later_edits)
        self.retry_after = retry_after


class NotThereError(RefusalError):
    """What was asked for does not exist, or not for the person who asks."""

    def __init__(self, what: str) -> None:
        super().__init__(
            f"There is no such {what} here.",
            Issue(
                "It may have been removed, or belong to another workspace.",
                "Look for it in the list.",
            ),
            status=404,
        )


class StaleError(RefusalError):
    """A change to something that has changed since the person saw it."""

    def __init__(self, current: int, acts: Sequence[str]) -> None:
        what = "; ".join(acts) or "its data changed"
        super().__init__(
            "This chart has changed since you opened it.",
            Issue(
                f"Meanwhile: {what}.",
                "Nothing was changed. Look at the chart as it is now, then make your change again.",
            ),
            status=412,
            revision=current,
        )
