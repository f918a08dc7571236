"""The files of a package and the fields of each."""

from typing import Any, Final

from fluctus.tables.package_file import Fields

FORMAT: Final = 1
"""Raised when a package of this version could not be read by the one before."""
NOT_BROUGHT: Final = "The package was not brought in; nothing was saved."
IMPROVEMENTS_FILE: Final = "improvements.csv"
DESCRIPTOR: Final = "datapackage.json"
NUMBER, TEXT, FLAG, COUNT = "number", "string", "boolean", "integer"

VALUES: Final[dict[str, str]] = {
    "period": "datetime",
    "breakdown": TEXT,
    "value": NUMBER,
    "numerator": NUMBER,
    "denominator": NUMBER,
    "target": NUMBER,
    "target_high": NUMBER,
    "rows": COUNT,
    "note": TEXT,
    "set_aside": FLAG,
    "reason": TEXT,
}
"""Of values.csv: a period by its start, with the offset of its time zone then."""
EVENTS: Final = ["uid", "title", "kind", "text", "first", "last", "everywhere", "kpis"]
FINDINGS: Final = [
    "kpi",
    "rule",
    "first",
    "last",
    "title",
    "state",
    "cause",
    "action",
    "person",
    "due",
    "in_numbers",
]
IMPROVEMENTS: Final = [
    "improvement",
    "name",
    "text",
    "began",
    "kpi",
    "wanted",
    "amount",
    "by",
    "worth",
    "worth_unit",
    "state",
    "in_numbers",
]
"""A row for each KPI that an improvement is to move; ``improvement`` numbers these."""
LIMITS: Final = [
    "segment",
    "start",
    "values",
    "average",
    "average_moving_range",
    "lower_limit",
    "upper_limit",
    "upper_range_limit",
]


READ_FIELDS: Final = Fields(
    descriptor=DESCRIPTOR,
    extension="fluctus",
    values={
        name: {"datetime": "text", TEXT: "text", NUMBER: "number", COUNT: "count", FLAG: "mark"}[
            kind
        ]
        for name, kind in VALUES.items()
    },
    tables={
        "events.csv": tuple(EVENTS),
        "findings.csv": tuple(FINDINGS),
        IMPROVEMENTS_FILE: tuple(IMPROVEMENTS),
    },
)
"""What is read of a package that comes in."""


def resource(name: str, path: str, fields: dict[str, str], **more: Any) -> dict[str, Any]:
    """Describe a file of the package."""
    described = [{"name": field, "type": kind} for field, kind in fields.items()]
    schema = {"fields": described, "missingValues": [""]}
    return {
        "name": name,
        "path": path,
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "schema": schema,
    } | more
