"""Sessions as they are kept: a plan, a log and a setup come back as they were."""

import json

import pytest

from orexis.core.exercises.book import FAMILIES
from orexis.core.exercises.family import ExerciseRefusedError
from orexis.core.horn.setup import Setup, Tendency
from orexis.core.horn.tuning import Scale, Temperament, Tuning
from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.building import block_of
from orexis.core.session.log import (
    AttemptJudged,
    ButtonPressed,
    Disturbed,
    Entry,
    ExercisePut,
    HelpAsked,
    Overruled,
    Press,
    SessionResumed,
    SoundLost,
    TimeUp,
    Tuned,
)
from orexis.core.session.plan import Plan
from orexis.formats.horn_setup import setup_document, setup_of
from orexis.formats.session import entry_document, entry_of, kind_of, plan_document, plan_of
from tests.core.exercises.writing import writer

WRITER = writer("trombone-bass")
BLOCK = block_of("glide-ladder", WRITER, {}, {"metronome": "on", "ramp_bpm": 10.0})


@pytest.mark.parametrize("family", FAMILIES)
def test_a_plan_comes_back_as_it_was(family: str) -> None:
    try:
        plan = Plan("Kept", (block_of(family, WRITER, {}), BLOCK))
    except ExerciseRefusedError:
        pytest.skip("The trombone has no such exercise.")
    assert plan_of(json.loads(json.dumps(plan_document(plan)))) == plan


def test_a_plan_is_read_as_it_was_kept_before_things_were_renamed() -> None:
    plan = Plan("Kept", (block_of("lip-slur", WRITER, {}, {"rest_s": 7.0}),))
    text = json.dumps(plan_document(plan))
    assert plan.blocks[0].rests.attempt_s == 7
    before = text.replace('"lip-slur"', '"slot-slur"').replace('"attempt_s"', '"try_s"')
    assert before != text
    assert plan_of(json.loads(before)) == plan


ENTRIES: tuple[Entry, ...] = (
    AttemptJudged(480, True, "ab", 2.5, Tone(58, -20.5, 25.0, 2.5, -3.0, 2.0)),
    AttemptJudged(480, False, "ab", 0.5, None, cut=True),
    TimeUp(1),
    *(ButtonPressed(2, press) for press in Press),
    Overruled(3, "ab", passed=False),
    ExercisePut(4, BLOCK),
    HelpAsked(5, BLOCK),
    Tuned(6, Standard.STRICT, 116.5),
    Tuned(6, Standard.KIND, None),
    Disturbed(7),
    SoundLost(8),
    SessionResumed(9, 12.5),
)


@pytest.mark.parametrize("entry", ENTRIES, ids=[type(entry).__name__ for entry in ENTRIES])
def test_an_entry_comes_back_as_it_was(entry: Entry) -> None:
    kept = json.loads(json.dumps(entry_document(entry)))
    assert entry_of(kind_of(entry), entry.sample, kept) == entry


def test_a_setup_comes_back_as_it_was() -> None:
    setup = Setup(
        a4_hz=442.0,
        temperature_c=18.0,
        tuning=Tuning(Temperament.SCALE, 10, Scale("Slack tide", (100.5, 701.9, 1200.0))),
        main_pull_mm=12.0,
        trigger_cents=(500.0, 405.0),
        tendencies={("1", 58): Tendency(-8.5, 6), ("F+2", 41): Tendency(12.0, 3)},
    )
    assert setup_of(json.loads(json.dumps(setup_document(setup)))) == setup
    assert setup_of(setup_document(Setup())) == Setup()


def test_what_makes_no_sense_is_an_error_and_not_something_else() -> None:
    with pytest.raises(LookupError):
        entry_of("sung", 1, {})
    with pytest.raises(ValueError, match="louder"):
        entry_of("pressed", 1, {"press": "louder"})
    with pytest.raises(TypeError):
        entry_of("pressed", 1, {"press": "pause", "more": 1})
