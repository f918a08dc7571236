"""Lines, bands, target ranges, the axis and selections: kept with a chart, and computed with it."""

import statistics
from datetime import date, timedelta
from typing import Any

import pytest

from fluctus.kpis.lines import MOST_LINES
from fluctus.kpis.models import Kpi
from tests.conftest import Api, join, ok, revision

VALUES = [21.0, 19.5, 22.5, 18.0, 19.5, 20.0, 23.0, 17.5, 19.0, 21.5, 20.5, 18.5]
MEAN = statistics.fmean(VALUES)


@pytest.fixture
def kpi(api: Api) -> str:
    return f"/kpis/{api.add_kpi('Ramp cycle', VALUES, unit='s')}"


def change(api: Api, path: str, **settings: Any) -> Any:
    return api.send("PATCH", path, settings, revision=revision(api, path))


def line(key: str, made: str, **changes: Any) -> dict[str, Any]:
    return {"key": key, "made": made} | changes


def lines_of(api: Api, path: str, **query: Any) -> dict[str, Any]:
    body = ok(api.get(f"{path}/analysis", **query))
    return {drawn["key"]: drawn for drawn in body["lines"]}


def test_a_line_says_how_it_is_made_and_follows_the_dates_and_the_grain(api: Api, kpi: str) -> None:
    ok(change(api, kpi, lines=[line("a", "mean", factor=1.25), line("b", "maximum")]))
    drawn = lines_of(api, kpi)
    assert drawn["a"]["level"] == pytest.approx(MEAN * 1.25)
    assert (drawn["a"]["says"], drawn["a"]["over"]) == (
        "mean \N{MULTIPLICATION SIGN} 1.25",
        "of the 12 weeks shown",
    )
    few = lines_of(api, kpi, first="2026-01-26", last="2026-02-09")
    assert few["a"]["level"] == pytest.approx(statistics.fmean(VALUES[3:6]) * 1.25)
    assert few["a"]["over"] == "of the 3 weeks shown"
    by_month = lines_of(api, kpi, by="month")
    assert by_month["b"]["level"] == pytest.approx(statistics.fmean(VALUES[:4]))
    # The process average stays what it is, whatever is shown.
    narrow = ok(api.get(f"{kpi}/analysis", first="2026-01-26", last="2026-02-09"))
    assert narrow["segments"][0]["average"] == pytest.approx(MEAN)


def test_values_beyond_a_line_are_marked_each_by_its_own_value(api: Api, kpi: str) -> None:
    lines = [
        line("a", "mean", marks="above"),
        line("b", "percentile", number=25, marks="below"),
        line("c", "constant", number=0.0, marks="above", hidden=True),
    ]
    ok(change(api, kpi, lines=lines))
    drawn = lines_of(api, kpi)
    assert drawn["a"]["beyond"] == [n for n, value in enumerate(VALUES) if value > MEAN]
    quarter = statistics.quantiles(VALUES, n=4, method="inclusive")[0]
    assert drawn["b"]["beyond"] == [n for n, value in enumerate(VALUES) if value < quarter]
    assert drawn["c"]["beyond"] == []


def test_averages_over_time_a_trend_and_steps(api: Api, kpi: str) -> None:
    ok(
        change(
            api,
            kpi,
            lines=[
                line("four", "moving_average", length=4),
                line("long", "moving_average", length=40),
                line("days", "moving_average", length=28, per="day"),
                line("line", "trend"),
                line("spread", "rolling_band", length=3, deviations=1.5),
                line("month", "coarser_mean", per="month"),
                line("week", "coarser_mean", per="week"),
            ],
        )
    )
    drawn = lines_of(api, kpi)
    four = [None] * 3 + [statistics.fmean(VALUES[n - 3 : n + 1]) for n in range(3, 12)]
    assert drawn["four"]["course"] == pytest.approx(four)
    assert drawn["four"]["note"] == "It begins on 26 Jan, once there are 4 weeks."
    # Four weeks of seven days each, by their length.
    assert drawn["days"]["course"] == pytest.approx(four)
    assert drawn["long"]["level"] is None
    assert drawn["long"]["note"].startswith("It takes 40 weeks; there are 12 weeks.")
    last = VALUES[-3:]
    half = 1.5 * statistics.stdev(last)
    assert drawn["spread"]["high"][-1] == pytest.approx(statistics.fmean(last) + half)
    assert "no set of limits" in drawn["spread"]["note"]
    slope, start = statistics.linear_regression(range(12), VALUES)
    assert drawn["line"]["course"][11] == pytest.approx(start + 11 * slope)
    assert "R² " in drawn["line"]["says"]
    assert drawn["month"]["course"][:5] == pytest.approx(
        [statistics.fmean(VALUES[:4])] * 4 + [statistics.fmean(VALUES[4:8])]
    )
    assert drawn["week"]["note"] == "By week there is no mean of a week: choose a longer one."
    assert drawn["week"]["course"] is None


