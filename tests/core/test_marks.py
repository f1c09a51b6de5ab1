"""What is pointed at, where and in which words: on events made by hand."""

from dataclasses import replace

import pytest

from orexis.core.horn.notation import note_name
from orexis.core.judging.marks import Mark, marks
from orexis.core.listening.notes.events import Change, Events, Glide, Note, TouchedSlot, Transition
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.notes.trills import Trill

CLEAN = NoteMeasures(0, 2, 0, 0, 0.02, 0, 1.5, None, -20, 0)
SLUR = Transition(Change.SLUR, 1.5, 0.03, 0.0, (), 1.0, 0.0, 0.0, 0.0)


def note(midi: int, start_s: float = 0, end_s: float = 1.5, **measured: object) -> Note:
    cracked = measured.pop("cracked_from_midi", None)
    return Note(
        first=round(100 * start_s),
        last=round(100 * end_s),
        f0_hz=440 * 2 ** ((midi - 69) / 12),
        midi=midi,
        measures=replace(CLEAN, **measured),  # type: ignore[arg-type]
        harmonicity_db=28,
        brightness=3,
        cracked_from_midi=cracked,  # type: ignore[arg-type]
    )


def told(events: Events, **how: bool) -> list[Mark]:
    return list(marks(events, note_name, **how))


def words(events: Events) -> list[str]:
    return [mark.words for mark in told(events)]


def slurred(change: Transition) -> Events:
    return Events((note(58), note(65, 1.5, 3.0)), (change,))


def test_a_clean_note_needs_no_mark() -> None:
    assert told(Events((note(58),))) == []
    assert told(slurred(SLUR)) == []


def test_start_and_end_are_marked_where_they_were() -> None:
    scooped = note(58, 0.5, 4.5, centre_cents=-4, scoop_cents=-38, sag_cents=12)
    scoop, sag = told(Events((scooped,)))
    assert scoop == Mark(0.5, 5758, "slid up 38 cents into the note", "slid up 38", -38, 3.8)
    assert sag == Mark(4.5, 5808, "rose 12 cents", "rose 12", 12, 1.2)
    assert (scoop.side, sag.side) == ("low", "high")


def test_a_mark_stands_at_its_own_pitch() -> None:
    (mark,) = told(Events((note(60, scoop_cents=-20),)))
    assert mark.pitch_cents == 6000 - 20


def test_a_whole_note_tells_of_crack_vibrato_wobble_and_growth() -> None:
    growing = note(
        58, vibrato=Vibrato(5.5, 20), shape=Shape.CRESCENDO, level_change_db=7, cracked_from_midi=53
    )
    assert words(Events((growing,))) == [
        "cracked, from F3",
        "vibrato ± 20 cents",
        "grows 7 dB",
    ]
    assert words(Events((note(58, wobble_cents=12),))) == ["wavers ± 12 cents"]


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        (replace(SLUR, touched=(TouchedSlot(62, 0.045),)), ["touched D4, 45 ms"]),
        (replace(SLUR, kind=Change.TONGUED, gap_s=0.09), ["gap 90 ms"]),
        (replace(SLUR, kind=Change.TONGUED, gap_s=0.04), []),
        (replace(SLUR, kind=Change.BREATH, gap_s=0.4, waning_db=9), ["breath"]),
        (replace(SLUR, waning_db=4), ["wanes 4 dB"]),
        (replace(SLUR, overshoot_cents=41), ["41 cents past it"]),
    ],
)
def test_what_happens_between_notes_is_marked(change: Transition, expected: list[str]) -> None:
    assert words(slurred(change)) == expected


