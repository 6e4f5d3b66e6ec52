"""What a board shows, worked out once for all who look at it in this process.

One task for each board hears of changes, looks, and tells all streams what it saw. Between two looks there is a pause,
so that changes that come faster are shown together. Whoever comes is shown a look that began after they came. Streams
are told a few at a time: a hundred of them at once would keep every entry waiting that comes in meanwhile.
"""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable, Iterator
from contextlib import AbstractAsyncContextManager

PAUSE_S = 0.1
"""The least time from one look at a board to the next."""
KEEP_ALIVE_S = 15.0
"""How long nothing may be told."""
TOGETHER = 4
"""Streams that are told in one go."""

Look = Callable[[], Awaitable[bytes | None]]
Hear = Callable[[], AbstractAsyncContextManager[asyncio.Queue[None]]]


class SharedLook:
    """Looks at something for many at once, at first and after every change."""

    def __init__(self, look: Look, hear: Hear, pause_s: float = PAUSE_S, quiet_s: float = KEEP_ALIVE_S) -> None:
        self._look, self._hear = look, hear
        self._pause_s, self._quiet_s = pause_s, quiet_s
        self._keeper: asyncio.Task[None] | None = None
        self._changes: asyncio.Queue[None] | None = None
        self._waiting: list[asyncio.Future[None]] = []
        self._latest: tuple[int, bytes | None] = 0, None
        self.looks = 0

    async def seen(self) -> AsyncIterator[bytes]:
        """What each look sees from now on, the latest of those that were missed; nothing (``b""``) when it was quiet
        for long. It ends when what is looked at is gone; errors of a look come as they are."""
        shown = self.looks
        if self._changes is not None and self._changes.empty():
            # A look that has begun knows less than whoever comes now may have heard of.
            self._changes.put_nowait(None)
        while True:
            if self._latest[0] <= shown:
                await self._told()
            if self._latest[0] <= shown:
                yield b""
                continue
            shown, state = self._latest
            if state is None:
                return
            yield state

    async def _told(self) -> None:
        if self._keeper is None or self._keeper.done():
            self._keeper = asyncio.create_task(self._keep())
        waits: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        self._waiting.append(waits)
        await waits

    async def _keep(self) -> None:
        try:
            async with self._hear() as self._changes:
                while await self._look_once():
                    while not await heard(self._changes, self._quiet_s):
                        await self._tell()
        except Exception as problem:
            waiting, self._waiting = self._waiting, []
            for waits in waiting:
                if not waits.done():
                    waits.set_exception(problem)
        finally:
            self._changes = None

    async def _look_once(self) -> bool:
        """Whether there was something to be seen."""
        clock = asyncio.get_running_loop().time
        began = clock()
        self.looks += 1
        seen = await self._look()
        took_s = clock() - began
        self._latest = self.looks, seen
        await self._tell()
        if seen is not None:
            # Looks that take long leave as much time to others.
            await asyncio.sleep(max(0.0, began + max(self._pause_s, 2 * took_s) - clock()))
        return seen is not None

    async def _tell(self) -> None:
        waiting, self._waiting = self._waiting, []
        for first in range(0, len(waiting), TOGETHER):
            for waits in waiting[first : first + TOGETHER]:
                if not waits.done():
                    waits.set_result(None)
            await asyncio.sleep(0)

    def end(self) -> None:
        """Look no more."""
        if self._keeper is not None:
            self._keeper.cancel()


async def heard(changes: asyncio.Queue[None], within_s: float) -> bool:
    """Whether something changes within this time [s]."""
    try:
        await asyncio.wait_for(changes.get(), within_s)
    except TimeoutError:
        return False
    return True


class Boards:
    """The looks of one event loop, by the board's token, for as long as anybody looks."""

    def __init__(self) -> None:
        self._open: dict[str, tuple[SharedLook, int]] = {}

    @property
    def streams(self) -> int:
        """How many look at boards."""
        return sum(count for _, count in self._open.values())

    @contextlib.contextmanager
    def watching(self, token: str, look: Look, hear: Hear) -> Iterator[SharedLook]:
        """The one look at this board; the first who watches says how it is done and how its changes are heard."""
        shared, count = self._open.get(token, (None, 0))
        if shared is None:
            shared = SharedLook(look, hear)
        self._open[token] = (shared, count + 1)
        try:
            yield shared
        finally:
            left = self._open[token][1] - 1
            if left:
                self._open[token] = (shared, left)
            else:
                del self._open[token]
                shared.end()


_boards: dict[int, Boards] = {}


def boards() -> Boards:
    """The boards of this process's event loop."""
    return _boards.setdefault(id(asyncio.get_running_loop()), Boards())
