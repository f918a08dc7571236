"""Charts as they were answered last: in memory, and the whole of each with its KPI.

An answer is given again to who asks for what has the same tag, which stands for all that it is
made of. So what is kept needs no care: what does not hold any more is not asked for.
"""

from contextlib import suppress
from threading import Lock

from cachetools import LRUCache
from django.db import DatabaseError, transaction

from fluctus.kpis.models import KeptAnswer, Kpi

MOST_BYTES = 16 * 1024 * 1024
"""Answers that a process holds."""
_answers: LRUCache[str, bytes] = LRUCache(MOST_BYTES, getsizeof=len)
_lock = Lock()


def kept_answer(kpi: Kpi, tag: str) -> bytes | None:
    """Return the answer with a tag; None where nobody was given it lately."""
    with _lock:
        content = _answers.get(tag)
    if content is None:
        row = KeptAnswer.objects.filter(kpi=kpi, tag=tag).first()
        if row is not None:
            content = bytes(row.content)
            _hold(tag, content)
    return content


def keep_answer(kpi: Kpi, tag: str, content: bytes, *, whole: bool) -> None:
    """Keep an answer: in memory, and one of the ``whole`` chart in place of the one before."""
    _hold(tag, content)
    if not whole:
        return
    # Its KPI may have gone, and the database may only be read: the answer is given all the same.
    with suppress(DatabaseError), transaction.atomic():
        KeptAnswer.objects.bulk_create(
            [KeptAnswer(kpi=kpi, tag=tag, content=content)],
            update_conflicts=True,
            unique_fields=["kpi"],
            update_fields=["tag", "content"],
        )


def _hold(tag: str, content: bytes) -> None:
    if len(content) <= MOST_BYTES:
        with _lock:
            _answers[tag] = content


def forget_answers() -> None:
    """Drop what is held in memory."""
    with _lock:
        _answers.clear()
