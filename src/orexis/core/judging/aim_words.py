"""How each aim is said: its name, what it asks, what was missed, the one thing to change, and its
number."""

from collections.abc import Callable
from dataclasses import dataclass

from orexis.core.exercises.family import Aim
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempts import AimResult
from orexis.core.judging.words import directed
from orexis.core.listening.notes.measures import HOLD_WITHIN_CENTS

_Number = tuple[str, str]


@dataclass(frozen=True, slots=True)
class AimWords:
    """`name` stands in a table and `counts` in a sentence. `missed` is given the note where it was
    ("" where there is only one), and `number` gives a number and its unit."""

    name: str
    counts: str
    missed: Callable[[AimResult, str], str]
    advice: Callable[[AimResult], str]
    number: Callable[[AimResult], _Number]


def _high(result: AimResult) -> bool:
    return result.measured > 0


def _down(seconds: float) -> float:
    """To a tenth, never rounded up: 3.96 s of a 4 s note was not held."""
    return int(seconds * 10 + 1e-6) / 10


def _always(words: str) -> Callable[[AimResult], str]:
    return lambda _: words


def _either(above: str, below: str) -> Callable[[AimResult], str]:
    """One piece of advice for what was too high or much, another for too low or little."""
    return lambda result: above if _high(result) else below


def _way(above: str, below: str, unit: str = "cents") -> Callable[[AimResult], _Number]:
    return lambda result: (directed(result.measured, above, below), unit)


def _amount(unit: str) -> Callable[[AimResult], _Number]:
    return lambda result: (f"{result.measured:.0f}", unit)


def _yes_no(yes: str, no: str) -> Callable[[AimResult], _Number]:
    return lambda result: (yes if result.passed else no, "")


def _lies(result: AimResult, at: str) -> str:
    cents = f"{abs(result.measured):.0f} cents {'high' if _high(result) else 'low'}"
    return f"{at} lies {cents}" if at else cents


def _ends(result: AimResult, at: str) -> str:
    end = f"the end of {at}" if at else "the end"
    return f"{end} {'rose' if _high(result) else 'fell'}"


def _than(result: AimResult) -> str:
    return f"{abs(result.measured):.0f} dB {'louder' if _high(result) else 'softer'} than"


def _times(result: AimResult) -> str:
    count = round(result.measured)
    return "once" if count == 1 else f"{count} times"


