"""Sound files: WAV, FLAC and Ogg in; FLAC and WAV out.

Samples inside Orexis are mono floats at full scale ±1; on the wire and on disk they are
16-bit, so that a stored take measures exactly as it did live.
"""

import io
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryFile
from typing import IO, Any

import numpy as np
import soundfile

from orexis.core.arrays import FloatArray

BYTES_PER_SAMPLE = 2
_FULL_SCALE = 32_768.0
_CANCELLED_SHARE = 0.05
_READABLE = frozenset({"WAV", "WAVEX", "RF64", "W64", "FLAC", "OGG"})
_UNKNOWN_FRAMES = 2**62
_LARGEST_BLOCK = 2**20
"""Samples read at once, all channels counted: about 8 MB of them, however many channels."""

LOWEST_RATE, HIGHEST_RATE = 8000, 192_000


class UnreadableSoundError(ValueError):
    """A file that cannot be listened to; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class SoundFile:
    """An open recording: its rate in Hz, its length as its header tells it (`None` where the
    header was written before the sound), and its sound as mono blocks of at most a second."""

    sample_rate: int
    duration_s: float | None
    blocks: Iterator[FloatArray]


def open_sound(path: Path, called: str | None = None) -> SoundFile:
    """Opens a recording of any rate and depth; channels are averaged, unless
    they cancel each other. `called` is its name for
    the player, where that is not the file's own.

    Raises `UnreadableSoundError` for a missing, empty or strange file, and its `blocks` raise
    it when the file turns out damaged.
    """
    called = called or path.name
    if not path.is_file():
        raise UnreadableSoundError(f"There is no file {called}. Check the name and the folder.")
    if path.stat().st_size == 0:
        raise UnreadableSoundError(f"{called} is empty. Record it again.")
    try:
        sound = _Forward(path)
    except (soundfile.LibsndfileError, OSError) as error:
        raise UnreadableSoundError(
            f"{called} is not a recording Orexis can read. Use WAV, FLAC or Ogg."
        ) from error
    if sound.format not in _READABLE:
        sound.close()
        raise UnreadableSoundError(
            f"{called} is a {sound.format} file. Save it as WAV, FLAC or Ogg."
        )
    if sound.frames == 0:
        sound.close()
        raise UnreadableSoundError(f"{called} holds no sound. Record it again.")
    rate = sound.samplerate
    if not LOWEST_RATE <= rate <= HIGHEST_RATE:
        sound.close()
        raise UnreadableSoundError(
            f"{called} has a sample rate of {rate} Hz. Save it at {LOWEST_RATE} to {HIGHEST_RATE} "
            "Hz, best at 48000."
        )
    told = None if sound.frames >= _UNKNOWN_FRAMES else sound.frames
    return SoundFile(rate, told and told / rate, _blocks(sound, told, called))


class _Forward(soundfile.SoundFile):  # type: ignore[misc]
    """A sound file read from its start to its end only: one whose header does not tell how long
    it is cannot be sought in."""

    def seekable(self) -> bool:
        return False


def _blocks(sound: _Forward, told: int | None, name: str) -> Iterator[FloatArray]:
    size = max(1, min(sound.samplerate, _LARGEST_BLOCK // sound.channels))
    damaged = UnreadableSoundError(f"{name} is damaged: it could not be read to its end.")
    taken = 0
    with sound:
        while True:
            try:
                block = sound.read(size, dtype="float64", always_2d=True)
            except soundfile.LibsndfileError as error:
                raise damaged from error
            taken += len(block)
            if not len(block):
                if told is not None and taken < told:
                    raise damaged
                return
            if not np.all(np.isfinite(block)):
                raise UnreadableSoundError(
                    f"{name} holds samples that are not numbers. Export it again as 16 or 24 bit."
                )
            yield _mono(block)


def _mono(block: FloatArray) -> FloatArray:
    """The channels' mean; where they cancel, as with one microphone wired the wrong way round,
    the loudest of them."""
    mean: FloatArray = block.mean(axis=1)
    powers = (block**2).mean(axis=0)
    if (mean**2).mean() < _CANCELLED_SHARE * powers.max():
        loudest: FloatArray = block[:, int(powers.argmax())]
        return loudest
    return mean


def decoded_seconds(content: bytes) -> float:
    """The length in seconds of the sound in a file's bytes, found by decoding all of it. Raises
    `UnreadableSoundError`."""
    try:
        with soundfile.SoundFile(io.BytesIO(content)) as sound:
            taken = 0
            while size := len(sound.read(_LARGEST_BLOCK // sound.channels, dtype="int16")):
                taken += size
            rate = sound.samplerate
    except soundfile.LibsndfileError as error:
        raise UnreadableSoundError(f"it could not be decoded ({error.error_string})") from error
    return float(taken / rate)


def written_anew(content: bytes, longest_s: float) -> bytes:
    """A sound file's sound as a FLAC file of our own: mono, with nothing else that lay in it.
    Raises `UnreadableSoundError`, also for one that lasts longer, before it is decoded."""
    damaged = UnreadableSoundError("it could not be decoded")
    too_long = UnreadableSoundError(f"it lasts more than {longest_s / 60:.0f} minutes")
    try:
        with soundfile.SoundFile(io.BytesIO(content)) as sound:
            rate, told = sound.samplerate, sound.frames
            if sound.format not in _READABLE or not LOWEST_RATE <= rate <= HIGHEST_RATE:
                raise damaged
            if told > longest_s * rate:
                raise too_long
            size = max(1, min(rate, _LARGEST_BLOCK // sound.channels))
            with FlacWriter(rate) as flac:
                taken = 0
                while len(block := sound.read(size, dtype="float64", always_2d=True)):
                    taken += len(block)
                    if taken > longest_s * rate:
                        raise too_long
                    flac.add(_mono(block))
                return flac.finish()
    except soundfile.LibsndfileError as error:
        raise damaged from error


def floats_from_pcm(pcm: bytes) -> FloatArray:
    """16-bit little-endian PCM as samples at full scale ±1."""
    return np.frombuffer(pcm, dtype="<i2").astype(np.float64) / _FULL_SCALE


def pcm_from_floats(samples: FloatArray) -> bytes:
    """Samples at full scale ±1 as 16-bit little-endian PCM; beyond full scale is clipped."""
    return np.clip(np.rint(samples * _FULL_SCALE), -32_768, 32_767).astype("<i2").tobytes()


def flac_from_pcm(pcm: bytes, sample_rate: int) -> bytes:
    """16-bit mono PCM as a FLAC file."""
    return _encoded(pcm, sample_rate, "FLAC")


class _Watched(io.RawIOBase):
    """A file without a name in a folder. The encoder keeps to itself what goes wrong in writing;
    this file remembers it."""

    def __init__(self, folder: Path) -> None:
        self._file: IO[bytes] = TemporaryFile(dir=folder)  # noqa: SIM115 (closed with this)
        self.failed: OSError | None = None

    def write(self, content: Any) -> int:
        """As in a file; never raises."""
        try:
            self._file.write(content)
            self._file.flush()
        except OSError as error:
            self.failed = error
        return len(content)

    def read(self, size: int = -1) -> bytes:
        """As in a file."""
        return self._file.read(size)

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        """As in a file."""
        return self._file.seek(offset, whence)

    def tell(self) -> int:
        """As in a file."""
        return self._file.tell()

    def close(self) -> None:
        """As in a file."""
        self._file.close()
        super().close()


class FlacWriter:
    """Puts mono samples together as a 16-bit FLAC file, block by block, within a `with`: in memory,
    or in a file without a name in a folder, which is gone with the process."""

    def __init__(self, sample_rate: int, folder: Path | None = None) -> None:
        self._out = io.BytesIO() if folder is None else _Watched(folder)
        self._file = soundfile.SoundFile(
            self._out, "w", sample_rate, channels=1, format="FLAC", subtype="PCM_16"
        )

    def __enter__(self) -> "FlacWriter":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def add(self, samples: FloatArray) -> None:
        """The next samples (full scale ±1)."""
        self.add_pcm(pcm_from_floats(samples))

    def add_pcm(self, pcm: bytes) -> None:
        """The next samples as 16-bit PCM. Raises `OSError` where the disk is full."""
        self._file.write(np.frombuffer(pcm, dtype="<i2"))
        self._check()

    def finish(self) -> bytes:
        """The whole file. Raises `OSError` where it could not be written."""
        self._file.close()
        self._check()
        self._out.seek(0)
        return self._out.read()

    def _check(self) -> None:
        if isinstance(self._out, _Watched) and self._out.failed is not None:
            raise self._out.failed

    def close(self) -> None:
        """Lets go of what was written."""
        self._file.close()
        self._out.close()


def wav_from_pcm(pcm: bytes, sample_rate: int) -> bytes:
    """16-bit mono PCM as a WAV file."""
    return _encoded(pcm, sample_rate, "WAV")


def _encoded(pcm: bytes, sample_rate: int, kind: str) -> bytes:
    out = io.BytesIO()
    soundfile.write(
        out, np.frombuffer(pcm, dtype="<i2"), sample_rate, format=kind, subtype="PCM_16"
    )
    return out.getvalue()
