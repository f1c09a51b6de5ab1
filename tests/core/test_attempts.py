"""Whole attempts: every aim's limit, told from events made by hand, and the stand-in's playing."""

from dataclasses import replace

import pytest

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.judging.aim_words import WORDS, limit_words, number_words
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempt_words import attempt_lines, said_of
from orexis.core.judging.attempts import (
    AimResult,
    StepOutcome,
    Verdict,
    foremost,
    judge,
    judge_attempt,
    outcomes,
)
from orexis.core.judging.matching import Place, last_reached, lay_beside
from orexis.core.judging.standard import Standard
from orexis.core.listening.analysis import analyse
from orexis.core.listening.notes.events import (
    Change,
    Events,
    Glide,
    Note,
    TouchedSlot,
    Transition,
)
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.tone import Tone
from orexis.formats.attempt import attempt_document
from orexis.standin.performance import perform
from orexis.standin.reading import as_played, voice_of
from orexis.standin.spoiling import spoiled
from tests.core.exercises.writing import task

TROMBONE = Horn(INSTRUMENTS["trombone-tenor"])
CLEAN = NoteMeasures(0, 2, 0, 0, 0.1, 0, 2.0, None, -20, 0)
SLUR = Transition(Change.SLUR, 0, 0.04, 0, (), 0, 0, 0, 0)
BREATH = replace(SLUR, kind=Change.BREATH, gap_s=0.6)
TONGUED = replace(SLUR, kind=Change.TONGUED, gap_s=0.05)
# F3 B♭3 F3 slurred: the third and fourth slots of the open horn.
PAIR = task("lip-slur", "trombone-tenor", times=1)


def note(midi: int, place: int = 0, **measures: float) -> Note:
    """A clean two-second note, three seconds after the one before."""
    measured = replace(CLEAN, **measures)  # type: ignore[arg-type]
    return Note(300 * place, 300 * place + 200, hz_from_midi(midi), midi, measured, 30, 2)


def three(first: Transition = SLUR, second: Transition = SLUR, **middle: float) -> Events:
    notes = (note(53), note(58, 1, **middle), note(53, 2))
    return Events(notes, (first, second))


def result(verdict: Verdict, aim: Aim) -> AimResult:
    return next(result for result in verdict.results if result.aim is aim)


def pair(events: Events, aim: Aim, level: Standard = Standard.NORMAL) -> AimResult:
    return result(judge_attempt(PAIR, events, TROMBONE, level), aim)


def test_a_clean_attempt_passes_and_tells_how_often_it_went_well() -> None:
    verdict = judge_attempt(PAIR, three(), TROMBONE)
    assert verdict.passed
    assert verdict.worst is None
    assert [(result.right, result.chances) for result in verdict.results] == [
        *[(2, 2)] * 4,
        (3, 3),
        *[(2, 2)] * 2,
    ]


@pytest.mark.parametrize(
    ("aim", "change", "least_bad"),
    [
        # Strict, normal and kind: 40, 60, 90 ms of gap; 30, 45, 60 ms of a slot touched.
        (Aim.GAP, {"gap_s": 0.05}, Standard.STRICT),
        (Aim.GAP, {"gap_s": 0.08}, Standard.NORMAL),
        (Aim.GAP, {"gap_s": 0.1}, Standard.KIND),
        (Aim.TOUCHED, {"touched": (TouchedSlot(56, 0.04),)}, Standard.STRICT),
        (Aim.TOUCHED, {"touched": (TouchedSlot(56, 0.05),)}, Standard.NORMAL),
        (Aim.TOUCHED, {"touched": (TouchedSlot(56, 0.07),)}, Standard.KIND),
        (Aim.FLIPPED, {"flipped": TouchedSlot(62, 0.04)}, Standard.STRICT),
        (Aim.FLIPPED, {"flipped": TouchedSlot(62, 0.07)}, Standard.KIND),
        (Aim.WANING, {"waning_db": 3.5}, Standard.KIND),
    ],
)
def test_a_change_is_held_to_its_limit_at_each_level(
    aim: Aim, change: dict[str, object], least_bad: Standard
) -> None:
    events = three(second=replace(SLUR, **change))  # type: ignore[arg-type]
    levels = list(Standard)
    for level in levels:
        result = pair(events, aim, level)
        assert result.passed is (levels.index(level) > levels.index(least_bad))
    assert (result.right, result.chances) == ((2, 2) if result.passed else (1, 2))
    # It was before the last note.
    assert result.at is not None
    assert result.at.step == 2


