"""Measures the shipped font, so that the room of a text is known before it is drawn.

Writes the width of each character, in thousandths of the font's size, at the weights that
charts are drawn with; digits as they are in tables, all of one width. Run by ``script/fonts``.
"""

import json
import sys
import unicodedata
from pathlib import Path

from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

HERE = Path(__file__).parent
FILES = HERE / "node_modules/@fontsource-variable/hanken-grotesk/files"
PARTS = ("latin", "latin-ext")
WEIGHTS = (400, 600, 700)
TARGET = HERE / "src/chart/text/widths.json"


def font_at(part: str, weight: int) -> TTFont:
    """Return a part of the shipped font at one weight."""
    font = TTFont(FILES / f"hanken-grotesk-{part}-wght-normal.woff2")
    return instantiateVariableFont(font, {"wght": weight})


def measure(weight: int) -> dict[str, int]:
    """Return the width of each character of the font at a weight."""
    widths: dict[str, int] = {}
    for part in PARTS:
        font = font_at(part, weight)
        size, metrics = font["head"].unitsPerEm, font["hmtx"].metrics
        tabular = _tabular(font)
        for code, glyph in font.getBestCmap().items():
            character = chr(code)
            if unicodedata.category(character) == "Cc" or character in widths:
                continue
            width, _ = metrics[tabular.get(glyph, glyph)]
            widths[character] = round(width * 1000 / size)
    return widths


def _tabular(font: TTFont) -> dict[str, str]:
    """Return the glyphs that stand in the place of others where numbers are set in columns."""
    table = font["GSUB"].table
    lookups = {
        index
        for record in table.FeatureList.FeatureRecord
        if record.FeatureTag == "tnum"
        for index in record.Feature.LookupListIndex
    }
    return {
        old: new
        for index in lookups
        for subtable in table.LookupList.Lookup[index].SubTable
        for old, new in getattr(subtable, "ExtSubTable", subtable).mapping.items()
    }


if __name__ == "__main__":
    every = {str(weight): measure(weight) for weight in WEIGHTS}
    if "--check" in sys.argv:
        raise SystemExit(0 if json.loads(TARGET.read_text()) == every else 1)
    TARGET.write_text(json.dumps(every, indent=2) + "\n")
