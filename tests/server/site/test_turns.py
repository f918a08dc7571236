"""Turns of requests: so many at once, fewer of one workspace, and nobody behind another's crowd."""

import asyncio
from collections import Counter
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fluctus.site.turns import AT_ONCE, OF_ONE, Turns, whose


@pytest.mark.parametrize(
    ("path", "key"),
    [
        ("/api/v1/workspaces/marrowick/kpis/ramp/preview", "marrowick"),
        ("/api/v1/workspaces/marrowick", "marrowick"),
        ("/api/v1/session", ""),
        ("/api/v1/news", ""),
    ],
)
def test_a_request_takes_the_turn_of_its_workspace(path: str, key: str) -> None:
    assert whose(path) == key


def test_whoever_comes_last_is_not_behind_the_crowd_of_another_workspace() -> None:
    async def crowd() -> list[str]:
        turns, done = Turns(), list[str]()

        async def work(key: str) -> None:
            await turns.take(key)
            await asyncio.sleep(0)
            done.append(key)
            turns.give_back(key)

        tasks = [asyncio.create_task(work("crowd")) for _ in range(200)]
        await asyncio.sleep(0)
        tasks += [asyncio.create_task(work(key)) for key in ("other", "third", "other")]
        await asyncio.gather(*tasks)
        return done

    done = asyncio.run(crowd())
    assert len(done) == 203
    assert max(at for at, key in enumerate(done) if key != "crowd") <= 3 * AT_ONCE


@given(st.integers(0, 10_000), st.integers(1, 60))
def test_turns_are_bounded_given_back_and_left_to_nobody(seed: int, requests: int) -> None:
    """Whatever the order of asking, ending and giving up: none is lost, and none is too many."""
    random = Random(seed)  # noqa: S311 - a schedule, not a secret
    keys = ["", "a", "b", "c"][: random.randint(1, 4)]
    running: Counter[str] = Counter()

    async def run() -> int:
        turns, served = Turns(), 0

        async def work(key: str) -> None:
            nonlocal served
            await turns.take(key)
            try:
                running[key] += 1
                assert running.total() <= AT_ONCE
                assert not key or running[key] <= OF_ONE
                for _ in range(random.randint(0, 3)):
                    await asyncio.sleep(0)
                served += 1
            finally:
                running[key] -= 1
                turns.give_back(key)

        tasks = []
        for _ in range(requests):
            tasks.append(asyncio.create_task(work(random.choice(keys))))
            for _ in range(random.randint(0, 2)):
                await asyncio.sleep(0)
            if random.random() < 0.3:
                random.choice(tasks).cancel()
        ended = await asyncio.wait_for(asyncio.gather(*tasks, return_exceptions=True), 10)
        left = [one for one in ended if isinstance(one, asyncio.CancelledError)]
        assert served + len(left) == requests
        assert all(one is None or isinstance(one, asyncio.CancelledError) for one in ended)
        # All turns are there again, for one and for all.
        for key in ("a", "b", "c"):
            for _ in range(OF_ONE if key != "c" else AT_ONCE - 2 * OF_ONE):
                await asyncio.wait_for(turns.take(key), 1)
        return served

    asyncio.run(run())
