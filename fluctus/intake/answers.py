"""Readings and imports as the API gives them."""

from typing import Any

import numpy as np
import polars as pl

from fluctus.accounts.queries import name_of
from fluctus.core import Aggregation
from fluctus.intake.models import Import, Upload
from fluctus.intake.services import is_long, state_for
from fluctus.intake.understanding.mapping import Mapping, Role
from fluctus.intake.understanding.reading import KpiRead, Reading
from fluctus.kpis.calendar import ADVERBS, Grain
from fluctus.kpis.chart.analysis.chart import make_chart
from fluctus.kpis.chart.answers.chart import present_chart, present_kpi
from fluctus.kpis.chart.queries import state_of_kpi
from fluctus.kpis.models import Kpi
from fluctus.kpis.observations.series import Shown, Stored, make_observations
from fluctus.kpis.observations.stored import KEY, read_frame
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.services import Difference, compare
from fluctus.tables.formats.opening import Opened
from fluctus.tables.meaning.dates import EXAMPLES, DateStyle, read_dates
from fluctus.tables.meaning.layout import Layout, period_columns

FIRST_ROWS = 12
CHART_WIDTH = 700
MOST_MARKS = 2_000


def present_reading(
    reading: Reading, table: Opened, upload: Upload, into: Kpi | None, shown: str | None
) -> dict[str, Any]:
    """Give a table as it was understood, and the chart of one of its KPIs as it would be."""
    made = reading.made
    chosen = next((kpi for kpi in reading.kpis if kpi.key == shown), None)
    chosen = chosen or next(iter(reading.chosen or reading.kpis), None)
    difference = None if into is None or chosen is None else compare(into, chosen.points)
    wide = len(period_columns(reading.found)) > 1
    chart = None
    if chosen is not None and chosen.points.height:
        chart = (
            _new_chart(reading, chosen)
            if into is None or difference is None
            else _merged_chart(into, difference)
        )
    return {
        "format": table.format,
        "encoding": table.encoding,
        "sheets": table.sheets,
        "sheet": table.sheet,
        "above": reading.found.above[:5],
        "columns": [
            {
                "name": column.name,
                "kind": column.kind,
                "share": column.share,
                "exceptions": column.exceptions,
                "role": made.roles[column.name],
            }
            for column in reading.columns
        ],
        "first_rows": _first_rows(reading),
        "row_count": len(reading.found),
        "whole": reading.whole,
        "left_out": reading.found.left_out,
        "left_out_count": reading.found.left_out_count,
        "mapping": made.to_json(),
        "layouts": [Layout.LONG, Layout.WIDE] if wide else [Layout.LONG],
        "date_styles": [_style(reading, style) for style in DateStyle],
        "ambiguous_dates": [_style(reading, style) for style in reading.date_styles]
        if len(reading.date_styles) > 1
        else [],
        "missing": reading.missing,
        "sorted_here": reading.sorted_here,
        "repeated": reading.repeated,
        "problems": reading.problems,
        "problem_count": reading.problem_count,
        "kpis": [_kpi(kpi) for kpi in reading.kpis],
        "shown": chosen.key if chosen else None,
        "chart": chart,
        "difference": None
        if difference is None or chart is None
        else _difference(difference, chart["points"]["period"], into),
        "long": is_long(upload),
    }


def _first_rows(reading: Reading) -> list[dict[str, Any]]:
    rows = reading.laid.cells.head(FIRST_ROWS).rows()
    return [
        {"line": line, "cells": cells}
        for line, cells in zip(reading.laid.lines, rows, strict=False)
    ]


def _style(reading: Reading, style: DateStyle) -> dict[str, Any]:
    """Give a way of writing dates, and what the first date of the column would be in it."""
    names = list(reading.made.roles)
    period = next(n for n, name in enumerate(names) if reading.made.roles[name] is Role.PERIOD)
    cells = reading.laid.cells.to_series(period)
    first = next((cell for cell in cells.head(50) if cell), "")
    moment = read_dates([first], style).values[0]
    reads = "" if moment is None else f"{first} is {moment.day} {moment:%B %Y}"
    return {"style": style, "example": EXAMPLES[style], "reads": reads}


