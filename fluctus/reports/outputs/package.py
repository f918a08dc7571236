"""A data package: what another Fluctus, or a program, reads."""

from datetime import datetime

from fluctus.jobs.life import Progress
from fluctus.kpis.chart.analysis.chart import Chart
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Asked
from fluctus.reports.models import Format, Report
from fluctus.reports.outputs.output import FromCharts, Output
from fluctus.reports.package.writing import as_package


def _make(
    report: Report,
    asked: Asked,
    charts: list[tuple[Kpi, Chart]],
    now: datetime,
    progress: Progress,
) -> bytes:
    return as_package(report.workspace, charts, report.title, now, progress, names=asked.names)


PACKAGE = Output(Format.PACKAGE, "a data package", "zip", "application/zip", FromCharts(_make))
