"""The page that the web application starts from, with word of what its address needs next.

A browser that reads of it in the page fetches it beside the application; else it would learn
of a screen's own files, and of who is signed in, only once the application runs.
"""

import json
import re
from functools import lru_cache
from html import escape
from pathlib import Path
from typing import Any, Final

SCREENS: Final = (
    (re.compile(r"/[^/]+/charts/[^/]+/?"), "src/chart-page/ChartPage.tsx"),
    (re.compile(r"/[^/]+/fill-in/?"), "src/fill-in/FillInPage.tsx"),
    (re.compile(r"/[^/]+/pages/\d+/?"), "src/pages/SheetPage.tsx"),
    (re.compile(r"/[^/]*/?"), "src/overview/OverviewPage.tsx"),
)
"""Addresses that are opened from outside, and what draws each."""
SIGNED_OUT: Final = re.compile(r"/(l/.*|join|reset|forgotten)/?")
"""Addresses that do not ask who is signed in."""
SESSION: Final = '<link rel="preload" href="/api/v1/session" as="fetch" crossorigin="anonymous">'


def first_page(dist: Path, path: str, nonce: str) -> str:
    """Return the page for an address; its style elements carry the nonce.

    Raises FileNotFoundError where the application is not built.
    """
    page = dist / "index.html"
    text = _read(page, page.stat().st_mtime_ns)
    # Read by what makes style elements, so that the page need allow no others.
    text = text.replace("%NONCE%", nonce)
    if SIGNED_OUT.fullmatch(path):
        return text
    # First, or it waits behind scripts for one of the few connections of a browser.
    text = text.replace("<head>", f"<head>{SESSION}", 1)
    return text.replace("</head>", f"{_soon(dist, path, text)}</head>", 1)


def _soon(dist: Path, path: str, text: str) -> str:
    """Name the screen at an address, and those of its files that the page does not name itself."""
    manifest = dist / ".vite" / "manifest.json"
    screen = next((source for at, source in SCREENS if at.fullmatch(path)), None)
    if screen is None or not manifest.exists():
        return ""
    links = _links(manifest, manifest.stat().st_mtime_ns, screen)
    # By which the application begins to load it at once, too.
    named = f'<meta name="screen" content="{Path(screen).stem}">'
    return named + "".join(link for file, link in links if file not in text)


@lru_cache(maxsize=8)
def _links(manifest: Path, changed: int, screen: str) -> list[tuple[str, str]]:
    """Return the files that a screen needs at once, each with a link to it."""
    chunks: dict[str, Any] = json.loads(manifest.read_text())
    links, styles = [], []
    for chunk in _needed(chunks, screen):
        file = escape(f"/{chunk['file']}")
        # The screen itself runs at once, what it needs is only there by then.
        if chunk.get("src") == screen:
            links.append((file, f'<script type="module" crossorigin src="{file}"></script>'))
        else:
            links.append((file, f'<link rel="modulepreload" crossorigin href="{file}">'))
        for style in (escape(f"/{name}") for name in chunk.get("css", [])):
            styles.append((style, f'<link rel="preload" as="style" crossorigin href="{style}">'))
    return [*links, *styles]


def _needed(chunks: dict[str, Any], source: str) -> list[dict[str, Any]]:
    """Return a chunk of the build and all that it needs at once, each once."""
    found: dict[str, dict[str, Any]] = {}
    open_ = [source]
    while open_:
        name = open_.pop()
        if name in chunks and name not in found:
            found[name] = chunks[name]
            open_ += chunks[name].get("imports", [])
    return list(found.values())


@lru_cache(maxsize=8)
def _read(path: Path, changed: int) -> str:
    """Return the text of a file as it was when it last changed."""
    return path.read_text()