def test_a_note_that_does_not_speak_comes_first_in_what_is_said() -> None:
    verdict = judge_attempt(PAIR, Events((note(53), note(53, 2)), (BREATH,)), TROMBONE)
    missed = result(verdict, Aim.SPOKE)
    assert (missed.passed, missed.right, missed.chances) == (False, 2, 3)
    said = said_of(PAIR, verdict, note_name)
    assert said.headline == "B♭3 did not sound."
    assert said.change == "Hear each note before you play it, and keep the air going to it."


def test_what_cannot_be_told_fails_nothing() -> None:
    verdict = judge_attempt(PAIR, Events(), TROMBONE)
    assert result(verdict, Aim.GAP).untold
    assert result(verdict, Aim.GAP).passed
    assert not result(verdict, Aim.SPOKE).passed


@pytest.mark.parametrize(
    ("aim", "measures", "passed"),
    [
        (Aim.CENTRE, {"centre_cents": 14.0}, True),
        (Aim.CENTRE, {"centre_cents": -16.0}, False),
        (Aim.STEADY, {"spread_cents": 9.5}, False),
        (Aim.START, {"scoop_cents": -31.0}, False),
        (Aim.START, {"scoop_cents": 29.0}, True),
        (Aim.END, {"sag_cents": -21.0}, False),
        (Aim.HELD, {"hold_s": 3.9}, False),
        (Aim.HELD, {"hold_s": 4.0}, True),
    ],
)
def test_one_held_note_is_held_to_the_limits_of_the_gate(
    aim: Aim, measures: dict[str, float], passed: bool
) -> None:
    tone = task("long-tone", "trombone-tenor", hold_s=4)
    held = replace(note(53, 0, **{"hold_s": 4.5, **measures}), last=450)
    assert result(judge_attempt(tone, Events((held,)), TROMBONE), aim).passed is passed


def test_the_centre_is_against_the_players_own_tuning() -> None:
    # Over a drone on B♭ the just third D lies 13.7 cents low.
    from orexis.core.horn.setup import Setup
    from orexis.core.horn.tuning import Temperament, Tuning

    just = Horn(INSTRUMENTS["trombone-tenor"], Setup(tuning=Tuning(Temperament.JUST, 10)))
    tone = task("long-tone", "trombone-tenor", from_midi="D3")
    heard = Events((note(50, centre_cents=-13.7, hold_s=5),))
    assert result(judge_attempt(tone, heard, just), Aim.CENTRE).measured == pytest.approx(
        0, abs=0.1
    )
    assert result(judge_attempt(tone, heard, TROMBONE), Aim.CENTRE).measured == -13.7


def test_a_crack_is_one_however_good_the_rest() -> None:
    tone = task("long-tone", "trombone-tenor")
    cracked = replace(note(53, hold_s=5), cracked_from_midi=46)
    verdict = judge_attempt(tone, Events((cracked,)), TROMBONE)
    assert said_of(tone, verdict, note_name).headline == "Cracked at the start."


def test_more_breaths_than_there_are_are_counted() -> None:
    pattern = task("partial-pattern", "trombone-tenor", pattern="3 4 3", times=1)
    verdict = judge_attempt(pattern, three(second=BREATH), TROMBONE)
    assert result(verdict, Aim.ONE_BREATH).measured == 1
    assert result(judge_attempt(pattern, three(), TROMBONE), Aim.ONE_BREATH).passed


def test_evenness_is_the_variation_of_the_time_from_note_to_note() -> None:
    pattern = task("partial-pattern", "trombone-tenor", pattern="3 4 3 4", times=1)
    # Onsets at 0, 1, 2 and 4 s: 1, 1 and 2 beats vary by √(2/9) / (4/3) = 35 %.
    notes = tuple(
        replace(note(midi), first=first, last=first + 50)
        for midi, first in ((53, 0), (58, 100), (53, 200), (58, 400))
    )
    even = result(judge_attempt(pattern, Events(notes, (SLUR,) * 3), TROMBONE), Aim.EVEN)
    assert even.measured == pytest.approx(35.4, abs=0.1)
    assert not even.passed


