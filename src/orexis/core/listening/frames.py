"""Frames: pitch, level and clarity of a sound every 10 ms.

Measured per frame: f0 (Hz, NaN when not voiced), level (dB re full scale, RMS), harmonicity
(harmonics-to-noise ratio, dB) and brightness (spectral centroid as a multiple of f0).

Pitch comes from the normalised square difference n(τ) = 2·r(τ)/m(τ), with r the
autocorrelation of a window and m(τ) the energy of its two overlapping parts: the first high
peak gives the period, and the peaks near two, four, eight… periods refine it. A window holds
at least four periods or so, hence three lengths: most notes are decided on the shortest, low
ones wait for the longer. Harmonicity is 10·log10(n/(1 − n)) at the period. Sources:
P. McLeod and G. Wyvill, "A smarter way to find pitch", ICMC 2005 (normalised square
difference); P. Boersma, "Accurate short-term analysis…", IFA Proceedings 17, 1993
(harmonicity).

Frame k is centred on k·10 ms and depends on nothing but the samples around it, so frames do
not change with the size of the chunks the sound arrives in.
"""

from dataclasses import dataclass

import numpy as np

from orexis.core.horn.pitch import FloatArray

HOP_S = 0.01
LOWEST_HZ = 25.0
HIGHEST_HZ = 2000.0
SILENCE_DB = -100.0
"""Level reported for digital silence."""

_VOICED_LEVEL_DB = -60.0
_FIRST_PEAK_SHARE = 0.9
_CLEAR_ENOUGH = 0.8
_VOICED_CLARITY = 0.5
_CLARITY_CEILING = 0.9999
_CLIP_LEVEL = 0.999
_CLIP_RUN = 3
_HIGHEST_CENTROID_HZ = 8000.0
_BATCH_FRAMES = 32


@dataclass(frozen=True, slots=True)
class _Tier:
    """One window length, what it may decide, and by how much the sound is decimated for it."""

    window_s: float
    lowest_hz: float
    analysis_rate_hz: float
    clear_enough: float


_TIERS = (
    _Tier(0.046, 100.0, np.inf, _CLEAR_ENOUGH),
    _Tier(0.092, 50.0, 24_000.0, _CLEAR_ENOUGH),
    _Tier(0.184, LOWEST_HZ, 12_000.0, _VOICED_CLARITY),
)


@dataclass(frozen=True, slots=True)
class Frames:
    """A stretch of consecutive frames; `first` is the number of the first one.

    All arrays have one value per frame. `f0_hz`, `harmonicity_db` and `brightness` are NaN
    where the sound is not voiced.
    """

    first: int
    f0_hz: FloatArray
    level_db: FloatArray
    harmonicity_db: FloatArray
    brightness: FloatArray

    def __len__(self) -> int:
        return len(self.f0_hz)

    @property
    def time_s(self) -> FloatArray:
        """Time of each frame in seconds from the start of the sound."""
        return np.arange(self.first, self.first + len(self), dtype=np.float64) * HOP_S

    @property
    def voiced(self) -> np.ndarray:
        """Which frames have a pitch."""
        return np.isfinite(self.f0_hz)

    def between(self, first: int, last: int) -> "Frames":
        """Frames numbered `first` up to, not including, `last`."""
        cut = slice(max(first - self.first, 0), max(last - self.first, 0))
        return Frames(
            max(first, self.first),
            self.f0_hz[cut],
            self.level_db[cut],
            self.harmonicity_db[cut],
            self.brightness[cut],
        )

    @staticmethod
    def none(first: int = 0) -> "Frames":
        """No frames, standing before frame `first`."""
        empty = np.empty(0)
        return Frames(first, empty, empty, empty, empty)

    @staticmethod
    def joined(parts: "list[Frames]", first: int = 0) -> "Frames":
        """Consecutive stretches as one; `first` places the result when there are none."""
        parts = [part for part in parts if len(part)]
        if not parts:
            return Frames.none(first)
        return Frames(
            parts[0].first,
            np.concatenate([part.f0_hz for part in parts]),
            np.concatenate([part.level_db for part in parts]),
            np.concatenate([part.harmonicity_db for part in parts]),
            np.concatenate([part.brightness for part in parts]),
        )


