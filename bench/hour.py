"""An hour of free playing, as it comes through the socket but at speed: what it costs while it is
played, how long after stopping its page is there, and what is on disk.

Each length runs in a process of its own. Wanted of an hour: at most 0.05 of a core, memory flat
while it is played, and its page within two seconds of stopping.
"""

import json
import resource
import subprocess
import sys
import time
import uuid
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from bench.goals import at_most
from bench.sounds import RATE, phrase
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.session.plan import SessionKind
from orexis.formats.audio import pcm_from_floats
from orexis.practice.free import FreePlaying
from orexis.practice.live_sound import CHUNK_SAMPLES
from orexis.practice.plans import SessionSetup
from orexis.practice.recordings import recording_page
from orexis.server.schemas.recordings import RecordingDetail
from orexis.store.database import Database
from orexis.store.models import Recording
from orexis.store.players import PlayerDetails, add_player
from orexis.store.spool import Spool

_MINUTES = (5, 60)
_TOGETHER = 8
"""Chunks at a time, as they come off a socket that keeps up."""
_PLAYER = PlayerDetails("Bench", "cornet-bb", NoteView.WRITTEN, Clef.TREBLE)


def main() -> None:
    """Prints what each length costs."""
    print("An hour of free playing")
    told = {}
    for minutes in _MINUTES:
        answer = subprocess.run(
            [sys.executable, "-m", "bench.hour", str(minutes)],
            check=True, capture_output=True, text=True,
        )  # fmt: skip
        told[minutes] = one = json.loads(answer.stdout)
        words = ", ".join(f"{name} {value:.3g}" for name, value in one.items())
        print(f"{minutes:>4} min  {words}")
    short, hour = (told[minutes] for minutes in _MINUTES)
    at_most("of a core while it is played", hour["of a core"], 0.05)
    grown = hour["MiB while played"] - short["MiB while played"]
    at_most("MiB of an hour over those of five minutes", grown, 60.0)
    at_most("s from stopping to its page", hour["s to stop"] + hour["s for its page"], 2.0)


def _peak_mib() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _play(minutes: int) -> dict[str, float]:
    sound = phrase("upper").samples[: 8 * RATE]
    pcm = pcm_from_floats(np.concatenate((sound, np.zeros(2 * RATE))))
    size = 2 * CHUNK_SAMPLES * _TOGETHER
    parts = [pcm[at : at + size] for at in range(0, len(pcm) - size, size)]
    with TemporaryDirectory() as folder:
        data = Database(Path(folder) / "hour.db")
        with data.session() as session:
            player = add_player(session, _PLAYER)
            session.flush()
            player_id = player.id
        setup = SessionSetup(
            player_id, "", (), "microphone", RATE, None, None, datetime.now(UTC), SessionKind.FREE
        )
        spool = Spool.take_up(Path(folder) / "spool", uuid.uuid4().hex, setup.as_json())
        playing = FreePlaying(data, spool)
        began = time.process_time()
        for number in range(60 * minutes * RATE // (size // 2)):
            playing.take_in(_TOGETHER * number, parts[number % len(parts)])
        played_s = time.process_time() - began
        while_played = _peak_mib()
        at = time.perf_counter()
        over = playing.end().over
        stopped = time.perf_counter()
        assert over is not None
        assert over.recording_id is not None
        with data.session() as session:
            page = recording_page(session, session.get_one(Recording, over.recording_id))
            body = RecordingDetail.page(page).model_dump_json()
        paged = time.perf_counter()
        return {
            "of a core": played_s / (60 * minutes),
            "MiB while played": while_played,
            "MiB at most": _peak_mib(),
            "s to stop": stopped - at,
            "s for its page": paged - stopped,
            "MB of its page": len(body) / 1e6,
            "MB on disk": sum(path.stat().st_size for path in Path(folder).rglob("*")) / 1e6,
        }


if __name__ == "__main__":
    print(json.dumps(_play(int(sys.argv[1]))))