def test_a_year_and_a_segment_before_lie_behind_the_values(api: Api) -> None:
    days = [date(2024, 2, 26) + timedelta(days=n) for n in range(400)]
    rows = [f"{day},{n % 17}" for n, day in enumerate(days)]
    body = ok(api.bring_in("\n".join(["Day,Delay (min)", *rows]), {"name": "Delay"}, grain="day"))
    path = f"/kpis/{body['parts'][0]['slug']}"
    lines = [line("year", "year_before"), line("segment", "segment_before")]
    segments = [{"start": None}, {"start": str(days[390])}]
    ok(change(api, path, lines=lines, segments=segments))
    drawn = lines_of(api, path, first=str(days[360]))
    by_day = {day: float(n % 17) for n, day in enumerate(days)}
    expected = [by_day.get(day.replace(year=day.year - 1)) for day in days[360:]]
    assert drawn["year"]["course"] == expected
    assert drawn["year"]["differences"][-1] == by_day[days[-1]] - (expected[-1] or 0)
    assert drawn["segment"]["course"][30:] == [float(n) for n in range(10)]
    assert drawn["segment"]["course"][:30] == [None] * 30


def test_names_and_levels_that_say_something_else_are_questioned(api: Api, kpi: str) -> None:
    body = ok(
        api.send(
            "POST",
            f"{kpi}/preview",
            {
                "lines": [
                    line("a", "mean", name="Median"),
                    line("b", "constant", number=200.0),
                    line("c", "constant", number=22.0),
                ]
            },
        )
    )
    named, far, near = body["lines"]
    assert named["note"] == "The name says median; the line is mean."
    assert far["note"].replace("\xa0", " ") == ("9 times the highest value. Did you mean 20.0 s?")
    assert far["instead"] == 20
    assert (near["note"], near["instead"]) == ("", None)
    assert lines_of(api, kpi) == {}


@pytest.mark.parametrize(
    ("settings", "field", "says"),
    [
        ({"lines": [line("a", "percentile", number=140)]}, "lines.0.number", "0 to 100"),
        ({"lines": [line("a", "mean", factor="twice")]}, "lines.0.factor", "valid number"),
        ({"lines": [line("a", "mean", factor=0)]}, "lines.0.factor", "leaves nothing"),
        ({"lines": [line("a", "moving_average", length=0)]}, "lines.0.length", "1"),
        ({"lines": [line(str(n), "mean") for n in range(40)]}, "lines", "40 lines"),
        ({"lines": [line("a", "mean"), line("a", "median")]}, "lines", "same key"),
        ({"axis_low": 30.0, "axis_high": 20.0}, "axis_high", "ends below"),
        ({"target": 30.0, "target_high": 20.0}, "target_high", "ends below"),
        ({"target": None, "target_high": 20.0}, "target", "no low side"),
    ],
)
def test_what_cannot_be_drawn_is_refused_at_its_field(
    api: Api, kpi: str, settings: dict[str, Any], field: str, says: str
) -> None:
    answer = change(api, kpi, **settings)
    assert answer.status_code in (400, 422), answer.content
    (issue, *_) = answer.json()["issues"]
    assert issue["field"] == field
    assert says in issue["detail"]
    assert revision(api, kpi) == 1
    assert MOST_LINES < 40


