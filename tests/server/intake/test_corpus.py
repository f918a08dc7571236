"""Tables as people leave them, each with the values, names and remarks that it must give.

A file of ``corpus`` holds the tables of one kind: ``=== name``, the table, ``--- `` and what it
must give as JSON. Values are in the order of periods, then of breakdowns.
"""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fluctus.http.refusals import RefusalError
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import read
from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import TableError
from tests.server.intake.made import made_of

FOLDER = Path(__file__).parent / "corpus"
ZONE = ZoneInfo("Europe/London")


@dataclass(frozen=True, slots=True)
class Case:
    """A table, and what is to be understood of it."""

    name: str
    table: str
    wanted: dict[str, Any]


def cases() -> Iterator[Case]:
    """Read all tables of the corpus."""
    for path in sorted(FOLDER.glob("*.txt")):
        for text in path.read_text().split("=== ")[1:]:
            name, _, rest = text.partition("\n")
            table, _, wanted = rest.partition("\n--- ")
            yield Case(f"{path.stem}: {name}", table.replace("\\t", "\t"), json.loads(wanted))


CASES = list(cases())


def test_the_corpus_is_of_many_tables() -> None:
    assert len(CASES) >= 250
    different = {(case.table, json.dumps(case.wanted.get("with"))) for case in CASES}
    assert len(different) == len(CASES)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_a_table_is_understood_as_its_owner_means_it(case: Case) -> None:
    wanted = case.wanted
    mapping = Mapping.from_json({"time_zone": ZONE.key} | wanted.get("with", {}))
    if "refused" in wanted:
        with pytest.raises((RefusalError, TableError)) as refused:
            read(open_table(case.table.encode()).grid, mapping)
        issues = getattr(refused.value, "issues", ())
        assert wanted["refused"] in (issues[0].detail if issues else str(refused.value))
        return
    reading = read(open_table(case.table.encode()).grid, mapping)
    problems = [[issue.row, issue.found, issue.detail] for issue in reading.problems]
    told = wanted.get("problems", [])
    assert [one[:2] for one in problems] == [one[:2] for one in told], problems
    assert all(one[2] in str(own[2]) for one, own in zip(told, problems, strict=True))
    if "grain" in wanted:
        assert reading.grain == wanted["grain"]
    if "missing" in wanted:
        assert reading.missing == wanted["missing"]
    if "blocks" in wanted:
        assert len(reading.blocks) == wanted["blocks"]
    assert [kpi.key for kpi in reading.chosen] == list(wanted["kpis"])
    for kpi in reading.chosen:
        own = wanted["kpis"][kpi.key]
        made = made_of(kpi, ZONE)
        for key, value in (own if isinstance(own, dict) else {"values": own}).items():
            assert made[key] == value, (kpi.key, key, made[key])
    says = [step.says for step in reading.table.steps] + [one.asks for one in reading.questions]
    for sentence in wanted.get("says", []):
        assert any(sentence in one for one in says), says
    if "says" not in wanted:
        assert says == []


def outcome(raw: bytes, mapping: Mapping) -> Any:
    """What a table gives: the values of its KPIs, or why it is refused."""
    try:
        reading = read(open_table(raw).grid, mapping)
    except (RefusalError, TableError) as refused:
        return str(refused)
    return {kpi.key: kpi.points.frame["value"].to_list() for kpi in reading.chosen}


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_a_table_gives_the_same_in_another_encoding_and_does_not_break_cut_off(case: Case) -> None:
    mapping = Mapping.from_json({"time_zone": ZONE.key} | case.wanted.get("with", {}))
    plain = outcome(case.table.encode(), mapping)
    for encoding in ("utf-16", "utf-8-sig"):
        assert outcome(case.table.replace("\n", "\r\n").encode(encoding), mapping) == plain
    # Cut off in its last cells, it is read or refused: anything else is raised here.
    for less in (1, 3, 9):
        outcome(case.table[:-less].encode(), mapping)


def test_tables_of_absurd_sizes_are_refused_with_what_to_do() -> None:
    days = [f"2026-01-{day:02}" for day in range(5, 20)]
    wide = "\n".join(",".join([day, *["1"] * 9_999]) for day in ["Day", *days])
    with pytest.raises(TableError, match="10,000 columns; at most 4,000"):
        open_table(wide.encode())
    heading = "How many " * 600
    long = f"Day,{heading}\n" + "\n".join(f"{day},{n}" for n, day in enumerate(days))
    reading = read(open_table(long.encode()).grid, Mapping())
    (kpi,) = reading.chosen
    assert kpi.points.frame["value"].to_list() == [float(n) for n in range(15)]
    errors = "Day,Cars\n" + "\n".join(f"{day},#REF!" for day in days)
    with pytest.raises(RefusalError) as refused:
        read(open_table(errors.encode()).grid, Mapping())
    assert "No column holds numbers" in refused.value.issues[0].detail
