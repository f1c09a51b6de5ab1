"""An exercise as a block of a session: its rungs, for every way that attempts can go on."""

import pytest

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError, Group
from orexis.core.horn.registers import Register, register_of
from orexis.core.score.steps import PlayedOn, Role
from orexis.core.session.building import Setting, block_of, follows_of, ways_of
from orexis.core.session.plan import AfterFail, AfterFails, BeforeAttempt, Block, Counts
from orexis.core.session.quiet import quietly
from orexis.core.session.ready import READY, ready_for
from tests.core.exercises.writing import row, writer

CORNET, TROMBONE = writer("cornet-bb"), writer("trombone-bass")


def block(family: str, values: dict[str, float | str] | None = None, **way: float | str) -> Block:
    return block_of(family, CORNET, values or {}, way)


def music(made: Block) -> list[list[str]]:
    return [row(rung.task) for rung in made.rungs]


def test_a_ladder_goes_up_by_half_steps_one_breath_each() -> None:
    made = block("chromatic-ladder", {"from_midi": 70.0, "rungs": 4.0, "beats": 1.0}, rungs=3.0)
    assert music(made) == [
        ["Bb4/1", "~B4/2", "'"],
        ["B4/1", "~C5/2", "'"],
        ["C5/1", "~C#5/2", "'"],
    ]
    assert (made.after_fail, made.enough, made.most_fails) == (AfterFail.BACK, AfterFails.END, 3)
    assert made.probe is not None
    assert [note.role for note in made.probe.score.notes] == [Role.RE_CENTRE]


def test_the_low_note_between_attempts_is_the_players_to_choose() -> None:
    usual = block("chromatic-ladder", {"from_midi": 70.0}).probe
    own = block("chromatic-ladder", {"from_midi": 70.0}, low_midi=53.0).probe
    assert usual is not None
    assert own is not None
    assert usual.score.pitches == (CORNET.reach.easy,)
    assert own.score.pitches == (53,)
    assert [note.articulation for note in own.score.notes] == ["breath"]


def test_a_ladder_ends_where_the_horn_does() -> None:
    top = CORNET.instrument.highest_midi
    made = block("chromatic-ladder", {"from_midi": float(top - 3)})
    assert [rung.task.score.pitches[-1] for rung in made.rungs] == [top - 2, top - 1, top]


def test_a_low_ladder_goes_down() -> None:
    made = block("long-tone", {"from_midi": 58.0}, follow="ladder", rungs=3.0)
    assert [rung.task.score.pitches for rung in made.rungs] == [(58,), (57,), (56,)]


def test_a_ladder_of_one_note_goes_the_way_that_is_set() -> None:
    made = block("long-tone", {"from_midi": 58.0}, follow="ladder", rungs=3.0, steps="up")
    assert [rung.task.score.pitches for rung in made.rungs] == [(58,), (59,), (60,)]
    lower = block("next-note", {"from_midi": 70.0}, rungs=2.0, steps="down")
    assert [rung.task.score.pitches[0] for rung in lower.rungs] == [70, 69]


@pytest.mark.parametrize("family", ["first-buzz", "siren", "interval-buzz", "slur-shape"])
def test_a_ladder_of_two_notes_moves_both(family: str) -> None:
    notes: dict[str, float | str] = {"low_midi": 58.0, "high_midi": 65.0}
    made = block(family, notes, follow="ladder", rungs=3.0)
    spans = [(min(rung.task.score.pitches), max(rung.task.score.pitches)) for rung in made.rungs]
    assert spans == [(58, 65), (59, 66), (60, 67)]


def test_the_low_note_after_a_triad_is_asked_for_by_the_session() -> None:
    made = block("rising-triads", {"from_midi": 65.0}, rungs=2.0)
    assert [len(rung.task.score.notes) for rung in made.rungs] == [3, 3]
    assert [rung.name for rung in made.rungs] == ["C5", "C♯5"]


