"""What the demo workspace holds: how each file is read, and what is recorded of its story."""

from dataclasses import dataclass, field
from datetime import date
from typing import Any

from fluctus.accounts.services import DEMO_PEOPLE
from fluctus.core import Aggregation

TIME_ZONE = "Europe/London"

ISLA, RHONA, CALUM = DEMO_PEOPLE
"""Accounts; a visitor looks around as the first one."""

YES = {"different": "yes", "reason_known": "yes", "wanted": "yes", "lasting": "yes"}


@dataclass(frozen=True, slots=True)
class Shift:
    """A process shift that is recorded when the demo opens."""

    start: str
    name: str
    what_changed: str
    review: dict[str, str] = field(default_factory=lambda: dict(YES))


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
    denominator_column: str = ""
    """Of a share: its values are then the numerators."""
    first_segment: str = ""
    shifts: tuple[Shift, ...] = ()
    set_aside: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class DemoEvent:
    """Something that happened; ``kpis`` are slugs, none stands for all."""

    first: str
    title: str
    kind: str
    kpis: tuple[str, ...] = ()
    last: str = ""
    text: str = ""


@dataclass(frozen=True, slots=True)
class DemoJudgment:
    """What people have made of a signal; ``label`` names its first period."""

    kpi: str
    rule: str
    label: str
    state: str
    cause: str = ""
    action: str = ""
    person: str | None = None
    due: date | None = None
    remark: str = ""
    author: str = ISLA


JUDGMENTS = (
    DemoJudgment(
        "engine-hours",
        "outside_limits",
        "13 Jul",
        "explained",
        "Meter replaced; the new one starts at 0.",
        person=RHONA,
    ),
    DemoJudgment(
        "unplanned-stops",
        "outside_limits",
        "29 Dec 2025",
        "explained",
        "Bow door seals after the gale; all three boats in turn.",
        "Seals renewed at each boat's next docking.",
        RHONA,
    ),
    DemoJudgment(
        "departures-on-time",
        "range_outside_limit",
        "6 Jul",
        "looking",
        action="Compare the berth log with the timetable of that week.",
        person=CALUM,
        due=date(2026, 12, 4),
        remark="Petrel's log is here, Dunlin's comes on Friday.",
    ),
    DemoJudgment(
        "fuel-per-crossing",
        "range_outside_limit",
        "9 Nov",
        "looking",
        person=RHONA,
        author=RHONA,
        remark="A head wind on all six days, says the bridge. "
        "On the other boats as well, @Isla Corrie?",
    ),
    DemoJudgment(
        "ramp-cycle",
        "outside_limits",
        "8 Dec 2025",
        "looking",
        action="Ride along for a day and time the hoist.",
        person=ISLA,
        due=date(2026, 12, 2),
        author=RHONA,
    ),
)

EVENTS = (
    DemoEvent(
        "2026-01-07",
        "Gale, ramp closed",
        "incident",
        ("turnaround-at-quay",),
        text="Linkspan closed for two days; boats held off the quay.",
    ),
    DemoEvent(
        "2026-02-23",
        "Petrel in dock",
        "change",
        ("fuel-per-crossing", "engine-hours"),
        last="2026-03-01",
        text="Hull and propellers cleaned.",
    ),
    DemoEvent("2026-04-27", "Drill rehearsed", "note", ("turnaround-at-quay", "ramp-cycle")),
    DemoEvent("2026-05-18", "Ramp drill begins", "change", ("turnaround-at-quay",)),
    DemoEvent("2026-05-23", "Summer timetable", "state", last="2026-09-13"),
    DemoEvent(
        "2026-09-28",
        "Reminders not sent at Ainsey",
        "incident",
        ("no-shows-of-bookings",),
        text="The message service had lost the quay's sender name.",
    ),
    DemoEvent("2026-06-12", "Strike day", "incident", text="No sailings after noon."),
    DemoEvent("2026-07-13", "Meter replaced", "change", ("engine-hours",)),
    DemoEvent(
        "2026-08-31", "Relief crew on Sandpiper", "note", ("turnaround-at-quay", "unplanned-stops")
    ),
    DemoEvent(
        "2026-09-07",
        "Two engineers leave",
        "change",
        ("unplanned-stops",),
        text="Posts advertised; nobody on the early watch at Ainsey.",
    ),
    DemoEvent("2026-11-09", "Ramp seal weeps", "incident", ("ramp-cycle",)),
)

