"""What an attempt must do beside meeting the aims of its exercise: all of it, nothing else, in
time, connected as written; and what is said of one that is wrong as a whole."""

from dataclasses import replace

import pytest

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import hz_from_midi
from orexis.core.horn.setup import Horn
from orexis.core.judging.aim_words import WORDS
from orexis.core.judging.aims import limit_of
from orexis.core.judging.attempt_words import said_of
from orexis.core.judging.attempts import AimResult, Verdict, judge_attempt
from orexis.core.judging.matching import lay_beside
from orexis.core.judging.mismatch import MismatchKind
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.events import Change, Events, Glide, Note, Transition
from orexis.core.listening.notes.measures import NoteMeasures
from orexis.core.listening.notes.tone import Tone
from orexis.core.score.steps import Play
from orexis.formats.task import verdict_document, verdict_of
from tests.core.exercises.writing import task

HORN = Horn(INSTRUMENTS["trombone-tenor"])
CLEAN = NoteMeasures(0, 2, 0, 0, 0.1, 0, 2.0, None, -20, 0)
SLUR = Transition(Change.SLUR, 0, 0.04, 0, (), 0, 0, 0, 0)
BREATH = replace(SLUR, kind=Change.BREATH, gap_s=0.6)


def note(midi: int, start_s: float, seconds: float, **measures: float) -> Note:
    measured = replace(CLEAN, **{"hold_s": seconds, **measures})  # type: ignore[arg-type]
    first = round(100 * start_s)
    last = first + round(100 * seconds)
    return Note(first, last, hz_from_midi(midi), midi, measured, 30, 2)


def line(*midis: int, beat_s: float = 1.0, change: Transition = SLUR) -> Events:
    """Notes one after another, a beat each."""
    notes = tuple(note(midi, place * beat_s, beat_s) for place, midi in enumerate(midis))
    return Events(notes, (change,) * (len(notes) - 1))


def result(verdict: Verdict, aim: Aim) -> AimResult:
    return next(result for result in verdict.results if result.aim is aim)


def judged(asked: Task, events: Events) -> Verdict:
    return judge_attempt(asked, events, HORN)


# F3 B♭3 D4 F4 D4 B♭3 F3 on one breath.
PATTERN = task("partial-pattern", "trombone-tenor", pattern="3 4 5 6 5 4 3", times=1)
PITCHES = tuple(step.midi for step in PATTERN.score.notes)
# In a tempo: eight bars and more.
TUNE = task("melody", "trombone-tenor")
TUNE_PITCHES = tuple(step.midi for step in TUNE.score.notes)


def tune(*, slower: float = 1.0, pause_before: int | None = None, until: int = 99) -> Events:
    """The tune as written, or slower, or with a stop of two seconds on the way."""
    beat_s = 60 / TUNE.score.bpm
    notes: list[Note] = []
    at_s = 0.0
    for step in TUNE.score.steps:
        if not isinstance(step, Play):
            continue
        at_s += 2.0 if len(notes) == pause_before else 0.0
        seconds = slower * float(step.beats) * beat_s
        notes.append(note(step.midi, at_s, 0.9 * seconds))
        at_s += seconds
    notes = notes[:until]
    return Events(tuple(notes), (replace(SLUR, kind=Change.TONGUED),) * (len(notes) - 1))


class TestTouched:
    def test_a_partial_heard_on_the_way_is_measured_where_it_was(self) -> None:
        # F3 D4 F3: B♭3 lies between, and is heard for 60 ms on the way up.
        skip = task("partial-pattern", "trombone-tenor", pattern="3 5 3", times=1)
        heard = (note(53, 0, 1), note(58, 1, 0.06), note(62, 1.06, 1), note(53, 2.06, 1))
        found = result(judged(skip, Events(heard, (SLUR,) * 3)), Aim.TOUCHED)
        assert (found.passed, found.at and found.at.step) == (False, 1)
        assert found.measured == pytest.approx(60)
        # Held for as long as a note, it is one that nobody asked for.
        held = (note(53, 0, 1), note(58, 1, 0.5), note(62, 1.5, 1), note(53, 2.5, 1))
        verdict = judged(skip, Events(held, (SLUR,) * 3))
        assert result(verdict, Aim.TOUCHED).measured == 0
        assert result(verdict, Aim.EXTRA).measured == 1


