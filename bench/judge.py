"""Passes on what benchmarks print, and says at the end which figure is beyond what was asked.

Reads lines such as ``import / COPY   2.2   (at most 4)``; ends with 1 where one is beyond.
"""

import re
import sys

FIGURE = re.compile(
    r"(?P<value>\d[\d,]*(?:\.\d+)?)\s*\S{0,3}\s*"
    r"\((?P<kind>at most|at least) (?P<asked>\d+(?:\.\d+)?)"
)


def is_beyond(line: str) -> bool:
    """Tell whether the figure of a line is beyond what the line says was asked."""
    found = FIGURE.search(line)
    if found is None:
        return False
    value, asked = float(found["value"].replace(",", "")), float(found["asked"])
    return value > asked if found["kind"] == "at most" else value < asked


def main() -> int:
    """Pass all lines on; returns the exit status."""
    beyond = []
    for line in sys.stdin:
        sys.stdout.write(line)
        sys.stdout.flush()
        if is_beyond(line):
            beyond.append(line.strip())
    if beyond:
        print(f"\n✗ Beyond what was asked: {len(beyond)}")
        print("\n".join(f"  {line}" for line in beyond))
    return 1 if beyond else 0


if __name__ == "__main__":
    sys.exit(main())
