"""The page the application starts from: word of what its address needs next, and nothing else."""

import json
from pathlib import Path

import pytest

from fluctus.site.first_page import SCREENS, SESSION, first_page

PAGE = (
    '<html><head><meta name="nonce" content="%NONCE%" />'
    '<script type="module" src="/assets/index-1.js"></script></head><body></body></html>'
)
CHUNKS = {
    "index.html": {"file": "assets/index-1.js", "isEntry": True},
    "_drawn.js": {"file": "assets/drawn-2.js", "imports": ["index.html"], "css": ["assets/d.css"]},
    "src/chart-page/ChartPage.tsx": {
        "src": "src/chart-page/ChartPage.tsx",
        "file": "assets/ChartPage-3.js",
        "imports": ["_drawn.js", "index.html"],
        "dynamicImports": ["src/later.tsx"],
        "css": ["assets/c.css"],
    },
    "src/later.tsx": {"src": "src/later.tsx", "file": "assets/later-4.js"},
}


@pytest.fixture
def dist(tmp_path: Path) -> Path:
    (tmp_path / ".vite").mkdir()
    (tmp_path / ".vite/manifest.json").write_text(json.dumps(CHUNKS))
    (tmp_path / "index.html").write_text(PAGE)
    return tmp_path


def test_a_chart_s_address_names_its_files_once_and_not_what_comes_later(dist: Path) -> None:
    page = first_page(dist, "/marrowick/charts/no-shows", "n0")
    assert 'content="n0"' in page
    assert '<script type="module" crossorigin src="/assets/ChartPage-3.js">' in page
    assert '<link rel="modulepreload" crossorigin href="/assets/drawn-2.js">' in page
    assert page.count("index-1.js") == 1
    assert page.count('as="style"') == 2
    assert '<meta name="screen" content="ChartPage">' in page
    assert "later-4" not in page
    assert page.index(SESSION) < page.index("index-1.js")


@pytest.mark.parametrize("path", ["/l/a-secret", "/join", "/reset/", "/forgotten"])
def test_who_is_signed_in_is_not_asked_where_it_does_not_matter(dist: Path, path: str) -> None:
    assert SESSION not in first_page(dist, path, "n0")


def test_other_addresses_and_other_builds_have_the_page_alone(dist: Path) -> None:
    alone = first_page(dist, "/marrowick/data", "n0")
    assert "ChartPage" not in alone
    assert SESSION in alone
    (dist / ".vite/manifest.json").unlink()
    assert "ChartPage" not in first_page(dist, "/marrowick/charts/no-shows", "n0")


def test_a_page_that_is_built_anew_is_read_anew(dist: Path) -> None:
    first_page(dist, "/", "n0")
    (dist / "index.html").write_text(PAGE.replace("index-1", "index-2"))
    assert "index-2.js" in first_page(dist, "/", "n0")


def test_what_is_not_built_is_told(tmp_path: Path) -> None:
    with pytest.raises(FileNotFoundError):
        first_page(tmp_path, "/", "n0")


def test_the_screens_that_are_named_are_there() -> None:
    web = Path(__file__).parents[3] / "web"
    assert all((web / source).exists() for _, source in SCREENS)
    # The application knows each by the name that the page gives it.
    screens = (web / "src/app/screens.tsx").read_text()
    assert all(f"'{Path(source).stem}')" in screens for _, source in SCREENS)