WORDS: dict[Aim, AimWords] = {
    Aim.CENTRE: AimWords(
        "centre",
        "in the centre",
        _lies,
        _either(
            "Let the pitch down a little until the sound clears, and stay there.",
            "Bring the pitch up a little with more air until the sound clears.",
        ),
        _way("high", "low"),
    ),
    Aim.STEADY: AimWords(
        "steady",
        "steady",
        lambda _, at: f"{at or 'it'} wavers",
        _always("Keep the air moving at one speed; leave the lips alone."),
        lambda result: (f"± {result.measured:.0f}", "cents"),
    ),
    Aim.START: AimWords(
        "start",
        "begins where it stays",
        lambda result, at: f"{'came down' if _high(result) else 'slid up'} into {at or 'it'}",
        _either(
            "Hear the note first, then let the air start it; do not pinch it in.",
            "Hear the note first, then start it there with air, not from below.",
        ),
        _way("above", "below"),
    ),
    Aim.END: AimWords(
        "end",
        "does not sag at the end",
        _ends,
        _either(
            "Stop by stopping the air; do not squeeze the end.",
            "Keep the air going right to the end, then stop it.",
        ),
        _way("high", "low"),
    ),
    Aim.HELD: AimWords(
        "held",
        "held as long as asked",
        lambda result, at: (
            f"{at} held {_down(result.measured):.1f} of {result.limit:g} s".removeprefix(" ")
        ),
        _always(
            "Fill up in two stages, low then top, and spend the air evenly; it counts until the "
            f"pitch leaves ± {HOLD_WITHIN_CENTS:g} cents or the sound fades."
        ),
        lambda result: (f"{_down(result.measured):.1f}", "s"),
    ),
    Aim.SPEAKS: AimWords(
        "speaks",
        "speaks at once",
        lambda _, at: f"{at or 'it'} cracked",
        _always("Hear the note, set the lips for it, and let the air start it right there."),
        _yes_no("at once", "cracked"),
    ),
    Aim.TONE: AimWords(
        "tone",
        "sounds like the last that passed",
        lambda _, at: f"{at or 'it'} sounds unlike the last that passed",
        _always("Hear how the last one sounded, then blow and shape this one the same."),
        _amount("of 100"),
    ),
    Aim.LEVEL: AimWords(
        "level",
        "as loud as the last that passed",
        lambda result, at: f"{at} {_than(result)} the last".removeprefix(" "),
        _either(
            "Start with less air: as loud as the last one, not louder.",
            "Start with more air: as loud as the last one, not softer.",
        ),
        _way("louder", "softer", "dB"),
    ),
    Aim.GAP: AimWords(
        "gap",
        "no gap",
        lambda result, at: f"a gap of {result.measured:.0f} ms before {at}",
        _always("Blow through the change: a moment of more air right before it."),
        _amount("ms"),
    ),
    Aim.TOUCHED: AimWords(
        "touched",
        "no slot touched between",
        lambda result, at: f"a slot speaks for {result.measured:.0f} ms on the way to {at}",
        _always("Tongue it once to set the sound in the ear, then slur; the air leads."),
        _amount("ms"),
    ),
    Aim.FLIPPED: AimWords(
        "flipped",
        "no slot flipped over",
        lambda _, at: f"the slot above {at} speaks first",
        _always("Less push going up; chin firm, and the corners hold."),
        _yes_no("none", "flipped over"),
    ),
    Aim.WANING: AimWords(
        "waning",
        "does not wane before the change",
        lambda result, at: f"the sound wanes by {result.measured:.0f} dB before {at}",
        _always("Lead with air: into the change the sound grows rather than fades."),
        _amount("dB"),
    ),
    Aim.SPOKE: AimWords(
        "notes",
        "every note speaks",
        lambda _, at: f"{at or 'it'} does not speak",
        _always("Slower, and fewer notes, until every one of them speaks."),
        _yes_no("all speak", "missed"),
    ),
    Aim.ONE_BREATH: AimWords(
        "breath",
        "one breath",
        lambda result, _: f"{result.measured:.0f} more breaths than there are",
        _always("A fuller breath before it, or a little quicker."),
        _yes_no("as written", "one more"),
    ),
    Aim.SAME_SOUND: AimWords(
        "same sound",
        "same sound from end to end",
        lambda result, at: f"{at} is {_than(result)} the first",
        _always("Make the last note as good as the first."),
        _way("louder", "softer", "dB"),
    ),
    Aim.EVEN: AimWords(
        "even",
        "even",
        lambda result, _: f"the notes are uneven by {result.measured:.0f} %",
        _always("Slower, with a beat under it."),
        lambda result: (f"± {result.measured:.0f}", "%"),
    ),
    Aim.CLEAR: AimWords(
        "clear",
        "both notes clear",
        lambda result, _: f"only {result.measured:.0f} % of the notes are clear",
        _always("Half the speed: lock each note, then faster."),
        _amount("%"),
    ),
    Aim.BREAKS: AimWords(
        "breaks",
        "no break",
        lambda result, _: f"the glide breaks {_times(result)}",
        _always("A smaller span, with the air kept moving."),
        _amount("breaks"),
    ),
    Aim.SPAN: AimWords(
        "span",
        "the whole span",
        lambda result, _: f"it stays {result.measured:.1f} half steps short of its span",
        _always("Begin nearer the middle, and widen it a little each time."),
        lambda result: (f"{result.measured:.1f}", "half steps short"),
    ),
    Aim.NO_CATCH: AimWords(
        "glide",
        "no slot catches on the way",
        lambda _, at: f"a slot catches on the way to {at}",
        _always("Slower: the same air, and only the slide moves."),
        _amount("slots caught"),
    ),
    Aim.ENDS_ALIKE: AimWords(
        "both ends",
        "both ends alike",
        lambda result, at: f"{at} is {_than(result)} where the glide began",
        _always("A new breath, and the same air up to the end."),
        _way("louder", "softer", "dB"),
    ),
    Aim.CAME_BACK: AimWords(
        "comes back",
        "comes back to the note",
        lambda result, _: f"it comes back {_lies(result, '')}",
        _always("A smaller bend; jaw quiet, and let it settle back."),
        _way("high", "low"),
    ),
    Aim.SHAPE: AimWords(
        "dynamic",
        "the dynamic asked for",
        lambda _, at: f"{at or 'it'} goes against the dynamic asked for",
        _always("Begin with less, so that there is room for the shape."),
        _yes_no("as asked", "against it"),
    ),
}
"""The words of every aim."""

_UNSAID_LIMITS = frozenset(
    aim for aim, rule in RULES.items() if rule.limits is not None and not any(rule.limits)
)


def number_words(result: AimResult) -> _Number:
    """An aim's number as it is read, and its unit; of one that cannot be told, why."""
    return ("", result.untold) if result.untold else WORDS[result.aim].number(result)


def limit_words(result: AimResult) -> str:
    """What is asked of an aim, as it is read after a number that missed it; with how often it went
    well."""
    often = f"{result.right} of {result.chances} right" if result.chances > 1 else ""
    if result.aim in _UNSAID_LIMITS:
        return often
    rule = RULES[result.aim]
    if result.aim is Aim.TONE:
        said = f"of at least {result.limit:g}"
    else:
        bound = "of at least" if rule.least and result.aim is not Aim.HELD else "of"
        said = f"{bound} {result.limit:g} {rule.unit}"
    return f"{said}, {often}" if often else said