class TestNothingElse:
    def test_a_note_between_two_right_ones_is_named(self) -> None:
        verdict = judged(PATTERN, line(53, 58, 60, 62, 65, 62, 58, 53))
        extra = result(verdict, Aim.EXTRA)
        assert (extra.passed, extra.measured, extra.at and extra.at.step) == (False, 1, 2)
        assert said_of(PATTERN, verdict, note_name).headline == "One extra note before D4 (1st)."

    def test_what_was_played_again_is_one_too(self) -> None:
        verdict = judged(PATTERN, line(53, 58, 62, 58, 62, 65, 62, 58, 53))
        assert result(verdict, Aim.EXTRA).measured == 2

    def test_what_is_short_and_far_softer_is_nobodys_note(self) -> None:
        whole = line(*PITCHES)
        blip = note(50, 1.9, 0.09, level_db=-40)
        notes = (*whole.notes[:2], blip, *whole.notes[2:])
        assert result(judged(PATTERN, Events(notes, (SLUR,) * 7)), Aim.EXTRA).passed

    def test_between_breaths_one_may_try_a_note(self) -> None:
        tones = task("low-long-tones", "trombone-tenor", from_midi="Bb3", notes=2, hold_s=1)
        heard = Events(
            (note(58, 0, 2), note(60, 3, 0.3), note(57, 4, 2)),
            (BREATH, BREATH),
        )
        assert judged(tones, heard).passed


class TestOfASlur:
    def test_one_that_glides_is_none(self) -> None:
        slow = replace(SLUR, kind=Change.GLIDE, duration_s=0.3)
        verdict = judged(PATTERN, line(*PITCHES, change=slow))
        smeared = result(verdict, Aim.SMEARED)
        assert (smeared.passed, smeared.measured) == (False, 300)
        assert said_of(PATTERN, verdict, note_name).headline == (
            "The slur to B♭3 (1st) took 300 ms (150 allowed)."
        )

    def test_what_the_tongue_parts_does_not_fade(self) -> None:
        tongued = replace(SLUR, kind=Change.TONGUED, gap_s=0.07, waning_db=12)
        verdict = judged(PATTERN, line(*PITCHES, change=tongued))
        assert result(verdict, Aim.WANING).passed
        assert not result(verdict, Aim.GAP).passed

    def test_a_whole_note_between_is_no_slot_touched(self) -> None:
        verdict = judged(PATTERN, line(53, 58, 60, 62, 65, 62, 58, 53))
        assert result(verdict, Aim.TOUCHED).passed


class TestInTime:
    def test_as_written_it_is(self) -> None:
        verdict = judged(TUNE, tune())
        assert result(verdict, Aim.TEMPO).measured == pytest.approx(0, abs=1.5)
        assert verdict.passed

    def test_another_tempo_is_told_with_its_way(self) -> None:
        verdict = judged(TUNE, tune(slower=1.5))
        # Two thirds of the tempo.
        assert result(verdict, Aim.TEMPO).measured == pytest.approx(-33.3, abs=1)
        assert said_of(TUNE, verdict, note_name).headline == "33 % too slow (15 % allowed)."
        assert result(verdict, Aim.FLOW).passed

    def test_a_stop_is_told_with_where_it_was(self) -> None:
        verdict = judged(TUNE, tune(pause_before=5))
        flow = result(verdict, Aim.FLOW)
        assert flow.measured == pytest.approx(2.0, abs=0.05)
        steps = [place for place, step in enumerate(TUNE.score.steps) if isinstance(step, Play)]
        assert flow.at is not None
        assert flow.at.step == steps[5]
        assert result(verdict, Aim.TEMPO).passed


