"""When it does not work: what to ask oneself, one thing at a time, and where each answer leads."""

from dataclasses import dataclass, replace

from orexis.core.exercises.practised import Values
from orexis.core.exercises.writer import Writer
from orexis.core.session.building import block_of
from orexis.core.session.plan import BeforeAttempt, Block
from orexis.core.session.state import SessionState

ASKED_AFTER = 3
"""Fails one after another before a question is asked; each fail after that asks the next one."""


@dataclass(frozen=True, slots=True)
class Question:
    """A question, and the short exercise for when the answer is no."""

    key: str
    words: str
    leads_to: str
    family: str
    values: Values

    def block(self, writer: Writer) -> Block:
        """The exercise, once. Raises `ExerciseRefusedError`."""
        way: Values = {
            "follow": "repeat",
            "needed": 1.0,
            "fails": 2.0,
            "metronome": "off",
            "sets": 1.0,
        }
        block = block_of(self.family, writer, self.values, way, self.words)
        return replace(block, before=BeforeAttempt.NOTHING, probe=None)


QUESTIONS = (
    Question("breath", "Was the breath full?", "two full breaths", "breath", {"times": 2.0}),
    Question(
        "air",
        "Was the air fast enough, and kept moving?",
        "a siren, the air moving all the way",
        "siren",
        {"times": 1.0},
    ),
    Question(
        "tongue",
        "Was the tongue high enough, or low enough?",
        "the shape of the slur as a glide",
        "slur-shape",
        {"times": 1.0},
    ),
    Question(
        "corners",
        "Corners firm, and the centre loose?",
        "one buzz, held",
        "sustained-buzz",
        {"times": 1.0},
    ),
    Question(
        "pressing",
        "Did you press?",
        "one easy low note, as lightly as you can",
        "long-tone",
        {"hold_s": 3.0},
    ),
)


def question_of(state: SessionState) -> Question | None:
    """What is asked now, if anything is."""
    over = state.fails_in_row - ASKED_AFTER
    if over < 0 or state.ended is not None or state.back_to is not None:
        return None
    return QUESTIONS[over % len(QUESTIONS)]


def find_question(key: str) -> Question:
    """The question of a key. Raises `LookupError`."""
    return {question.key: question for question in QUESTIONS}[key]
