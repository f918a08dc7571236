"""Workbooks written row by row, so that a long one takes no more memory than a short one."""

import math
from collections.abc import Sequence
from io import BytesIO
from typing import Any

from xlsxwriter import Workbook
from xlsxwriter.worksheet import Worksheet

from fluctus.core import Analysis, Centre, Spread
from fluctus.core.analysis import FACTORS, constants
from fluctus.http.refusals import Issue, RefusalError
from fluctus.jobs.life import Progress
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.reports.workbook import columns as at
from fluctus.reports.workbook.columns import Layout
from fluctus.reports.workbook.how import write_how
from fluctus.reports.workbook.names import sheet_name
from fluctus.reports.workbook.patterns import SegmentPattern, drawn_by
from fluctus.reports.workbook.rules import Places, heading, rule_columns

MOST_ROWS = 200_000
"""Values in one workbook: more make a file that other programs open for minutes."""
CHART_ROWS = 30_000
"""Points that other programs draw in one line at most, or nearly so."""
CHART_HEIGHT = 21
"""Rows that a chart takes, with the space below it."""


def as_workbook(title: str, charts: Sequence[tuple[str, Chart]], progress: Progress) -> bytes:
    """Write a workbook with a sheet for each chart, by the name of its KPI.

    Raises RefusalError for more values than a workbook holds.
    """
    rows = sum(len(chart.observations) for _, chart in charts)
    if rows > MOST_ROWS:
        raise RefusalError(
            "This is more than a workbook holds.",
            Issue(
                f"It would have {rows:,} rows; {MOST_ROWS:,} fit.",
                "Choose fewer KPIs, or take a data package.",
            ),
        )
    made = BytesIO()
    book = Workbook(
        made,
        {
            "constant_memory": True,
            "strings_to_formulas": False,
            "strings_to_urls": False,
            "nan_inf_to_errors": True,
            "default_date_format": "yyyy-mm-dd",
        },
    )
    book.set_properties({"title": title, "comments": "Made by Fluctus"})
    names: set[str] = set()
    for number, (name, chart) in enumerate(charts):
        progress(f"Writing {name}", 0.95 * number / len(charts))
        _Sheet(book, sheet_name(name, names), chart).write()
    write_how(book, [chart for _, chart in charts], sheet_name("How it is computed", names))
    book.close()
    return made.getvalue()


class _PlainSheet(Worksheet):  # type: ignore[misc]
    """A sheet whose formulas are written as they are.

    Otherwise each is searched for some thirty functions of newer programs, none of which is
    used here; that takes two thirds of the time of a long workbook.
    """

    def _prepare_formula(self, formula: str, expand_future_functions: bool = False) -> str:
        return formula.removeprefix("=")


