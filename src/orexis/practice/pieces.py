"""Pieces of a player's own, as they were played: in one recording, and over all the times."""

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from orexis.core.counting import counted
from orexis.core.exercises.book import find_family, task_of
from orexis.core.exercises.own import LINE
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.exercises.task import Task
from orexis.core.judging.bars import Passage, PiecePlayed, piece_of, times_in, written_in
from orexis.core.judging.following import FollowedPart, WrittenNote
from orexis.core.listening.notes.events import Note
from orexis.core.session.building import Setting
from orexis.core.session.plan import LONGEST_TITLE
from orexis.formats.analysis_reading import events_of
from orexis.formats.task import task_of as task_of_document
from orexis.practice.exercises import writer_for
from orexis.store.kept import Kept
from orexis.store.kept import events_of as kept_events_of
from orexis.store.models import OwnExercise, Player, Recording, Take
from orexis.store.pieces import recordings_of, stretches_of, takes_of_family
from orexis.store.players import notation_of

_MOST_RECORDINGS, _MOST_TAKES = 40, 200
_REMEMBERED = 128
_GOOD_ONES = "3"
"""So many good ones lead on to the next step back into a piece."""


@dataclass(frozen=True, slots=True)
class PieceRecording:
    """A recording in which a piece was played: when, what it is called, and how many times some of
    the piece is in it."""

    recording_id: str
    started_at: datetime
    name: str
    times: int

    @property
    def times_words(self) -> str:
        """How many times, in words."""
        return counted(self.times, "time")


@dataclass(frozen=True, slots=True)
class PieceOver:
    """A piece over all the times it was played: in recordings, and as an exercise on the Stand."""

    piece: PiecePlayed
    recordings: tuple[PieceRecording, ...]
    on_the_stand: int


class NothingToFollowError(ValueError):
    """An exercise without notes; the message says so."""


def piece_task(session: Session, player: Player, own: OwnExercise) -> Task:
    """The task that a piece is on its player's horn. Raises `ExerciseRefusedError` and
    `NothingToFollowError`."""
    writer = writer_for(session, player)
    return _with_notes(task_of(find_family(own.family_key), writer, own.parameters))


def _with_notes(task: Task) -> Task:
    if not task.score.notes:
        raise NothingToFollowError("This exercise has no notes.")
    return task


def piece_in(session: Session, player: Player, task: Task, recording: Recording) -> PiecePlayed:
    """A kept recording as a task played freely, bar by bar. Raises `NothingToFollowError`."""
    times = times_in(written_in(_with_notes(task).score), _notes_of(session, recording))
    return piece_of(task.score, times, notation_of(player).name)


def own_piece_in(
    session: Session, player: Player, own: OwnExercise, recording: Recording
) -> PiecePlayed:
    """A piece as it was played in a recording, where it is known to have been. Raises as
    `piece_task`."""
    task = piece_task(session, player, own)
    times = list(_times(session, own, written_in(task.score), recording))
    return piece_of(task.score, times, notation_of(player).name)


def piece_over(session: Session, player: Player, own: OwnExercise) -> PieceOver:
    """A piece over all the times it was played, the newest of them where there are many. Raises as
    `piece_task`."""
    task = piece_task(session, player, own)
    part = written_in(task.score)
    dated: list[tuple[datetime, list[FollowedPart]]] = []
    found: list[PieceRecording] = []
    for recording in recordings_of(session, own.id, _MOST_RECORDINGS):
        times = list(_times(session, own, part, recording))
        dated.append((recording.started_at, times))
        found.append(PieceRecording(recording.id, recording.started_at, recording.name, len(times)))
    on_the_stand = 0
    for take in _takes(session, player, task.family_key, part):
        times = times_in(part, _notes_of(session, take))
        dated.append((take.started_at, times))
        on_the_stand += len(times)
    dated.sort(key=lambda one: one[0])
    every = [time for _, times in dated for time in times]
    piece = piece_of(task.score, every, notation_of(player).name)
    return PieceOver(piece, tuple(reversed(found)), on_the_stand)


def back_into(passage: Passage) -> tuple[Setting, ...]:
    """What leads from some bars by themselves back into their piece: slower, at the player's tempo,
    then with the bars beside, each until it was good a few times."""
    ways = (
        (passage.line, passage.bpm, "slower"),
        (passage.line, passage.played_bpm, "at your tempo"),
        (passage.line_with_beside, passage.played_bpm, "with the bars beside"),
    )
    return tuple(
        Setting(
            LINE,
            {"line": line, "tempo": str(bpm), "bar": str(passage.beats_in_bar)},
            {"follow": AttemptOrder.REPEAT.value, "needed": _GOOD_ONES},
            f"{passage.words}, {how}.",
        )
        for line, bpm, how in ways
    )


def session_title(name: str, passage: Passage) -> str:
    """What a session on some bars of a piece is called."""
    bars = f", {passage.words.lower()}"
    return f"{name[: LONGEST_TITLE - len(bars)]}{bars}"


def _times(
    session: Session, own: OwnExercise, part: Sequence[WrittenNote], recording: Recording
) -> Iterator[FollowedPart]:
    """Every time that some of a piece was played where it lay before the player."""
    notes = _notes_of(session, recording)
    for stretch in stretches_of(session, own.id, recording.id):
        end_s = recording.duration_s if stretch.end_s is None else stretch.end_s
        yield from times_in(
            part, [note for note in notes if stretch.start_s <= note.start_s < end_s]
        )


def _takes(
    session: Session, player: Player, family_key: str, part: Sequence[WrittenNote]
) -> list[Take]:
    """The takes in which the same notes were played as an exercise, at whatever tempo."""
    found = takes_of_family(session, player.id, family_key, player.instrument_key, _MOST_TAKES)
    tasks = {take.task_key: take.task for take in found}
    same = {key for key, task in tasks.items() if written_in(task_of_document(task).score) == part}
    return [take for take in found if take.task_key in same]


class _Remembered:
    """The notes of the sounds that were asked for last: what is kept of a sound never changes."""

    def __init__(self) -> None:
        self._notes: OrderedDict[str, tuple[Note, ...]] = OrderedDict()

    def notes_of(self, session: Session, kept: Kept) -> tuple[Note, ...]:
        """The notes that were heard in a sound, in order."""
        known = self._notes.pop(kept.id, None)
        if known is None:
            document = kept_events_of(session, kept)
            known = () if document is None else events_of(document).notes
        self._notes[kept.id] = known
        while len(self._notes) > _REMEMBERED:
            self._notes.popitem(last=False)
        return known


_notes_of = _Remembered().notes_of
