"""Brings data packages in that were changed at random: refused with a reason, or wholly sound.

``script/fuzz`` runs it after the requests. What comes in is opened as its readers would open it,
and taken back.
"""

import copy
import io
import json
import random
import sys
import traceback
from collections import Counter
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest.mock import patch
from zipfile import ZIP_DEFLATED, ZIP_STORED, ZipFile

import django

AWKWARD: tuple[Any, ...] = (
    None,
    True,
    -1,
    0,
    1,
    2**31,
    2**63,
    -(2**63) - 1,
    1e308,
    1e-320,
    "",
    "x" * 10_000,
    "\0",
    "=1+1",
    "0001-01-01",
    "9999-12-31",
    "2026-02-30",
    "2026-W54",
    "Europe/Nowhere",
    "../../etc/passwd",
    [],
    {},
    [[]],
    [None],
    {"": None},
    ["2026-05-18"],
    "\ud7ff\U0010ffff",
    "NaN",
    "Infinity",
    "12,5",
)
draw = random.Random(22)  # noqa: S311 - to be the same each time


def main(count: int) -> int:
    """Try so many packages, tell what came of them; returns 1 when one did what none may do."""
    outcomes: Counter[str] = Counter()
    failed: Counter[str] = Counter()
    originals = _originals()
    for number in range(count):
        way, raw = _changed(draw.choice(originals))
        outcome, trace = _outcome(raw)
        outcomes[outcome] += 1
        if trace:
            failed[trace] += 1
            print(f"Package {number}, {way}:\n{trace}", flush=True)
        if number % 200 == 199:
            print(f"{number + 1} packages: {dict(outcomes)}", flush=True)
    print(f"{count} changed packages: {dict(outcomes)}; {sum(failed.values())} failed")
    return 1 if failed else 0


def _originals() -> list[dict[str, bytes]]:
    """Return packages of the demo, each as its files."""
    from fluctus.accounts.models import Workspace  # noqa: PLC0415 - after set-up
    from fluctus.http import clock  # noqa: PLC0415
    from fluctus.jobs.life import Progress  # noqa: PLC0415
    from fluctus.kpis.chart.queries import chart_of  # noqa: PLC0415
    from fluctus.kpis.models import Kpi  # noqa: PLC0415
    from fluctus.reports.package.writing import as_package  # noqa: PLC0415

    place, now = Workspace.objects.get(slug="marrowick"), clock.now()
    kpis = list(Kpi.objects.filter(workspace=place).order_by("pk"))
    made = []
    for chosen in [*([kpi] for kpi in kpis), kpis[:3], kpis[-3:]]:
        charts = [(kpi, chart_of(kpi, now)) for kpi in chosen]
        raw = as_package(place, charts, "A package", now, Progress(), names=True)
        with ZipFile(io.BytesIO(raw)) as archive:
            made.append({name: archive.read(name) for name in archive.namelist()})
    return made


def _changed(files: dict[str, bytes]) -> tuple[str, bytes]:
    """Return what was done to a package, and the package."""
    files, ways = dict(files), []
    for _ in range(draw.choice((1, 1, 1, 2, 5))):
        name = draw.choice(sorted(files))
        way = draw.choice((_settings, _settings, _cells, _cells, _bytes))
        files[name] = way(name, files[name])
        ways.append(f"{way.__name__} of {name}")
    if draw.random() < 0.1:
        del files[draw.choice(sorted(files))]
        ways.append("a file less")
    out = io.BytesIO()
    with ZipFile(out, "w", draw.choice((ZIP_STORED, ZIP_DEFLATED))) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    raw = bytearray(out.getvalue())
    if draw.random() < 0.15:
        ways.append("damaged")
        for _ in range(draw.choice((1, 10, 200))):
            raw[draw.randrange(len(raw))] = draw.randrange(256)
        raw = raw[: draw.choice((len(raw), draw.randrange(len(raw))))]
    return ", ".join(ways), bytes(raw)