class TestAsAWhole:
    @pytest.mark.parametrize(
        ("moved", "said"),
        [
            (1, "All of it was a half step too high."),
            (-2, "All of it was 2 half steps too low."),
            (-12, "All of it was an octave too low."),
            (7, "All of it was 7 half steps too high."),
        ],
    )
    def test_another_key(self, moved: int, said: str) -> None:
        verdict = judged(PATTERN, line(*(midi + moved for midi in PITCHES)))
        assert said_of(PATTERN, verdict, note_name).headline == said
        assert "this starts on F3" in said_of(PATTERN, verdict, note_name).change

    def test_only_the_beginning(self) -> None:
        verdict = judged(TUNE, tune(until=6))
        assert verdict.mismatch is not None
        assert verdict.mismatch.kind is MismatchKind.STOPPED
        assert [note.at.step for note in verdict.silent] == [
            place for place, step in enumerate(TUNE.score.steps) if isinstance(step, Play)
        ][6:]
        assert said_of(TUNE, verdict, note_name).headline.startswith("You stopped after ")

    def test_only_the_end(self) -> None:
        verdict = judged(PATTERN, line(65, 62, 58, 53))
        said = said_of(PATTERN, verdict, note_name)
        assert said.headline == "You began at F4."
        assert said.change.startswith("Start from the first note, ")
        assert said.change.endswith("F3.")

    def test_two_notes_that_are_missing_at_an_end_are_a_part_left_out_and_one_is_a_note(
        self,
    ) -> None:
        def kind(*midis: int) -> MismatchKind | None:
            mismatch = judged(PATTERN, line(*midis)).mismatch
            return None if mismatch is None else mismatch.kind

        assert kind(*PITCHES[2:]) is MismatchKind.BEGAN_LATER
        assert kind(*PITCHES[:-2]) is MismatchKind.STOPPED
        assert kind(*PITCHES[1:]) is kind(*PITCHES[:-1]) is None
        # Where something else was played there, it was not left out.
        assert kind(60, 61, *PITCHES[2:]) is not MismatchKind.BEGAN_LATER
        assert kind(*PITCHES[:-2], 61, 60) is not MismatchKind.STOPPED

    def test_a_half_step_up_to_two_octaves_is_told_as_another_key(self) -> None:
        for moved in (1, -1, 24, -24):
            verdict = judged(PATTERN, line(*(midi + moved for midi in PITCHES)))
            assert verdict.mismatch is not None
            assert (verdict.mismatch.kind, verdict.mismatch.semitones) == (
                MismatchKind.TRANSPOSED,
                moved,
            )

    def test_all_of_it_twice(self) -> None:
        verdict = judged(PATTERN, line(*PITCHES, *PITCHES))
        assert said_of(PATTERN, verdict, note_name).headline == "You played all of it twice."

    def test_something_else(self) -> None:
        verdict = judged(PATTERN, line(60, 61, 63, 64, 66, 68, 67))
        assert said_of(PATTERN, verdict, note_name).headline == "That was not this exercise."

    def test_it_is_kept_with_the_verdict(self) -> None:
        verdict = judged(TUNE, tune(until=6))
        assert verdict_of(verdict_document(verdict)) == verdict
        before = verdict_document(judged(PATTERN, line(*PITCHES)))
        del before["mismatch"]
        assert verdict_of(before).passed

    def test_one_wrong_note_is_just_that(self) -> None:
        verdict = judged(PATTERN, line(53, 58, 62, 67, 62, 58, 53))
        assert verdict.mismatch is None
        said = said_of(PATTERN, verdict, note_name)
        assert said.headline == "You played G4 instead of F4."
        assert said.change == "Hear F4 before you play it, then go for it."

    def test_two_wrong_notes_stand_each_in_its_place(self) -> None:
        seen = lay_beside(PATTERN, line(53, 58, 61, 67, 62, 58, 53), HORN)
        heard = [answer.heard and answer.heard.midi for answer in seen.answers]
        assert heard == [53, 58, 61, 67, 62, 58, 53]