def test_the_same_sound_from_end_to_end_is_a_level_and_not_asked_of_what_grows() -> None:
    chain = task("couplets", "trombone-tenor", from_midi="F3", widest=1)
    softer = Events((note(53), note(52, 1, level_db=-25)), (SLUR,))
    assert result(judge_attempt(chain, softer, TROMBONE), Aim.SAME_SOUND).measured == -5
    grown = task("two-octave-scale", "trombone-tenor")
    assert Aim.SAME_SOUND not in grown.aims


def test_a_dynamic_asked_for_is_heard_in_the_note_or_from_note_to_note() -> None:
    growing = task("dynamics", "trombone-tenor", shape="crescendo", from_midi="F3")
    for change_db, passed in ((4.0, True), (2.0, False), (-4.0, False)):
        heard = Events((note(53, level_change_db=change_db),))
        assert result(judge_attempt(growing, heard, TROMBONE), Aim.SHAPE).passed is passed
    shaped = task("shaped-slur", "trombone-tenor", slots=2, dynamics="open-close", times=1)
    # Loud low, soft high: the middle note must be the softest.
    for level_db, passed in ((-26.0, True), (-15.0, False)):
        verdict = judge_attempt(shaped, three(level_db=level_db), TROMBONE)
        assert result(verdict, Aim.SHAPE).passed is passed


def glide(low: int, high: int, breaks: int = 0) -> Glide:
    return Glide(0, 3, hz_from_midi(low), hz_from_midi(high), high - low, 2, breaks, 5)


def test_a_siren_is_held_to_its_span_and_to_being_one_line() -> None:
    siren = task("siren", "trombone-tenor", low_midi="F3", high_midi="F4", times=1)
    whole = judge_attempt(siren, Events((), (), (glide(53, 65),)), TROMBONE)
    assert whole.passed
    short = judge_attempt(siren, Events((), (), (glide(54, 63),)), TROMBONE)
    # One half step short below, two above.
    assert result(short, Aim.SPAN).measured == pytest.approx(3)
    for broken in ((glide(53, 65, breaks=1),), (glide(53, 60), glide(61, 65))):
        assert not result(judge_attempt(siren, Events((), (), broken), TROMBONE), Aim.BREAKS).passed
    nothing = judge_attempt(siren, Events(), TROMBONE)
    assert said_of(siren, nothing, note_name).headline == (
        "The glide stayed 12.0 half steps short."
    )


def test_a_slot_that_catches_on_a_glide_and_an_end_that_is_weaker_are_told() -> None:
    ladder = task("expanding-glide", "trombone-tenor", from_midi="F3", widest=1)
    up = replace(SLUR, kind=Change.GLIDE)
    good = Events((note(53), note(54, 1), note(53, 2)), (up, up))
    assert judge_attempt(ladder, good, TROMBONE).passed
    caught = Events(
        (note(53), replace(note(53, 1), midi=60), note(54, 2), note(53, 3)), (up, up, up)
    )
    assert not result(judge_attempt(ladder, caught, TROMBONE), Aim.NO_CATCH).passed
    weak = Events((note(53), note(54, 1, level_db=-27), note(53, 2)), (up, up))
    ends = result(judge_attempt(ladder, weak, TROMBONE), Aim.ENDS_ALIKE)
    assert (ends.passed, ends.measured) == (False, -7)


def test_a_bend_that_does_not_come_back_is_told_with_how_far() -> None:
    bend = task("bend", "trombone-tenor", from_midi="F3", semitones=-5, times=1)
    bent = note(53, lowest_cents=-100)
    notes = (bent, note(53, 1, centre_cents=-25), note(53, 2), note(48, 3))
    verdict = judge_attempt(bend, Events(notes, (SLUR, BREATH, SLUR)), TROMBONE)
    assert result(verdict, Aim.CAME_BACK).measured == -25
    assert said_of(bend, verdict, note_name).headline == (
        "F3 (2nd) came back 25 cents flat (15 allowed)."
    )


