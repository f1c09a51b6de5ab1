"""An attempt laid beside its task: which heard note answers which that was asked for, and where in
the score a player is."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from orexis.core.exercises.task import Task
from orexis.core.horn.setup import Horn
from orexis.core.horn.tuning import Tuning
from orexis.core.judging.repeats import answers_in_time
from orexis.core.listening.notes.alignment import pairs_of
from orexis.core.listening.notes.events import Change, Events, Note, Transition
from orexis.core.listening.notes.patterns import (
    SPOKE_WITHIN_CENTS,
    PatternMatch,
    WantedNote,
    answers_to,
    match_pattern,
)
from orexis.core.listening.notes.tone import TOLD_FROM_S, Tone
from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    Glide,
    Play,
    Rest,
    Role,
    Score,
    Step,
)

_LEAVES_CENTS = 80.0
"""A note bent this far away is heard anew when it comes back."""

_MOST_SKIPPED = 2
_UNPAIRED, _FARTHEST, _PER_FRAME = 100.0, 60.0, 1e-4
"""What leaving a note without a partner costs, the most that pairing two costs, in half steps, and
how much less a frame more of length makes of that."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where in the music: a step's number in the score, and which time it was played."""

    step: int
    time: int = 0


@dataclass(frozen=True, slots=True)
class AskedNote:
    """A note that was asked for, where it stands, and the number of the heard note that answers
    it; where none does, of the one that was played `instead`. `bends` are how far it is to be
    bent on the way, in cents."""

    note: Play
    at: Place
    heard: int | None = None
    instead: int | None = None
    bent: bool = False
    bends: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Answer:
    """How a note that was asked for was answered: by a heard note, `off_cents` from its target,
    which `spoke` where it is the one that was meant; or by none. `target_cents` is where the
    target lies from equal temperament."""

    note: Play
    at: Place
    target_cents: float
    heard: Note | None
    off_cents: float
    spoke: bool

    @property
    def tone(self) -> Tone | None:
        """The tone of a note that spoke for long enough to tell it."""
        note = self.heard
        if note is None or not self.spoke or note.end_s - note.start_s < TOLD_FROM_S:
            return None
        return tone_of(note, self.off_cents)


def tone_of(note: Note, off_cents: float) -> Tone:
    """The tone of a heard note that lies so far from its target."""
    measures = note.measures
    return Tone(
        note.midi,
        measures.level_db,
        note.harmonicity_db,
        note.brightness,
        off_cents,
        measures.spread_cents,
    )


@dataclass(frozen=True, slots=True)
class Pair:
    """Two notes that are asked for one after the other and both spoke: those heard for them, the
    transitions that lead from one to the other, and the notes (with their numbers) heard between.
    `steps` are those of the score from the first up to the second, none where a repetition lies
    between."""

    before: AskedNote
    after: AskedNote
    heard: tuple[Note, Note]
    transitions: Sequence[Transition]
    between: Sequence[tuple[int, Note]]
    steps: Sequence[Step]

    @property
    def took_s(self) -> float:
        """Seconds from the start of the first note to the start of the second."""
        first, second = self.heard
        return second.start_s - first.start_s

    @property
    def is_slur(self) -> bool:
        """Whether the second note is slurred to."""
        return self.after.note.articulation is Articulation.SLURRED

    @property
    def is_glide(self) -> bool:
        """Whether the second note is glided to."""
        return bool(self.steps) and isinstance(self.steps[-1], Glide)

    @property
    def is_plain(self) -> bool:
        """Whether nothing is written between them: no breath, rest, bend or glide."""
        return bool(self.steps) and all(isinstance(step, Play) for step in self.steps)


