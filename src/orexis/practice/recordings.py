"""Recordings: sound that no exercise judged, listened to, kept and put together for reading."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import datetime
from functools import partial
from pathlib import Path

from sqlalchemy.orm import Session

from orexis.core.arrays import FloatArray
from orexis.core.counting import length_words, time_words
from orexis.core.horn.naming import USUAL_NAMING
from orexis.core.horn.notation import Notation
from orexis.core.horn.setup import Horn
from orexis.core.horn.ways import slots_beside
from orexis.core.judging.marks import Mark, marks
from orexis.core.judging.pattern_words import pattern_sentences
from orexis.core.judging.ribbon import Ribbon, ribbon_of
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import Events
from orexis.core.listening.notes.patterns import PatternMatch, WantedNote, match_pattern
from orexis.core.listening.notes.pauses import Pause, pauses
from orexis.formats.analysis import analysis_document
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.formats.audio import FlacWriter, UnreadableSoundError, open_sound
from orexis.practice.takes import notation_for
from orexis.store import kept
from orexis.store.bookmarks import bookmarks_of
from orexis.store.models import Bookmark, Recording
from orexis.store.pieces import pieces_in, recordings_of
from orexis.store.recordings import AnalysedSound

LONGEST_S = 2 * 60 * 60.0
_MIDDLE_MIDI = 60
_MOST_OTHERS = 6


@dataclass(frozen=True, slots=True)
class MatchedPattern:
    """What was played against what was meant: the notes meant (MIDI), how each was answered,
    and all that in sentences."""

    wanted: list[int]
    match: PatternMatch
    sentences: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RecordingPage:
    """All there is to a recording; its range is in cents (100 a MIDI number). `wanted` is what was
    meant, as its player names notes now."""

    recording: Recording
    wanted: str
    notation: Notation
    events: Events
    lowest_cents: float
    highest_cents: float
    ribbon: Ribbon
    marks: tuple[Mark, ...]
    bookmarks: list[Bookmark]
    pauses: tuple[Pause, ...]
    pattern: MatchedPattern | None
    others: list[Recording]
    """Those worth comparing with: of the same pieces, else the newest."""


def listen_to_file(path: Path, name: str, horn: Horn) -> AnalysedSound:
    """Listens to a sound file of at most two hours, played on a horn. Raises `ValueError` with what
    to do."""
    sound = open_sound(path, name)
    if sound.duration_s is not None and sound.duration_s > LONGEST_S:
        raise _too_long(name, f"lasts {length_words(sound.duration_s)}")
    return listen_to(_bounded(sound.blocks, sound.sample_rate, name), sound.sample_rate, name, horn)


def listen_to(
    blocks: Iterable[FloatArray], sample_rate: int, name: str, horn: Horn, reason: str = ""
) -> AnalysedSound:
    """Listens to mono blocks (full scale ±1). Raises `ValueError` for a rate out of range."""
    with FlacWriter(sample_rate) as flac:
        analysis = analyse(
            _copied(blocks, flac),
            sample_rate,
            horn.setup.a4_hz,
            slots_beside=partial(slots_beside, horn),
        )
        reasons = " ".join(part for part in (reason, analysis.unheard_words) if part)
        return AnalysedSound(name, flac.finish(), analysis_document(analysis), reasons)


def _bounded(blocks: Iterator[FloatArray], sample_rate: int, name: str) -> Iterator[FloatArray]:
    """The blocks of a file whose header may not say how long it is."""
    samples = 0
    for block in blocks:
        samples += len(block)
        if samples > LONGEST_S * sample_rate:
            raise _too_long(name, f"lasts more than {time_words(LONGEST_S)}")
        yield block


def _too_long(name: str, how_long: str) -> UnreadableSoundError:
    return UnreadableSoundError(
        f"{name} {how_long}. Orexis keeps recordings of up to {time_words(LONGEST_S)}: cut it, or "
        "use orexis analyse in a terminal."
    )


def _copied(blocks: Iterable[FloatArray], flac: FlacWriter) -> Iterator[FloatArray]:
    for block in blocks:
        flac.add(block)
        yield block


def newest_recordings(
    session: Session, player_id: int, count: int, before: datetime | None = None
) -> list[Recording]:
    """A player's recordings, newest first."""
    return kept.newest_kept(session, Recording, player_id, count, before)


def recording_page(session: Session, recording: Recording) -> RecordingPage:
    """All there is to a recording."""
    document = kept.document_of(session, recording)
    events = events_of(document)
    notation = notation_for(recording.player, recording.instrument_key)
    a4_hz = recording.a4_hz
    middle = events.middle_midi or _MIDDLE_MIDI
    lowest, highest = events.range_midi(a4_hz) or (middle, middle)
    wanted = _usual(notation).parse_row(recording.wanted)
    is_usual = notation.naming == USUAL_NAMING
    return RecordingPage(
        recording=recording,
        wanted=recording.wanted if is_usual else " ".join(map(notation.name, wanted)),
        notation=notation,
        events=events,
        lowest_cents=100 * lowest,
        highest_cents=100 * highest,
        ribbon=ribbon_of(frames_of(document["frames"]), a4_hz),
        marks=marks(events, notation.name, a4_hz),
        bookmarks=bookmarks_of(session, recording),
        pauses=pauses(events, recording.duration_s),
        pattern=_pattern(wanted, events, notation),
        others=_others(session, recording),
    )


def _others(session: Session, recording: Recording) -> list[Recording]:
    found = {
        one.id: one
        for own in pieces_in(session, recording.id)
        for one in reversed(recordings_of(session, own.id, _MOST_OTHERS + 1))
    }
    if len(found) <= 1:
        newest = newest_recordings(session, recording.player_id, _MOST_OTHERS + 1)
        found = {recording.id: recording for recording in newest}
    return [one for one in found.values() if one.id != recording.id][:_MOST_OTHERS]


def want(recording: Recording, meant: str) -> None:
    """Keeps what the player meant to play. Raises `NoteUnreadableError`; nothing changes then."""
    notation = notation_for(recording.player, recording.instrument_key)
    wanted = notation.parse_row(meant)
    # What is kept is read as it was meant, whatever notes are called later.
    words = meant.split() if notation.naming == USUAL_NAMING else map(_usual(notation).name, wanted)
    recording.wanted = " ".join(words)


def _usual(notation: Notation) -> Notation:
    """The same with notes named as they are kept."""
    return replace(notation, naming=USUAL_NAMING)


def _pattern(wanted: list[int], events: Events, notation: Notation) -> MatchedPattern | None:
    if not wanted:
        return None
    match = match_pattern([WantedNote(midi) for midi in wanted], events)
    played = [note.midi for note in events.notes]
    sentences = pattern_sentences(match, wanted, played, notation.name)
    return MatchedPattern(wanted, match, sentences)
