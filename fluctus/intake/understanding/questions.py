"""What a table leaves open: asked beside it, each answer with what it changes of the mapping.

One function for each kind of question; a question that is not answered is read as the answer
that is in force says.
"""

import calendar
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

from fluctus.intake.understanding.mapping import Counted, Mapping
from fluctus.intake.understanding.read_table import ReadTable, word_key
from fluctus.tables.meaning.dates import DateStyle
from fluctus.tables.meaning.numbers import Clock, is_missing

MOST_WORDS: Final = 5
LONGEST_WORD: Final = 40


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer: what it makes of the table, and what it changes of the mapping."""

    reads: str
    changes: dict[str, Any]
    in_force: bool = False


@dataclass(frozen=True, slots=True)
class Question:
    """Something that a table does not tell."""

    key: str
    asks: str
    why: str
    answers: tuple[Answer, ...]


def questions_about(table: ReadTable, mapping: Mapping, *, fixed_clock: bool) -> list[Question]:
    """Return what is open about a table; ``fixed_clock`` tells how its times are read."""
    asked = [question for ask in ASKED for question in ask(table, mapping)]
    return [*asked, *_clock_changes(table, mapping, fixed_clock=fixed_clock)]


def _durations(table: ReadTable, mapping: Mapping) -> list[Question]:
    cell = table.undecided_clock
    if not cell:
        return []
    first, _, second = cell.partition(":")
    reads = {
        Clock.MINUTES: f"{cell} is {first} min {second} s",
        Clock.HOURS: f"{cell} is {first} h {second} min",
    }
    force = mapping.clock or Clock.MINUTES
    return [
        Question(
            "clock",
            "Hours and minutes, or minutes and seconds?",
            "The durations can be read both ways.",
            tuple(Answer(text, {"clock": clock}, clock is force) for clock, text in reads.items()),
        )
    ]


def _answers_counted(table: ReadTable, mapping: Mapping) -> list[Question]:
    if table.happenings is None or not table.happenings.answered:
        return []
    name, force = table.happenings.answered[0], mapping.counted or Counted.SHARE
    reads = {Counted.SHARE: "What share is yes", Counted.NUMBER: "How many are yes"}
    return [
        Question(
            "counted",
            f"{name} holds yes and no.",
            "Which of these is wanted?",
            tuple(
                Answer(text, {"counted": counted}, counted is force)
                for counted, text in reads.items()
            ),
        )
    ]


def _several_units(table: ReadTable, mapping: Mapping) -> list[Question]:
    questions = []
    for number, column in table.numbers.items():
        if len(column.units) < 2 or not column.converts:
            continue
        questions.append(
            Question(
                f"units:{table.long.names[number]}",
                f"{table.long.names[number]} is in {column.units_told}.",
                "One KPI has one unit.",
                (Answer(f"Convert all to {column.unit}", {"convert": True}, mapping.convert),),
            )
        )
    return questions


def _words(table: ReadTable, mapping: Mapping) -> list[Question]:
    """Ask about words among the values, most frequent first, all cells alike at once."""
    counts: Counter[str] = Counter()
    for number, column in table.numbers.items():
        cells = table.long.cells.to_series(number).filter(column.unfit)
        for cell, count in cells.value_counts(sort=True).head(MOST_WORDS).iter_rows():
            if not any(sign.isdigit() for sign in cell) and len(cell) <= LONGEST_WORD:
                counts[cell.lower()] += count
    return [
        Question(
            f"word:{word}",
            f"\N{LEFT DOUBLE QUOTATION MARK}{word}\N{RIGHT DOUBLE QUOTATION MARK} stands where a "
            f"number should, in {count:,} {'cell' if count == 1 else 'cells'}.",
            "Is that a value that is not there?",
            (Answer("No value there", _without_a_value(word, mapping)),),
        )
        for word, count in counts.most_common(MOST_WORDS)
        if not is_missing(word)
    ]


def _without_a_value(word: str, mapping: Mapping) -> dict[str, Any]:
    """Return what takes a word for no value, even where that was taken back before."""
    return {
        "missing_words": [*mapping.missing_words, word],
        "taken_back": [key for key in mapping.taken_back if key != word_key(word)],
    }


def _first_month(table: ReadTable, mapping: Mapping) -> list[Question]:
    if table.dates.style is not DateStyle.FISCAL_YEAR:
        return []
    force = mapping.first_month or 1
    return [
        Question(
            "first_month",
            "Which month begins the year?",
            "The dates name years of a business.",
            tuple(
                Answer(calendar.month_abbr[month], {"first_month": month}, month == force)
                for month in range(1, 13)
            ),
        )
    ]


def _clock_changes(table: ReadTable, mapping: Mapping, *, fixed_clock: bool) -> list[Question]:
    if not fixed_clock and mapping.fixed_clock is None:
        return []
    return [
        Question(
            "fixed_clock",
            "Does this clock stay as it is when summer time begins?",
            "The table has a time that clocks skip then.",
            (
                Answer("It does not change", {"fixed_clock": True}, fixed_clock),
                Answer("It changes", {"fixed_clock": False}, not fixed_clock),
            ),
        )
    ]


ASKED: Final[tuple[Callable[[ReadTable, Mapping], list[Question]], ...]] = (
    _durations,
    _answers_counted,
    _several_units,
    _words,
    _first_month,
)
