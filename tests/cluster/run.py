"""A cluster by the files of ``deploy/``, of which one part after the other dies under load.

``script/cluster-test`` runs it and prints figures.
"""

import signal
import socket
import sys
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, datetime, timedelta
from itertools import pairwise
from typing import Any, Final

import psycopg

from tests.cluster.programs import ADDRESS, OWNER, Cluster, start_databases, start_hosts
from tests.faults.person import Person

EDITORS: Final = 4
BETWEEN: Final = 12.0
"""Seconds between two faults, in which everything has to come back."""


class Load:
    """People who edit and bring tables in, and what they were told."""

    def __init__(self, cluster: Cluster) -> None:
        self.certificate = str(cluster.folder / "etc/ssl/fluctus/certificate.pem")
        self.stop = threading.Event()
        self.edits: dict[tuple[str, str], float] = {}
        self.imports: dict[str, str] = {}
        self.answers: Counter[int] = Counter()
        self.during = "before the first"
        """Which fault was the last to begin, or to end."""
        self.since = time.monotonic()
        """When it did."""
        self.acknowledged: dict[tuple[str, str], tuple[str, float]] = {}
        """During which fault each edit was, and how many seconds into it."""
        self.answered: list[tuple[float, int]] = []
        """When each write was answered, and how."""

    def person(self) -> Person:
        """Sign in."""
        return Person(ADDRESS, self.certificate)

    def make_kpis(self) -> None:
        """Make a KPI for each who edits."""
        person = self.person()
        for number in range(EDITORS):
            table = f"Day,Cluster {number}\n2019-12-30,1\n2019-12-31,2\n"
            status, sent = person.send_table(table)
            assert status == 201, (status, sent)
            path = f"{person.place}/uploads/{sent['id']}/import"
            status, made = person.ask("POST", path, {"mapping": {}})
            assert status == 201, (status, made)

    def edit(self, number: int) -> None:
        """Add value after value to a KPI of one's own."""
        person, slug = self.person(), f"cluster-{number}"
        day = date(2020, 1, 1)
        while not self.stop.is_set():
            day += timedelta(days=1)
            value = float(day.toordinal() % 97)
            body = {"edits": [{"period": str(day), "value": value, "seen": None}]}
            status, _ = person.ask("POST", f"{person.place}/kpis/{slug}/values", body)
            self.answers[status] += 1
            self.answered.append((time.monotonic(), status))
            if status == 200:
                self.edits[slug, str(day)] = value
                self.acknowledged[slug, str(day)] = (self.during, time.monotonic() - self.since)
            elif status in (401, 403):
                person = self.person()
            time.sleep(0.05)

    def bring_in(self) -> None:
        """Bring one long table after another in, as a KPI of its own."""
        person = self.person()
        first = datetime(2019, 1, 1)
        hours = [f"{first + timedelta(hours=n)},{n * 37 % 97},a note of {n}" for n in range(60_000)]
        rows = "\n".join(hours)
        while not self.stop.is_set():
            name = f"Table {uuid.uuid4().hex[:10]}"
            status, sent = person.send_table(f"Day,{name},Note\n{rows}\n")
            if status == 201:
                path = f"{person.place}/uploads/{sent['id']}/import"
                status, begun = person.ask("POST", path, {"mapping": {}})
                if status in (201, 202):
                    self.imports[name] = person.end_of(f"{person.place}/imports/{begun['id']}")
                    continue
            time.sleep(0.5)
            person = self.person()

    def now(self, during: str) -> float:
        """Note which fault begins or ends; returns when."""
        self.during, self.since = during, time.monotonic()
        return self.since

    def refused_since(self, began: float) -> tuple[float, int]:
        """Return the longest time without an acknowledged write, and how many were refused."""
        told = [(at, status) for at, status in self.answered if at >= began]
        good = [began, *(at for at, status in told if status == 200)]
        gaps = [after - before for before, after in pairwise(good)]
        return max(gaps, default=0.0), sum(status != 200 for _, status in told)


def faults(cluster: Cluster) -> Iterator[tuple[str, Callable[[], object], Callable[[], object]]]:
    """What dies, in turn, and how it is brought back."""
    primary = cluster.primary()

    def back(name: str) -> None:
        for part in (f"etcd-{name}", f"patroni-{name}"):
            cluster.again(part)

    yield "the primary, killed", lambda: cluster.lose(primary), lambda: back(primary)
    yield "a web host, killed", lambda: cluster.kill("web-one"), lambda: cluster.again("web-one")
    yield (
        "a worker, killed",
        lambda: cluster.kill("worker-two"),
        lambda: cluster.again("worker-two"),
    )
    yield (
        "PgBouncer of a host, killed",
        lambda: cluster.kill("pgbouncer-two"),
        lambda: cluster.again("pgbouncer-two"),
    )
    now = cluster.primary()
    # As when the network between it and the others is gone: it is there, and nobody hears it.
    yield (
        "the network of the primary, gone",
        lambda: cluster.lose(now, signal.SIGSTOP),
        lambda: cluster.lose(now, signal.SIGCONT),
    )


