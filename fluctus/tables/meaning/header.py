"""Finds where a table begins in a sheet, and how many of its rows name the columns."""

import re
from collections import Counter
from collections.abc import Sequence

from fluctus.tables.meaning.dates import looks_like_date, looks_like_year
from fluctus.tables.meaning.numbers import is_missing, looks_like_number
from fluctus.tables.meaning.period_parts import run_of_parts
from fluctus.tables.meaning.words import TOTAL, is_unit

LONGEST_UNIT = 20
MOST_PARAMETERS = 12
"""Rows that a table of parameters above another one has at most."""


def _filled(row: tuple[str, ...]) -> int:
    return sum(cell != "" for cell in row)


def first_row(rows: list[tuple[str, ...]]) -> int:
    """Return the first row of the table: the first about as wide as most rows are.

    Lines of comments above it are no part of it, however a delimiter has cut them.
    """
    comments = next((n for n, row in enumerate(rows) if not row[0].startswith("#")), 0)
    if not _are_words(rows[comments]):
        comments = 0  # What stands right above data is a heading, such as "# of cars".
    return comments + _first_wide(rows[comments:])


def _first_wide(rows: list[tuple[str, ...]]) -> int:
    widths = Counter(n for n in map(_filled, rows) if n > 1)
    if not widths:
        return 0
    usual = max(widths, key=lambda n: (widths[n], n))
    # A header over merged cells, or one with a nameless first column, is less wide.
    enough = max(2, (usual + 1) // 2) if usual > 2 else 2
    for number, row in enumerate(rows):
        if _is_total_above(rows, number):
            continue
        if _filled(row) >= enough:
            if number and _names_parts(rows[number - 1], row):
                return number - 1
            return _below_parameters(rows, _below_titles(rows, number))
    return 0


def _below_parameters(rows: list[tuple[str, ...]], start: int) -> int:
    """Pass over a small table without dates above one with dates that is as wide."""
    if not _are_words(rows[start]):
        return start
    for number in range(start + 1, min(start + MOST_PARAMETERS, len(rows) - 2)):
        row, below = rows[number], rows[number + 1 : number + 3]
        if any(map(looks_like_date, row)):
            return start
        header = _are_words(row) and _filled(row) >= _filled(rows[start])
        if number > start + 1 and header and all(any(map(looks_like_date, one)) for one in below):
            return number
    return start


def _is_total_above(rows: list[tuple[str, ...]], number: int) -> bool:
    """Tell whether a row holds totals above the names of the columns that they are of."""
    name = next((cell for cell in rows[number] if cell), "")
    if not TOTAL.fullmatch(name) or number + 2 >= len(rows):
        return False
    names, data = rows[number + 1], rows[number + 2]
    return any(map(is_data, rows[number])) and _are_words(names) and any(map(is_data, data))


def _below_titles(rows: list[tuple[str, ...]], start: int) -> int:
    """Pass over lines of words that a delimiter has cut: the header is the last above the data."""
    for number in range(start, len(rows) - 2):
        row, following = rows[number], rows[number + 1]
        cut = all(row[: _filled(row)]) and following[0] != "" and _filled(row) <= _filled(following)
        header = _are_words(following) or (
            _is_row_of_periods(following) and _below_are_numbers(rows[number + 1 :], following)
        )
        if not (cut and _are_words(row) and header) or are_units(following):
            return number
    return start


def _are_words(row: Sequence[str]) -> bool:
    return not any(is_data(cell) or is_missing(cell) for cell in row if cell)


def _names_parts(above: tuple[str, ...], row: tuple[str, ...]) -> bool:
    """Tell whether ``above`` holds merged cells over the names in ``row``: groups, or years."""
    texts = [cell for cell in above if cell]
    years = bool(texts) and all(map(looks_like_year, texts))
    groups = len(texts) > 1 and not any(map(is_data, texts))
    return (years or groups) and not any(is_data(cell) for cell in row)


def is_data(cell: str) -> bool:
    """Tell whether a cell holds a number or a date."""
    return looks_like_number(cell) or looks_like_date(cell)


def header_rows_of(rows: list[tuple[str, ...]], named: bool) -> int:
    """Return how many of the first rows name the columns: 0, 1 or 2."""
    if named:
        return 1
    first = rows[0]
    if len(rows) == 1:
        return 0 if any(is_data(cell) for cell in first) else 1
    if not any(is_data(cell) and not looks_like_year(cell) for cell in first) and (
        _filled(first) < _filled(rows[1]) or not any(map(looks_like_year, first))
    ):
        return _second_header_row(rows)
    if _is_row_of_periods(first) and _below_are_numbers(rows, first):
        return 1
    return 1 if _is_row_of_parts(rows, first) else 0


def _is_row_of_parts(rows: list[tuple[str, ...]], first: tuple[str, ...]) -> bool:
    """Tell whether a row names what its first cell is, and then hours, days or months across."""
    at = [n for n, cell in enumerate(first) if cell and n]
    if not at or is_data(first[0]) or run_of_parts([first[n] for n in at[:31]]) is None:
        return False
    return all(_are_values([row[n] for row in rows[1:20] if row[n]] or ["0"]) for n in at)


def _second_header_row(rows: list[tuple[str, ...]]) -> int:
    """Tell one header row from two; the second names parts, or units, of the first."""
    second = rows[1]
    texts = [cell for cell in second if cell]
    if len(rows) < 3 or not texts:
        return 1
    below = any(looks_like_number(cell) for row in rows[2:6] for cell in row)
    if below and are_units(second):
        return 2
    no_data = not any(is_data(cell) or is_missing(cell) for cell in texts)
    merged = _filled(rows[0]) < _filled(second)
    if no_data and below and merged:
        return 2
    if no_data and below and complement(rows[0], second):
        return 2
    # Years over months: the second row is a row of periods in parts.
    if (
        merged
        and all(re.fullmatch(r"(?i)[a-z]{3,9}\.?|q[1-4]|w?\d{1,2}", c) for c in texts)
        and below
    ):
        return 2
    return 1


def complement(above: Sequence[str], row: Sequence[str]) -> bool:
    """Tell whether two rows name columns together: some by the one, some by the other."""
    if any(map(looks_like_year, above)):
        return False  # Years over months, of which a total has none.
    over = sum(bool(a) and not b for a, b in zip(above, row, strict=True))
    under = sum(bool(b) and not a for a, b in zip(above, row, strict=True))
    return over > 0 and under > 0


def are_units(row: Sequence[str]) -> bool:
    """Tell whether a row holds units below the names of columns, some of which may have none."""
    texts = [cell for cell in row if cell and not is_missing(cell)]
    known = [is_unit(cell) or bool(re.fullmatch(r"[(\[].{1,20}[)\]]", cell)) for cell in texts]
    short = all(len(cell) <= LONGEST_UNIT and not is_data(cell) for cell in texts)
    # One word that nobody knows stands among units as one of them.
    return bool(texts) and short and sum(known) > len(texts) / 2


def _is_row_of_periods(row: tuple[str, ...]) -> bool:
    cells = [cell for cell in row if cell]
    periods = [cell for cell in cells if looks_like_date(cell) or looks_like_year(cell)]
    if len(periods) < 2 or len(periods) < len(cells) * 0.6:
        return False
    return len(set(periods)) == len(periods)


def _below_are_numbers(rows: list[tuple[str, ...]], first: tuple[str, ...]) -> bool:
    """Tell whether below each of a row of periods are values, and not periods again."""
    at = [n for n, cell in enumerate(first) if looks_like_date(cell) or looks_like_year(cell)]
    below = [[row[n] for row in rows[1:20] if row[n] and not is_missing(row[n])] for n in at]
    return any(below) and all(_are_values(cells) for cells in below if cells)


def _are_values(cells: list[str]) -> bool:
    values = [cell for cell in cells if looks_like_number(cell) and not looks_like_date(cell)]
    years = sum(looks_like_year(cell) for cell in cells)
    return len(values) >= len(cells) * 0.6 and years < len(cells) * 0.5
