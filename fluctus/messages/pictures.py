"""The charts of a letter: their sentences when it is written, their pictures when it is sent."""

import logging
from collections.abc import Sequence
from datetime import datetime
from email.mime.image import MIMEImage
from html import escape
from typing import Final

from fluctus.accounts.models import Workspace
from fluctus.http.refusals import RefusalError
from fluctus.kpis.models import Kpi
from fluctus.messages.models import Happening
from fluctus.reports.contents import IN_LETTER, drawn_of_kpi, told_of_kpi
from fluctus.reports.drawing import a_renderer

log = logging.getLogger(__name__)

MOST: Final = 6
"""Charts in a letter."""
WEEKS: Final = 52
SHARP: Final = 1.5
PLACE: Final = "<!--charts-->"
"""Where a letter has its pictures."""


def sentences_of(told: Sequence[Happening], now: datetime) -> list[tuple[str, str]]:
    """Return the KPIs that a letter tells of, by slug, each with its sentence."""
    kpis = list({row.kpi_id: row.kpi for row in told if row.kpi is not None}.values())
    said = []
    for kpi in kpis[:MOST]:
        try:
            said.append((kpi.slug, told_of_kpi(kpi, now, WEEKS)))
        except RefusalError:
            log.warning("The sentence of KPI %s is not in a letter", kpi.pk)
    return said


def with_pictures(
    html: str, workspace: Workspace, sentences: Sequence[tuple[str, str]], now: datetime
) -> tuple[str, list[MIMEImage]]:
    """Return a letter with the pictures of its charts, each with its sentence as its text.

    What cannot be drawn is told by its sentence alone.
    """
    if not sentences:
        return html.replace(PLACE, ""), []
    wanted = Kpi.objects.filter(workspace=workspace, slug__in=[slug for slug, _ in sentences])
    kpis = {kpi.slug: kpi for kpi in wanted}
    blocks, images = [], []
    with a_renderer() as renderer:
        for slug, sentence in sentences:
            if slug not in kpis:
                continue
            block = f"<p style='margin:18px 0 4px;font-size:15px'>{escape(sentence)}</p>"
            try:
                svg = drawn_of_kpi(kpis[slug], now, WEEKS, renderer.draw)
                png = renderer.as_png(svg, SHARP)
            except RefusalError:
                log.warning("The chart of KPI %s is not in a letter", kpis[slug].pk)
            else:
                image = MIMEImage(png, "png")
                image.add_header("Content-ID", f"<{slug}@chart>")
                image.add_header("Content-Disposition", "inline", filename=f"{slug}.png")
                images.append(image)
                block += (
                    f"<img src='cid:{slug}@chart' alt='{escape(sentence, quote=True)}' "
                    f"width='{IN_LETTER.width}' style='max-width:100%;height:auto'>"
                )
            blocks.append(block)
    return html.replace(PLACE, "".join(blocks)), images
