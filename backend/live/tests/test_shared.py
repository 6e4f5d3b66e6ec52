"""One look for all who watch: nobody is shown anything older than what they heard of, and looks are few."""

from __future__ import annotations

import asyncio
from random import Random

from django.test import SimpleTestCase

from live import views
from live.shared import Boards, SharedLook, boards


class Source:
    """Something that changes, and takes its time to be looked at."""

    def __init__(self, takes_s: float) -> None:
        self.version, self.takes_s, self.at_once = 0, takes_s, 0

    async def look(self) -> bytes | None:
        self.at_once += 1
        assert self.at_once == 1, "two looks at once"
        seen = self.version
        await asyncio.sleep(self.takes_s)
        self.at_once -= 1
        return str(seen).encode()


class Looks(SimpleTestCase):
    async def test_a_hundred_who_heard_of_one_change_are_shown_one_look(self) -> None:
        source = Source(0.02)
        shared = SharedLook(source.look)
        moment = asyncio.get_running_loop().time()
        seen = await asyncio.gather(*(shared.since(moment) for _ in range(100)))
        self.assertEqual((set(seen), shared.looks), ({b"0"}, 1))

    async def test_a_look_that_takes_long_is_never_made_twice_at_once_and_leaves_as_much_time_to_others(self) -> None:
        clock = asyncio.get_running_loop().time
        source = Source(0.05)
        shared = SharedLook(source.look, pause_s=0.01)
        began = clock()
        while clock() < began + 0.5:
            # The source itself says where two look at once.
            await asyncio.gather(shared.since(clock()), shared.since(clock()))
        self.assertLessEqual(shared.looks, 1 + (clock() - began) / 0.1)
        # After a quiet while it looks at once.
        await asyncio.sleep(0.3)
        asked = clock()
        await shared.since(asked)
        self.assertLess(clock() - asked, 0.2)

    async def test_nobody_is_shown_less_than_they_heard_of(self) -> None:
        """Changes at any moment, also in the middle of a look, for a second; forty watch."""
        clock, draws = asyncio.get_running_loop().time, Random(4)
        source = Source(0.015)
        shared = SharedLook(source.look, pause_s=0.02)
        began, shown = clock(), 0

        async def watch() -> None:
            nonlocal shown
            while clock() < began + 1:
                await asyncio.sleep(0.02 * draws.random())
                heard, moment = source.version, clock()
                seen = await shared.since(moment)
                assert seen is not None
                self.assertGreaterEqual(int(seen), heard)
                shown += 1

        async def change() -> None:
            while clock() < began + 1:
                await asyncio.sleep(0.004 * draws.random())
                source.version += 1

        await asyncio.gather(change(), *(watch() for _ in range(40)))
        self.assertGreater(source.version, 100)
        self.assertGreater(shown, 400)
        # A look begins no sooner than the pause after the one before.
        self.assertLessEqual(shared.looks, (clock() - began) / 0.02 + 2)

    async def test_one_who_leaves_takes_nothing_from_the_others(self) -> None:
        source = Source(0.05)
        shared = SharedLook(source.look)
        moment = asyncio.get_running_loop().time()
        leaving, staying = (asyncio.create_task(shared.since(moment)) for _ in range(2))
        await asyncio.sleep(0.01)
        leaving.cancel()
        self.assertEqual(await staying, b"0")

    async def test_a_look_that_fails_is_not_the_last(self) -> None:
        fails = True

        async def look() -> bytes | None:
            if fails:
                raise OSError("the database is away")
            return b"there"

        shared, clock = SharedLook(look, pause_s=0.0), asyncio.get_running_loop().time
        with self.assertRaises(OSError):
            await shared.since(clock())
        fails = False
        self.assertEqual(await shared.since(clock()), b"there")

    async def test_a_board_is_kept_while_anybody_watches(self) -> None:
        boards, source = Boards(), Source(0)
        with boards.watching("a", source.look) as one, boards.watching("a", source.look) as other:
            self.assertIs(one, other)
            with boards.watching("b", source.look) as third:
                self.assertIsNot(one, third)
                self.assertEqual(boards.streams, 3)
        self.assertEqual((boards.streams, boards._open), (0, {}))

    async def test_one_screen_too_many_is_told_and_not_kept(self) -> None:
        self.addCleanup(setattr, views, "MOST_STREAMS", views.MOST_STREAMS)
        views.MOST_STREAMS = 1
        source = Source(0)
        with boards().watching("a", source.look):
            told = [event async for event in views._board_events(1, "b", source.look)]
            self.assertEqual((told, boards().streams), ([b"event: full\ndata: {}\n\n"], 1))
