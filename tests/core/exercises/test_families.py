"""One exercise of each family, note by note from the rules of the job, and what is refused.

Notes are sounding. The slots of an open B♭ trombone are multiples of B♭1: B♭2, F3, B♭3, D4, F4,
(A♭4), B♭4, C5, D5; of an open cornet in B♭ an octave above that.
"""

import pytest

from orexis.core.exercises.book import FAMILIES, easing_families, find_family, task_of
from orexis.core.exercises.family import ExerciseRefusedError, Group
from orexis.core.exercises.sheet import drone_hz, sheet_of
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.setup import Horn, Setup
from orexis.core.horn.tuning import Temperament, Tuning
from orexis.core.score.steps import Articulation, Dynamic, Play, PlayedOn, Role, in_one_breath
from tests.core.exercises.writing import row, task, writer

TROMBONE, BASS, CORNET, TUBA = "trombone-tenor", "trombone-bass", "cornet-bb", "tuba-eb"
HORN = Horn(INSTRUMENTS[TROMBONE])

GOLDEN: list[tuple[str, str, dict[str, float | str], str]] = [
    ("breath", CORNET, {"counts_in": 4, "counts_out": 8}, "-4 ' -8"),
    (
        "first-buzz",
        CORNET,
        {"low_midi": "Bb3", "high_midi": "F4"},
        "F4/4 -4 Bb3/4 -4",
    ),
    ("siren", CORNET, {"low_midi": "Bb3", "high_midi": "Bb4"}, "Bb3/1 >Bb4/3 >Bb3/3 '"),
    ("sustained-buzz", CORNET, {"note_midi": "Bb3", "beats": 6}, "Bb3/6 '"),
    (
        "interval-buzz",
        CORNET,
        {"low_midi": "F4", "high_midi": "A4"},
        "F4/2 A4/2 -2 F4/2 A4/2 -2",
    ),
    (
        "slur-shape",
        CORNET,
        {"low_midi": "C4", "high_midi": "F4"},
        "C4/2 >F4/2 F4/2 >C4/2 C4/2 '",
    ),
    ("two-octave-glide", CORNET, {"low_midi": "Bb3"}, "Bb3/1 >Bb5/6 >Bb3/6 '"),
    (
        "interval-ladder",
        CORNET,
        {"from_midi": "Bb3", "widest": 4, "by": "major", "beats": 1},
        "Bb3/1 ~C4/1 ~Bb3/2 ' Bb3/1 ~D4/1 ~Bb3/2 '",
    ),
    (
        "low-long-tones",
        TROMBONE,
        {"from_midi": "Bb2", "notes": 3, "hold_s": 6},
        "Bb2/6 ' A2/6 ' Ab2/6 '",
    ),
    ("long-tone", TROMBONE, {"from_midi": "Bb2", "hold_s": 8}, "Bb2/8 '"),
    (
        "dynamics",
        TROMBONE,
        {"from_midi": "Bb2", "hold_s": 4},
        "Bb2/4 ' Bb2/4 ' Bb2/4 ' Bb2/4 ' Bb2/4 '",
    ),
    (
        "finding-the-centre",
        TROMBONE,
        {"from_midi": "Bb2"},
        "Bb2/2 ^25/2 ^-25/2 ~Bb2/4 '",
    ),
    (
        "lip-slur",
        TROMBONE,
        {"slot": 3, "slots": 3, "beats": 1},
        "F3/1 ~Bb3/1 ~D4/1 ~Bb3/1 ~F3/2 '",
    ),
    (
        "through-the-fingerings",
        CORNET,
        {"slot": 3, "beats": 1},
        "F4/1 ~Bb4/1 ~F4/2 ' E4/1 ~A4/1 ~E4/2 ' Eb4/1 ~Ab4/1 ~Eb4/2 ' D4/1 ~G4/1 ~D4/2 ' "
        "C#4/1 ~F#4/1 ~C#4/2 ' C4/1 ~F4/1 ~C4/2 ' B3/1 ~E4/1 ~B3/2 '",
    ),
    (
        "partial-pattern",
        TROMBONE,
        {"pattern": "4 5 4 3", "length": "2"},
        "A3/1 ~C#4/1 ~A3/1 ~E3/2 '",
    ),
    (
        "pyramid",
        TROMBONE,
        {"slot": 2, "slots": 4, "beats": 1},
        "Bb2/1 ~F3/1 ~Bb3/1 ~F3/1 ~Bb2/3 ' Bb2/1 ~F3/1 ~Bb3/1 ~D4/1 ~Bb3/1 ~F3/1 ~Bb2/3 '",
    ),
    (
        "pyramid",
        TROMBONE,
        {"slot": 2, "slots": 4, "beats": 1, "breaths": "one"},
        "Bb2/1 ~F3/1 ~Bb3/1 ~F3/1 ~Bb2/1 ~F3/1 ~Bb3/1 ~D4/1 ~Bb3/1 ~F3/1 ~Bb2/3 '",
    ),
    ("lip-slur", TROMBONE, {"slots": 3, "way": "up"}, "F3/2 ~Bb3/2 ~D4/4 '"),
    ("lip-slur", TROMBONE, {"slots": 3, "way": "down"}, "D4/2 ~Bb3/2 ~F3/4 '"),
    (
        "skip-slur",
        TROMBONE,
        {"slot": 4, "skips": 1},
        "F4/2 Bb3/2 F4/4 ' F4/2 ~Bb3/2 ~F4/4 '",
    ),
    (
        "shaped-slur",
        TROMBONE,
        {"slot": 3, "slots": 2},
        "F3/2 ~Bb3/2 ~F3/4 '",
    ),
    (
        "accelerating-slur",
        TROMBONE,
        {"slot": 4},
        "Bb3/1 ~D4/1 ~Bb3/1 ~D4/1 "
        + "~Bb3/1/2 ~D4/1/2 " * 4
        + "~Bb3/1/3 ~D4/1/3 " * 6
        + "~Bb3/1/4 ~D4/1/4 " * 8
        + "~Bb3/4 '",
    ),
    # F3 B♭3 F3 of the open horn, an octave lower.
    ("octave-down", BASS, {"slots": 2}, "F2/2 ~Bb2/2 ~F2/4 '"),
    (
        "buzz-then-play",
        TROMBONE,
        {"from_midi": "F3", "semitones": 5},
        "F3/2 Bb3/2 F3/2 -2 F3/2 ~Bb3/2 ~F3/4 '",
    ),
    (
        "interval-rhythms",
        TROMBONE,
        {"from_midi": "F3", "semitones": 5, "rhythm": "long-short"},
        "F3/3/2 ~Bb3/1/2 ~F3/3/2 ~Bb3/1/2 ~F3/4 '",
    ),
    (
        "bend",
        TROMBONE,
        {"from_midi": "F3", "semitones": 5, "bend": "whole"},
        "F3/2 ^200/4 ~F3/2 -2 F3/2 ~Bb3/4 '",
    ),
    (
        "bend",
        TROMBONE,
        {"from_midi": "F3", "semitones": -5, "bend": "whole", "on": "horn"},
        "F3/2 ^-200/4 ~F3/2 ' F3/2 ~C3/4 '",
    ),
    (
        "scales-and-arpeggios",
        TROMBONE,
        {"from_midi": "Bb2", "rows": 1},
        "Bb2/1/2 ~C3/1/2 ~D3/1/2 ~Eb3/1/2 ~F3/1/2 ~G3/1/2 ~A3/1/2 ~Bb3/1/2 "
        "~A3/1/2 ~G3/1/2 ~F3/1/2 ~Eb3/1/2 ~D3/1/2 ~C3/1/2 ~Bb2/2 '",
    ),
    (
        "low-long-tones",
        TROMBONE,
        {"from_midi": "F3", "notes": 4, "hold_s": 2, "way": "outward"},
        "F3/2 ' E3/2 ' F#3/2 ' Eb3/2 '",
    ),
    ("low-long-tones", TROMBONE, {"notes": 2, "hold_s": 2, "way": "up"}, "F3/2 ' F#3/2 '"),
    (
        # Up with the sixth and seventh raised, down without, from a whole step lower each time.
        "scales-and-arpeggios",
        TROMBONE,
        {"from_midi": "C3", "mode": "melodic-minor", "rows": 2, "each": "whole-down"},
        "C3/1/2 ~D3/1/2 ~Eb3/1/2 ~F3/1/2 ~G3/1/2 ~A3/1/2 ~B3/1/2 ~C4/1/2 "
        "~Bb3/1/2 ~Ab3/1/2 ~G3/1/2 ~F3/1/2 ~Eb3/1/2 ~D3/1/2 ~C3/2 ' "
        "Bb2/1/2 ~C3/1/2 ~C#3/1/2 ~Eb3/1/2 ~F3/1/2 ~G3/1/2 ~A3/1/2 ~Bb3/1/2 "
        "~Ab3/1/2 ~F#3/1/2 ~F3/1/2 ~Eb3/1/2 ~C#3/1/2 ~C3/1/2 ~Bb2/2 '",
    ),
    (
        "scales-and-arpeggios",
        TROMBONE,
        {
            "from_midi": "F2",
            "mode": "major-arpeggio",
            "octaves": 2,
            "way": "top-first",
            "turn": "ninth",
            "rows": 1,
            "how": "tongued",
            "breaths": "octave",
        },
        "F3/1/2 A3/1/2 C4/1/2 F4/1/2 ' A4/1/2 F4/1/2 ' C4/1/2 A3/1/2 F3/1/2 ' C3/1/2 A2/1/2 F2/2 '",
    ),
    (
        "scales-and-arpeggios",
        TROMBONE,
        {
            "from_midi": "Bb2",
            "mode": "dominant-seventh",
            "way": "down-up",
            "rows": 1,
            "how": "two-two",
        },
        "Bb3/1/2 ~Ab3/1/2 F3/1/2 D3/1/2 Bb2/1/2 ~D3/1/2 F3/1/2 Ab3/1/2 Bb3/2 '",
    ),
    (
        "chained-intervals",
        TROMBONE,
        {"from_midi": "F3", "semitones": 2, "rows": 2},
        "F3/1 ~Eb3/1 ~C#3/1 ~B2/1 ~A2/3 ' E3/1 ~D3/1 ~C3/1 ~Bb2/1 ~Ab2/3 '",
    ),
    (
        "low-scales",
        TROMBONE,
        {"from_midi": "F3", "rows": 1},
        "F3/1 ~Eb3/1 ~D3/1 ~C3/1 ~Bb2/1 ~C3/1 ~D3/1 ~Eb3/1 ~F3/2 '",
    ),
    (
        "couplets",
        TROMBONE,
        {"from_midi": "F3", "widest": 3},
        "F3/2 ~E3/4 ' F3/2 ~Eb3/4 ' F3/2 ~D3/4 '",
    ),
    (
        "pedal-arpeggio",
        TROMBONE,
        {},
        "Bb3/2 ~F3/2 ~D3/2 ~Bb2/2 ~F2/2 ~Bb1/6 '",
    ),
    # Three valves reach down to E3; between that and the pedal there is nothing.
    ("pedal-chromatic", CORNET, {"above": 7}, "F3/2 ~E3/2 ~Bb2/8 '"),
    ("easy-pedals", TROMBONE, {"notes": 2}, "Bb2/2 ~Bb1/4 ' A2/2 ~A1/4 '"),
    ("pedal-sets", TROMBONE, {"starts": 4}, "Bb1/6 ' Bb1/6 ' Bb1/6 ' Bb1/6 '"),
    ("double-pedals", TROMBONE, {}, "Bb0/2 -2"),
    (
        "glide-ladder",
        TROMBONE,
        {"from_midi": "D4", "rungs": 2},
        "D4/2 >Eb4/2 ~Eb4/4 ' Eb4/2 >E4/2 ~E4/4 '",
    ),
    (
        "expanding-glide",
        TROMBONE,
        {"from_midi": "F3", "widest": 2},
        "F3/2 >F#3/2 ~F#3/4 >F3/2 ~F3/2 ' F3/2 >G3/2 ~G3/4 >F3/2 ~F3/2 '",
    ),
    (
        "chromatic-ladder",
        CORNET,
        {"from_midi": "Bb4", "rungs": 2},
        "Bb4/2 ~B4/4 ' B4/2 ~C5/4 '",
    ),
    (
        "rising-triads",
        CORNET,
        {"from_midi": "Bb4", "rungs": 2},
        "Bb4/1 ~D5/1 ~F5/4 ' F4/2 ' B4/1 ~Eb5/1 ~F#5/4 ' F4/2 '",
    ),
    (
        "two-octave-scale",
        CORNET,
        {"from_midi": "F3", "variant": "arpeggio"},
        "F3/1 ~A3/1 ~C4/1 ~F4/1 ~A4/1 ~C5/1 ~F5/4 '",
    ),
    ("next-note", CORNET, {"from_midi": "F5"}, "F5/2 ~F#5/2 ~F5/4 '"),
    (
        "engaged-corners",
        CORNET,
        {"from_midi": "F4", "rows": 1},
        "F4/1/2 ~G4/1/2 ~A4/1/2 ~Bb4/1/2 ~C5/1/2 ~Bb4/1/2 ~A4/1/2 ~G4/1/2 ~F4/4 ' -4",
    ),
    (
        "light-hold-pyramid",
        CORNET,
        {"slot": 2, "slots": 3, "beats": 1},
        "Bb3/1 ~F4/1 ~Bb4/1 ~F4/1 ~Bb3/3 '",
    ),
    # The easy note is F4: down from G5 by fourths, folded back above it.
    (
        "cold-picks",
        CORNET,
        {"from_midi": "G5", "picks": 3},
        "-3 G5/3 ' -3 D5/3 ' -3 A4/3 '",
    ),
    (
        "melody",
        CORNET,
        {"from_midi": "C4", "tune": "ropewalk"},
        "C4/1/2 D4/1/2 E4/1/2 F4/1/2 G4/1 E4/1 F4/1 D4/1 E4/2 ' "
        "G4/1/2 F4/1/2 E4/1/2 D4/1/2 E4/1 C4/1 D4/1 D4/1 C4/2",
    ),
    (
        "own-line",
        TROMBONE,
        {"line": "F3:2 ~Bb3:1 -:1 ' F3:4", "semitones": 1},
        "F#3/2 ~B3/1 -1 ' F#3/4",
    ),
]