@contextmanager
def name_known() -> Iterator[None]:
    """Let the name of the sample lead to this machine, for this process."""
    real = socket.getaddrinfo

    def known(host: Any, *args: Any, **kwargs: Any) -> Any:
        here = "127.20.0.10" if host == "fluctus.marrowick.example" else host
        return real(here, *args, **kwargs)

    socket.getaddrinfo = known
    try:
        yield
    finally:
        socket.getaddrinfo = real


def main() -> int:
    """Build it, break it, count; returns 1 where something was lost."""
    cluster = Cluster()
    try:
        with name_known():
            print("→ Starting three databases, and two hosts", flush=True)
            start_databases(cluster)
            start_hosts(cluster)
            ended = measure(cluster)
            cluster.keep = bool(ended)
            return ended
    finally:
        cluster.stop()


def measure(cluster: Cluster) -> int:
    """Break one part after the other under load; returns 1 where something was lost."""
    load = Load(cluster)
    load.make_kpis()
    threads = [threading.Thread(target=load.edit, args=(n,)) for n in range(EDITORS)]
    threads += [threading.Thread(target=load.bring_in) for _ in range(2)]
    for thread in threads:
        thread.start()
    time.sleep(5)
    for what, happens, comes_back in faults(cluster):
        began = load.now(what)
        happens()
        time.sleep(BETWEEN)
        if "primary" in what:
            cluster.wait_for("Another primary", lambda: bool(cluster.primary()), 60)
            time.sleep(BETWEEN)
        gap, refused = load.refused_since(began)
        print(f"{what:<34} no write for {gap:5.1f} s, {refused} refused", flush=True)
        load.now(f"{what}, and back")
        comes_back()
        cluster.wait_for("One that follows", lambda: bool(cluster.follower()), 120)
        time.sleep(BETWEEN)
    load.stop.set()
    for thread in threads:
        thread.join(300)
    return told(load)


def told(load: Load) -> int:
    """Hold what is there against what was acknowledged."""
    url = OWNER.rsplit("/", 1)[0] + "/fluctus"
    with psycopg.connect(url) as owner:
        rows = owner.execute(
            "SELECT k.slug, to_char(o.period AT TIME ZONE k.time_zone, 'YYYY-MM-DD'), o.value "
            "FROM kpis_observation o JOIN kpis_kpi k ON k.id = o.kpi_id "
            "WHERE k.slug LIKE 'cluster-%'"
        ).fetchall()
        counts: dict[str, int] = dict(
            owner.execute(
                "SELECT k.name, count(*) FROM kpis_kpi k "
                "JOIN kpis_observation o ON o.kpi_id = k.id "
                "WHERE k.name LIKE 'Table %' GROUP BY k.name"
            ).fetchall()
        )
        twice = owner.execute(
            "SELECT count(*) FROM (SELECT name FROM kpis_kpi WHERE name LIKE 'Table %' "
            "GROUP BY name HAVING count(*) > 1) AS doubled"
        ).fetchone()
    there = {(slug, day): value for slug, day, value in rows}
    lost = [key for key, value in load.edits.items() if there.get(key) != value]
    done = {name for name, how in load.imports.items() if how == "done"}
    half = [name for name, count in counts.items() if count != 60_000]
    gone = [name for name in done if name not in counts]
    ended = Counter(load.imports.values())
    print(f"answers to edits                   {dict(load.answers)}")
    print(f"imports                            {dict(ended)}")
    print(f"acknowledged edits                 {len(load.edits)}, lost {len(lost)}")
    doubled = int(twice[0]) if twice else 0
    for during, count in Counter(load.acknowledged[key][0] for key in lost).items():
        seconds = [at for where, at in (load.acknowledged[key] for key in lost) if where == during]
        print(
            f"  lost, {during}: {count}, acknowledged {min(seconds):.1f} to {max(seconds):.1f} s in"
        )
    print(f"tables half there {len(half)}, done and gone {len(gone)}, there twice {doubled}")
    bad = bool(lost or half or gone or doubled or ended["unknown"])
    print("✗ Something was lost." if bad else "✓ Nothing that was acknowledged is lost.")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())