class FrameTracker:
    """Turns sound into frames as it arrives.

    `sample_rate` is in Hz (8000 to 192 000). `first_frame` starts the count elsewhere than at
    zero, for a stretch cut out of a longer sound on a whole second.
    """

    def __init__(self, sample_rate: int, first_frame: int = 0) -> None:
        if not 8000 <= sample_rate <= 192_000:
            raise ValueError(f"Sample rate {sample_rate} Hz is outside 8000 to 192000 Hz.")
        self.sample_rate = sample_rate
        self.clipped = False
        self._next_frame = first_frame
        self._windows = [_Window(tier, sample_rate) for tier in _TIERS]
        self._reach = max(window.half for window in self._windows)
        self._buffer_start = self._centre(first_frame) - self._reach
        self._buffer: FloatArray = np.zeros(self._reach)
        self._last_full = np.zeros(_CLIP_RUN - 1, dtype=bool)
        self._finished = False
        self._pending = _Pending.none()

    def feed(self, samples: FloatArray) -> Frames:
        """Takes mono samples (1-D, full scale ±1), any number; returns the frames now known.

        Raises `ValueError` for NaN or infinite samples, more than one channel, or sound after
        `finish`. Nothing of a refused chunk is kept.
        """
        if self._finished:
            raise ValueError("The tracker has finished; start a new one for more sound.")
        samples = np.asarray(samples, dtype=np.float64)
        if samples.ndim != 1:
            raise ValueError(f"Expected one channel of samples, got shape {samples.shape}.")
        if not np.all(np.isfinite(samples)):
            raise ValueError("The sound holds samples that are not numbers.")
        self._watch_clipping(samples)
        self._buffer = np.concatenate((self._buffer, samples))
        return self._advance(self._buffer_start + len(self._buffer))

    def finish(self) -> Frames:
        """The frames still waiting for sound to their right, which is now taken as silence."""
        if self._finished:
            return Frames.none(self._next_frame)
        self._finished = True
        end = self._buffer_start + len(self._buffer)
        self._buffer = np.concatenate((self._buffer, np.zeros(2 * self._reach)))
        return self._advance(end + 2 * self._reach, end)

    def _centre(self, frame: int) -> int:
        return round(frame * self.sample_rate * HOP_S)

    def _watch_clipping(self, samples: FloatArray) -> None:
        full = np.concatenate((self._last_full, np.abs(samples) >= _CLIP_LEVEL))
        runs = np.lib.stride_tricks.sliding_window_view(full, _CLIP_RUN)
        self.clipped = self.clipped or bool(runs.all(axis=-1).any())
        self._last_full = full[1 - _CLIP_RUN :]

    def _advance(self, known_until: int, centres_before: int | None = None) -> Frames:
        """Frames that can be decided with samples known up to `known_until`."""
        done: list[Frames] = []
        while True:
            fresh = self._look_briefly(known_until, centres_before)
            self._look_longer(known_until)
            done.append(self._decided())
            if not fresh:
                break
        keep_from = self._centre(self._next_frame) - self._reach
        if keep_from > self._buffer_start:
            self._buffer = self._buffer[keep_from - self._buffer_start :]
            self._buffer_start = keep_from
        return Frames.joined(done, self._next_frame)

    def _look_briefly(self, known_until: int, centres_before: int | None) -> int:
        """Takes the next frames whose shortest window is known; returns how many."""
        short = self._windows[0]
        next_unseen = self._next_frame + len(self._pending.centre)
        centres = [
            centre
            for centre in map(self._centre, range(next_unseen, next_unseen + _BATCH_FRAMES))
            if centre + short.half <= known_until
            and (centres_before is None or centre < centres_before)
        ]
        if not centres:
            return 0
        centre = np.array(centres)
        at = centre - self._buffer_start
        seen = short.analyse(self._buffer, at)
        level_db = _level_db(short.mean_square(self._buffer, at))
        silent = level_db < _VOICED_LEVEL_DB
        self._pending = self._pending.followed_by(
            _Pending(
                centre=centre,
                level_db=level_db,
                centroid_hz=seen.centroid_hz,
                f0_hz=np.where(seen.decided & ~silent, seen.f0_hz, np.nan),
                clarity=seen.clarity,
                stage=np.where(seen.decided | silent, len(self._windows), 1),
            )
        )
        return len(centres)

    def _look_longer(self, known_until: int) -> None:
        """Tries the longer windows on the frames the shorter ones left open."""
        pending = self._pending
        for stage, window in enumerate(self._windows[1:], start=1):
            rows = np.flatnonzero(
                (pending.stage == stage) & (pending.centre + window.half <= known_until)
            )
            if len(rows):
                seen = window.analyse(self._buffer, pending.centre[rows] - self._buffer_start)
                hits = rows[seen.decided]
                pending.f0_hz[hits] = seen.f0_hz[seen.decided]
                pending.clarity[hits] = seen.clarity[seen.decided]
                pending.stage[rows] = np.where(seen.decided, len(self._windows), stage + 1)

    def _decided(self) -> Frames:
        """Hands out the frames at the front for which nothing is open any more."""
        still_open = np.flatnonzero(self._pending.stage < len(self._windows))
        count = int(still_open[0]) if len(still_open) else len(self._pending.stage)
        out, self._pending = self._pending.split(count)
        first = self._next_frame
        self._next_frame += count
        n = np.clip(out.clarity, 0.01, _CLARITY_CEILING)
        return Frames(
            first,
            out.f0_hz,
            out.level_db,
            np.where(np.isfinite(out.f0_hz), 10 * np.log10(n / (1 - n)), np.nan),
            out.centroid_hz / out.f0_hz,
        )