def test_a_mark_stands_where_and_at_the_pitch_at_which_it_happened() -> None:
    # A slur from B♭3 to F4 at 1.5 s: between both, at the partial in between, or past the end.
    touched = replace(SLUR, touched=(TouchedSlot(62, 0.045),))
    gap = replace(SLUR, kind=Change.TONGUED, gap_s=0.09)
    flipped = replace(SLUR, flipped=TouchedSlot(70, 0.06))
    for change, at_s, pitch_cents in (
        (touched, 1.5, 6200),
        (gap, 1.5, 6150),
        (replace(SLUR, kind=Change.BREATH), 1.5, 6150),
        (flipped, 1.5, 7000),
        (replace(SLUR, waning_db=4), 1.4, 5800),
        (replace(SLUR, overshoot_cents=41), 1.55, 6541),
    ):
        (mark,) = told(slurred(change))
        assert mark.at_s == pytest.approx(at_s)
        assert mark.pitch_cents == pytest.approx(pitch_cents, abs=0.1)
    (over,) = told(slurred(flipped))
    assert (over.words, over.short) == ("flipped over to B♭4, 60 ms", "flipped")
    # Swings are marked in the middle of their note, growth toward its end.
    whole = note(58, 1.0, 3.0, vibrato=Vibrato(5.5, 20), shape=Shape.CRESCENDO, level_change_db=7)
    swings, grows = told(Events((whole,)))
    assert [swings.at_s, grows.at_s] == pytest.approx([2.0, 2.4])
    assert swings.pitch_cents == grows.pitch_cents == pytest.approx(5800, abs=0.1)
    siren = Glide(1.0, 4.0, 116.541, 233.082, 12.0, 1, 0, 130.0)
    (mark,) = told(Events(glides=(siren,)))
    assert mark.at_s == pytest.approx(2.5)
    assert mark.short == "siren"
    (mark,) = told(Events(trills=(Trill(100, 300, 58, 60, 6.14, 0.05, 0.92),)))
    assert mark.at_s == pytest.approx(1.0)
    assert (mark.pitch_cents, mark.short) == (6000, "trill")


def test_a_slurred_note_has_no_start_of_its_own() -> None:
    events = Events((note(58, sag_cents=-30), note(65, 1.5, 3.0, scoop_cents=-30)), (SLUR,))
    assert words(events) == []
    tongued = replace(SLUR, kind=Change.TONGUED)
    assert len(words(replace(events, transitions=(tongued,)))) == 2


def test_a_late_start_is_marked_with_its_air() -> None:
    assert words(Events((note(58, response_s=0.12),))) == ["air for 120 ms before it speaks"]
    assert words(Events((note(58, response_s=0.05),))) == []


def test_glides_sirens_and_trills_are_told_with_their_numbers() -> None:
    # B♭3 to B3: 233.08 Hz to 246.94 Hz.
    step = Glide(1.0, 1.8, 233.082, 246.942, 1.0, 1, 0, 12.0)
    between = replace(SLUR, kind=Change.GLIDE, start_s=1.0)
    glided = Events((note(58, 0, 1), note(59, 1.8, 3)), (between,), (step,))
    (mark,) = told(glided)
    assert mark.words == "glide, 1 half step in 0.8 s"
    assert mark.pitch_cents == pytest.approx(5850, abs=0.1)
    siren = Glide(0.0, 3.0, 116.541, 233.082, 12.0, 2, 1, 130.0)
    assert words(Events(glides=(siren,))) == ["siren, 12 half steps in 3.0 s, 2 ways, 1 break"]
    trill = Trill(100, 300, 58, 60, 6.14, 0.05, 0.92)
    assert words(Events((note(60, 1.2, 1.7, scoop_cents=-40),), trills=(trill,))) == [
        "trill, 6.1 a second, 92 % clear"
    ]


def test_nothing_is_said_of_the_end_of_a_note_that_still_sounds() -> None:
    falling = Events((note(58, scoop_cents=-20, sag_cents=-25),))
    assert [mark.words for mark in told(falling, sounding=True)] == [
        "slid up 20 cents into the note"
    ]


def test_vibrato_is_told_while_it_goes_on_and_its_mark_stands_still() -> None:
    for end_s in (1.5, 3.0):
        swinging = Events((note(58, 0.5, 0.5 + end_s, vibrato=Vibrato(5.5, 20)),))
        (mark,) = told(swinging, sounding=True)
        assert mark.at_s == pytest.approx(1.3)
        assert mark.words == "vibrato ± 20 cents"
    early = Events((note(58, 0.5, 1.5, vibrato=Vibrato(5.5, 20)),))
    assert told(early, sounding=True) == []
