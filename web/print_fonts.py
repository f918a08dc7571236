"""Writes the shipped font at the weights that charts are drawn with, for pictures made of them.

What makes pictures reads no compressed font, and of a variable one only a single weight. Run by
the build, after that of the program for paper has emptied its folder.
"""

import sys
from pathlib import Path

from measure_font import PARTS, WEIGHTS, font_at


def main(folder: Path) -> None:
    """Write a file for each part of the font at each weight."""
    folder.mkdir(parents=True, exist_ok=True)
    for part in PARTS:
        for weight in WEIGHTS:
            font = font_at(part, weight)
            font["OS/2"].usWeightClass = weight
            font.flavor = None
            font.save(folder / f"{part}-{weight}.ttf")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