def test_every_family_has_a_golden_exercise_and_every_group_a_family() -> None:
    assert {family for family, *_ in GOLDEN} == set(FAMILIES)
    # What comes down again is of other groups.
    assert {family.group for family in FAMILIES.values()} == set(Group) - {Group.WARM_DOWN}
    assert easing_families()


@pytest.mark.parametrize(("family", "instrument", "values", "notes"), GOLDEN)
def test_an_exercise_is_written_as_the_rules_say(
    family: str, instrument: str, values: dict[str, float | str], notes: str
) -> None:
    assert " ".join(row(task(family, instrument, **values))) == notes


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_what_is_usual_is_on_every_horn_or_refused_with_a_way_on(instrument: str) -> None:
    horn = INSTRUMENTS[instrument]
    refused: dict[str, str] = {}
    for key, family in FAMILIES.items():
        try:
            score = task_of(family, writer(instrument), {}).score
        except ExerciseRefusedError as error:
            refused[key] = str(error)
            continue
        on_horn = [note for note in score.notes if note.on is PlayedOn.HORN]
        for note in on_horn:
            if not family.lips_alone:
                assert horn.lowest_midi <= note.midi <= horn.highest_midi
                assert note.length_name is not None
        bars = score.beats / score.beats_in_bar
        assert score.tempo_bpm is None or (4 * bars).denominator == 1
    on_valves = {"glide-ladder", "expanding-glide"}
    heavy = {"light-hold-pyramid"} if horn.family.startswith(("Tubas", "Baritones")) else set()
    # A reason, then what to do instead.
    assert all(len(reason.rstrip(".").split(". ")) == 2 for reason in refused.values())
    assert set(refused) - {"octave-down", "double-pedals"} == heavy | (
        set() if horn.is_slide else on_valves
    )


