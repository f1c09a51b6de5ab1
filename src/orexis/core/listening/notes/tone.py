"""A player's own tone: what harmonicity and brightness they usually have at a pitch and level.

Both depend on pitch and level in a way of the player, the horn and the room, so a tone is only
ever compared with the same player's baseline: a straight-line model in pitch and level, learnt
from notes that passed. It is Bayesian (conjugate normal and inverse gamma), so what it expects
comes with how sure it is: a Student-t spread that is wide while notes are few or far from where
the player has been. Source of the formulas: C. Bishop, Pattern Recognition and Machine
Learning, 2006, section 3.3 and exercise 3.12.

Brightness is modelled as its logarithm to base 2: twice as bright is one step anywhere.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from orexis.core.arrays import FloatArray

TOLD_FROM_S = 1.0
"""A shorter note tells little of its player's tone, nor of how steady it is."""

FEWEST_NOTES = 5
_MIDDLE_MIDI, _MIDDLE_DB = 58.0, -22.0
_OCTAVE, _LEVEL_STEP_DB = 12.0, 10.0

AIRY_DB = 4.0
"""How far harmonicity lies under the baseline in an airy tone."""
_OTHER_BRIGHTNESS = 0.25
_PUSHED_CENTS, _WANDERING_CENTS = 5.0, 9.0
_SURE_BY = 1.5
_WIDEST_HARMONICITY_DB, _WIDEST_BRIGHTNESS = 4.0, 0.6

_POINTS_A_DB_UNDER, _POINTS_A_DB_OVER = 5.0, 1.0
_POINTS_A_STEP, _POINTS_A_CENT = 40.0, 2.0


class ToneWord(StrEnum):
    """How a tone differs from the player's own; `CLEAR` when it does not."""

    AIRY = "airy"
    TIGHT = "tight"
    SPREAD = "spread"
    CLEAR = "clear"


@dataclass(frozen=True, slots=True)
class Tone:
    """The tone of one note: its pitch (MIDI), level (dB), harmonicity (dB), brightness
    (multiple of f0), and how far off (cents, signed) and how unsteady (cents) it was."""

    midi: float
    level_db: float
    harmonicity_db: float
    brightness: float
    centre_cents: float
    spread_cents: float


@dataclass(frozen=True, slots=True)
class ExpectedTone:
    """What is expected at a pitch and level, and how sure that is (one standard deviation)."""

    harmonicity_db: float
    harmonicity_sd_db: float
    brightness_steps: float
    brightness_sd_steps: float

    @property
    def sure(self) -> bool:
        """Whether it is narrow enough to judge by."""
        return (
            self.harmonicity_sd_db <= _WIDEST_HARMONICITY_DB
            and self.brightness_sd_steps <= _WIDEST_BRIGHTNESS
        )


@dataclass(frozen=True, slots=True)
class ToneVerdict:
    """How a tone compares with the player's own: dB over the expected harmonicity, steps
    (doublings) over the expected brightness, and the word for it."""

    word: ToneWord
    clearer_db: float
    brighter_steps: float
    expected: ExpectedTone


@dataclass(frozen=True, slots=True)
class _Prior:
    """What is thought before any note: intercept, slopes by octave and by 10 dB, and noise."""

    mean: tuple[float, float, float]
    sd: tuple[float, float, float]
    noise_sd: float
    noise_worth: float = 2.0


_HARMONICITY = _Prior(mean=(28.0, 0.0, 1.0), sd=(10.0, 6.0, 4.0), noise_sd=2.0)
_BRIGHTNESS = _Prior(mean=(1.5, -0.7, 0.2), sd=(1.0, 0.5, 0.5), noise_sd=0.15)


