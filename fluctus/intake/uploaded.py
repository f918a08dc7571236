"""Uploads as they begin: what is known of them, and how they are to be read."""

from collections.abc import Sequence
from typing import Any

from fluctus.http.refusals import RefusalError
from fluctus.intake import shapes
from fluctus.intake.answers import sheet_rows
from fluctus.intake.kept.recognition import as_it_is_written, fitted, recognized
from fluctus.intake.kept.shapes import recognized_answer
from fluctus.intake.models import Import, Upload
from fluctus.intake.queries import last_layout, remembered
from fluctus.intake.requests import plain_mapping
from fluctus.intake.understanding.mapping import Mapping
from fluctus.kpis.models import Kpi
from fluctus.kpis.values.fractions import is_share
from fluctus.tables.formats.table_format import Opened
from fluctus.tables.grid import Grid


def uploaded_answer(
    upload: Upload,
    table: Opened,
    into: Kpi | None,
    told: Mapping | None = None,
    differs: Sequence[str] = (),
) -> shapes.Uploaded:
    """Return an upload, and how a table like it was read: as is ``told``, or is known."""
    last = None if into is None else last_layout(into)
    if last is not None and not _fits(last[0], table.grid.rows(0, 40)):
        last = None
    known = recognized(upload, table.grid) if last is None else None
    mapping = told
    if told is not None:
        known, mapping = None, _readable(told, table.grid)
    elif known is not None:
        mapping, differs = known.mapping, known.differs
    elif last is not None:
        mapping, differs = _fitted(last[1].for_the_next(), table.grid)
    return shapes.Uploaded(
        id=upload.pk,
        name=upload.name,
        sheets=table.sheets,
        last=mapping,
        last_import="the table before it"
        if told is not None
        else last and f"{last[0]}, {last[0].at:%-d %b %Y}",
        recognized=recognized_answer(known) if known else None,
        differs=tuple(differs),
        sheet_rows=sheet_rows(table.grid),
        being_read=False,
    )


def _readable(told: Mapping, grid: Grid) -> Mapping:
    """Return how another table was read; where this one cannot be read so, only its calendar."""
    try:
        as_it_is_written(told, grid)
    except RefusalError:
        return Mapping(
            time_zone=told.time_zone,
            first_weekday=told.first_weekday,
            first_month=told.first_month,
        )
    return told


def _fitted(last: Mapping, grid: Grid) -> tuple[Mapping, tuple[str, ...]]:
    """Return how the newest table of a KPI was read as it fits this one, if it can be read so."""
    try:
        return fitted(last, as_it_is_written(last, grid))
    except RefusalError:
        return last, ()


def being_read(upload: Upload) -> shapes.Uploaded:
    """Return an upload that takes long to read, and is read in the background."""
    return shapes.Uploaded(
        id=upload.pk,
        name=upload.name,
        sheets=(),
        last=None,
        last_import=None,
        recognized=None,
        differs=(),
        sheet_rows=[],
        being_read=True,
    )


def _fits(last: Import, rows: list[tuple[str, ...]]) -> bool:
    """Tell whether a table has the columns of the one that was brought in last."""
    cells = {cell for row in rows for cell in row}
    mapping = Mapping.from_json(last.mapping)
    used = [name for name, role in mapping.roles.items() if role.value not in ("ignore", "note")]
    parts = [name for name in used if name in last.columns]
    return bool(parts) and all(name in cells or name.startswith("Column ") for name in parts)


def mapping_of(data: dict[str, Any], upload: Upload, into: Kpi | None) -> Mapping:
    """Return how an upload is to be read, with what the workspace and its KPI have settled."""
    mapping = remembered(upload.workspace, Mapping.from_json(plain_mapping(data)))
    if into is None:
        return mapping
    # What a KPI has is settled: values come in at its own grain and in its own calendar.
    settled = {
        "grain": into.grain,
        "time_zone": into.time_zone,
        "first_weekday": into.first_weekday,
        "first_month": into.first_month,
        "aggregation": into.aggregation,
        "times": into.times,
        "share": is_share(into),
    }
    return Mapping.from_json(mapping.to_json() | settled)