def test_where_it_was_is_told_from_other_notes_of_that_name_and_other_times() -> None:
    twice = task("lip-slur", "trombone-tenor", times=2)
    notes = tuple(note(midi, place) for place, midi in enumerate((53, 58, 53, 53, 58, 53)))
    changes = (SLUR, SLUR, BREATH, SLUR, replace(SLUR, gap_s=0.2))
    verdict = judge_attempt(twice, Events(notes, changes), TROMBONE)
    said = said_of(twice, verdict, note_name).headline
    assert said == "A 200 ms gap before F3 (2nd) of repeat 2 (60 allowed)."
    lines = attempt_lines(twice, verdict, note_name)
    assert "  connected: not yet, 200 ms (60 allowed, 3 of 4 good)" in lines
    assert "  every note sounds: good, all" in lines


def test_the_document_of_an_attempt_names_every_aim_with_its_place() -> None:
    seen = lay_beside(PAIR, three(second=replace(SLUR, gap_s=0.2)), TROMBONE)
    verdict = judge(seen, Standard.NORMAL)
    document = attempt_document(PAIR, verdict, note_name, Standard.NORMAL, seen.answers)
    assert (document["family"], document["passed"]) == ("lip-slur", False)
    assert (document["level"], document["mismatch"]) == ("normal", None)
    gap = next(aim for aim in document["aims"] if aim["aim"] == "gap")
    assert (gap["measured"], gap["limit"], gap["unit"], gap["step"]) == (200, 60, "ms", 2)
    assert gap["places"] == [{"step": 2, "time": 0}]
    assert [(note["step"], note["midi"], note["spoke"]) for note in document["notes"]] == [
        (0, 53, True),
        (1, 58, True),
        (2, 53, True),
    ]
    assert document["notes"][1]["heard"] == {
        "midi": 58,
        "off_cents": 0.0,
        "start_s": 3.0,
        "end_s": 5.0,
    }


def test_every_aim_has_a_rule_and_words() -> None:
    assert set(RULES) == set(WORDS) == set(Aim)
    for aim, rule in RULES.items():
        if rule.limits is None:
            assert aim is Aim.HELD
            continue
        strict, normal, kind = rule.limits
        ordered = (strict >= normal >= kind) if rule.least else (strict <= normal <= kind)
        assert ordered, aim


# F3, held for four seconds.
HELD = task("long-tone", "trombone-tenor", from_midi="F3", hold_s=4)


def held(standard: Standard | None = None, **measures: float) -> Verdict:
    """The verdict on F3, held well for five seconds but for some measures."""
    one = replace(note(53, 0, **{"hold_s": 4.9, **measures}), last=500)
    return judge_attempt(HELD, Events((one,)), TROMBONE, standard or Standard.NORMAL)


def read(verdict: Verdict, aim: Aim) -> tuple[str, str]:
    """An aim's number and its unit."""
    return number_words(result(verdict, aim))


@pytest.mark.parametrize(
    ("level", "centre", "spread", "scoop", "sag"),
    [("strict", 10, 6, 20, 15), ("normal", 15, 9, 30, 20), ("kind", 20, 13, 45, 30)],
)
def test_each_level_lets_through_exactly_its_limits(
    level: str, centre: float, spread: float, scoop: float, sag: float
) -> None:
    standard = Standard(level)
    at = {"centre_cents": -centre, "spread_cents": spread}
    assert held(standard, **at, scoop_cents=-scoop, sag_cents=-sag).passed
    for beyond in (
        {"centre_cents": centre + 0.1},
        {"spread_cents": spread + 0.1},
        {"scoop_cents": scoop + 0.1},
        {"sag_cents": -sag - 0.1},
    ):
        assert not held(standard, **beyond).passed


def test_a_note_held_too_short_fails_whatever_the_level() -> None:
    verdict = held(Standard.KIND, hold_s=3.96)
    (failed,) = [result for result in verdict.results if not result.passed]
    assert failed.aim is Aim.HELD
    assert number_words(failed) == ("3.9", "s")
    assert limit_words(failed) == "4 s asked"


def test_the_one_thing_to_change_is_what_was_missed_by_most() -> None:
    # Scoop 45 of 30 is 1.5 times its limit; centre 18 of 15 is 1.2 times.
    verdict = held(centre_cents=18, scoop_cents=-45)
    assert verdict.worst is not None
    assert verdict.worst.aim is Aim.START
    said = said_of(HELD, verdict, note_name)
    assert said.headline == "Scooped: started 45 cents flat (30 allowed)."
    assert "start right on it" in said.change


