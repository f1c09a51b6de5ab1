"""The frame tracker beside general-purpose pitch libraries, all in one run.

Each tracks the same phrases under each condition, asked for 25 to 2000 Hz every 10 ms. Counted
are frames where the stand-in holds a pitch (it moves less than 25 cents in 60 ms and sounds
30 ms to each side): gross error is over 50 cents, missed is no pitch given. Errors in cents are
of frames within 50 cents. Time is a share of real time on one core. `mir_eval` adds raw pitch
accuracy and voicing false alarms over all frames.
"""

import os

for _threads in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "NUMBA_NUM_THREADS"):
    os.environ.setdefault(_threads, "1")

import time  # noqa: E402
from collections.abc import Callable  # noqa: E402
from dataclasses import dataclass, field  # noqa: E402

import numpy as np  # noqa: E402

from bench.goals import at_most  # noqa: E402
from bench.sounds import CONDITIONS, DRONE_HZ, RATE, REGISTERS, phrase  # noqa: E402
from orexis.core.arrays import FloatArray  # noqa: E402
from orexis.core.listening.tracking.frames import HOP_S, Frames  # noqa: E402
from orexis.core.listening.tracking.tracker import FrameTracker  # noqa: E402

Tracker = Callable[[FloatArray], FloatArray]
_LOWEST_HZ, _HIGHEST_HZ = 25.0, 2000.0


def orexis(sound: FloatArray, drone_hz: float | None = None) -> FloatArray:
    """Ours; it is told of the drone, since the application plays it."""
    tracker = FrameTracker(RATE, drone_hz=drone_hz)
    parts = [tracker.feed(sound[at : at + RATE]) for at in range(0, len(sound), RATE)]
    return Frames.joined([*parts, tracker.finish()]).f0_hz


def peers() -> dict[str, Tracker]:
    """The libraries that are installed, by name."""
    found: dict[str, Tracker] = {}
    try:
        import parselmouth

        def praat(sound: FloatArray) -> FloatArray:
            pitch = parselmouth.Sound(sound, RATE).to_pitch_ac(
                time_step=HOP_S, pitch_floor=_LOWEST_HZ, pitch_ceiling=_HIGHEST_HZ
            )
            return _on_grid(pitch.xs(), pitch.selected_array["frequency"], len(sound))

        found["praat ac"] = praat
    except ImportError:
        pass
    try:
        import librosa

        def yin(sound: FloatArray) -> FloatArray:
            given: FloatArray = librosa.yin(
                sound, fmin=_LOWEST_HZ, fmax=_HIGHEST_HZ, sr=RATE, frame_length=4096,
                hop_length=RATE // 100,
            )  # fmt: skip
            return given

        def pyin(sound: FloatArray) -> FloatArray:
            given, voiced, _ = librosa.pyin(
                sound, fmin=_LOWEST_HZ, fmax=_HIGHEST_HZ, sr=RATE, frame_length=4096,
                hop_length=RATE // 100,
            )  # fmt: skip
            return np.where(voiced, given, np.nan)

        found["librosa yin"], found["librosa pyin"] = yin, pyin
    except ImportError:
        pass
    try:
        import pyworld

        def harvest(sound: FloatArray) -> FloatArray:
            f0_hz, _ = pyworld.harvest(
                sound, RATE, f0_floor=_LOWEST_HZ, f0_ceil=_HIGHEST_HZ, frame_period=10.0
            )
            return np.where(f0_hz > 0, f0_hz, np.nan)

        found["world harvest"] = harvest
    except ImportError:
        pass
    return found


def _on_grid(times_s: FloatArray, f0_hz: FloatArray, samples: int) -> FloatArray:
    """Values given at their own times, on ours (nearest)."""
    wanted = np.arange(round(samples / RATE / HOP_S)) * HOP_S
    nearest = np.clip(np.searchsorted(times_s, wanted - HOP_S / 2), 0, len(times_s) - 1)
    values = f0_hz[nearest]
    values[np.abs(times_s[nearest] - wanted) > HOP_S] = 0
    return np.where(values > 0, values, np.nan)


