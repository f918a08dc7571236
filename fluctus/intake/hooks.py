"""Who takes part when something is brought in or taken back, in the same transaction.

Apps above this one add themselves when the application starts, as those of ``kpis.hooks`` do.
"""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from fluctus.accounts.models import Workspace
    from fluctus.intake.models import Import, ImportPart
    from fluctus.jobs.life import Progress
    from fluctus.kpis.actor import Actor
    from fluctus.tables.place_table import PlaceRow

PlaceKeeper = Callable[["Workspace", Sequence["PlaceRow"]], Any]

place_keepers: list[PlaceKeeper] = []
"""Called with where the parts of a table are."""

Follower = Callable[["Import", Sequence["ImportPart"]], None]

followers: list[Follower] = []
"""Called with a table that has been brought in, and what it did to each KPI."""

Carrier = Callable[["Import", "Actor", "Progress"], Any]

carriers: dict[str, Carrier] = {}
"""Called to bring in what is of a kind, by ``ImportKind``: all of it, or nothing."""
