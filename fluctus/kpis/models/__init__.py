"""What is kept of a KPI."""

from fluctus.kpis.models.answers import KeptAnswer
from fluctus.kpis.models.chart import ActState, ChartChange, Segment
from fluctus.kpis.models.events import Event, EventImport, EventKind
from fluctus.kpis.models.kpi import DrawnAs, Kpi, Raises, ValueLabels
from fluctus.kpis.models.values import Block, DataChange, Observation, PastValue, Value

__all__ = [
    "ActState",
    "Block",
    "ChartChange",
    "DataChange",
    "DrawnAs",
    "Event",
    "EventImport",
    "EventKind",
    "KeptAnswer",
    "Kpi",
    "Observation",
    "PastValue",
    "Raises",
    "Segment",
    "Value",
    "ValueLabels",
]
