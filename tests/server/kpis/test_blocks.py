"""Values packed beside their rows are those rows, whatever is written in which order."""

from collections.abc import Iterator
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from django.contrib.auth.models import User
from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from fluctus.accounts.models import Role, Workspace
from fluctus.http.refusals import RefusalError
from fluctus.kpis.actor import Actor
from fluctus.kpis.acts.services import redo, undo
from fluctus.kpis.calendar import Grain
from fluctus.kpis.chart.queries import chart_of, forget, held_chart
from fluctus.kpis.chart.renewal import catch_up
from fluctus.kpis.chart.services import change_chart, create_kpi
from fluctus.kpis.models import Block, Kpi, Observation
from fluctus.kpis.observations import blocks
from fluctus.kpis.observations.blocks import NUMBERS, forget_blocks, read_columns, rows_between
from fluctus.kpis.observations.frame import frame_of
from fluctus.kpis.state import ChartState
from fluctus.kpis.values.services import Edit, ImportMode, edit_values, set_aside, write_frame
from tests.conftest import Api

NOW = datetime(2026, 11, 2, 12, tzinfo=UTC)
FIRST = date(2026, 1, 1)
PARTS = ("", "Ainsey", "Corran", "Quay \N{LATIN SMALL LETTER E WITH ACUTE}")


