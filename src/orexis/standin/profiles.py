"""How different players play: their usual faults, how far they reach, how they tire.

A profile turns a bare note into one with this player's faults: less or more of each from note to
note, more of all the higher it lies above what is comfortable, more as the session goes on, and
fewer as a passage is repeated. The same random generator gives the same notes.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from orexis.standin.score import Change, Faults, ScoreNote

_LEAST, _MOST = 0.4, 1.6
_MOST_BETTER = 0.5
_BETTER_AN_ATTEMPT = 0.12
_AIRIEST_DB = -12.0
_LEAST_CRACK = 1.3


class Skilled(StrEnum):
    """The kinds of players there are."""

    COMING_BACK = "coming-back"
    LOW_REGISTER = "low-register"
    BEGINNER = "beginner"
    EXPERIENCED = "experienced"


@dataclass(frozen=True, slots=True)
class Profile:
    """A player.

    `usual` are the faults of a comfortable note, fresh. Up to `easy_semitones` above the note
    the instrument starts on nothing gets harder; an octave farther every fault is
    1 + `steepness` times as large. After `tires_after_s` seconds of playing they have doubled.
    `cracks` and `misses` are how often a comfortable note does, 0 to 1.
    """

    usual: Faults
    easy_semitones: int
    steepness: float
    tires_after_s: float
    cracks: float
    misses: float

    def note(
        self,
        bare: ScoreNote,
        start_midi: int,
        random: np.random.Generator,
        *,
        played_s: float = 0.0,
        attempts: int = 0,
        slots: Sequence[float] = (),
    ) -> ScoreNote:
        """A note as this player plays it, `played_s` seconds into the session and after so many
        attempts at it; `start_midi` is the note the instrument starts on, and `slots` (MIDI) are
        those it may crack from."""
        above = max(0.0, bare.midi - start_midi - self.easy_semitones) / 12
        harder = (1 + self.steepness * above) * (1 + played_s / self.tires_after_s)
        better = max(_MOST_BETTER, 1 - _BETTER_AN_ATTEMPT * attempts)
        much = random.uniform(_LEAST, _MOST, size=6) * harder * better
        chance = random.uniform(size=2)
        usual = self.usual
        faults = replace(
            usual,
            centre_cents=usual.centre_cents * much[0],
            scoop_cents=usual.scoop_cents * much[1],
            sag_cents=usual.sag_cents * much[2],
            wobble_cents=usual.wobble_cents * much[3],
            waning_db=usual.waning_db * much[4],
            # Decibels add where the others multiply.
            breath_db=min(usual.breath_db + 6 * float(np.log2(much[5])), _AIRIEST_DB),
            crack_semitones=_crack(bare.midi, slots) if chance[0] < self.cracks * harder else 0.0,
            missed=bool(chance[1] < self.misses * harder),
        )
        return replace(bare, faults=faults)

    def score(
        self,
        notes: tuple[int, ...],
        start_midi: int,
        random: np.random.Generator,
        *,
        seconds: float = 0.8,
        change: Change | None = None,
    ) -> tuple[ScoreNote, ...]:
        """A row of notes (MIDI) as this player plays it, one after the other."""
        reached = change or Change("tongued")
        return tuple(
            self.note(
                ScoreNote(midi, seconds, reached=reached), start_midi, random, played_s=i * seconds
            )
            for i, midi in enumerate(notes)
        )


def _crack(midi: float, slots: Sequence[float]) -> float:
    """Semitones to the slot below a note, about a fourth where none is known."""
    below = [slot - midi for slot in slots if slot < midi - _LEAST_CRACK]
    return max(below, default=-5.0)


PROFILES: dict[Skilled, Profile] = {
    Skilled.COMING_BACK: Profile(
        Faults(
            centre_cents=-5, scoop_cents=-22, sag_cents=-12, wobble_cents=4,
            breath_db=-28, waning_db=1.5,
        ),
        easy_semitones=5, steepness=1.0, tires_after_s=240, cracks=0.04, misses=0.01,
    ),
    Skilled.LOW_REGISTER: Profile(
        Faults(
            centre_cents=-8, scoop_cents=-12, sag_cents=-16, wobble_cents=5,
            breath_db=-30, waning_db=1.0,
        ),
        easy_semitones=7, steepness=0.7, tires_after_s=600, cracks=0.02, misses=0.01,
    ),
    Skilled.BEGINNER: Profile(
        Faults(
            centre_cents=14, scoop_cents=-34, sag_cents=-22, wobble_cents=9,
            breath_db=-20, waning_db=3.0,
        ),
        easy_semitones=2, steepness=2.0, tires_after_s=120, cracks=0.1, misses=0.05,
    ),
    Skilled.EXPERIENCED: Profile(
        Faults(
            centre_cents=3, scoop_cents=-8, sag_cents=-6, wobble_cents=3,
            breath_db=-38, waning_db=0.5,
        ),
        easy_semitones=14, steepness=0.5, tires_after_s=900, cracks=0.01, misses=0.0,
    ),
}  # fmt: skip
