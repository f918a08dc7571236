"""What a process holds is bounded, however many long KPIs are opened one after the other."""

import gc
import tracemalloc
from datetime import datetime, timedelta
from typing import Any

import numpy as np
import pytest

from fluctus.http import conditional
from fluctus.kpis.chart import queries
from tests.conftest import Api

VALUES = 2_000
ROOM = 5 * VALUES
"""Instead of 1,500,000, so that forty KPIs are as many as a thousand."""


@pytest.mark.django_db
def test_memory_does_not_grow_with_the_kpis_that_were_opened(
    api: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    caches: list[Any] = [queries.chart_of.cache, queries.stored_of.cache]
    for cache in caches:
        monkeypatch.setattr(cache, "_Cache__maxsize", ROOM)
    monkeypatch.setattr(conditional._answers, "_Cache__maxsize", 500_000)
    random = np.random.default_rng(3)
    slugs = []
    for number in range(40):
        rows = "\n".join(
            f"{datetime(2020, 1, 1) + timedelta(days=n):%Y-%m-%d},{value:.2f}"
            for n, value in enumerate(random.normal(20, 2, VALUES))
        )
        made = api.bring_in(f"Day,Delay\n{rows}", {"name": f"Delay {number}"})
        assert made.status_code == 201, made.content
        slugs.append(made.json()["parts"][0]["slug"])
    queries.forget()

    def opened(some: list[str]) -> int:
        for slug in some:
            for width in (400, 1000):
                answer = api.get(f"/kpis/{slug}/analysis", width=width, by="day")
                assert answer.status_code == 200, answer.content
        # What is dropped and goes round in circles is there until somebody looks for it.
        gc.collect()
        return tracemalloc.get_traced_memory()[0]

    tracemalloc.start()
    try:
        first = opened(slugs[:20])
        assert any(cache.currsize > ROOM / 2 for cache in caches)
        second = opened(slugs[20:])
    finally:
        tracemalloc.stop()
    assert all(cache.currsize <= ROOM for cache in caches)
    assert conditional._answers.currsize <= 500_000
    # Twenty more take no more than two charts would.
    assert second - first < 0.2 * first, (first, second)
