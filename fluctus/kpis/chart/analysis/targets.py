"""A target that changes on certain days, laid over the values of a chart."""

from dataclasses import replace
from datetime import date

import numpy as np

from fluctus.kpis.calendar import start_of_day
from fluctus.kpis.observations.series import Observations
from fluctus.kpis.state import ChartState


def with_target_steps(data: Observations, state: ChartState) -> Observations:
    """Give each period the target in force when it begins, where the KPI's changes over time.

    Targets that came with the values stand; where periods are sums of others, a level set for
    single ones does not hold.
    """
    steps = state.target_steps
    if not steps or data.targets is not None or data.summed or not len(data):
        return data
    days = [start_of_day(date.fromisoformat(step.day), data.zone).timestamp() for step in steps]
    # Before the first step the KPI's own target holds, if it has one.
    own = (np.nan if state.target is None else state.target, state.target_high)
    levels = np.array([own[0], *(step.level for step in steps)])
    highs = np.array(
        [np.nan if high is None else high for high in (own[1], *(step.high for step in steps))]
    )
    in_force = np.searchsorted(np.array(days), data.instants, side="right")
    targets, targets_high = levels[in_force], highs[in_force]
    if np.isnan(targets).all():
        return data
    return replace(
        data,
        targets=targets,
        targets_high=None if np.isnan(targets_high).all() else targets_high,
    )
