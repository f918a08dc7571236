"""Units and currencies that stand in cells beside their numbers, and what sure conversions are."""

import re
import unicodedata
from functools import cache
from typing import Final

import pycountry

from fluctus.tables.meaning.words import UNITS

LAST_OF_THE_PLANE: Final = 0xFFFF
SIGNS: Final = "".join(
    chr(code) for code in range(LAST_OF_THE_PLANE) if unicodedata.category(chr(code)) == "Sc"
)
"""The currency signs of Unicode that are in use."""
CURRENCY_WORDS: Final = (
    "Rs|Rp|RM|kr|z\N{LATIN SMALL LETTER L WITH STROKE}|K\N{LATIN SMALL LETTER C WITH CARON}|Ft"
    "|lei|SFr|Fr|Bs"
)
NO_LETTER: Final = r"(?<![^\W\d_])", r"(?![^\W\d_])"
CODES: Final = "|".join(sorted(one.alpha_3 for one in pycountry.currencies))
CURRENCY: Final = re.compile(
    rf"(?:[A-Z]{{1,3}})?\$|[{re.escape(SIGNS)}]"
    rf"|{NO_LETTER[0]}(?:{CODES}|{CURRENCY_WORDS}|(?i:eur|usd|gbp|chf|nok|sek|dkk|kr))"
    rf"{NO_LETTER[1]}\.?"
)
SAME_CURRENCY: Final = {
    "\N{EURO SIGN}": "EUR",
    "\N{POUND SIGN}": "GBP",
    "\N{INDIAN RUPEE SIGN}": "INR",
    "Rs": "INR",
}
"""Signs that are of one currency alone."""
AMBIGUOUS: Final = frozenset({"m", "no.", "count", "mm:ss"})
"""Metres, or millions: not taken for a unit where it stands in a cell."""
FRACTION: Final = "a fraction"

SIZES: Final[tuple[dict[str, float], ...]] = (
    {"mg": 1e-6, "g": 1e-3, "kg": 1.0, "t": 1e3, "lb": 0.45359237, "oz": 0.028349523125},
    {"ms": 1e-3, "s": 1.0, "min": 60.0, "h": 3600.0, "d": 86_400.0},
    {"mm": 1e-3, "cm": 1e-2, "m": 1.0, "km": 1e3, "mi": 1609.344, "ft": 0.3048, "nmi": 1852.0},
    {"mL": 1e-3, "cl": 1e-2, "L": 1.0, "m3": 1e3, "hl": 1e2},
    {"Wh": 1e-3, "kWh": 1.0, "MWh": 1e3, "GWh": 1e6},
    {"W": 1e-3, "kW": 1.0, "MW": 1e3},
    {"km/h": 1.0, "m/s": 3.6, "kn": 1.852, "mph": 1.609344},
    {"%": 1.0, FRACTION: 100.0},
)
"""Units of one kind with what each is of another: SI Brochure, 9th edition, tables 2, 5 and 8;
international pound, ounce, foot and mile by the agreement of 1959, which NIST SP 811 gives."""
EXTRA: Final = frozenset(
    {"\N{DEGREE SIGN}", "\N{DEGREE SIGN}f", "pa", "kpa", "hpa", "mbar", "bar", "v", "kva", "hz"}
    | {"rpm", "ph", "db", "ppb", "pax", "pers", "teu", "ltr", "gal"}
)
"""Units that are converted to no other, in small letters; shown as they are written."""
SHOWN: Final = {unit.lower(): unit for sizes in SIZES for unit in sizes}


def known_unit(text: str) -> str | None:
    """Return a unit as it is shown; None where ``text`` is none that is known."""
    bare = text.strip().rstrip(".").replace("\N{SUPERSCRIPT TWO}", "2")
    bare = bare.replace("\N{SUPERSCRIPT THREE}", "3")
    if bare in AMBIGUOUS:
        return None
    lower = bare.lower()
    return UNITS.get(lower) or SHOWN.get(lower) or (bare if lower in EXTRA else None)


def factor(unit: str, to: str) -> float | None:
    """Return what an amount in one unit is multiplied by to be in another; None where unsure."""
    if unit == to:
        return 1.0
    sizes = next((sizes for sizes in SIZES if unit in sizes and to in sizes), None)
    return None if sizes is None else sizes[unit] / sizes[to]


@cache
def same_unit(unit: str) -> str:
    """Return what a unit is held against others by: a sign and a code of one currency are one."""
    return SAME_CURRENCY.get(unit.rstrip("."), unit.rstrip("."))