def test_lines_are_in_the_history_and_in_the_file(api: Api, kpi: str) -> None:
    lines = [line("a", "mean", name="=Alert", factor=1.25), line("b", "trend", hidden=True)]
    bands = [{"key": "c", "bottom": "b", "top": "a", "name": "Watch"}]
    body = ok(change(api, kpi, lines=lines, bands=bands))
    assert body["history"]["undo"] == "Added the band Watch"
    assert body["bands"][0]["says"].startswith("between trend line")
    header, first, *_ = ok_text(api.get(f"{kpi}/analysis.csv"))
    assert header.endswith(",'=Alert: mean \N{MULTIPLICATION SIGN} 1.25")
    assert float(first.rsplit(",", 1)[1]) == pytest.approx(MEAN * 1.25)
    back = ok(api.send("POST", f"{kpi}/undo", revision=2))
    assert (back["lines"], back["bands"]) == ([], [])
    again = ok(api.send("POST", f"{kpi}/redo", revision=3))
    assert [drawn["name"] for drawn in again["lines"]] == ["=Alert", ""]
    assert Kpi.objects.get().lines[0]["factor"] == 1.25


def ok_text(answer: Any) -> list[str]:
    assert answer.status_code == 200
    return list(answer.content.decode().splitlines())


def test_a_target_range_is_met_inside_it(api: Api, kpi: str) -> None:
    body = ok(change(api, kpi, target=18.0, target_high=21.0))
    outside = [n for n, value in enumerate(VALUES) if not 18 <= value <= 21]
    assert body["off_target"] == outside
    assert "the target of 18.0 to 21.0" in body["sentence"]["detail"].replace("\xa0", " ")
    said = ok(api.get(f"{kpi}/summary", spans="2026-01-05/2026-03-23"))
    met = next(row for row in said["rows"] if row["name"] == "Meets target")
    assert met["texts"] == [f"{round(100 * (12 - len(outside)) / 12)}%"]


def test_a_target_changes_from_days_on(api: Api, kpi: str) -> None:
    steps = [{"day": "2026-02-09", "level": 18.0, "high": 20.0}, {"day": "2026-01-21", "level": 19}]
    body = ok(change(api, kpi, direction="lower", target=22.0, target_steps=steps))
    assert body["history"]["undo"].startswith("Changed")
    assert body["targets"] == [22, 22, 22, 19, 19, *[18] * 7]
    assert body["targets_high"] == [None] * 5 + [20] * 7
    wanted = [(None, 22.0)] * 3 + [(None, 19.0)] * 2 + [(18.0, 20.0)] * 7
    missed = [
        n
        for n, (value, (low, high)) in enumerate(zip(VALUES, wanted, strict=True))
        if value > high or (low is not None and value < low)
    ]
    assert body["off_target"] == missed
    assert (body["target_now"], body["target_high_now"]) == (18, 20)
    assert [step["day"] for step in body["target_steps"]] == ["2026-01-21", "2026-02-09"]
    for wrong in ([steps[0], steps[0]], [steps[0] | {"high": 17}]):
        assert change(api, kpi, target_steps=wrong).status_code == 400


def test_targets_that_come_as_ranges_are_met_each_inside_its_own(api: Api) -> None:
    rows = [
        "Week,Ramp (s),Target low,Target high",
        "2026-01-05,10,8,12",
        "2026-01-12,13,8,12",
        "2026-01-19,13,8,14",
        "2026-01-26,7,8,14",
    ]
    body = ok(api.bring_in("\n".join(rows), {"name": "Ramp"}))
    path = f"/kpis/{body['parts'][0]['slug']}"
    chart = ok(api.get(f"{path}/analysis"))
    assert chart["off_target"] == [1, 3]
    assert (chart["target_now"], chart["target_high_now"]) == (8, 14)
    assert chart["targets_high"] == [12, 12, 14, 14]