@pytest.mark.parametrize(
    ("before", "now"),
    [
        ("slot-slur", "lip-slur"),
        ("slot-pattern", "partial-pattern"),
        ("through-the-lengths", "through-the-fingerings"),
    ],
)
def test_a_key_of_before_still_finds_its_family(before: str, now: str) -> None:
    assert find_family(before) is FAMILIES[now]


def test_families_lead_to_each_other_and_say_why_they_are_there() -> None:
    for family in FAMILIES.values():
        for other in (*family.leads_to, *family.falls_back_to):
            assert other in FAMILIES
        words = family.words
        assert all((words.why, words.listen, words.wrong, words.remedy))


@pytest.mark.parametrize(("breaths", "count"), [("rounds", 3), ("one", 1)])
def test_only_the_first_note_of_a_breath_of_a_pyramid_is_tongued(breaths: str, count: int) -> None:
    score = task("pyramid", TROMBONE, slots=5, breaths=breaths).score
    notes = score.notes
    assert [note.articulation for note in notes].count(Articulation.TONGUED) == count
    assert len(in_one_breath(score.steps)) == count


def test_an_octave_down_is_played_on_a_trigger_or_the_fourth_valve() -> None:
    notes = task("octave-down", BASS, slots=2).score.notes
    assert [(note.length_name, note.partial) for note in notes] == [
        ("F+1", 2),
        ("F+3", 3),
        ("F+1", 2),
    ]
    valves = task("octave-down", "euphonium-bb-4v", slot=4, slots=2).score.notes
    assert all("4" in str(note.length_name) for note in valves)