@pytest.fixture(autouse=True)
def small_blocks(monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    monkeypatch.setattr(blocks, "FEWEST", 12)
    monkeypatch.setattr(blocks, "AT_ONCE", 7)
    forget()
    yield
    forget()


def row(day: int, part: str, value: float, **more: Any) -> dict[str, Any]:
    moment = datetime(FIRST.year, 1, 1, tzinfo=UTC) + timedelta(days=day)
    return {"period": moment.timestamp(), "breakdown": part, "value": value, **more}


def made(days: int = 40, parts: tuple[str, ...] = ("",), **state: Any) -> Kpi:
    workspace = Workspace.objects.get(slug="marrowick")
    rows = [
        row(day, part, 20.0 + (day * 7 + len(part)) % 5) for day in range(days) for part in parts
    ]
    name = f"Ramp {Kpi.objects.count()}"
    kpi, _ = create_kpi(
        workspace, ChartState(name, **state), Grain.DAY, frame_of(rows), Actor(None, NOW)
    )
    return kpi


def refuse_difference(kpi: Kpi) -> None:
    """Hold what is packed against the rows, and against itself."""
    kpi = Kpi.objects.get(pk=kpi.pk)
    names = Observation.objects.filter(kpi=kpi).exclude(breakdown="").values_list("breakdown")
    assert kpi.breakdowns == sorted({name for (name,) in names})
    held, rows = read_columns(kpi), rows_between(kpi)
    forget_blocks()
    packed = read_columns(kpi)
    for name in NUMBERS:
        np.testing.assert_array_equal(packed[name], rows[name], err_msg=name)
        np.testing.assert_array_equal(held[name], rows[name], err_msg=name)
    ranges = list(Block.objects.filter(kpi=kpi).order_by("first").values_list("first", "until"))
    assert all(first < until for first, until in ranges)
    assert all(until <= later for (_, until), (later, _) in pairwise(ranges))
    if len(rows["instant"]) >= blocks.FEWEST and kpi.packed:
        # Whoever wrote last has left no gap.
        assert (ranges[0][0], ranges[-1][1]) == (-np.inf, np.inf)
        assert all(until == later for (_, until), (later, _) in pairwise(ranges))


def one_write(kpi: Kpi, draw: np.random.Generator, actor: Actor) -> None:
    """Write something at random, as people, feeds and undo do."""
    kpi = Kpi.objects.get(pk=kpi.pk)
    day, part = int(draw.integers(-5, 60)), str(draw.choice(list(PARTS)))
    text = str(FIRST + timedelta(days=day))
    there = Observation.objects.filter(kpi=kpi, period__date=FIRST + timedelta(days=day))
    kind = int(draw.integers(0, 8))
    if kind <= 1:
        old = there.filter(breakdown=part).first()
        seen = old.written_by_id if old else None
        remove = old is not None and kind == 1
        edit = Edit(
            text, breakdown=part, value=None if remove else float(draw.normal(20, 2)),
            remove=remove, seen=seen, note="looked at" if day % 3 == 0 else "",
        )  # fmt: skip  # one act
        edit_values(kpi, [edit], actor)
    elif kind == 2:
        days = draw.integers(-3, 55, size=int(draw.integers(1, 9)))
        rows = [row(int(d), part, float(draw.normal(20, 2)), target=21.0) for d in np.unique(days)]
        mode = ImportMode.REPLACE if draw.random() < 0.2 else ImportMode.UPDATE
        write_frame(kpi, frame_of(rows), mode, actor, "Came in")
    elif kind == 3:
        reason = None if there.filter(set_aside=True).exists() else "A gale"
        set_aside(kpi, kpi.revision, actor, text, None, reason)
    elif kind == 4:
        undo(kpi, kpi.revision, actor)
    elif kind == 5:
        redo(kpi, kpi.revision, actor)
    elif kind == 6:
        zone = str(draw.choice(["UTC", "Europe/London", "Asia/Kathmandu", "America/St_Johns"]))
        change_chart(kpi, kpi.revision, {"time_zone": zone}, actor)
    else:
        change_chart(kpi, kpi.revision, {"name": f"Called {draw.random()}"}, actor)


@pytest.mark.parametrize("seed", range(6))
def test_whatever_is_written_blocks_are_their_rows(api: Api, seed: int) -> None:
    draw = np.random.default_rng(seed)
    actor = Actor(User.objects.get(username="isla"), NOW, Role.OWNER)
    kpi = made(parts=PARTS[1:3] if seed % 2 else ("",), time_zone="UTC")
    refuse_difference(kpi)
    assert Kpi.objects.get(pk=kpi.pk).packed
    done = 0
    for _ in range(40):
        try:
            one_write(kpi, draw, actor)
        except RefusalError:
            continue
        done += 1
        refuse_difference(kpi)
    assert done > 15


def test_a_write_packs_anew_what_it_touches_and_nothing_else(api: Api) -> None:
    kpi = made(days=70)
    before = dict(Block.objects.filter(kpi=kpi).values_list("first", "pk"))
    assert len(before) == 10
    seen = kpi.observations.get(period__date=FIRST + timedelta(days=33)).written_by_id
    edit = Edit(str(FIRST + timedelta(days=33)), value=3.0, seen=seen)
    edit_values(kpi, [edit], Actor(None, NOW))
    after = dict(Block.objects.filter(kpi=kpi).values_list("first", "pk"))
    assert after.keys() == before.keys()
    assert sum(after[first] != before[first] for first in before) == 1
    refuse_difference(kpi)


@pytest.mark.parametrize("damage", ["cut", "changed", "gone"])
def test_a_damaged_block_is_read_from_its_rows_and_made_again(
    api: Api, caplog: pytest.LogCaptureFixture, damage: str
) -> None:
    kpi = made(days=70)
    block = Block.objects.filter(kpi=kpi).order_by("first")[4]
    raw = bytearray(block.packed)
    if damage == "gone":
        block.delete()
    else:
        raw[len(raw) // 2] ^= 255
        Block.objects.filter(pk=block.pk).update(packed=bytes(raw[:40] if damage == "cut" else raw))
    kpi = Kpi.objects.get(pk=kpi.pk)
    packed, rows = read_columns(kpi), rows_between(kpi)
    for name in NUMBERS:
        np.testing.assert_array_equal(packed[name], rows[name])
    assert ("is damaged" in caplog.text) == (damage != "gone")
    last = kpi.observations.order_by("-period")[0]
    edit = Edit(str(last.period.date()), value=3.0, seen=last.written_by_id)
    edit_values(kpi, [edit], Actor(None, NOW))
    caplog.clear()
    refuse_difference(kpi)
    assert caplog.text == ""


def test_a_write_of_one_value_reads_what_one_block_has_packed(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    kpi = made(days=70)
    read_columns(kpi)
    read: list[float] = []
    unpack = blocks._unpack

    def counted(block: Block, raw: bytes) -> blocks.Columns | None:
        read.append(block.first)
        return unpack(block, raw)

    monkeypatch.setattr(blocks, "_unpack", counted)
    for day, value in ((30, 3.0), (31, 4.0), (69, 5.0)):
        kpi = Kpi.objects.get(pk=kpi.pk)
        was = kpi.observations.order_by("period")[day]
        edit = Edit(str(was.period.date()), value=value, seen=was.written_by_id)
        edit_values(kpi, [edit], Actor(None, NOW))
        read_columns(kpi)
    # What was packed anew is unpacked by who reads it next: one block for each write.
    assert len(read) == 3
    refuse_difference(kpi)


def test_values_of_an_older_version_are_packed_once_it_starts(api: Api) -> None:
    kpi = made(days=5_000)
    Block.objects.all().delete()
    Kpi.objects.update(packed=False)
    assert catch_up(NOW) == 1
    refuse_difference(kpi)
    assert Kpi.objects.get(pk=kpi.pk).packed
    assert catch_up(NOW) == 0


def test_a_name_reads_no_values(api: Api, django_capture_on_commit_callbacks: Any) -> None:
    kpi = made(days=70)
    chart_of(Kpi.objects.get(pk=kpi.pk), NOW)
    for number in range(3):
        kpi = Kpi.objects.get(pk=kpi.pk)
        changes = {"name": f"Ramp cycle {number}", "group": "Quays"}
        with (
            django_capture_on_commit_callbacks(execute=True),
            CaptureQueriesContext(
                connection,
            ) as asked,
        ):
            kept = change_chart(kpi, kpi.revision, changes, Actor(None, NOW))
        tables = (Observation._meta.db_table, Block._meta.db_table)
        assert not [q["sql"] for q in asked if any(table in q["sql"] for table in tables)]
        # What is at hand is what would be made anew.
        now = Kpi.objects.get(pk=kpi.pk)
        held = chart_of(now, NOW)
        assert held is kept.chart
        forget()
        anew = chart_of(now, NOW)
        assert (held.state, held.words.name) == (anew.state, anew.words.name)
        assert held.verdict == anew.verdict
        assert len(held.happenings) == len(anew.happenings)
        undone = undo(now, now.revision, Actor(None, NOW))
        assert undone.kpi.name != changes["name"]
        chart_of(Kpi.objects.get(pk=kpi.pk), NOW)


def test_what_is_rolled_back_is_never_held(api: Api) -> None:
    kpi = made(days=70)
    chart_of(Kpi.objects.get(pk=kpi.pk), NOW)

    def renamed_in_vain() -> None:
        with transaction.atomic():
            change_chart(kpi, kpi.revision, {"name": "Never"}, Actor(None, NOW))
            raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        renamed_in_vain()
    kpi = Kpi.objects.get(pk=kpi.pk)
    kpi.revision += 1
    assert held_chart(kpi, NOW) is None
