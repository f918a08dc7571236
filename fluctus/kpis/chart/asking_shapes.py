"""What a chart asks people about: places where it may have shifted, values far off."""

from dataclasses import dataclass

from fluctus.http.shapes import Shape


@dataclass(frozen=True, slots=True)
class Candidate(Shape):
    """A place where the process may have shifted, that nobody has decided on."""

    period: str
    label: str
    position: int
    first: int
    """First position where it likely began."""
    last: int
    evidence: bool
    """Whether there is evidence that something changed here."""
    run: bool
    """Whether a run begins here."""
    support: int
    """Values that support it."""
    text: str
    likely: str
    """When it likely began, in words."""


@dataclass(frozen=True, slots=True)
class FarOff(Shape):
    """A value far off the others, to be asked about."""

    position: int
    period: str
    label: str
    value: str
    """With its unit."""
