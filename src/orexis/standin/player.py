"""One long tone as the stand-in player plays it, as badly as it is set to."""

from dataclasses import dataclass

from orexis.core.horn.pitch import A4_HZ
from orexis.core.parameter import Parameter
from orexis.standin.performance import Performance, perform
from orexis.standin.score import Faults, ScoreNote
from orexis.standin.tone import timbre_of

SKILL = {
    one.key: one
    for one in (
        Parameter(
            "centre_cents", "centre", "cents", -60, 60, 1, above="high", below="low", usual=-6
        ),
        Parameter(
            "scoop_cents", "start", "cents", -80, 80, 1, above="above", below="below", usual=-24
        ),
        Parameter("sag_cents", "end", "cents", -80, 80, 1, above="high", below="low", usual=-8),
        Parameter("wobble_cents", "wobble", "cents", 0, 40, 1, either_way=True, usual=3),
        Parameter("vibrato_cents", "vibrato", "cents", 0, 40, 1, either_way=True, usual=0),
        Parameter("breath_db", "breath", "dB", -60, -10, 1, usual=-35),
        Parameter("hold_s", "holds", "s", 1, 12, 0.5, usual=4.5),
    )
}
"""What can be set of the stand-in player, and how far."""


@dataclass(frozen=True, slots=True)
class Skill:
    """How well the stand-in plays. Cents are signed, below is negative.

    `scoop_cents` is where the note starts and `sag_cents` where it ends, from its centre;
    `wobble_cents` is ± at 2.2 Hz and `vibrato_cents` ± at 5.5 Hz; `breath_db` is the breath
    noise under the tone (−60 clean, −15 airy).
    """

    centre_cents: float = 0.0
    scoop_cents: float = 0.0
    sag_cents: float = 0.0
    wobble_cents: float = 0.0
    vibrato_cents: float = 0.0
    breath_db: float = -50.0
    hold_s: float = 5.0

    @property
    def faults(self) -> Faults:
        """The same as a score has it."""
        return Faults(
            centre_cents=self.centre_cents,
            scoop_cents=self.scoop_cents,
            sag_cents=self.sag_cents,
            wobble_cents=self.wobble_cents,
            vibrato_cents=self.vibrato_cents,
            breath_db=self.breath_db,
        )


def play_long_tone(
    midi: float,
    skill: Skill,
    fundamental_midi: int,
    sample_rate: int = 48_000,
    *,
    a4_hz: float = A4_HZ,
    seed: int = 1,
) -> Performance:
    """One note (MIDI, fractions for a target off equal temperament) on a horn whose open
    fundamental is a MIDI number: half a second of quiet, the note, 0.8 s of quiet."""
    note = ScoreNote(midi, skill.hold_s, faults=skill.faults)
    return perform((note,), timbre_of(fundamental_midi), sample_rate, a4_hz=a4_hz, seed=seed)
