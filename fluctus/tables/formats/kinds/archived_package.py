"""The Frictionless Data Package, as an archive."""

from fluctus.tables.formats.records import read_package
from fluctus.tables.formats.table_format import Opened, Source, TableFormat

NAME = "Data Package"


def _recognizes(source: Source) -> bool:
    return any(name.split("/")[-1] == "datapackage.json" for name in source.members)


def package_of(raw: bytes, sheet: str | None) -> Opened:
    """Return one resource of a package."""
    grid, resources = read_package(raw, sheet)
    return Opened(grid, NAME, "", tuple(resources), sheet or resources[0])


ARCHIVED_PACKAGE = TableFormat(
    NAME, (".zip",), _recognizes, lambda source, sheet: package_of(source.raw, sheet)
)
