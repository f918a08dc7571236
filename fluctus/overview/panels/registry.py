"""The kinds of panels there are. A new one is a module of ``kinds``, and its line here."""

from typing import Final

from fluctus.overview.panels.kind import PanelKind
from fluctus.overview.panels.kinds.chart import CHART
from fluctus.overview.panels.kinds.goal import GOAL
from fluctus.overview.panels.kinds.improvements import IMPROVEMENTS
from fluctus.overview.panels.kinds.number import NUMBER
from fluctus.overview.panels.kinds.overview import OVERVIEW
from fluctus.overview.panels.kinds.pair import PAIR
from fluctus.overview.panels.kinds.parts import PARTS
from fluctus.overview.panels.kinds.places import PLACES
from fluctus.overview.panels.kinds.shares import SHARES
from fluctus.overview.panels.kinds.text import TEXT

KINDS: Final[dict[str, PanelKind]] = {
    kind.name: kind
    for kind in (CHART, NUMBER, PARTS, SHARES, PLACES, GOAL, PAIR, OVERVIEW, IMPROVEMENTS, TEXT)
}
CHOICES: Final = [(name, name) for name in KINDS]
"""The same as the choices of a field."""