def test_a_bend_shows_the_fingering_of_the_next_note() -> None:
    bend = task("bend", "cornet-bb", from_midi="F4", semitones=-1, on="horn")
    sheet = sheet_of(bend, Horn(INSTRUMENTS["cornet-bb"]))
    # Sounding F4 is open on the cornet, E4 is played with the second valve.
    assert [note.way and note.way.length.name for note in sheet.notes] == ["2", "2", "0", "2"]
    on_the_mouthpiece = task("bend", "cornet-bb", from_midi="F4", semitones=-1)
    ahead = sheet_of(on_the_mouthpiece, Horn(INSTRUMENTS["cornet-bb"])).notes[0]
    assert ahead.way is not None
    assert ahead.way.length.name == "2"
    with pytest.raises(ExerciseRefusedError, match="bends down only"):
        task("bend", "cornet-bb", from_midi="F4", semitones=1, on="horn")


def test_five_dynamics_go_from_very_soft_to_very_loud() -> None:
    notes = task("dynamics", TROMBONE).score.notes
    assert [note.dynamic.value for note in notes] == ["pp", "p", "mf", "f", "ff"]
    (grown,) = task("dynamics", TROMBONE, shape="crescendo").score.notes
    assert (grown.dynamic, grown.grows_to) == (Dynamic.PP, Dynamic.FF)


