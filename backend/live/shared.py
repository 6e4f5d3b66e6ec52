"""What a board shows, worked out once for all who look at it in this process.

A change is heard by every stream of a board at the same moment. The first of them begins to look; all others wait for
the same answer. A look that began before a change does not know of it, so whoever heard later gets a later one; between
two beginnings there is a pause, so that changes that come faster are shown together.
"""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import Awaitable, Callable, Iterator

PAUSE_S = 0.1
"""The least time from one look at a board to the next."""

Look = Callable[[], Awaitable[bytes | None]]


class SharedLook:
    """Looks at something for many at once."""

    def __init__(self, look: Look, pause_s: float = PAUSE_S) -> None:
        self._look = look
        self._pause_s = pause_s
        self._began: float | None = None
        self._took_s = 0.0
        self._running: asyncio.Task[bytes | None] | None = None
        self._next: asyncio.Task[bytes | None] | None = None
        self.looks = 0

    async def since(self, moment: float) -> bytes | None:
        """What is seen by a look that began at this moment of the loop's clock or later; errors of the look as they
        come."""
        if self._running is not None and self._began is not None and self._began >= moment:
            return await asyncio.shield(self._running)
        if self._next is None:
            self._next = asyncio.create_task(self._look_after_a_pause())
        return await asyncio.shield(self._next)

    async def _look_after_a_pause(self) -> bytes | None:
        clock = asyncio.get_running_loop()
        if self._running is not None and self._began is not None:
            # Two looks at once would only keep each other waiting, and those that take long leave time to others.
            await asyncio.wait([self._running])
            await asyncio.sleep(max(0.0, self._began + max(self._pause_s, 2 * self._took_s) - clock.time()))
        # Who hears of a change from here on waits for the next look.
        self._running, self._next = self._next, None
        self._began = clock.time()
        self.looks += 1
        try:
            return await self._look()
        finally:
            self._took_s = clock.time() - self._began


class Boards:
    """The looks of one event loop, by the board's token, for as long as anybody looks."""

    def __init__(self) -> None:
        self._open: dict[str, tuple[SharedLook, int]] = {}

    @property
    def streams(self) -> int:
        """How many look at boards."""
        return sum(count for _, count in self._open.values())

    @contextlib.contextmanager
    def watching(self, token: str, look: Look) -> Iterator[SharedLook]:
        """The one look at this board; the first who watches says how it is done."""
        shared, count = self._open.get(token, (None, 0))
        if shared is None:
            shared = SharedLook(look)
        self._open[token] = (shared, count + 1)
        try:
            yield shared
        finally:
            left = self._open[token][1] - 1
            if left:
                self._open[token] = (shared, left)
            else:
                del self._open[token]


_boards: dict[int, Boards] = {}


def boards() -> Boards:
    """The boards of this process's event loop."""
    return _boards.setdefault(id(asyncio.get_running_loop()), Boards())
