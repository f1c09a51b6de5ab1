"""The live socket: numbered sound in; numbered frames, verdicts, state and acknowledgements out.

The browser opens with a hello (JSON), then sends binary messages: a little-endian 32-bit chunk
number and 512 samples of 16-bit mono PCM, and between them, in JSON, what the player says. The
server answers `ready` with the chunk it wants next, which after a break is the first one it does
not have; `ack` names the first chunk that is not yet safe on disk, so the browser can let go of
those before it. The last `early` of the `frames` in a message may still change; they come again.
`session` says where the session is whenever it has moved on, and nothing is said of it that is not
on disk. `{"type": "bye"}` leaves it.
"""

import asyncio
import contextlib
import logging
import struct
import time
from collections import deque
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import OperationalError

from orexis.formats.audio import BYTES_PER_SAMPLE
from orexis.practice.beginning import ExerciseUnfitError, NoSuchPlayerError
from orexis.practice.free import FreePlaying
from orexis.practice.kept_sessions import heard_until
from orexis.practice.live_sound import (
    CHUNK_SAMPLES,
    LiveSound,
    MissingSoundError,
    ReplayStoppedError,
)
from orexis.practice.recovery import keep_unjudged, live_sound
from orexis.practice.sessions import Session
from orexis.server.home.door import device_name
from orexis.server.live.house import OpenEar, Watcher
from orexis.server.live.messages import (
    BROWSER_MESSAGE,
    Acknowledged,
    Bye,
    Closed,
    GettingReady,
    Hello,
    MovedTold,
    OpenEarOut,
    ProblemTold,
    Ready,
)
from orexis.server.live.sessions import LiveSessions, in_thread
from orexis.server.live.telling import STRANGE, Telling, telling_of
from orexis.server.problems import (
    DISK_FULL,
    Problem,
    ProblemError,
    invalid_words,
    is_disk_full,
    not_found,
)
from orexis.store.spool import Spool, SpoolUnreadableError

router = APIRouter()
log = logging.getLogger(__name__)

HELLO_WITHIN_S = 10.0
_SYNC_EVERY_S = 0.4
_SAYS_HOW_LONG_EVERY_S = 0.5
_MOST_WAITING = 4096
_MOST_CHUNKS_AT_ONCE = 128
_GATHER_CHUNKS, _GATHER_WITHIN_S = 2, 0.015
"""Two chunks at once cost hardly more than one; a lone one is not kept waiting for long."""
_HEADER = struct.Struct("<I")
_CHUNK_BYTES = CHUNK_SAMPLES * BYTES_PER_SAMPLE
_DONE, _TRY_AGAIN, _GIVE_UP = 1000, 4000, 4001
"""Close codes: the browser comes back by itself after "try again" only."""

_NOT_WRITTEN = Problem(
    title="The sound could not be written",
    status=503,
    detail="Check the disk. What you have just played is kept in this window until then.",
)
_BROKEN = Problem(
    title="Something went wrong in Orexis",
    status=500,
    detail="Orexis takes the session up again by itself. What you have played is kept.",
)
_NO_HELLO = Problem(
    title="Listening did not begin in time",
    status=408,
    detail="The page did not say in time what is played. Reload it.",
)
_OTHER_RATE = ProblemError(
    409,
    "The sound comes at another rate than this session began with",
    "Go on with the microphone it began with, or leave the session and begin another.",
)


_Waiting = tuple[int, bytes] | BaseModel | Watcher
"""A chunk, something that was said, or a window that wants to know where it stands."""