def _kpi(kpi: KpiRead) -> dict[str, Any]:
    names = kpi.points["breakdown"].unique(maintain_order=True)
    return {
        "key": kpi.key,
        "choice": kpi.choice,
        "name": kpi.name,
        "unit": kpi.unit,
        "decimals": kpi.decimals,
        "why": kpi.why,
        "running_total": kpi.running_total,
        "resets": kpi.resets,
        "row_count": kpi.row_count,
        "combined": kpi.combined,
        "value_count": kpi.points.height,
        "rounded": kpi.rounded,
        "breakdowns": [name for name in names if name][:50],
    }


def _chart(
    state: ChartState, grain: Grain, points: pl.DataFrame, kpi: Kpi | None
) -> dict[str, Any]:
    def floats(name: str) -> Any:
        return points[name].cast(pl.Float64).fill_null(float("nan")).to_numpy()

    aside = points.filter("set_aside")
    stored = Stored(
        instants=floats("period"),
        values=floats("value"),
        numerators=floats("numerator"),
        denominators=floats("denominator"),
        targets=floats("target"),
        rows=points["rows"].to_numpy().astype(np.intp),
        set_aside=points["set_aside"].to_numpy(),
        reasons=dict(zip(aside["period"], aside["reason"], strict=True)),
        notes={},
    )
    shown = Shown(grain, grain, state.calendar, Aggregation(state.aggregation))
    observations = make_observations(stored, shown)
    own = present_kpi(state, observations, slug=kpi.slug if kpi else "")
    return present_chart(own, make_chart(observations, state), CHART_WIDTH)


def _new_chart(reading: Reading, kpi: KpiRead) -> dict[str, Any]:
    state = state_for(reading, kpi)
    grain = reading.made.grain
    assert grain is not None, "a reading has settled the grain"
    if not state.name.strip():
        state = state.with_changes({"name": "This KPI"})
    return _chart(state, grain, kpi.points, None)


def _merged_chart(into: Kpi, difference: Difference) -> dict[str, Any]:
    """Draw a KPI as it would be with everything new and changed, what is missing still there."""
    present = read_frame(into).drop("written_by")
    kept = present.join(difference.changed, on=KEY, how="anti")
    merged = pl.concat([kept, difference.changed, difference.new]).sort(KEY)
    return _chart(state_of_kpi(into), Grain(into.grain), merged, into)


def _difference(difference: Difference, periods: list[str], into: Kpi | None) -> dict[str, Any]:
    assert into is not None, "a difference is to a KPI that is there"
    calendar = state_of_kpi(into).calendar
    grain = Grain(into.grain)
    places = {text: n for n, text in enumerate(periods)}

    def marks(frame: pl.DataFrame) -> list[int]:
        local = calendar.local(frame["period"].unique().tail(MOST_MARKS).to_numpy())
        if grain is Grain.HOUR:
            return []
        texts = local.dt.strftime("%Y-%m-%d")
        return sorted(places[text] for text in texts if text in places)

    return {
        "counts": difference.counts(),
        "new": marks(difference.new),
        "changed": marks(difference.changed),
        "missing": marks(difference.missing),
    }


def present_import(one: Import) -> dict[str, Any]:
    """Give an import as the log shows it."""
    return {
        "id": one.pk,
        "at": one.at.isoformat(),
        "person": name_of(one.person),
        "file_name": one.file_name,
        "size": one.size,
        "checksum": one.checksum,
        "status": one.standing,
        "stage": one.stage,
        "progress": one.progress,
        "rows": one.rows,
        "parts": [
            {
                "name": part.name,
                "slug": part.kpi.slug if part.kpi else None,
                "created": part.created,
                "counts": part.counts,
            }
            for part in one.parts.all()
        ],
        "left_out": one.left_out,
        "left_out_count": one.left_out_count,
        "read_as": _read_as(one),
        "problem": one.problem,
    }


def _read_as(one: Import) -> str:
    """Say how a table was read: ``Week as the period, Turnaround (min) as the value; weekly``."""
    mapping = Mapping.from_json(one.mapping)
    order = list(Role)
    used = sorted(mapping.roles.items(), key=lambda pair: order.index(pair[1]))
    roles = [f"{name} as the {role}" for name, role in used if role is not Role.IGNORE]
    grain = "" if mapping.grain is None else ADVERBS[mapping.grain]
    return "; ".join(part for part in (", ".join(roles), grain) if part)
