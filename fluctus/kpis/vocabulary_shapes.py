"""What the API answers with of what is known in one place, and said on many screens."""

from dataclasses import dataclass

from fluctus.core import Aggregation, Rule
from fluctus.core.analysis import Mark
from fluctus.http.shapes import Shape
from fluctus.kpis.calendar import Grain
from fluctus.kpis.seasons import Follows


@dataclass(frozen=True, slots=True)
class RuleWords(Shape):
    """A detection rule, for people to choose."""

    id: Rule
    name: str
    true_when: str
    mark: Mark
    extended: bool


@dataclass(frozen=True, slots=True)
class FollowsWords(Shape):
    """What limits can follow, and at which grains."""

    id: Follows
    name: str
    grains: list[Grain]


@dataclass(frozen=True, slots=True)
class AggregationWords(Shape):
    """A way in which several values of a period become one."""

    id: Aggregation
    name: str


@dataclass(frozen=True, slots=True)
class Vocabulary(Shape):
    """What is known in one place, and said on many screens."""

    rules: list[RuleWords]
    run_lengths: tuple[int, ...]
    values_for_limits: int
    """Included values from which on there are limits."""
    values_for_firm_limits: int
    follows: list[FollowsWords]
    aggregations: list[AggregationWords]
    values_page: int
    """Values in one answer."""
    list_page: int
    """Events or findings in one answer."""
