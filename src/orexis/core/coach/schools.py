"""Schools: where players disagree, the reasons they give, and what each choice changes here."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from orexis.core.exercises.family import Family, Group
from orexis.core.exercises.practised import Answer

Schools = Mapping[str, str]
"""The key of the option that is chosen, by the key of its question; the first where none is."""


@dataclass(frozen=True, slots=True)
class Option:
    """One answer: what it is called, why players hold it, and what it changes."""

    key: str
    label: str
    reason: str
    change: str


@dataclass(frozen=True, slots=True)
class Question:
    """A question with its answers, the default first. `measured_by` are the groups whose tries tell
    which of two answers works better; empty where no measure can."""

    key: str
    words: str
    options: tuple[Option, ...]
    measured_by: tuple[Group, ...] = ()


QUESTIONS = (
    Question(
        "dynamics-up",
        "Going up: how loud?",
        (
            Option(
                "grow",
                "grow with height",
                "The air leads: what grows keeps moving, and a note that is fed does not pinch.",
                "Slurs that rise are written with a crescendo.",
            ),
            Option(
                "open-close",
                "loud low, soft high",
                "From open to closing: if the top speaks softly, nothing was forced to get there.",
                "Slurs that rise are written with a diminuendo.",
            ),
            Option(
                "level",
                "level",
                "One sound from end to end; loudness hides what the lips do not do.",
                "Slurs are written at one loudness.",
            ),
        ),
        (Group.SLURS,),
    ),
    Question(
        "after-failure",
        "After the first failure at the top?",
        (
            Option(
                "back",
                "step back, earn it again",
                "The last good one is what should be remembered, and it shows what was missing.",
                "A miss leads one rung down; three on one rung end the ladder.",
            ),
            Option(
                "once-more",
                "one more try, then stop",
                "One miss may be chance. Two are a message.",
                "The same rung once more; the second miss ends the ladder.",
            ),
            Option(
                "stop",
                "stop at once",
                "Every further try at a note that will not lock teaches the wrong thing.",
                "The first miss ends the ladder.",
            ),
            Option(
                "beyond",
                "reach one beyond, once",
                "The note above makes the missed one feel near; then it is enough.",
                "A miss leads once to the rung beyond, and that ends the ladder.",
            ),
        ),
    ),
    Question(
        "between-tries",
        "Between tries?",
        (
            Option(
                "re-centre",
                "a low note brings the lips back",
                "The low note shows how the lips are, before a high one has to.",
                "A low note on air comes before each try, held against the first of the day.",
            ),
            Option(
                "breath",
                "a fresh breath, no re-set",
                "The set stays; only the air is new.",
                "No low note; five seconds for a full breath.",
            ),
            Option(
                "bottom",
                "always from the bottom, in one breath",
                "The way up is the exercise: nothing begins at the top.",
                "Pyramids and scales from the bottom take the place of ladders.",
            ),
        ),
        (Group.HIGH,),
    ),
    Question(
        "low-air",
        "Air in the low register?",
        (
            Option(
                "slower",
                "open, unforced, slower",
                "The low notes are wide; they want much air, and no pressure behind it.",
                "Low work is written soft and with longer notes.",
            ),
            Option(
                "faster",
                "faster, more air",
                "Low notes fall apart for want of air; more of it, and they lock.",
                "Low work is written with shorter notes, a breath for each row.",
            ),
        ),
        (Group.LOW, Group.PEDALS),
    ),
    Question(
        "pedals",
        "What are pedals for?",
        (
            Option(
                "strength",
                "strength, with the normal set",
                "The set that holds a pedal holds everything above it.",
                "Pedal sets count as the day's main work, with their rests.",
            ),
            Option(
                "loosening",
                "loosening only",
                "Loose lips at the end: pedals undo what the day has done.",
                "Pedals come only at the end, short and loose.",
            ),
            Option(
                "both",
                "both, kept apart",
                "They are two things, and mixing them spoils both.",
                "Strength on its own days, never on one with high work; loose ones at the end.",
            ),
        ),
    ),
    Question(
        "jaw",
        "The jaw in slurs and trills?",
        (
            Option(
                "still",
                "still, the tongue leads",
                "The less moves outside, the faster it goes.",
                "Slurs say: tongue leads, jaw quiet.",
            ),
            Option(
                "moves",
                "moves with each slot",
                "Every slot has its place; the jaw finds it.",
                "Slurs say: let the jaw find each slot.",
            ),
        ),
        (Group.SLURS,),
    ),
    Question(
        "pressure",
        "Pressing?",
        (
            Option(
                "least",
                "as little as possible, always",
                "What is pressed does not swing, and does not heal.",
                "High work says so; the light-hold pyramid takes its turn.",
            ),
            Option(
                "some",
                "light; more is tolerated at the top",
                "Some is needed to seal; what counts is that it goes away again.",
                "The light-hold pyramid is left out.",
            ),
            Option(
                "zero",
                "none: light-hold work daily",
                "What works with the horn lying on an open hand needs no arm.",
                "The light-hold pyramid comes first in high work, where the horn allows.",
            ),
        ),
    ),
    Question(
        "metronome",
        "A metronome in range work?",
        (
            Option(
                "off",
                "off",
                "A note is ready when it is ready.",
                "Low, pedal and high work go without it.",
            ),
            Option(
                "on",
                "on",
                "What comes on time comes in music.",
                "Low, pedal and high work are counted in.",
            ),
        ),
        (Group.HIGH, Group.LOW),
    ),
    Question(
        "starts",
        "How do notes begin?",
        (
            Option(
                "slur-first",
                "slurred first, the tongue later",
                "The tongue can hide a start that is not there.",
                "Low chains and skips are slurred.",
            ),
            Option(
                "breath",
                "breath starts daily",
                "What speaks on air alone is centred.",
                "Pedal breath starts come often, and long tones say: on air.",
            ),
            Option(
                "tongued",
                "tongued",
                "Music is mostly tongued; a clean start is a habit.",
                "Low chains are tenuto, skips tongued first.",
            ),
        ),
        (Group.LOW,),
    ),
    Question(
        "buzzing",
        "Buzzing?",
        (
            Option(
                "daily",
                "daily, before the horn",
                "The lips alone must know the note; the horn only makes it louder.",
                "Some minutes on the mouthpiece come first each day.",
            ),
            Option(
                "diagnosis",
                "as a diagnosis only",
                "The horn helps the lips; without it they work too hard.",
                "No buzzing in the plan, but for quiet hours and when something does not work.",
            ),
        ),
        (Group.LONG, Group.SLURS),
    ),
)

BY_KEY: Mapping[str, Question] = MappingProxyType({one.key: one for one in QUESTIONS})


class SchoolRefusedError(ValueError):
    """A question or an option there is not; the message names those there are."""


def checked(key: str, option: str) -> tuple[str, str]:
    """A choice that can be. Raises `SchoolRefusedError`."""
    question = BY_KEY.get(key)
    if question is None:
        raise SchoolRefusedError(f"There is no question {key}. There are: {', '.join(BY_KEY)}.")
    keys = [one.key for one in question.options]
    if option not in keys:
        raise SchoolRefusedError(f"{key} is one of {', '.join(keys)}, not {option}.")
    return key, option


def answers_to(family: Family, schools: Schools) -> list[Answer]:
    """What the chosen answers change in an exercise."""
    return [
        answer
        for (question, option), answer in family.practised.answers.items()
        if choice(schools, question) == option
    ]


def choice(schools: Schools, key: str) -> str:
    """The key of the option that is chosen for a question."""
    options = [one.key for one in BY_KEY[key].options]
    wanted = schools.get(key)
    return wanted if wanted in options else options[0]