@pytest.mark.parametrize(
    ("measures", "headline"),
    [
        ({"centre_cents": -22.4}, "22 cents flat (15 allowed)."),
        ({"centre_cents": 22.4}, "22 cents sharp (15 allowed)."),
        ({"spread_cents": 12.0}, "Wavered by ± 12 cents (9 allowed)."),
        ({"scoop_cents": 50.0}, "Started 50 cents sharp (30 allowed)."),
        ({"sag_cents": -30.0}, "Ended 30 cents flat (20 allowed)."),
        ({"sag_cents": 30.0}, "Ended 30 cents sharp (20 allowed)."),
        ({"hold_s": 1.55}, "Held 1.5 s of 4 s."),
    ],
)
def test_a_fault_is_named_and_comes_with_advice(measures: dict[str, float], headline: str) -> None:
    said = said_of(HELD, held(None, **measures), note_name)
    assert said.headline == headline
    assert said.change


def test_among_several_notes_the_one_at_fault_is_named() -> None:
    low = Events((note(58), note(57, 1, centre_cents=-22), note(56, 2)), (BREATH, BREATH))
    three_low = task("low-long-tones", "trombone-tenor", from_midi="Bb3", notes=3, hold_s=1)
    verdict = judge_attempt(three_low, low, TROMBONE)
    assert said_of(three_low, verdict, note_name).headline == "A3 was 22 cents flat (15 allowed)."
    # Each note is followed by a breath.
    assert verdict.missed == (Place(2),)
    assert [outcome.value for outcome in outcomes(three_low, verdict).values()] == [
        "met",
        "missed",
        "met",
    ]


def test_a_pass_says_good_and_no_more() -> None:
    said = said_of(HELD, held(), note_name)
    assert (said.headline, said.change) == ("Good.", "")


def test_the_player_may_say_otherwise() -> None:
    said = said_of(HELD, held(centre_cents=40), note_name, overruled_passed=True)
    assert said.headline == "You say: good."
    assert said.change == "Orexis said: 40 cents sharp (15 allowed)."


def test_a_wrong_note_is_named() -> None:
    verdict = judge_attempt(HELD, Events((replace(note(58, hold_s=4.9), last=500),)), TROMBONE)
    assert said_of(HELD, verdict, note_name).headline == "You played B♭3 instead of F3."
    assert outcomes(HELD, verdict) == {0: StepOutcome.SILENT}
    wrong = Events((note(53), note(57, 1), note(53, 2)), (SLUR, SLUR))
    among = said_of(PAIR, judge_attempt(PAIR, wrong, TROMBONE), note_name)
    assert among.headline == "You played A3 instead of B♭3."


def test_numbers_are_read_with_their_direction() -> None:
    verdict = held(centre_cents=-3.2, scoop_cents=5)
    assert read(verdict, Aim.CENTRE)[1] == "cents flat"
    assert read(verdict, Aim.START)[1] == "cents sharp"
    assert read(verdict, Aim.END)[1] == "cents"
    aims = (Aim.CENTRE, Aim.STEADY, Aim.START, Aim.END, Aim.SPEAKS)
    assert [read(verdict, aim)[0] for aim in aims] == ["3", "± 2", "5", "0", "at once"]


def test_a_crack_fails_whatever_the_level() -> None:
    cracked = replace(note(53, hold_s=4.9), last=500, cracked_from_midi=46)
    verdict = judge_attempt(HELD, Events((cracked,)), TROMBONE, Standard.KIND)
    assert verdict.worst is not None
    assert verdict.worst.aim is Aim.SPEAKS
    assert read(verdict, Aim.SPEAKS) == ("cracked", "")


# The tone of what `held` plays.
OWN = Tone(53, -20, 30, 2, 0, 2)


def beside(level: str, *passed: Tone) -> Verdict:
    """The verdict on F3 held well, when some notes have passed before it."""
    one = replace(note(53, 0, hold_s=4.9), last=500)
    return judge_attempt(HELD, Events((one,)), TROMBONE, Standard(level), passed)


