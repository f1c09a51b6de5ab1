"""What the API says of playing without a task: the horn's notes to draw sound against, the note
that sounds, and what was played in the end."""

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.counting import time_words
from orexis.core.exercises.family import Aim
from orexis.core.exercises.writer import Writer
from orexis.core.horn.drone import Drone
from orexis.core.horn.notation import CONCERT, Notation
from orexis.core.horn.ways import Way
from orexis.core.horn.words import tuned_words
from orexis.core.judging.aims import limit_at
from orexis.core.judging.free_words import sitting_words, usual_words
from orexis.core.judging.standard import Standard
from orexis.core.listening.habits import NoteHabit
from orexis.core.listening.now import NoteNow
from orexis.practice.free import FreeOutcome
from orexis.practice.unclaimed import Unclaimed
from orexis.server.schemas.base import Body, Whole
from orexis.server.schemas.exercises import BandOut

_LOWEST_MIDI, _HIGHEST_MIDI = 21, 93


class ChartOut(BaseModel):
    """Every note of the player's horn to draw sound against, highest first, and how far off its
    middle is still centred at the player's standard."""

    bands: list[BandOut]
    limit_cents: float

    @classmethod
    def of(cls, writer: Writer, level: Standard) -> "ChartOut":
        """The chart of a horn, for a player who is judged at a level."""
        bands = [
            BandOut(name=writer.name(midi), pitch_cents=100.0 * midi, asked=False)
            for midi in reversed(writer.notes)
        ]
        return cls(bands=bands, limit_cents=limit_at(Aim.CENTRE, level))

    @classmethod
    def of_all(cls, level: Standard) -> "ChartOut":
        """The chart of every note that brass plays, named as they sound."""
        bands = [
            BandOut(name=CONCERT.name(midi), pitch_cents=100.0 * midi, asked=False)
            for midi in range(_HIGHEST_MIDI, _LOWEST_MIDI - 1, -1)
        ]
        return cls(bands=bands, limit_cents=limit_at(Aim.CENTRE, level))


class OwnerIn(Body):
    """Whose playing something was."""

    player_id: Annotated[Whole, Field(ge=1, lt=2**63)]


class UnclaimedOut(BaseModel):
    """Playing that nobody has claimed yet: when it began, and how long it lasted, in seconds and in
    words."""

    id: str
    started_at: datetime
    duration_s: float
    duration_words: str

    @classmethod
    def of(cls, unclaimed: Unclaimed) -> "UnclaimedOut":
        """The playing as the API gives it."""
        return cls(
            id=unclaimed.id,
            started_at=unclaimed.started_at,
            duration_s=unclaimed.duration_s,
            duration_words=time_words(unclaimed.duration_s),
        )


class NoteNowOut(BaseModel):
    """The note that sounds: as the player names it and as it sounds, in cents (100 a MIDI number),
    how far off in words, how loud, what the hand does for it and on which partial ("" and null
    where the horn has it not), and where it would be in tune. Where a drone sounds that is
    against the drone, as `words` are, and `interval` is what the note is to it ("" without one)."""

    name: str
    sounding_name: str
    pitch_cents: float
    cents: float
    words: str
    level_db: float
    hand: str
    partial: int | None
    target_cents: float
    interval: str

    @classmethod
    def of(
        cls, now: NoteNow, way: Way | None, notation: Notation, drone: Drone | None = None
    ) -> "NoteNowOut":
        """The note for a player who names notes in `notation`."""
        tuned_cents = drone.offset_cents(now.midi) if drone else 0.0
        return cls(
            name=notation.name(now.midi),
            sounding_name=notation.sounding_name(now.midi),
            pitch_cents=100.0 * now.midi,
            cents=round(now.cents, 1),
            words=tuned_words(now.cents - tuned_cents),
            level_db=round(now.level_db, 1),
            hand="" if way is None else way.length.hand,
            partial=None if way is None else way.partial,
            target_cents=100.0 * now.midi + tuned_cents,
            interval=drone.interval(now.midi) if drone else "",
        )


class NoteHabitOut(BaseModel):
    """How a note was played: how often, for how many seconds, where it mostly lies, and how that is
    beside the weeks before ("" where nothing is known of them)."""

    name: str
    times: int
    seconds: float
    cents: float
    words: str
    usual: str


class FreeOutcomeOut(BaseModel):
    """What came of free playing: the recording that is kept (null where no note was heard), what
    was played in sentences, and each note."""

    recording_id: str | None
    words: list[str]
    notes: list[NoteHabitOut]

    @classmethod
    def of(cls, over: FreeOutcome, notation: Notation) -> "FreeOutcomeOut":
        """The end for a player who names notes in `notation`."""
        return cls(
            recording_id=over.recording_id,
            words=list(sitting_words(over.sitting, notation.name)),
            notes=[
                _habit(habit, notation, over.usual.get(habit.midi))
                for habit in reversed(over.sitting.notes)
            ],
        )


def _habit(habit: NoteHabit, notation: Notation, usual: NoteHabit | None) -> NoteHabitOut:
    return NoteHabitOut(
        name=notation.name(habit.midi),
        times=habit.times,
        seconds=round(habit.seconds, 1),
        cents=round(habit.cents, 1),
        words=tuned_words(habit.cents),
        usual=usual_words(habit, usual),
    )
