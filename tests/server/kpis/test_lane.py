"""How events are gathered into pins on the story lane, whatever they are."""

import itertools
from datetime import date, timedelta
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from fluctus.kpis.events.queries import GROUP_PIXELS, LISTED
from fluctus.kpis.models import Event, Kpi
from tests.conftest import Api, golden

START = date(2026, 1, 1)
SPANS = st.tuples(st.integers(0, 400), st.sampled_from([0, 0, 0, 2, 40]))


@given(
    st.lists(SPANS, max_size=40),
    st.integers(0, 300),
    st.integers(1, 200),
    st.sampled_from([50, 300, 1000]),
    st.sampled_from(["day", "week", "month"]),
)
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_each_event_of_the_lane_is_told_by_one_pin_and_pins_keep_apart(
    api: Api, spans: list[tuple[int, int]], offset: int, length: int, width: int, by: str
) -> None:
    kpi = Kpi.objects.first() or Kpi.objects.get(
        slug=api.add_kpi("Ramp cycle", golden("shift recalculated")["values"])
    )
    Event.objects.all().delete()
    Event.objects.bulk_create(
        Event(
            workspace=kpi.workspace,
            uid=str(n),
            title=str(n),
            everywhere=True,
            first=START + timedelta(days=day),
            last=START + timedelta(days=day + more),
        )
        for n, (day, more) in enumerate(spans)
    )
    first = START + timedelta(days=offset)
    period = first + timedelta(days=length - 1)
    # The whole of the last period is on the lane.
    last = {
        "day": period,
        "week": period + timedelta(days=6),
        "month": (period.replace(day=1) + timedelta(days=31)).replace(day=1) - timedelta(days=1),
    }[by]
    length = (last - first).days + 1
    pins: list[dict[str, Any]] = api.get(
        f"/kpis/{kpi.slug}/lane", first=str(first), last=str(period), width=width, by=by
    ).json()

    seen = sorted(
        (START + timedelta(days=day), START + timedelta(days=day + more), str(n))
        for n, (day, more) in enumerate(spans)
        if day <= offset + length - 1 and day + more >= offset
    )
    assert sum(pin["count"] for pin in pins) == len(seen)
    apart = length * GROUP_PIXELS / width
    starts = [date.fromisoformat(pin["first"]) for pin in pins]
    assert all((b - a).days >= apart for a, b in itertools.pairwise(starts))
    told = iter(sorted(seen, key=lambda one: (one[0], int(one[2]))))
    for pin, start in zip(pins, starts, strict=True):
        own = [next(told) for _ in range(pin["count"])]
        assert own[0][0] == start
        assert all((one[0] - start).days < apart for one in own)
        assert max(one[1] for one in own).isoformat() == pin["last"]
        assert [one["title"] for one in pin["events"]] == [one[2] for one in own[:LISTED]]
