"""The Frictionless Data Package, as a descriptor with its data in it."""

from fluctus.tables.formats.kinds.archived_package import NAME, package_of
from fluctus.tables.formats.table_format import Source, TableFormat

FAR_ENOUGH = 100_000
"""Characters within which a descriptor says that it is one."""


def _recognizes(source: Source) -> bool:
    text = source.text
    return text.lstrip()[:1] == "{" and '"resources"' in text[:FAR_ENOUGH]


DESCRIBED_PACKAGE = TableFormat(
    NAME, (".json",), _recognizes, lambda source, sheet: package_of(source.text.encode(), sheet)
)