class TestWhatMustBeDone:
    def test_a_note_that_is_just_held_has_not_been_bent(self) -> None:
        centre = task("finding-the-centre", "trombone-tenor", from_midi="F3", times=1)
        plain = judged(centre, Events((note(53, 0, 9),)))
        assert not result(plain, Aim.BENT).passed
        pushed = note(53, 0, 9, lowest_cents=-22, highest_cents=24)
        assert judged(centre, Events((pushed,))).passed
        one_way = note(53, 0, 9, highest_cents=24)
        assert not result(judged(centre, Events((one_way,))), Aim.BENT).passed

    def test_how_far_a_note_was_bent_is_seen_in_glides_as_well(self) -> None:
        bend = task("bend", "trombone-tenor", from_midi="F3", semitones=-1, times=1)
        # Half of the half step asked for, in a glide down and back while the note goes on.
        down = Glide(1.0, 2.0, hz_from_midi(52.5), hz_from_midi(53), 0.5, 2, 0, 40.0)
        heard = Events((note(53, 0, 4),), (), (down,))
        assert result(judged(bend, heard), Aim.BENT).measured == pytest.approx(50, abs=1)
        # What the glide went up counts for no bend that goes down.
        up = replace(down, lowest_hz=hz_from_midi(53), highest_hz=hz_from_midi(54))
        heard = Events((note(53, 0, 4),), (), (up,))
        assert result(judged(bend, heard), Aim.BENT).measured == 0

    def test_a_bend_is_looked_for_on_its_own_breath(self) -> None:
        bend = task("bend", "trombone-tenor", from_midi="F3", semitones=-5, times=1)
        bent = note(53, 0, 3, lowest_cents=-95)
        # It comes back a little flat; what is far off stands on the next breath.
        heard = Events(
            (
                bent,
                note(53, 4, 2, centre_cents=-6),
                note(49, 7, 0.5),
                note(53, 9, 2),
                note(48, 11, 4),
            ),
            (SLUR, BREATH, BREATH, SLUR),
        )
        assert result(judged(bend, heard), Aim.CAME_BACK).measured == -6

    def test_dynamics_that_hardly_differ_are_not_those_asked_for(self) -> None:
        five = task("dynamics", "trombone-tenor", from_midi="F3", hold_s=2)
        for apart_db, passed in ((0.4, False), (4.0, True)):
            levels = (-24 + apart_db * place for place in range(5))
            notes = tuple(
                note(53, 3 * place, 2.2, level_db=level) for place, level in enumerate(levels)
            )
            verdict = judged(five, Events(notes, (BREATH,) * 4))
            assert result(verdict, Aim.SHAPE).passed is passed

    def test_what_lasts_as_long_as_it_is_good_lasts_most_of_what_is_written(self) -> None:
        sets = task("pedal-sets", "trombone-tenor", starts=4, beats=6)
        assert limit_of(Aim.HELD, Standard.NORMAL, sets) == pytest.approx(4.8)
        # Of four counts at 60 a breath takes some.
        buzz = task("first-buzz", "trombone-tenor", step="2", tempo=60)
        assert limit_of(Aim.HELD, Standard.NORMAL, buzz) == pytest.approx(2.8)

    def test_a_siren_may_stay_where_it_ends(self) -> None:
        siren = task("siren", "trombone-tenor", low_midi="F3", high_midi="F4", times=1)
        line_ = Glide(0.5, 6, hz_from_midi(53), hz_from_midi(65), 12, 2, 0, 5)
        held = Events((note(53, 0, 0.5), note(53, 6, 1.5)), (SLUR,), (line_,))
        assert judged(siren, held).passed
        stuck = Events((note(53, 0, 0.5), note(59, 3, 0.8)), (SLUR,), (line_,))
        assert not result(judged(siren, stuck), Aim.BREAKS).passed

    def test_pitch_that_stands_still_within_a_glide_is_a_catch(self) -> None:
        ladder = task("expanding-glide", "trombone-tenor", from_midi="F3", widest=1)
        glided = replace(SLUR, kind=Change.GLIDE)
        for caught_s, passed in ((0.0, True), (0.25, False)):
            up = Glide(2, 3, hz_from_midi(53), hz_from_midi(54), 1, 1, 0, 5, caught_s)
            heard = Events(
                (note(53, 0, 2), note(54, 3, 2), note(53, 6, 2)), (glided, glided), (up,)
            )
            assert result(judged(ladder, heard), Aim.NO_CATCH).passed is passed