def test_a_fixed_axis_tells_what_it_leaves_out(api: Api, kpi: str) -> None:
    body = ok(change(api, kpi, axis_low=18.0, axis_high=22.0))
    axis = body["axis"]
    assert (axis["below"], axis["above"]) == (1, 2)
    assert axis["note"] == "The axis is fixed: 2 above and 1 below it, 25% of the values shown."
    edits = [{"period": "2026-03-30", "value": 40.0, "seen": None}]
    ok(api.send("POST", f"{kpi}/values", {"edits": edits}))
    assert ok(api.get(f"{kpi}/analysis"))["axis"]["above"] == 3


def test_a_selection_is_summarised_beside_the_rest(api: Api, kpi: str) -> None:
    span = "2026-01-26/2026-02-23"
    body = ok(api.get(f"{kpi}/summary", spans=span))
    assert [column["name"] for column in body["columns"]] == ["26 Jan to 23 Feb", "The rest"]
    inside = VALUES[3:8]
    heading = body["columns"][0]["heading"].replace("\xa0", " ")
    # Times are no amounts, and a sum of them is a sum of nothing.
    assert heading == f"5 weeks, mean {statistics.fmean(inside):.1f} s"
    rows = {
        row["name"]: [text.replace("\xa0", " ") for text in row["texts"]] for row in body["rows"]
    }
    assert rows["Values"] == ["5", "7"]
    assert rows["Median"][0] == f"{statistics.median(inside):.1f} s"
    assert rows["Change"][0] == "\N{MINUS SIGN}0.5 s"
    assert "Meets target" not in rows
    assert "Total" not in rows
    # Of all twelve placements of five weeks in a row, around the dates.
    means = [statistics.fmean([VALUES[(at + n) % 12] for n in range(5)]) for at in range(12)]
    rests = [(sum(VALUES) - 5 * mean) / 7 for mean in means]
    found = abs(means[3] - rests[3])
    large = sum(abs(a - b) >= found - 1e-9 for a, b in zip(means, rests, strict=True))
    assert f"comes in {large} of 12 placements" in body["chance"][0]
    for wrong, said in (("2026-02-23/2026-01-26", "before it begins"), ("soon/later", "a period")):
        refused = api.get(f"{kpi}/summary", spans=wrong)
        assert refused.status_code == 422
        assert said in refused.json()["issues"][0]["detail"]
    stranger = Api(join("rory", "elsewhere"), "elsewhere")
    assert stranger.get(f"{kpi}/summary", spans=span).status_code == 404


def test_all_dates_come_small_where_only_some_are_shown(api: Api, kpi: str) -> None:
    assert ok(api.get(f"{kpi}/analysis"))["strip"] is None
    strip = ok(api.get(f"{kpi}/analysis", first="2026-01-26"))["strip"]
    assert strip["value"] == VALUES


def test_a_sum_is_on_a_scale_of_its_own_and_grows_to_what_it_says(api: Api, kpi: str) -> None:
    ok(change(api, kpi, lines=[line("a", "sum"), line("b", "sum", factor=0.1)]))
    drawn = lines_of(api, kpi, first="2026-01-26")
    grown = [sum(VALUES[3 : n + 1]) for n in range(3, 12)]
    assert drawn["a"]["other_scale"]
    assert drawn["a"]["course"] == pytest.approx(grown)
    assert drawn["a"]["level"] == pytest.approx(grown[-1])
    assert not drawn["b"]["other_scale"]


def test_views_are_kept_by_name(api: Api, kpi: str) -> None:
    view = {"name": "Board", "hidden": ["limits"], "by": "month", "first": "2026-01-26"}
    body = ok(change(api, kpi, views=[view]))
    assert body["history"]["undo"] == "Kept the view Board"
    assert body["views"] == [{"breakdown": None, "last": None} | view]
    twice = change(api, kpi, views=[view, view | {"name": "board"}])
    assert twice.status_code == 400
    assert "of this name already" in twice.json()["issues"][0]["detail"]
    assert ok(change(api, kpi, views=[]))["history"]["undo"] == "Removed the view Board"
