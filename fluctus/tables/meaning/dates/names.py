"""Names of months and days of the week in all languages that CLDR covers.

They are kept in ``names.json``, which ``gathering`` makes from Babel's data.
"""

import re
from collections import Counter
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Any, Final
from unicodedata import normalize

import orjson

MOST_WRITTEN: Final = "en de fr es it pt nl pl sv nb da fi cs tr ru uk ar fa hi id ja zh ko"
FIRST_ASKED: Final = MOST_WRITTEN.split()
"""Of languages that fit alike, the first of these: so many more people write it."""
SEPARATORS: Final = re.compile(
    r"[\d\s.,;:/()\[\]\N{EN DASH}\N{EM DASH}'\N{RIGHT SINGLE QUOTATION MARK}_-]+"
)
KEPT: Final = Path(__file__).with_name("names.json")


def months() -> dict[str, dict[str, int]]:
    """Return the number of the month that each name stands for, by language."""
    return _kept()["months"]  # type: ignore[no-any-return]


@cache
def days() -> frozenset[str]:
    """Return the names of days of the week that are the name of no month."""
    return frozenset(_kept()["days"])


def words_of(cell: str) -> list[str]:
    """Return the words of a cell without digits, marks and the case of letters."""
    return [word for word in SEPARATORS.split(folded(cell)) if word]


def folded(text: str) -> str:
    """Return a text without the case of its letters, and each letter in one way."""
    return normalize("NFC", text.casefold())


def languages_of(cells: Iterable[str]) -> list[str]:
    """Return the languages that name the months of ``cells``, each needed for some of them.

    First that which names most; of several that name as many, the one that more people write.
    """
    left = [found for cell in cells if (found := _languages_in(cell))]
    needed = []
    while left:
        fits = Counter(language for found in left for language in found)
        most = max(fits.values())
        needed.append(_most_written(one for one, count in fits.items() if count == most))
        left = [found for found in left if needed[-1] not in found]
    return needed


def _languages_in(cell: str) -> set[str]:
    words = words_of(cell)
    known = (months().get(word, {}) for word in {*words, " ".join(words)})
    return {language for found in known for language in found}


def month_of(word: str, language: str) -> int | None:
    """Return the month that a word names: in ``language``, else in the one that most write."""
    found = months().get(word, {})
    if not found:
        return None
    return found[language if language in found else _most_written(found)]


def _most_written(languages: Iterable[str]) -> str:
    order = {language: n for n, language in enumerate(FIRST_ASKED)}
    return min(languages, key=lambda language: (order.get(language, len(order)), language))


@cache
def _kept() -> dict[str, Any]:
    return orjson.loads(KEPT.read_bytes())  # type: ignore[no-any-return]
