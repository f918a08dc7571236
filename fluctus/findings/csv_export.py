"""The log of findings as CSV."""

from collections.abc import Iterable, Iterator

from fluctus.findings.answers import finding_answer
from fluctus.findings.models import Finding, FindingPresence
from fluctus.findings.services import STATE_WORDS
from fluctus.http.csv_cells import as_text

HEADER = [
    "kpi",
    "finding",
    "rule",
    "side",
    "first",
    "last",
    "points",
    "favorable",
    "on_the_chart",
    "state",
    "cause",
    "action",
    "person",
    "due",
    "in_numbers",
]
SIDES = {1: "upper", 0: "", -1: "lower"}
FAVORABLE = {True: "yes", False: "no", None: ""}


def findings_as_csv(findings: Iterable[Finding]) -> Iterator[list[str]]:
    """Write findings row by row, below their names; no cell can run as a formula."""
    yield HEADER
    for row in findings:
        finding = finding_answer(row)
        yield [
            as_text(finding.kpi_name),
            as_text(finding.title),
            finding.rule,
            SIDES[finding.side],
            finding.first,
            finding.last,
            str(finding.points),
            FAVORABLE[finding.favorable],
            "yes" if finding.presence == FindingPresence.PRESENT else "no",
            STATE_WORDS[finding.state],
            as_text(finding.cause),
            as_text(finding.action),
            as_text(finding.person_name),
            finding.due or "",
            as_text(finding.text),
        ]
