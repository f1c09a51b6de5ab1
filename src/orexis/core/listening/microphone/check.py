"""What stands in the way of hearing a player well, told of the last minute of a sound."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import Enum

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.microphone.levels import Levels, LevelsHeard
from orexis.core.listening.microphone.spectra import Hum, Spectra
from orexis.core.listening.notes.players import UNDER_LOUDEST_DB
from orexis.core.listening.tracking.clipping import FULL, FULL_IN_A_ROW, finite_and_full
from orexis.core.listening.tracking.frames import SILENCE_DB

_TOO_SOFT_DB = -45.0
"""Notes should come in louder than this."""
_NOISY_DB = 20.0
"""Notes should lie so far above the room."""
_HUM_DB = -55.0
"""From here up hum matters where no notes were heard, else from where it could be one."""
_FULL_FOR_S = 10.0
_CUT_OFF_TIMES, _LOST_TIMES = 3, 2
_PIECE_S = 0.25


class Processing(Enum):
    """What a browser may do to sound before it is handed on."""

    ECHO = "echo"
    NOISE = "noise"
    GAIN = "gain"


class Finding(Enum):
    """What stands in the way of hearing a player well, the worst first."""

    TOO_LOUD = "too-loud"
    LOST = "lost"
    NARROW = "narrow"
    PROCESSED = "processed"
    CUT_OFF = "cut-off"
    TURNED_UP = "turned-up"
    TOO_SOFT = "too-soft"
    NOISY = "noisy"
    HUM = "hum"


@dataclass(frozen=True, slots=True)
class MicrophoneHeard:
    """What was heard of a microphone. Levels in dB re full scale: of the room, and of the softer
    and the louder notes; `None` where it is not known yet. Where there is hum, and where its sound
    ends (Hz). `findings` stand the worst first."""

    room_db: float | None
    notes_db: tuple[float, float] | None
    hum: Hum | None
    ends_at_hz: float | None
    processing: frozenset[Processing]
    findings: tuple[Finding, ...]

    @property
    def wanted_db(self) -> float:
        """Louder than this notes should come in, in dB."""
        room_db = SILENCE_DB if self.room_db is None else self.room_db
        return max(_TOO_SOFT_DB, room_db + _NOISY_DB)


class MicrophoneCheck:
    """Watches the sound of a microphone at `sample_rate` (Hz), of which the browser says what it
    does to it."""

    def __init__(self, sample_rate: int, processing: frozenset[Processing] = frozenset()) -> None:
        self._rate, self._processing = sample_rate, processing
        self._levels, self._spectra = Levels(sample_rate), Spectra(sample_rate)
        self._samples = self._row = 0
        self._full_at: int | None = None
        self._waiting: list[FloatArray] = []
        self._piece = round(sample_rate * _PIECE_S)

    def feed(self, samples: FloatArray) -> None:
        """Takes the next samples (1-D, full scale ±1). They are looked at a quarter of a second
        at a time."""
        self._waiting.append(samples)
        if sum(map(len, self._waiting)) < self._piece:
            return
        waiting = np.concatenate(self._waiting)
        whole = len(waiting) // self._piece * self._piece
        self._waiting = [waiting[whole:]]
        for at in range(0, whole, self._piece):
            self._take(waiting[at : at + self._piece])

    def _take(self, samples: FloatArray) -> None:
        self._levels.feed(samples)
        self._spectra.feed(samples)
        self._samples += len(samples)
        _, longest, self._row = finite_and_full(samples, FULL, self._row)
        if longest >= FULL_IN_A_ROW:
            self._full_at = self._samples

    def told(self) -> MicrophoneHeard:
        """What is known now."""
        levels, hum = self._levels.told(), self._spectra.hum()
        ends_at_hz = self._spectra.ends_at_hz()
        return MicrophoneHeard(
            room_db=levels.room_db,
            notes_db=levels.notes_db,
            hum=hum,
            ends_at_hz=ends_at_hz,
            processing=self._processing,
            findings=tuple(self._findings(levels, hum, ends_at_hz)),
        )

    def _findings(
        self, levels: LevelsHeard, hum: Hum | None, ends_at_hz: float | None
    ) -> Iterator[Finding]:
        full_for = _FULL_FOR_S * self._rate
        if self._full_at is not None and self._samples - self._full_at <= full_for:
            yield Finding.TOO_LOUD
        if levels.lost >= _LOST_TIMES:
            yield Finding.LOST
        if ends_at_hz is not None:
            yield Finding.NARROW
        if self._processing:
            yield Finding.PROCESSED
        if levels.cut_off >= _CUT_OFF_TIMES:
            yield Finding.CUT_OFF
        if levels.turns_up:
            yield Finding.TURNED_UP
        notes_db, room_db = levels.notes_db, levels.room_db
        if notes_db is not None and room_db is not None:
            if notes_db[1] < _TOO_SOFT_DB:
                yield Finding.TOO_SOFT
            elif notes_db[1] < room_db + _NOISY_DB:
                yield Finding.NOISY
        least_db = _HUM_DB if notes_db is None else notes_db[1] - UNDER_LOUDEST_DB
        if hum is not None and hum.level_db >= least_db:
            yield Finding.HUM
