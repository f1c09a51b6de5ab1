"""A piece followed note by note; truths by how the playing was put together."""

from fractions import Fraction

import numpy as np

from orexis.core.horn.notation import note_name
from orexis.core.judging.attempts import StepOutcome
from orexis.core.judging.piece_live import NOWHERE, PieceFollower, PieceNow
from orexis.core.listening.notes.events import Note, Passage
from orexis.core.score.steps import Play, Score
from tests.core.test_following import note

# Forty bars of quarters that go up and down by chance.
PITCHES = tuple(int(midi) for midi in 60 + np.random.default_rng(3).integers(0, 12, 160))
SCORE = Score(tuple(Play(midi, Fraction(1)) for midi in PITCHES), tempo_bpm=100)


def passage(*notes: Note) -> Passage:
    return Passage(notes[0].first, notes[-1].last, notes, (), (), ())


def played(midis: tuple[int, ...], start_s: float = 0.0) -> list[Note]:
    return [note(midi, start_s + 0.6 * place) for place, midi in enumerate(midis)]


def follow_all(notes: list[Note], follower: PieceFollower) -> list[PieceNow]:
    """Looked at a quarter of a second into each note, which sounds on; four at a time are one
    passage, which then ends."""
    found: list[PieceNow] = []
    for place in range(0, len(notes), 4):
        for end in range(place + 1, min(place + 4, len(notes)) + 1):
            now = notes[end - 1].first + 25
            found.append(follower.hear([], [passage(*notes[place:end])], now))
        ends = passage(*notes[place : place + 4])
        found.append(follower.hear([ends], [], ends.last + 31))
    return found


def test_from_the_third_note_on_it_is_known_where_one_is() -> None:
    looks = follow_all(played(PITCHES[:12]), PieceFollower(SCORE, note_name))
    assert looks[0] == NOWHERE
    # A look at each of four notes, and one when they are over.
    steps = [piece_now.step for piece_now in looks]
    assert steps == [None, None, 2, 3, 3, 4, 5, 6, 7, 7, 8, 9, 10, 11, 11]
    assert looks[-1].bar == 3
    assert set(looks[-1].outcomes.values()) == {StepOutcome.MET}
    assert looks[-1].wrong == {}


def test_what_went_wrong_far_back_is_still_told_after_a_long_run() -> None:
    # The second note of bar 2 is another one; only the last 48 notes are looked at anew.
    wrong = (*PITCHES[:5], 80, *PITCHES[6:120])
    last = follow_all(played(wrong), PieceFollower(SCORE, note_name))[-1]
    assert (last.step, last.bar) == (119, 30)
    assert len(last.outcomes) == 120
    assert [step for step, outcome in last.outcomes.items() if outcome is not StepOutcome.MET] == [
        5
    ]
    assert last.wrong == {2: f"{note_name(80)} for {note_name(PITCHES[5])}"}


def test_who_begins_elsewhere_is_told_of_that_alone() -> None:
    follower = PieceFollower(SCORE, note_name)
    follow_all(played((*PITCHES[:3], 80, *PITCHES[4:8])), follower)
    looks = follow_all(played(PITCHES[40:48], start_s=60.0), follower)
    assert (looks[-1].step, looks[-1].bar) == (47, 12)
    assert sorted(looks[-1].outcomes) == list(range(40, 48))
    assert looks[-1].wrong == {}
