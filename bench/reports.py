"""A report of 1, 10 and 50 charts beside the plain drawing of its pictures; and workbooks.

A report gathers, draws and sets; beside it stand the same charts only drawn, by the same kept
process. Memory is the most that a process of its own has held. The floor of a workbook is the
same cells written as numbers, without formulas.
"""

import io
import multiprocessing
import resource
import time
from collections.abc import Callable

from bench.served import fill, served

SIZES = (1, 10, 50)
VALUES = (500, 20_000)
ROUNDS = 3


def main() -> None:
    with served():
        slug = "bench-reports"
        kpis = fill(slug, max(SIZES), 104)
        for size in SIZES:
            drawn, set_on_pages = (
                run_isolated(work, slug, kpis[:size]) for work in (draw, set_pdf)
            )
            print(
                f"report of {size:>2} charts: {set_on_pages[0]:6.2f} s, {set_on_pages[1]:5.0f} MB; "
                f"its pictures alone {drawn[0]:6.2f} s, {drawn[1]:5.0f} MB; "
                f"{set_on_pages[0] / drawn[0]:.1f} times"
            )
        for count in VALUES:
            (kpi,) = fill(f"bench-book-{count}", 1, count)
            plain, live = (
                run_isolated(work, f"bench-book-{count}", [kpi]) for work in (plain_book, live_book)
            )
            print(
                f"workbook of {count:>6} values: {live[0]:6.2f} s, {live[1]:5.0f} MB; "
                f"numbers alone {plain[0]:6.2f} s, {plain[1]:5.0f} MB; "
                f"{live[0] / plain[0]:.1f} times"
            )


def run_isolated(
    work: Callable[[str, list[str]], None], slug: str, kpis: list[str]
) -> tuple[float, float]:
    """Run some work in processes of its own; returns its median seconds and its megabytes."""
    times, memory = [], 0.0
    for _ in range(ROUNDS):
        with multiprocessing.get_context("spawn").Pool(1) as pool:
            seconds, megabytes = pool.apply(measured, (work, slug, kpis))
        times.append(seconds)
        memory = max(memory, megabytes)
    return sorted(times)[ROUNDS // 2], memory


def measured(
    work: Callable[[str, list[str]], None], slug: str, kpis: list[str]
) -> tuple[float, float]:
    """Do some work once to load what it needs, then again with a watch."""
    import django  # noqa: PLC0415 - in a process of its own

    django.setup()
    work(slug, kpis[:1])
    begun = time.perf_counter()
    work(slug, kpis)
    seconds = time.perf_counter() - begun
    return seconds, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def draw(slug: str, kpis: list[str]) -> None:
    """Draw the charts of some KPIs, and nothing else."""
    from django.utils import timezone  # noqa: PLC0415

    from fluctus.accounts.models import Workspace  # noqa: PLC0415
    from fluctus.overview.panels.contents import contents_of  # noqa: PLC0415
    from fluctus.overview.panels.kind import Look  # noqa: PLC0415
    from fluctus.overview.panels.panel import Panel  # noqa: PLC0415
    from fluctus.reports.contents import ON_PAPER  # noqa: PLC0415
    from fluctus.reports.drawing import Renderer  # noqa: PLC0415

    renderer = Renderer()
    workspace = Workspace.objects.get(slug=slug)
    look = Look(workspace, timezone.now(), {}, ON_PAPER.width)
    for kpi in kpis:
        for content in contents_of([Panel(kpi, "chart", (kpi,))], look):
            renderer.draw(content, ON_PAPER.width, ON_PAPER.height)


def set_pdf(slug: str, kpis: list[str]) -> None:
    """Make a report of some KPIs, from their values to its bytes."""
    _make(slug, kpis, "pdf")


def live_book(slug: str, kpis: list[str]) -> None:
    """Make a workbook of some KPIs."""
    _make(slug, kpis, "workbook")


def plain_book(slug: str, kpis: list[str]) -> None:
    """Write as many cells as such a workbook has, all of them numbers."""
    from django.utils import timezone  # noqa: PLC0415
    from xlsxwriter import Workbook  # noqa: PLC0415

    from fluctus.kpis.chart.queries import chart_of  # noqa: PLC0415
    from fluctus.kpis.models import Kpi  # noqa: PLC0415
    from fluctus.reports.workbook.columns import Layout  # noqa: PLC0415
    from fluctus.reports.workbook.rules import Places, rule_columns  # noqa: PLC0415

    book = Workbook(io.BytesIO(), {"constant_memory": True})
    for kpi in Kpi.objects.filter(workspace__slug=slug, slug__in=kpis):
        chart, sheet = chart_of(kpi, timezone.now()), book.add_worksheet()
        rules = rule_columns(
            chart.analysis, Places.of(chart.analysis), Layout(1, len(chart.observations))
        )
        columns = 10 + sum(len(test.heads) for test in rules)
        for row, value in enumerate(chart.observations.values.tolist()):
            for column in range(columns):
                sheet.write_number(row, column, value)
    book.close()


def _make(slug: str, kpis: list[str], kind: str) -> None:
    from django.utils import timezone  # noqa: PLC0415

    from fluctus.accounts.models import Workspace  # noqa: PLC0415
    from fluctus.jobs.life import Progress  # noqa: PLC0415
    from fluctus.reports.asked import Asked  # noqa: PLC0415
    from fluctus.reports.making import make  # noqa: PLC0415
    from fluctus.reports.models import Format, Report, Scope  # noqa: PLC0415

    asked = Asked(scope=Scope.KPIS, kpis=tuple(kpis)).to_json()
    place = Workspace.objects.get(slug=slug)
    report = Report(workspace=place, title="x", format=Format(kind), asked=asked)
    make(report, timezone.now(), Progress())


if __name__ == "__main__":
    main()
