"""A task on the stand: each note's target and hand, the slots around, and a tone to play to."""

from dataclasses import replace

import pytest

from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.exercises.sheet import Band, Sheet, cue, drone_hz, sheet_of
from orexis.core.exercises.task import Ending, Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.core.score.steps import Rest
from tests.core.exercises.writing import task

HORN = Horn(INSTRUMENTS["tenor-horn-eb"])


def tone(note: str, instrument: str = "tenor-horn-eb") -> Task:
    return task("long-tone", instrument, from_midi=note)


def on(horn: Horn, asked: Task) -> Sheet:
    return sheet_of(asked, horn)


def test_one_note_has_its_hand_and_two_slots_either_side() -> None:
    sheet = on(HORN, tone("Eb4"))
    (note,) = sheet.notes
    assert note.hand == "open, fourth partial"
    assert note.pitch_cents == 6300
    # Sixth to second partial of the open horn: B♭4 G4 E♭4 B♭3 E♭3.
    assert [band.midi for band in sheet.bands] == [70, 67, 63, 58, 51]
    assert [band.asked for band in sheet.bands] == [False, False, True, False, False]
    # The fifth partial lies 400 − 13.7 cents above the fourth.
    assert sheet.bands[1].pitch_cents == pytest.approx(6300 + 386.3, abs=0.06)
    assert note.slide_marks(HORN) == ()
    assert cue(tone("Eb4")) == "breathe, air attack, hold 4 s"


def test_the_slide_stands_where_the_correction_puts_it() -> None:
    trombone = Horn(INSTRUMENTS["trombone-tenor"])
    (note,) = on(trombone, tone("G4", "trombone-tenor")).notes
    assert note.hand == "position 2, seventh partial. On 2, 28 mm in."
    assert note.way is not None
    # Second position is 88 mm out, less 28, of 1.09 × 612 mm.
    assert note.way.slide_share == pytest.approx((87.9 - 28.0) / (1.09 * 612), abs=0.001)
    marks = note.slide_marks(trombone)
    assert len(marks) == 7
    assert marks[-1] == pytest.approx(1 / 1.09)


def test_a_players_tuning_moves_the_target_and_the_slots_around_it() -> None:
    just = Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3)))
    sheet = on(just, tone("G4"))
    # The just third over E♭ lies 13.7 cents low, where the open fifth slot is.
    assert sheet.notes[0].pitch_cents == pytest.approx(6700 - 13.7, abs=0.06)
    (asked,) = (band for band in sheet.bands if band.asked)
    assert asked.pitch_cents == sheet.notes[0].pitch_cents


def test_what_was_played_to_another_tuning_keeps_its_targets() -> None:
    sheet = sheet_of(tone("G4"), HORN, lambda midi: -13.7)
    assert sheet.notes[0].target_cents == -13.7


def test_a_note_with_no_slot_is_played_by_ear() -> None:
    sheet = on(Horn(INSTRUMENTS["trumpet-bb"]), tone("D3", "trumpet-bb"))
    assert sheet.notes[0].hand == "by ear"
    assert sheet.bands == (Band(50, 5000, True),)


def test_notes_of_one_length_are_drawn_against_its_slots() -> None:
    # B♭3 E♭4 G4 E♭4 B♭3: the third to the fifth of the open horn, and one either side.
    sheet = on(HORN, task("lip-slur", "tenor-horn-eb", slots=3))
    assert [(band.midi, band.asked) for band in sheet.bands] == [
        (70, False),
        (67, True),
        (63, True),
        (58, True),
        (51, False),
    ]
    assert [note.step for note in sheet.notes] == [0, 1, 2, 3, 4]


def test_notes_of_several_lengths_are_drawn_against_themselves() -> None:
    sheet = on(HORN, task("low-long-tones", "tenor-horn-eb", from_midi="Bb3", notes=3))
    assert [(band.midi, band.asked) for band in sheet.bands] == [
        (58, True),
        (57, True),
        (56, True),
    ]


def test_the_mouthpiece_has_no_hand() -> None:
    sheet = on(HORN, task("sustained-buzz", "tenor-horn-eb"))
    assert {note.hand for note in sheet.notes} == {"mouthpiece alone"}


def test_what_ends_a_try_is_a_silence_longer_than_any_in_the_music() -> None:
    assert tone("Eb4").ending == Ending(0.5)
    # One breath between notes: three seconds; first buzz rests four counts of a second as well.
    assert task("low-long-tones", "tenor-horn-eb").ending.silence_s == 3.0
    buzz = task("first-buzz", "tenor-horn-eb")
    rests = [float(step.beats) for step in buzz.score.steps if isinstance(step, Rest)]
    beat_s = 60 / (buzz.score.tempo_bpm or 60)
    assert buzz.ending.silence_s == pytest.approx(max(rests) * beat_s + 3.0)


def test_what_is_set_is_said_beside_the_notes() -> None:
    assert tone("Eb4").setting == "hold 4 s"
    assert task("lip-slur", "tenor-horn-eb").setting.startswith("open, from partial 3")


def test_one_repetition_is_the_same_task_once() -> None:
    slur = task("lip-slur", "tenor-horn-eb", times=4)
    assert slur.once == replace(slur, score=replace(slur.score, times=1))


def test_a_note_past_the_horn_or_a_hold_past_all_is_refused() -> None:
    with pytest.raises(ExerciseRefusedError, match="note: from"):
        tone("Ab0")
    with pytest.raises(ExerciseRefusedError, match="hold: 1 to 60 s, not"):
        task("long-tone", "tenor-horn-eb", hold_s=0.2)


@pytest.mark.parametrize(
    ("horn", "note", "hz"),
    [
        # In equal temperament the note itself: B♭3.
        (HORN, "Bb3", 233.082),
        # Over E♭ the tonic under it: E♭3 under B♭3, E♭4 under itself.
        (Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3))), "Bb3", 155.563),
        (Horn(HORN.instrument, Setup(tuning=Tuning(Temperament.JUST, 3))), "Eb4", 311.127),
        # E♭1 is too low for a small loudspeaker: two octaves up.
        (Horn(INSTRUMENTS["tuba-eb"]), "Eb1", 155.563),
    ],
)
def test_the_drone_is_the_tonic_where_it_can_be_heard(horn: Horn, note: str, hz: float) -> None:
    assert drone_hz(tone(note, horn.instrument.key), horn) == pytest.approx(hz, abs=0.001)


def test_breathing_has_no_drone() -> None:
    assert drone_hz(task("breath", "tenor-horn-eb"), HORN) is None
