"""Pictures of charts: what is drawn is on them, by whichever program makes them."""

import re
from contextlib import closing
from io import BytesIO

import numpy as np
import pypdfium2
from numpy.typing import NDArray
from PIL import Image

from fluctus.http import clock
from fluctus.kpis.models import Kpi
from fluctus.reports.asked import Paper
from fluctus.reports.contents import IN_LETTER, Chapter, Contents, drawn_of_kpi
from fluctus.reports.drawing import a_renderer
from fluctus.reports.paper.pdf import as_pdf
from tests.conftest import Api

VALUES = [20, 22, 21, 23, 20, 22, 21, 45, 22, 21, 20, 22]
SIGNAL, LIMIT = (0xB3, 0x19, 0x5B), (0x1F, 0x6F, 0x7A)


def pixels(png: bytes) -> NDArray[np.int64]:
    return np.asarray(Image.open(BytesIO(png)).convert("RGB"), np.int64)


def like(picture: NDArray[np.int64], color: tuple[int, int, int]) -> NDArray[np.bool_]:
    """Tell which pixels have a color, but for what smooths an edge."""
    return np.asarray(np.abs(picture - np.array(color)).sum(axis=-1) < 120)


def drawing_of(slug: str) -> str:
    with a_renderer() as renderer:
        return drawn_of_kpi(Kpi.objects.get(slug=slug), clock.now(), 52, renderer.draw)


def test_a_picture_has_each_level_at_its_height_and_each_label(api: Api) -> None:
    svg = drawing_of(api.add_kpi("Ramp cycle", VALUES))
    with a_renderer() as renderer:
        png = renderer.as_png(svg, 2.0)
    seen = pixels(png)
    assert seen.shape == (2 * IN_LETTER.height, 2 * IN_LETTER.width, 3)
    # Levels glide on screen, by a style that not all know who read a drawing.
    levels = re.findall(
        r'<line class="_level[^>]* x1="([\d.]+)" x2="([\d.]+)" transform="translate\(0 ([\d.]+)',
        svg,
    )
    assert len(levels) >= 5
    assert "translateY" not in svg
    for left, right, height in (tuple(map(float, level)) for level in levels):
        around = like(seen[round(2 * height) - 3 : round(2 * height) + 3], LIMIT)
        # A dashed one is two thirds of the way, and its ends are pale.
        assert around.any(axis=0).sum() > 0.35 * 2 * (right - left), height
    label = re.search(r'<text x="([\d.]+)" y="([\d.]+)"[^>]*fill="#b3195b">45', svg)
    assert label is not None
    x, y = (round(2 * float(part)) for part in label.groups())
    assert like(seen[y - 18 : y, x - 20 : x + 20], SIGNAL).sum() > 40


def test_on_paper_a_label_is_not_covered_by_its_ground(api: Api) -> None:
    svg = drawing_of(api.add_kpi("Ramp cycle", VALUES))
    style = svg[: svg.index("</style>") + 8]
    labels = re.search(r'<g class="[^"]*" data-part="labels">.*?</g>', svg)
    assert labels is not None
    chapter = Chapter(name="Ramp cycle", headline="Out", svg=f"{style}{labels[0]}</svg>")
    contents = Contents("How it ran", "", clock.now(), "Marrowick", "", "", (chapter,), ())
    pdf, _ = as_pdf(contents, Paper.A4)
    with closing(pypdfium2.PdfDocument(pdf)) as document:
        pages = [np.asarray(page.render(scale=2).to_pil().convert("RGB")) for page in document]
    assert sum(like(page.astype(np.int64), SIGNAL).sum() for page in pages) > 40


def test_letters_of_other_scripts_are_on_a_picture_too(api: Api) -> None:
    svg = drawing_of(api.add_kpi("Ramp cycle", VALUES))
    with a_renderer() as renderer:
        cyrillic, other, none = (
            pixels(renderer.as_png(svg.replace("moving range", word), 2.0))
            for word in ("Время", "Буква", "\N{ETHIOPIC SYLLABLE HA}" * 5)
        )
    # Not the same box for each letter.
    assert not np.array_equal(cyrillic, other)
    assert not np.array_equal(cyrillic, none)
