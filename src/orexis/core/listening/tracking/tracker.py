"""The frame tracker: pitch, level and clarity of a sound every 10 ms, as it arrives.

The sound is looked at in three windows, each at the lowest rate that serves: 28 ms decides
what it can (160 Hz and up, so that a short slot is seen), 60 ms lower notes (40 Hz), 176 ms the
lowest. A shorter window that is not sure is checked against the next: a strong harmonic of a low
note may look like a note. Where the next window agrees within a few cents it gives the finer value.
Harmonicity is 10·log10(n/(1 − n)) at the period, the noise above the analysed band added as if
it went on. Source: P. Boersma, "Accurate short-term analysis…", IFA Proceedings 17, 1993.

A frame depends on nothing but the samples around it and the note it goes on from, so frames
do not change with the size of the chunks the sound arrives in.
"""

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.tracking.clicks import UNCLEAR, without_clicks
from orexis.core.listening.tracking.comparing import PULSES_SHARE, SAME_CENTS, SURE, compared
from orexis.core.listening.tracking.decimate import Decimator
from orexis.core.listening.tracking.drone import DroneCanceller, DroneGate
from orexis.core.listening.tracking.frames import HOP_S, SILENCE_DB, Frames
from orexis.core.listening.tracking.harmonics import LEAST_PERIODS
from orexis.core.listening.tracking.rough import MEMORY_FRAMES, STILL_HEARD, goes_on
from orexis.core.listening.tracking.windows import HIGHEST_HZ, LOWEST_HZ, TIERS, Power, Seen, View

_VOICED_LEVEL_DB = -66.0
_CLARITY_CEILING = 0.9999
_CLIP_LEVEL = 0.999
_CLIP_RUN = 3
_BATCH_FRAMES = 96
_ANALYSIS_RATE_HZ = 16_000
_SURER = 0.995
_INSIDE_SHARE = 0.03
_NO_POWER = 1e-20
_BAND_RIPPLE = 0.003
_HALVES_BELOW = 0.93
_SHORTEST_SEES_HZ = 78.0
_FIRST_GLIMPSE, _FIRST_WILL_DO, _CLEAR_PEDAL = 0.45, 0.52, 0.8
_NEARLY_CLEAR, _SAME_NOTE_CENTS = 0.75, 60.0


