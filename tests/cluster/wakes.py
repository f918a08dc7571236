"""A primary that is held still and wakes once another one writes, time after time, under load.

What a virtual machine that is moved or saved does: its clock jumps, and it goes on with what it
remembers. Only databases and HAProxy run; three writers add rows through it.
``script/cluster-test wakes`` runs it.
"""

import signal
import sys
import threading
import time
from itertools import count

import psycopg

from tests.cluster.programs import OWNER, Cluster, start_databases

WRITERS = 3
PAUSES = 5


class Rows:
    """Rows that were told to be written."""

    def __init__(self) -> None:
        self.numbers = count()
        self.told: set[int] = set()
        self.stop = threading.Event()

    def write(self) -> None:
        """Add one row after the other, by a new connection where one is gone."""
        while not self.stop.is_set():
            try:
                with psycopg.connect(OWNER, autocommit=True, connect_timeout=3) as owner:
                    while not self.stop.is_set():
                        number = next(self.numbers)
                        owner.execute("INSERT INTO told VALUES (%s)", [number])
                        self.told.add(number)
                        time.sleep(0.03)
            except psycopg.Error:
                time.sleep(0.2)

    def lost(self) -> int:
        """Count those that are not there."""
        told = set(self.told)
        with psycopg.connect(OWNER) as owner:
            there = {number for (number,) in owner.execute("SELECT number FROM told")}
        return len(told - there)


def pause(cluster: Cluster, seconds: float) -> None:
    """Hold the primary still until another one has written for so long; wait for both."""
    held = cluster.primary()
    cluster.lose(held, signal.SIGSTOP)
    cluster.wait_for("Another primary", lambda: cluster.primary() not in ("", held), 60)
    time.sleep(seconds)
    cluster.lose(held, signal.SIGCONT)
    time.sleep(2)
    cluster.wait_for("One that follows", lambda: bool(cluster.follower()), 120)
    time.sleep(4)


def main() -> int:
    """Pause, wake and count; returns 1 where something was lost."""
    pauses = int(sys.argv[1]) if len(sys.argv) > 1 else PAUSES
    cluster, rows = Cluster(), Rows()
    threads = [threading.Thread(target=rows.write) for _ in range(WRITERS)]
    try:
        start_databases(cluster)
        with psycopg.connect(OWNER, autocommit=True) as owner:
            owner.execute("CREATE TABLE told (number bigint PRIMARY KEY)")
        for thread in threads:
            thread.start()
        for number in range(pauses):
            # At another moment of the round that Patroni makes every five seconds.
            time.sleep(3 + 1.1 * number)
            pause(cluster, 12)
            lost = rows.lost()
            print(f"pause {number + 1}: {len(rows.told)} rows told, {lost} lost", flush=True)
            cluster.keep = cluster.keep or bool(lost)
        return int(cluster.keep)
    finally:
        rows.stop.set()
        for thread in threads:
            thread.join(30)
        cluster.stop()


if __name__ == "__main__":
    sys.exit(main())
