"""What can be handed over. A new one is a module here, its member of ``Format``, and its line."""

from typing import Final

from fluctus.reports.models import Format
from fluctus.reports.outputs.output import Output
from fluctus.reports.outputs.package import PACKAGE
from fluctus.reports.outputs.pages import PAGES
from fluctus.reports.outputs.slides import SLIDES
from fluctus.reports.outputs.workbook import WORKBOOK

OUTPUTS: Final[dict[Format, Output]] = {
    output.format: output for output in (PAGES, SLIDES, WORKBOOK, PACKAGE)
}


def output_of(format: str) -> Output:
    """Return what a format is."""
    return OUTPUTS[Format(format)]
