"""The live socket: numbered sound in; numbered frames, verdicts, state and acknowledgements out.

The browser opens with a hello (JSON), then sends binary messages: a little-endian 32-bit chunk
number and 512 samples of 16-bit mono PCM. The server answers `ready` with the chunk it wants
next, which after a break is the first one it does not have; `ack` names the first chunk that is
not yet safe on disk, so the browser can let go of those before it. The last `early` of the
`frames` in a message may still change; they come again. `{"type": "bye"}` ends the session.
"""

import asyncio
import contextlib
import errno
import struct
import time
from collections import deque
from pathlib import Path
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError
from sqlalchemy.exc import OperationalError

from orexis.core.listening.frames import Frames
from orexis.formats.audio import BYTES_PER_SAMPLE
from orexis.server.problems import DISK_FULL, Problem, ProblemError
from orexis.server.schemas import Hello
from orexis.server.sessions import CHUNK_SAMPLES, MissingSoundError, Result, Session
from orexis.server.take_schemas import RibbonFrames
from orexis.store.database import Database
from orexis.store.spool import Spool

router = APIRouter()

_MOST_SESSIONS = 16
_HELLO_WITHIN_S = 10.0
_SYNC_EVERY_S = 0.4
_MOST_WAITING = 4096
_MOST_CHUNKS_AT_ONCE = 128
_GATHER_CHUNKS, _GATHER_WITHIN_S = 2, 0.015
"""Two chunks at once cost hardly more than one; a lone one is not kept waiting for long."""
_IDLE_BEFORE_RECOVERY_S = 60.0
_RECOVERY_EVERY_S = 20.0
_HEADER = struct.Struct("<I")
_CHUNK_BYTES = CHUNK_SAMPLES * BYTES_PER_SAMPLE
_DONE, _TRY_AGAIN, _GIVE_UP = 1000, 4000, 4001
"""Close codes: the browser comes back by itself after "try again" only."""

_NOT_WRITTEN = Problem(
    title="The sound could not be written",
    status=503,
    detail="Check the disk. What you have just played is kept in this window until then.",
)


class LiveSessions:
    """The sessions now on a socket, and the recovery of those that were left behind."""

    def __init__(self, database: Database, spool_folder: Path) -> None:
        self.database = database
        self.spool_folder = spool_folder
        self._connections: dict[str, Connection] = {}

    async def enter(self, connection: "Connection") -> None:
        """Registers a connection; an older one of the same session gives way first."""
        older = self._connections.get(connection.hello.session)
        if older is not None:
            await older.give_way()
        if len(self._connections) >= _MOST_SESSIONS:
            raise ProblemError(
                503,
                "Too many windows are listening at once",
                "Close Orexis in the other windows, then try again.",
            )
        self._connections[connection.hello.session] = connection

    def leave(self, connection: "Connection") -> None:
        """Takes a connection off the list."""
        if self._connections.get(connection.hello.session) is connection:
            del self._connections[connection.hello.session]

    async def recover_for_ever(self) -> None:
        """Keeps the takes of sessions whose browser never came back.

        After a start it waits first: a browser that went on playing is back within seconds.
        """
        while True:
            await asyncio.sleep(_RECOVERY_EVERY_S)
            await asyncio.to_thread(self.recover, _IDLE_BEFORE_RECOVERY_S)

    def recover(self, idle_s: float) -> None:
        """Ends every session that nobody has sent sound to for a while."""
        for spool in Spool.left_behind(self.spool_folder, idle_s):
            if spool.session_id in self._connections:
                spool.close()
                continue
            try:
                session = Session(self.database, spool)
            except (ProblemError, ValueError):
                spool.remove()
                continue
            # A full disk or a locked file: the spool stays for the next round.
            with contextlib.suppress(OSError, OperationalError):
                session.replay()
                session.end()
            session.pause()


