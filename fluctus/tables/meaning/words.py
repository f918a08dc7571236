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
NOTE = re.compile(
    r"\b(notes?|comments?|remarks?|reason|text|description|bemerkung|kommentar|notiz|remarque"
    r"|commentaire|comentario|observaci\w+|nota|opmerking|uwagi)\b",
    re.IGNORECASE,
)
"""What a column of remarks is called."""
TOTAL_WORDS = (
    r"(grand[ -]?|sub[ -]?)?totals?( (for|of|per|all|overall|sum|general)\b.*)?|sum|overall"
    r"|(zwischen|gesamt|teil)?(summe|gesamtergebnis|ergebnis|gesamt)|insgesamt|sous-total"
    r"|total (g\u00e9n\u00e9ral|general|geral)|totale|totales|suma|somme|soma|totaal|eindtotaal"
    r"|razem|og\u00f3\u0142em|celkem|yhteens\u00e4|i alt|sammanlagt|summa|totalt"
    r"|(genel )?toplam|jumlah"
    r"|\u0438\u0442\u043e\u0433\u043e|\u0432\u0441\u0435\u0433\u043e|\u5408\u8ba1|\u603b\u8ba1"
    r"|\u5408\u8a08|\u7dcf\u8a08|\u0627\u0644\u0645\u062c\u0645\u0648\u0639|\u0915\u0941\u0932"
)
TOTAL = re.compile(rf"({TOTAL_WORDS})[\W\d]*", re.IGNORECASE)
"""What a row or a column of totals is called."""
MEAN = re.compile(
    r"(average|avg\.?|mean|durchschnitt|mittelwert|moyenne|promedio|media|gemiddelde|\u015brednia)"
    r"\b[^a-z]*",
    re.IGNORECASE,
)
AT_THE_END = re.compile(r"(?P<name>.+?)(?:\s*,\s*(?:in\s+)?|\s+in\s+)(?P<unit>[^\s,]+|per cent)$")
IN_BRACKETS = re.compile(r"(?P<name>.+?)\s*[(\[](?P<unit>[^)\]]{1,20})[)\]]")


HUMPS = re.compile(r"(?<=[a-z][a-z0-9])(?=[A-Z][a-z])|(?<=[a-z]{3})(?=[A-Z])")
"""Where a name in one word goes on with the next; not within ``kWh`` or ``NOx``."""
CAPITALS = re.compile(r"[A-Z]")


def as_words(name: str) -> str:
    """Return a name as words: ``ramp_time`` and ``RampTime`` are "ramp time" and "Ramp Time".

    Units and signs of matter keep their letters together, as ``kWh``, ``pH`` and ``NOx`` do.
    """
    return HUMPS.sub(" ", name.replace("_", " ")).strip()


def readable(name: str) -> str:
    """Return a name as people would write it: ``CarsLeftBehind`` is "Cars left behind"."""
    words = as_words(name)
    if words == name:
        return name
    first, *rest = words.split()
    lowered = (
        word if CAPITALS.search(word[1:]) or word.isupper() else word.lower() for word in rest
    )
    begun = first if CAPITALS.search(first[1:]) else first[:1].upper() + first[1:]
    return " ".join([begun, *lowered])


def listed(text: str) -> frozenset[str]:
    """Return the words of a list with commas between them."""
    return frozenset(word.strip() for word in text.split(","))


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
