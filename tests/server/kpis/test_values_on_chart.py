"""What the chart knows of each value, beside it; and values that are looked for by it."""

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.kpis.calendar import Calendar, Grain
from fluctus.kpis.observations.missing import missing_before, missing_periods
from tests.conftest import Api

VALUES = [10.0, 11, 9, 10, 12, 10, 11, 9, 10, 30, 11, 10]


@pytest.fixture
def ramp(api: Api) -> str:
    slug = api.add_kpi("Ramp cycle", VALUES, unit="s", direction="lower", target=11.0)
    return f"/kpis/{slug}"


def looked_for(api: Api, path: str, **query: Any) -> Any:
    return api.get(f"{path}/values", **query).json()


def on_chart(api: Api, path: str, **query: Any) -> Any:
    answer = api.get(f"{path}/values/on-chart", **query)
    assert answer.status_code == 200, answer.content
    return answer.json()["values"]


def test_each_value_has_what_its_chart_says(api: Api, ramp: str) -> None:
    chart = api.get(f"{ramp}/analysis").json()
    told = on_chart(api, ramp)
    assert [each["moving_range"] for each in told] == chart["points"]["moving_range"]
    assert [each["met"] for each in told] == [value <= 11 for value in VALUES]
    assert told[9]["mark"] == "outside"
    assert told[9]["says"][0] == chart["signals"][0]["title"]
    assert told[8]["mark"] is None
    assert {each["segment"] for each in told} == {"From 5 Jan"}


def test_values_are_looked_for_by_it_and_by_who_wrote_them(api: Api, ramp: str) -> None:
    marked = looked_for(api, ramp, only="marked")
    # The step down again is a moving range beyond its limit.
    assert [row["value"] for row in marked["values"]] == [30, 11]
    assert [row["value"] for row in looked_for(api, ramp, only="off_target")["values"]] == [12, 30]
    row = marked["values"][0]
    edit = {"period": row["period"], "value": 30, "note": "Gale", "seen": row["version"]}
    assert api.send("POST", f"{ramp}/values", {"edits": [edit]}).status_code == 200
    assert looked_for(api, ramp, only="noted")["values"][0]["note"] == "Gale"
    (writer,) = looked_for(api, ramp)["writers"]
    by = looked_for(api, ramp, by=writer["username"])
    assert by["count"] >= 1
    assert looked_for(api, ramp, by="nobody-at-all")["count"] == 0
    # What is looked for is judged as it stands in the list.
    assert [each["position"] for each in on_chart(api, ramp, only="marked")] == [9, 10]


def test_what_is_set_aside_is_found_and_misses_no_target(api: Api, ramp: str) -> None:
    row = looked_for(api, ramp)["values"][9]
    aside = {"set_aside": True, "reason": "Ramp closed", "value": 30, "seen": row["version"]}
    api.send("POST", f"{ramp}/values", {"edits": [{"period": row["period"], **aside}]})
    assert [each["value"] for each in looked_for(api, ramp, only="aside")["values"]] == [30]
    assert [each["value"] for each in looked_for(api, ramp, only="off_target")["values"]] == [12]
    assert on_chart(api, ramp)[9]["met"] is None


def test_a_missing_week_is_found_and_can_be_filled(api: Api, ramp: str) -> None:
    rows = looked_for(api, ramp)["values"]
    gone = [
        {"period": rows[n]["period"], "remove": True, "seen": rows[n]["version"]} for n in (3, 4)
    ]
    assert api.send("POST", f"{ramp}/values", {"edits": gone}).status_code == 200
    missing = looked_for(api, ramp, only="missing")
    assert [row["period"] for row in missing["values"]] == [rows[3]["period"], rows[4]["period"]]
    assert {(row["value"], row["version"]) for row in missing["values"]} == {(None, None)}
    assert on_chart(api, ramp, only="missing") == [None, None]
    back = {"period": rows[3]["period"], "value": 10, "seen": None}
    assert api.send("POST", f"{ramp}/values", {"edits": [back]}).status_code == 200
    assert looked_for(api, ramp, only="missing")["count"] == 1


def test_an_empty_kpi_and_a_wrong_question(api: Api) -> None:
    path = f"/kpis/{api.add_kpi('Empty', [1.0])}"
    (row,) = looked_for(api, path)["values"]
    gone = {"period": row["period"], "remove": True, "seen": row["version"]}
    assert api.send("POST", f"{path}/values", {"edits": [gone]}).status_code == 200
    for only in ("marked", "off_target", "aside", "noted", "missing"):
        assert looked_for(api, path, only=only)["count"] == 0
    assert on_chart(api, path) == []
    assert api.get(f"{path}/values", only="everything").status_code == 400


ZONES = ("Europe/London", "America/St_Johns", "Pacific/Apia", "Australia/Lord_Howe")


@given(
    st.sampled_from(list(Grain)),
    st.sampled_from(ZONES),
    st.integers(0, 20_000),
    st.lists(st.integers(1, 40), min_size=1, max_size=25),
    st.integers(0, 30),
)
def test_missing_periods_are_those_that_are_counted(
    grain: Grain, zone: str, first: int, steps: Sequence[int], start: int
) -> None:
    calendar = Calendar(ZoneInfo(zone))
    begun = (datetime(1975, 1, 1, tzinfo=UTC) + timedelta(days=first)).timestamp()
    (start_of_first,) = calendar.starts(np.array([begun]), grain)
    period = datetime.fromtimestamp(start_of_first, UTC)
    periods = [period]
    for step in steps:
        periods.append(calendar.following(periods[-1], grain, step))
    instants = np.array([each.timestamp() for each in periods])
    missing = missing_before(instants, grain, calendar)
    count = int(missing.sum())
    every = missing_periods(instants, missing, grain, calendar, 0, count)
    assert len(every) == count
    assert not {each.timestamp() for each in every} & set(instants.tolist())
    assert every == sorted(every)
    assert missing_periods(instants, missing, grain, calendar, start, 7) == every[start : start + 7]
