"""The words of a table: names as people would write them, and units."""

import re

UNITS = {
    "%": "%",
    "percent": "%",
    "per cent": "%",
    "pct": "%",
    "s": "s",
    "sec": "s",
    "secs": "s",
    "second": "s",
    "seconds": "s",
    "ms": "ms",
    "milliseconds": "ms",
    "min": "min",
    "mins": "min",
    "minute": "min",
    "minutes": "min",
    "mm:ss": "min",
    "h": "h",
    "hr": "h",
    "hrs": "h",
    "hour": "h",
    "hours": "h",
    "d": "d",
    "days": "d",
    "kg": "kg",
    "g": "g",
    "t": "t",
    "tonnes": "t",
    "tons": "t",
    "l": "L",
    "litres": "L",
    "liters": "L",
    "m": "m",
    "km": "km",
    "m3": "m3",
    "m2": "m2",
    "km/h": "km/h",
    "kn": "kn",
    "knots": "kn",
    "kwh": "kWh",
    "kw": "kW",
    "mwh": "MWh",
    "eur": "EUR",
    "usd": "USD",
    "gbp": "GBP",
    "chf": "CHF",
    "nok": "NOK",
    "sek": "SEK",
    "dkk": "DKK",
    "\N{EURO SIGN}": "\N{EURO SIGN}",
    "$": "$",
    "\N{POUND SIGN}": "\N{POUND SIGN}",
    "kr": "kr",
    "\N{DEGREE SIGN}c": "\N{DEGREE SIGN}C",
    "ppm": "ppm",
    "pcs": "pcs",
    "no.": "",
    "count": "",
}
"""Units by the ways they are written in small letters, each with the way it is shown."""
AT_THE_END = re.compile(r"(?P<name>.+?)(?:\s*,\s*(?:in\s+)?|\s+in\s+)(?P<unit>[^\s,]+|per cent)$")
IN_BRACKETS = re.compile(r"(?P<name>.+?)\s*[(\[](?P<unit>[^)\]]{1,20})[)\]]")


def as_words(name: str) -> str:
    """Return a name as words: ``ramp_time`` and ``RampTime`` are "ramp time" and "Ramp Time"."""
    return re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", name.replace("_", " ")).strip()


def readable(name: str) -> str:
    """Return a name as people would write it: ``CarsLeftBehind`` is "Cars left behind"."""
    words = as_words(name)
    if words == name:
        return name
    first, *rest = words.split()
    lowered = (word if word.isupper() else word.lower() for word in rest)
    return " ".join([first[:1].upper() + first[1:], *lowered])


def is_unit(text: str) -> bool:
    """Tell whether a text is a unit and nothing else."""
    return text.strip().strip("()[]").strip().lower() in UNITS


def split_unit(header: str) -> tuple[str, str]:
    """Split ``Turnaround (min)``, or ``Ramp time, seconds``, into a name and a unit.

    A number in brackets, as tables give it to a second column of one name, is no unit.
    """
    if header.endswith("%") and len(header) > 1:
        return header.rstrip("% "), "%"
    if match := IN_BRACKETS.fullmatch(header):
        return (header, "") if match["unit"].strip().isdecimal() else (match["name"], match["unit"])
    match = AT_THE_END.fullmatch(header)
    if match and match["unit"].lower() in UNITS and len(match["unit"]) > 1:
        return match["name"], UNITS[match["unit"].lower()]
    return header, ""