class FrameTracker:
    """Turns sound into frames as it arrives.

    `sample_rate` is in Hz (8000 to 192 000). `first_frame` starts the count elsewhere than at
    zero, for a stretch cut out of a longer sound on a whole second. `drone_hz` is a tone that
    also sounds in the room, which is taken out.
    """

    def __init__(
        self, sample_rate: int, first_frame: int = 0, drone_hz: float | None = None
    ) -> None:
        if not 8000 <= sample_rate <= 192_000:
            raise ValueError(f"Sample rate {sample_rate} Hz is outside 8000 to 192000 Hz.")
        self.sample_rate = sample_rate
        self.clipped = False
        self._next_frame = first_frame
        self._finished = False
        self._last_full = np.zeros(_CLIP_RUN - 1, dtype=bool)
        self._end = self._centre(first_frame)
        factor = max(1, round(sample_rate / _ANALYSIS_RATE_HZ))
        # The lowest rate must stand on whole samples of the highest.
        step = factor * TIERS[-1].division
        start = (self._end // step) * step
        self._skip = self._end - start
        self._views = [View(tier, sample_rate, factor * tier.division, start) for tier in TIERS]
        self._decimators = [
            Decimator(factor, start),
            Decimator(2, start // factor),
            Decimator(2, start // factor // 2),
        ]
        first, second, third = (decimator.noise_band for decimator in self._decimators)
        self._band_share = (first, first * second, first * second * third)
        self._power = Power(sample_rate, start)
        self._canceller = drone_hz and DroneCanceller(sample_rate, drone_hz, self._end)
        self._gate = drone_hz and DroneGate(drone_hz)
        self._pending = np.zeros(0, dtype=_PENDING)
        self._note_hz = np.full(MEMORY_FRAMES, np.nan)
        self._before_hz = (np.nan, np.nan)
        if self._skip:
            self._take(np.zeros(self._skip))

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
        self._end += len(samples)
        self._take(self._canceller.feed(samples) if self._canceller else samples)
        return self._advance(None)

    def finish(self) -> Frames:
        """The frames still waiting for sound to their right, which is now taken as silence."""
        if self._finished:
            return Frames.none(self._next_frame)
        self._finished = True
        self._take(np.zeros(round(TIERS[-1].window_s * self.sample_rate)))
        frames = self._advance(self._end)
        return Frames.joined([frames, self._decided(final=True)], self._next_frame)

    def early(self) -> Frames:
        """What is heard so far of the frames after those handed out, for the eye alone.

        A frame that waits for a longer window, or stands behind one that does, is here at once
        with what the shorter ones say: where that is clear, or nearly so and on the pitch of
        one that is. It may still change; NaN where nothing can be said yet.
        """
        pending = self._pending
        f0_hz = pending["f0_hz"].copy()
        clear = pending["clarity"] >= UNCLEAR
        clear_hz = np.append(f0_hz[clear], self._before_hz[-1])
        apart = np.abs(1200 * np.log2(f0_hz[:, None] / clear_hz))
        nearly = (pending["clarity"] >= _NEARLY_CLEAR) & (apart <= _SAME_NOTE_CENTS).any(axis=1)
        f0_hz[~clear & ~nearly] = np.nan
        return self._frames(pending, f0_hz)

    def _centre(self, frame: int) -> int:
        return round(frame * self.sample_rate * HOP_S)

    def _take(self, samples: FloatArray) -> None:
        self._power.feed(samples)
        for decimator, view in zip(self._decimators, self._views, strict=True):
            samples = decimator.feed(samples)
            view.feed(samples)

    def _watch_clipping(self, samples: FloatArray) -> None:
        full = np.concatenate((self._last_full, np.abs(samples) >= _CLIP_LEVEL))
        if full.any():
            runs = np.lib.stride_tricks.sliding_window_view(full, _CLIP_RUN)
            self.clipped = self.clipped or bool(runs.all(axis=-1).any())
        self._last_full = full[1 - _CLIP_RUN :]

    def _advance(self, centres_before: int | None) -> Frames:
        """The frames that can be decided with the sound there is, in batches."""
        done: list[Frames] = []
        while True:
            fresh = self._begin(centres_before)
            for stage, view in enumerate(self._views):
                rows = np.flatnonzero(
                    (self._pending["stage"] == stage) & (self._pending["centre"] < view.known_until)
                )
                if len(rows):
                    self._look(stage, view, rows)
            done.append(self._decided())
            if fresh < _BATCH_FRAMES:
                return Frames.joined(done, self._next_frame)

    def _begin(self, centres_before: int | None) -> int:
        """Takes up the next frames whose shortest window is known; returns how many."""
        until = min(self._views[0].known_until, self._power.known_until)
        if centres_before is not None:
            until = min(until, centres_before)
        first = last = self._next_frame + len(self._pending)
        while last < first + _BATCH_FRAMES and self._centre(last) < until:
            last += 1
        if last > first:
            centres = np.array([self._centre(frame) for frame in range(first, last)])
            fresh = np.zeros(last - first, dtype=_PENDING)
            fresh["centre"] = centres
            fresh["power"] = self._power.mean_square(centres)
            fresh["f0_hz"] = fresh["centroid_hz"] = np.nan
            silent = _level_db(fresh["power"]) < _VOICED_LEVEL_DB
            fresh["stage"] = np.where(silent, _DONE, 0)
            self._pending = np.concatenate((self._pending, fresh))
        return last - first

    def _look(self, stage: int, view: View, rows: np.ndarray) -> None:
        """Looks at some pending frames in one tier's window, and says what is next for each."""
        pending = self._pending
        seen = view.look(pending["centre"][rows])
        known_hz, known_clarity = pending["f0_hz"][rows], pending["clarity"][rows]
        fresh = np.isnan(known_hz)
        # A long window that only reaches into a note does not put one here.
        power = pending["power"][rows]
        if stage + 1 == _DONE:  # The shortest window may fall between two pulses of a pedal.
            power = self._power.mean_square(pending["centre"][rows], 1 / LOWEST_HZ)
        usable = seen.decided & (power >= _INSIDE_SHARE * seen.mean_square)
        share = pending["power"][rows] / np.maximum(seen.mean_square, _NO_POWER)
        agrees, explains, doubtful = compared(
            known_hz, known_clarity, seen.f0_hz, seen.clarity, share
        )
        lone = np.zeros(len(rows), dtype=bool)
        if stage:
            other_hz = np.where(explains, known_hz, pending["nearly_hz"][rows])
            matters = explains | (pending["nearly_clarity"][rows] >= STILL_HEARD)
            matters &= usable & (fresh | agrees | explains)
            lone = view.one_stands_out(pending["centre"][rows], seen.f0_hz, other_hz, matters)
            usable &= ~fresh | self._plausible(rows, seen)
        finer, anew = usable & agrees, usable & (fresh | (explains & (doubtful | lone)))
        better = finer | anew
        pending["f0_hz"][rows[better]] = seen.f0_hz[better]
        pending["lone"][rows[better]] = lone[better]
        for name, values in (
            ("clarity", seen.clarity),
            ("band_power", seen.mean_square),
            ("band_share", np.full(len(rows), self._band_share[stage])),
        ):
            pending[name][rows[anew]] = values[anew]
        pending["wide_power"][rows[anew]] = seen.mean_square[anew]
        if stage and anew.any():
            window_s = TIERS[stage].window_s
            pending["wide_power"][rows[anew]] = self._views[0].mean_square(
                pending["centre"][rows[anew]], window_s
            )
        if stage == 0:
            pending["centroid_hz"][rows] = view.centroid_hz(pending["centre"][rows])
            pending["first_hz"][rows], pending["first_clarity"][rows] = seen.f0_hz, seen.clarity
            pending["first_power"][rows] = seen.mean_square
            pending["nearly_hz"][rows] = seen.nearly_hz
            pending["nearly_clarity"][rows] = seen.nearly_clarity
        if stage == 1:
            pending["second_hz"][rows] = seen.f0_hz
        f0_hz = pending["f0_hz"][rows]
        sure = (better & ~fresh) | (pending["clarity"][rows] >= self._sure_from(stage, f0_hz))
        sure &= ~self._untold(stage, rows)
        pending["stage"][rows] = np.where(np.isnan(f0_hz) | ~sure, stage + 1, _DONE)
        if stage + 1 == _DONE:
            self._settle_for_first(rows[np.isnan(f0_hz)])
        done = rows[pending["stage"][rows] == _DONE]
        self._look_at_halves(done[pending["clarity"][done] < _HALVES_BELOW])

    def _sure_from(self, stage: int, f0_hz: FloatArray) -> FloatArray:
        """How clear some pitches must be in a window for it to be sure of them: clearer where,
        of a note an octave lower, it would hold too few periods to tell the harmonics."""
        octave_lower = f0_hz < 2 * LEAST_PERIODS / TIERS[stage].window_s
        return np.where(octave_lower & (stage + 1 < _DONE), _SURER, SURE)

    def _untold(self, stage: int, rows: np.ndarray) -> np.ndarray:
        """Where a window cannot be the last word: it may lie between two pulses of a pedal, or
        something above its pitch was heard that may be a harmonic of it or not."""
        pending = self._pending
        lately = self._power.lately(pending["centre"][rows])
        f0_hz = pending["f0_hz"][rows]
        few = f0_hz < LEAST_PERIODS / TIERS[stage].window_s
        untold: np.ndarray = few & (pending["nearly_hz"][rows] > 1.5 * f0_hz)
        untold &= pending["nearly_clarity"][rows] >= STILL_HEARD
        untold |= pending["power"][rows] < PULSES_SHARE * lately
        return untold

    def _plausible(self, rows: np.ndarray, seen: Seen) -> np.ndarray:
        """Whether a longer window may put a pitch where the shortest one decided nothing.

        Where two notes meet, a long window finds a low pitch that both are multiples of; the
        shortest one, which could see that pitch too, does not.
        """
        first_hz = self._pending["first_hz"][rows]
        first_clarity = self._pending["first_clarity"][rows]
        near = np.abs(1200 * np.log2(first_hz / seen.f0_hz)) <= 2 * SAME_CENTS
        blind = (first_clarity < _FIRST_GLIMPSE) & (seen.f0_hz < TIERS[0].lowest_hz)
        # The longest window has no say where the middle one could see and did not.
        second_hz = self._pending["second_hz"][rows]
        looked = second_hz > 0
        off = np.abs(1200 * np.log2(np.where(looked, second_hz, seen.f0_hz) / seen.f0_hz))
        blind &= (off <= 2 * SAME_CENTS) | (seen.f0_hz < TIERS[1].lowest_hz)
        pedal = (seen.f0_hz < _SHORTEST_SEES_HZ) & (seen.clarity >= _CLEAR_PEDAL)
        plausible: np.ndarray = near | blind | pedal
        return plausible

    def _look_at_halves(self, rows: np.ndarray) -> None:
        """Hears which of two notes stands at a frame where no window was clear."""
        if not len(rows):
            return
        pending = self._pending
        clarity = np.maximum(pending["clarity"][rows], pending["first_clarity"][rows])
        f0_hz, clarity, stands = self._views[0].look_at_halves(pending["centre"][rows], clarity)
        self._take_from_shortest(rows[stands], f0_hz[stands], clarity[stands])

    def _settle_for_first(self, rows: np.ndarray) -> None:
        """Takes the shortest window's pitch after all where no longer one was any better."""
        pending = self._pending
        good = (
            (pending["first_clarity"][rows] >= _FIRST_WILL_DO)
            & (pending["first_hz"][rows] >= TIERS[0].lowest_hz)
            & (pending["first_hz"][rows] <= HIGHEST_HZ)
        )
        hits = rows[good]
        self._take_from_shortest(hits, pending["first_hz"][hits], pending["first_clarity"][hits])

    def _take_from_shortest(self, rows: np.ndarray, f0_hz: FloatArray, clarity: FloatArray) -> None:
        """Puts down what the shortest window says of some frames, its band with it."""
        pending = self._pending
        pending["f0_hz"][rows], pending["clarity"][rows] = f0_hz, clarity
        pending["band_power"][rows] = pending["first_power"][rows]
        pending["band_share"][rows] = self._band_share[0]
        pending["wide_power"][rows] = pending["first_power"][rows]

    def _decided(self, final: bool = False) -> Frames:
        """Hands out the frames at the front for which nothing is open any more."""
        still_open = np.flatnonzero(self._pending["stage"] < _DONE)
        count = int(still_open[0]) if len(still_open) else len(self._pending)
        ready = self._pending[:count]
        f0_hz, clarity = ready["f0_hz"], ready["clarity"]
        nearly_hz, nearly_clarity = ready["nearly_hz"], ready["nearly_clarity"]
        nearly_hz = np.where(ready["lone"] > 0, f0_hz, nearly_hz)
        goes, note_hz = goes_on(self._note_hz, f0_hz, clarity, nearly_hz, nearly_clarity)
        f0_hz = np.where(goes, nearly_hz, f0_hz)
        clarity = np.where(goes, nearly_clarity, clarity)
        f0_hz, count = without_clicks(self._before_hz, f0_hz, clarity, final)
        f0_hz, goes = f0_hz[:count], goes[:count]
        self._note_hz = np.concatenate((self._note_hz, note_hz[:count]))[-MEMORY_FRAMES:]
        rows = np.flatnonzero(goes)
        self._take_from_shortest(rows, nearly_hz[rows], nearly_clarity[rows])
        heard_hz = np.concatenate((self._before_hz, f0_hz))
        self._before_hz = float(heard_hz[-2]), float(heard_hz[-1])
        self._even_out(ready[:count], f0_hz)
        frames = self._frames(ready[:count], f0_hz)
        self._pending = self._pending[count:]
        self._next_frame += count
        keep = self._centre(self._next_frame)
        self._power.forget(keep)
        for view in self._views:
            view.forget(keep)
        return frames

    def _even_out(self, out: np.ndarray, f0_hz: FloatArray) -> None:
        """Takes the power of notes whose pulses lie farther apart than the shortest window is
        long over one period, so that it does not go up and down with them."""
        for row in np.flatnonzero(f0_hz * TIERS[0].window_s < 1).tolist():
            window_s = 1 / max(float(f0_hz[row]), LOWEST_HZ)
            out["power"][row : row + 1] = self._power.mean_square(
                out["centre"][row : row + 1], window_s
            )

    def _frames(self, out: np.ndarray, f0_hz: FloatArray) -> Frames:
        """The first of the pending frames, `out`, as they are told with these pitches."""
        level_db = _level_db(out["power"])
        if self._gate and self._canceller:
            leaks = [self._canceller.leak_db(int(centre)) for centre in out["centre"]]
            f0_hz = self._gate.pass_on(f0_hz, level_db, np.array(leaks))
        return Frames(
            self._next_frame,
            f0_hz,
            level_db,
            np.where(np.isfinite(f0_hz), self._harmonicity_db(out), np.nan),
            out["centroid_hz"] / f0_hz,
        )

    def _harmonicity_db(self, out: np.ndarray) -> FloatArray:
        """Tone over noise. Noise counts as far as it goes on above the band it was seen in: up
        to the shortest window's band, and from there to the top."""
        n = np.clip(out["clarity"], 0.01, _CLARITY_CEILING)
        band = out["band_power"]
        noise = (1 - n) * band
        steps = (
            (out["wide_power"], band, out["band_share"] / self._band_share[0]),
            (out["power"], out["first_power"], self._band_share[0]),
        )
        for wider, narrower, share in steps:
            above = np.maximum(wider - narrower, 0) + _BAND_RIPPLE * wider
            noise = noise + np.minimum(above, noise * (1 / np.maximum(share, 1e-3) - 1))
        tone = np.maximum(n * band, 1e-20)
        ratio: FloatArray = tone / np.maximum(noise, (1 - _CLARITY_CEILING) * tone)
        return 10 * np.log10(ratio)


_DONE = len(TIERS)
_PENDING = np.dtype(
    [("centre", np.int64), ("stage", np.int64)]
    + [(name, np.float64) for name in ("f0_hz", "clarity", "centroid_hz", "power")]
    + [(name, np.float64) for name in ("band_power", "band_share", "wide_power")]
    + [(name, np.float64) for name in ("first_hz", "first_clarity", "first_power", "second_hz")]
    + [(name, np.float64) for name in ("nearly_hz", "nearly_clarity", "lone")]
)
"""A frame seen but not yet handed out; `stage` is the next window to look at it in. Its clarity
is that of a window whose band holds `band_power` of `wide_power` (what the shortest window's band
holds in that time), and `band_share` of white noise;
what shorter windows said is kept beside."""


def _level_db(mean_square: FloatArray) -> FloatArray:
    floor = 10 ** (SILENCE_DB / 10)
    return 10 * np.log10(np.maximum(mean_square, floor))
