"""One connection per server process that hears which runs change, and hands it to whoever waits here."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator

import psycopg

from evengirder.database import address

CHANNEL = "girder"
RETRY_S = 1.0


class Listener:
    """Listens while anybody waits; the first to wait opens the connection, the last to leave closes it.

    A waiter gets a queue of depth one: several changes before it looks are one.
    """

    def __init__(self) -> None:
        self._waiting: dict[int, set[asyncio.Queue[None]]] = {}
        self._task: asyncio.Task[None] | None = None
        self._ready = asyncio.Event()

    @contextlib.asynccontextmanager
    async def changes(self, run: int) -> AsyncIterator[asyncio.Queue[None]]:
        """A queue that gets an entry whenever the run changes."""
        queue: asyncio.Queue[None] = asyncio.Queue(maxsize=1)
        self._waiting.setdefault(run, set()).add(queue)
        if self._task is None or self._task.done():
            self._ready.clear()
            self._task = asyncio.create_task(self._listen())
        # What changes from here on is heard; a database that is away is no reason to wait for ever.
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(self._ready.wait(), 5)
        # The waiter begins by looking for itself, so what was told up to now is known to it.
        with contextlib.suppress(asyncio.QueueEmpty):
            queue.get_nowait()
        try:
            yield queue
        finally:
            self._waiting[run].discard(queue)
            if not self._waiting[run]:
                del self._waiting[run]
            if not self._waiting and self._task is not None:
                self._task.cancel()
                self._task = None

    async def _listen(self) -> None:
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(**address(), autocommit=True) as connection:
                    await connection.execute(f"LISTEN {CHANNEL}")
                    self._ready.set()
                    # Something may have happened while nobody listened.
                    self._tell_all()
                    async for heard in connection.notifies():
                        self._tell(int(heard.payload))
            except psycopg.Error:
                await asyncio.sleep(RETRY_S)

    def _tell_all(self) -> None:
        for run in list(self._waiting):
            self._tell(run)

    def _tell(self, run: int) -> None:
        for queue in self._waiting.get(run, ()):
            if queue.empty():
                queue.put_nowait(None)


_listeners: dict[int, Listener] = {}


def listener() -> Listener:
    """The listener of this process's event loop."""
    loop = id(asyncio.get_running_loop())
    return _listeners.setdefault(loop, Listener())
