"""10,000 KPIs whose period ends at one moment, while others look at charts.

One run on one server with one worker of each kind, on the processors there are: how long until
what is kept of each chart holds again, and how long answers take meanwhile, beside how long they
take when nothing is due.
"""

import statistics
import time
from collections.abc import Callable
from http.client import HTTPConnection

from bench.served import PORT, copy, fill, served, worker
from bench.serving import first, timed
from fluctus.http import clock
from fluctus.kpis.chart.renewal import count_ended
from fluctus.kpis.models import Kpi

DIFFERENT, WEEKS, KPIS = 100, 104, 10_000
STARTED = 8.0
"""Seconds after which a worker has begun all it does."""
BETWEEN = 0.1
"""Seconds between two looks of those who look, whatever else goes on."""
CALM = 10.0
LONGEST = 600.0


def answers(
    cookie: str, goes_on: Callable[[float], bool], between: float = BETWEEN
) -> tuple[float, float, float]:
    """Ask for charts in turn; returns seconds, and the middle and upper quartile of answers, ms."""
    connection = HTTPConnection("127.0.0.1", PORT)
    path = "/api/v1/workspaces/bench/kpis/half-a-thousand/analysis"
    taken: list[float] = []
    began = time.perf_counter()
    while goes_on(time.perf_counter() - began):
        taken.append(first(connection, path, cookie))
        taken.append(timed(connection, path, cookie))
        time.sleep(between)
    return time.perf_counter() - began, statistics.median(taken), statistics.quantiles(taken)[-1]


def when_calm(cookie: str) -> tuple[float, float]:
    """Let a worker settle, and ask while nothing is due; returns middle and upper quartile, ms."""
    time.sleep(STARTED)
    answers(cookie, lambda seconds: seconds < 2)
    _, middle, slow = answers(cookie, lambda seconds: seconds < CALM)
    return middle, slow


def main() -> None:
    with served() as (name, value):
        kpis = fill("bench-due", DIFFERENT, WEEKS)
        copy("bench-due", KPIS // len(kpis) - 1)
        due = Kpi.objects.filter(workspace__slug="bench-due")
        Kpi.objects.update(renew_at=None)
        cookie = f"{name}={value}"
        with worker():
            calm, calm_slow = when_calm(cookie)
            # Written to before: of charts that have just been made nobody is told.
            count = due.update(renew_at=clock.now(), revision=2)
            seconds, busy, busy_slow = answers(
                cookie, lambda seconds: count_ended(clock.now()) > 0 and seconds < LONGEST
            )
    print(f"{count:,} KPIs of {WEEKS} weeks, due at once       {seconds:7.1f} s   (at most 60)")
    print(f"a chart of 500 meanwhile, middle           {busy:7.1f} ms")
    print(f"the same when nothing is due               {calm:7.1f} ms")
    print(f"meanwhile / nothing due, middle            {busy / calm:7.2f}     (at most 2)")
    print(
        f"meanwhile / nothing due, slowest quarter   {busy_slow / calm_slow:7.2f}     (at most 2)"
    )


if __name__ == "__main__":
    main()
