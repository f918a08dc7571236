"""The workbook, recalculated by another program, and read back cell by cell."""

import io
import math
import random
from pathlib import Path
from typing import Any

import formulas
import numpy as np
import openpyxl
import pytest
from openpyxl.worksheet.worksheet import Worksheet

from fluctus.core import Analysis, Rule, Series, analyse
from fluctus.http import clock
from fluctus.http.refusals import RefusalError
from fluctus.jobs.life import Progress
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.chart.queries import chart_of
from fluctus.kpis.models import Kpi
from fluctus.reports.workbook import book
from fluctus.reports.workbook.book import as_workbook
from tests.conftest import Api, ok, revision


def chart(slug: str) -> Chart:
    return chart_of(Kpi.objects.get(slug=slug), clock.now())


def made(slug: str, name: str = "Ramp") -> bytes:
    return as_workbook("A workbook", [(name, chart(slug))], Progress())


def table_of(sheet: Worksheet) -> tuple[int, list[str]]:
    """Find the row of the headings above the values."""
    for row in sheet.iter_rows(min_row=1, max_row=150):
        names = [str(cell.value) for cell in row if cell.value is not None]
        if names[:2] == ["Period", "Value"]:
            return int(row[0].row or 0), names
    raise AssertionError("there is no table of values")


def recalculated(content: bytes, folder: Path, changes: dict[int, float] | None = None) -> Any:
    """Return the columns of the values by name, computed by another program from formulas alone."""
    workbook = openpyxl.load_workbook(io.BytesIO(content))
    sheet = workbook.worksheets[0]
    head, names = table_of(sheet)
    for position, value in (changes or {}).items():
        sheet.cell(head + 1 + position, 2).value = value
    # Charts and text of other sheets are nothing to compute.
    for other in workbook.worksheets[1:]:
        workbook.remove(other)
    sheet._charts = []
    path = folder / "book.xlsx"
    workbook.save(path)
    solution = formulas.ExcelModel().loads(str(path)).finish().calculate()
    cells = {str(key).rpartition("!")[2].replace("$", ""): cell for key, cell in solution.items()}
    last = sheet.max_row
    columns = {}
    for number, name in enumerate(names):
        letter = openpyxl.utils.get_column_letter(number + 1)
        column = []
        for row in range(head + 1, last + 1):
            found = cells.get(f"{letter}{row}")
            value = sheet[f"{letter}{row}"].value if found is None else found.value[0, 0]
            number_like = isinstance(value, int | float | np.number) and not isinstance(value, bool)
            column.append(float(value) if number_like else math.nan)
        columns[name] = np.array(column)
    return columns


def flagged(columns: Any, analysis: Analysis, rule: Rule) -> set[int]:
    from fluctus.core.analysis import RULES  # noqa: PLC0415 - beside what it names

    name = RULES[rule].name
    ending = ": flagged"
    return {
        int(position)
        for column, values in columns.items()
        if column.startswith(name) and column.endswith(ending)
        for position in np.flatnonzero(values == 1)
    }


def same(columns: Any, analysis: Analysis) -> None:
    """Hold what was recalculated to what the core computes, to 1e-9."""
    lines = analysis.lines()
    limits = [
        math.nan if segment.range_limit is None else segment.range_limit
        for segment in analysis.segments
        for _ in range(segment.start, segment.stop)
    ]
    for name, expected in (
        ("Average", lines.centre),
        ("Lower limit", lines.lower),
        ("Upper limit", lines.upper),
        ("Upper range limit", np.array(limits)),
    ):
        np.testing.assert_allclose(columns[name], expected, rtol=1e-9, err_msg=name)
    for rule in analysis.settings.rules:
        expected_flags = set(analysis.signals.flagged(rule).tolist())
        assert flagged(columns, analysis, rule) == expected_flags, rule


def noisy(seed: int, count: int) -> list[float]:
    """Values with stretches that set off every kind of rule, some of them equal."""
    draw = random.Random(seed)  # noqa: S311 - to be the same each time
    level, values = 20.0, []
    for n in range(count):
        if n % 9 == 0:
            level = draw.choice([20.0, 20.0, 23.0, 18.0])
        values.append(round(level + draw.choice([0, 0.5, 1, -1, 2, -2, draw.gauss(0, 1)]), 1))
    return values


@pytest.mark.parametrize("seed", range(4))
def test_recalculated_by_another_program_it_says_the_same(
    api: Api, tmp_path: Path, seed: int
) -> None:
    values = noisy(seed, 34)
    slug = api.add_kpi("Ramp cycle", values, floor=19.0 if seed % 2 else None)
    path = f"/kpis/{slug}"
    segments: list[dict[str, Any]] = [{"start": None, "name": "=1+1"}, {"start": "2026-05-04"}]
    if seed >= 2:
        segments[0] |= {"centre": "median", "spread": "median_range"}
        segments[1] |= {"window": ["2026-05-11", "2026-08-03"]}
    rules = [rule.value for rule in Rule]
    ok(api.send("PATCH", path, {"segments": segments, "rules": rules}, revision(api, path)))
    aside = {"period": "2026-02-09", "breakdown": None, "reason": "=cmd()"}
    ok(api.send("POST", f"{path}/aside", aside, revision(api, path)))
    content = made(slug)
    same(recalculated(content, tmp_path), chart(slug).analysis)
    # Another value, typed into the workbook and into Fluctus, moves the same limits.
    before = chart(slug).analysis
    version = ok(api.get(f"{path}/values", start=8, count=1))["values"][0]["version"]
    edit = {"period": "2026-03-02", "value": 31.0, "seen": version}
    ok(api.send("POST", f"{path}/values", {"edits": [edit]}, revision(api, path)))
    after = chart(slug).analysis
    assert before.segments[0].upper != after.segments[0].upper
    same(recalculated(content, tmp_path, {8: 31.0}), after)


