"""A chart's settings as plain data: what is shown, changed, previewed, kept and undone."""

from dataclasses import asdict, dataclass, field, fields, replace
from typing import Any, Self
from zoneinfo import ZoneInfo

from fluctus.core import CORE_RULES, Aggregation, Centre, Direction, Rule, Spread
from fluctus.core.words import ShownIn
from fluctus.kpis.calendar import Calendar, Grain, from_text, to_text
from fluctus.kpis.lines import BandState, LineState, TargetStep, ViewState
from fluctus.kpis.models import DrawnAs, Kpi, Raises, Segment, ValueLabels
from fluctus.kpis.seasons import Follows


@dataclass(frozen=True, slots=True)
class SegmentState:
    """A segment's settings; periods as texts, ``start`` None for the first segment."""

    start: str | None = None
    name: str = ""
    what_changed: str = ""
    centre: str = Centre.MEAN.value
    spread: str = Spread.MEAN_RANGE.value
    window: tuple[str, str] | None = None
    follows: str = Follows.LEVEL.value
    review: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class KeptState:
    """A decision that the process has not shifted at a period, and why."""

    period: str
    reason: str
    review: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class ChartState:
    """All settings of a chart that a person can change."""

    name: str
    group: str = ""
    unit: str = ""
    decimals: int = 1
    shown_in: str = ShownIn.AUTOMATIC.value
    drawn_as: str = DrawnAs.POINTS.value
    raises: str = Raises.EVERYTHING.value
    direction: str = Direction.NEITHER.value
    floor: float | None = None
    ceiling: float | None = None
    target: float | None = None
    target_high: float | None = None
    axis_low: float | None = None
    axis_high: float | None = None
    value_labels: str = ValueLabels.SIGNALS.value
    dots: bool = True
    faint: bool = False
    aggregation: str = Aggregation.MEAN.value
    time_zone: str = "UTC"
    first_weekday: int = 0
    first_month: int = 1
    rules: tuple[str, ...] = tuple(rule.value for rule in Rule if rule in CORE_RULES)
    run_length: int = 8
    segments: tuple[SegmentState, ...] = field(default_factory=lambda: (SegmentState(),))
    kept_limits: tuple[KeptState, ...] = ()
    confirmed: tuple[str, ...] = ()
    """Periods of values far off the others of which somebody has said that they are right."""
    lines: tuple[LineState, ...] = ()
    bands: tuple[BandState, ...] = ()
    views: tuple[ViewState, ...] = ()
    target_steps: tuple[TargetStep, ...] = ()

    @property
    def calendar(self) -> Calendar:
        """How this chart cuts time."""
        return Calendar(ZoneInfo(self.time_zone), self.first_weekday, self.first_month)

    @classmethod
    def from_json(cls, data: dict[str, Any]) -> Self:
        """Read what ``to_json`` wrote, or what the API took."""
        details = {name: data[name] for name in DETAILS if name in data}
        if "rules" in data:
            details["rules"] = tuple(rule.value for rule in Rule if rule in data["rules"])
        if "segments" in data:
            details["segments"] = tuple(
                SegmentState(**segment | {"window": _pair(segment.get("window"))})
                for segment in data["segments"]
            )
        if "kept_limits" in data:
            details["kept_limits"] = tuple(KeptState(**limits) for limits in data["kept_limits"])
        if "confirmed" in data:
            details["confirmed"] = tuple(data["confirmed"])
        if "lines" in data:
            details["lines"] = tuple(LineState(**line) for line in data["lines"])
        if "bands" in data:
            details["bands"] = tuple(BandState(**band) for band in data["bands"])
        if "target_steps" in data:
            details["target_steps"] = tuple(TargetStep(**step) for step in data["target_steps"])
        if "views" in data:
            details["views"] = tuple(map(_view, data["views"]))
        return cls(**details)

    def to_json(self) -> dict[str, Any]:
        """Return plain data that JSON can hold."""
        return asdict(self)

    def kept_as_json(self) -> dict[str, Any]:
        """Return the settings that a KPI keeps as plain data, by column."""
        data = self.to_json()
        return {name: data[name] for name in KEPT_AS_JSON}

    def computes_as(self, before: "ChartState") -> bool:
        """Tell whether nothing differs that anything rests on which is computed."""
        return replace(self, **{name: getattr(before, name) for name in LOOKS}) == before

    def with_changes(self, changes: dict[str, Any]) -> "ChartState":
        """Return this state with some of its settings replaced."""
        return ChartState.from_json(self.to_json() | changes)


KEPT_AS_JSON = ("kept_limits", "confirmed", "lines", "bands", "views", "target_steps")
"""Settings that are columns of the KPI, as plain data."""
LOOKS = ("name", "group", "value_labels", "dots", "faint", "lines", "bands", "views")
"""Settings that nothing rests on which is kept with a KPI: how it is called and drawn."""
NESTED = ("rules", "segments", *KEPT_AS_JSON)
DETAILS = [f.name for f in fields(ChartState) if f.name not in NESTED]
"""Settings that are columns of the KPI, as they are."""


def _view(view: dict[str, Any]) -> ViewState:
    return ViewState(**view | {"hidden": tuple(view.get("hidden", ()))})


def _pair(window: Any) -> tuple[str, str] | None:
    return None if window is None else (window[0], window[1])


def state_of(kpi: Kpi, segments: list[Segment]) -> ChartState:
    """Read the state of a chart from its rows."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)

    def text(period: Any) -> str | None:
        return None if period is None else to_text(period, grain, zone)

    details = {name: getattr(kpi, name) for name in DETAILS}
    states = []
    for segment in segments:
        first, last = text(segment.window_first), text(segment.window_last)
        states.append(
            SegmentState(
                text(segment.start),
                segment.name,
                segment.what_changed,
                segment.centre,
                segment.spread,
                None if first is None or last is None else (first, last),
                segment.follows,
                segment.review,
            )
        )
    return ChartState(
        **details,
        rules=tuple(kpi.rules),
        segments=tuple(states),
        kept_limits=tuple(KeptState(**segment) for segment in kpi.kept_limits),
        confirmed=tuple(kpi.confirmed),
        lines=tuple(LineState(**line) for line in kpi.lines),
        bands=tuple(BandState(**band) for band in kpi.bands),
        views=tuple(map(_view, kpi.views)),
        target_steps=tuple(TargetStep(**step) for step in kpi.target_steps),
    )


def segment_rows(kpi: Kpi, state: ChartState) -> list[Segment]:
    """Build the rows that keep the segments of ``state``."""
    grain, zone = Grain(kpi.grain), ZoneInfo(kpi.time_zone)
    return [
        Segment(
            kpi=kpi,
            start=None if segment.start is None else from_text(segment.start, grain, zone),
            name=segment.name,
            what_changed=segment.what_changed,
            centre=segment.centre,
            spread=segment.spread,
            follows=segment.follows,
            review=segment.review,
            window_first=None
            if segment.window is None
            else from_text(segment.window[0], grain, zone),
            window_last=None
            if segment.window is None
            else from_text(segment.window[1], grain, zone),
        )
        for segment in state.segments
    ]
