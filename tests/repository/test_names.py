"""The names in the code: each of the project's words has one meaning, and some are not used."""

import ast
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2]
BANNED = {
    "standing": "a finding has a presence, an act a state, a link a status, a KPI a summary",
    "deed": "an audit event", "deeds": "audit events", "onlooker": "a viewer",
    "pen": "a renderer", "edge_of_site": "middleware", "tests_of": "rule columns",
    "given_up": "supervision", "promptprotocol": "a protocol with a time limit",
}  # fmt: skip
"""Words that had several meanings or none of the field's, and what is said in their stead."""
PLACES = ("compare", "tables", "places", "kinds/places")
"""Where ``place`` is a spot on a map; elsewhere a thing is called what it is."""


def sources() -> list[Path]:
    listed = subprocess.run(
        ["git", "ls-files", "fluctus/*.py"],  # noqa: S607
        cwd=ROOT, capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    return [ROOT / path for path in listed if "/migrations/" not in path]


def names_in(tree: ast.AST) -> Iterator[tuple[str, int]]:
    """What a module names: its functions, classes, arguments, variables and fields."""
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.ClassDef | ast.AsyncFunctionDef):
            yield node.name, node.lineno
        elif isinstance(node, ast.arg):
            yield node.arg, node.lineno
        elif isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.id, node.lineno


def words_of(name: str) -> set[str]:
    apart = re.sub(r"(?<=[a-z])(?=[A-Z])", "_", name)
    return {name.lower(), *apart.lower().split("_")}


def complaints(path: Path, tree: ast.AST) -> Iterator[str]:
    of_places = any(part in str(path) for part in PLACES)
    for name, line in names_in(tree):
        for word in words_of(name) & BANNED.keys():
            yield f"{path}:{line}: {name}. Say {BANNED[word]}."
        if name == "place" and not of_places:
            yield f"{path}:{line}: a place is a spot on a map."


def test_no_name_is_a_banned_word() -> None:
    files = sources()
    assert len(files) > 300
    found = [said for path in files for said in complaints(path, ast.parse(path.read_text()))]
    assert found == []


def test_a_banned_name_is_found() -> None:
    tree = ast.parse("class ActStanding:\n    def turn(self, kpi_standing):\n        place = 1\n")
    assert len(list(complaints(Path("fluctus/kpis/acts.py"), tree))) == 3
    assert len(list(complaints(Path("fluctus/tables/place_table.py"), tree))) == 2
