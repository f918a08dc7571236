"""How long writes take: a block pasted below the table, and twenty people at once.

A block of ten times the rows should take about ten times as long. Twenty people at once
are compared with one who does all the same alone, on the same server.
"""

import json
import threading
import time
from http.client import HTTPConnection

from bench.served import PORT, served

PEOPLE, EDITS = 20, 15
TOKEN = "b" * 32


class Person:
    """Somebody who writes to a workspace of the benchmark's."""

    def __init__(self, cookie: str, workspace: str = "bench") -> None:
        self.workspace = workspace
        self.connection = HTTPConnection("127.0.0.1", PORT)
        self.headers = {
            "Content-Type": "application/json",
            "X-CSRFToken": TOKEN,
            "Cookie": f"{cookie}; csrftoken={TOKEN}",
        }

    def ask(self, method: str, path: str, body: object = None) -> tuple[int, bytes]:
        """Return status and content of an answer."""
        data = None if body is None else json.dumps(body)
        self.connection.request(
            method, f"/api/v1/workspaces/{self.workspace}{path}", data, self.headers
        )
        answer = self.connection.getresponse()
        return answer.status, answer.read()


def paste(person: Person, slug: str, rows: int) -> float:
    """Paste so many values below the table; returns the seconds it takes."""
    edits = [{"period": f"+{n + 1}", "value": 20 + n % 3} for n in range(rows)]
    began = time.perf_counter()
    status, content = person.ask("POST", f"/kpis/{slug}/values", {"edits": edits})
    if status != 200:
        raise SystemExit(f"The block was refused: {content[:300]!r}")
    return time.perf_counter() - began


def write(cookie: str, slug: str, number: int, statuses: list[int]) -> None:
    """Write values of periods that nobody else writes, one after the other."""
    person = Person(cookie)
    for n in range(EDITS):
        day = f"{1900 + number}-{n // 28 + 1:02d}-{n % 28 + 1:02d}"
        edit = {"period": day, "value": 20.0, "seen": None}
        statuses.append(person.ask("POST", f"/kpis/{slug}/values", {"edits": [edit]})[0])


def together(cookie: str, slugs: list[str], first: int) -> tuple[float, list[int]]:
    """Let twenty people write at once; returns the seconds it takes, and the answers."""
    statuses: list[int] = []
    threads = [
        threading.Thread(target=write, args=(cookie, slugs[n % len(slugs)], first + n, statuses))
        for n in range(PEOPLE)
    ]
    began = time.perf_counter()
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return time.perf_counter() - began, statuses


def count_of(person: Person, slug: str) -> int:
    return int(json.loads(person.ask("GET", f"/kpis/{slug}/values")[1])["count"])


def main() -> None:
    with served(short=PEOPLE) as (name, value):
        cookie = f"{name}={value}"
        person = Person(cookie)
        small = min(paste(person, f"short-{n}", 1_000) for n in range(3))
        large = min(paste(person, f"short-{n}", 10_000) for n in range(3, 5))
        print(f"a block of 1,000 rows below the table    {small:7.3f} s   (at most 0.3)")
        print(f"a block of 10,000 rows                   {large:7.3f} s")
        print(f"10,000 / 1,000 rows                      {large / small:7.2f}     (at most 12)")

        slugs = [f"short-{n}" for n in range(PEOPLE)]
        began = time.perf_counter()
        alone: list[int] = []
        for number in range(PEOPLE):
            write(cookie, "half-a-thousand", number, alone)
        one = time.perf_counter() - began
        before = count_of(Person(cookie), "half-a-thousand")
        same, to_one = together(cookie, ["half-a-thousand"], 40)
        kept = count_of(Person(cookie), "half-a-thousand") - before
        apart, to_twenty = together(cookie, slugs, 80)
        writes = PEOPLE * EDITS
        print(f"one person, {writes} writes to one KPI        {one:7.2f} s")
        print(f"twenty at once, as many to one KPI       {same:7.2f} s   ({kept} kept)")
        print(f"twenty at once, each to a KPI of its own {apart:7.2f} s")
        refused = [status for status in (*alone, *to_one, *to_twenty) if status != 200]
        if refused or kept != writes:
            raise SystemExit(f"Lost: {writes - kept}; refused: {refused}")


if __name__ == "__main__":
    main()