def test_through_the_lengths_goes_on_from_the_one_that_is_set() -> None:
    made = block("lip-slur", {"length": "12"})
    assert made.rungs[0].name == "valves 1 and 2"
    assert len(made.rungs) == 4


def test_a_pyramid_grows_by_a_slot() -> None:
    made = block("pyramid", {"slots": 5.0}, rungs=3.0)
    assert [rung.name for rung in made.rungs] == ["3 slots", "4 slots", "5 slots"]


def test_a_tempo_grows_from_the_one_that_is_set() -> None:
    made = block("accelerating-slur", {"tempo": 60.0}, follow="grow", rungs=3.0)
    assert [rung.task.score.tempo_bpm for rung in made.rungs] == [60.0, 66.0, 72.0]


def test_every_breath_by_itself_with_the_rest_before_it() -> None:
    made = block("cold-picks", {"picks": 3.0, "beats": 2.0})
    assert [len(rung.task.score.notes) for rung in made.rungs] == [1, 1, 1]
    assert {(rung.rest_s, rung.words) for rung in made.rungs} == {(2.0, "silence")}


def test_what_is_only_there_to_be_heard_stays_with_what_follows() -> None:
    (rung,) = block("interval-buzz", follow="breaths").rungs
    assert [note.role for note in rung.task.score.notes] == [Role.REFERENCE] * 2 + [Role.ASKED] * 2


def test_sets_count_every_start() -> None:
    made = block("pedal-sets", {"starts": 6.0})
    assert [rung.name for rung in made.rungs] == [f"start {n}" for n in range(1, 7)]
    # Louder through the second half.
    loud = [rung.task.score.notes[0].dynamic.rank for rung in made.rungs]
    assert loud == [3, 3, 3, 4, 4, 4]
    assert (made.counts, made.sets, made.rests.set_s) == (Counts.PLAYED, 2, 240.0)
    once = block("sustained-buzz", {"times": 5.0}, follow="sets")
    assert len(once.rungs) == 5


def test_repetitions_are_as_many_as_the_exercise_says() -> None:
    assert block("long-tone", {"times": 3.0}).needed == 3
    assert block("long-tone", {"times": 3.0}, needed=2.0).needed == 2
    assert block("breath", {"times": 3.0}).needed == 1


def test_what_is_in_time_has_the_metronome_and_range_work_has_not() -> None:
    in_time = block("interval-rhythms", {"tempo": 80.0}, ramp_bpm=20.0, parts=2.0).metronome
    assert in_time is not None
    assert (in_time.bpm, in_time.ramp_to_bpm, in_time.parts) == (80.0, 100.0, 2)
    assert block("engaged-corners").metronome is None
    assert block("engaged-corners", metronome="on").metronome is not None
    assert block("breath", metronome="on").metronome is None


def test_every_setting_reaches_the_block() -> None:
    made = block("long-tone", {}, before="sing", rest_s=10.0, block_rest_s=30.0, as_played="on")
    assert (made.before, made.rests.attempt_s, made.rests.block_s) == (
        BeforeAttempt.SING,
        10.0,
        30.0,
    )
    assert made.rests.as_played
    # As it was set once, before reaching beyond was a question of its own.
    beyond = block("chromatic-ladder", {}, after_fail="beyond", probe="off")
    assert (beyond.after_fail, beyond.reaches, beyond.probe) == (AfterFail.AGAIN, True, None)


@pytest.mark.parametrize(
    ("family", "way", "reason"),
    [
        ("long-tone", {"follow": "lengths"}, "choose repeat"),
        ("long-tone", {"speed": 3.0}, "A session has no speed"),
        ("long-tone", {"sets": 9.0}, "sets: 1 to 5"),
        ("nothing", {}, "There is no exercise nothing"),
    ],
)
def test_what_cannot_be_says_why(family: str, way: dict[str, float | str], reason: str) -> None:
    with pytest.raises(ExerciseRefusedError, match=reason):
        block_of(family, CORNET, {}, way)