@pytest.mark.parametrize("follows", ["trend", "weekday"])
@pytest.mark.parametrize("lift", [20.0, -4.0])
def test_limits_that_follow_a_pattern_are_live(
    api: Api, tmp_path: Path, follows: str, lift: float
) -> None:
    """A season of values at zero or below is worked on by differences, above by ratios."""
    days = "\n".join(
        f"2026-{1 + n // 28:02}-{1 + n % 28:02},{lift + 5 * (n % 7 == 0) + n / 9 + (n * 3 % 4) / 4}"
        for n in range(56)
    )
    brought = api.bring_in(f"Day,Crossings\n{days}", {"name": "Crossings"}, grain="day")
    slug = ok(brought)["parts"][0]["slug"]
    path = f"/kpis/{slug}"
    later = {"start": "2026-02-10", "window": ["2026-02-10", "2026-02-25"], "follows": follows}
    segments = [{"start": None, "follows": follows}, later]
    ok(api.send("PATCH", path, {"segments": segments}, revision(api, path)))
    aside = {"period": "2026-01-12", "breakdown": None, "reason": "Gale"}
    ok(api.send("POST", f"{path}/aside", aside, revision(api, path)))
    content, analysis = made(slug), chart(slug).analysis
    same(recalculated(content, tmp_path), analysis)
    # Ten values changed there move the pattern, and all that is worked out from it.
    values = analysis.series.values.copy()
    draw = random.Random(7)  # noqa: S311 - to be the same each time
    changes = {n: round(values[n] * draw.uniform(0.5, 2), 2) for n in draw.sample(range(56), 10)}
    values[list(changes)] = list(changes.values())
    after = analyse(Series(values, ~analysis.series.included), analysis.settings)
    assert after.segments[0].relatives != analysis.segments[0].relatives or follows == "trend"
    same(recalculated(content, tmp_path, changes), after)


def test_what_is_kept_in_the_file_is_right_before_anybody_recalculates(api: Api) -> None:
    slug = api.add_kpi("Ramp cycle", noisy(1, 30))
    workbook = openpyxl.load_workbook(io.BytesIO(made(slug)), data_only=True)
    sheet = workbook.worksheets[0]
    head, names = table_of(sheet)
    analysis = chart(slug).analysis
    for row, (centre, upper) in enumerate(
        zip(analysis.lines().centre, analysis.lines().upper, strict=True)
    ):
        assert sheet.cell(head + 1 + row, names.index("Average") + 1).value == pytest.approx(centre)
        assert sheet.cell(head + 1 + row, names.index("Upper limit") + 1).value == pytest.approx(
            upper
        )
    assert len(workbook.worksheets[0]._charts) == 2
    assert "How it is computed" in workbook.sheetnames


def test_no_cell_that_was_data_is_a_formula(api: Api) -> None:
    evil = "=HYPERLINK(0)"
    slug = api.add_kpi(evil, [1, 2, 3, 2, 1, 2])
    path = f"/kpis/{slug}"
    names = {"segments": [{"start": None, "name": "=1+1"}]}
    ok(api.send("PATCH", path, names, revision(api, path)))
    aside = {"period": "2026-01-12", "breakdown": None, "reason": "@SUM(1)"}
    ok(api.send("POST", f"{path}/aside", aside, revision(api, path)))
    sheet = openpyxl.load_workbook(io.BytesIO(made(slug, evil))).worksheets[0]
    texts = {
        str(cell.value): cell.data_type
        for row in sheet.iter_rows()
        for cell in row
        if isinstance(cell.value, str) and cell.value[:1] in "=@"
    }
    # openpyxl takes any text that begins with = for a formula; the file itself says which is one.
    xml = _sheet_xml(made(slug, evil))
    assert "HYPERLINK" not in xml.replace("&quot;", "").partition("<f>")[2]
    assert "=HYPERLINK(0)" in xml
    assert "<f>1+1</f>" not in xml
    assert "<f>@SUM" not in xml
    assert texts


def _sheet_xml(content: bytes) -> str:
    from zipfile import ZipFile  # noqa: PLC0415 - only here

    return ZipFile(io.BytesIO(content)).read("xl/worksheets/sheet1.xml").decode()


def test_a_workbook_has_bounds_and_names_of_its_own(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    slug = api.add_kpi("Ramp cycle", [1, 2, 3, 2, 1, 2])
    one = chart(slug)
    names = ["A/B: [x]*?", "A B   x", "History", "=1", "n" * 60, "n" * 60]
    content = as_workbook("x", [(name, one) for name in names], Progress())
    sheets = openpyxl.load_workbook(io.BytesIO(content)).sheetnames
    assert len(set(map(str.lower, sheets))) == len(names) + 1
    monkeypatch.setattr(book, "MOST_ROWS", 5)
    with pytest.raises(RefusalError, match="more than a workbook holds"):
        made(slug)


def test_a_workbook_that_comes_back_is_the_values_it_was_made_of(api: Api) -> None:
    slug = api.add_kpi("Ramp seals", [20.0, 21.5, 19, 22, 48, 20.5, 21, 19.5, 22.5, 20, 21, 22])
    sent = api.upload(made(slug), slug, name="book.xlsx").json()
    body: dict[str, Any] = {"mapping": {}, "into": slug, "shown": None}
    read = ok(api.send("POST", f"/uploads/{sent['id']}/read", body))
    assert [kpi["key"] for kpi in read["kpis"]] == ["Value"]
    assert read["problems"] == []
    counts = read["difference"]["counts"]
    assert counts == {"new": 0, "changed": 0, "same": 12, "missing": 0, "typed": 0}
