"""The sessions that are being listened to, and the recovery of those that were left behind."""

import asyncio
import contextlib
import logging
from collections import defaultdict
from collections.abc import AsyncIterator, Callable
from functools import partial
from pathlib import Path
from typing import TypeVar

import anyio
from sqlalchemy.exc import SQLAlchemyError

from orexis.practice.free import FreeOutcome
from orexis.practice.live_sound import LiveSound, ReplayStoppedError
from orexis.practice.recovery import recover
from orexis.practice.unclaimed import claim, discard
from orexis.server.live.house import House
from orexis.server.problems import ProblemError
from orexis.server.warming import Listening
from orexis.store.database import Database
from orexis.store.spool import Spool, SpoolUnreadableError

log = logging.getLogger(__name__)

_MOST_SESSIONS = 16
_IDLE_BEFORE_RECOVERY_S = 60.0
_RECOVERY_EVERY_S = 20.0

T = TypeVar("T")


async def in_thread(call: Callable[..., T], *values: object) -> T:
    """Runs a call in a thread and waits for its end, even when this task is cancelled: what
    holds a session must not let go of it while somebody still works on it."""
    running = asyncio.ensure_future(asyncio.to_thread(call, *values))
    cancelled: asyncio.CancelledError | None = None
    # A scope that is left would go on cancelling at every turn of the loop, and starve the thread.
    with anyio.CancelScope(shield=True):
        while not running.done():
            try:
                await asyncio.shield(running)
            except asyncio.CancelledError as error:
                if running.cancelled():
                    raise
                cancelled = error
            except Exception:
                break
    if cancelled is not None and running.exception() is None:
        raise cancelled
    return running.result()


class LiveSessions:
    """Who holds which session. A session is held by one socket, or by its recovery, at a time."""

    def __init__(self, database: Database, spool_folder: Path, listening: Listening) -> None:
        self.database = database
        self.listening = listening
        self.spool_folder = spool_folder
        self._locks: dict[str, asyncio.Lock] = defaultdict(asyncio.Lock)
        self._waiting: dict[str, int] = defaultdict(int)
        self._give_way: dict[str, Callable[[str], None]] = {}
        self.house = House()

    def is_played(self, session_id: str) -> bool:
        """Whether somebody plays in a session now."""
        return session_id in self._waiting

    @property
    def playing(self) -> bool:
        """Whether anybody is being listened to."""
        return bool(self._waiting)

    @contextlib.asynccontextmanager
    async def held(
        self, session_id: str, give_way: Callable[[str], None], device: str = ""
    ) -> AsyncIterator[None]:
        """Holds a session from taking it up to letting it go.

        Whoever holds it is asked to give way to a `device` and is waited for. Raises a problem when
        too many are held already.
        """
        if session_id not in self._waiting and len(self._waiting) >= _MOST_SESSIONS:
            raise ProblemError(
                503,
                "Too many windows are listening at once",
                "Close Orexis in the other windows, then try again.",
            )
        self._waiting[session_id] += 1
        try:
            if session_id in self._give_way:
                self._give_way[session_id](device)
            async with self._locks[session_id]:
                self._give_way[session_id] = give_way
                # Those that still wait came later.
                if self._waiting[session_id] > 1:
                    give_way("")
                try:
                    yield
                finally:
                    del self._give_way[session_id]
        finally:
            self._waiting[session_id] -= 1
            if not self._waiting[session_id]:
                del self._waiting[session_id]
                self._locks.pop(session_id, None)

    async def recover_for_ever(self) -> None:
        """Keeps the takes of sessions whose browser never came back.

        After a start it waits first: a browser that went on playing is back within seconds.
        """
        while True:
            await asyncio.sleep(_RECOVERY_EVERY_S)
            try:
                await self.recover(_IDLE_BEFORE_RECOVERY_S)
            except Exception:
                log.exception("Looking for sessions that were left behind failed; it goes on.")

    async def recover(self, idle_s: float) -> None:
        """Ends every session that nobody has sent sound to for a while. One that cannot be
        ended is left for the next time and keeps no other from it."""
        for session_id in await in_thread(Spool.left_behind, self.spool_folder, idle_s):
            # Whoever plays in it now has it.
            if session_id in self._waiting:
                continue
            try:
                await self._recover_one(session_id)
            except asyncio.CancelledError:
                raise
            except ReplayStoppedError:
                # A browser came back for it.
                continue
            except (OSError, SQLAlchemyError, SpoolUnreadableError) as error:
                log.warning("Session %s could not be ended yet: %s", session_id, error)
            except Exception:
                log.exception("Session %s could not be ended; its sound is set aside.", session_id)
                with contextlib.suppress(OSError, SpoolUnreadableError):
                    spool = await in_thread(Spool.open, self.spool_folder, session_id)
                    await in_thread(spool.set_aside, "it could not be judged")

    async def finish(self, session_id: str) -> None:
        """Judges what is left of a session that nobody plays in. Raises a problem where somebody
        does."""
        self._check_left(session_id)
        await self._recover_one(session_id)

    def _check_left(self, session_id: str) -> None:
        """Raises a problem where somebody plays in a session."""
        if session_id in self._waiting:
            raise ProblemError(
                409,
                "This session is being played",
                "End it in the window that it is played in.",
            )

    async def claim(self, session_id: str, player_id: int) -> FreeOutcome:
        """Gives playing that is nobody's to a player; what came of it. Raises a problem where it is
        still played, `LookupError` where there is none, and `NoSuchPlayerError`."""
        return await self._with_unclaimed(session_id, partial(claim, player_id=player_id))

    async def discard(self, session_id: str) -> None:
        """Lets playing that is nobody's go. Raises as `claim`."""
        await self._with_unclaimed(session_id, discard)

    async def _with_unclaimed(self, session_id: str, use: Callable[[Database, Spool], T]) -> T:
        self._check_left(session_id)
        async with self.held(session_id, lambda device: None):
            try:
                spool = await in_thread(Spool.open, self.spool_folder, session_id)
            except (FileNotFoundError, ValueError) as error:
                raise LookupError(session_id) from error
            try:
                return await in_thread(use, self.database, spool)
            finally:
                await in_thread(spool.close)

    async def _recover_one(self, session_id: str) -> None:
        recovering: list[LiveSound] = []

        def give_way(device: str = "") -> None:
            for session in recovering:
                session.interrupt()

        async with self.held(session_id, give_way):
            try:
                spool = await in_thread(Spool.open, self.spool_folder, session_id)
            except FileNotFoundError:
                return
            try:
                await in_thread(recover, self.database, spool, recovering.append)
            except asyncio.CancelledError:
                give_way()
                raise
            finally:
                await in_thread(spool.close)
