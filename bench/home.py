"""What it costs to serve the devices of a house: TLS, watching, and four who play at once.

A client sends a phrase at the pace it is played, over loopback as it is and over TLS, in turn, and
notes how long after a chunk went out the frames it completes came back. Another window watches over
TLS: how much later than the ear it is told the same. Wanted: TLS adds at most 10 ms at p95 and
who watches is at most 150 ms behind; four who play take at most half of a core.
"""

import asyncio
import json
import tempfile
import time
import uuid
from contextlib import AsyncExitStack
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import psutil
from tests.server.home.conftest import ServingHouse
from websockets.asyncio.client import ClientConnection, connect
from websockets.typing import Origin

from bench.goals import at_most
from bench.listening_page import add_player
from bench.sounds import RATE, phrase
from orexis.core.listening.tracking.frames import HOP_S
from orexis.server.home.door import COOKIE

_CHUNK = 512
_REGISTER = "middle"
_TURNS = 3


@dataclass
class _Heard:
    """When each chunk went out, and when the frames before each frame were there."""

    sent: list[float] = field(default_factory=list)
    frames: list[tuple[int, float]] = field(default_factory=list)

    def latency_ms(self) -> np.ndarray:
        """From a chunk to the frames that it completes."""
        found = []
        for end, at in self.frames:
            chunk = int(end * HOP_S * RATE) // _CHUNK
            if chunk < len(self.sent):
                found.append(1000 * (at - self.sent[chunk]))
        return np.array(found)


class _House:
    def __init__(self, server: ServingHouse, token: str) -> None:
        self.server, self._token = server, token

    def socket(self, path: str, *, tls: bool) -> connect:
        """A socket by one of the two doors."""
        server = self.server
        if not tls:
            return connect(f"ws://127.0.0.1:{server.port}{path}", origin=Origin(server.url))
        return connect(
            f"wss://{server.host}{path}",
            ssl=server.trust,
            origin=Origin(server.house),
            additional_headers={"Cookie": f"{COOKIE}={self._token}"},
        )

    async def play(self, pcm: np.ndarray, session: str, *, tls: bool) -> _Heard:
        """Plays a sound at its own pace."""
        heard = _Heard()
        hello = {
            "type": "hello",
            "session": session,
            "kind": "free",
            "player_id": 1,
            "exercises": [],
            "source": "microphone",
            "sample_rate": RATE,
            "started_at": datetime.now(UTC).isoformat(),
        }
        async with self.socket("/api/live", tls=tls) as socket:
            await socket.send(json.dumps(hello))
            while json.loads(await socket.recv())["type"] != "ready":
                pass
            listening = asyncio.create_task(_follow(socket, heard.frames, "closed"))
            began = time.perf_counter()
            for seq in range(len(pcm) // _CHUNK):
                await asyncio.sleep(began + seq * _CHUNK / RATE - time.perf_counter())
                heard.sent.append(time.perf_counter())
                part = pcm[seq * _CHUNK : (seq + 1) * _CHUNK].tobytes()
                await socket.send(seq.to_bytes(4, "little") + part)
            await socket.send(json.dumps({"type": "bye"}))
            await listening
        return heard


async def _follow(socket: ClientConnection, frames: list[tuple[int, float]], last: str) -> None:
    """Notes how far the frames of each message go, up to a message of a kind."""
    async for message in socket:
        said: dict[str, Any] = json.loads(message)
        if said["type"] == "frames":
            end = said["first"] + len(said["pitch_cents"]) - said["early"]
            frames.append((end, time.perf_counter()))
        if said["type"] == last:
            return


async def _behind_ms(house: _House, pcm: np.ndarray) -> np.ndarray:
    """How much later than the ear a window over TLS is told of the same frames."""
    session = uuid.uuid4().hex
    watched: list[tuple[int, float]] = []
    async with AsyncExitStack() as stack:
        window = await stack.enter_async_context(house.socket("/api/house", tls=True))
        await window.send(json.dumps({"type": "watch", "session": session}))
        watching = asyncio.create_task(_follow(window, watched, "never"))
        heard = await house.play(pcm, session, tls=False)
        watching.cancel()
    ear = dict(heard.frames)
    return np.array([1000 * (at - ear[end]) for end, at in watched if end in ear])


async def _measured(house: _House, pcm: np.ndarray, process: psutil.Process) -> None:
    late: dict[bool, list[np.ndarray]] = {False: [], True: []}
    for _ in range(_TURNS):
        for tls in late:
            heard = await house.play(pcm, uuid.uuid4().hex, tls=tls)
            late[tls].append(heard.latency_ms())
    print(f"{'chunk to frames, ms':<24}{'median':>8}{'p95':>8}")
    found: dict[bool, float] = {}
    for tls, name in ((False, "loopback"), (True, "TLS")):
        middle, found[tls] = np.percentile(np.concatenate(late[tls]), (50, 95))
        print(f"{name:<24}{middle:>8.1f}{found[tls]:>8.1f}")
    at_most("what TLS adds, p95, ms", found[True] - found[False], 10.0)
    behind = np.percentile(await _behind_ms(house, pcm), (50, 95))
    print(f"{'a window behind the ear':<24}{behind[0]:>8.1f}{behind[1]:>8.1f}")
    at_most("a window behind the ear, p95, ms", float(behind[1]), 150.0)
    for players in (1, 4):
        before, began = sum(process.cpu_times()[:2]), time.perf_counter()
        plays = [house.play(pcm, uuid.uuid4().hex, tls=True) for _ in range(players)]
        await asyncio.gather(*plays)
        share = (sum(process.cpu_times()[:2]) - before) / (time.perf_counter() - began)
        print(f"{players} who play over TLS: {share:.2f} of a core")
    at_most("four who play, share of a core", share, 0.5)


def main() -> None:
    """Prints latencies and shares of a core."""
    pcm = np.rint(phrase(_REGISTER).samples * 32_767).astype("<i2")
    with tempfile.TemporaryDirectory() as folder:
        server = ServingHouse(Path(folder) / "orexis.db", own_process=True)
        try:
            add_player(server.url)
            with server.paired() as device:
                token = device.cookies.get(COOKIE) or ""
            httpx.get(f"{server.url}/api/players/1/chart")
            process = psutil.Process(server.pid)
            asyncio.run(_measured(_House(server, token), pcm, process))
        finally:
            server.stop()
