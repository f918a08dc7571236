"""The sheet that says how the others compute."""

from collections.abc import Sequence

from xlsxwriter import Workbook

from fluctus.core.analysis import RULES, constants
from fluctus.kpis.chart.analysis.chart import Chart


def write_how(book: Workbook, charts: Sequence[Chart], name: str) -> None:
    """Write the sheet that says how the others compute."""
    sheet = book.add_worksheet(name)
    sheet.set_column(0, 0, 34)
    sheet.set_column(1, 1, 110)
    lines = [
        (
            "Judged value",
            "The value, where it takes part; what is set aside takes no part. Where "
            "limits follow a trend or a season, (value - plus) / times, by the columns Pattern.",
        ),
        (
            "Pattern",
            "Of a trend: plus the rise of the least-squares line, from the middle of the values. "
            "Of a season: times the relative of its place, the mean of its values by the mean of "
            "all, scaled to average 1; differences where a value is zero or below.",
        ),
        ("Moving range", "The difference to the value before, where both take part."),
        ("Average", "The mean (or median) of the judged values in the segment's limit window."),
        ("Average moving range", "The mean (or median) of the moving ranges in that window."),
        (
            "Natural process limits",
            f"Average ± {constants.MEAN_RANGE_TO_LIMITS} x the mean range "
            f"({constants.MEDIAN_RANGE_TO_LIMITS} x the median), held at the bounds. None below "
            f"{constants.MIN_VALUES_FOR_LIMITS} values.",
        ),
        (
            "Upper range limit",
            f"{constants.MEAN_RANGE_TO_RANGE_LIMIT} x average moving range "
            f"({constants.MEDIAN_RANGE_TO_RANGE_LIMIT} x the median).",
        ),
        ("Sigma", "A third of the way from the average to a limit that is not held at a bound."),
        ("Ties", "Values closer than 1e-9 of the larger are equal, and a tie is never a signal."),
    ]
    rules = {rule for chart in charts for rule in chart.analysis.settings.rules}
    length = max((chart.analysis.settings.run_length for chart in charts), default=8)
    lines += [
        (definition.name, f"Flagged where {definition.says(length)}.")
        for rule, definition in RULES.items()
        if rule in rules
    ]
    lines.append(
        (
            "Hidden columns",
            "Beside each rule: whether a value qualifies, and how many of its window do.",
        )
    )
    wrapped = book.add_format({"text_wrap": True, "valign": "top"})
    for row, (what, text) in enumerate(lines):
        sheet.write_string(row, 0, what, wrapped)
        sheet.write_string(row, 1, text, wrapped)
