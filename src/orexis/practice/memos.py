"""Short spoken notes of players to themselves."""

from sqlalchemy.orm import Session

from orexis.formats.audio import BYTES_PER_SAMPLE, flac_from_pcm
from orexis.store.sessions import keep_memo

LONGEST_S = 60
_SHORTEST_S = 0.5


class MemoRefusedError(ValueError):
    """A spoken note that cannot be kept; the message says why."""


def keep_spoken(session: Session, session_id: str, pcm: bytes, sample_rate: int) -> None:
    """Keeps 16-bit mono PCM as the spoken note of a session. Raises `MemoRefusedError`."""
    seconds = len(pcm) / BYTES_PER_SAMPLE / sample_rate
    if not _SHORTEST_S <= seconds <= LONGEST_S + 1:
        raise MemoRefusedError(f"A spoken note lasts up to {LONGEST_S} s. Record it again.")
    keep_memo(session, session_id, flac_from_pcm(pcm[: len(pcm) // 2 * 2], sample_rate))
