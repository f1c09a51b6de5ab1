"""A piece followed while it is played freely: where one is in it, and how it went so far."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from orexis.core.judging.attempts import StepOutcome
from orexis.core.judging.bars import outcome_of, time_of, written_steps, wrong_bars
from orexis.core.judging.following import FollowedPart
from orexis.core.judging.part_place import PartPlace, PartRun
from orexis.core.judging.words import Name
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.listening.notes.note_stream import NoteStream
from orexis.core.score.steps import Score

_JUDGED_NOTES = 48
"""So many of the last written notes are judged at each look: what lies before stays as it was."""


@dataclass(frozen=True, slots=True)
class PieceNow:
    """Where in a piece the player is: the step and the bar of the note that sounds or sounded last,
    how each note went (by step) since they last began somewhere, and what was wrong in those bars;
    `step` and `bar` are `None` where nothing of the piece is heard."""

    step: int | None
    bar: int | None
    outcomes: dict[int, StepOutcome]
    wrong: dict[int, str]


NOWHERE = PieceNow(None, None, {}, {})


class PieceFollower:
    """Follows the notes of a score (at least one), from a frame on; `name` is how the player calls
    notes."""

    def __init__(self, score: Score, name: Name, first_frame: int = 0) -> None:
        written = written_steps(score)
        self._part = [note for _, note in written]
        self._steps = {note.at: step for step, note in written}
        self._name = name
        self._place = PartPlace(self._part)
        self._stream = NoteStream(first_frame)
        self._heard: list[Note] = []
        self._run: PartRun | None = None
        self._outcomes: dict[int, StepOutcome] = {}
        self._wrong: dict[int, str] = {}
        self._told_bars: set[int] = set()
        self._first_of_bar: dict[int, Fraction] = {}
        for note in self._part:
            self._first_of_bar.setdefault(note.bar, note.at)

    def hear(self, ended: Sequence[Passage], sounding: Sequence[Passage], now: int) -> PieceNow:
        """Takes what has been heard since: passages that have ended, and that which still sounds as
        far as it has gone by a frame. Where the player is now."""
        for passage in ended:
            for note in self._stream.over(passage):
                self._hear(note)
        for passage in sounding:
            for note in self._stream.settled(passage, now):
                self._hear(note)
        place, heard = self._place.copied(), list(self._heard)
        for passage in sounding:
            for note in self._stream.sounding(passage):
                place.step(note)
                heard.append(note)
        run = place.run(_JUDGED_NOTES)
        if run is None:
            return NOWHERE
        if not self._goes_on(run):
            self._outcomes, self._wrong, self._told_bars = {}, {}, set()
        self._run = run
        time = replace(time_of(self._part, heard, run), stopped_bar=None)
        self._outcomes |= {self._steps[note.written.at]: outcome_of(note) for note in time.notes}
        self._tell_wrong(time)
        last = time.notes[-1].written
        return PieceNow(
            self._steps[last.at], last.bar, dict(self._outcomes), dict(sorted(self._wrong.items()))
        )

    def _goes_on(self, run: PartRun) -> bool:
        """Whether a stretch is the one that was played before, farther on."""
        before = self._run
        return (
            before is not None
            and before.first_heard <= run.first_heard <= before.last_heard + 1
            and before.first_written <= run.first_written <= before.last_written + 1
        )

    def _tell_wrong(self, time: FollowedPart) -> None:
        """Keeps what was wrong in the bars that are seen whole, or for the first time."""
        seen = {note.written.bar for note in time.notes}
        begins = time.notes[0].written
        cut_bar = begins.bar if self._first_of_bar[begins.bar] != begins.at else None
        wrong = wrong_bars(time, self._part, self._name)
        for bar in seen:
            if bar == cut_bar and bar in self._told_bars:
                continue
            self._wrong.pop(bar, None)
            if bar in wrong:
                self._wrong[bar] = wrong[bar]
        self._told_bars |= seen

    def _hear(self, note: Note) -> None:
        self._heard.append(note)
        self._place.step(note)
