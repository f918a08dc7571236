"""Places from a table: a name, its latitude and its longitude, in any order of columns."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from fluctus.tables.calendar_file import Broken
from fluctus.tables.formats.opening import open_table
from fluctus.tables.grid import TableError
from fluctus.tables.meaning.numbers import read_numbers

UNIT = r"\s*([(\[°].*)?"
"""What may stand behind the name of a coordinate: ``(°)``, ``[deg]``; no other word."""
LATITUDE = re.compile(rf"\s*(geo[ _-]?)?(lat|latitude|breite|breitengrad){UNIT}", re.IGNORECASE)
LONGITUDE = re.compile(
    rf"\s*(geo[ _-]?)?(lon|lng|long|longitude|länge|längengrad){UNIT}", re.IGNORECASE
)
NO_COLUMNS = (
    "No columns of latitude and longitude were found. "
    "Name them so in the first row, beside a column of names."
)
NO_NAMES = "There is no column of names beside the coordinates. Add one, such as quay or vessel."
NAME = 120


@dataclass(frozen=True, slots=True)
class PlaceRow:
    """A place in degrees: ``latitude`` from -90 to 90, ``longitude`` from -180 to 180."""

    name: str
    latitude: float
    longitude: float


@dataclass(frozen=True, slots=True)
class PlacesRead:
    """The places of a table, each once, and the lines that hold none."""

    places: list[PlaceRow]
    broken: list[Broken]


def read_places(content: bytes, exchange: bool = False) -> PlacesRead:
    """Read a table of places; ``exchange`` takes each coordinate for the other.

    Rows of one name must agree; the first counts. Raises TableError where there are no columns
    of coordinates, or of names.
    """
    grid = open_table(content).grid
    columns = [grid.cells[column].to_list() for column in grid.cells.columns]
    heads = [column[0] if column else "" for column in columns]
    latitude = next((n for n, head in enumerate(heads) if LATITUDE.fullmatch(head)), None)
    longitude = next((n for n, head in enumerate(heads) if LONGITUDE.fullmatch(head)), None)
    if latitude is None or longitude is None:
        raise TableError(NO_COLUMNS)
    others = [n for n in range(len(columns)) if n not in (latitude, longitude)]
    named = next((n for n in others if _are_names(columns[n][1:])), None)
    if named is None:
        raise TableError(NO_NAMES)
    if exchange:
        latitude, longitude = longitude, latitude
    return place_rows(
        grid.lines.to_list()[1:], columns[named][1:], columns[latitude][1:], columns[longitude][1:]
    )


def place_rows(
    lines: Sequence[int], names: Sequence[str], latitudes: Sequence[str], longitudes: Sequence[str]
) -> PlacesRead:
    """Read the cells of rows with a place each; rows of one name must agree, the first counts."""
    norths, easts = read_numbers(latitudes).values, read_numbers(longitudes).values
    places: dict[str, PlaceRow] = {}
    broken: list[Broken] = []
    for line, cell, north, east in zip(lines, names, norths, easts, strict=True):
        name = cell.strip()[:NAME]
        problem = _problem(name, north, east, places.get(name))
        if problem is not None:
            broken.append(Broken(line, *problem))
        elif name not in places and north is not None and east is not None:
            places[name] = PlaceRow(name, north, east)
    return PlacesRead(list(places.values()), broken)


def _are_names(cells: list[str]) -> bool:
    return any(re.search(r"[^\W\d_]{2}", cell) for cell in cells)


def _problem(
    name: str, north: float | None, east: float | None, before: PlaceRow | None
) -> tuple[str, str] | None:
    """Say what is wrong with a row, and what to do; None where nothing is."""
    if not name:
        return "This row has no name.", "Write one."
    if north is None or east is None:
        return (
            f"{name} has no coordinates that can be read.",
            "Write degrees, as in 57.21 and -5.98.",
        )
    if abs(north) > 90:
        if abs(north) <= 180 and abs(east) <= 90:
            return (
                f"The latitude of {name} is {north:g}, past the pole.",
                "Latitude and longitude may be exchanged: exchange them.",
            )
        return f"The latitude of {name} is {north:g}.", "It goes from -90 to 90 degrees."
    if abs(east) > 180:
        return f"The longitude of {name} is {east:g}.", "It goes from -180 to 180 degrees."
    if before is not None and (before.latitude, before.longitude) != (north, east):
        return f"{name} is in two places.", "Leave one of them."
    return None