class Connection:
    """One socket of one session, from its hello to its end."""

    def __init__(self, socket: WebSocket, sessions: LiveSessions, hello: Hello) -> None:
        self.hello = hello
        self._socket = socket
        self._sessions = sessions
        self._waiting: deque[tuple[int, bytes]] = deque()
        self._arrived = asyncio.Event()
        self._reader: asyncio.Task[bool] | None = None
        self._ended = asyncio.Event()
        self._synced_at = 0.0
        self._playing_since: int | None = None

    async def give_way(self) -> None:
        """Stops, for a newer connection of the same session."""
        if self._reader is not None:
            self._reader.cancel()
        await self._ended.wait()

    async def run(self) -> None:
        """Serves the socket until it closes or says bye."""
        await self._sessions.enter(self)
        session: Session | None = None
        try:
            session = await asyncio.to_thread(self._take_up)
            result = await asyncio.to_thread(session.replay)
            await self._send({"type": "ready", "next": session.next_seq})
            await self._tell(session, result)
            self._reader = asyncio.create_task(self._read())
            self._reader.add_done_callback(lambda _: self._arrived.set())
            await self._listen(session, self._reader)
            if self._reader.cancelled():
                await self._close(_GIVE_UP)
            elif self._reader.result():
                await self._tell(session, await asyncio.to_thread(session.end))
                await self._send({"type": "closed"})
                await self._close(_DONE)
        finally:
            # Nothing here waits for the loop: a cancelled task would not get past it.
            if self._reader is not None:
                self._reader.cancel()
            if session is not None:
                with contextlib.suppress(OSError):
                    session.pause()
            self._sessions.leave(self)
            self._ended.set()

    def _take_up(self) -> Session:
        spool = Spool.take_up(
            self._sessions.spool_folder,
            self.hello.session,
            self.hello.model_dump(mode="json"),
            self.hello.oldest_seq * CHUNK_SAMPLES,
        )
        try:
            return Session(self._sessions.database, spool)
        except (ProblemError, ValueError):
            spool.remove()
            raise

    async def _read(self) -> bool:
        """Takes chunks as they come; true when the browser says bye, false when it is gone."""
        while True:
            message = await self._socket.receive()
            if message["type"] == "websocket.disconnect":
                return False
            content = message.get("bytes")
            if content is None:
                return True
            if len(content) != _HEADER.size + _CHUNK_BYTES:
                raise ProblemError(
                    400, "The sound came in a form Orexis does not know", "Reload the page."
                )
            (seq,) = _HEADER.unpack_from(content)
            self._waiting.append((seq, content[_HEADER.size :]))
            self._arrived.set()
            if len(self._waiting) > _MOST_WAITING:
                await asyncio.sleep(0.05)

    async def _listen(self, session: Session, reader: "asyncio.Task[bool]") -> None:
        """Takes in what has arrived, as much at once as is waiting, until the reader is done."""
        while self._waiting or not reader.done():
            if not self._waiting:
                self._arrived.clear()
                await self._arrived.wait()
                continue
            await self._gather(reader)
            seq, pcm = _next_row(self._waiting)
            await self._tell(session, await asyncio.to_thread(session.take_in, seq, pcm))
            if time.monotonic() - self._synced_at >= _SYNC_EVERY_S:
                await self._send({"type": "ack", "next": await asyncio.to_thread(session.sync)})
                self._synced_at = time.monotonic()

    async def _gather(self, reader: "asyncio.Task[bool]") -> None:
        """Gives a second chunk the time to arrive."""
        with contextlib.suppress(TimeoutError):
            async with asyncio.timeout(_GATHER_WITHIN_S):
                while len(self._waiting) < _GATHER_CHUNKS and not reader.done():
                    self._arrived.clear()
                    await self._arrived.wait()

    async def _tell(self, session: Session, result: Result) -> None:
        shown = Frames.joined([result.frames, result.early])
        if len(shown):
            ribbon = RibbonFrames.of(shown, session.exercise.target_hz)
            early = len(result.early)
            await self._send({"type": "frames", "early": early, **ribbon.model_dump()})
        if session.playing_since != self._playing_since:
            self._playing_since = session.playing_since
            await self._send({"type": "state", "playing_since": self._playing_since})
        if result.marks is not None:
            marks = [mark.model_dump() for mark in result.marks]
            await self._send({"type": "marks", "first": result.marks_from, "marks": marks})
        for take in result.takes:
            await self._send({"type": "verdict", "take": take.model_dump(mode="json")})

    async def _close(self, code: int) -> None:
        with contextlib.suppress(WebSocketDisconnect, RuntimeError):
            await self._socket.close(code)

    async def _send(self, message: dict[str, Any]) -> None:
        # The browser may be gone already; what it sent is still taken in.
        with contextlib.suppress(WebSocketDisconnect, RuntimeError):
            await self._socket.send_json(message)


def _next_row(waiting: deque[tuple[int, bytes]]) -> tuple[int, bytes]:
    """Takes the longest row of consecutive chunks from the front, as one."""
    first, pcm = waiting.popleft()
    parts = [pcm]
    while waiting and len(parts) < _MOST_CHUNKS_AT_ONCE and waiting[0][0] == first + len(parts):
        parts.append(waiting.popleft()[1])
    return first, b"".join(parts)


@router.websocket("/api/live")
async def live(socket: WebSocket) -> None:
    """Serves one browser's microphone (or stand-in player)."""
    await socket.accept()
    sessions: LiveSessions = socket.app.state.live_sessions
    try:
        async with asyncio.timeout(_HELLO_WITHIN_S):
            hello = Hello.model_validate(await socket.receive_json())
        await Connection(socket, sessions, hello).run()
    except WebSocketDisconnect:
        return
    except MissingSoundError:
        await socket.close(_TRY_AGAIN)
    except (OSError, OperationalError) as error:
        problem = DISK_FULL if _is_full(error) else _NOT_WRITTEN
        await _refuse(socket, problem, _TRY_AGAIN)
    except ProblemError as error:
        await _refuse(socket, error.problem, _GIVE_UP)
    except (ValueError, KeyError, TimeoutError) as error:
        reason = "Reload the page." if isinstance(error, ValidationError) else str(error)
        problem = Problem(title="Listening could not start", status=400, detail=reason)
        await _refuse(socket, problem, _GIVE_UP)


async def _refuse(socket: WebSocket, problem: Problem, code: int) -> None:
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        await socket.send_json({**problem.model_dump(), "type": "problem"})
        await socket.close(code)


def _is_full(error: Exception) -> bool:
    if isinstance(error, OSError):
        return error.errno == errno.ENOSPC
    return "full" in str(error)
