"""The names in the code: each of the project's words has one meaning, and some are not used."""

import ast
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2]
BANNED = {
    "standing": "a finding has a presence, an act a state, a link a status, a KPI a summary",
    "deed": "an audit event",
    "deeds": "audit events",
    "onlooker": "a viewer",
    "pen": "a renderer",
    "edge_of_site": "middleware",
    "tests_of": "rule columns",
    "given_up": "supervision",
    "promptprotocol": "a protocol with a time limit",
}
"""Words that had several meanings or none of the field's, and what is said in their stead."""
PLACES = ("compare", "tables", "places", "kinds/places")
"""Where ``place`` is a spot on a map; elsewhere a thing is called what it is."""


BARE = {"made", "own", "one", "apart", "beside", "judged", "ways"}
"""Words that say nothing alone, of which a name may not be all: what is made, apart from what?"""
OF_LINES = ("kpis/lines.py", "kpis/chart/shapes.py", "kpis/chart/requests.py", "lines/kind.py")
"""Where ``made`` is what a line is made from, as it is stored with every chart."""
FACES = re.compile(r"^(?:export )?(?:function|const|type|interface) (\w+)", re.MULTILINE)
"""What a file of the browser defines."""
PLACE = re.compile(r"\b(?:const|let|function) (?:\{[^}]*\b)?place\b|\bplace: [A-Z]")
"""A place in the browser: a spot on a map, or (in ``small``) the verb for where points go."""


def sources() -> list[Path]:
    listed = subprocess.run(
        ["git", "ls-files", "fluctus/*.py"],  # noqa: S607
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=True,
    ).stdout.split()
    return [ROOT / path for path in listed if "/migrations/" not in path]


def names_in(tree: ast.AST) -> Iterator[tuple[str, int]]:
    """What a module names: its functions, classes, arguments, variables and fields."""
    yield from signatures_in(tree)
    for node in ast.walk(tree):
        yield from stored_by(node)


def defined_in(tree: ast.AST) -> Iterator[tuple[str, int]]:
    """What of a module others say: its functions, classes, arguments, fields and constants."""
    yield from signatures_in(tree)
    for node in ast.walk(tree):
        if isinstance(node, ast.ClassDef | ast.Module):
            for part in node.body:
                targets: list[ast.expr] = [part.target] if isinstance(part, ast.AnnAssign) else []
                targets += part.targets if isinstance(part, ast.Assign) else []
                for target in targets:
                    yield from stored_by(target)


def signatures_in(tree: ast.AST) -> Iterator[tuple[str, int]]:
    """The functions and classes of a module, and their arguments."""
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.ClassDef | ast.AsyncFunctionDef):
            yield node.name, node.lineno
        elif isinstance(node, ast.arg):
            yield node.arg, node.lineno


def stored_by(node: ast.AST) -> Iterator[tuple[str, int]]:
    """The name that a part of a module stores something under, if it is one."""
    if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
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
    of_lines = str(path).endswith(OF_LINES)
    for name, line in defined_in(tree):
        if name.lower().strip("_") in BARE and not (name == "made" and of_lines):
            yield f"{path}:{line}: {name} says nothing alone."


def test_no_name_is_a_banned_word() -> None:
    files = sources()
    assert len(files) > 300
    found = [said for path in files for said in complaints(path, ast.parse(path.read_text()))]
    assert found == []


def test_what_the_browser_defines_says_what_it_is() -> None:
    files = [path for end in ("ts", "tsx") for path in ROOT.glob(f"web/src/**/*.{end}")]
    assert len(files) > 300
    found = [
        f"{path}: {name}"
        for path in files
        for name in FACES.findall(path.read_text())
        if name.lower() in BARE and not path.stem.endswith(".test")
    ]
    assert found == []
    kept = [path for path in files if PLACE.search(path.read_text())]
    assert {path.parent.name for path in kept} <= {"compare", "kinds", "small"}


def test_a_banned_name_is_found() -> None:
    tree = ast.parse("class ActStanding:\n    def turn(self, kpi_standing):\n        place = 1\n")
    assert len(list(complaints(Path("fluctus/kpis/acts.py"), tree))) == 3
    assert len(list(complaints(Path("fluctus/tables/place_table.py"), tree))) == 2
    bare = ast.parse("class Made:\n    made: str\n\n\ndef _apart(one):\n    own = one\n")
    assert len(list(complaints(Path("fluctus/kpis/acts.py"), bare))) == 4
    assert len(list(complaints(Path("fluctus/kpis/lines.py"), bare))) == 3
