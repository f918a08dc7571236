"""A workbook that computes: XLSX."""

from datetime import datetime

from fluctus.jobs.life import Progress
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.models import Format, Report
from fluctus.reports.outputs.output import FromCharts, Output


def _make(
    report: Report,
    asked: Asked,
    charts: list[tuple[Kpi, Chart]],
    now: datetime,
    progress: Progress,
) -> bytes:
    from fluctus.reports.workbook.book import as_workbook  # noqa: PLC0415 - most never need it

    return as_workbook(report.title, [(kpi.name, chart) for kpi, chart in charts], progress)


WORKBOOK = Output(
    Format.WORKBOOK,
    "a workbook",
    "xlsx",
    "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    FromCharts(_make),
)
