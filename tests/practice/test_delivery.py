"""The same sound makes the same takes, however it is delivered: chunk by chunk, in one piece after
a stall, or broken by kills."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.random import Generator

from orexis.core.horn.notation import Clef, NoteView
from orexis.formats.audio import pcm_from_floats
from orexis.practice.kept_sessions import kept_log
from orexis.practice.live_sound import CHUNK_SAMPLES
from orexis.practice.sessions import Session
from orexis.store.database import Database
from orexis.store.models import PracticeSession, Take
from orexis.store.players import PlayerDetails, add_player
from orexis.store.spool import Spool
from tests.sounds import Samples, softened, steady

RATE = 16_000
CHUNK_BYTES = 2 * CHUNK_SAMPLES
B_FLAT_3_HZ = 233.082
EXERCISE: dict[str, Any] = {
    "family": "long-tone",
    "values": {"from_midi": "58", "hold_s": "1"},
    "way": {"needed": "3", "fails": "9", "rest_s": "5"},
    "why": "",
}
HELLO: dict[str, Any] = {
    "player_id": 1,
    "title": "Delivered",
    "kind": "plan",
    "exercises": [EXERCISE, EXERCISE],
    "source": "microphone",
    "sample_rate": RATE,
    "drone_hz": None,
    "latency_s": None,
    "started_at": datetime(2026, 5, 4, 18, tzinfo=UTC).isoformat(),
}


def sound(rng: Generator) -> bytes:
    """Notes of a second and more, some of them in a rest, coughs between, in a room at -60 dB."""
    parts: list[Samples] = []
    for number in range(5):
        parts.append(np.zeros(int(rng.uniform(0.3, 6) * RATE)))
        length_s = float(rng.choice((0.08, 0.15, 1.1, 1.3, 1.7))) if number else 1.3
        parts.append(softened(steady(B_FLAT_3_HZ, length_s, RATE), RATE))
    parts.append(np.zeros(2 * RATE))
    whole = np.concatenate(parts)
    whole += rng.normal(0, 1e-3, len(whole))
    return pcm_from_floats(whole[: len(whole) // CHUNK_SAMPLES * CHUNK_SAMPLES])


class Delivered:
    """A session in a folder of its own, and what comes of it."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir()
        self.database = Database(folder / "orexis.db")
        with self.database.session() as session:
            add_player(
                session, PlayerDetails("Maren", "tenor-horn-eb", NoteView.WRITTEN, Clef.TREBLE)
            )
        self._spools = folder / "spool"
        self._session = self._taken_up()

    def _taken_up(self) -> Session:
        session = Session(self.database, Spool.take_up(self._spools, "ab" * 16, HELLO))
        session.replay()
        return session

    def kill(self) -> None:
        """What was written is there; nothing else is."""
        self._session = self._taken_up()

    def take_in(self, pcm: bytes) -> None:
        """The next chunks."""
        self._session.take_in(self._session.next_seq, pcm)

    def outcome(self) -> list[object]:
        """Every take, and what its log says, but for the takes' own names."""
        self._session.end()
        with self.database.session() as session:
            takes = session.query(Take).order_by(Take.first_frame).all()
            found: list[object] = [
                (take.first_frame, take.duration_s, take.sounded_s, take.passed, take.place)
                for take in takes
            ]
            log = kept_log(session, session.get_one(PracticeSession, "ab" * 16))
            found += [(type(one).__name__, one.sample) for one in log]
        self.database.close()
        return found


def delivered(
    folder: Path, pcm: bytes, rng: Generator, most_chunks: int, kills: float
) -> list[object]:
    """What comes of a sound in batches of at most so many chunks, after kills between them."""
    session = Delivered(folder)
    at = 0
    while at < len(pcm):
        size = int(rng.integers(1, most_chunks + 1)) * CHUNK_BYTES
        session.take_in(pcm[at : at + size])
        at += size
        if rng.random() < kills:
            session.kill()
    return session.outcome()


@pytest.mark.one_in(4)
@pytest.mark.parametrize("seed", range(4))
def test_takes_and_log_are_the_same_however_sound_is_delivered(tmp_path: Path, seed: int) -> None:
    pcm = sound(np.random.default_rng(seed))
    chunk_by_chunk = delivered(tmp_path / "a", pcm, np.random.default_rng(seed), 2, 0.0)
    assert len(chunk_by_chunk) > 1
    for name, most, kills in (("b", 128, 0.0), ("c", 1000, 0.0), ("d", 40, 0.15)):
        rng = np.random.default_rng(100 + seed)
        assert delivered(tmp_path / name, pcm, rng, most, kills) == chunk_by_chunk, name
