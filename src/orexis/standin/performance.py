"""A score played by the stand-in: the sound, and what is true of it.

Curves of pitch, level, brightness and breath are drawn every millisecond from the score and
its faults, and sounded by `tone.render`. The truth is written down from the score, not
measured, in the shape of the analysis document.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import A4_HZ, hz_from_midi
from orexis.standin.lips import STEADY_LIPS, Lips
from orexis.standin.score import Change, Faults, Score, ScoreNote, Siren
from orexis.standin.tone import Timbre, render

_MS = 1000
_ATTACK_DB, _ATTACK_S = 18.0, 0.015
"""How much noisier a note starts than it goes on, and how soon that is over."""
_WOBBLE_HZ = 2.2
_SWELL, _SWELL_HZ = 0.25, 1.7
_QUIET_DB = -90.0
_TAIL_S = 0.8
_BREATH_GAP_S = 0.5
_TONGUE_S = 0.05
_TOUCH_MOVE_S = 0.012
_LIPS_S = 0.17
_ROOM_NOISE = 1e-4
_BITE_S = 0.15
_SOFT_DB, _LOUD_DB = -36.0, -10.0


@dataclass(frozen=True, slots=True)
class Performance:
    """The samples (mono, full scale ±1) and their truth (the analysis document's shape)."""

    samples: FloatArray
    truth: dict[str, Any]


@dataclass(slots=True)
class _Curves:
    """What is played, a value a millisecond; `midi` is NaN in silence."""

    midi: list[FloatArray] = field(default_factory=list)
    level_db: list[FloatArray] = field(default_factory=list)
    brightness: list[FloatArray] = field(default_factory=list)
    breath_db: list[FloatArray] = field(default_factory=list)
    second_db: list[FloatArray] = field(default_factory=list)
    length: int = 0
    lips: Lips = STEADY_LIPS
    random: np.random.Generator = field(default_factory=np.random.default_rng)

    def add(
        self,
        midi: FloatArray,
        level_db: FloatArray,
        brightness: FloatArray,
        breath_db: FloatArray,
        second_db: FloatArray | None = None,
    ) -> None:
        self.midi.append(midi)
        self.level_db.append(level_db)
        self.brightness.append(brightness)
        self.breath_db.append(breath_db)
        self.second_db.append(np.zeros(len(midi)) if second_db is None else second_db)
        self.length += len(midi)

    def silence(self, seconds: float) -> None:
        count = round(seconds * _MS)
        still = np.zeros(count)
        self.add(np.full(count, np.nan), still + _QUIET_DB, still, still - 50)

    def settling_cents(
        self, time_s: FloatArray, seconds: float, starts: bool, ends: bool
    ) -> FloatArray:
        """How far off the lips are as a note speaks and stops."""
        return self.lips.settling_cents(time_s, seconds, starts, ends, self.random)

    def edges_db(self, time_s: FloatArray, seconds: float, starts: bool, ends: bool) -> FloatArray:
        """What rising from and falling into silence take off the level."""
        return self.lips.edges_db(time_s, seconds, starts, ends, self.random)

    @property
    def now_s(self) -> float:
        return self.length / _MS


def perform(
    score: Score,
    timbre: Timbre,
    sample_rate: int = 48_000,
    *,
    lead_s: float = 0.5,
    a4_hz: float = A4_HZ,
    seed: int = 1,
    lips: Lips = STEADY_LIPS,
) -> Performance:
    """Plays a score. The same arguments give the same samples."""
    random = np.random.default_rng(seed)
    curves = _Curves(lips=lips, random=np.random.default_rng(seed + 1))
    truth: dict[str, Any] = {"notes": [], "transitions": [], "glides": []}
    curves.silence(lead_s)
    before: ScoreNote | None = None
    for part, after in zip(score, (*score[1:], None), strict=True):
        if isinstance(part, Siren):
            _play_siren(part, curves, truth, a4_hz)
            before = None
            continue
        follows = after if isinstance(after, ScoreNote) else None
        _play_note(part, before, follows, curves, truth, a4_hz)
        before = part
    curves.silence(_TAIL_S)
    samples, frames = _sound(curves, timbre, sample_rate, a4_hz, random)
    take = {
        "duration_s": round(len(samples) / sample_rate, 4),
        "sample_rate": sample_rate,
        "clipped": False,
    }
    return Performance(
        samples, {"schema": "orexis.analysis/1", "take": take, "frames": frames, **truth}
    )


def _play_note(
    note: ScoreNote,
    before: ScoreNote | None,
    after: ScoreNote | None,
    curves: _Curves,
    truth: dict[str, Any],
    a4_hz: float,
) -> None:
    faults, change = note.faults, note.reached
    connected = before is not None and change.kind in ("slur", "glide") and not change.gap_s
    if before is not None:
        _reach(before, note, change, curves, truth, a4_hz)
    if faults.missed:
        curves.silence(note.seconds)
        return
    if faults.late_s:
        _air(faults.late_s, note, curves)
    start_s = curves.now_s
    count = round(note.seconds * _MS)
    time_s = np.arange(count) / _MS
    cents = (
        faults.centre_cents
        + faults.scoop_cents * _slid(time_s, faults)
        + faults.sag_cents * np.exp(-(((note.seconds - time_s) / 0.2) ** 2))
        + faults.drift_cents_per_s * time_s
        + faults.wobble_cents * np.sin(2 * np.pi * _WOBBLE_HZ * time_s)
        + faults.vibrato_cents * np.sin(2 * np.pi * faults.vibrato_hz * time_s)
    )
    ends = after is None or after.reached.kind in ("tongued", "breath") or after.reached.gap_s > 0
    midi = (
        note.midi + (cents + curves.settling_cents(time_s, note.seconds, not connected, ends)) / 100
    )
    cracked = None
    if faults.crack_semitones:
        crack = round(faults.crack_s * _MS)
        midi[:crack] += faults.crack_semitones
        cracked = round(note.midi + faults.crack_semitones)
    level_db = note.level_db + note.level_change_db * time_s / note.seconds
    level_db = level_db + faults.bites_db * np.exp(-((time_s / _BITE_S) ** 4))
    if faults.waning_db:
        fading = np.clip((time_s - (note.seconds - 0.2)) / 0.15, 0, 1)
        level_db = level_db - faults.waning_db * fading
    level_db = level_db + curves.edges_db(time_s, note.seconds, not connected, ends)
    loudness = (level_db - _SOFT_DB) / (_LOUD_DB - _SOFT_DB)
    curves.add(
        midi,
        level_db,
        np.clip(loudness, 0, 1) + faults.brightness,
        faults.breath_db + (0.0 if connected else _ATTACK_DB) * np.exp(-time_s / _ATTACK_S),
        faults.second_db * (1 + _SWELL * np.sin(2 * np.pi * _SWELL_HZ * time_s)),
    )
    nearest = round(note.midi)
    vibrato = {"rate_hz": faults.vibrato_hz, "extent_cents": faults.vibrato_cents}
    truth["notes"].append(
        {
            "start_s": round(start_s, 4),
            "end_s": round(curves.now_s, 4),
            "f0_hz": round(hz_from_midi(note.midi + faults.centre_cents / 100, a4_hz), 4),
            "midi": nearest,
            "name": note_name(nearest),
            "centre_cents": round(100 * (note.midi - nearest) + faults.centre_cents, 2),
            "drift_cents_per_s": faults.drift_cents_per_s,
            "onset": {
                "response_s": faults.late_s,
                "scoop_cents": faults.scoop_cents,
                "cracked_from_midi": cracked,
            },
            "sag_cents": faults.sag_cents,
            "wobble_cents": faults.wobble_cents,
            "vibrato": vibrato if faults.vibrato_cents else None,
            "level": {"mean_db": note.level_db, "change_db": note.level_change_db},
            "tone": {"breath_db": faults.breath_db, "brightness": faults.brightness},
        }
    )


def _slid(time_s: FloatArray, faults: Faults) -> FloatArray:
    """How much of a scoop is left: it dies away at once, or dwells and is then slid out of."""
    if not faults.scoop_dwell_s:
        return np.exp(-((time_s / faults.scoop_s) ** 2))
    share = np.clip((time_s - faults.scoop_dwell_s) / faults.scoop_s, 0, 1)
    left: FloatArray = 1 - share * share * (3 - 2 * share)
    return left


def _reach(
    before: ScoreNote,
    note: ScoreNote,
    change: Change,
    curves: _Curves,
    truth: dict[str, Any],
    a4_hz: float,
) -> None:
    """Goes from one note to the next."""
    start_s = curves.now_s
    start_midi = before.midi + before.faults.centre_cents / 100
    end_midi = note.midi + note.faults.centre_cents / 100
    if change.kind == "glide":
        begun_s = curves.now_s
        _move(start_midi, end_midi, change.seconds, before, note, change.dip_db, curves)
        low, high = sorted((start_midi, end_midi))
        truth["glides"].append(
            {
                "start_s": round(begun_s, 4),
                "end_s": round(curves.now_s, 4),
                "lowest_hz": round(hz_from_midi(low, a4_hz), 3),
                "highest_hz": round(hz_from_midi(high, a4_hz), 3),
                "span_semitones": round(high - low, 3),
                "passes": 1,
                "breaks": 0,
            }
        )
    elif change.kind == "slur":
        here = start_midi
        passed = (*change.touched, *((change.flipped,) if change.flipped else ()))
        for touched in passed:
            _move(here, touched.midi, _TOUCH_MOVE_S, before, note, change.dip_db, curves)
            _dwell(touched.midi, touched.seconds, before, note, change.dip_db, curves)
            here = float(touched.midi)
        if change.gap_s:
            curves.silence(change.gap_s)
        else:
            seconds = curves.lips.slur_s(change.seconds, curves.random)
            seconds = _TOUCH_MOVE_S if passed else seconds
            _move(here, end_midi, seconds, before, note, change.dip_db, curves)
    else:
        usual = _TONGUE_S if change.kind == "tongued" else _BREATH_GAP_S
        curves.silence(change.gap_s or usual)
    spoke = not (before.faults.missed or note.faults.missed)
    if spoke and truth["notes"]:
        index = len(truth["notes"])
        truth["transitions"].append(
            {
                "from": index - 1,
                "to": index,
                "kind": change.kind,
                "start_s": round(start_s, 4),
                "duration_s": round(curves.now_s - start_s, 4),
                "gap_s": change.gap_s,
                "touched": [
                    {"midi": touched.midi, "duration_s": touched.seconds}
                    for touched in change.touched
                ],
                "flipped": change.flipped
                and {"midi": change.flipped.midi, "duration_s": change.flipped.seconds},
                "waning_db": before.faults.waning_db,
            }
        )


def _move(
    start_midi: float,
    end_midi: float,
    seconds: float,
    before: ScoreNote,
    note: ScoreNote,
    dip_db: float,
    curves: _Curves,
) -> None:
    """From one pitch to another on one breath, the level dipping on the way."""
    count = max(2, round(seconds * _MS))
    share = (np.arange(count) + 0.5) / count
    smooth = share if seconds > 0.2 else share * share * (3 - 2 * share)
    from_db = before.level_db + before.level_change_db - before.faults.waning_db
    level_db = from_db + (note.level_db - from_db) * share
    if seconds <= 0.2:
        level_db = level_db - dip_db * np.sin(np.pi * share)
    _add(start_midi + (end_midi - start_midi) * smooth, level_db, before, curves)


def _dwell(
    midi: float, seconds: float, before: ScoreNote, note: ScoreNote, dip_db: float, curves: _Curves
) -> None:
    count = round(seconds * _MS)
    level_db = (before.level_db + note.level_db) / 2 - 0.4 * dip_db
    _add(np.full(count, float(midi)), np.full(count, level_db), before, curves)


def _add(midi: FloatArray, level_db: FloatArray, note: ScoreNote, curves: _Curves) -> None:
    loudness = np.clip((level_db - _SOFT_DB) / (_LOUD_DB - _SOFT_DB), 0, 1)
    breath = np.full(len(midi), note.faults.breath_db)
    curves.add(midi, level_db, loudness + note.faults.brightness, breath)


def _air(seconds: float, note: ScoreNote, curves: _Curves) -> None:
    """Air that does not speak yet: noise 18 dB under the note."""
    count = round(seconds * _MS)
    still = np.zeros(count)
    # NaN pitch keeps the tone silent; the noise is drawn by its level alone.
    curves.add(np.full(count, np.nan), still + note.level_db - 18, still, still)


def _play_siren(siren: Siren, curves: _Curves, truth: dict[str, Any], a4_hz: float) -> None:
    start_s = curves.now_s
    seconds = siren.passes * siren.seconds_a_pass
    time_s = np.arange(round(seconds * _MS)) / _MS
    middle = (siren.lowest_midi + siren.highest_midi) / 2
    reach = (siren.highest_midi - siren.lowest_midi) / 2
    midi = middle - reach * np.cos(np.pi * time_s / siren.seconds_a_pass)
    level_db = siren.level_db + curves.edges_db(time_s, seconds, True, True)
    still = np.zeros(len(time_s))
    curves.add(midi, level_db, still + 0.5, still - 45)
    truth["glides"].append(
        {
            "start_s": round(start_s, 4),
            "end_s": round(curves.now_s, 4),
            "lowest_hz": round(hz_from_midi(siren.lowest_midi, a4_hz), 3),
            "highest_hz": round(hz_from_midi(siren.highest_midi, a4_hz), 3),
            "span_semitones": round(siren.highest_midi - siren.lowest_midi, 3),
            "passes": siren.passes,
            "breaks": 0,
        }
    )


def _sound(
    curves: _Curves, timbre: Timbre, sample_rate: int, a4_hz: float, random: np.random.Generator
) -> tuple[FloatArray, dict[str, Any]]:
    """The samples of the curves, and the truth of every 10 ms frame."""
    midi = np.concatenate(curves.midi)
    level_ms_db = np.concatenate(curves.level_db)
    sounding = np.isfinite(midi)
    # Lips are never quite still.
    apart = round(_LIPS_S * _MS)
    knots = random.standard_normal(len(midi) // apart + 3) * curves.lips.wander_cents / 100
    lips = np.interp(np.arange(len(midi)), np.arange(len(knots)) * apart, knots)
    if curves.lips.wander_db:
        knots = curves.random.standard_normal(len(midi) // apart + 3) * curves.lips.wander_db
        level_ms_db = level_ms_db + np.interp(
            np.arange(len(midi)), np.arange(len(knots)) * apart, knots
        )
    index = np.arange(len(midi))
    bridged = np.interp(index, index[sounding], midi[sounding]) if sounding.any() else midi * 0 + 60
    played = bridged + lips
    count = round(len(midi) / _MS * sample_rate)
    at = np.arange(count) * _MS / sample_rate
    level_db, brightness, breath_db, second_db = (
        np.interp(at, index, curve)
        for curve in (
            np.where(sounding, level_ms_db, _QUIET_DB),
            np.concatenate(curves.brightness),
            np.concatenate(curves.breath_db),
            np.concatenate(curves.second_db),
        )
    )
    f0_hz = a4_hz * 2 ** ((np.interp(at, index, played) - 69) / 12)
    sound = render(timbre, f0_hz, level_db, brightness, breath_db, second_db, sample_rate, random)
    air_db = np.interp(at, index, np.where(sounding, _QUIET_DB, level_ms_db))
    sound += random.standard_normal(count) * 10 ** (air_db / 20)
    sound += random.standard_normal(count) * _ROOM_NOISE
    frame = np.arange(0, len(midi), 10)
    frames = {
        "hop_s": 0.01,
        "time_s": [round(float(i) / _MS, 2) for i in frame],
        "f0_hz": [
            round(float(a4_hz * 2 ** ((played[i] - 69) / 12)), 4) if sounding[i] else None
            for i in frame
        ],
        "level_db": [round(float(level_ms_db[i]), 2) for i in frame],
    }
    return np.clip(sound, -1, 1), frames