class Connection:
    """One socket of one session, from its hello to its end."""

    def __init__(self, socket: WebSocket, sessions: LiveSessions, hello: Hello) -> None:
        self._hello = hello
        self._socket = socket
        self._sessions = sessions
        self._session: Session | FreePlaying | None = None
        self._waiting: deque[_Waiting] = deque()
        self._arrived = asyncio.Event()
        self._reader: asyncio.Task[bool] | None = None
        self._given_way = False
        self._gave_way_to = ""
        self._synced_at = 0.0
        self._ear: OpenEar | None = None

    def give_way(self, device: str) -> None:
        """Stops, for a newer connection of the same session, from a device."""
        self._given_way = True
        self._gave_way_to = device
        if self._session is not None:
            self._session.interrupt()
        if self._reader is not None:
            self._reader.cancel()

    async def run(self) -> None:
        """Serves the socket until it closes or says bye."""
        device = device_name(self._socket.scope)
        async with self._sessions.held(self._hello.session, self.give_way, device):
            try:
                session = self._session = await in_thread(self._take_up)
                if self._given_way:
                    session.interrupt()
                await self._until_ready()
                telling = telling_of(self._sessions.database, session, self._tell)
                if self._hello.source == "microphone":
                    session.watch(frozenset(self._hello.processing))
                result: Any = await in_thread(session.replay)
                if self._hello.resumes:
                    await in_thread(session.resume, self._hello.started_at)
                await self._send(Ready(next=session.next_seq))
                await telling.tell(result)
                ear = self._ear = self._open_ear(session, telling, device)
                with self._sessions.house.listening(ear):
                    await self._serve(session, telling)
            finally:
                if self._reader is not None:
                    self._reader.cancel()
                if self._session is not None:
                    with contextlib.suppress(OSError):
                        await in_thread(self._session.pause)

    async def _until_ready(self) -> None:
        """Waits until listening is ready, and says how long that still takes."""
        listening = self._sessions.listening
        while not listening.ready and not self._given_way:
            await self._send(GettingReady(left_s=listening.left_s))
            await asyncio.sleep(_SAYS_HOW_LONG_EVERY_S)

    async def _serve(self, session: LiveSound, telling: Telling[Any, Any]) -> None:
        self._reader = asyncio.create_task(self._read())
        self._reader.add_done_callback(lambda _: self._arrived.set())
        if self._given_way:
            self._reader.cancel()
        await self._listen(session, telling, self._reader)
        if session.full:
            await self._end(session, telling)
        elif self._reader.cancelled():
            await self._send(MovedTold(device=self._gave_way_to))
            await self._close(_GIVE_UP)
        elif self._reader.result():
            await self._end(session, telling)

    async def _end(self, session: LiveSound, telling: Telling[Any, Any]) -> None:
        await telling.tell(await in_thread(session.end))
        await self._send(Closed())
        await self._close(_DONE)

    def _take_up(self) -> Session | FreePlaying:
        with self._sessions.database.session() as data:
            left_at = heard_until(data, self._hello.session)
        spool = Spool.take_up(
            self._sessions.spool_folder,
            self._hello.session,
            self._hello.setup().as_json(),
            max(self._hello.oldest_seq * CHUNK_SAMPLES, left_at),
        )
        try:
            session = live_sound(self._sessions.database, spool)
            if session.sample_rate != self._hello.sample_rate:
                raise _OTHER_RATE
            return session
        except ExerciseUnfitError as error:
            kept = keep_unjudged(self._sessions.database, spool, str(error))
            more = " What you had played is kept as a recording." if kept else ""
            raise ProblemError(422, "This cannot be played now", f"{error}{more}") from None
        except NoSuchPlayerError:
            # Nothing can have been played by nobody.
            if spool.end_sample:
                spool.set_aside("its player is not there any more")
            else:
                spool.remove()
            raise not_found("player") from None
        except (ValueError, LookupError, TypeError) as error:
            spool.set_aside(str(error))
            raise SpoolUnreadableError(str(error)) from error

    async def _read(self) -> bool:
        """Takes chunks as they come; true when the browser says bye, false when it is gone."""
        while True:
            message = await self._socket.receive()
            if message["type"] == "websocket.disconnect":
                return False
            content = message.get("bytes")
            if content is None:
                said = _said(message.get("text") or "")
                if isinstance(said, Bye):
                    return True
                self._hand(said)
                continue
            if len(content) != _HEADER.size + _CHUNK_BYTES:
                raise STRANGE
            (seq,) = _HEADER.unpack_from(content)
            self._hand((seq, content[_HEADER.size :]))
            if len(self._waiting) > _MOST_WAITING:
                await asyncio.sleep(0.05)

    async def _listen(
        self, session: LiveSound, telling: Telling[Any, Any], reader: "asyncio.Task[bool]"
    ) -> None:
        """Takes in what has arrived, as much at once as is waiting, until the reader is done."""
        while self._waiting or not reader.done():
            if not self._waiting:
                self._arrived.clear()
                await self._arrived.wait()
                continue
            first = self._waiting[0]
            if isinstance(first, Watcher):
                self._waiting.popleft()
                await telling.retell(first.put)
                if self._ear is not None:
                    self._ear.caught_up(first)
                continue
            if isinstance(first, BaseModel):
                self._waiting.popleft()
                await telling.answer(first)
                continue
            await self._gather(reader)
            seq, pcm = _next_row(self._waiting)
            await telling.tell(await in_thread(session.take_in, seq, pcm))
            if session.full:
                return
            if time.monotonic() - self._synced_at >= _SYNC_EVERY_S:
                await self._send(Acknowledged(next=await in_thread(session.sync)))
                self._synced_at = time.monotonic()

    def _hand(self, waiting: "_Waiting") -> None:
        """Puts something in the row of what is waiting."""
        self._waiting.append(waiting)
        self._arrived.set()

    def _open_ear(
        self, session: Session | FreePlaying, telling: Telling[Any, Any], device: str
    ) -> OpenEar:
        """What the house is told of this ear. What others say to it waits in the same row."""

        def say(said: BaseModel) -> None:
            if isinstance(said, telling.FROM_AFAR):
                self._hand(said)

        player = session.player
        out = OpenEarOut(
            session=self._hello.session,
            player_id=player and player.id,
            player="" if player is None else player.name,
            title=session.setup.title,
            kind=session.setup.kind,
            device=device,
            source=self._hello.source,
            sample_rate=session.sample_rate,
        )
        return OpenEar(out, say, self._hand)

    async def _tell(self, message: BaseModel) -> None:
        """Tells this window, and all that watch."""
        await self._send(message)
        if self._ear is not None:
            self._ear.heard(message)

    async def _gather(self, reader: "asyncio.Task[bool]") -> None:
        """Gives a second chunk the time to arrive."""
        with contextlib.suppress(TimeoutError):
            async with asyncio.timeout(_GATHER_WITHIN_S):
                while len(self._waiting) < _GATHER_CHUNKS and not reader.done():
                    self._arrived.clear()
                    await self._arrived.wait()

    async def _close(self, code: int) -> None:
        with contextlib.suppress(WebSocketDisconnect, RuntimeError):
            await self._socket.close(code)

    async def _send(self, message: BaseModel) -> None:
        # The browser may be gone already; what it sent is still taken in.
        with contextlib.suppress(WebSocketDisconnect, RuntimeError):
            await self._socket.send_text(message.model_dump_json())


