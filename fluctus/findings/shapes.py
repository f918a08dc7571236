"""What the API answers with of findings."""

from dataclasses import dataclass

from fluctus.accounts.shapes import NamedPerson
from fluctus.core import Rule, Side
from fluctus.core.analysis import Mark
from fluctus.findings.models import FindingPresence, FindingState
from fluctus.http.shapes import Shape


@dataclass(frozen=True, slots=True)
class Evidence(Shape):
    """A signal that says the same as the one a finding leads with."""

    rule: Rule
    title: str
    text: str


@dataclass(frozen=True, slots=True)
class Finding(Shape):
    """A finding."""

    id: int
    kpi: str
    kpi_name: str
    rule: Rule
    mark: Mark
    side: Side
    first: str
    last: str
    label: str
    points: int
    title: str
    text: str
    evidence: list[Evidence]
    """What else says the same."""
    favorable: bool | None
    state: FindingState
    presence: FindingPresence
    cause: str
    action: str
    person: str | None
    """By username."""
    person_name: str
    due: str | None
    version: int
    is_new: bool
    """Whether it was found since this person looked before."""


@dataclass(frozen=True, slots=True)
class StateCounts(Shape):
    """How many findings are in each state."""

    open: int
    looking: int
    explained: int
    aside: int
    shift: int


@dataclass(frozen=True, slots=True)
class Log(Shape):
    """A stretch of the findings of a workspace, newest first."""

    count: int
    start: int
    counts: StateCounts
    new: int
    """How many of them were found since this person looked before."""
    since: str | None
    """When that was; null for somebody who has not looked yet."""
    findings: list[Finding]
    people: list[NamedPerson]


@dataclass(frozen=True, slots=True)
class New(Shape):
    """How many findings came since a person last looked, and how many have no cause."""

    new: int
    open: int


@dataclass(frozen=True, slots=True)
class News(Shape):
    """How many findings of a workspace came since a person last looked through them."""

    workspace: str
    new: int


@dataclass(frozen=True, slots=True)
class Reason(Shape):
    """One thing that says why a finding is flagged."""

    name: str
    text: str


@dataclass(frozen=True, slots=True)
class Entry(Shape):
    """A remark, or something that happened; an author of "" is the data."""

    id: int
    author: str
    at: str
    remark: bool
    text: str


@dataclass(frozen=True, slots=True)
class NearFinding(Shape):
    """A finding of another KPI near this one."""

    kpi: str
    kpi_name: str
    title: str
    label: str
    when: str


@dataclass(frozen=True, slots=True)
class NearEvent(Shape):
    """An event near a finding."""

    title: str
    first: str
    last: str
    when: str


@dataclass(frozen=True, slots=True)
class NearImport(Shape):
    """Data that came in near a finding."""

    kpi: str
    kpi_name: str
    title: str
    author: str
    when: str


@dataclass(frozen=True, slots=True)
class Surroundings(Shape):
    """What else was going on."""

    findings: list[NearFinding]
    events: list[NearEvent]
    states: list[NearEvent]
    imports: list[NearImport]


@dataclass(frozen=True, slots=True)
class Stretch(Shape):
    """Periods from the first to the last."""

    first: str
    last: str


@dataclass(frozen=True, slots=True)
class FindingDetail(Finding):
    """A finding with why it is flagged, what was said, and what else was going on."""

    shared_out: Stretch | None
    """The periods whose value can be shared out among parts; null where it has none."""
    why: list[Reason]
    entries: list[Entry]
    surroundings: Surroundings
    people: list[NamedPerson]
