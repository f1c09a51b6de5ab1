"""The frame tracker: pitch, level and clarity of a sound every 10 ms, as it arrives.

The sound is looked at in three windows, each at the lowest rate that serves: 28 ms decides
what it can (160 Hz and up, so that a short slot is seen), 60 ms lower notes (40 Hz), 176 ms the
lowest. A shorter window that is not sure is checked against the next: a strong harmonic of a low
note may look like a note. Where the next window agrees within a few cents it gives the finer value.

A frame depends on nothing but the samples around it and the note it goes on from, so frames
do not change with the size of the chunks the sound arrives in.
"""

from dataclasses import replace

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.tracking.clicks import UNCLEAR, without_clicks
from orexis.core.listening.tracking.clipping import FULL, FULL_IN_A_ROW, finite_and_full
from orexis.core.listening.tracking.decimate import Decimator
from orexis.core.listening.tracking.drone import DroneCanceller, DroneGate
from orexis.core.listening.tracking.frames import HOP_S, SILENCE_DB, Frames
from orexis.core.listening.tracking.rough import MEMORY_FRAMES, STILL_HEARD, goes_on
from orexis.core.listening.tracking.telling import told, told_early
from orexis.core.listening.tracking.weighing import (
    PENDING,
    TIER,
    done_from,
    harmonics_to_check,
    take_from_shortest,
    to_look_at,
    weigh,
    with_fresh,
)
from orexis.core.listening.tracking.windows import LOWEST_HZ, TIERS, Power, View

_VOICED_POWER = 10 ** (-66.0 / 10)
_BATCH_FRAMES = 96
_ANALYSIS_RATE_HZ = 16_000
_DONE = len(TIERS)