@dataclass(frozen=True, slots=True)
class MatchedAttempt:
    """An attempt laid beside its task; `passed` are the tones of notes that passed before it,
    newest first."""

    task: Task
    horn: Horn
    heard: Events
    asked: tuple[AskedNote, ...]
    match: PatternMatch | None
    passed: Sequence[Tone] = ()

    @property
    def spoken(self) -> list[tuple[AskedNote, Note]]:
        """Every note that was asked for and spoke."""
        return [
            (note, self.heard.notes[note.heard]) for note in self.asked if note.heard is not None
        ]

    @property
    def answers(self) -> tuple[Answer, ...]:
        """How every note that was asked for was answered, in order."""
        return tuple(self._answer(note) for note in self.asked)

    def _answer(self, request: AskedNote) -> Answer:
        number = request.instead if request.heard is None else request.heard
        note = None if number is None else self.heard.notes[number]
        off_cents = 0.0 if note is None else self.off_cents(request, note)
        target = self.target_cents(request.note)
        return Answer(request.note, request.at, target, note, off_cents, request.heard is not None)

    def free_beside(self, start: int, end: int) -> tuple[int, int]:
        """The heard notes from one to before another that lie between what answers the asked notes
        around some."""
        before = [note.heard for note in self.asked[:start] if note.heard is not None]
        after = [note.heard for note in self.asked[end:] if note.heard is not None]
        first = before[-1] + 1 if before else 0
        return first, after[0] if after else len(self.heard.notes)

    @property
    def pairs(self) -> list[Pair]:
        """Every two notes that are asked for one after the other and both spoke."""
        steps, notes = self.task.score.steps, self.heard.notes
        found: list[Pair] = []
        for before, after in zip(self.asked, self.asked[1:], strict=False):
            if before.heard is None or after.heard is None:
                continue
            together = before.at.time == after.at.time
            found.append(
                Pair(
                    before,
                    after,
                    (notes[before.heard], notes[after.heard]),
                    self.heard.transitions[before.heard : after.heard],
                    [(place, notes[place]) for place in range(before.heard + 1, after.heard)],
                    steps[before.at.step : after.at.step] if together else (),
                )
            )
        return found

    @property
    def slurs(self) -> list[Pair]:
        """The pairs whose second note is slurred to."""
        return [pair for pair in self.pairs if pair.is_slur]

    @property
    def glided(self) -> list[Pair]:
        """The pairs whose second note is glided to."""
        return [pair for pair in self.pairs if pair.is_glide]

    @property
    def in_time(self) -> list[tuple[Pair, float]]:
        """The pairs with nothing written between, with how long that is written in seconds; none
        after a note that may be held longer."""
        beat_s = 60 / self.task.score.bpm
        return [
            (pair, float(pair.before.note.beats) * beat_s)
            for pair in self.pairs
            if pair.is_plain and not pair.before.note.as_long_as_good
        ]

    @property
    def bent(self) -> list[tuple[AskedNote, range]]:
        """Every note that is to be bent and spoke, with the numbers of the heard notes that are it,
        until it has come back."""
        found: list[tuple[AskedNote, range]] = []
        for place, note in enumerate(self.asked):
            if not note.bends or note.heard is None:
                continue
            end = self.breath_ends(note.heard)
            later = next(
                (other for other in self.asked[place + 1 :] if other.heard is not None), None
            )
            if later is not None and later.heard is not None:
                end = min(end, later.heard + 1 if later.bent else later.heard)
            found.append((note, range(note.heard, max(end, note.heard + 1))))
        return found

    def breath_ends(self, number: int) -> int:
        """The number after the last heard note that is on the same breath as one."""
        changes = self.heard.transitions[number:]
        return next(
            (
                number + 1 + place
                for place, change in enumerate(changes)
                if change.kind is Change.BREATH
            ),
            len(self.heard.notes),
        )

    def target_cents(self, note: Play) -> float:
        """Where a note is in tune, in cents from equal temperament."""
        return self.task.tuning(self.horn).offset_cents(note.midi)

    def off_cents(self, request: AskedNote, note: Note) -> float:
        """How far a note lies from where it is in tune, in cents."""
        target = self.target_cents(request.note)
        return 100 * (note.midi - request.note.midi) + note.measures.centre_cents - target


def lay_beside(
    task: Task, heard: Events, horn: Horn, passed: Sequence[Tone] = ()
) -> MatchedAttempt:
    """What was heard beside what was asked: which note answers which."""
    asked = asked_of(task.score)
    match = None
    if asked:
        match = match_pattern(_wanted(asked, task.tuning(horn)), heard)
        asked = tuple(
            replace(note, heard=answer.note if answer else None)
            for note, answer in zip(asked, match.spoken, strict=True)
        )
        asked = _repeats_in_time(task.score, asked, heard.notes)
    seen = MatchedAttempt(task, horn, heard, asked, match, passed)
    seen = replace(seen, asked=tuple(_settled(seen, place) for place in range(len(asked))))
    return replace(seen, asked=_with_instead(seen))


def _repeats_in_time(
    score: Score, asked: tuple[AskedNote, ...], notes: Sequence[Note]
) -> tuple[AskedNote, ...]:
    """The same with each heard note for that of several of one pitch whose time it is. What may be
    held as long as it is good has no time."""
    begins_s = [float(beats) * 60 / score.bpm for beats in score.begins]
    answers = answers_in_time(
        [None if note.note.as_long_as_good else (note.at.time, note.note.midi) for note in asked],
        [begins_s[note.at.step] for note in asked],
        [note.heard for note in asked],
        [note.start_s for note in notes],
    )
    return tuple(replace(note, heard=heard) for note, heard in zip(asked, answers, strict=True))