def _settings(name: str, content: bytes) -> bytes:
    """Put something awkward, or something from elsewhere in it, at a place of a description."""
    if not name.endswith(".json"):
        return _cells(name, content)
    try:
        read = json.loads(content)
    except ValueError:
        return content
    places: list[tuple[Any, Any]] = []

    def walk(node: Any) -> None:
        keys = (
            node if isinstance(node, dict) else range(len(node)) if isinstance(node, list) else ()
        )
        for key in keys:
            places.append((node, key))
            walk(node[key])

    walk(read)
    if not places:
        return content
    holder, key = draw.choice(places)
    what = draw.choice(("awkward", "awkward", "other", "gone", "deep", "again"))
    if what == "gone":
        del holder[key]
    elif what == "other":
        node, other = draw.choice(places)
        holder[key] = copy.deepcopy(node[other])
    elif what == "deep":
        for _ in range(draw.choice((3, 40, 400))):
            holder[key] = [holder[key]]
    elif what == "again" and isinstance(holder[key], list):
        holder[key] = holder[key] * draw.choice((2, 30))
    else:
        holder[key] = draw.choice(AWKWARD)
    return json.dumps(read).encode("utf-8", "surrogatepass")


def _cells(name: str, content: bytes) -> bytes:
    """Change a cell of a table, leave rows out, or exchange them."""
    rows = [line.split(b",") for line in content.split(b"\n")]
    row = draw.choice(rows)
    what = draw.random()
    if what < 0.6:
        row[draw.randrange(len(row))] = str(draw.choice(AWKWARD)).encode()
    elif what < 0.7:
        row.append(b"more")
    elif what < 0.8:
        rows.append(list(draw.choice(rows)))
    elif what < 0.9:
        draw.shuffle(rows)
    else:
        del rows[draw.randrange(len(rows)) :]
    return b"\n".join(b",".join(row) for row in rows)


def _bytes(name: str, content: bytes) -> bytes:
    at = draw.randrange(len(content) + 1)
    return content[:at] + draw.randbytes(draw.choice((1, 4, 64))) + content[at + 1 :]


def _outcome(raw: bytes) -> tuple[str, str]:
    """Bring one in and open it; returns what came of it, and the trace of what must not."""
    from django.db import transaction  # noqa: PLC0415 - after set-up

    from fluctus.accounts.models import Workspace  # noqa: PLC0415
    from fluctus.http import clock  # noqa: PLC0415
    from fluctus.http.refusals import RefusalError  # noqa: PLC0415
    from fluctus.jobs.life import Progress  # noqa: PLC0415
    from fluctus.kpis.actor import Actor  # noqa: PLC0415
    from fluctus.kpis.chart.queries import chart_of  # noqa: PLC0415
    from fluctus.reports.package.reading import read_package  # noqa: PLC0415
    from fluctus.reports.package.services import bring_package  # noqa: PLC0415

    place = Workspace.objects.get(slug="marrowick")
    with TemporaryDirectory() as folder, transaction.atomic():
        path = Path(folder) / "package.zip"
        path.write_bytes(raw)
        try:
            with transaction.atomic():
                # The reading stays in this process: another for each would take an hour.
                with patch("fluctus.reports.package.reading.run_isolated", _here):
                    package = read_package(path, Path(folder))
                brought = bring_package(
                    place, package, Actor(None, clock.now()), "p.zip", Progress()
                )
            for kpi, _ in brought.kpis:
                chart_of(kpi, clock.now())
            outcome, trace = "brought in", ""
        except RefusalError as refusal:
            sound = all(issue.detail and issue.remedy for issue in refusal.issues)
            outcome, trace = "refused", "" if sound else f"without a reason: {refusal.issues}"
        except Exception:  # whatever it is, it is what is looked for
            outcome, trace = "failed", traceback.format_exc()
        transaction.set_rollback(True)
    return outcome, trace


def _here(read: Any, *args: Any, **_: Any) -> Any:
    return read(*args)


if __name__ == "__main__":
    django.setup()
    sys.exit(main(int(sys.argv[1])))
