"""What was heard, written down: MIDI read back by mido and MusicXML by the melody reader."""

import io
from fractions import Fraction

import mido
import numpy as np
import pytest

from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.setup import Horn, Setup
from orexis.core.listening.notes.events import Change, Events, Note, Transition
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.tracking.frames import Frames
from orexis.core.listening.transcribing import transcribed
from orexis.core.score.steps import Articulation, Play, Rest
from orexis.formats.heard_midi import midi_of_heard
from orexis.formats.melody import melody_parts
from orexis.formats.musicxml import musicxml_of

HORN = INSTRUMENTS["tenor-horn-eb"]


def note(midi: int, start_s: float, end_s: float, level_db: float = -20.0) -> Note:
    measures = NoteMeasures(0, 2, 0, 0, 0.02, 0, end_s - start_s, None, level_db, 0)
    return Note(round(100 * start_s), round(100 * end_s), 0.0, midi, measures, 22.0, 3.0)


def events(*notes: Note, slurred: tuple[int, ...] = ()) -> Events:
    """Some notes, tongued but for those, by place, that are slurred to."""
    changes = tuple(
        Transition(
            Change.SLUR if place in slurred else Change.TONGUED,
            *(notes[place].start_s, 0.0, 0.0, (), 0.0, 0.0, 0.0, 0.0),
        )
        for place in range(1, len(notes))
    )
    return Events(notes, changes)


HEARD = events(
    note(58, 0.50, 1.50), note(63, 1.50, 2.24), note(65, 2.80, 2.83), note(70, 3.0, 4.0),
    slurred=(1,),
)  # fmt: skip


def test_notes_and_rests_are_as_long_as_they_were_to_an_eighth_of_a_second() -> None:
    # 2.24 s is nearest 18 eighths, 2.80 nearest 22; the shortest note is an eighth.
    assert transcribed(HEARD).steps == (
        Play(58, Fraction(8, 8)),
        Play(63, Fraction(6, 8), Articulation.SLURRED),
        Rest(Fraction(4, 8)),
        Play(65, Fraction(1, 8)),
        Rest(Fraction(1, 8)),
        Play(70, Fraction(8, 8)),
    )
    assert transcribed(Events()).steps == ()


def test_notes_too_near_for_the_grid_do_not_overlap() -> None:
    fast = events(*(note(58 + at, 0.05 * at, 0.05 * at + 0.05) for at in range(4)))
    assert [step.beats for step in transcribed(fast).steps if isinstance(step, Play)] == [
        Fraction(1, 8)
    ] * 4


def test_musicxml_of_what_was_heard_comes_back_as_the_same_line() -> None:
    score = transcribed(HEARD)
    notation = HORN.notation(NoteView.SOUNDING, Clef.TREBLE)
    text = musicxml_of(score, Horn(HORN, Setup(a4_hz=440.0)), notation, "Maren")
    (part,) = melody_parts(text.encode(), "heard.musicxml")
    plays = [step for step in part.steps if isinstance(step, Play)]
    assert [step.midi for step in plays] == [58, 63, 65, 70]
    assert [step.articulation is Articulation.SLURRED for step in plays][:2] == [False, True]


def frames(f0_hz: np.ndarray) -> Frames:
    same = np.full(len(f0_hz), 20.0)
    return Frames(0, f0_hz, same - 40, same, same)


def sounded(content: bytes) -> list[tuple[int, int, float, int]]:
    """All that a MIDI file says, as (ms, note or −1, semitones sounding, velocity)."""
    file = mido.MidiFile(file=io.BytesIO(content))
    now_s, sounding, bend, found = 0.0, -1, 0.0, []
    for message in file:
        now_s += message.time
        velocity = 0
        if message.type == "note_on":
            sounding, velocity = message.note, message.velocity
        elif message.type == "note_off":
            sounding = -1
        elif message.type == "pitchwheel":
            bend = 2 * message.pitch / 8191
        else:
            continue
        found.append((round(1000 * now_s), sounding, sounding + bend, velocity))
    return found


def test_midi_sounds_at_the_pitch_that_was_heard_from_frame_to_frame() -> None:
    # B♭3 (58) for a second, from 40 cents low in to 5 high in its first tenth of a second, at 440.
    cents = np.concatenate((np.linspace(-40, 5, 10), np.full(90, 5.0)))
    f0_hz = 440.0 * 2 ** ((58 - 69 + cents / 100) / 12)
    silent = np.full(50, np.nan)
    content = midi_of_heard(frames(np.concatenate((silent, f0_hz))), events(note(58, 0.5, 1.5)), "")
    told = sounded(content)
    assert told[0][0] == told[1][0] == 500
    assert told[-1][:2] == (1500, -1)
    heard = {at: semitones for at, midi, semitones, _ in told if midi == 58}
    for at, semitones in heard.items():
        frame = min(at // 10 - 50, 99)
        assert semitones == pytest.approx(58 + cents[frame] / 100, abs=0.006)
    # Steady from the tenth frame on: nothing more is said.
    assert max(heard) == 590


def test_midi_is_louder_the_louder_it_was_and_bends_no_farther_than_it_can() -> None:
    # Four half steps off: the bend stops at two.
    f0_hz = np.full(300, 440.0 * 2 ** ((62 - 69) / 12))
    two = events(note(58, 0.0, 1.0, -40.0), note(62, 1.5, 2.5, -10.0))
    told = sounded(midi_of_heard(frames(f0_hz), two, "two"))
    on = [one for one in told if one[3]]
    # 127 − 2 · 40 and 127 − 2 · 10.
    assert [velocity for *_, velocity in on] == [47, 107]
    assert on[0][2] == pytest.approx(60)
    assert on[1][2] == pytest.approx(62, abs=0.001)
