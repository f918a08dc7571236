"""Words for a value that is not there."""

from typing import Final

MISSING: Final = frozenset(
    {
        *("", "-", "--", "---", "\N{EN DASH}", "\N{EM DASH}", ".", "..", "...", "?", "/"),
        *("n/a", "na", "n.a.", "nan", "null", "none", "nil", "k.a.", "n.v.", "n.d.", "s/d"),
        *("k. a.", "n.b.", "s.d.", "b.d.", "entf\u00e4llt", "brak danych"),
        *("missing", "no data", "not available", "not measured", "no value", "no reading"),
        *("(blank)", "(empty)", "blank", "empty", "tbd", "tba", "pending", "unknown"),
        *("#n/a", "#n/a n/a", "#div/0!", "#value!", "#ref!", "#name?", "#num!", "#null!"),
        *("#spill!", "#calc!", "#getting_data", "#error!", "#blocked!", "#field!"),
    }
)
"""The usual ones, in lower case."""


def is_missing(cell: str) -> bool:
    """Tell whether a cell says that there is no value."""
    return cell.lower() in MISSING