def last_reached(task: Task, notes: Sequence[Note], horn: Horn) -> Place | None:
    """Where in the score a player is whose notes so far are these: the note that the last of them
    answers, of those that come next; `None` where it answers none."""
    asked, count = asked_of(task.score), len(notes)
    for skipped in range(_MOST_SKIPPED + 1):
        begun = asked[: count + skipped]
        if not begun or not count:
            return None
        answers = answers_to(_wanted(begun, task.tuning(horn)), notes)
        if count - 1 in answers:
            return begun[answers.index(count - 1)].at
    return None


def _wanted(asked: Sequence[AskedNote], tuning: Tuning) -> list[WantedNote]:
    offset = tuning.offset_cents
    return [WantedNote(note.note.midi + offset(note.note.midi) / 100) for note in asked]


def _settled(seen: MatchedAttempt, place: int) -> AskedNote:
    """An asked note with the longest of the heard notes that can be meant, where it stands alone
    on its breath."""
    note, notes = seen.asked[place], seen.heard.notes
    if note.heard is None or not _is_alone(seen.task.score, note.at.step):
        return note
    first, last = seen.free_beside(place, place + 1)
    answers = [
        number
        for number in range(first, last)
        if abs(seen.off_cents(note, notes[number])) <= SPOKE_WITHIN_CENTS
    ]
    longest = max(
        answers, key=lambda number: notes[number].last - notes[number].first, default=None
    )
    return note if longest is None else replace(note, heard=longest)


def _with_instead(seen: MatchedAttempt) -> tuple[AskedNote, ...]:
    """The asked notes, those that nothing answers with what was played in their place."""
    asked = list(seen.asked)
    start = 0
    while start < len(asked):
        end = start
        while end < len(asked) and asked[end].heard is None:
            end += 1
        if end > start:
            first, last = seen.free_beside(start, end)
            for place, number in _paired(seen, range(start, end), range(first, last)):
                asked[place] = replace(asked[place], instead=number)
        start = end + 1
    return tuple(asked)


def _paired(seen: MatchedAttempt, silent: range, free: range) -> list[tuple[int, int]]:
    """Which of some heard notes stand in place of which asked ones: as many as can, in order, each
    as near in pitch as that allows, the longer where two are as near."""
    notes = seen.heard.notes
    apart = [
        [
            min(abs(seen.off_cents(seen.asked[place], notes[number])) / 100, _FARTHEST)
            - _PER_FRAME * (notes[number].last - notes[number].first)
            for number in free
        ]
        for place in silent
    ]
    cost = np.array(apart).reshape(len(silent), len(free)) / _UNPAIRED
    return [(silent[row], free[column]) for row, column in pairs_of(cost)]


def _is_alone(score: Score, step: int) -> bool:
    """Whether a note is the only one of its breath."""
    beside = (score.steps[step - 1] if step else None, *score.steps[step + 1 : step + 2])
    return all(isinstance(other, Breath | Rest | None) for other in beside)


@lru_cache(maxsize=32)
def asked_of(score: Score) -> tuple[AskedNote, ...]:
    """The notes one is asked to sound, with repetitions. What is slurred to on its own pitch is
    the note before, going on, unless it was bent so far away that it is heard anew. Notes that
    only begin or end a siren are no notes."""
    found: list[AskedNote] = []
    for time in range(score.times):
        for place, step in enumerate(score.steps):
            if isinstance(step, Bend) and found:
                found[-1] = replace(found[-1], bends=(*found[-1].bends, step.cents))
            if not isinstance(step, Play) or step.role is Role.REFERENCE:
                continue
            if _leads_nowhere(score, place):
                continue
            before = score.steps[place - 1] if place else None
            bent = isinstance(before, Bend)
            goes_on = (
                bool(found)
                and step.articulation is Articulation.SLURRED
                and found[-1].note.midi == step.midi
                and not isinstance(before, Breath | Rest)
                and not (isinstance(before, Bend) and abs(before.cents) >= _LEAVES_CENTS)
            )
            if goes_on:
                found[-1] = replace(found[-1], bent=True)
            else:
                found.append(AskedNote(step, Place(place, time), bent=bent))
    return tuple(found)


def _leads_nowhere(score: Score, place: int) -> bool:
    """Whether a note is only where a line begins that no note ends."""
    after = score.steps[place + 1 : place + 3]
    return (
        len(after) > 0
        and isinstance(after[0], Glide)
        and not (len(after) > 1 and isinstance(after[1], Play))
    )