class _Sheet:
    """The sheet of one chart."""

    def __init__(self, book: Workbook, name: str, chart: Chart) -> None:
        self._book, self._name, self._chart = book, name, chart
        self._sheet: Worksheet = book.add_worksheet(name, worksheet_class=_PlainSheet)
        self._analysis: Analysis = chart.analysis
        self._patterns = [
            SegmentPattern.of(self._analysis, number)
            for number in range(len(self._analysis.segments))
        ]
        seasons = tuple(pattern.length if pattern else 0 for pattern in self._patterns)
        self._layout = Layout(len(seasons), len(chart.observations), seasons)
        self._bold = book.add_format({"bold": True})
        self._wrapped = book.add_format({"bold": True, "text_wrap": True, "valign": "top"})
        hours = chart.observations.grain is Grain.HOUR
        self._date = book.add_format({"num_format": "yyyy-mm-dd hh:mm" if hours else "yyyy-mm-dd"})

    def write(self) -> None:
        """Write it from top to bottom."""
        self._write_head()
        self._write_segments()
        self._write_seasons()
        self._write_values()
        self._draw()

    def _write_head(self) -> None:
        words, settings = self._chart.words, self._analysis.settings
        unit = words.numbers.unit
        self._sheet.write_string(0, 0, words.name + (f", {unit}" if unit else ""), self._bold)
        self._sheet.write_string(
            1, 0, "Change a value below: everything else on this sheet is computed from it."
        )
        for column, name, bound in ((0, "Floor", settings.floor), (2, "Ceiling", settings.ceiling)):
            self._sheet.write_string(2, column, name)
            if bound is not None:
                self._sheet.write_number(2, column + 1, bound)

    def _write_segments(self) -> None:
        layout, row = self._layout, self._layout.first_segment - 1
        for column, name in enumerate(at.SEGMENTS):
            self._sheet.write_string(row, column, name, self._wrapped)
        for number, segment in enumerate(self._analysis.segments):
            row = layout.first_segment + number
            settings = self._analysis.settings.segments[number]
            first, stop = settings.window or (segment.start, segment.stop)
            name = self._chart.state.segments[number].name or f"Segment {number + 1}"
            self._sheet.write_string(row, at.S_NAME, name)
            self._sheet.write_number(row, at.S_FIRST, layout.row(first) + 1)
            self._sheet.write_number(row, at.S_LAST, layout.row(stop - 1) + 1)
            formulas = self._segment_formulas(number, first, stop)
            known = [
                segment.n,
                segment.average,
                segment.spread,
                segment.lower,
                segment.upper,
                segment.range_limit,
                segment.sigma,
                int(segment.lower_clipped),
                int(segment.upper_clipped),
            ]
            for offset, (formula, value) in enumerate(zip(formulas, known, strict=True)):
                self._sheet.write_formula(
                    row, at.S_COUNT + offset, formula, None, "" if value is None else value
                )

            pattern = self._patterns[number]
            if pattern is not None and segment.trend is not None:
                rise = pattern.rise(layout)
                self._sheet.write_formula(row, at.S_RISE, rise, None, segment.trend.slope)

    def _write_seasons(self) -> None:
        """Write the relatives of each place of the seasons that segments follow."""
        layout, seasonal = self._layout, [pattern for pattern in self._patterns if pattern]
        seasonal = [pattern for pattern in seasonal if pattern.length]
        if not seasonal:
            return
        for column, name in enumerate(at.SEASON):
            head = layout.season_row(seasonal[0].number, 0) - 1
            self._sheet.write_string(head, column, name, self._wrapped)
        values = self._analysis.series.values
        for pattern in seasonal:
            segment = self._analysis.segments[pattern.number]
            ratios = segment.relatives_are_ratios
            everything = float(values[pattern.members].mean())
            for slot, relative in enumerate(segment.relatives):
                row = layout.season_row(pattern.number, slot)
                self._sheet.write_number(row, at.N_SEGMENT, pattern.number + 1)
                self._sheet.write_number(row, at.N_PLACE, slot + 1)
                members = pattern.members[pattern.places[pattern.members] == slot]
                mean = float(values[members].mean())
                known = [
                    mean,
                    mean / everything if everything else "",
                    relative if ratios else 1,
                    0 if ratios else relative,
                ]
                cells = pattern.of_place(slot, layout)
                for offset, (formula, value) in enumerate(zip(cells, known, strict=True)):
                    self._sheet.write_formula(row, at.N_MEAN + offset, formula, None, value)

    def _segment_formulas(self, number: int, first: int, stop: int) -> list[str]:
        """Return the numbers of a segment as formulas, from the column of counts on."""
        layout = self._layout
        settings = self._analysis.settings.segments[number]
        to_limits, to_range = FACTORS[settings.spread]
        values = layout.stretch(at.JUDGED, first, stop - 1)
        # A range belongs to the window when both of its values do.
        ranges = layout.stretch(at.RANGE, min(first + 1, stop - 1), stop - 1)
        centre = "MEDIAN" if settings.centre is Centre.MEDIAN else "AVERAGE"
        middle = "MEDIAN" if settings.spread is Spread.MEDIAN_RANGE else "AVERAGE"
        count, average, spread = (
            layout.of_segment(number, column) for column in (at.S_COUNT, at.S_AVERAGE, at.S_SPREAD)
        )
        least = constants.MIN_VALUES_FOR_LIMITS
        holds = self._analysis.settings.holds
        enough = (
            "FALSE" if holds or stop - first < 2 else (f"AND({count}>={least},COUNT({ranges})>0)")
        )
        low, high = f"{average}-{to_limits}*{spread}", f"{average}+{to_limits}*{spread}"
        is_low = f"AND(ISNUMBER({spread}),ISNUMBER({at.FLOOR}))"
        is_high = f"AND(ISNUMBER({spread}),ISNUMBER({at.CEILING}))"
        return [
            f"=COUNT({values})",
            f'=IF({count}>0,{centre}({values}),"")',
            f'=IF({enough},{middle}({ranges}),"")',
            f'=IF(ISNUMBER({spread}),IF(ISNUMBER({at.FLOOR}),MAX({low},{at.FLOOR}),{low}),"")',
            f'=IF(ISNUMBER({spread}),IF(ISNUMBER({at.CEILING}),MIN({high},{at.CEILING}),{high}),"")',
            f'=IF(ISNUMBER({spread}),{to_range}*{spread},"")',
            f'=IF(ISNUMBER({spread}),{to_limits}*{spread}/3,"")',
            f"=IF({is_low},IF({low}<{at.FLOOR},1,0),0)",
            f"=IF({is_high},IF({high}>{at.CEILING},1,0),0)",
        ]

    def _write_values(self) -> None:
        layout, analysis, data = self._layout, self._analysis, self._chart.observations
        places = Places.of(analysis)
        tests = rule_columns(analysis, places, layout)
        head = layout.first_value - 1
        for column, name in enumerate(at.TABLE):
            self._sheet.write_string(head, column, name, self._wrapped)
        column, begins = at.RULES, []
        for test in tests:
            begins.append(column)
            for what in test.heads:
                self._sheet.write_string(head, column, f"{heading(test)}: {what}", self._wrapped)
                if what != "flagged":
                    self._sheet.set_column(column, column, None, None, {"hidden": True})
                column += 1
        self._sheet.set_column(at.PERIOD, at.PERIOD, 17)
        lines = analysis.lines()
        scale, amount = drawn_by(analysis) or (None, None)
        flagged = [set(analysis.signals.flagged(test.rule).tolist()) for test in tests]
        for position in range(len(data)):
            row, number = layout.row(position), places.segment[position]
            self._write_period(row, position)
            self._write_value(row, position)
            included = bool(analysis.series.included[position])
            if not included:
                why = data.reasons.get(position) or "takes no part"
                self._sheet.write_string(row, at.ASIDE, why)
            self._sheet.write_number(row, at.SEGMENT, number + 1)
            followed = self._patterns[number]
            if followed is not None and scale is not None and amount is not None:
                drawn = scale[position], amount[position]
                self._write_pattern(row, position, followed, drawn, included=included)
            pattern = followed is not None
            cells = self._value_formulas(position, number, included=included, pattern=pattern)
            known = [
                analysis.adjusted[position] if included else math.nan,
                self._range(position),
                lines.centre[position],
                lines.lower[position],
                lines.upper[position],
                analysis.segments[number].range_limit,
            ]
            for offset, (formula, value) in enumerate(zip(cells, known, strict=True)):
                self._formula(row, at.JUDGED + offset, formula, value)
            for test, begin, flags in zip(tests, begins, flagged, strict=True):
                *helpers, flag = places.formulas(test, layout, begin, position)
                for offset, formula in enumerate(helpers):
                    self._formula(row, begin + offset, formula, 0)
                self._formula(row, begin + len(helpers), flag, int(position in flags))

    def _write_value(self, row: int, position: int) -> None:
        """Write a value; of a ratio as a formula of both its numbers, where these are known."""
        data = self._chart.observations
        value = float(data.values[position])
        above, below = (
            math.nan if side is None else float(side[position])
            for side in (data.numerators, data.denominators)
        )
        if math.isnan(above) or math.isnan(below) or not below:
            self._sheet.write_number(row, at.VALUE, value)
            return
        self._sheet.write_number(row, at.NUMERATOR, above)
        self._sheet.write_number(row, at.DENOMINATOR, below)
        cells = [self._layout.cell(column, position) for column in (at.NUMERATOR, at.DENOMINATOR)]
        times = f"{data.times:.15g}*" if data.times != 1.0 else ""
        self._formula(row, at.VALUE, f"={times}{cells[0]}/{cells[1]}", value)

    def _write_pattern(
        self,
        row: int,
        position: int,
        pattern: SegmentPattern,
        drawn: tuple[float, float],
        *,
        included: bool,
    ) -> None:
        """Write what the limits follow at a value, and what that is worked out from."""
        formulas = pattern.at_position(position, self._layout)
        for column, formula, known in zip((at.FACTOR, at.AMOUNT), formulas, drawn, strict=True):
            self._formula(row, column, formula, known)
        if included:
            value = float(self._chart.observations.values[position])
            self._formula(row, at.TAKEN, f"={self._layout.cell(at.VALUE, position)}", value)
        if pattern.length:
            self._sheet.write_number(row, at.PLACE, int(pattern.places[position]) + 1)
        else:
            distance = float(pattern.distances[position - pattern.start])
            self._sheet.write_number(row, at.DISTANCE, distance)

    def _range(self, position: int) -> float:
        """Return a moving range as the sheet has it: where both of its values take part."""
        included = self._analysis.series.included
        if position == 0 or not (included[position] and included[position - 1]):
            return math.nan
        return float(self._analysis.moving_ranges[position])

    def _value_formulas(
        self, position: int, number: int, *, included: bool, pattern: bool
    ) -> list[str]:
        layout = self._layout
        value = layout.cell(at.VALUE, position)
        factor, amount = (layout.cell(column, position) for column in (at.FACTOR, at.AMOUNT))
        judged = f"=({value}-{amount})/{factor}" if pattern else f"={value}"
        moving = ""
        if included and position and self._analysis.series.included[position - 1]:
            here, before = (layout.cell(at.JUDGED, p) for p in (position, position - 1))
            same = (layout.cell(at.SEGMENT, p) for p in (position, position - 1))
            moving = f'=IF({"=".join(same)},ABS({here}-{before}),"")'

        def drawn(column: int) -> str:
            level = layout.of_segment(number, column)
            if not pattern:
                return f'=IF(ISNUMBER({level}),{level},"")'
            return f'=IF(ISNUMBER({level}),{level}*{factor}+{amount},"")'

        low, high = drawn(at.S_LOWER), drawn(at.S_UPPER)
        if pattern:
            # A level that follows a pattern is held at the bounds where it is drawn.
            low, high = (
                self._raw(number, "-", factor, amount),
                self._raw(number, "+", factor, amount),
            )
        limit = layout.of_segment(number, at.S_RANGE)
        return [
            judged if included else "",
            moving,
            drawn(at.S_AVERAGE),
            low,
            high,
            f'=IF(ISNUMBER({limit}),{limit},"")',
        ]

    def _raw(self, number: int, sign: str, factor: str, amount: str) -> str:
        layout = self._layout
        average, sigma = (layout.of_segment(number, c) for c in (at.S_AVERAGE, at.S_SIGMA))
        level = f"({average}{sign}3*{sigma})*{factor}+{amount}"
        bound, hold = (at.FLOOR, "MAX") if sign == "-" else (at.CEILING, "MIN")
        held = f"IF(ISNUMBER({bound}),{hold}({level},{bound}),{level})"
        return f'=IF(ISNUMBER({sigma}),{held},"")'

    def _formula(self, row: int, column: int, formula: str, value: float | None) -> None:
        if formula:
            known = "" if value is None or math.isnan(value) else float(value)
            self._sheet.write_formula(row, column, formula, None, known)

    def _write_period(self, row: int, position: int) -> None:
        moment = self._chart.observations.period(position)
        try:
            self._sheet.write_datetime(row, at.PERIOD, moment.replace(tzinfo=None), self._date)
        except ValueError:
            # Before 1900 a workbook knows no dates.
            self._sheet.write_string(row, at.PERIOD, self._chart.observations.text(position))

    def _draw(self) -> None:
        """Draw the X chart and the chart of moving ranges beside the table, from its cells."""
        count = self._layout.values
        if not count:
            return
        first, last = self._layout.row(max(0, count - CHART_ROWS)), self._layout.row(count - 1)
        x_chart = [
            (at.VALUE, "#17262c", "solid", True),
            (at.AVERAGE, "#1f6f7a", "solid", False),
            (at.LOWER, "#1f6f7a", "dash", False),
            (at.UPPER, "#1f6f7a", "dash", False),
        ]
        ranges = [
            (at.RANGE, "#17262c", "solid", True),
            (at.RANGE_LIMIT, "#1f6f7a", "dash", False),
        ]
        for number, (title, lines) in enumerate(
            ((self._chart.words.name, x_chart), ("Moving ranges", ranges))
        ):
            chart: Any = self._book.add_chart({"type": "line"})
            for column, color, dash, marked in lines:
                chart.add_series(
                    {
                        "name": [self._name, self._layout.first_value - 1, column],
                        "categories": [self._name, first, at.PERIOD, last, at.PERIOD],
                        "values": [self._name, first, column, last, column],
                        "line": {"color": color, "width": 1.25, "dash_type": dash},
                        "marker": {"type": "circle", "size": 4} if marked else {"type": "none"},
                    }
                )
            chart.set_title({"name": title, "name_font": {"size": 12}})
            chart.set_legend({"position": "bottom"})
            chart.set_size({"width": 900, "height": 400})
            chart.show_blanks_as("gap")
            self._sheet.insert_chart(4 + CHART_HEIGHT * number, at.RULES + 1, chart)