@dataclass(frozen=True, slots=True)
class _Pending:
    """Frames seen but not yet handed out; `stage` is the next window to try on each."""

    centre: np.ndarray
    level_db: FloatArray
    centroid_hz: FloatArray
    f0_hz: FloatArray
    clarity: FloatArray
    stage: np.ndarray

    def _columns(self) -> tuple[np.ndarray, ...]:
        return (
            *(self.centre, self.level_db, self.centroid_hz),
            *(self.f0_hz, self.clarity, self.stage),
        )

    def followed_by(self, other: "_Pending") -> "_Pending":
        pairs = zip(self._columns(), other._columns(), strict=True)
        return _Pending(*(np.concatenate(pair) for pair in pairs))

    def split(self, count: int) -> "tuple[_Pending, _Pending]":
        return (
            _Pending(*(column[:count] for column in self._columns())),
            _Pending(*(column[count:] for column in self._columns())),
        )

    @staticmethod
    def none() -> "_Pending":
        whole, real = np.empty(0, dtype=np.intp), np.empty(0)
        return _Pending(whole, real, real, real, real, whole)


@dataclass(frozen=True, slots=True)
class _Seen:
    """What one window says of each row: pitch, clarity n at the period, centroid, certainty."""

    f0_hz: FloatArray
    clarity: FloatArray
    centroid_hz: FloatArray
    decided: np.ndarray


