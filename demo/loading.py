"""Puts the scenario into a workspace, the way a person would: files in, shifts recorded."""

from zoneinfo import ZoneInfo

from demo.generate import DATA
from demo.scenario import KPIS, TIME_ZONE, DemoKpi
from fluctus.accounts.models import Workspace
from fluctus.intake.reading import Choices, read
from fluctus.kpis.models import Kpi
from fluctus.kpis.periods import Grain, to_text
from fluctus.kpis.services import create_kpi
from fluctus.kpis.state import ChartState, SegmentState


def load_kpi(workspace: Workspace, demo: DemoKpi) -> Kpi:
    """Read the file of one KPI and save it with its story."""
    raw = (DATA / demo.file).read_bytes()
    header = raw.partition(b"\n")[0].decode().split(",")
    choices = Choices(value=header.index(demo.value_column), time_zone=TIME_ZONE)
    reading = read(raw, choices)
    grain, zone = Grain(str(reading.made.grain)), ZoneInfo(TIME_ZONE)
    texts = {period: to_text(period, grain, zone) for period, _ in reading.rows}
    segments = [SegmentState(name=demo.first_segment)]
    segments += [SegmentState(one.start, one.name, one.what_changed) for one in demo.shifts]
    state = ChartState(
        name=demo.name, group=demo.group, unit=demo.unit, decimals=demo.decimals,
        direction=demo.direction, floor=demo.floor, ceiling=demo.ceiling, target=demo.target,
        segments=tuple(segments),
    )  # fmt: skip
    rows = [
        (period, value, texts[period] in demo.set_aside, demo.set_aside.get(texts[period], ""))
        for period, value in reading.rows
    ]
    return create_kpi(workspace, state, grain, TIME_ZONE, rows)


def load_all(workspace: Workspace) -> int:
    """Save every KPI of the scenario; returns how many."""
    for demo in KPIS:
        load_kpi(workspace, demo)
    return len(KPIS)
