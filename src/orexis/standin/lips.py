"""The stand-in player's lips: how they start, hold and stop a note."""

from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray

_SETTLES_S = 0.02


@dataclass(frozen=True, slots=True)
class Lips:
    """How lips start, hold and stop a note, within what nobody would call a fault: each note rises
    within `rise_s` and falls within `fall_s`; its pitch settles from up to `settles_cents` off
    within 40 ms, and slips by up to that as it stops; pitch and level wander by about
    `wander_cents` and `wander_db`; a slur takes from half to one and a half times as long as it is
    written."""

    rise_s: tuple[float, float] = (0.03, 0.03)
    fall_s: tuple[float, float] = (0.05, 0.05)
    settles_cents: float = 0.0
    wander_cents: float = 0.7
    wander_db: float = 0.0
    slurs_vary: bool = False

    def settling_cents(
        self,
        time_s: FloatArray,
        seconds: float,
        starts: bool,
        ends: bool,
        random: np.random.Generator,
    ) -> FloatArray:
        """How far off (cents) the lips are while a note of `seconds` starts to speak and stops."""
        off, let_go = random.uniform(-self.settles_cents, self.settles_cents, 2)
        cents = np.zeros_like(time_s)
        if starts:
            cents = cents + off * np.exp(-time_s / _SETTLES_S)
        if ends:
            cents = cents + let_go * np.exp(-(seconds - time_s) / _SETTLES_S)
        return cents

    def edges_db(
        self,
        time_s: FloatArray,
        seconds: float,
        starts: bool,
        ends: bool,
        random: np.random.Generator,
    ) -> FloatArray:
        """What rising from and falling into silence take off the level, in dB."""
        share, third_s = np.ones_like(time_s), seconds / 3
        rise_s = min(random.uniform(*self.rise_s), max(third_s, self.rise_s[0]))
        fall_s = min(random.uniform(*self.fall_s), max(third_s, self.fall_s[0]))
        if starts:
            share = np.minimum(share, np.clip(time_s / rise_s, 1e-4, 1))
        if ends:
            share = np.minimum(share, np.clip((seconds - time_s) / fall_s, 1e-4, 1))
        edge: FloatArray = 20 * np.log10(np.sin(np.pi / 2 * share))
        return edge

    def slur_s(self, seconds: float, random: np.random.Generator) -> float:
        """How long a slur takes that is written as so many seconds."""
        return seconds * (random.uniform(0.5, 1.5) if self.slurs_vary else 1.0)


STEADY_LIPS = Lips()
HUMAN_LIPS = Lips((0.012, 0.06), (0.04, 0.14), 12.0, 1.6, 0.7, True)
