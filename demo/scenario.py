"""What the demo workspace holds: how each file is read, and what is recorded of its story."""

from dataclasses import dataclass, field

from fluctus.core import Aggregation

TIME_ZONE = "Europe/London"


@dataclass(frozen=True, slots=True)
class Shift:
    """A process shift that is recorded when the demo opens."""

    start: str
    name: str
    what_changed: str


@dataclass(frozen=True, slots=True)
class DemoKpi:
    """A KPI of the demo. ``file`` is in ``data/``; ``set_aside`` maps periods to reasons."""

    file: str
    name: str
    group: str
    unit: str
    decimals: int
    direction: str
    value_column: str
    target: float | None = None
    floor: float | None = None
    ceiling: float | None = None
    aggregation: Aggregation | None = None
    """How values become one; None takes what is proposed."""
    difference: bool | None = None
    first_segment: str = ""
    shifts: tuple[Shift, ...] = ()
    set_aside: dict[str, str] = field(default_factory=dict)


KPIS = (
    DemoKpi(
        "turnaround.csv", "Turnaround at quay", "Quays", "min", 1, "lower", "Turnaround (min)",
        target=20.0, floor=0.0, first_segment="Before",
        shifts=(
            Shift(
                "2026-05-18", "New ramp drill",
                "Two hands on the linkspan, cars called by lane.",
            ),
        ),
        set_aside={"2026-01-05": "Gale, ramp closed"},
    ),
    DemoKpi(
        "departures-on-time.csv", "Departures on time", "Quays", "%", 1, "higher", "On time (%)",
        target=96.0, floor=0.0, ceiling=100.0,
    ),
    DemoKpi(
        "vehicles-left-behind.csv", "Vehicles left behind", "Quays", "", 0, "lower", "Left behind",
        target=20.0, floor=0.0,
    ),
    DemoKpi("ramp-cycle.csv", "Ramp cycle", "Quays", "s", 1, "lower", "Ramp cycle (s)", floor=0.0),
    DemoKpi(
        "gate-cycle.csv", "Gate cycle", "Quays", "s", 1, "lower", "Gate cycle (s)", floor=0.0,
        first_segment="Paper tickets",
        shifts=(
            Shift("2025-04-07T05:00+01:00", "Ticket reader", "A reader at each gate lane."),
        ),
    ),
    DemoKpi("berth-fee.csv", "Berth fee", "Quays", "a call", 2, "neither", "Fee (a call)"),
    DemoKpi(
        "fuel-per-crossing.csv", "Fuel per crossing", "Vessels", "L", 0, "lower", "Fuel (L)",
        floor=0.0, first_segment="Fouled hull",
        shifts=(
            Shift("2026-03-02", "Hull cleaned", "Petrel docked; hull and propellers cleaned."),
        ),
    ),
    DemoKpi(
        "engine-hours.csv", "Engine hours", "Vessels", "h", 1, "neither", "Meter (h)", floor=0.0,
    ),
    DemoKpi(
        "unplanned-stops.csv", "Unplanned stops", "Vessels", "", 0, "lower", "Stops", floor=0.0
    ),
    DemoKpi(
        "galley-waste.csv", "Galley waste", "Vessels", "kg", 0, "lower", "Waste (kg)",
        target=38.0, floor=0.0,
    ),
    DemoKpi(
        "passengers.csv", "Passengers a day", "Company", "", 0, "higher", "Passengers",
        floor=0.0, set_aside={"2026-06-12": "Strike, no sailings after noon"},
    ),
)  # fmt: skip
