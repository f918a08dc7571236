"""Requests take turns: a process works at so many at once, and at fewer of one workspace.

What many in one workspace ask much of leaves turns to the others, which come as soon as one is
free, however many wait before them there. By the workspace that an address names: whoever may not
see it is refused in next to no time.
"""

import asyncio
from collections import Counter, OrderedDict, deque
from typing import Final

AT_ONCE: Final = 8
"""Requests of the API that a process works on at once, each on a thread; others wait."""
OF_ONE: Final = 4
"""Of one workspace no more than so many."""

Waiting = deque[asyncio.Future[None]]


def whose(path: str) -> str:
    """Return whose turn a request of the API takes: a workspace's; "" for what is of none."""
    _, _, rest = path.partition("/workspaces/")
    return rest.partition("/")[0]


class Turns:
    """The turns of one process, and who waits for one, by workspace."""

    def __init__(self) -> None:
        self._running: Counter[str] = Counter()
        self._waiting: OrderedDict[str, Waiting] = OrderedDict()

    async def take(self, key: str) -> None:
        """Wait for a turn; who is cancelled meanwhile has none."""
        if key not in self._waiting and self._is_free(key):
            self._running[key] += 1
            return
        turn: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        self._waiting.setdefault(key, deque()).append(turn)
        try:
            await turn
        except asyncio.CancelledError:
            if turn.done() and not turn.cancelled():
                # It had come at the same moment.
                self.give_back(key)
            else:
                self._leave(key, turn)
            raise

    def give_back(self, key: str) -> None:
        """Let the next one have a turn: of the workspace that has waited longest for one."""
        self._running[key] -= 1
        if not self._running[key]:
            del self._running[key]
        for other, waiting in self._waiting.items():
            if self._is_free(other):
                self._running[other] += 1
                waiting.popleft().set_result(None)
                # Behind the others, where more of it wait.
                self._waiting.move_to_end(other)
                if not waiting:
                    del self._waiting[other]
                return

    def _is_free(self, key: str) -> bool:
        return self._running.total() < AT_ONCE and (not key or self._running[key] < OF_ONE)

    def _leave(self, key: str, turn: asyncio.Future[None]) -> None:
        self._waiting[key].remove(turn)
        if not self._waiting[key]:
            del self._waiting[key]
