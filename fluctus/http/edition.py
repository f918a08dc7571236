"""Which edition of the program answers: what was made by another one is not given out again."""

from functools import cache
from hashlib import sha256
from pathlib import Path

SOURCES = Path(__file__).parents[1]


@cache
def edition() -> str:
    """Return what is another text as soon as any of the program's own code is another one."""
    digest = sha256()
    for path in sorted(SOURCES.rglob("*.py")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:12]
