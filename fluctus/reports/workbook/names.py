"""The names of the sheets of a workbook."""

import re


def sheet_name(name: str, taken: set[str]) -> str:
    """Return a name that a sheet can have: short, of its own, and without the signs it may not."""
    plain = re.sub(r"[\[\]:*?/\\']", " ", name).strip()[:28] or "Chart"
    chosen, number = plain, 2
    while chosen.lower() in taken or chosen.lower() == "history":
        chosen, number = f"{plain[:25]} {number}", number + 1
    taken.add(chosen.lower())
    return chosen
