"""Who wants to know of what a table brings besides values, in the same transaction.

Apps above this one add themselves when the application starts, as those of ``kpis.hooks`` do.
"""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from fluctus.accounts.models import Workspace
    from fluctus.tables.place_table import PlaceRow

PlaceKeeper = Callable[["Workspace", Sequence["PlaceRow"]], Any]

place_keepers: list[PlaceKeeper] = []
"""Called with where the parts of a table are."""
