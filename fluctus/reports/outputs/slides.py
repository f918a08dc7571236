"""A report on slides: PPTX."""

from fluctus.reports.asked import Asked
from fluctus.reports.contents import ON_SLIDE, Contents
from fluctus.reports.models import Format
from fluctus.reports.outputs.output import FromPictures, Output


def _make(contents: Contents, asked: Asked) -> tuple[bytes, int]:
    from fluctus.reports.paper.slides import as_slides  # noqa: PLC0415 - see FromPictures

    return as_slides(contents)


SLIDES = Output(
    Format.SLIDES,
    "slides",
    "pptx",
    "application/vnd.openxmlformats-officedocument.presentationml.presentation",
    FromPictures(ON_SLIDE, "Setting the slides", _make),
)
