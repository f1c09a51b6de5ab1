"""Sound from the Stand that was not judged, as recordings: what could be heard, and the reason."""

from collections.abc import Iterator
from datetime import datetime

from orexis.core.arrays import FloatArray
from orexis.core.horn.setup import Horn
from orexis.formats.audio import BYTES_PER_SAMPLE, floats_from_pcm
from orexis.practice.recordings import listen_to
from orexis.store.recordings import AnalysedSound


def listen_to_unjudged(
    pcm: bytes, sample_rate: int, started_at: datetime, horn: Horn, reason: str
) -> AnalysedSound:
    """Listens to 16-bit mono PCM; it is named by the time it was played."""
    name = name_by_time(started_at)
    return listen_to(_seconds(pcm, sample_rate), sample_rate, name, horn, reason)


def name_by_time(started_at: datetime) -> str:
    """What a recording is called that nobody has named: "Played 04.05. 17:30"."""
    return f"Played {started_at.astimezone():%d.%m. %H:%M}"


def _seconds(pcm: bytes, sample_rate: int) -> Iterator[FloatArray]:
    size = sample_rate * BYTES_PER_SAMPLE
    for at in range(0, len(pcm), size):
        yield floats_from_pcm(pcm[at : at + size])
