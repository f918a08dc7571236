"""Known series written as tables in drawn layouts, and read back: none may be wrong in silence."""

import os
import random
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

import pytest
from babel.dates import format_date

from fluctus.http.refusals import RefusalError
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import read
from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import TableError

DRAWS = int(os.environ.get("DRAWN_TABLES", "200"))
"""``script/fuzz`` draws ten thousand."""
RIGHT_SHARE = 0.95
QUAYS = ["Ainsey", "Holmsand", "Marrowick", "Tarvit"]
LANGUAGES = ["en", "de", "fr", "es", "it", "nl", "pl", "sv", "da", "cs", "pt"]
TOTALS = {"en": "Total", "de": "Summe", "fr": "Total", "pl": "Razem", "nl": "Totaal", "es": "Total"}
Values = dict[tuple[str, str], float]
"""By the first day of the period, and the part."""
Months = list[date]
Rows = list[list[str]]
Number = Callable[[float], str]
Name = Callable[[date, str], str]


@dataclass(frozen=True, slots=True)
class Drawn:
    """A table as it was written, and what stands in it."""

    text: str
    values: Values
    layout: str


def draw(seed: int) -> Drawn:
    """Write a series of months by quay in one of many ways."""
    chance = random.Random(seed)  # noqa: S311 - a draw, not a secret
    months = [date(2024 + n // 12, n % 12 + 1, 1) for n in range(chance.choice([6, 12, 24]))]
    quays = chance.sample(QUAYS, chance.choice([1, 2, 3]))
    comma = chance.random() < 0.3
    decimals = chance.choice([0, 1, 2])
    values = {
        (f"{month}", quay): round(chance.uniform(20, 900), decimals)
        for month in months
        for quay in quays
    }
    layout = chance.choice(["long", "filled", "wide", "crossed", "parts", "apart"])
    language = chance.choice(LANGUAGES)

    def number(value: float) -> str:
        text = f"{value:.{decimals}f}"
        return text.replace(".", ",") if comma else text

    def name(month: date, pattern: str) -> str:
        return str(format_date(month, pattern, locale=language))

    if layout == "crossed":
        quays = quays[:1]
    written = {
        "long": lambda: _long(months, quays, values, number, name),
        "filled": lambda: _filled(months, quays, values, number, name),
        "wide": lambda: _wide(months, quays, values, number, name),
        "crossed": lambda: _crossed(months, quays[0], values, number, name),
        "parts": lambda: _parts(months, quays, values, number, name),
        "apart": lambda: _apart(months, quays, values, number),
    }[layout]()
    if chance.random() < 0.4:
        written = _with_totals(written, layout, number)
    wanted = {key: value for key, value in values.items() if key[1] in quays}
    rows = _with_what_people_add(written, chance, language, number)
    mark = ";" if comma else chance.choice([",", ";", "\t"])
    text = "\n".join(mark.join(row) for row in rows)
    return Drawn(text, wanted, f"{layout}, {language}")


def _long(months: Months, quays: list[str], values: Values, number: Number, name: Name) -> Rows:
    rows = [
        [name(month, "LLLL y"), quay, number(values[f"{month}", quay])]
        for month in months
        for quay in quays
    ]
    return [["Month", "Quay", "Cars landed"], *rows]


def _filled(months: Months, quays: list[str], values: Values, number: Number, name: Name) -> Rows:
    rows = [
        [quay if n == 0 else "", name(month, "y-MM"), number(values[f"{month}", quay])]
        for quay in quays
        for n, month in enumerate(months)
    ]
    return [["Quay", "Month", "Cars landed"], *rows]


def _wide(months: Months, quays: list[str], values: Values, number: Number, name: Name) -> Rows:
    rows = [[quay, *(number(values[f"{month}", quay]) for month in months)] for quay in quays]
    return [["Quay", *(name(month, "LLL y") for month in months)], *rows]


def _crossed(months: Months, quay: str, values: Values, number: Number, name: Name) -> Rows:
    years = sorted({month.year for month in months})
    heads = [month for month in months if month.year == years[0]]
    rows = [
        [f"{year}", *(number(values[f"{m.replace(year=year)}", quay]) for m in heads)]
        for year in years
    ]
    return [["Year", *(name(month, "LLLL") for month in heads)], *rows]


def _parts(months: Months, quays: list[str], values: Values, number: Number, name: Name) -> Rows:
    rows = [
        [f"{month.year}", f"{month.month}", quay, number(values[f"{month}", quay])]
        for month in months
        for quay in quays
    ]
    return [["Year", "Month", "Quay", "Cars landed"], *rows]


def _apart(months: Months, quays: list[str], values: Values, number: Number) -> Rows:
    rows = [[f"{month}", *(number(values[f"{month}", quay]) for quay in quays)] for month in months]
    return [["Month", *(f"{quay} cars" for quay in quays)], *rows]


def _with_totals(rows: Rows, layout: str, number: Number) -> Rows:
    """Put sums beside the values, or below each group of them."""

    def amount(cells: list[str]) -> str:
        return number(sum(float(cell.replace(",", ".")) for cell in cells))

    if layout in ("wide", "crossed", "apart") and len(rows[0]) > 2:
        return [[*rows[0], "Total"], *([*row, amount(row[1:])] for row in rows[1:])]
    if layout != "filled":
        return rows
    made = [rows[0]]
    group: Rows = []
    for n, row in enumerate(rows[1:], 1):
        made.append(row)
        group.append(row)
        if n + 1 == len(rows) or rows[n + 1][0]:
            made.append([f"{group[0][0]} Total", "", amount([one[2] for one in group])])
            group = []
    return made


def _with_what_people_add(rows: Rows, chance: random.Random, language: str, number: Number) -> Rows:
    """Put a title above, a total and a note below, and blank rows between."""
    width = len(rows[0])
    if chance.random() < 0.3:
        rows = [["Cars of all quays"], *([[""]] if chance.random() < 0.5 else []), *rows]
    if chance.random() < 0.3 and language in TOTALS:
        rows = [*rows, [TOTALS[language], *[""] * (width - 2), number(12345.0)]]
    if chance.random() < 0.3:
        rows = [*rows, [""] * width, ["Source: the gate log of the watch"]]
    return rows


def outcome(drawn: Drawn) -> str:
    """Tell how a table was read as proposed: right, told (refused or asked about), or wrong."""
    try:
        reading = read(open_table(drawn.text.encode()).grid, Mapping(time_zone="UTC"))
    except (RefusalError, TableError):
        return "told"
    found: Values = {}
    for kpi in reading.chosen:
        for row in kpi.points.frame.iter_rows(named=True):
            day = (datetime.fromtimestamp(row["period"], UTC) + timedelta(hours=12)).date()
            part = row["breakdown"] or kpi.name.removesuffix(" cars")
            found[f"{day}", part if part in QUAYS else ""] = row["value"]
    one = {part for _, part in drawn.values}
    wanted = (
        {
            (day, part if (day, part) in found else ""): value
            for (day, part), value in drawn.values.items()
        }
        if len(one) == 1
        else drawn.values
    )
    right = found.keys() == wanted.keys() and all(
        found[key] == pytest.approx(value) for key, value in wanted.items()
    )
    if right:
        return "right"
    asked = reading.problem_count or reading.questions or reading.date_styles[1:]
    undecided = reading.table.marks.undecided or len(reading.blocks) > 1
    return "told" if asked or undecided else "wrong"


def test_no_drawn_table_is_wrong_in_silence_and_nearly_all_are_right() -> None:
    drawn = [draw(seed) for seed in range(DRAWS)]
    outcomes = [outcome(one) for one in drawn]
    wrong = [one for one, how in zip(drawn, outcomes, strict=True) if how == "wrong"]
    assert [one.layout for one in wrong] == [], wrong[0].text
    assert outcomes.count("right") >= DRAWS * RIGHT_SHARE
