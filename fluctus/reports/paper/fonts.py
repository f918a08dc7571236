"""The typeface of reports: the one that the interface ships, in the files of its package."""

from pathlib import Path

from django.conf import settings

FAMILY = "Hanken Grotesk"
_FILES = settings.WEB_FONTS
LATIN = _FILES / "hanken-grotesk-latin-wght-normal.woff2"
LATIN_MORE = _FILES / "hanken-grotesk-latin-ext-wght-normal.woff2"
"""Letters of more languages stand in a file of their own, and so in a family of their own here."""


def font_faces() -> str:
    """Return the style rules that bring the typeface."""
    return "".join(
        f"@font-face {{ font-family: '{family}'; src: url('{file.as_uri()}'); }}"
        for family, file in ((FAMILY, LATIN), (f"{FAMILY} more", LATIN_MORE))
    )


def font_files() -> tuple[Path, ...]:
    """Return the files, which are all that setting a page may read."""
    return LATIN, LATIN_MORE