def test_a_shaped_slur_goes_either_way() -> None:
    order = list(Dynamic)
    for shape, rises in (("grow", True), ("open-close", False)):
        score = task("shaped-slur", TROMBONE, slots=3, dynamics=shape).score
        loud = [order.index(note.dynamic) for note in score.notes]
        assert (loud[0] < loud[2]) is rises
        assert loud[0] == loud[-1]


def test_pedals_take_the_longest_tube_that_reaches_them_unless_told_otherwise() -> None:
    (pedal, *_) = task("pedal-sets", BASS, pedal_midi="F1").score.notes
    # F1 is the pedal of the F trigger in first; on the open slide it is sixth.
    assert (pedal.partial, pedal.length_name) == (1, "F+1")
    usual = task("pedal-sets", BASS, pedal_midi="Bb1", tube="usual").score.notes[0]
    assert usual.length_name == "1"


def test_a_set_of_breath_starts_grows_in_its_second_half() -> None:
    notes = task("pedal-sets", TROMBONE, starts=10).score.notes
    assert {note.articulation for note in notes} == {Articulation.BREATH}
    assert [note.dynamic for note in notes] == [Dynamic.MF] * 5 + [Dynamic.F] * 5


def test_between_triads_the_lips_come_back_together_on_a_low_note() -> None:
    score = task("rising-triads", CORNET).score
    between = [note for note in score.notes if note.role is Role.RE_CENTRE]
    assert {note.midi for note in between} == {INSTRUMENTS[CORNET].start_midi}
    assert {note.articulation for note in between} == {Articulation.BREATH}


