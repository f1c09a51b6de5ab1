"""Approaches: where players disagree, the reasons they give, and what each choice changes here."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from orexis.core.exercises.family import Family, Group
from orexis.core.exercises.practised import Answer

Approaches = Mapping[str, str]
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
    """A question with its answers, the default first. `measured_by` are the groups whose attempts
    tell which of two answers works better; empty where no measure can."""

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
                "The air leads. A sound that grows keeps moving, so the top pinches less.",
                "Slurs that rise are written with a crescendo.",
            ),
            Option(
                "open-close",
                "loud low, soft high",
                "On the way up the lips close. If the top comes out softly, you did not force it.",
                "Slurs that rise are written with a diminuendo.",
            ),
            Option(
                "level",
                "level",
                "One sound from end to end. Getting louder can hide what the lips do not do.",
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
                "You end on a good one, and it shows you what the higher one was missing.",
                "After a miss you go one step down; after three misses on one step you play the "
                "one below it, and that ends the ladder.",
            ),
            Option(
                "once-more",
                "one more attempt, then stop",
                "One miss may be chance; two tell you something.",
                "You play the same step once more; after the second miss you play the one "
                "below it, and that ends the ladder.",
            ),
            Option(
                "stop",
                "stop at once",
                "Each further attempt at a note that will not lock teaches the wrong thing.",
                "The first miss ends the ladder.",
            ),
        ),
    ),
    Question(
        "after-top",
        "After your highest note of the day was good?",
        (
            Option(
                "stop",
                "stop there",
                "You take the good one with you into the next day.",
                "The ladder ends with its highest step.",
            ),
            Option(
                "reach",
                "reach one step beyond, once",
                "The note above makes the one you have feel near.",
                "The last step lies one beyond: you play it once, and it counts neither way.",
            ),
        ),
    ),
    Question(
        "between-attempts",
        "Between attempts?",
        (
            Option(
                "re-centre",
                "an easy low note resets the lips",
                "The low note tells you how your lips are before a high one has to.",
                "You play a low note before each attempt; it is compared with the first.",
            ),
            Option(
                "breath",
                "a fresh breath, no reset",
                "The embouchure stays as it is, and only the air is new.",
                "There is no low note, and five seconds for a full breath.",
            ),
            Option(
                "bottom",
                "always from the bottom, in one breath",
                "The way up is the exercise, so nothing begins at the top.",
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
                "Low notes are wide. They need much air with no pressure behind it.",
                "Low work is written soft and with longer notes.",
            ),
            Option(
                "faster",
                "faster, more air",
                "Low notes fall apart when the air runs short. With more of it they lock.",
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
                "strength, with the normal embouchure",
                "An embouchure that holds a pedal holds everything above it.",
                "Pedal sets count as the day's main work, with their rests.",
            ),
            Option(
                "loosening",
                "loosening only",
                "Loose pedals at the end relax the lips after the day's work.",
                "Pedals come only at the end, short and loose.",
            ),
            Option(
                "both",
                "both, kept apart",
                "Strength and loosening are two things; mixed, neither works.",
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
                "The less moves on the outside, the faster you can change.",
                "Slurs remind you: let the tongue lead, keep the jaw quiet.",
            ),
            Option(
                "moves",
                "moves with each note",
                "Every note has its place, and the jaw helps you to find it.",
                "Slurs remind you: let the jaw move to find each note.",
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
                "Lips that are pressed cannot vibrate freely, and pressing can hurt them.",
                "High work says so; the light-hold pyramid takes its turn.",
            ),
            Option(
                "some",
                "light; more is tolerated at the top",
                "Some pressure seals the lips. What counts is that you let go again.",
                "The light-hold pyramid is left out.",
            ),
            Option(
                "zero",
                "none: light-hold work daily",
                "What you can play with the horn lying on an open hand needs no pressure.",
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
                "You start a note when you are ready for it.",
                "Low, pedal and high work go without it.",
            ),
            Option(
                "on",
                "on",
                "In music the note has to come on time.",
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
                "slurred first, tongued later",
                "The tongue can hide a start that the air does not make.",
                "Low chains and skips are slurred.",
            ),
            Option(
                "breath",
                "air attacks daily",
                "A note that starts on the air alone is centred.",
                "Air attacks on pedals come often, and long tones begin on the air alone.",
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
                "If the lips know the note by themselves, the horn only makes it louder.",
                "Some minutes on the mouthpiece come first each day.",
            ),
            Option(
                "diagnosis",
                "as a diagnosis only",
                "The horn helps the lips. Without it they work too hard.",
                "No buzzing in the plan, except for quiet hours and when something does not work.",
            ),
        ),
        (Group.LONG, Group.SLURS),
    ),
)

BY_KEY: Mapping[str, Question] = MappingProxyType(
    {question.key: question for question in QUESTIONS}
)

_FORMER_KEYS: Mapping[str, str] = MappingProxyType({"between-tries": "between-attempts"})
"""Keys that questions had once; commands of that time name them."""


class ApproachRefusedError(ValueError):
    """A question or an option there is not; the message names those there are."""


def checked(key: str, option: str) -> tuple[str, str]:
    """A choice that can be, by the key its question has now. Raises `ApproachRefusedError`."""
    key = _FORMER_KEYS.get(key, key)
    question = BY_KEY.get(key)
    if question is None:
        raise ApproachRefusedError(f"There is no question {key}. There are: {', '.join(BY_KEY)}.")
    keys = [option.key for option in question.options]
    if option not in keys:
        raise ApproachRefusedError(f"{key} is one of {', '.join(keys)}, not {option}.")
    return key, option


def answers_to(family: Family, approaches: Approaches) -> list[Answer]:
    """What the chosen answers change in an exercise."""
    return [
        answer
        for (question, option), answer in family.practised.answers.items()
        if choice(approaches, question) == option
    ]


def choice(approaches: Approaches, key: str) -> str:
    """The key of the option that is chosen for a question."""
    options = [option.key for option in BY_KEY[key].options]
    wanted = approaches.get(key)
    return wanted if wanted in options else options[0]