@pytest.mark.parametrize("made", [CORNET, TROMBONE], ids=["cornet", "trombone"])
def test_every_family_can_be_practised_in_every_way_it_offers(made: object) -> None:
    assert made in (CORNET, TROMBONE)
    here = CORNET if made is CORNET else TROMBONE
    count = 0
    for key, family in FAMILIES.items():
        for follow in follows_of(family, here):
            try:
                block = block_of(key, here, {}, {"follow": follow.value})
            except ExerciseRefusedError:
                # Not on this horn at all.
                assert key in ("octave-down", "glide-ladder", "expanding-glide")
                continue
            assert block.rungs
            assert block.follow is follow
            assert block.seconds > 0
            count += 1
        usual = {parameter.key: parameter.usual for parameter in ways_of(family, here)}
        assert usual["follow"] == follows_of(family, here)[0]
    assert count > 100


@pytest.mark.parametrize("made", [CORNET, TROMBONE], ids=["cornet", "trombone"])
def test_ready_sessions_are_there_for_every_horn(made: object) -> None:
    here = CORNET if made is CORNET else TROMBONE
    found = ready_for(here)
    assert [session.key for session in found] == [session.key for session in READY]
    assert all(session.settings for session in found)
    higher = {setting.family for setting in found[1].settings}
    assert ("glide-ladder" in higher) is (here is TROMBONE)
    assert ("chromatic-ladder" in higher) is (here is CORNET)


def test_pedals_with_long_rests_go_down_from_the_highest() -> None:
    apart = next(session for session in ready_for(TROMBONE) if session.key == "pedal-notes")
    blocks = [block_of(each.family, TROMBONE, each.values, each.way) for each in apart.settings]
    assert [made.title for made in blocks] == ["Easy pedals", *["Pedal air attacks"] * 3]
    # B♭1, A1 and A♭1; ten minutes after each but the last.
    assert [made.rungs[0].task.score.pitches for made in blocks[1:]] == [(34,), (33,), (32,)]
    assert [made.rests.block_s for made in blocks[1:]] == [600, 600, 60]
    assert {made.sets for made in blocks[1:]} == {2}


@pytest.mark.parametrize(("family", "on"), [("two-octave-glide", "horn"), ("siren", "leadpipe")])
def test_in_quiet_hours_what_is_buzzed_is_buzzed_on_the_mouthpiece(family: str, on: str) -> None:
    played = quietly(Setting(family, {"on": on, "beats": 4.0}, {}), CORNET)
    assert played is not None
    assert dict(played.values) == {"on": "mouthpiece", "beats": 4.0}
    # What is on the mouthpiece already stays as it is, and is not told as something else.
    usual = Setting("breath", {}, {})
    assert quietly(usual, CORNET) is usual


def test_quiet_hours_leave_nothing_on_the_horn() -> None:
    for key, family in FAMILIES.items():
        if key in ("octave-down", "glide-ladder", "expanding-glide"):
            continue
        played = quietly(Setting(key, {}, {}), CORNET)
        if family.group in (Group.HIGH, Group.PEDALS):
            assert played is None
            continue
        assert played is not None
        block = block_of(played.family, CORNET, played.values, played.way)
        on = {note.on for rung in block.rungs for note in rung.task.score.notes}
        assert on <= {PlayedOn.MOUTHPIECE}


def test_a_slur_is_buzzed_as_its_shape() -> None:
    played = quietly(Setting("lip-slur", {"slots": 3.0}, {}), CORNET)
    assert played is not None
    assert (played.family, dict(played.values)) == ("slur-shape", {"low_midi": 65, "high_midi": 74})


@pytest.mark.parametrize(
    ("midi", "register"),
    [(46, Register.PEDAL), (47, Register.LOW), (65, Register.MIDDLE), (77, Register.HIGH)],
)
def test_registers_are_thirds_over_the_pedals(midi: int, register: Register) -> None:
    # B♭2 is the cornet's fundamental; this player comes up to F5 with ease.
    assert register_of(midi, CORNET.instrument, 77) is register