def test_same_pitch_alternation_has_one_note_on_two_lengths() -> None:
    score = task("accelerating-slur", CORNET, kind="same-pitch", slot=6).score
    assert len(set(score.pitches)) == 1
    assert len({note.length_name for note in score.notes}) == 2


@pytest.mark.parametrize(
    ("family", "instrument", "values", "reason"),
    [
        ("skip-slur", CORNET, {"slot": 10, "skips": 2}, "there is none to skip to"),
        ("glide-ladder", CORNET, {}, "Valves cannot glide"),
        # No slot of the tenor trombone has both E2 and C3 on it within the slide.
        ("expanding-glide", TROMBONE, {"from_midi": "Bb3", "widest": 6}, "cannot glide"),
        ("light-hold-pyramid", TUBA, {}, "too heavy"),
        ("octave-down", CORNET, {}, "neither trigger nor fourth valve"),
        ("double-pedals", TUBA, {}, "what can be heard"),
        ("pyramid", CORNET, {"slots": 9, "beats": 2}, "on one breath"),
        ("chained-intervals", CORNET, {"semitones": 12}, "and the horn to"),
        ("two-octave-scale", CORNET, {"from_midi": "C4", "variant": "third-octave"}, "goes up to"),
        ("couplets", CORNET, {"from_midi": "F3", "widest": 3}, "The horn has no"),
        ("partial-pattern", CORNET, {"pattern": "three four"}, "as numbers in a row"),
        ("partial-pattern", CORNET, {"pattern": "4"}, "2 to 32 partials"),
        ("partial-pattern", CORNET, {"pattern": "4 15"}, "no partial 15"),
        ("siren", CORNET, {"low_midi": "Bb4", "high_midi": "Bb3"}, "must lie above"),
        ("bend", CORNET, {"semitones": 0}, "needs a distance"),
        ("bend", CORNET, {"from_midi": "Bb5", "semitones": 12}, "not on this horn"),
        ("low-scales", CORNET, {"how": "glided"}, "Only a slide"),
        ("melody", CORNET, {"octaves": 2}, "fewer octaves"),
        ("low-long-tones", CORNET, {"from_midi": "Bb2", "notes": 12}, "below the horn's lowest"),
        ("long-tone", CORNET, {"hold_s": 0}, "hold: 1 to 60 s, not 0"),
        ("long-tone", CORNET, {"hold_s": "long"}, "is not a number"),
        ("long-tone", CORNET, {"from_midi": "C2"}, "here, not C2"),
        ("long-tone", CORNET, {"colour": "red"}, "has no colour to set"),
        ("melody", CORNET, {"tune": "another"}, "choose"),
        ("partial-pattern", CORNET, {"pattern": "3 " * 40}, "1 to 40 characters"),
    ],
)
def test_nonsense_is_refused_with_the_reason(
    family: str, instrument: str, values: dict[str, float | str], reason: str
) -> None:
    with pytest.raises(ExerciseRefusedError, match=reason):
        task(family, instrument, **values)