@pytest.mark.parametrize(("level", "off_db"), [("strict", 3), ("normal", 4), ("kind", 6)])
def test_the_level_is_held_against_the_last_that_passed(level: str, off_db: float) -> None:
    assert beside(level, replace(OWN, level_db=-20 - off_db)).passed
    verdict = beside(level, replace(OWN, level_db=-20.6 - off_db))
    assert [result.aim for result in verdict.results if not result.passed] == [Aim.LEVEL]
    assert read(verdict, Aim.LEVEL) == (f"{off_db + 0.6:.0f}", "dB louder")


@pytest.mark.parametrize(("level", "match"), [("strict", 80), ("normal", 70), ("kind", 60)])
def test_the_tone_is_held_against_the_last_that_passed(level: str, match: float) -> None:
    # A full match loses 2 points for each cent the note wavers more: the last one less than 2.
    steady = [replace(OWN, spread_cents=2 - (100 - match) / 2 + more) for more in (0.5, -0.5)]
    assert beside(level, *[steady[0]] * 6).passed
    verdict = beside(level, *[steady[1]] * 6)
    assert [result.aim for result in verdict.results if not result.passed] == [Aim.TONE]
    assert limit_words(result(verdict, Aim.TONE)) == f"{match:g} asked"


def test_nothing_is_failed_for_want_of_a_baseline() -> None:
    verdict = held()
    assert [result.aim for result in verdict.results if result.untold] == [Aim.TONE, Aim.LEVEL]
    assert read(verdict, Aim.TONE) == ("", "no note was good yet")
    half = beside("normal", replace(OWN, level_db=-25))
    assert [result.aim for result in half.results if not result.passed] == [Aim.LEVEL]
    assert [result.aim for result in half.results if result.untold] == [Aim.TONE]


def test_of_two_starts_at_a_note_that_stands_alone_the_longer_counts() -> None:
    stub = replace(note(53, centre_cents=0), first=0, last=40)
    whole = replace(note(53, centre_cents=-9, hold_s=4.9), first=60, last=560)
    verdict = judge_attempt(HELD, Events((stub, whole), (TONGUED,)), TROMBONE)
    assert result(verdict, Aim.CENTRE).measured == -9
    assert verdict.passed


def test_where_one_is_in_the_music_is_what_the_last_note_answers() -> None:
    # F3 B♭3 F3: steps 0, 1 and 2.
    def reached(*midis: int) -> Place | None:
        notes = tuple(note(midi, place) for place, midi in enumerate(midis))
        return last_reached(PAIR, notes, TROMBONE)

    assert reached() is None
    assert [reached(*(53, 58, 53)[:count]) for count in (1, 2, 3)] == [Place(0), Place(1), Place(2)]
    # The first was skipped; a note of no place; one that is played again.
    assert reached(58) == Place(1)
    assert reached(53, 57) is None


def heard(exercise: Task, instrument: str, aim: Aim | None = None) -> Verdict:
    """What is made of the stand-in's playing, with the fault of an aim in it or without."""
    horn = INSTRUMENTS[instrument]
    score = as_played(exercise.score, reference=False)
    if aim is not None:
        spoilt = spoiled(score, aim)
        assert spoilt is not None
        score = spoilt
    sound = perform(score, voice_of(exercise.score, horn), 44_100).samples
    return judge_attempt(exercise, analyse([sound], 44_100).events, Horn(horn))


@pytest.mark.one_in(6)
@pytest.mark.parametrize(
    ("family", "instrument", "aim"),
    [
        ("long-tone", "cornet-bb", Aim.END),
        ("dynamics", "tenor-horn-eb", Aim.SHAPE),
        ("finding-the-centre", "cornet-bb", Aim.CAME_BACK),
        ("lip-slur", "trombone-tenor", Aim.FLIPPED),
        ("pyramid", "trombone-tenor", Aim.TOUCHED),
        ("accelerating-slur", "cornet-bb", Aim.CLEAR),
        ("interval-buzz", "cornet-bb", Aim.START),
        ("siren", "cornet-bb", Aim.BREAKS),
        ("chained-intervals", "tuba-eb", Aim.ONE_BREATH),
        ("pedal-sets", "trombone-tenor", Aim.SPEAKS),
        ("expanding-glide", "trombone-tenor", Aim.NO_CATCH),
        ("two-octave-scale", "tenor-horn-eb", Aim.SPOKE),
        ("melody", "tuba-eb", Aim.SAME_SOUND),
    ],
)
def test_what_is_played_well_passes_and_a_fault_is_failed_for_itself(
    family: str, instrument: str, aim: Aim
) -> None:
    fewer = {"times": 1, "starts": 4, "rows": 1}
    usual = task(family, instrument)
    exercise = task(
        family, instrument, **{k: v for k, v in fewer.items() if k in usual.given.values}
    )
    assert heard(exercise, instrument).passed
    assert not result(heard(exercise, instrument, aim), aim).passed


