"""A long session at real speed through the socket, with kills and dropped lines: `make soak`.

The stand-in player plays long tones for an hour. Meanwhile the server is killed ten times and
the line is dropped ten times, at random moments; this client does what the browser does, holds
every chunk until it is acknowledged and goes on from what the server wants next. In the end
each note must be one take, none twice and none invented, its sound sample for sample what was
sent; and the server's memory must have stayed flat.
"""

import argparse
import asyncio
import io
import json
import random
import sys
import tempfile
import time
import uuid
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path

import httpx
import numpy as np
import soundfile
from tests.running import Running
from websockets.asyncio.client import connect
from websockets.exceptions import ConnectionClosed
from websockets.typing import Origin

from orexis.formats.audio import pcm_from_floats
from orexis.standin.performance import perform
from orexis.standin.profiles import PROFILES, Skilled
from orexis.standin.score import ScoreNote
from orexis.standin.tone import MIDDLE

_RATE, _CHUNK = 48_000, 512
_HOP = _RATE // 100
_START_MIDI = 58
_NOTES = (51, 55, 58, 62, 63, 67)
_GROWTH_MIB = 25.0
_PLAYER = {"name": "Maren", "instrument_key": "tenor-horn-eb", "view": "written", "clef": "treble"}


@dataclass
class Played:
    """All that is played: its samples as they are sent, and when each note begins and ends."""

    pcm: bytes
    notes: list[tuple[float, float]]


def played(minutes: float, seed: int) -> Played:
    """Long tones of 0.6 to 7 s with rests between, as an experienced player has them."""
    random_ = np.random.default_rng(seed)
    parts: list[bytes] = []
    notes: list[tuple[float, float]] = []
    length = 0
    while length < minutes * 60 * _RATE:
        bare = ScoreNote(int(random_.choice(_NOTES)), float(random_.uniform(0.6, 7.0)))
        note = PROFILES[Skilled.EXPERIENCED].note(bare, _START_MIDI, random_)
        performance = perform((note,), MIDDLE, _RATE, seed=len(notes) + 1)
        (truth,) = performance.truth["notes"]
        notes.append((length / _RATE + truth["start_s"], length / _RATE + truth["end_s"]))
        parts.append(pcm_from_floats(performance.samples))
        length += len(performance.samples)
    return Played(b"".join(parts), notes)


class Process(Running):
    """The server and its memory over time, a row for each start."""

    def __init__(self, data: Path) -> None:
        self.memory_mib: list[list[float]] = []
        super().__init__(data, own_process=True)

    def start(self) -> None:
        """Starts it, and a row with it."""
        super().start()
        self.memory_mib.append([])

    def weigh(self) -> None:
        """Notes how much memory it holds."""
        status = Path(f"/proc/{self.pid}/status").read_text()
        line = next(line for line in status.splitlines() if line.startswith("VmRSS"))
        self.memory_mib[-1].append(int(line.split()[1]) / 1024)


