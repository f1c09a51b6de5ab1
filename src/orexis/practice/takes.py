"""Takes: kept as they are played, and put together again for who wants to read them."""

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from orexis.core.exercises.family import Aim
from orexis.core.exercises.sheet import Sheet, sheet_of
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Notation, NoteView
from orexis.core.horn.setup import Horn, Setup
from orexis.core.judging.aim_words import WORDS
from orexis.core.judging.aims import limit_of
from orexis.core.judging.attempt_words import (
    SAID_IN_A_ROW,
    missed_words,
    other_advice,
    said_of,
)
from orexis.core.judging.attempts import Verdict
from orexis.core.judging.comparison import worth_comparing
from orexis.core.judging.ear import Rated, Rating
from orexis.core.judging.holds import SetOfHolds, held_steps, usual_hold_s
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.ribbon import Ribbon, ribbon_of
from orexis.core.judging.standard import Standard
from orexis.core.judging.words import MeasureLine, Wording, measure_lines, tone_sentence
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.tone import Baseline, ToneWord
from orexis.core.listening.tracking.frames import HOP_S, Frames
from orexis.core.session.stand import Attempt
from orexis.formats.analysis import events_document, frames_document
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.formats.audio import flac_from_pcm
from orexis.formats.task import task_document, task_of, verdict_document, verdict_of
from orexis.practice.exercises import sheet_music
from orexis.store import kept, takes
from orexis.store.bookmarks import bookmarks_of
from orexis.store.holds import hold_of, set_so_far, sets_before
from orexis.store.models import Bookmark, Player, Take, TakeNote
from orexis.store.players import notation_of
from orexis.store.takes import (
    Circumstances,
    TakeDocuments,
    alike,
    measures_of,
    note_of,
    passed_tones,
    takes_before,
    tone_of,
)

_UNMARKED = frozenset(
    {
        *(Aim.CENTRE, Aim.HELD, Aim.TONE, Aim.LEVEL, Aim.SAME_SOUND),
        *(Aim.ENDS_ALIKE, Aim.CAME_BACK, Aim.NO_CATCH, Aim.SAME_TONE),
        *(Aim.EXTRA, Aim.SMEARED, Aim.FLOW, Aim.BENT, Aim.GLIDED),
    }
)
"""What no mark of what was heard tells of."""


@dataclass(frozen=True, slots=True)
class ListedTake:
    """A take as it is told in a list: the task it was played to, how its player names notes, the
    Orexis's verdict, what is said of it, and what the ear said before."""

    take: Take
    task: Task
    notation: Notation
    verdict: Verdict
    said: Wording
    rated: Rated | None

    @property
    def span_midi(self) -> tuple[int, ...]:
        """Its lowest and highest note, one where they are the same."""
        pitches = self.task.score.pitches
        return tuple(sorted({min(pitches), max(pitches)}))

    @property
    def sounds_from_s(self) -> float:
        """When the first of its notes sounds in it."""
        starts = (row.start_s for row in self.take.notes if row.start_s is not None)
        return min(starts, default=0.0)


@dataclass(frozen=True, slots=True)
class TakeTone:
    """A take's tone against the player's own: the word for it, how like the last note that
    passed it is (0 to 100), and a sentence. Without a word too little is known."""

    word: ToneWord | None
    match: int | None
    sentence: str


@dataclass(frozen=True, slots=True)
class JudgedTake:
    """A take as it appears after it was played: with its marks, its tone, and the holds of the set
    it is of, where there are several."""

    told: ListedTake
    marks: tuple[Mark, ...]
    tone: TakeTone
    holds: SetOfHolds | None = None


@dataclass(frozen=True, slots=True)
class MeasuredNote:
    """A note that was asked for, and what was measured of it; nothing where nothing sounded."""

    row: TakeNote
    lines: tuple[MeasureLine, ...]


@dataclass(frozen=True, slots=True)
class TakePage:
    """All there is to a take: how it lay on the stand, on which horn, and its music, the limit of
    its centre, its ribbon, its notes, its bookmarks, whether its sound is kept, and other takes
    worth comparing, each with which it is."""

    judged: JudgedTake
    sheet: Sheet
    horn: Horn
    svg: str
    limit_cents: float
    ribbon: Ribbon
    notes: tuple[MeasuredNote, ...]
    bookmarks: list[Bookmark]
    has_sound: bool
    others: list[tuple[str, Take]]


def keep_attempt(
    session: Session, attempt: Attempt, task: Task, circumstances: Circumstances, pcm: bytes
) -> Take:
    """Keeps one attempt and its sound (16-bit mono PCM), or finds it when it was already kept
    before a restart."""
    documents = TakeDocuments(
        flac_from_pcm(pcm, circumstances.sample_rate),
        frames_document(attempt.frames),
        events_document(attempt.events),
        task_document(task.once),
        verdict_document(attempt.verdict),
    )
    return takes.save_attempt(session, attempt, task, circumstances, documents)


def newest_takes(
    session: Session, player_id: int, count: int, before: datetime | None = None
) -> list[ListedTake]:
    """A player's takes as they are told, newest first."""
    return [told(take) for take in kept.newest_kept(session, Take, player_id, count, before)]


def told(take: Take) -> ListedTake:
    """A take as it appears in a list."""
    notation = notation_for(take.player, take.instrument_key)
    task, verdict = task_of(take.task), verdict_of(take.verdict)
    horn = Horn(INSTRUMENTS[take.instrument_key], Setup(a4_hz=take.a4_hz))
    said = said_of(task, verdict, notation.name, take.overruled_passed, horn)
    rated = None if take.rating is None else Rated(Rating(take.rating), take.passed)
    return ListedTake(take, task, notation, verdict, said, rated)


