"""From the end of a note to its verdict, in the running application.

A client plays notes to a server of its own as fast as time goes, and counts from when a note's last
sample would have been captured to when its verdict has arrived. What the sound card takes comes on
top and is not seen here. Wanted: p95 within 400 ms.
"""

import json
import tempfile
import threading
import time
import uuid
from datetime import UTC, datetime
from pathlib import Path

import httpx
import numpy as np
from tests.running import Running
from websockets.sync.client import ClientConnection, connect
from websockets.typing import Origin

from bench.goals import at_most
from bench.sounds import RATE
from orexis.core.horn.pitch import hz_from_midi

_CHUNK = 512
_NOTES, _NOTE_S, _REST_S = 20, 1.3, 0.9
_HORNS = {
    "tuba": ("tuba-eb-4v-comp", "bass", 34),
    "trombone": ("trombone-bass", "bass", 46),
    "cornet": ("cornet-bb", "treble", 65),
}


def main() -> None:
    """Prints how long verdicts take, horn by horn."""
    print("From the end of a note to its verdict, ms (without the sound card)")
    print(f"{'':<10}{'median':>8}{'p95':>8}{'notes':>8}")
    for name, (instrument, clef, midi) in _HORNS.items():
        late_ms = _late_ms(instrument, clef, midi)
        middle, late = np.percentile(late_ms, (50, 95))
        print(f"{name:<10}{middle:>8.0f}{late:>8.0f}{len(late_ms):>8}")
        at_most(f"sound to verdict on the {name}, p95, ms", float(late), 400.0)


def _late_ms(instrument: str, clef: str, midi: int) -> list[float]:
    with tempfile.TemporaryDirectory() as folder:
        server = Running(Path(folder) / "orexis.db", own_process=True)
        try:
            player = {"name": "A", "instrument_key": instrument, "view": "sounding", "clef": clef}
            httpx.post(f"{server.url}/api/players", json=player).raise_for_status()
            with connect(
                f"ws://127.0.0.1:{server.port}/api/live", origin=Origin(server.url)
            ) as socket:
                return _played(socket, midi)
        finally:
            server.stop()


def _played(socket: ClientConnection, midi: int) -> list[float]:
    exercise = {"family": "long-tone", "values": {"from_midi": str(midi), "hold_s": "1"}}
    hello = {
        "type": "hello",
        "kind": "task",
        "session": uuid.uuid4().hex,
        "player_id": 1,
        "exercises": [exercise],
        "source": "microphone",
        "sample_rate": RATE,
        "started_at": datetime.now(UTC).isoformat(),
    }
    socket.send(json.dumps(hello))
    arrived: list[float] = []

    def hear() -> None:
        for message in socket:
            kind = json.loads(message)["type"]
            if kind == "verdict":
                arrived.append(time.monotonic())
            if kind == "closed":
                return

    hearing = threading.Thread(target=hear)
    hearing.start()
    sound, ends = _sound(midi)
    begun = time.monotonic()
    for seq in range(len(sound) // _CHUNK):
        time.sleep(max(0.0, begun + (seq + 1) * _CHUNK / RATE - time.monotonic()))
        part = sound[seq * _CHUNK : (seq + 1) * _CHUNK].tobytes()
        socket.send(seq.to_bytes(4, "little") + part)
    socket.send(json.dumps({"type": "bye"}))
    hearing.join()
    return [1000 * (at - begun - end / RATE) for at, end in zip(arrived, ends, strict=True)]


def _sound(midi: int) -> tuple[np.ndarray, list[int]]:
    """Notes of harmonics from their definition, and where each ends."""
    t = np.arange(round(_NOTE_S * RATE)) / RATE
    hz = hz_from_midi(midi, 440.0)
    note = sum(np.sin(2 * np.pi * k * hz * t) / k for k in range(1, 12)) * 0.15
    ramp = np.minimum(1.0, np.minimum(t, t[::-1]) / 0.02)
    rest = np.zeros(round(_REST_S * RATE))
    parts = [rest]
    ends: list[int] = []
    for _ in range(_NOTES):
        parts += [note * ramp, rest]
        ends.append(sum(map(len, parts)) - len(rest))
    return np.rint(np.concatenate(parts) * 32_767).astype("<i2"), ends
