"""How many requests a second eight clients are answered on two workers, each kind for itself.

Beside an authenticated request that finds nothing: session, person, membership and middleware.
"""

import socket
import statistics
import time
from concurrent.futures import ThreadPoolExecutor

from bench.served import PORT, fill, served

CLIENTS = 8
WORKERS = 2
SECONDS = 3.0
WARM = 1.0
KPIS = 26
LAST_CHUNK = b"\r\n0\r\n\r\n"


class Answers:
    """A connection that is kept, over which one request is asked again and again.

    By hand, as the clients share the processors with what is measured.
    """

    def __init__(self, path: str, cookie: str, tag: str) -> None:
        lines = [f"GET {path} HTTP/1.1", "Host: 127.0.0.1", f"Cookie: {cookie}"]
        if tag:
            lines.append(f"If-None-Match: {tag}")
        self.request = ("\r\n".join(lines) + "\r\n\r\n").encode()
        self.socket = socket.create_connection(("127.0.0.1", PORT))
        self.read = b""

    def ask(self) -> tuple[int, dict[str, str]]:
        """Return the status and the headers of one answer."""
        self.socket.sendall(self.request)
        while (end := self.read.find(b"\r\n\r\n")) < 0:
            self.read += self._more()
        head, self.read = self.read[:end].decode(), self.read[end + 4 :]
        first, *lines = head.split("\r\n")
        parted = (line.partition(":") for line in lines)
        headers = {name.lower(): value.strip() for name, _, value in parted}
        if "transfer-encoding" in headers:
            while not self.read.endswith(LAST_CHUNK):
                self.read += self._more()
            self.read = b""
        else:
            length = int(headers.get("content-length", "0"))
            while len(self.read) < length:
                self.read += self._more()
            self.read = self.read[length:]
        return int(first.split()[1]), headers

    def _more(self) -> bytes:
        data = self.socket.recv(262_144)
        if not data:
            raise SystemExit("The server has closed a connection.")
        return data


def a_second(path: str, cookie: str, status: int, tag: str = "") -> float:
    """Return how many answers a second eight clients get."""
    until = [time.perf_counter() + WARM]
    counts = [0] * CLIENTS

    def go(number: int) -> None:
        answers = Answers(path, cookie, tag)
        while time.perf_counter() < until[0]:
            got, _ = answers.ask()
            if got != status:
                raise SystemExit(f"{path} answered {got}, not {status}.")
            counts[number] += 1

    def all_of_them() -> None:
        with ThreadPoolExecutor(CLIENTS) as pool:
            list(pool.map(go, range(CLIENTS)))

    all_of_them()
    counts = [0] * CLIENTS
    began = time.perf_counter()
    until[0] = began + SECONDS
    all_of_them()
    if not all(counts):
        raise SystemExit(f"{path}: a client got no answer.")
    return sum(counts) / (time.perf_counter() - began)


def main() -> None:
    with served(long=20_000, workers=WORKERS) as (name, value):
        cookie = f"{name}={value}"
        weekly = fill("bench-crowd", KPIS, 58)[0]
        base = "/api/v1/workspaces/bench/kpis"
        crowd = "/api/v1/workspaces/bench-crowd"
        asked = {
            "58 weeks": (f"{crowd}/kpis/{weekly}/analysis", 0.5),
            "500 days": (f"{base}/half-a-thousand/analysis", 0.5),
            "20,000 hours": (f"{base}/long/analysis", 0.5),
            f"list of {KPIS} KPIs": (f"{crowd}/kpis", 0.5),
            f"overview of {KPIS} KPIs": (f"{crowd}/overview", 1 / 3),
        }
        floors, whole = [], {}

        def beside(what: str, path: str, status: int, least: float, tag: str = "") -> None:
            """Measure answers right after the floor: the machine is not always as fast."""
            floors.append(a_second(f"{base}/none/analysis", cookie, 404))
            rate = whole[what] = a_second(path, cookie, status, tag)
            share = f"{rate / floors[-1]:8.2f}  (at least {least:.2f})"
            print(f"{what + ', of nothing found':<44}{rate:6.0f}{share}")

        for what, (path, least) in asked.items():
            beside(what, path, 200, least)
            tag = Answers(path, cookie, "").ask()[1]["etag"]
            beside(f"{what}, unchanged", path, 304, 0.8, tag)
        print(
            f"{'nothing found, a second':<44}{statistics.median(floors):6.0f}{'':8}  (at least 400)"
        )
        hours = whole["20,000 hours"] / whole["58 weeks"]
        print(f"{'20,000 hours / 58 weeks':<44}{hours:14.2f}  (at least 0.80)")


if __name__ == "__main__":
    main()
