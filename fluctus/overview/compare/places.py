"""The parts of a KPI by place: what each comes to, and where it is."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any

import pycountry

from fluctus.accounts.models import Workspace
from fluctus.kpis.chart.answers.kpi import numbers_answer
from fluctus.kpis.chart.queries import charts_of_parts
from fluctus.kpis.models import Kpi
from fluctus.overview.compare import shapes
from fluctus.overview.compare.dates import dates_asked, shown_days
from fluctus.overview.compare.measures import MEASURES, Measure
from fluctus.overview.compare.parts import named_parts
from fluctus.overview.models import AreaMap, Place

MOST_PLACES = 300
"""Parts on one map: each has a chart of its own behind it."""


def places_answer(
    kpi: Kpi, now: datetime, measure: Measure, query: dict[str, Any]
) -> shapes.PlacedParts:
    """Return where the parts of a KPI are, with a measure of each over the dates looked at."""
    names, rest = named_parts(kpi, query["part"], MOST_PLACES)
    charts = charts_of_parts(kpi, now, names)
    dates = dates_asked(charts.values(), query)
    places = {
        place.name: place
        for place in Place.objects.filter(workspace=kpi.workspace_id, name__in=names)
    }
    areas = AreaMap.objects.filter(workspace=kpi.workspace_id).defer("features").first()
    area_of = _by_folded_name(areas.names if areas else [])
    parts, unplaced = [], list(rest)
    for name, chart in charts.items():
        value, text = measure.of(chart, dates)
        area, place, country = area_of.get(name.casefold()), places.get(name), None
        if area is None and place is None:
            country = country_of(name)
        if area is None and place is None and country is None:
            unplaced.append(name)
        parts.append(
            shapes.PlacedPart(
                name=name,
                value=value,
                text=text,
                latitude=place.latitude if place else None,
                longitude=place.longitude if place else None,
                area=area,
                country=country,
            )
        )
    numbers = next(iter(charts.values())).words.numbers
    return shapes.PlacedParts(
        kpi=kpi.slug,
        name=kpi.name,
        measure=measure.name,
        measures=[shapes.MeasureChoice(each.name, each.label) for each in MEASURES.values()],
        numbers=numbers_answer(numbers),
        parts=parts,
        unplaced=unplaced,
        areas_file=areas.file_name if areas else "",
        dates=shown_days(charts.values(), dates),
    )


def _by_folded_name(names: Sequence[str]) -> dict[str, str]:
    return {name.casefold(): name for name in names}


def country_of(name: str) -> str | None:
    """Return the number of a country by its name or code; None where it is none."""
    try:
        return str(pycountry.countries.lookup(name.strip()).numeric)
    except LookupError:
        return None


def parts_named(workspace: Workspace, names: Sequence[str]) -> list[str]:
    """Return the parts of any KPI of a workspace that have one of some names."""
    folded = _by_folded_name(names)
    lists = Kpi.objects.filter(workspace=workspace).values_list("breakdowns", flat=True)
    found = {name for breakdowns in lists for name in breakdowns if name.casefold() in folded}
    return sorted(found)
