"""Dates of any language and script, written as the patterns know them: in English and digits."""

import re
import unicodedata
from functools import lru_cache
from typing import Final

from fluctus.tables.meaning.dates.names import days, folded, month_of, words_of
from fluctus.tables.meaning.words import listed

MONTHS: Final = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
ENGLISH_MONTHS: Final = (
    r"jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?"
    r"|sep(?:t(?:ember)?)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?"
)
KNOWN: Final = re.compile(
    ENGLISH_MONTHS + r"|(mon|tue(s|sday)?|wed(nes)?|thu(r|rs|rsday)?|fri|sat(ur)?|sun)(day)?"
    r"|[apwqhmtz]|am|pm|utc|gmt|fy|week|wk|st|nd|rd|th|er|to|until|till"
)
"""Words that need no translation."""
WEEKS: Final = listed(
    "kw, cw, wk, week, weeks, woche, semaine, sem, semana, settimana, sett, uke, vecka, vec, uge,"
    "viikko, vko, hét, týden, týždeň, tydzień, tydz, hafta, неделя, нед, тиждень, тиж, setmana,"
    "nädal, savaitė, nedēļa"
)
QUARTERS: Final = listed(
    "q, qtr, quarter, quartal, quartaal, trimestre, trim, trimester, kwartał, kwartal, kvartal,"
    "kvartál, kvartaali, çeyrek, квартал, кв"
)
HALVES: Final = listed("h, half, hy, halbjahr, hj, semestre, semester, semestr, halvår, halvar")
FILLERS: Final = listed(
    "d, de, del, den, der, du, le, la, di, the, of, i, og, r, ao, o, года, року, \u0433"
)
"""Words between day, month and year that say nothing."""
SIGNS: Final = re.compile(
    r"(?P<y>\d{4})\s*[年년]\s*(?:(?P<m>\d{1,2})\s*[月월]\s*(?:(?P<d>\d{1,2})\s*[日일号])?)?"
)
"""Year, month and day as they are marked in Chinese, Japanese and Korean."""
NUMBERED_MONTHS: Final = re.compile(
    r"\b(?:tháng|thg)\s*(?P<m>\d{1,2})\b|(?P<m2>\d{1,2})\s*[月월]", re.IGNORECASE
)

ZONES: Final = {
    **{"WET": "+00:00", "WEST": "+01:00", "BST": "+01:00", "CET": "+01:00", "MEZ": "+01:00"},
    **{"CEST": "+02:00", "MESZ": "+02:00", "EET": "+02:00", "EEST": "+03:00", "MSK": "+03:00"},
    **{"EST": "-05:00", "EDT": "-04:00", "MST": "-07:00", "MDT": "-06:00", "PST": "-08:00"},
    **{"PDT": "-07:00", "JST": "+09:00", "KST": "+09:00", "AEST": "+10:00", "AEDT": "+11:00"},
    **{"NZST": "+12:00", "NZDT": "+13:00", "SAST": "+02:00", "HST": "-10:00"},
}
"""Short names of offsets. Left out are those that say several, such as CST and IST."""
NAMED_ZONE: Final = re.compile(rf"(?<=[0-9mM.])\s*\b(?P<name>{'|'.join(ZONES)})$")
WITHOUT_MARKS: Final = re.compile(
    r"(?P<y>\d{4})(?P<m>\d\d)(?P<d>\d\d)[T ](?P<hour>\d\d)(?P<minute>\d\d)(?:\d\d(?:[.,]\d+)?)?"
    r"(?P<zone>Z|[+-]\d\d:?(?:\d\d)?)?"
)
"""A moment in the short form of ISO 8601, as programs write it."""


def in_plain_writing(cell: str, language: str = "") -> str:
    """Return a cell with the names of ``language`` in English, and digits as 0 to 9."""
    short = WITHOUT_MARKS.fullmatch(cell)
    if short:
        part = short.groupdict("")
        return "{y}-{m}-{d} {hour}:{minute}{zone}".format(**part)
    if ":" in cell:
        cell = NAMED_ZONE.sub(lambda found: ZONES[found["name"]], cell)
    if cell.isascii() and not foreign_words(cell):
        return cell
    return _translated(cell, language)


def in_digits(text: str) -> str:
    """Return a text with the digits of any script as 0 to 9."""
    if text.isascii():
        return text
    return "".join(str(unicodedata.decimal(sign)) if sign.isdecimal() else sign for sign in text)


def month_number(text: str) -> int | None:
    """Return the month that a text names and nothing else, in any language; None for no month."""
    words = words_of(text)
    if len(words) == 1 and re.fullmatch(ENGLISH_MONTHS, words[0]):
        return MONTHS.index(words[0][:3]) + 1
    return month_of(" ".join(words), "") if words and not re.search(r"\d", text) else None


def foreign_words(cell: str) -> list[str]:
    """Return the words of a cell that the patterns of dates do not know."""
    return [word for word in words_of(cell) if not KNOWN.fullmatch(word)]


@lru_cache(maxsize=20_000)
def _translated(cell: str, language: str) -> str:
    text = NUMBERED_MONTHS.sub(_named, SIGNS.sub(_with_dashes, in_digits(cell)))
    if not any(sign.isdigit() for sign in text):
        return text
    words = foreign_words(text)
    if len(words) > 1 and (month := month_of(" ".join(words), language)) is not None:
        # A name of several words, such as those that count the months.
        first, last = (re.escape(word) for word in (words[0], words[-1]))
        text = re.sub(rf"(?s){first}.*{last}\.?", MONTHS[month - 1], folded(text), count=1)
        words = []
    for word in words:
        plain = _in_english(word, language)
        if plain is None:
            return text
        text = re.sub(rf"{re.escape(word)}\.?", plain, folded(text), count=1)
    return re.sub(r"[\s\N{RIGHT SINGLE QUOTATION MARK}]+", " ", text).strip(" ,")


def _in_english(word: str, language: str) -> str | None:
    if word in WEEKS:
        return "W"
    if word in QUARTERS:
        return "Q"
    if word in HALVES:
        return "H"
    if word in FILLERS:
        return " "
    month = month_of(word, language)
    if month is not None:
        return MONTHS[month - 1]
    return " " if word in days() else None


def _named(found: re.Match[str]) -> str:
    number = int(found["m"] or found["m2"])
    return f" {MONTHS[number - 1]} " if 1 <= number <= len(MONTHS) else found[0]


def _with_dashes(found: re.Match[str]) -> str:
    parts = [found["y"], *(f"{int(found[part]):02}" for part in "md" if found[part])]
    return "-".join(parts) + " "
