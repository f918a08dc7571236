"""Saving what was read."""

from fluctus.accounts.models import Workspace
from fluctus.intake.reading import Reading
from fluctus.kpis.models import Kpi
from fluctus.kpis.services import create_kpi
from fluctus.kpis.state import ChartState
from fluctus.refusals import Issue, RefusalError


def create_kpi_from(reading: Reading, workspace: Workspace, state: ChartState) -> Kpi:
    """Save a new KPI with the rows of ``reading``: all of it, or nothing.

    Raises RefusalError where rows have problems that are not to be left out,
    or none is without.
    """
    if reading.problems and not reading.made.leave_out:
        raise RefusalError("Some rows cannot be read; nothing was saved.", *reading.problems)
    if not reading.rows:
        raise RefusalError(
            "There are no values to save.", Issue("No row has both a date and a value.")
        )
    grain = reading.made.grain
    assert grain is not None, "a reading has settled the grain"
    return create_kpi(
        workspace,
        state,
        grain,
        reading.made.time_zone,
        [(period, value, False, "") for period, value in reading.rows],
    )