KPIS = (
    DemoKpi(
        "turnaround.csv",
        "Turnaround at quay",
        "Quays",
        "min",
        1,
        "lower",
        "Turnaround (min)",
        target=20.0,
        floor=0.0,
        first_segment="Before",
        shifts=(
            Shift(
                "2026-05-18",
                "New ramp drill",
                "Two hands on the linkspan, cars called by lane.",
            ),
        ),
        set_aside={"2026-01-05": "Gale, ramp closed"},
    ),
    DemoKpi(
        "departures-on-time.csv",
        "Departures on time",
        "Quays",
        "%",
        1,
        "higher",
        "On time (%)",
        target=96.0,
        floor=0.0,
        ceiling=100.0,
    ),
    DemoKpi(
        "vehicles-left-behind.csv",
        "Vehicles left behind",
        "Quays",
        "",
        0,
        "lower",
        "Left behind",
        target=20.0,
        floor=0.0,
    ),
    DemoKpi("ramp-cycle.csv", "Ramp cycle", "Quays", "s", 1, "lower", "Ramp cycle (s)", floor=0.0),
    DemoKpi(
        "gate-cycle.csv",
        "Gate cycle",
        "Quays",
        "s",
        1,
        "lower",
        "Gate cycle (s)",
        floor=0.0,
        first_segment="Paper tickets",
        shifts=(Shift("2025-04-07T05:00+01:00", "Ticket reader", "A reader at each gate lane."),),
    ),
    DemoKpi("berth-fee.csv", "Berth fee", "Quays", "a call", 2, "neither", "Fee (a call)"),
    DemoKpi(
        "fuel-per-crossing.csv",
        "Fuel per crossing",
        "Vessels",
        "L",
        0,
        "lower",
        "Fuel (L)",
        floor=0.0,
        first_segment="Fouled hull",
        shifts=(
            Shift("2026-03-02", "Hull cleaned", "Petrel docked; hull and propellers cleaned."),
        ),
    ),
    DemoKpi(
        "engine-hours.csv",
        "Engine hours",
        "Vessels",
        "h",
        1,
        "neither",
        "Meter (h)",
        floor=0.0,
    ),
    DemoKpi(
        "unplanned-stops.csv", "Unplanned stops", "Vessels", "", 0, "lower", "Stops", floor=0.0
    ),
    DemoKpi(
        "galley-waste.csv",
        "Galley waste",
        "Vessels",
        "kg",
        0,
        "lower",
        "Waste (kg)",
        target=38.0,
        floor=0.0,
    ),
    DemoKpi(
        "passengers.csv",
        "Passengers a day",
        "Company",
        "",
        0,
        "higher",
        "Passengers",
        floor=0.0,
        set_aside={"2026-06-12": "Strike, no sailings after noon"},
    ),
    DemoKpi(
        "no-shows.csv",
        "No-shows of bookings",
        "Company",
        "%",
        1,
        "lower",
        "No-shows",
        floor=0.0,
        ceiling=100.0,
        denominator_column="Bookings",
        first_segment="Without a reminder",
        shifts=(
            Shift("2026-06-01", "Evening reminder", "A message the evening before each sailing."),
        ),
    ),
)


@dataclass(frozen=True, slots=True)
class DemoImprovement:
    """Something that was done to move a KPI, ``wanted`` lower or higher by ``amount``."""

    name: str
    owner: str
    began: date
    kpi: str
    wanted: str
    amount: float | None = None
    by: date | None = None
    worth: float | None = None
    worth_unit: str = ""
    text: str = ""


IMPROVEMENTS = (
    DemoImprovement(
        "Ramp drill",
        ISLA,
        date(2026, 5, 18),
        "turnaround-at-quay",
        "lower",
        2.0,
        date(2026, 8, 31),
        text="Two hands on the linkspan, cars called by lane.",
    ),
    DemoImprovement(
        "Hull cleaned",
        RHONA,
        date(2026, 3, 2),
        "fuel-per-crossing",
        "lower",
        15.0,
        date(2026, 6, 1),
        worth=48.0,
        worth_unit="£",
        text="Petrel docked; worth is for 60 crossings a week at 80p a liter.",
    ),
    DemoImprovement(
        "Evening reminder",
        CALUM,
        date(2026, 6, 1),
        "no-shows-of-bookings",
        "lower",
        2.0,
        date(2026, 9, 30),
        worth=130.0,
        worth_unit="£",
        text="A message the evening before each sailing.",
    ),
    DemoImprovement(
        "Early watch at the engines",
        RHONA,
        date(2026, 10, 5),
        "unplanned-stops",
        "lower",
        1.0,
        date(2027, 2, 1),
        text="Somebody on board an hour before the first sailing.",
    ),
    DemoImprovement(
        "Smaller plates",
        CALUM,
        date(2026, 11, 2),
        "galley-waste",
        "lower",
        6.0,
        date(2027, 1, 31),
    ),
)

PAGE_TITLE = "Monday at the quays"
PAGE_PANELS: tuple[tuple[dict[str, Any], tuple[int, int, int, int]], ...] = (
    (
        {
            "kind": "text",
            "text": "What changed at the quays, for the **Monday meeting**. "
            "The ramp drill holds; what it takes to leave on time is another matter.",
        },
        (0, 0, 2, 2),
    ),
    ({"kind": "chart", "kpis": ["turnaround-at-quay"]}, (0, 2, 2, 10)),
    ({"kind": "chart", "kpis": ["departures-on-time"]}, (0, 12, 1, 10)),
    ({"kind": "shares", "kpis": ["vehicles-left-behind"]}, (1, 12, 1, 10)),
    ({"kind": "number", "kpis": ["unplanned-stops"]}, (0, 22, 2, 3)),
    ({"kind": "overview", "group": "Vessels"}, (0, 25, 2, 7)),
)
"""What a page of the demo shows, each with its column, row, width and height."""