def _fitted(f0_hz: FloatArray, count: int) -> FloatArray:
    return np.concatenate((f0_hz[:count], np.full(max(0, count - len(f0_hz)), np.nan)))


@dataclass
class _Tally:
    errors: list[FloatArray] = field(default_factory=list)
    missed: int = 0
    counted: int = 0
    seconds: float = 0.0
    sound_s: float = 0.0
    accuracy: list[float] = field(default_factory=list)
    false_alarm: list[float] = field(default_factory=list)

    @property
    def lost(self) -> float:
        """Percent of the frames that were wrong or missed."""
        gross = sum(int((errors > 50).sum()) for errors in self.errors)
        return 100 * (gross + self.missed) / self.counted

    def line(self) -> str:
        errors = np.concatenate(self.errors)
        gross = errors > 50
        fine = errors[~gross]
        wrong = 100 * gross.sum() / self.counted
        return (
            f"{wrong:8.2f}{100 * self.missed / self.counted:9.2f}"
            f"{np.median(fine):9.2f}{np.percentile(fine, 95):8.2f}"
            f"{self.seconds / self.sound_s:10.4f}{100 * np.mean(self.accuracy):8.1f}"
            f"{100 * np.mean(self.false_alarm):8.1f}"
        )


def steady_frames(truth_hz: FloatArray) -> np.ndarray:
    """Frames where the truth holds a pitch: within 25 cents over 60 ms, sounding all round."""
    cents = 1200 * np.log2(truth_hz)
    around = np.lib.stride_tricks.sliding_window_view(np.pad(cents, 3, constant_values=np.nan), 7)
    held: np.ndarray = around.max(axis=-1) - around.min(axis=-1) < 25
    return held


def main() -> None:
    """Prints the table of each condition."""
    import mir_eval

    trackers = {"orexis": orexis, **peers()}
    for tracker in trackers.values():
        tracker(phrase("middle").samples[: 2 * RATE])  # Let compilers do their work first.
    phrases = {register: phrase(register) for register in REGISTERS}
    for condition, change in CONDITIONS.items():
        print(f"Tracking, {condition}")
        print(
            f"{'':<16}{'gross %':>8}{'missed %':>9}{'median':>9}{'95 %':>8}{'of time':>10}"
            f"{'RPA':>8}{'VFA':>8}"
        )
        lost: dict[str, float] = {}
        for name, tracker in trackers.items():
            tally = _Tally()
            for played in phrases.values():
                sound = change(played.samples)
                truth = np.array(played.truth["frames"]["f0_hz"], dtype=np.float64)
                started = time.process_time()
                ours_told = name == "orexis" and condition.startswith("drone")
                given = orexis(sound, DRONE_HZ) if ours_told else tracker(sound)
                given = _fitted(given, len(truth))
                tally.seconds += time.process_time() - started
                tally.sound_s += len(sound) / RATE
                held = steady_frames(truth)
                found = held & np.isfinite(given)
                tally.counted += int(held.sum())
                tally.missed += int((held & ~np.isfinite(given)).sum())
                tally.errors.append(np.abs(1200 * np.log2(given[found] / truth[found])))
                times = np.arange(len(truth)) * HOP_S
                scores = mir_eval.melody.evaluate(
                    times, np.nan_to_num(truth), times, np.nan_to_num(given)
                )
                tally.accuracy.append(scores["Raw Pitch Accuracy"])
                tally.false_alarm.append(scores["Voicing False Alarm"])
            print(f"{name:<16}{tally.line()}")
            lost[name] = tally.lost
        if condition.startswith("drone"):
            print(f"(orexis is told of the {DRONE_HZ:g} Hz drone, as in the application)")
        best_peer = min((share for name, share in lost.items() if name != "orexis"), default=0.0)
        at_most(f"wrong or missed, {condition}, %", lost["orexis"], best_peer)
        print()