def judged(session: Session, take: Take) -> JudgedTake:
    """A take as it appears after it was played."""
    mine = _with_new_advice(session, told(take))
    found = marks(_heard_in(session, take), mine.notation.name, take.a4_hz)
    missed = _missed_mark(mine)
    if missed is not None:
        found = tuple(sorted((*found, missed), key=lambda mark: mark.at_s))
    return JudgedTake(mine, found, _tone(session, take), _holds(session, take))


def _holds(session: Session, take: Take) -> SetOfHolds | None:
    """How long the notes of the set were held up to a take, those of the take last; `None` of a
    note by itself, and of an exercise whose notes have their written length."""
    if not held_steps(task_of(take.task)):
        return None
    rows: list[TakeNote] = []
    for played in set_so_far(session, take):
        steps = held_steps(task_of(played.task))
        rows += [row for row in played.notes if row.step in steps]
    if len(rows) < 2:
        return None
    usual_s = None
    if len({row.asked_midi for row in rows}) == 1:
        usual_s = usual_hold_s(sets_before(session, take, rows[-1]))
    return SetOfHolds(tuple(hold_of(row) for row in rows), usual_s)


def _with_new_advice(session: Session, mine: ListedTake) -> ListedTake:
    """What is told of a take, with other advice where the same did not help before."""
    before = takes_before(session, mine.take, SAID_IN_A_ROW)
    verdicts = [verdict_of(take.verdict) for take in before if take.verdict]
    other = other_advice(mine.task, mine.verdict, verdicts)
    if other is None or mine.take.overruled_passed is not None:
        return mine
    return replace(mine, said=replace(mine.said, change=other))


def _missed_mark(mine: ListedTake) -> Mark | None:
    """The spot in the sound that the verdict speaks of: the note where its aim was missed by most.
    Nothing where nothing sounded there, or where what happened is marked for itself."""
    worst = mine.verdict.worst
    if worst is None or worst.at is None or worst.aim not in _UNMARKED:
        return None
    place = worst.at.step, worst.at.time
    row = next((row for row in mine.take.notes if (row.step, row.time) == place), None)
    if row is None or row.start_s is None or row.end_s is None:
        return None
    words = missed_words(mine.task, worst, mine.notation.name)
    pitch_cents = 100 * row.asked_midi + row.target_cents + (row.centre_cents or 0.0)
    name = WORDS[worst.aim].name
    return Mark((row.start_s + row.end_s) / 2, pitch_cents, words, name)


def take_page(session: Session, take: Take) -> TakePage:
    """All there is to a take."""
    mine = judged(session, take)
    task = mine.told.task
    horn = Horn(INSTRUMENTS[take.instrument_key], Setup(a4_hz=take.a4_hz))
    targets = {row.asked_midi: row.target_cents for row in take.notes}
    document = kept.frames_of(session, take)
    ribbon = ribbon_of(Frames.none() if document is None else frames_of(document), take.a4_hz)
    centre = [result.limit for result in mine.told.verdict.results if result.aim is Aim.CENTRE]
    usual = limit_of(Aim.CENTRE, Standard(take.standard), task)
    return TakePage(
        judged=mine,
        sheet=sheet_of(task, horn, lambda midi: targets.get(midi, 0.0)),
        horn=horn,
        svg=sheet_music(task, horn, mine.told.notation),
        limit_cents=centre[0] if centre else usual,
        ribbon=ribbon,
        notes=tuple(_measured(row, ribbon) for row in take.notes),
        bookmarks=bookmarks_of(session, take),
        has_sound=kept.has_sound(session, take),
        others=worth_comparing(
            take,
            alike(session, take),
            day=lambda take: take.started_at.astimezone().date(),
            passed=lambda take: take.passed,
            verdict=lambda take: verdict_of(take.verdict),
        ),
    )


def _measured(row: TakeNote, ribbon: Ribbon) -> MeasuredNote:
    measures = measures_of(row)
    if measures is None:
        return MeasuredNote(row, ())
    note = slice(round((row.start_s or 0.0) / HOP_S), round((row.end_s or 0.0) / HOP_S))
    cents = ribbon.pitch_cents[note] - 100 * row.asked_midi - row.target_cents
    return MeasuredNote(row, measure_lines(measures, row.harmonicity_db or 0.0, cents))


def notation_for(player: Player, instrument_key: str) -> Notation:
    """The player's notation, or the usual one of a horn they have since changed from."""
    if player.instrument_key == instrument_key:
        return notation_of(player)
    instrument = INSTRUMENTS[instrument_key]
    return instrument.notation(NoteView(player.view), instrument.readings[0].clef)


def _heard_in(session: Session, take: Take) -> Events:
    """All that was heard in a take. Of one whose events were not kept only its note is known; where
    there were several, how they met is not."""
    document = kept.events_of(session, take)
    if document is not None:
        return events_of(document)
    notes = [note for row in take.notes if (note := note_of(row, take.a4_hz)) is not None]
    return Events(tuple(notes)) if len(notes) == 1 else Events()


def _tone(session: Session, take: Take) -> TakeTone:
    """A take's tone, against what the takes that passed before it taught."""
    tone = tone_of(take)
    if tone is None:
        return TakeTone(None, None, "")
    passed = passed_tones(session, take.player, take.source, before=take)
    baseline = Baseline(passed)
    verdict = baseline.judge(tone)
    match = baseline.match(tone, passed[0]) if passed else None
    return TakeTone(
        word=None if verdict is None else verdict.word,
        match=None if match is None else round(match),
        sentence=tone_sentence(verdict, match, baseline.count),
    )
