"""What made a value of many parts beside reading them, and a write that many KPIs follow.

Both in this process against a database of their own: the server adds the same to each.
"""

import os
import time
from datetime import date, timedelta

import django
import numpy as np
import polars as pl

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fluctus.site.settings")
django.setup()

from django.core.management import call_command  # noqa: E402
from django.db import connection  # noqa: E402

from fluctus.accounts.models import Workspace  # noqa: E402
from fluctus.core import MadeFrom  # noqa: E402
from fluctus.http import clock  # noqa: E402
from fluctus.kpis.actor import Actor  # noqa: E402
from fluctus.kpis.calendar import Grain  # noqa: E402
from fluctus.kpis.chart.queries import chart_of, forget  # noqa: E402
from fluctus.kpis.chart.services import create_kpi  # noqa: E402
from fluctus.kpis.contributions.answers import Asked, contributions_answer  # noqa: E402
from fluctus.kpis.derived.services import derive  # noqa: E402
from fluctus.kpis.models import Kpi  # noqa: E402
from fluctus.kpis.observations.blocks import rows_between  # noqa: E402
from fluctus.kpis.observations.frame import FRAME  # noqa: E402
from fluctus.kpis.observations.reading import read_stored  # noqa: E402
from fluctus.kpis.state import ChartState  # noqa: E402
from fluctus.kpis.values.services import Edit, edit_values  # noqa: E402

PARTS, PERIODS = 400, 5_000
FOLLOWERS, WEEKS, WRITES = 10, 500, 5
RANDOM = np.random.default_rng(11)
FIRST = date(2012, 1, 2)


def frame_of(parts: list[str], days: list[date]) -> pl.DataFrame:
    """Return a value for each part and day."""
    instants = [float((day - date(1970, 1, 1)).days * 86_400) for day in days]
    count = len(parts) * len(days)
    nothing = pl.Series([None], dtype=pl.Float64).new_from_index(0, count)
    columns = {
        "period": np.repeat(instants, len(parts)),
        "breakdown": parts * len(days),
        "value": RANDOM.poisson(9, count).astype(np.float64),
        **dict.fromkeys(("numerator", "denominator", "target", "target_high"), nothing),
        "rows": np.ones(count, np.int64),
        "note": [""] * count,
        "set_aside": np.zeros(count, np.bool_),
        "reason": [""] * count,
        "typed": np.zeros(count, np.bool_),
    }
    return pl.DataFrame(columns, schema_overrides=FRAME)


def add(workspace: Workspace, name: str, grain: Grain, frame: pl.DataFrame, actor: Actor) -> Kpi:
    """Save a KPI of counts."""
    kpi, _ = create_kpi(workspace, ChartState(name, aggregation="sum"), grain, frame, actor)
    return kpi


def fastest(work: object, times: int = 3) -> float:
    """Return the shortest of some runs, in seconds."""
    assert callable(work)
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return min(taken)


def many_parts(workspace: Workspace, actor: Actor) -> None:
    """Compare telling what made a value with reading the values that it is told from."""
    days = [FIRST + timedelta(days=n) for n in range(PERIODS)]
    names = [f"Stop {n:03d}" for n in range(PARTS)]
    kpi = add(workspace, "Boardings", Grain.DAY, frame_of(names, days), actor)
    asked = Asked(days[-1].isoformat())
    reading = fastest(lambda: rows_between(kpi))
    packed = fastest(lambda: read_stored(kpi))

    def told() -> None:
        forget()
        contributions_answer(kpi, actor.now, asked)

    def chart() -> None:
        forget()
        chart_of(kpi, actor.now)

    charted, whole = fastest(chart), fastest(told)
    contributions_answer(kpi, actor.now, asked)
    again = fastest(lambda: contributions_answer(kpi, actor.now, asked))
    size = f"{PARTS} parts of {PERIODS:,} periods"
    print(f"reading the rows of {size}    {reading:7.3f} s")
    print(f"reading them packed                              {packed:7.3f} s")
    print(f"the chart of the whole, which reads them         {charted:7.3f} s")
    print(f"what made it, opened first                       {whole:7.3f} s")
    print(f"what made it, of a chart at hand                 {again:7.3f} s")
    print(
        f"opened first / reading them                      {whole / reading:7.2f}     (at most 2)"
    )
    print(
        f"of a chart at hand / reading them                {again / reading:7.2f}     (at most 1)"
    )


def many_followers(workspace: Workspace, actor: Actor) -> None:
    """Compare a write to the source of ten KPIs with one to a KPI that nothing is made from."""
    weeks = [FIRST + timedelta(weeks=n) for n in range(WEEKS)]
    # The whole has the weeks to come, so that what is made of both has them as well.
    more = [*weeks, *(weeks[-1] + timedelta(weeks=n + 1) for n in range(2 * WRITES))]
    alone, source, whole = (
        add(workspace, name, Grain.WEEK, frame_of([""], days), actor)
        for name, days in (("Alone", weeks), ("Source", weeks), ("Whole", more))
    )
    for n in range(FOLLOWERS):
        made_by = (MadeFrom.RATIO, MadeFrom.SUM, MadeFrom.DIFFERENCE, MadeFrom.MULTIPLE)[n % 4]
        sources = [source] if made_by is MadeFrom.MULTIPLE else [source, whole]
        derive(made_by, sources, f"Made {n}", 2.0 if len(sources) == 1 else None, actor)

    def write(kpi: Kpi) -> float:
        last = weeks[-1]

        def once() -> None:
            nonlocal last
            last += timedelta(weeks=1)
            edit_values(kpi, [Edit(last.isoformat(), value=float(RANDOM.poisson(9)))], actor)

        return fastest(once, WRITES)

    one, ten = write(alone), write(source)
    print(f"a write that nothing follows                     {one * 1000:7.1f} ms")
    print(f"a write that ten KPIs follow                     {ten * 1000:7.1f} ms")
    print(f"ten / none                                       {ten / one:7.2f}     (11 are written)")


def main() -> None:
    call_command("migrate", verbosity=0)
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    workspace = Workspace.objects.create(slug="bench-made", name="Bench")
    actor = Actor(None, clock.now())
    try:
        many_parts(workspace, actor)
        many_followers(workspace, actor)
    finally:
        Kpi.objects.filter(workspace=workspace).delete()
        workspace.delete()


if __name__ == "__main__":
    main()
