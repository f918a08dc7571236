"""Who wants to know of feeds that fail and are well again, in the same transaction."""

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fluctus.feeds.models import Feed

Teller = Callable[["Feed", str, datetime], None]
"""Called with a feed, what its owner should know, and when it is."""

tellers: list[Teller] = []


def tell(feed: "Feed", text: str, now: datetime) -> None:
    """Let whoever wants to know of a feed know."""
    for teller in tellers:
        teller(feed, text, now)