class FrameTracker:
    """Turns sound into frames as it arrives.

    `sample_rate` is in Hz (8000 to 192 000). `first_frame` starts the count elsewhere than at
    zero, for a stretch cut out of a longer sound on a whole second. `drone_hz` is a tone that
    also sounds in the room, which is taken out. Frames are handed out in whole steps of
    `told_frames`, counted from frame 0, so that after any stretch of sound the same ones are known
    however it came; meanwhile `early` tells what can be drawn of those after them.
    """

    def __init__(
        self,
        sample_rate: int,
        first_frame: int = 0,
        drone_hz: float | None = None,
        told_frames: int = 1,
    ) -> None:
        if not 8000 <= sample_rate <= 192_000:
            raise ValueError(f"Sample rate {sample_rate} Hz is outside 8000 to 192000 Hz.")
        self.sample_rate = sample_rate
        self.clipped = False
        self._told_frames = told_frames
        self._next_frame = first_frame
        self._finished = False
        self._full_row = 0
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
        shares = (first, first * second, first * second * third)
        self._tiers = np.array(
            [
                (tier.lowest_hz, tier.highest_hz, tier.few_under_hz, tier.clear_enough, share)
                for tier, share in zip(TIERS, shares, strict=True)
            ],
            dtype=TIER,
        )
        self._first_share = first
        self._power = Power(sample_rate, start)
        self._canceller = drone_hz and DroneCanceller(sample_rate, drone_hz, self._end)
        self._gate = drone_hz and DroneGate(drone_hz)
        self._pending = np.zeros(0, PENDING)
        self._settled = 0
        self._note_hz = np.full(MEMORY_FRAMES, np.nan)
        self._before_hz = (np.nan, np.nan)
        self._mended_hz: FloatArray = np.empty(0)
        self._told_hz = np.nan
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
        finite, longest, row = finite_and_full(samples, FULL, self._full_row)
        if not finite:
            raise ValueError("The sound holds samples that are not numbers.")
        self._full_row = row
        self.clipped = self.clipped or longest >= FULL_IN_A_ROW
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

    def with_drone(self, drone_hz: float | None) -> tuple[Frames, "FrameTracker", int]:
        """Finishes, because another tone (none: `None`) sounds in the room from now on: the last
        frames, the tracker that goes on after them, and the sample it is to be fed from."""
        frames = self.finish()
        first = frames.first + len(frames)
        after = FrameTracker(self.sample_rate, first, drone_hz, self._told_frames)
        return frames, after, self._centre(first)

    def early(self) -> Frames:
        """What is heard so far of the frames after those handed out, for the eye alone.

        A frame that waits for a longer window, or stands behind one that does, is here at once
        with what the shorter ones say: where that is clear, or nearly so and on the pitch of
        one that is. It may still change; NaN where nothing can be said yet.
        """
        f0_hz, level_db, clearness_db = told_early(
            self._pending, self._told_hz, UNCLEAR, self._first_share, SILENCE_DB
        )
        brightness = np.full(len(f0_hz), np.nan)
        early = Frames(self._next_frame, f0_hz, level_db, clearness_db, brightness)
        return self._without_drone(early, self._pending)

    def _centre(self, frame: int) -> int:
        return round(frame * self.sample_rate * HOP_S)

    def _take(self, samples: FloatArray) -> None:
        self._power.feed(samples)
        for decimator, view in zip(self._decimators, self._views, strict=True):
            samples = decimator.feed(samples)
            view.feed(samples)

    def _advance(self, centres_before: int | None) -> Frames:
        """The frames that can be decided with the sound there is, in batches."""
        done: list[Frames] = []
        while True:
            fresh = self._begin(centres_before)
            self._look()
            done.append(self._decided())
            if fresh < _BATCH_FRAMES:
                return Frames.joined(done, self._next_frame)

    def _begin(self, centres_before: int | None) -> int:
        """Takes up the next frames whose shortest window is known; returns how many."""
        until = min(self._views[0].known_until, self._power.known_until)
        if centres_before is not None:
            until = min(until, centres_before)
        first = self._next_frame + len(self._pending)
        centres: list[int] = []
        while len(centres) < _BATCH_FRAMES:
            centre = self._centre(first + len(centres))
            if centre >= until:
                break
            centres.append(centre)
        if centres:
            centre_at = np.array(centres)
            power, recent_power = self._power.levels(centre_at)
            self._pending = with_fresh(
                self._pending, centre_at, power, recent_power, _VOICED_POWER, _DONE
            )
        return len(centres)

    def _look(self) -> None:
        """Looks at the pending frames in every window that is known and still wanted."""
        for stage, view in enumerate(self._views):
            rows = to_look_at(self._pending, stage, view.known_until)
            if len(rows):
                self._look_in(stage, view, rows)
            if done_from(self._pending, self._settled, _DONE) == len(self._pending):
                break

    def _look_in(self, stage: int, view: View, rows: np.ndarray) -> None:
        """Looks at some pending frames in one tier's window, and says what is next for each."""
        pending = self._pending
        centre, power = pending["centre"][rows], pending["power"][rows]
        if stage + 1 == _DONE:  # The shortest window may fall between two pulses of a pedal.
            power = self._power.mean_square(centre, 1 / LOWEST_HZ)
        heard = view.look(centre)
        lone = np.zeros(len(rows), dtype=bool)
        if stage:
            harmonic_hz = harmonics_to_check(
                pending, rows, heard, self._tiers, stage, power, STILL_HEARD
            )
            lone = view.one_stands_out(centre, heard["f0_hz"], harmonic_hz)
        from_here, unclear = weigh(
            pending,
            rows,
            heard,
            self._tiers,
            stage,
            power,
            lone,
            STILL_HEARD,
        )
        if stage and from_here.any():
            pending["wide_power"][rows[from_here]] = self._views[0].mean_square(
                centre[from_here], TIERS[stage].window_s
            )
        if unclear.any():
            self._look_at_halves(rows[unclear])

    def _look_at_halves(self, rows: np.ndarray) -> None:
        """Hears which of two notes stands at frames where no window was clear."""
        pending = self._pending
        known = np.maximum(pending["clarity"][rows], pending["first_clarity"][rows])
        f0_hz, clarity, stands = self._views[0].look_at_halves(pending["centre"][rows], known)
        take_from_shortest(pending, rows[stands], f0_hz[stands], clarity[stands], self._first_share)

    def _settle(self) -> None:
        """Tells which note each frame goes on in that no window is open for any more, once and
        in order."""
        done = done_from(self._pending, self._settled, _DONE)
        fresh = self._pending[self._settled : done]
        self._settled = done
        goes, heard_hz = goes_on(self._note_hz, fresh)
        if goes.any():
            take_from_shortest(
                fresh,
                np.flatnonzero(goes),
                heard_hz[goes],
                fresh["nearly_clarity"][goes],
                self._first_share,
            )

    def _decided(self, final: bool = False) -> Frames:
        """Hands out the frames at the front for which nothing is open any more."""
        # What cannot make up a step yet need not be looked at.
        if not final and self._whole_steps(len(self._pending)) <= 0:
            return Frames.none(self._next_frame)
        self._settle()
        if not final and self._whole_steps(self._settled) <= 0:
            return Frames.none(self._next_frame)
        self._mend(final)
        count = len(self._mended_hz) if final else self._whole_steps(len(self._mended_hz))
        if count <= 0:
            return Frames.none(self._next_frame)
        f0_hz, self._mended_hz = self._mended_hz[:count], self._mended_hz[count:]
        self._told_hz = float(f0_hz[-1])
        ready = self._pending[:count]
        self._even_out(ready, f0_hz)
        level_db, clearness_db = told(ready, f0_hz, self._first_share, SILENCE_DB)
        brightness = self._brightness(ready, f0_hz)
        frames = Frames(self._next_frame, f0_hz, level_db, clearness_db, brightness)
        frames = self._without_drone(frames, ready)
        self._pending = self._pending[count:]
        self._settled -= count
        self._next_frame += count
        keep = self._centre(self._next_frame)
        self._power.forget(keep)
        for view in self._views:
            view.forget(keep)
        return frames

    def _mend(self, final: bool) -> None:
        """Takes clicks out of what is settled, each frame once and in order."""
        fresh = self._pending[len(self._mended_hz) : self._settled]
        f0_hz, count = without_clicks(
            self._before_hz, fresh["f0_hz"].copy(), fresh["clarity"].copy(), final
        )
        heard_hz = (*self._before_hz, *f0_hz[:count].tolist())
        self._before_hz = heard_hz[-2], heard_hz[-1]
        self._mended_hz = np.concatenate((self._mended_hz, f0_hz[:count]))

    def _whole_steps(self, count: int) -> int:
        """How many of so many frames at the front make up whole steps; at most `count`."""
        end = self._next_frame + count
        return count - end % self._told_frames

    def _even_out(self, out: np.ndarray, f0_hz: FloatArray) -> None:
        """Takes the power of notes whose pulses lie farther apart than the shortest window is
        long over one period, so that it does not go up and down with them."""
        for row, note_hz in enumerate(f0_hz.tolist()):
            if note_hz * TIERS[0].window_s < 1:
                window_s = 1 / max(note_hz, LOWEST_HZ)
                out["power"][row : row + 1] = self._power.mean_square(
                    out["centre"][row : row + 1], window_s
                )

    def _brightness(self, out: np.ndarray, f0_hz: FloatArray) -> FloatArray:
        """The spectral centroid as a multiple of f0; NaN without a pitch."""
        brightness = np.full(len(f0_hz), np.nan)
        voiced = np.isfinite(f0_hz)
        if voiced.any():
            centroid_hz = self._views[0].centroid_hz(out["centre"][voiced])
            brightness[voiced] = centroid_hz / f0_hz[voiced]
        return brightness

    def _without_drone(self, frames: Frames, out: np.ndarray) -> Frames:
        """Frames that are told of some pending ones without what is only the drone's."""
        if not (self._gate and self._canceller):
            return frames
        leaks_db = np.array([self._canceller.leak_db(int(centre)) for centre in out["centre"]])
        f0_hz = self._gate.pass_on(frames.f0_hz, frames.level_db, leaks_db)
        gone = np.isnan(f0_hz)
        return replace(
            frames,
            f0_hz=f0_hz,
            harmonicity_db=np.where(gone, np.nan, frames.harmonicity_db),
            brightness=np.where(gone, np.nan, frames.brightness),
        )