def _said(text: str) -> BaseModel:
    """What the player says. Raises a problem for any other words."""
    try:
        return BROWSER_MESSAGE.validate_json(text)
    except ValidationError:
        raise STRANGE from None


def _next_row(waiting: "deque[_Waiting]") -> tuple[int, bytes]:
    """Takes the longest row of consecutive chunks from the front, as one; a chunk is there."""
    first: int | None = None
    parts: list[bytes] = []
    while waiting and len(parts) < _MOST_CHUNKS_AT_ONCE:
        one = waiting[0]
        if not isinstance(one, tuple) or (first is not None and one[0] != first + len(parts)):
            break
        waiting.popleft()
        first = one[0] if first is None else first
        parts.append(one[1])
    return first or 0, b"".join(parts)


@router.websocket("/api/live")
async def live(socket: WebSocket) -> None:
    """Serves one browser's microphone (or stand-in player)."""
    await socket.accept()
    sessions: LiveSessions = socket.app.state.live_sessions
    hello = await _hello(socket)
    if hello is None:
        return
    try:
        await Connection(socket, sessions, hello).run()
    except WebSocketDisconnect:
        return
    except ReplayStoppedError:
        # A newer window has the session.
        await _refuse(socket, None, _GIVE_UP)
    except (MissingSoundError, SpoolUnreadableError):
        # What makes no sense has been set aside; the next attempt begins anew.
        await _refuse(socket, None, _TRY_AGAIN)
    except ProblemError as error:
        await _refuse(socket, error.problem, _GIVE_UP)
    except (OSError, OperationalError) as error:
        await _refuse(socket, DISK_FULL if is_disk_full(error) else _NOT_WRITTEN, _TRY_AGAIN)
    except ValueError as error:
        problem = Problem(title="Listening could not start", status=400, detail=str(error))
        await _refuse(socket, problem, _GIVE_UP)
    except Exception:
        log.exception("Session %s broke off; the browser takes it up again.", hello.session)
        await _refuse(socket, _BROKEN, _TRY_AGAIN)


async def _hello(socket: WebSocket) -> Hello | None:
    """The browser's first message, or nothing when it was refused or never came."""
    try:
        async with asyncio.timeout(HELLO_WITHIN_S):
            said = await socket.receive()
        if said["type"] == "websocket.disconnect":
            return None
        return Hello.model_validate_json(said.get("text") or "null")
    except TimeoutError:
        await _refuse(socket, _NO_HELLO, _GIVE_UP)
    except ValidationError as error:
        first = error.errors()[0]
        detail = f"{invalid_words(first['type'], first['msg'], first['loc'], first.get('ctx'))}"
        problem = Problem(
            title="Listening could not start", status=400, detail=f"{detail} Reload the page."
        )
        await _refuse(socket, problem, _GIVE_UP)
    return None


async def _refuse(socket: WebSocket, problem: Problem | None, code: int) -> None:
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        if problem is not None:
            told = ProblemTold(title=problem.title, status=problem.status, detail=problem.detail)
            await socket.send_text(told.model_dump_json())
        await socket.close(code)