class _Line:
    """One straight-line model and what it has learnt."""

    def __init__(self, prior: _Prior, at: FloatArray, values: FloatArray) -> None:
        # In units of the noise, so that the prior's width means the same whatever it turns out.
        precision = np.diag((prior.noise_sd / np.array(prior.sd)) ** 2)
        mean = np.array(prior.mean)
        learnt = precision + at.T @ at
        self._covariance = np.linalg.inv(learnt)
        self._mean = self._covariance @ (precision @ mean + at.T @ values)
        worth = prior.noise_worth + len(values) / 2
        misfit = values @ values + mean @ precision @ mean - self._mean @ learnt @ self._mean
        scale = prior.noise_worth * prior.noise_sd**2 + max(float(misfit), 0.0) / 2
        # The spread of a Student-t with 2·worth degrees of freedom.
        self._variance = scale / (worth - 1)

    def expects(self, at: FloatArray) -> tuple[float, float]:
        """Mean and standard deviation of one more value."""
        spread = self._variance * (1 + at @ self._covariance @ at)
        return float(at @ self._mean), float(np.sqrt(spread))


class Baseline:
    """A player's own tone, learnt from notes that passed."""

    def __init__(self, notes: Sequence[Tone]) -> None:
        self.count = len(notes)
        at = np.array([_at(note) for note in notes]).reshape(-1, 3)
        self._harmonicity = _Line(
            _HARMONICITY, at, np.array([note.harmonicity_db for note in notes])
        )
        self._brightness = _Line(_BRIGHTNESS, at, np.array([_steps(note) for note in notes]))

    def expects(self, tone: Tone) -> ExpectedTone:
        """What this player usually has at a tone's pitch and level."""
        at = _at(tone)
        return ExpectedTone(*self._harmonicity.expects(at), *self._brightness.expects(at))

    def judge(self, tone: Tone) -> ToneVerdict | None:
        """How a tone compares; `None` while too little is known at its pitch and level."""
        expected = self.expects(tone)
        if self.count < FEWEST_NOTES or not expected.sure:
            return None
        clearer = tone.harmonicity_db - expected.harmonicity_db
        brighter = _steps(tone) - expected.brightness_steps
        return ToneVerdict(_word(tone, clearer, brighter, expected), clearer, brighter, expected)

    def match(self, tone: Tone, reference: Tone) -> float | None:
        """How like a reference note a tone is, 0 to 100, with pitch and level allowed for.

        `None` while too little is known at either's pitch and level. A full match loses 5
        points a dB of harmonicity lost (1 a dB gained), 40 a doubling of brightness either
        way, and 2 a cent of spread more.
        """
        verdict, other = self.judge(tone), self.judge(reference)
        if verdict is None or other is None:
            return None
        clearer = verdict.clearer_db - other.clearer_db
        wider = max(tone.spread_cents - reference.spread_cents, 0.0)
        lost = (
            _POINTS_A_DB_UNDER * max(-clearer, 0.0)
            + _POINTS_A_DB_OVER * max(clearer, 0.0)
            + _POINTS_A_STEP * abs(verdict.brighter_steps - other.brighter_steps)
            + _POINTS_A_CENT * wider
        )
        return max(100.0 - lost, 0.0)


def _word(tone: Tone, clearer: float, brighter: float, expected: ExpectedTone) -> ToneWord:
    other = max(_OTHER_BRIGHTNESS, _SURE_BY * expected.brightness_sd_steps)
    if clearer <= -max(AIRY_DB, _SURE_BY * expected.harmonicity_sd_db):
        return ToneWord.AIRY
    if brighter >= other and tone.centre_cents >= _PUSHED_CENTS:
        return ToneWord.TIGHT
    flat = tone.centre_cents <= -_PUSHED_CENTS
    if brighter <= -other and (flat or tone.spread_cents > _WANDERING_CENTS):
        return ToneWord.SPREAD
    return ToneWord.CLEAR


def _at(tone: Tone) -> FloatArray:
    return np.array(
        (
            1.0,
            (tone.midi - _MIDDLE_MIDI) / _OCTAVE,
            (tone.level_db - _MIDDLE_DB) / _LEVEL_STEP_DB,
        )
    )


def _steps(tone: Tone) -> float:
    return float(np.log2(max(tone.brightness, 1e-3)))