@dataclass
class Line:
    """What the browser holds and where it stands."""

    pcm: bytes
    hello: dict[str, object]
    first_held: int = 0
    speed: float = 1.0
    begun: float = field(default_factory=time.monotonic)

    @property
    def captured(self) -> int:
        """Chunks the microphone has given by now."""
        now = int((time.monotonic() - self.begun) * self.speed * _RATE / _CHUNK)
        return min(now, len(self.pcm) // (2 * _CHUNK))

    def chunk(self, seq: int) -> bytes:
        """A chunk as it is sent."""
        size = 2 * _CHUNK
        return seq.to_bytes(4, "little") + self.pcm[seq * size : (seq + 1) * size]


async def keep_on(line: Line, server: Process, breaks: asyncio.Event) -> None:
    """Connects again and again until everything was sent and the session has ended."""
    uri = f"ws://127.0.0.1:{server.port}/api/live"
    while True:
        breaks.clear()
        with suppress(OSError, ConnectionClosed, asyncio.TimeoutError):
            async with connect(uri, origin=Origin(server.url), max_size=None) as socket:
                await socket.send(json.dumps({**line.hello, "oldest_seq": line.first_held}))
                if await _serve(line, socket, breaks):
                    return
        await asyncio.sleep(0.5)


async def _serve(line: Line, socket: object, breaks: asyncio.Event) -> bool:
    """Sends and hears until the line breaks; true when the session has ended."""
    wanted = -1
    ended = False
    said_bye = False

    async def hear() -> None:
        nonlocal wanted, ended
        async for text in socket:  # type: ignore[attr-defined]
            message = json.loads(text)
            if message["type"] == "ready":
                wanted = max(message["next"], line.first_held)
                line.first_held = wanted
            elif message["type"] == "ack":
                line.first_held = max(line.first_held, message["next"])
            elif message["type"] == "closed":
                ended = True
                return

    hearing = asyncio.create_task(hear())
    try:
        while not hearing.done() and not breaks.is_set():
            while 0 <= wanted < line.captured and not hearing.done():
                await socket.send(line.chunk(wanted))  # type: ignore[attr-defined]
                wanted += 1
            if wanted == len(line.pcm) // (2 * _CHUNK) and not said_bye:
                await socket.send(json.dumps({"type": "bye"}))  # type: ignore[attr-defined]
                said_bye = True
            await asyncio.sleep(0.01)
    finally:
        hearing.cancel()
        with suppress(asyncio.CancelledError, ConnectionClosed):
            await hearing
    return ended


async def run(what: Played, server: Process, kills: int, drops: int, speed: float) -> None:
    """Plays it all, with blows at random moments."""
    hello = {
        "type": "hello",
        "kind": "task",
        "session": uuid.uuid4().hex,
        "player_id": 1,
        "exercises": [{"family": "long-tone", "values": {"from_midi": "58", "hold_s": "2"}}],
        "source": "stand-in",
        "sample_rate": _RATE,
        "started_at": datetime.now(UTC).isoformat(),
    }
    line = Line(what.pcm, hello, speed=speed)
    breaks = asyncio.Event()
    seconds = len(what.pcm) / 2 / _RATE / speed
    # The last third is left in peace, so that a growing memory shows.
    blows = sorted(
        [(random.uniform(5, 0.66 * seconds), "kill") for _ in range(kills)]
        + [(random.uniform(5, 0.66 * seconds), "drop") for _ in range(drops)]
    )
    playing = asyncio.create_task(keep_on(line, server, breaks))
    while not playing.done():
        await asyncio.sleep(1.0)
        with suppress(OSError, StopIteration):
            server.weigh()
        while blows and time.monotonic() - line.begun >= blows[0][0]:
            _, kind = blows.pop(0)
            print(f"{time.monotonic() - line.begun:7.1f} s: {kind}", flush=True)
            if kind == "drop":
                breaks.set()
            else:
                await asyncio.to_thread(server.kill)
                await asyncio.sleep(random.uniform(0.2, 4))
                await asyncio.to_thread(server.start)
    await playing


def all_takes(server: Process) -> Iterator[dict[str, object]]:
    """Every take there is, newest first."""
    before: dict[str, str] = {}
    while True:
        query = {"count": "200", **before}
        page = httpx.get(f"{server.url}/api/players/1/takes", params=query).json()
        yield from page
        if len(page) < 200:
            return
        before = {"before": page[-1]["started_at"]}


def wrongs(what: Played, server: Process) -> list[str]:
    """What is not as it was played."""
    found: list[str] = []
    sent = np.frombuffer(what.pcm, dtype="<i2")
    takes = sorted(all_takes(server), key=lambda take: int(str(take["first_frame"])))
    for (start_s, end_s), take in zip(what.notes, takes, strict=False):
        first = int(str(take["first_frame"]))
        begins = first / 100 + float(str(take["note_start_s"]))
        ends = first / 100 + float(str(take["note_end_s"]))
        if abs(begins - start_s) > 0.15 or abs(ends - end_s) > 0.2:
            found.append(
                f"{begins:.2f} to {ends:.2f} s heard, {start_s:.2f} to {end_s:.2f} s played"
            )
        sound = httpx.get(f"{server.url}/api/takes/{take['id']}/sound").content
        samples, _ = soundfile.read(io.BytesIO(sound), dtype="int16")
        if not np.array_equal(samples, sent[first * _HOP : first * _HOP + len(samples)]):
            found.append(f"the take at {begins:.2f} s is not what was sent")
    if len(takes) != len(what.notes):
        found.append(f"{len(takes)} takes of {len(what.notes)} notes")
    recordings = httpx.get(f"{server.url}/api/players/1/recordings").json()
    if recordings:
        found.append(f"{len(recordings)} recordings nobody made")
    return found


def main() -> None:
    """Runs the soak; ends with 1 where anything is not as it was played."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=60)
    parser.add_argument("--kills", type=int, default=10)
    parser.add_argument("--drops", type=int, default=10)
    parser.add_argument("--speed", type=float, default=1.0)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    random.seed(asked.seed)
    what = played(asked.minutes, asked.seed)
    with tempfile.TemporaryDirectory() as folder:
        server = Process(Path(folder) / "orexis.db")
        try:
            httpx.post(f"{server.url}/api/players", json=_PLAYER).raise_for_status()
            asyncio.run(run(what, server, asked.kills, asked.drops, asked.speed))
            found = wrongs(what, server)
        finally:
            server.stop()
        left = [path.name for path in Path(folder).rglob("*.spool")]
    found += [f"{name} was left behind" for name in left]
    longest = max(server.memory_mib, key=len)
    calm = longest[len(longest) // 3 :]
    growth = float(np.median(calm[-10:]) - np.median(calm[:10])) if len(calm) > 20 else 0.0
    print(
        f"{asked.minutes:g} min, {len(what.notes)} notes, {asked.kills} kills, {asked.drops} "
        f"dropped lines. Memory at most {max(map(max, filter(None, server.memory_mib))):.0f} MiB, "
        f"over the last {len(calm)} s {growth:+.1f} MiB."
    )
    if growth > _GROWTH_MIB:
        found.append(f"memory grew by {growth:.1f} MiB")
    for line in found:
        print(line)
    print("Everything is as it was played." if not found else f"{len(found)} things are not.")
    sys.exit(1 if found else 0)


if __name__ == "__main__":
    main()