class TestTheToneOfALine:
    OWN = tuple(
        Tone(midi, -20 + place % 3, 30, 2, 0, 2)
        for place, midi in enumerate((53, 56, 58, 60, 53, 58))
    )

    def heard(self, **last: float) -> Events:
        notes = (*(note(midi, place, 1.0) for place, midi in enumerate((53, 52))),)
        return Events((notes[0], replace(notes[1], **last)), (SLUR,))  # type: ignore[arg-type]

    def test_a_note_that_turns_airy_is_told(self) -> None:
        pair = task("couplets", "trombone-tenor", from_midi="F3", widest=1)
        verdict = judge_attempt(pair, self.heard(harmonicity_db=18), HORN, passed=self.OWN)
        tone = result(verdict, Aim.SAME_TONE)
        assert (tone.passed, tone.word) == (False, "airy")
        assert verdict_of(verdict_document(verdict)) == verdict
        assert WORDS[Aim.SAME_TONE].missed(tone, "E3") == "E3 turned airy"

    def test_one_within_the_players_own_tone_is_the_same(self) -> None:
        pair = task("couplets", "trombone-tenor", from_midi="F3", widest=1)
        verdict = judge_attempt(pair, self.heard(harmonicity_db=28), HORN, passed=self.OWN)
        assert result(verdict, Aim.SAME_TONE).measured == 100

    def test_what_all_quick_notes_lose_to_the_room_is_given_back_to_them(self) -> None:
        chain = task("chained-intervals", "trombone-tenor", from_midi="A3", semitones=1, notes=5)
        played = line(*chain.score.pitches, beat_s=0.6)

        def tone(rest_db: float, third_db: float | None = None) -> AimResult:
            """Of a line whose first note is as clear as its player's own, with 30 dB."""
            others = [rest_db] * (len(played.notes) - 1)
            if third_db is not None:
                others[1] = third_db
            notes = tuple(
                replace(one, harmonicity_db=clear_db)
                for one, clear_db in zip(played.notes, (30.0, *others), strict=True)
            )
            heard = replace(played, notes=notes)
            return result(judge_attempt(chain, heard, HORN, passed=self.OWN), Aim.SAME_TONE)

        # In a lively room the one before still sounds in each: 7 dB less, and nobody's fault.
        assert tone(23).passed
        # Among them one is airy by itself.
        airy = tone(23, 8)
        assert (airy.passed, airy.word, airy.at and airy.at.step) == (False, "airy", 2)
        # No room takes as much as that from all of them.
        assert not tone(8).passed

    def test_nothing_is_told_before_the_tone_is_known(self) -> None:
        pair = task("couplets", "trombone-tenor", from_midi="F3", widest=1)
        verdict = judge_attempt(pair, self.heard(harmonicity_db=10), HORN)
        assert result(verdict, Aim.SAME_TONE).untold
        assert verdict.passed
