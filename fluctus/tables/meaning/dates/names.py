"""Names of months and days of the week in all languages that Babel's CLDR data covers.

Unicode Common Locale Data Repository, dates/calendars/gregorian: months and days, wide and
abbreviated, in the form that stands in a date and the one that stands alone.
"""

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from contextlib import suppress
from functools import cache
from typing import Any, Final
from unicodedata import combining, normalize

from babel import Locale, localedata

MOST_WRITTEN: Final = "en de fr es it pt nl pl sv nb da fi cs tr ru uk ar fa hi id ja zh ko"
FIRST_ASKED: Final = MOST_WRITTEN.split()
"""Of languages that fit alike, the first of these: so many more people write it."""
CONTEXTS: Final = ("format", "stand-alone")
WIDTHS: Final = ("wide", "abbreviated")
SEPARATORS: Final = re.compile(
    r"[\d\s.,;:/()\[\]\N{EN DASH}\N{EM DASH}'\N{RIGHT SINGLE QUOTATION MARK}_-]+"
)
SHORTEST: Final = 3
ALSO: Final = {
    "de": {"mrz": 3, "jänner": 1, "jän": 1, "feber": 2},
    "es": {"set": 9, "setiembre": 9},
}
"""Abbreviations in common use that the data has not."""


@cache
def months() -> dict[str, dict[str, int]]:
    """Return the number of the month that each name stands for, by language."""
    names = _names("months")
    for language, more in ALSO.items():
        for name, number in more.items():
            names.setdefault(name, {}).setdefault(language, number)
    return {
        name: {language: int(number) for language, number in found.items()}
        for name, found in names.items()
    }


@cache
def days() -> frozenset[str]:
    """Return the names of days of the week that are the name of no month."""
    return frozenset(_names("days")) - months().keys()


def words_of(cell: str) -> list[str]:
    """Return the words of a cell without digits, marks and the case of letters."""
    return [word for word in SEPARATORS.split(folded(cell)) if word]


def folded(text: str) -> str:
    """Return a text without the case of its letters, and each letter in one way."""
    return normalize("NFC", text.casefold())


def language_of(cells: Iterable[str]) -> str:
    """Return the language that names the months of most ``cells``; "" where none names any.

    Of several that name as many, the one that more people write.
    """
    fits: Counter[str] = Counter()
    for cell in cells:
        words = words_of(cell)
        known = [months().get(word, {}) for word in {*words, " ".join(words)}]
        fits.update({language for found in known for language in found})
    if not fits:
        return ""
    most = max(fits.values())
    return _most_written(language for language, count in fits.items() if count == most)


def month_of(word: str, language: str) -> int | None:
    """Return the month that a word names: in ``language``, else in the one that most write."""
    found = months().get(word, {})
    if not found:
        return None
    return found[language if language in found else _most_written(found)]


def _most_written(languages: Iterable[str]) -> str:
    order = {language: n for n, language in enumerate(FIRST_ASKED)}
    return min(languages, key=lambda language: (order.get(language, len(order)), language))


def _names(kind: str) -> dict[str, dict[str, Any]]:
    """Return what each name stands for, by language: of ``kind`` months or days."""
    names: dict[str, dict[str, Any]] = {}
    for language in _languages():
        for number, name in _told(language, kind):
            plain = SEPARATORS.sub(" ", folded(name)).strip()
            for written in (plain, _without_accents(plain)):
                if len(written) >= SHORTEST or not written.isascii():
                    names.setdefault(written, {}).setdefault(language.partition("_")[0], number)
    return names


def _without_accents(name: str) -> str:
    """Return a name as it is typed where a keyboard has no accents; other scripts need theirs."""
    bare = "".join(sign for sign in normalize("NFKD", name) if not combining(sign))
    return bare if bare.isascii() else name


def _languages() -> list[str]:
    """Return languages and those of their scripts that are not the usual one, not countries."""
    parts = (name.split("_") for name in sorted(localedata.locale_identifiers()))
    return [
        "_".join(part) for part in parts if len(part) == 1 or (len(part) == 2 and len(part[1]) == 4)
    ]


def _told(language: str, kind: str) -> Iterator[tuple[Any, str]]:
    locale = Locale.parse(language)
    for context in CONTEXTS:
        for width in WIDTHS:
            with suppress(KeyError):
                yield from getattr(locale, kind)[context][width].items()
