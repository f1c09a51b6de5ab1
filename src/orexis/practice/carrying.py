"""What was kept, as files that other programs read: tables of it, and what was heard."""

from sqlalchemy.orm import Session

from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn, Setup
from orexis.core.listening.notes.events import Events
from orexis.core.listening.transcribing import transcribed
from orexis.core.score.steps import Score
from orexis.formats.analysis_reading import events_of, frames_of
from orexis.formats.heard_midi import midi_of_heard
from orexis.formats.tables import TableName
from orexis.practice.takes import notation_for
from orexis.store import kept
from orexis.store.kept import Kept
from orexis.store.tables import day_rows, log_rows, note_rows, take_rows

ROWS = {
    TableName.TAKES: take_rows,
    TableName.NOTES: note_rows,
    TableName.DAYS: day_rows,
    TableName.LOG: log_rows,
}
"""What reads a table's rows of a player, of some days or of all."""


class NothingHeardError(Exception):
    """No note was heard; the message says so."""


_NOTHING = NothingHeardError("No note was heard in it, so there is nothing to write down.")


def heard_as_midi(session: Session, of: Kept) -> bytes:
    """The notes that were heard as MIDI, their pitch as it went. Raises `NothingHeardError`."""
    heard, frames = _heard(session, of), kept.frames_of(session, of)
    if frames is None:
        raise _NOTHING
    return midi_of_heard(frames_of(frames), heard, _title(of))


def heard_as_musicxml(session: Session, of: Kept) -> bytes:
    """The notes that were heard as MusicXML, for their horn and as the player reads it. Raises
    `NothingHeardError`."""
    # Loaded when first needed: it takes a while.
    from orexis.formats.musicxml import musicxml_of

    score: Score = transcribed(_heard(session, of))
    horn = Horn(INSTRUMENTS[of.instrument_key], Setup(a4_hz=of.a4_hz))
    notation = notation_for(of.player, of.instrument_key)
    return musicxml_of(score, horn, notation, _title(of)).encode()


def _heard(session: Session, of: Kept) -> Events:
    document = kept.events_of(session, of)
    events = Events() if document is None else events_of(document)
    if not events.notes:
        raise _NOTHING
    return events


def _title(of: Kept) -> str:
    return f"{of.player.name}, {of.started_at.astimezone():%d.%m.%Y %H:%M}"
