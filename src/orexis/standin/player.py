"""A score as the stand-in player plays it, as badly as it is set to."""

from dataclasses import dataclass, replace

from orexis.core.horn.setup import Horn
from orexis.core.horn.tuning import Tuning
from orexis.core.parameter import Parameter
from orexis.core.score.steps import Score as Written
from orexis.standin.reading import as_played
from orexis.standin.score import (
    Faults,
    Score,
    ScoreNote,
    Siren,
    ends_a_breath,
    only_where_they_show,
)

_UNLOCKED_CENTS, _UNLOCKED_SHARE = -55.0, 0.35

SKILL = {
    parameter.key: parameter
    for parameter in (
        Parameter(
            "centre_cents", "centre", "cents", -60, 60, 1, above="sharp", below="flat", usual=-6
        ),
        Parameter(
            "scoop_cents", "start", "cents", -80, 80, 1, above="above", below="below", usual=-24
        ),
        Parameter("sag_cents", "end", "cents", -80, 80, 1, above="sharp", below="flat", usual=-8),
        Parameter("wobble_cents", "wobble", "cents", 0, 40, 1, either_way=True, usual=3),
        Parameter("vibrato_cents", "vibrato", "cents", 0, 40, 1, either_way=True, usual=0),
        Parameter("breath_db", "breath", "dB", -60, -10, 1, usual=-35),
        Parameter("holds_percent", "holds", "%", 10, 300, 5, usual=110),
        Parameter("reach_semitones", "reach", "half steps", 0, 48, 1, usual=48),
    )
}
"""What can be set of the stand-in player, and how far."""


@dataclass(frozen=True, slots=True)
class Skill:
    """How well the stand-in plays. Cents are signed, below is negative.

    `scoop_cents` is where the note starts and `sag_cents` where it ends, from its centre;
    `wobble_cents` is ± at 2.2 Hz and `vibrato_cents` ± at 5.5 Hz; `breath_db` is the breath
    noise under the tone (−60 clean, −15 airy). `holds_percent` is how long the last note of a
    breath is held, of what is written.
    """

    centre_cents: float = 0.0
    scoop_cents: float = 0.0
    sag_cents: float = 0.0
    wobble_cents: float = 0.0
    vibrato_cents: float = 0.0
    breath_db: float = -50.0
    holds_percent: float = 110.0
    reach_semitones: float = 48.0

    @property
    def faults(self) -> Faults:
        """The player's faults in the form a score has them."""
        return Faults(
            centre_cents=self.centre_cents,
            scoop_cents=self.scoop_cents,
            sag_cents=self.sag_cents,
            wobble_cents=self.wobble_cents,
            vibrato_cents=self.vibrato_cents,
            breath_db=self.breath_db,
        )


def played_with(skill: Skill, written: Written, horn: Horn, tuning: Tuning | None = None) -> Score:
    """A score with the faults of a skill, at the targets of a tuning (the horn's own where none is
    given), without what is only there to be heard first. A note starts off its pitch where it is
    not slurred to, and ends off it where a breath follows."""
    notes = only_where_they_show(as_played(written, skill.faults, reference=False))
    held = tuple(
        part if isinstance(part, Siren) else _held(part, after, skill, horn)
        for part, after in zip(notes, (*notes[1:], None), strict=True)
    )
    return in_tune(held, tuning or horn.setup.tuning)


def in_tune(score: Score, tuning: Tuning) -> Score:
    """A score whose notes lie where a tuning has them, and not in equal temperament."""
    return tuple(
        part
        if isinstance(part, Siren)
        else replace(part, midi=part.midi + tuning.offset_cents(round(part.midi)) / 100)
        for part in score
    )


def _held(note: ScoreNote, after: ScoreNote | Siren | None, skill: Skill, horn: Horn) -> ScoreNote:
    midi = note.midi
    share = skill.holds_percent / 100 if ends_a_breath(after) else 1.0
    if note.midi - horn.instrument.start_midi > skill.reach_semitones:
        midi, share = midi + _UNLOCKED_CENTS / 100, _UNLOCKED_SHARE * share
    return replace(note, midi=midi, seconds=share * note.seconds)
