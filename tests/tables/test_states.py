"""Tables of states of the world: the days, or spans of days, in which something held."""

from datetime import date

import pytest

from fluctus.tables.grid import TableError
from fluctus.tables.state_table import read_states


def spans(table: str) -> list[tuple[str, str, str]]:
    read = read_states(table.encode(), "Gales")
    return [(event.title, str(event.first), str(event.last)) for event in read.events]


def test_days_that_follow_each_other_are_one_span() -> None:
    table = "Day,State\n2026-01-03,Gale\n2026-01-05,Gale\n2026-01-04,Gale\n2026-01-09,Gale\n"
    assert spans(table) == [
        ("Gale", "2026-01-03", "2026-01-05"),
        ("Gale", "2026-01-09", "2026-01-09"),
    ]


def test_spans_of_several_states_may_lie_over_each_other() -> None:
    table = (
        "From;Until;What\n5 Jan 2026;9 Jan 2026;Strike\n7 Jan 2026;8 Jan 2026;Gale\n"
        "20 Jan 2026;;Gale\n"
    )
    assert spans(table) == [
        ("Strike", "2026-01-05", "2026-01-09"),
        ("Gale", "2026-01-07", "2026-01-08"),
        ("Gale", "2026-01-20", "2026-01-20"),
    ]


def test_a_bare_list_of_days_is_of_one_state_and_last_days_may_come_first() -> None:
    assert spans("2026-02-01\n2026-02-02\n") == [("Gales", "2026-02-01", "2026-02-02")]
    assert spans("End,Start\n2026-02-05,2026-02-01\n") == [("Gales", "2026-02-01", "2026-02-05")]


def test_what_is_no_span_is_told_by_its_line() -> None:
    table = (
        "From,To,State\n2026-01-09,2026-01-05,Gale\n2026-02-01,2026-02-04,Gale\n"
        "2026-02-03,2026-02-08,Gale\nsoon,2026-02-09,Gale\n2026-03-01,2026-03-02,Gale\n"
    )
    read = read_states(table.encode(), "Gales")
    assert [(part.line, part.detail) for part in read.broken] == [
        (2, "It ends on 2026-01-05, before it begins on 2026-01-09."),
        (4, "It overlaps Gale of line 3."),
        (5, "This row has no date."),
    ]
    assert [event.first for event in read.events] == [date(2026, 2, 1), date(2026, 3, 1)]


@pytest.mark.parametrize("table", ["Name,Score\nAinsey,4\nHolmsand,5\n", "3/4/2026\n5/6/2026\n"])
def test_a_table_without_days_or_with_days_of_two_meanings_is_refused(table: str) -> None:
    with pytest.raises(TableError):
        read_states(table.encode(), "Gales")