def test_on_a_slide_one_is_told_how_far_to_move_it() -> None:
    # F3 in first position can only go out; C3 in sixth either way.
    tone = task("long-tone", "trombone-tenor", from_midi="C3")
    length_m = TROMBONE.open_m * 2 ** (5 / 12)
    for cents, way in ((20.0, "out"), (-20.0, "in")):
        verdict = judge_attempt(tone, Events((note(48, centre_cents=cents, hold_s=5),)), TROMBONE)
        # Half of what a tube grows by that sounds so many cents lower.
        moved_mm = abs(round(1000 * length_m / 2 * (2 ** (cents / 1200) - 1)))
        said = said_of(tone, verdict, note_name, horn=TROMBONE)
        assert (
            said.change == f"Move the slide {way} by {moved_mm} mm, and let the sound clear there."
        )
    first = task("long-tone", "trombone-tenor", from_midi="F3")
    flat = judge_attempt(first, Events((note(53, centre_cents=-20, hold_s=5),)), TROMBONE)
    assert "more air" in said_of(first, flat, note_name, horn=TROMBONE).change


def test_the_level_is_held_against_the_newest_that_passed() -> None:
    newest, oldest = replace(OWN, level_db=-20), replace(OWN, level_db=-30)
    assert beside("normal", newest, oldest).passed
    assert not beside("normal", oldest, newest).passed


def test_breaths_are_as_many_as_all_repetitions_have() -> None:
    # Three times on a breath each: two breaths between.
    thrice = task("partial-pattern", "trombone-tenor", pattern="3 4 3", times=3)
    notes = tuple(note(midi, place) for place, midi in enumerate(3 * (53, 58, 53)))
    rows = [SLUR, SLUR, BREATH, SLUR, SLUR, BREATH, SLUR, SLUR]
    good = judge_attempt(thrice, Events(notes, tuple(rows)), TROMBONE)
    assert result(good, Aim.ONE_BREATH).passed
    rows[4] = BREATH
    more = judge_attempt(thrice, Events(notes, tuple(rows)), TROMBONE)
    extra = result(more, Aim.ONE_BREATH)
    assert extra.measured == 1
    assert WORDS[Aim.ONE_BREATH].missed(extra, "") == "one extra breath"


def _outcome(aim: Aim, measured: float, limit: float, *, untold: str = "") -> AimResult:
    passed = bool(untold) or (measured >= limit if RULES[aim].least else measured <= limit)
    return AimResult(aim, measured, limit, passed, untold=untold)


def test_what_was_missed_is_read_from_afar_before_what_was_met() -> None:
    met = [_outcome(Aim.CENTRE, 5, 15), _outcome(Aim.STEADY, 4, 12), _outcome(Aim.HELD, 4, 4)]
    missed = _outcome(Aim.START, 50, 30)
    assert foremost([*met, missed]) == (met[0], met[1], missed)


def test_of_many_that_were_missed_the_farthest_from_their_limits_are_read_from_afar() -> None:
    just, far, farther, farthest = (
        _outcome(Aim.CENTRE, 16, 15),
        _outcome(Aim.STEADY, 24, 12),
        _outcome(Aim.HELD, 1, 4),
        _outcome(Aim.START, 300, 30),
    )
    assert foremost([just, far, farther, farthest]) == (far, farther, farthest)


def test_what_cannot_be_told_is_not_read_from_afar() -> None:
    untold = _outcome(Aim.TONE, 0, 70, untold="your own tone is not known here yet")
    assert foremost([untold]) == ()