class _Window:
    """Pitch in a window of one length, for many frames at once (one row each)."""

    def __init__(self, tier: _Tier, sample_rate: int) -> None:
        self._tier = tier
        self._decimation = max(1, round(sample_rate / tier.analysis_rate_hz))
        self._rate = sample_rate / self._decimation
        length = 2 * round(tier.window_s * self._rate / 2)
        self.half = length * self._decimation // 2
        self._longest_lag = length // 2
        self._shortest_lag = max(2, int(self._rate / HIGHEST_HZ))
        self._fft_size = 1 << (length + self._longest_lag - 1).bit_length()
        frequencies = np.fft.rfftfreq(self._fft_size, 1 / self._rate)
        self._frequencies = np.where(frequencies <= _HIGHEST_CENTROID_HZ, frequencies, 0.0)
        self._in_centroid = (frequencies <= _HIGHEST_CENTROID_HZ).astype(np.float64)

    def _rows(self, buffer: FloatArray, at: np.ndarray) -> FloatArray:
        views = np.lib.stride_tricks.sliding_window_view(buffer, 2 * self.half)
        rows: FloatArray = views[at - self.half]
        if self._decimation > 1:
            rows = rows.reshape(len(at), -1, self._decimation).mean(axis=-1)
        return rows

    def mean_square(self, buffer: FloatArray, at: np.ndarray) -> FloatArray:
        """Power of each row about its mean."""
        power: FloatArray = self._rows(buffer, at).var(axis=-1)
        return power

    def analyse(self, buffer: FloatArray, at: np.ndarray) -> _Seen:
        """Pitch of the windows centred on the buffer indices `at`."""
        rows = self._rows(buffer, at)
        rows = rows - rows.mean(axis=-1, keepdims=True)
        spectrum = np.fft.rfft(rows, self._fft_size, axis=-1)
        power = spectrum.real**2 + spectrum.imag**2
        correlation = np.fft.irfft(power, self._fft_size, axis=-1)[:, : self._longest_lag + 1]
        energy = np.cumsum(rows**2, axis=-1)
        total = energy[:, -1:]
        length = rows.shape[-1]
        lags = np.arange(self._longest_lag + 1)
        head = energy[:, length - 1 - lags]
        tail = total - np.concatenate((np.zeros((len(rows), 1)), energy[:, lags[1:] - 1]), axis=1)
        likeness = 2 * correlation / np.maximum(head + tail, 1e-20)
        lag, clarity = self._period(likeness)
        f0_hz = self._rate / np.maximum(lag, 1.0)
        centroid_hz = (power * self._frequencies).sum(axis=-1) / np.maximum(
            (power * self._in_centroid).sum(axis=-1), 1e-20
        )
        decided = (
            (clarity >= self._tier.clear_enough)
            & (f0_hz >= self._tier.lowest_hz)
            & (f0_hz <= HIGHEST_HZ)
        )
        return _Seen(f0_hz, clarity, centroid_hz, decided)

    def _period(self, likeness: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Period in samples and n there: the first high peak, refined on its multiples."""
        inner = likeness[:, 1:-1]
        is_peak = (inner > likeness[:, :-2]) & (inner >= likeness[:, 2:]) & (inner > 0)
        is_peak[:, : self._shortest_lag - 1] = False
        heights = np.where(is_peak, inner, 0.0)
        high = heights >= _FIRST_PEAK_SHARE * heights.max(axis=-1, keepdims=True)
        first = np.argmax(high & is_peak, axis=-1) + 1
        rows = np.arange(len(likeness))
        found = is_peak.any(axis=-1)
        offset, clarity = _parabola(likeness, rows, first)
        period = first + offset
        multiple = 2
        going = found.copy()
        while True:
            middle = np.rint(multiple * period).astype(np.intp)
            going = going & (middle + 4 <= self._longest_lag)
            if not going.any():
                break
            safe = np.where(going, middle, 4)
            near = safe[:, None] + np.arange(-3, 4)
            best = np.argmax(np.take_along_axis(likeness, near, axis=-1), axis=-1)
            going = going & (best > 0) & (best < 6)
            peak = safe + best - 3
            offset, _ = _parabola(likeness, rows, peak)
            period = np.where(going, (peak + offset) / multiple, period)
            multiple *= 2
        return period, np.where(found, clarity, 0.0)


def _parabola(
    values: FloatArray, rows: np.ndarray, peak: np.ndarray
) -> tuple[FloatArray, FloatArray]:
    """Offset and height of the vertex through each row's peak and its two neighbours."""
    left, middle, right = (values[rows, peak + step] for step in (-1, 0, 1))
    bend = left - 2 * middle + right
    offset = np.where(bend < 0, 0.5 * (left - right) / np.where(bend < 0, bend, -1.0), 0.0)
    return offset, middle - 0.25 * (left - right) * offset


def _level_db(mean_square: FloatArray) -> FloatArray:
    floor = 10 ** (SILENCE_DB / 10)
    return 10 * np.log10(np.maximum(mean_square, floor))
