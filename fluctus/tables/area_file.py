"""Areas from a GeoJSON file (RFC 7946), made as simple as a screen can show."""

from dataclasses import dataclass
from typing import Any

import orjson
import shapely
from shapely.geometry import mapping, shape

from fluctus.tables.grid import TableError

MOST_BYTES = 8_000_000
MOST_AREAS = 2_000
DETAIL = 1_500
"""Steps that the width of all areas is drawn in; finer corners are left out."""
NAMES = ("name", "NAME", "Name", "title", "label", "id")
TOO_LARGE = (
    "This file has {megabytes:.0f} MB, and areas may have {most:.0f} MB. "
    "Make its borders simpler, or leave areas out, and bring it again."
)
NO_GEOJSON = "This is no GeoJSON with areas. Bring a FeatureCollection of polygons with names."
NO_NAMES = (
    "The areas have no names. Give each feature a property called name, as its part is called."
)
EXCHANGED = (
    "Some of its latitudes are past the pole. "
    "Its coordinates may be exchanged: GeoJSON has longitude first, then latitude."
)
OUTSIDE = "Its coordinates are no degrees. Save the file in longitude and latitude (WGS 84)."


@dataclass(frozen=True, slots=True)
class Area:
    """A named area; ``geometry`` is a GeoJSON Polygon or MultiPolygon in degrees."""

    name: str
    geometry: dict[str, Any]


def read_areas(content: bytes) -> list[Area]:
    """Read the areas of a file, each name once.

    Raises TableError for a file that is too large, damaged, without areas or names, or whose
    coordinates are exchanged or no degrees.
    """
    refuse_size(len(content))
    try:
        document = orjson.loads(content)
    except orjson.JSONDecodeError as error:
        raise TableError(f"This file is damaged: {error}. Save it again as GeoJSON.") from error
    found: dict[str, list[Any]] = {}
    for feature in _features(document):
        name = _name(feature)
        if name:
            found.setdefault(name, []).append(_polygon(feature))
    if not found:
        raise TableError(NO_NAMES)
    if len(found) > MOST_AREAS:
        raise TableError(f"There are {len(found):,} areas. Bring {MOST_AREAS:,} at most.")
    whole = {name: shapely.union_all(polygons) for name, polygons in found.items()}
    west, south, east, north = shapely.total_bounds(list(whole.values()))
    if max(abs(south), abs(north)) > 90:
        exchanged = max(abs(south), abs(north)) <= 180 and max(abs(west), abs(east)) <= 90
        raise TableError(EXCHANGED if exchanged else OUTSIDE)
    if max(abs(west), abs(east)) > 180:
        raise TableError(OUTSIDE)
    step = max(east - west, north - south) / DETAIL
    return [Area(name, _simple(area, step)) for name, area in whole.items()]


def refuse_size(size: int) -> None:
    """Raise TableError for a file of too many bytes."""
    if size > MOST_BYTES:
        raise TableError(TOO_LARGE.format(megabytes=size / 1e6, most=MOST_BYTES / 1e6))


def _features(document: Any) -> list[dict[str, Any]]:
    if not isinstance(document, dict):
        raise TableError(NO_GEOJSON)
    features = (
        document.get("features") if document.get("type") == "FeatureCollection" else [document]
    )
    if not isinstance(features, list):
        raise TableError(NO_GEOJSON)
    areas = [
        feature
        for feature in features
        if isinstance(feature, dict)
        and isinstance(feature.get("geometry"), dict)
        and feature["geometry"].get("type") in ("Polygon", "MultiPolygon")
    ]
    if not areas:
        raise TableError(NO_GEOJSON)
    return areas


def _name(feature: dict[str, Any]) -> str:
    properties = feature.get("properties")
    named = properties if isinstance(properties, dict) else {}
    for key in NAMES:
        value = named.get(key, feature.get(key))
        if isinstance(value, str | int) and str(value).strip():
            return str(value).strip()[:120]
    return ""


def _polygon(feature: dict[str, Any]) -> Any:
    try:
        polygon = shape(feature["geometry"])
        return polygon if polygon.is_valid else shapely.make_valid(polygon)
    except (ValueError, TypeError, IndexError, KeyError, shapely.GEOSException) as error:
        name = _name(feature)
        raise TableError(f"The border of {name} cannot be read. Save the file again.") from error


def _simple(area: Any, step: float) -> dict[str, Any]:
    """Leave out corners that no screen shows; a small area keeps its own."""
    simple = shapely.simplify(area, step, preserve_topology=True)
    parts = [part for part in shapely.get_parts(simple) if part.geom_type == "Polygon"]
    rounded = shapely.set_precision(shapely.MultiPolygon(parts), 1e-5)
    return dict(mapping(rounded if not rounded.is_empty else area))