def test_a_misspelled_family_is_told_of_the_nearest() -> None:
    with pytest.raises(ExerciseRefusedError, match="pyramid"):
        find_family("piramid")


def test_a_free_score_counts_a_second_a_beat_and_one_in_time_as_its_tempo_says() -> None:
    assert task("long-tone", CORNET, hold_s=8).score.seconds == 8
    # Twelve beats at 60, and at 120 half of it.
    assert task("breath", CORNET, tempo=60).score.seconds == 12
    assert task("breath", CORNET, tempo=120).score.seconds == 6


def test_reference_notes_are_heard_and_not_asked_for() -> None:
    roles = [note.role for note in task("interval-buzz", CORNET).score.notes]
    assert roles == [Role.REFERENCE, Role.REFERENCE, Role.ASKED, Role.ASKED]
    assert all(isinstance(note, Play) for note in task("interval-buzz", CORNET).score.notes)


@pytest.mark.parametrize(
    ("pedal", "tube"),
    # On F and G♭ triggers together the open horn is in D: D in first, D♭ in second, C in third.
    [("E1", "F+2"), ("D1", "F+G♭+1"), ("C#1", "F+G♭+2"), ("C1", "F+G♭+3"), ("Bb1", "1")],
)
def test_of_tubes_as_long_the_one_with_more_triggers_is_taken(pedal: str, tube: str) -> None:
    (first, *_) = task("pedal-sets", BASS, pedal_midi=pedal).score.notes
    assert first.length_name == tube


def test_couplets_go_down_by_half_steps_or_through_the_scale_slurred_or_tongued() -> None:
    # Under B♭ the scale of B♭ major has A, G and F: one, three and five half steps.
    through = task("couplets", TROMBONE, from_midi="Bb2", widest=5, by="major", beats=1)
    assert through.score.pitches[1::2] == (45, 43, 41)
    minor = task("couplets", TROMBONE, from_midi="Bb2", widest=5, by="minor", beats=1)
    assert minor.score.pitches[1::2] == (44, 42, 41)
    begun = {note.articulation for note in task("couplets", TROMBONE, how="tongued").score.notes}
    assert begun == {Articulation.TONGUED}


def test_an_interval_ladder_goes_up_or_down_and_past_the_octave() -> None:
    down = task("interval-ladder", CORNET, from_midi="C5", widest=3, way="down")
    assert down.score.pitches[1::3] == (71, 70, 69)
    wide = task("interval-ladder", CORNET, from_midi="Bb3", widest=16, by="major")
    assert [midi - 58 for midi in wide.score.pitches[1::3]] == [2, 4, 5, 7, 9, 11, 12, 14, 16]
    with pytest.raises(ExerciseRefusedError, match="no interval as narrow"):
        task("interval-ladder", CORNET, widest=1, by="major")
    with pytest.raises(ExerciseRefusedError, match="smaller widest interval"):
        task("interval-ladder", CORNET, from_midi="Bb5", widest=24)


