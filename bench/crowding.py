"""How long one workspace waits while others ask much of one: charts of a million values, anew.

Beside the same request while nobody asks for anything.
"""

import json
import statistics
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPConnection

from bench.served import PORT, fill, served
from bench.serving import ask, timed

CROWD = 24
"""Clients that ask for a preview of a million values, each for the next as soon as it has one."""
WORKERS = 2
SECONDS = 15.0
WARM = 4.0
EVERY = 0.1


def crowd(cookie: str, number: int, ended: threading.Event) -> int:
    """Ask for one preview after the other, none of them like another; returns how many came."""
    path = "/api/v1/workspaces/bench/kpis/long/preview"
    connection = HTTPConnection("127.0.0.1", PORT, timeout=120)
    at = 0
    while not ended.is_set():
        at += 1
        start = f"20{number + 1:02d}-{1 + at % 12:02d}-{1 + at % 27:02d}T{at % 24:02d}:00"
        segments = [{"start": None}, {"start": start, "name": f"{number} {at}"}]
        ask(connection, path, cookie, json.dumps({"segments": segments}).encode())
    return at


def asked(path: str, cookie: str) -> float:
    """Return the milliseconds that an answer takes, on a connection of its own."""
    return timed(HTTPConnection("127.0.0.1", PORT, timeout=120), path, cookie)


def main() -> None:
    with served(long=1_000_000, workers=WORKERS) as (name, value):
        cookie = f"{name}={value}"
        path = f"/api/v1/workspaces/bench-other/kpis/{fill('bench-other', 3, 60)[0]}/analysis"
        alone = [asked(path, cookie) for _ in range(40)]
        ended = threading.Event()
        with ThreadPoolExecutor(CROWD) as pool:
            clients = [pool.submit(crowd, cookie, number, ended) for number in range(CROWD)]
            try:
                time.sleep(WARM)
                beside, until = [], time.perf_counter() + SECONDS
                while time.perf_counter() < until:
                    beside.append(asked(path, cookie))
                    time.sleep(EVERY)
            finally:
                ended.set()
            # One that was answered anything but a preview ends the benchmark here.
            answers = sum(client.result() for client in clients)
        print(f"{'a chart of 60, alone':<44}{statistics.median(alone):8.0f} ms")
        print(f"{f'beside {CROWD} who ask for 1,000,000':<44}{statistics.median(beside):8.0f} ms")
        worst = statistics.quantiles(beside, n=10)[-1]
        print(f"{'the slowest tenth of them, from':<44}{worst:8.0f} ms")
        print(f"{'the slowest tenth, to one alone':<44}{worst / statistics.median(alone):8.1f}")
        print(f"{'the crowd was answered, a second':<44}{answers / (SECONDS + WARM):8.1f}")


if __name__ == "__main__":
    main()
