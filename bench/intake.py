"""How long a million rows of CSV take to come in, beside PostgreSQL's own COPY of the same rows.

The floor copies rows that are ready into a table with the same indexes. The
import starts from the bytes of the file, as a background job does: reads and
understands them, checks each row, saves the values, and renews the chart's
digest. Both in turn in one run; the import in a process of its own, whose peak
memory is the most that it ever held.
"""

import json
import os
import random
import resource
import statistics
import subprocess
import sys
import time
from datetime import datetime, timedelta

import django

os.environ["DJANGO_SETTINGS_MODULE"] = "bench.settings"
django.setup()

# Models can be imported only once Django knows its settings.
from django.contrib.auth.models import User  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.db import connection  # noqa: E402

from fluctus.accounts.models import Membership, Workspace  # noqa: E402
from fluctus.http import clock  # noqa: E402
from fluctus.intake.services import carry_out, plan_import  # noqa: E402
from fluctus.intake.understanding.mapping import Mapping  # noqa: E402
from fluctus.intake.uploads import keep_upload  # noqa: E402
from fluctus.jobs import life  # noqa: E402
from fluctus.kpis.actor import Actor  # noqa: E402
from fluctus.kpis.models import Kpi, Observation  # noqa: E402
from fluctus.kpis.values.services import ImportMode  # noqa: E402

HOURS, GATES = 20_000, 50
ROUNDS = 3
TABLE = Observation._meta.db_table
COPIED = "period, breakdown, value, rows, note, set_aside, reason, kpi_id, written_by_id"


def table_of_rows() -> bytes:
    """Write a million rows: an hour, a gate, and a cycle time."""
    draw = random.Random(7)  # noqa: S311 - sample data
    start = datetime(2024, 1, 1)  # noqa: DTZ001 - a wall clock in UTC
    rows = ["Hour,Gate,Gate cycle (s)"]
    for hour in range(HOURS):
        text = f"{start + timedelta(hours=hour):%Y-%m-%d %H:%M}"
        rows += [f"{text},Gate {gate},{draw.gauss(14, 1.5):.2f}" for gate in range(GATES)]
    return "\n".join(rows).encode()


def bring_in() -> None:
    """Import the table that comes in; prints the seconds and the peak memory as JSON."""
    raw = sys.stdin.buffer.read()
    workspace = Workspace.objects.get(slug="bench-intake")
    person = User.objects.get(username="bench-intake")
    upload = keep_upload(workspace, person, "gates.csv", [raw])
    del raw
    actor = Actor(person, clock.now())
    planned = plan_import(upload, actor, Mapping(), ImportMode.UPDATE)
    start = time.perf_counter()
    life.run(planned, lambda: carry_out(planned, actor, life.ProgressOf(planned)))
    seconds = time.perf_counter() - start
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    saved = Observation.objects.filter(kpi__workspace=workspace).count()
    print(json.dumps({"seconds": seconds, "peak": peak, "saved": saved}))


def floor() -> float:
    """COPY the rows that are there into an empty table with the same indexes."""
    with connection.cursor() as cursor:
        cursor.execute("DROP TABLE IF EXISTS floor_rows")
        cursor.execute(
            f"CREATE TABLE floor_rows (LIKE {TABLE} INCLUDING DEFAULTS INCLUDING IDENTITY "
            "INCLUDING INDEXES)"
        )
        with cursor.copy(f"COPY {TABLE} ({COPIED}) TO STDOUT") as copy:
            blocks = [bytes(block) for block in copy]
        ready = b"".join(blocks)
        start = time.perf_counter()
        with cursor.copy(f"COPY floor_rows ({COPIED}) FROM STDIN") as copy:
            for at in range(0, len(ready), 1 << 20):
                copy.write(ready[at : at + (1 << 20)])
        seconds = time.perf_counter() - start
        cursor.execute("DROP TABLE floor_rows")
    return seconds


def clear() -> None:
    Kpi.objects.filter(workspace__slug="bench-intake").delete()
    with connection.cursor() as cursor:
        cursor.execute(f"VACUUM {TABLE}")


def main() -> None:
    call_command("migrate", verbosity=0)
    person, _ = User.objects.get_or_create(username="bench-intake")
    workspace, _ = Workspace.objects.get_or_create(slug="bench-intake", name="Bench")
    Membership.objects.get_or_create(workspace=workspace, person=person, defaults={"role": "owner"})
    raw = table_of_rows()
    print(f"{HOURS * GATES:,} rows of CSV, {len(raw) / 1e6:.0f} MB")
    floors, imports, peaks = [], [], []
    for _ in range(ROUNDS):
        clear()
        process = subprocess.run(
            # Not as a program of its own, which the process that reads the table would begin anew.
            [sys.executable, "-c", "from bench.intake import bring_in; bring_in()"],
            input=raw,
            capture_output=True,
            check=True,
        )
        result = json.loads(process.stdout.splitlines()[-1])
        if result["saved"] < HOURS * GATES:
            raise SystemExit(f"only {result['saved']:,} rows were saved")
        imports.append(result["seconds"])
        peaks.append(result["peak"])
        floors.append(floor())
    clear()
    print(f"COPY of the same rows        {statistics.median(floors):8.1f} s")
    print(f"import, end to end           {statistics.median(imports):8.1f} s")
    ratios = [duration / least for duration, least in zip(imports, floors, strict=True)]
    print(f"import / COPY                {statistics.median(ratios):8.2f}   (at most 4)")
    print(f"peak memory of the import    {max(peaks) / 1e9:8.2f} GB (at most 1.5)")


if __name__ == "__main__":
    main()
