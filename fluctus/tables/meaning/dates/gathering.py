"""The names of months and days of the week, gathered from Babel's CLDR data into ``names.json``.

Unicode Common Locale Data Repository, dates/calendars/gregorian: months and days, wide and
abbreviated, in the form that stands in a date and the one that stands alone. Gathered by
``script/names`` when Babel has a new edition: to load all its locales takes a second, which
nobody should wait for.
"""

from collections.abc import Iterator
from contextlib import suppress
from typing import Any, Final
from unicodedata import combining, normalize

import orjson
from babel import Locale, localedata

from fluctus.tables.meaning.dates.names import KEPT, SEPARATORS, folded

CONTEXTS: Final = ("format", "stand-alone")
WIDTHS: Final = ("wide", "abbreviated")
SHORTEST: Final = {"months": 3, "days": 2}
"""Letters of a name: shorter ones are as well something else."""
ALSO: Final = {
    "de": {"mrz": 3, "jänner": 1, "jän": 1, "feber": 2},
    "es": {"set": 9, "setiembre": 9},
}
"""Abbreviations in common use that the data has not."""


def gathered() -> bytes:
    """Return what is kept: months by name and language, and the names of days that are no month."""
    months = _names("months")
    for language, more in ALSO.items():
        for name, number in more.items():
            months.setdefault(name, {}).setdefault(language, number)
    days = sorted(set(_names("days")) - months.keys())
    kept = {"months": dict(sorted(months.items())), "days": days}
    return orjson.dumps(kept) + b"\n"


def _names(kind: str) -> dict[str, dict[str, Any]]:
    """Return what each name stands for, by language: of ``kind`` months or days."""
    names: dict[str, dict[str, Any]] = {}
    for language in _languages():
        for number, name in _told(language, kind):
            plain = SEPARATORS.sub(" ", folded(name)).strip()
            for written in (plain, _without_accents(plain)):
                if len(written) >= SHORTEST[kind] or not written.isascii():
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


if __name__ == "__main__":
    KEPT.write_bytes(gathered())
