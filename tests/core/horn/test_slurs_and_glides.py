"""Ways, slurs, trills, lengths in turn, and the glide planner."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.horn import words
from orexis.core.horn.glides import glides, plan_climb, plan_glides
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import Clef, NoteView, parse_note
from orexis.core.horn.setup import Horn
from orexis.core.horn.slurs import (
    lengths_in_turn,
    lip_trills,
    neighbours,
    same_pitch_pairs,
    slur,
    through_the_lengths,
)
from orexis.core.horn.ways import slots_beside, ways

TENOR_HORN = Horn(INSTRUMENTS["tenor-horn-eb"])
AS_WRITTEN = TENOR_HORN.instrument.notation(NoteView.WRITTEN, Clef.TREBLE)
TROMBONE = Horn(INSTRUMENTS["trombone-tenor"])
BASS = Horn(INSTRUMENTS["trombone-bass"])
AS_SOUNDING = TROMBONE.instrument.notation(NoteView.SOUNDING, Clef.BASS)
SLIDES = [Horn(instrument) for instrument in INSTRUMENTS.values() if instrument.is_slide]


def midi(name: str) -> int:
    return parse_note(name).midi


def test_ways_come_standard_first_then_usable_then_what_will_not_do() -> None:
    # Written B4: on 2 the fourth slot; on 1-3 the fifth, +30.3 − 13.7; on 1-2-3 53.6 − 13.7 − 100.
    found = ways(TENOR_HORN, midi("D4"))
    assert [(way.length.name, way.partial, round(way.cents)) for way in found] == [
        ("2", 4, 0),
        ("13", 5, 17),
        ("123", 5, -60),
    ]
    assert [way.usable for way in found] == [True, True, False]
    assert words.correction_words(found[1]) == "On 13, pull the third slide 14 mm."
    assert "cannot get shorter" in found[2].reason
    lowest = ways(TENOR_HORN, midi("A2"))
    assert [way.length.name for way in lowest] == ["123"]


def test_both_sides_of_a_double_horn_are_ways() -> None:
    names = [way.length.name for way in ways(Horn(INSTRUMENTS["horn-f"]), midi("F3")) if way.usable]
    assert names[0] == "0"
    assert "T0" in names


def test_a_skip_slur_knows_what_it_must_not_touch() -> None:
    found = slur(TENOR_HORN, midi("D4"), midi("A4"))
    best = found.same_length[0]
    assert (best.length.name, best.start.partial, best.end.partial) == ("2", 4, 6)
    assert best.skips
    assert [AS_WRITTEN.name(slot.midi) for slot in best.between] == ["E♭5"]
    assert words.slur_words(found, AS_WRITTEN) == (
        "Both on 2, partials 4 and 6. E♭5 lies between: a skip slur."
    )
    down = slur(TENOR_HORN, midi("A4"), midi("D4")).same_length[0]
    assert down.between == best.between


def test_neighbours_have_nothing_between() -> None:
    found = slur(TENOR_HORN, midi("D4"), midi("F♯4"))
    assert not found.same_length[0].skips
    assert "nothing lies between" in words.slur_words(found, AS_WRITTEN)
    below, above = neighbours(TENOR_HORN, TENOR_HORN.slot("2", 4))
    assert below is not None
    assert above is not None
    assert (below.partial, above.partial) == (3, 5)
    assert neighbours(TENOR_HORN, TENOR_HORN.slot("2", 1))[0] is None


def test_notes_on_no_one_length_get_the_smallest_change() -> None:
    found = slur(TENOR_HORN, midi("D4"), midi("E4"))
    assert not found.same_length
    change = found.nearest[0]
    # 2 to 1-2 adds one finger.
    assert (change.start.length.name, change.end.length.name) == ("2", "12")
    positions = slur(TROMBONE, midi("B♭2"), midi("C3")).nearest[0]
    assert (positions.start.length.name, positions.end.length.name) == ("1", "6")


def test_a_note_without_a_slot_is_said_to_be_the_lips_alone() -> None:
    found = slur(TENOR_HORN, midi("F3") - 12, midi("D4"))
    assert found.without == (midi("F2"),)
    assert "no slot for A♭3" not in words.slur_words(found, AS_WRITTEN)
    assert "lips lead alone" in words.slur_words(found, AS_WRITTEN)


def test_lip_trills_are_neighbouring_slots_near_each_other() -> None:
    trills = {
        (trill.lower.length.name, trill.lower.partial): trill.interval_cents
        for trill in lip_trills(Horn(INSTRUMENTS["horn-f-single"]), midi("F4"))
    }
    # Slots 8 and 9 of the open horn: 9/8 is 203.9 cents.
    assert trills["0", 8] == pytest.approx(203.9, abs=0.06)
    assert all(interval <= 350 for interval in trills.values())
    # Slots 4 and 5 lie 386 cents apart: too wide for a trill.
    assert not [
        lip_trill
        for lip_trill in lip_trills(TENOR_HORN, midi("E♭4"))
        if lip_trill.lower.partial == 4
    ]


def test_one_pitch_on_two_lengths_has_its_mismatch() -> None:
    (pair,) = same_pitch_pairs(TENOR_HORN, midi("D4"))
    assert (pair.first.length.name, pair.second.length.name) == ("2", "13")
    assert pair.mismatch_cents == pytest.approx(30.3 - 13.7, abs=0.06)
    assert words.same_pitch_words(pair) == "2 and 1 3: the second is 17 cents sharp"


@pytest.mark.parametrize(
    ("key", "names"),
    [
        ("trumpet-bb", "0 2 1 12 23 13 123"),
        ("horn-f", "0 2 1 12 23 13 123"),
        ("euphonium-bb-4v", "0 2 1 12 23 4 24"),
        ("tuba-f-5v", "0 2 1 12 23 4 24"),
        ("trombone-bass", "1 2 3 4 5 6 7"),
    ],
)
def test_exercises_go_through_the_lengths_shortest_first(key: str, names: str) -> None:
    horn = Horn(INSTRUMENTS[key])
    turn = through_the_lengths(horn, (3, 4, 3))
    assert " ".join(length.name for length, _ in turn) == names
    assert all([slot.partial for slot in slots] == [3, 4, 3] for _, slots in turn)
    ratios = [length.ratio for length in lengths_in_turn(horn)]
    assert ratios == sorted(ratios)


@pytest.mark.parametrize("partials", [(), (0, 3), (17,)])
def test_a_pattern_of_slots_that_are_not_there_is_refused(partials: tuple[int, ...]) -> None:
    with pytest.raises(ValueError, match="partial"):
        through_the_lengths(TENOR_HORN, partials)


def test_before_a_glide_up_one_starts_far_enough_out() -> None:
    # F3 is learned in first position, where nothing goes up; sixth position has it on slot 4.
    (glide,) = plan_glides(TROMBONE, midi("F3"), (3,)).route
    assert (glide.start.length.name, glide.end.length.name, glide.partial) == ("6", "3", 4)
    # L/2·2^(5/12) less L/2·2^(2/12), L = 2.955 m.
    moved = glide.start.slide_mm - glide.end.slide_mm
    assert moved == pytest.approx(1000 * 2.955 / 2 * (2 ** (5 / 12) - 2 ** (2 / 12)), abs=0.5)


@pytest.mark.parametrize("horn", SLIDES, ids=lambda horn: horn.instrument.key)
@given(data=st.data())
def test_every_glide_stays_on_one_slot_and_moves_the_right_way(
    horn: Horn, data: st.DataObject
) -> None:
    instrument = horn.instrument
    note = data.draw(st.integers(instrument.lowest_midi, instrument.highest_midi))
    distance = data.draw(st.integers(-6, 6).filter(bool))
    for glide in glides(horn, note, distance):
        assert glide.start.partial == glide.end.partial
        assert glide.start.length.triggers == glide.end.length.triggers
        moved = glide.start.slide_mm - glide.end.slide_mm
        assert moved * distance > 0
        assert 0 <= glide.end.slide_mm <= horn.furthest_mm + 1e-6
        assert 0 <= glide.start.slide_mm <= horn.furthest_mm + 1e-6


def test_a_climb_takes_each_glide_from_where_the_last_one_ended() -> None:
    plan = plan_glides(TROMBONE, midi("F3"), (1, 2, 2))
    assert plan.possible
    assert [glide.start.midi - midi("F3") for glide in plan.route] == [0, 1, 3]
    assert [glide.end.midi - midi("F3") for glide in plan.route] == [1, 3, 5]


def test_a_climb_between_two_notes_goes_by_half_steps() -> None:
    up, down = (plan_climb(TROMBONE, *ends) for ends in ((53, 57), (57, 53)))
    assert up is not None
    assert up.semitones == (1, 1, 1, 1)
    assert down is not None
    assert down.semitones == (-1, -1, -1, -1)
    assert plan_climb(TROMBONE, 53, 53) is None
    assert plan_climb(TROMBONE, 40, 40 + 25) is None
    assert plan_climb(TENOR_HORN, 53, 57) is None


def test_what_cannot_be_glided_says_so_and_names_the_nearest() -> None:
    plan = plan_glides(BASS, midi("B♭2"), (6,))
    assert not plan.possible
    assert plan.stop is not None
    # G♭ and F triggers give B♭2 five and six… only up to four positions out; B2 has seventh.
    assert plan.stop.nearest_midi == midi("B2")
    said = words.glide_words(BASS, plan, AS_SOUNDING)
    assert said.startswith("No length lets you glide six half steps up from B♭2")
    assert "The nearest note for six half steps up is B2." in said
    assert glides(BASS, midi("B♭2"), plan.stop.farthest)
    too_far = plan_glides(TROMBONE, midi("B2"), (7,))
    assert "six half steps long" in words.glide_words(TROMBONE, too_far, AS_SOUNDING)
    later = plan_glides(TROMBONE, midi("F3"), (1, 6))
    assert len(later.route) == 1
    assert not later.possible


def test_a_glide_never_ends_on_a_flat_slot_in_first_position() -> None:
    ends = [glide.end for note in range(40, 72) for glide in glides(TROMBONE, note, 2)]
    assert not [end for end in ends if end.partial == 7 and end.length.name == "1"]


def test_valves_step_instead() -> None:
    plan = plan_glides(TENOR_HORN, midi("D4"), (3,))
    assert not plan.possible
    assert [way and way.length.name for way in plan.instead] == ["2", "0", "12", "1"]
    said = words.glide_words(TENOR_HORN, plan, AS_WRITTEN)
    assert said == "Valves step, they do not glide. Slur the half steps: 2, open, 1 2, 1."


@pytest.mark.parametrize("distances", [(), (0,), (2, 0)])
def test_a_glide_without_a_distance_is_refused(distances: tuple[int, ...]) -> None:
    with pytest.raises(ValueError, match="needs a distance"):
        plan_glides(TROMBONE, midi("F3"), distances)


def test_lengths_are_said_as_short_as_they_are_read() -> None:
    names = {"horn-f": ("0", "T0", "T12"), "trombone-bass": ("3", "F+G♭+2")}
    said = [
        words.finger_words(Horn(INSTRUMENTS[key]).length(name))
        for key, lengths in names.items()
        for name in lengths
    ]
    assert said == ["open", "T open", "T 1 2", "3", "F G♭ 2"]


def test_a_cold_horn_is_told_once_and_a_usual_one_not() -> None:
    assert words.cold_words(TENOR_HORN) == ""


def test_the_slots_beside_a_note_are_those_of_its_lengths() -> None:
    # Sounding B♭3 on a B♭ cornet is the fourth slot open, over a pedal of B♭2 that lies at 46:
    # beside it B♭3's own octave, F4 and D5, but nothing between.
    beside = slots_beside(Horn(INSTRUMENTS["cornet-bb"]), 65)
    assert any(abs(slot - 58) < 0.1 for slot in beside)
    assert any(abs(slot - 70) < 0.1 for slot in beside)
    assert not any(66 < slot < 68.5 for slot in beside)
    assert list(beside) == sorted(beside)