def test_double_pedals_are_started_slurred_or_glided_into() -> None:
    assert row(task("double-pedals", TROMBONE, how="slurred")) == ["Bb1/2", "~Bb0/2", "-2"]
    assert row(task("double-pedals", TROMBONE, how="glided")) == ["Bb1/2", ">Bb0/2", "~Bb0/2", "-2"]
    with pytest.raises(ExerciseRefusedError, match="choose started, slurred"):
        task("double-pedals", "euphonium-bb", how="glided")


@pytest.mark.parametrize(
    ("family", "values"),
    [
        ("siren", {}), ("sustained-buzz", {}), ("interval-buzz", {}), ("slur-shape", {}),
        ("two-octave-glide", {}), ("bend", {"semitones": 4.0}), ("buzz-then-play", {}),
    ],
)  # fmt: skip
def test_what_is_buzzed_can_be_buzzed_in_the_leadpipe_where_there_is_one(
    family: str, values: dict[str, float]
) -> None:
    notes = task(family, TROMBONE, on="leadpipe", **values).score.notes
    assert {note.on for note in notes} - {PlayedOn.HORN} == {PlayedOn.LEADPIPE}
    hands = [note.hand for note in sheet_of(task(family, TROMBONE, on="leadpipe"), HORN).notes]
    assert hands[0] == "mouthpiece in the leadpipe, slide out"
    # The slides of a tuba lie behind its valves.
    with pytest.raises(ExerciseRefusedError, match=r"has no on to set|choose mouthpiece"):
        task(family, TUBA, on="leadpipe")


def test_a_melody_is_in_tune_with_what_is_set() -> None:
    # On B♭ the just third lies 13.7 cents low, the fifth 2.0 high, whatever the horn is tuned to.
    tune = {"tune": "lamp-is-lit", "from_midi": "Bb2"}
    own = Horn(INSTRUMENTS[TROMBONE], Setup(tuning=Tuning(Temperament.JUST, 2)))
    pure = task("melody", TROMBONE, tuning="pure", **tune).tuning(own)
    assert pure.offset_cents(50) == pytest.approx(-13.69, abs=0.01)
    assert pure.offset_cents(53) == pytest.approx(1.96, abs=0.01)
    equal = task("melody", TROMBONE, tuning="equal", **tune)
    assert equal.tuning(own).offset_cents(50) == 0
    assert "equal temperament" in equal.setting
    usual = task("melody", TROMBONE, **tune)
    assert usual.tuning(own) == own.setup.tuning
    assert "tuning" not in usual.setting
    # What has no key is pure on its first note.
    line = task("interval-ladder", TROMBONE, from_midi="C3", tuning="pure")
    assert line.tuning(own).offset_cents(52) == pytest.approx(-13.69, abs=0.01)


def test_targets_and_the_drone_lie_where_the_exercise_is_in_tune() -> None:
    pure = task("interval-ladder", TROMBONE, from_midi="Bb2", by="major", tuning="pure")
    targets = {note.note.midi: note.target_cents for note in sheet_of(pure, HORN).notes}
    assert targets[46] == 0
    assert targets[50] == pytest.approx(-13.69, abs=0.01)
    # B♭2 sounds at 116.54 Hz.
    assert drone_hz(pure, HORN) == pytest.approx(116.54, abs=0.01)


@pytest.mark.parametrize("family", ["long-tone", "dynamics", "finding-the-centre"])
def test_one_note_is_played_in_the_fingering_or_position_that_is_set(family: str) -> None:
    # F3 is partial 3 in first, and partial 4 of the slide in sixth, which is a fourth lower.
    there = task(family, TROMBONE, from_midi="F3", hand="6").score.notes
    assert {(note.length_name, note.partial) for note in there} == {("6", 4)}
    usual = task(family, TROMBONE, from_midi="F3")
    assert usual.score.notes[0].length_name == "1"
    assert "usual" not in usual.setting
    with pytest.raises(ExerciseRefusedError, match="F3 cannot be had there"):
        task(family, TROMBONE, from_midi="F3", hand="2")
