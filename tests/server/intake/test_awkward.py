"""Small awkward tables, each with what must be understood from it."""

import json
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from fluctus.http.refusals import RefusalError
from fluctus.intake.understanding.mapping import Mapping
from fluctus.intake.understanding.reading import Reading, read
from fluctus.kpis.calendar import Grain, to_text
from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import TableError
from tests.server.intake.made import made_of

FOLDER = Path(__file__).parent / "awkward"
UNDERSTOOD: dict[str, dict[str, Any]] = json.loads((FOLDER / "understood.json").read_text())
ZONE = ZoneInfo("Europe/London")


def test_every_table_has_its_meaning_written_down() -> None:
    names = {path.name for path in FOLDER.iterdir()} - {"understood.json"}
    assert names == set(UNDERSTOOD)


@pytest.mark.parametrize("name", UNDERSTOOD)
def test_an_awkward_table_is_understood(name: str) -> None:
    wanted = UNDERSTOOD[name]
    raw = (FOLDER / name).read_bytes()
    if "refused" in wanted:
        with pytest.raises((RefusalError, TableError)) as refused:
            read(open_table(raw).grid, Mapping())
        issues = getattr(refused.value, "issues", ())
        assert wanted["refused"] in (issues[0].detail if issues else str(refused.value))
        return
    reading = read(open_table(raw).grid, Mapping(time_zone=ZONE.key))
    found = _found(reading)
    assert {key: found[key] for key in wanted if key in found} == {
        key: value for key, value in wanted.items() if key in found
    }
    problems = [(issue.row, issue.found, issue.detail) for issue in reading.problems]
    assert len(problems) == reading.problem_count == len(wanted.get("problems", []))
    for (row, cell, says), (own_row, own_cell, detail) in zip(
        wanted.get("problems", []), problems, strict=True
    ):
        assert (own_row, own_cell) == (row, cell)
        assert says in detail
    assert [kpi.key for kpi in reading.chosen] == list(wanted["kpis"])
    for kpi in reading.chosen:
        own = wanted["kpis"][kpi.key]
        made = made_of(kpi, ZONE)
        made["periods"] = made["periods"][: len(own.get("periods", []))]
        assert {key: made[key] for key in own} == own, kpi.key


def _found(reading: Reading) -> dict[str, Any]:
    return {
        "names": list(reading.table.long.names),
        "layout": reading.mapping.layout,
        "roles": list(reading.mapping.roles.values()),
        "grain": reading.mapping.grain,
        "combine": reading.mapping.combine,
        "left_out": [[row.line, row.why] for row in reading.table.located.left_out],
        "missing": reading.missing,
        "sorted": reading.sorted_here,
        "ambiguous": list(reading.date_styles),
        "undecided": reading.table.marks.undecided,
        "goal": reading.goal,
    }


def test_whole_days_written_as_moments_stay_where_they_are_west_of_greenwich() -> None:
    days = [1767571200 + 86_400 * n for n in range(3)]  # from 5 January 2026, 00:00 UTC
    text = "Timestamp,Stops\n" + "\n".join(f"{day},{n}" for n, day in enumerate(days))
    west = Mapping(time_zone="America/New_York")
    zone = ZoneInfo("America/New_York")

    def periods(table: str) -> list[str]:
        points = read(open_table(table.encode()).grid, west).kpis[0].points.frame["period"]
        return [to_text(datetime.fromtimestamp(at, UTC), Grain.DAY, zone) for at in points]

    assert periods(text) == ["2026-01-05", "2026-01-06", "2026-01-07"]
    # Moments within the days fall on the days of the zone.
    later = text.replace("1767571200", "1767582000")
    assert periods(later)[0] == "2026-01-04"


def test_the_decimal_mark_is_one_choice_for_the_whole_table() -> None:
    table = b"Day;Ramp;Fuel\n2026-01-05;1.234;12,5\n2026-01-06;1.25;13,25\n2026-01-07;3;4,5\n"
    reading = read(open_table(table).grid, Mapping())
    assert reading.mapping.decimal_mark == "comma"
    assert [(issue.row, issue.found) for issue in reading.problems] == [(3, "1.25")]
    point = read(open_table(table).grid, Mapping.from_json({"decimal_mark": "point"}))
    assert {issue.column for issue in point.problems} == {"Fuel"}


def test_a_person_says_where_the_table_begins_and_ends() -> None:
    raw = b"Crew,Ainsey\nOn duty,5\nWeek,Stops\n2026-01-05,2\n2026-01-12,1\nDry dock,9\n"
    found = read(open_table(raw).grid, Mapping(first_line=3, last_line=5))
    assert found.table.long.names == ("Week", "Stops")
    assert found.kpis[0].points.frame["value"].to_list() == [2, 1]
    nameless = read(open_table(raw).grid, Mapping(first_line=4, last_line=5, header_rows=0))
    assert nameless.table.long.names == ("Column 1", "Column 2")
    with pytest.raises(RefusalError) as refused:
        read(open_table(raw).grid, Mapping(first_line=9))
    assert refused.value.issues[0].remedy == "Choose others."


def test_what_is_chosen_is_done() -> None:
    table = open_table((FOLDER / "titles-above-totals-below.csv").read_bytes()).grid
    again = read(table, Mapping(take_in=(9,)))
    assert [issue.found for issue in again.problems] == ["Total"]
    fixed = read(table, Mapping(take_in=(9,), fixes={"9:0": "02.02.2026"}))
    assert fixed.problem_count == 0
    assert fixed.kpis[0].points.frame["value"].to_list()[-1] == 87
    other = read(table, Mapping.from_json({"roles": {"Left behind": "target"}}))
    assert [kpi.key for kpi in other.kpis] == ["Turnaround (min)"]
    assert other.kpis[0].points.frame["target"].to_list() == [11, 9, 12, 8]


def test_values_are_adjusted_and_drops_mean_what_is_chosen() -> None:
    meter = open_table((FOLDER / "running-meter.csv").read_bytes()).grid

    def values(**choice: Any) -> list[float]:
        mapping = Mapping.from_json({"kpis": {"Meter (h)": choice}})
        return read(meter, mapping).kpis[0].points.frame["value"].to_list()

    assert values(drop="negative")[9] == 30 - 18648
    assert values(difference=False)[:2] == [18240, 18285]
    assert values(factor=60.0, offset=-100.0)[0] == 45 * 60 - 100
    ratio = open_table((FOLDER / "ratio-parts.csv").read_bytes()).grid
    mapping = Mapping.from_json(
        {
            "grain": "month",
            "combine": True,
            "kpis": {"On time numerator ratio": {"factor": 100.0}},
        }
    )
    # The sum of the numerators by that of the denominators, not the mean of three ratios.
    assert read(ratio, mapping).kpis[0].points.frame["value"].to_list() == [
        pytest.approx(100 * 373 / 410)
    ]
