"""One look for all who watch: nobody is shown anything older than what they heard of, and looks are few."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator
from random import Random

from django.test import SimpleTestCase

from live import views
from live.shared import TOGETHER, Boards, SharedLook, boards


class Source:
    """Something that changes, tells of it, and takes its time to be looked at."""

    def __init__(self, takes_s: float) -> None:
        self.version, self.takes_s, self.at_once, self.gone = 0, takes_s, 0, False
        self.fails: Exception | None = None
        self._listening: set[asyncio.Queue[None]] = set()

    async def look(self) -> bytes | None:
        self.at_once += 1
        assert self.at_once == 1, "two looks at once"
        seen = self.version
        await asyncio.sleep(self.takes_s)
        self.at_once -= 1
        if self.fails is not None:
            raise self.fails
        return None if self.gone else str(seen).encode()

    @contextlib.asynccontextmanager
    async def hear(self) -> AsyncIterator[asyncio.Queue[None]]:
        queue: asyncio.Queue[None] = asyncio.Queue(maxsize=1)
        self._listening.add(queue)
        try:
            yield queue
        finally:
            self._listening.discard(queue)

    def change(self) -> None:
        self.version += 1
        for queue in self._listening:
            if queue.empty():
                queue.put_nowait(None)

    @property
    def is_heard(self) -> bool:
        return bool(self._listening)


def clock() -> float:
    return asyncio.get_running_loop().time()


class Looks(SimpleTestCase):
    def shared(self, source: Source, pause_s: float = 0.02, quiet_s: float = 15) -> SharedLook:
        shared = SharedLook(source.look, source.hear, pause_s, quiet_s)
        self.addCleanup(shared.end)
        return shared

    async def test_a_hundred_who_come_together_are_shown_one_look_and_one_more_for_a_change(self) -> None:
        source = Source(0.02)
        shared = self.shared(source)
        streams = [shared.seen() for _ in range(100)]
        self.assertEqual(set(await asyncio.gather(*map(anext, streams))), {b"0"})
        self.assertEqual(shared.looks, 1)
        source.change()
        self.assertEqual(set(await asyncio.gather(*map(anext, streams))), {b"1"})
        self.assertEqual(shared.looks, 2)

    async def test_whoever_comes_is_shown_a_look_that_began_after_they_came(self) -> None:
        source = Source(0.03)
        shared = self.shared(source)
        first = shared.seen()
        self.assertEqual(await anext(first), b"0")
        # What nobody was told of, like the time, is looked at again all the same.
        source.version = 7
        self.assertEqual(await anext(shared.seen()), b"7")
        # So it is for one who comes in the middle of a look.
        source.change()
        await asyncio.sleep(0.04)
        source.version = 9
        late = shared.seen()
        while not (state := await anext(late)):
            pass
        self.assertEqual(state, b"9")

    async def test_a_look_that_takes_long_is_never_made_twice_at_once_and_leaves_as_much_time_to_others(self) -> None:
        source = Source(0.05)
        shared = self.shared(source, pause_s=0.01)
        began, stream = clock(), shared.seen()
        while clock() < began + 0.5:
            # The source itself says where two look at once.
            source.change()
            await anext(stream)
        self.assertGreater(shared.looks, 2)
        self.assertLessEqual(shared.looks, 1 + (clock() - began) / 0.1)
        # After a quiet while it looks at once; of a few tries one is not held up by the machine.
        took = []
        for _ in range(5):
            await asyncio.sleep(0.3)
            asked = clock()
            source.change()
            await anext(stream)
            took.append(clock() - asked)
        self.assertLess(min(took), 0.2)

    async def test_nobody_is_shown_less_than_they_heard_of(self) -> None:
        """Changes at any moment, also in the middle of a look; forty come and go, some of them slow."""
        draws, source = Random(4), Source(0.015)
        shared = self.shared(source)
        began, shown = clock(), 0

        async def watch(patience_s: float) -> None:
            nonlocal shown
            while shown < 500 or source.version < 120:
                heard, stream, latest = source.version, shared.seen(), -1
                for _ in range(5):
                    while not (state := await anext(stream)):
                        pass
                    # What was known when they came is there, and nothing goes backwards.
                    self.assertGreaterEqual(int(state), max(heard, latest))
                    latest, shown = int(state), shown + 1
                    await asyncio.sleep(patience_s * draws.random())

        async def change() -> None:
            while True:
                await asyncio.sleep(0.004 * draws.random())
                source.change()

        changing = asyncio.create_task(change())
        await asyncio.gather(*(watch(0.1 if n % 4 == 0 else 0.0) for n in range(40)))
        changing.cancel()
        # A look begins no sooner than the pause after the one before.
        self.assertLessEqual(shared.looks, (clock() - began) / 0.02 + 2)

    async def test_the_last_change_is_always_shown(self) -> None:
        draws, source = Random(5), Source(0.005)
        shared = self.shared(source, pause_s=0.01)
        streams = [shared.seen() for _ in range(9)]
        for _ in range(20):
            for _ in range(draws.randrange(1, 4)):
                source.change()
                await asyncio.sleep(0.01 * draws.random())
            for stream in streams:
                while int(await asyncio.wait_for(anext(stream), 5) or 0) < source.version:
                    pass

    async def test_what_else_comes_in_is_not_kept_waiting_while_all_are_told(self) -> None:
        source = Source(0)
        shared = self.shared(source)
        streams = [shared.seen() for _ in range(60)]
        await asyncio.gather(*map(anext, streams))
        told, most, before = 0, 0, 0

        async def wait(stream: AsyncIterator[bytes]) -> None:
            nonlocal told
            await anext(stream)
            told += 1

        waiting = [asyncio.create_task(wait(stream)) for stream in streams]
        await asyncio.sleep(0.05)
        source.change()
        while told < 60:
            await asyncio.sleep(0)
            most, before = max(most, told - before), told
        await asyncio.gather(*waiting)
        # Between two turns of anything else only a few were told.
        self.assertLessEqual(most, TOGETHER)

    async def test_one_who_leaves_takes_nothing_from_the_others(self) -> None:
        source = Source(0.05)
        shared = self.shared(source)
        leaving, staying = (asyncio.ensure_future(anext(shared.seen())) for _ in range(2))
        await asyncio.sleep(0.01)
        leaving.cancel()
        self.assertEqual(await staying, b"0")

    async def test_when_it_is_quiet_that_is_told(self) -> None:
        shared = self.shared(Source(0), quiet_s=0.05)
        stream = shared.seen()
        self.assertEqual([await anext(stream) for _ in range(3)], [b"0", b"", b""])
        self.assertEqual(shared.looks, 1)

    async def test_it_ends_for_all_when_what_is_looked_at_is_gone(self) -> None:
        source = Source(0)
        shared = self.shared(source)
        streams = [shared.seen() for _ in range(3)]
        await asyncio.gather(*map(anext, streams))
        source.gone = True
        source.change()
        for stream in streams:
            self.assertEqual([state async for state in stream], [])

    async def test_a_look_that_fails_is_told_to_all_and_is_not_the_last(self) -> None:
        source = Source(0.01)
        shared = self.shared(source)
        source.fails = OSError("the database is away")
        for failed in await asyncio.gather(*(anext(shared.seen()) for _ in range(3)), return_exceptions=True):
            self.assertIs(failed, source.fails)
        source.fails = None
        self.assertEqual(await anext(shared.seen()), b"0")

    async def test_a_board_is_kept_while_anybody_watches(self) -> None:
        boards, source, else_ = Boards(), Source(0), Source(0)
        with boards.watching("a", source.look, source.hear) as one:
            with boards.watching("a", source.look, source.hear) as other:
                self.assertIs(one, other)
                with boards.watching("b", else_.look, else_.hear) as third:
                    self.assertIsNot(one, third)
                    self.assertEqual(boards.streams, 3)
            self.assertEqual(await anext(one.seen()), b"0")
            self.assertTrue(source.is_heard)
        await asyncio.sleep(0.01)
        self.assertEqual((boards.streams, boards._open, source.is_heard), (0, {}, False))

    async def test_one_screen_too_many_is_told_and_not_kept(self) -> None:
        self.addCleanup(setattr, views, "MOST_STREAMS", views.MOST_STREAMS)
        views.MOST_STREAMS = 1
        source = Source(0)
        with boards().watching("a", source.look, source.hear):
            told = [event async for event in views._board_events(1, "b", source.look)]
            self.assertEqual((told, boards().streams), ([b"event: full\ndata: {}\n\n"], 1))
