"""Acts on values taken back and brought back, each of them itself an act."""

from fluctus.kpis.actor import Actor
from fluctus.kpis.models import DataChange, Kpi
from fluctus.kpis.observations.writing import bring_back, take_back


def turn_values(kpi: Kpi, change: DataChange, actor: Actor, *, back: bool) -> None:
    """Undo or redo an act on values; of one that itself took back, the opposite."""
    root = change.undoes or change
    if back is (change.undoes is None):
        take_values_back(kpi, root, actor, later_too=change.later_too)
    else:
        act = root.undone_by
        assert act is not None, "only what was taken back is brought back"
        bring_back(kpi, root, act)
        root.undone_by = None
        root.save(update_fields=["undone_by"])


def take_values_back(
    kpi: Kpi, root: DataChange, actor: Actor, *, later_too: bool = False
) -> DataChange:
    """Take back an act of writing; returns the act that did it."""
    act = DataChange.objects.create(
        kpi=kpi,
        author=actor.person,
        summary=f"Took back: {root.summary}"[:200],
        undoes=root,
        later_too=later_too,
    )
    take_back(kpi, root, act, later_too=later_too)
    root.undone_by = act
    root.save(update_fields=["undone_by"])
    return act
