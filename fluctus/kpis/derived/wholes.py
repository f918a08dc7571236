"""Names that say that one thing is a part of another: departures on time, and departures."""

import re
from typing import Final

PART: Final = re.compile(
    r"\b(on[ -]?time|late|delayed|early|defects?|defectives?|fail(s|ed|ures?)?|pass(ed|es)?|ok|good"
    r"|bad|errors?|faults?|faulty|reject(s|ed|ions?)?|scrap(ped)?|rework(ed)?|returned|returns"
    r"|complaints|cancell?ed|cancell?ations?|missed|met|lost|won|damaged|answered|abandoned|solved"
    r"|resolved|completed|done|absent|no[ -]?shows?|used|occupied|correct|wrong|within|accepted"
    r"|positive|converted|conversions|incidents|injuries|overdue|open|broken|first[ -]time)\b",
    re.IGNORECASE,
)
WHOLE: Final = re.compile(
    r"\b(total|all|departures|arrivals|sailings|crossings|trips|flights|units|parts|pieces|made"
    r"|produced|output|orders|deliveries|shipments|lines|calls|tickets|cases|visits|visitors"
    r"|tests|tested|samples|inspected|inspections|checked|checks|planned|scheduled|offered"
    r"|capacity|seats|beds|slots|opportunities|invoices|items|patients|customers|passengers"
    r"|vehicles|bookings|requests|jobs|hours|shifts|audits|transactions|applications|attempts)\b",
    re.IGNORECASE,
)


def named_part_of(part: str, whole: str) -> bool:
    """Tell whether two names say that the first is a part of the second."""
    part, whole = part.lower(), whole.lower()
    contains = part != whole and bool(re.search(rf"\b{re.escape(whole)}\b", part))
    is_part = bool(PART.search(part)) and not PART.search(whole)
    return contains or (is_part and bool(WHOLE.search(whole)))
