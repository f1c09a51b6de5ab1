"""How each aim is said: its name, what it asks, what was missed, the one thing to change, and its
number."""

from collections.abc import Callable
from dataclasses import dataclass

from orexis.core.counting import counted
from orexis.core.exercises.family import Aim
from orexis.core.horn.words import tuned_words
from orexis.core.judging.aims import RULES
from orexis.core.judging.attempts import AimResult

_Number = tuple[str, str]


@dataclass(frozen=True, slots=True)
class AimWords:
    """`name` stands in a table and `counts` in a sentence. `missed` is given the note where it was
    ("" where there is only one) and begins as it would within a sentence; `number` gives a number
    and its unit."""

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
    """A number whose unit says which way it lies."""

    def number(result: AimResult) -> _Number:
        whole = round(result.measured)
        return f"{abs(whole)}", f"{unit} {above if whole > 0 else below}" if whole else unit

    return number


def _amount(unit: str) -> Callable[[AimResult], _Number]:
    return lambda result: (f"{result.measured:.0f}", unit)


def _yes_no(yes: str, no: str) -> Callable[[AimResult], _Number]:
    return lambda result: (yes if result.passed else no, "")


def _count(thing: str) -> Callable[[AimResult], _Number]:
    def number(result: AimResult) -> _Number:
        count = round(result.measured)
        return ("none", "") if count == 0 else (f"{count}", counted(count, thing).split(" ", 1)[1])

    return number


def _how_many(result: AimResult, thing: str) -> str:
    count = round(result.measured)
    return f"one {thing}" if count == 1 else counted(count, thing)


def _said(at: str, what: str) -> str:
    """What a note did, or, where there is only one, what was done."""
    return f"{at} {what}" if at else what


def _off(result: AimResult) -> str:
    """How far a pitch lies off, and how far it may."""
    return f"{tuned_words(result.measured)} ({result.limit:g} allowed)"


def _louder(result: AimResult, other: str) -> str:
    way = "louder" if _high(result) else "softer"
    return f"{abs(result.measured):.0f} dB {way} than {other} ({result.limit:g} allowed)"


def _to(at: str) -> str:
    return f"before {at}" if at else "in the slur"


WORDS: dict[Aim, AimWords] = {
    Aim.CENTRE: AimWords(
        "centre",
        "in the centre",
        lambda result, at: f"{at} was {_off(result)}" if at else _off(result),
        _either(
            "Let the pitch down a little until the sound clears, and stay there.",
            "Bring the pitch up a little with more air until the sound clears.",
        ),
        _way("sharp", "flat"),
    ),
    Aim.STEADY: AimWords(
        "steady",
        "steady",
        lambda result, at: _said(
            at, f"wavered by ± {result.measured:.0f} cents ({result.limit:g} allowed)"
        ),
        _always("Keep the air moving at one speed, and leave the lips alone."),
        lambda result: (f"± {result.measured:.0f}", "cents"),
    ),
    Aim.START: AimWords(
        "start",
        "starts on the pitch",
        lambda result, at: (
            f"scooped: {_said(at, 'started')} {_off(result)}"
            if not _high(result)
            else f"{_said(at, 'started')} {_off(result)}"
        ),
        _either(
            "Hear the note before you play it, and let the air start it without pinching.",
            "Hear the note before you play it, and start right on it.",
        ),
        _way("sharp", "flat"),
    ),
    Aim.END: AimWords(
        "end",
        "ends on the pitch",
        lambda result, at: f"{_said(at, 'ended')} {_off(result)}",
        _either(
            "Stop by stopping the air; do not squeeze the end.",
            "Keep the air going right to the end, then stop it.",
        ),
        _way("sharp", "flat"),
    ),
    Aim.HELD: AimWords(
        "held",
        "held as long as asked",
        lambda result, at: _said(at, f"held {_down(result.measured):.1f} s of {result.limit:g} s"),
        _always("Fill up in two stages, low then top, and spend the air evenly."),
        lambda result: (f"{_down(result.measured):.1f}", "s"),
    ),
    Aim.SPEAKS: AimWords(
        "speaks",
        "starts without a crack",
        lambda _, at: _said(at, "cracked at the start"),
        _always("Hear the note, set the lips for it, and let the air start it right there."),
        _yes_no("at once", "cracked"),
    ),
    Aim.TONE: AimWords(
        "tone",
        "sounds like your last good one",
        lambda result, at: (
            f"{at or 'the tone'} was {result.measured:.0f} of 100 like your last good one "
            f"({result.limit:g} asked)"
        ),
        _always("Remember how the last good one sounded, then blow and shape this one the same."),
        _amount("of 100"),
    ),
    Aim.LEVEL: AimWords(
        "loudness",
        "as loud as your last good one",
        lambda result, at: f"{at}: {_louder(result, 'your last good one')}".removeprefix(": "),
        _either(
            "Start with less air: as loud as the last good one, not louder.",
            "Start with more air: as loud as the last good one, not softer.",
        ),
        _way("louder", "softer", "dB"),
    ),
    Aim.GAP: AimWords(
        "gap",
        "connected",
        lambda result, at: f"a {result.measured:.0f} ms gap {_to(at)} ({result.limit:g} allowed)",
        _always("Keep the air going through the change: a little more of it right before."),
        _amount("ms"),
    ),
    Aim.TOUCHED: AimWords(
        "in between",
        "no partial sounds in between",
        lambda result, at: f"a partial in between sounded for {result.measured:.0f} ms {_to(at)}",
        _always("Tongue it once to hear the two notes, then slur it, and let the air lead."),
        _amount("ms"),
    ),
    Aim.FLIPPED: AimWords(
        "partial above",
        "no partial above sounds first",
        lambda result, at: (
            f"the partial above {at or 'the note'} sounded first, for {result.measured:.0f} ms"
        ),
        _always("Push less on the way up; keep the chin flat and the corners firm."),
        _amount("ms"),
    ),
    Aim.WANING: AimWords(
        "fading",
        "does not fade before the change",
        lambda result, at: f"the sound faded by {result.measured:.0f} dB {_to(at)}",
        _always("Lead with the air: let the sound grow into the change."),
        _amount("dB"),
    ),
    Aim.SMEARED: AimWords(
        "change",
        "changes at once",
        lambda result, at: (
            f"the slur to {at or 'the note'} took {result.measured:.0f} ms "
            f"({result.limit:g} allowed)"
        ),
        _always("Change quickly from note to note: fast air, and no glide on the way."),
        _amount("ms"),
    ),
    Aim.SPOKE: AimWords(
        "notes",
        "every note sounds",
        lambda _, at: f"{at or 'the note'} did not sound",
        _always("Hear each note before you play it, and keep the air going to it."),
        _yes_no("all", "missing"),
    ),
    Aim.EXTRA: AimWords(
        "extra notes",
        "nothing else is played",
        lambda result, at: f"{_how_many(result, 'extra note')} before {at or 'the note'}",
        _always("Look at the notes once more and play it slower."),
        _count("note"),
    ),
    Aim.TEMPO: AimWords(
        "tempo",
        "in tempo",
        lambda result, _: (
            f"{abs(result.measured):.0f} % too {'fast' if _high(result) else 'slow'} "
            f"({result.limit:g} % allowed)"
        ),
        _either(
            "Listen to one bar of the beat before you start, and stay with it.",
            "Listen to one bar of the beat before you start, or set a slower tempo.",
        ),
        _way("fast", "slow", "%"),
    ),
    Aim.FLOW: AimWords(
        "no pause",
        "goes on without a pause",
        lambda result, at: f"a pause of {result.measured:.1f} s before {at or 'the note'}",
        _always("Set a tempo at which you can play it through without stopping."),
        lambda result: (f"{result.measured:.1f}", "s"),
    ),
    Aim.ONE_BREATH: AimWords(
        "breaths",
        "on the breaths as written",
        lambda result, _: _how_many(result, "extra breath"),
        _always("Take a fuller breath before it, or play it a little quicker."),
        _count("extra breath"),
    ),
    Aim.SAME_SOUND: AimWords(
        "same loudness",
        "as loud at the end as at the start",
        lambda result, at: f"{at or 'the last note'} was {_louder(result, 'the first')}",
        _always("Make the last note as good as the first."),
        _way("louder", "softer", "dB"),
    ),
    Aim.SAME_TONE: AimWords(
        "same tone",
        "one tone along the line",
        lambda result, at: f"{at or 'the sound'} turned {result.word or 'different'}",
        _always("Play the first note, keep its sound in your ear, and take it along the line."),
        _amount("of 100"),
    ),
    Aim.EVEN: AimWords(
        "even",
        "even",
        lambda result, _: (
            f"the notes came unevenly: ± {result.measured:.0f} % ({result.limit:g} allowed)"
        ),
        _always("Play it slower, with a beat under it."),
        lambda result: (f"± {result.measured:.0f}", "%"),
    ),
    Aim.CLEAR: AimWords(
        "clear",
        "both notes clear",
        lambda result, _: (
            f"only {result.measured:.0f} % of the notes were clear ({result.limit:g} asked)"
        ),
        _always("Half the speed: let each note lock, then go faster."),
        _amount("%"),
    ),
    Aim.BREAKS: AimWords(
        "breaks",
        "without a break",
        lambda result, _: (
            "the glide broke once"
            if round(result.measured) == 1
            else f"the glide broke {result.measured:.0f} times"
        ),
        _always("Take a smaller range, and keep the air moving."),
        _count("break"),
    ),
    Aim.SPAN: AimWords(
        "range",
        "all the way",
        lambda result, _: f"the glide stayed {_half_steps(result.measured)} short",
        _always("Begin nearer the middle, and go a little farther each time."),
        lambda result: (
            ("all", "") if result.passed else (f"{result.measured:.1f}", "half steps short")
        ),
    ),
    Aim.GLIDED: AimWords(
        "glided",
        "glides from note to note",
        lambda _, at: f"{at or 'the note'} was reached without a glide",
        _always("Go through every pitch between the two notes, as slowly as you need."),
        _yes_no("glided", "jumped"),
    ),
    Aim.NO_CATCH: AimWords(
        "glide",
        "glides without catching",
        lambda _, at: f"the glide caught on the way to {at or 'the note'}",
        _always("Go slower with the same air, and let only the slide move."),
        _yes_no("free", "caught"),
    ),
    Aim.ENDS_ALIKE: AimWords(
        "both ends",
        "as loud at both ends",
        lambda result, at: f"{at or 'the end'} was {_louder(result, 'the start')}",
        _always("Take a new breath, and keep the same air up to the end."),
        _way("louder", "softer", "dB"),
    ),
    Aim.BENT: AimWords(
        "bend",
        "bent as far as asked",
        lambda result, at: _said(at, f"was bent {result.measured:.0f} % as far as asked"),
        _always("Bend farther with the lips alone, slowly, then let the note come back."),
        _amount("% as far"),
    ),
    Aim.CAME_BACK: AimWords(
        "comes back",
        "comes back to the note",
        lambda result, at: f"{_said(at, 'came back')} {_off(result)}",
        _always("Take a smaller bend, keep the jaw quiet, and let the note settle back."),
        _way("sharp", "flat"),
    ),
    Aim.SHAPE: AimWords(
        "dynamics",
        "the dynamics as written",
        lambda _, at: f"{at or 'the note'} did not follow the dynamics",
        _always("Begin with less, so that there is room to grow and to fade."),
        _yes_no("as written", "not yet"),
    ),
}
"""The words of every aim."""

_UNSAID_LIMITS = frozenset(
    aim for aim, rule in RULES.items() if rule.limits is not None and not any(rule.limits)
)


def _half_steps(number: float) -> str:
    return "1 half step" if f"{number:.1f}" == "1.0" else f"{number:.1f} half steps"


def number_words(result: AimResult) -> _Number:
    """An aim's number as it is read, and its unit; of one that cannot be told, why."""
    return ("", result.untold) if result.untold else WORDS[result.aim].number(result)


def limit_words(result: AimResult) -> str:
    """What is asked of an aim, as it is read after a number; with how often it went well."""
    often = f"{result.right} of {result.chances} good" if result.chances > 1 else ""
    if result.aim in _UNSAID_LIMITS:
        return often
    if result.aim is Aim.HELD:
        said = f"{result.limit:g} s asked"
    else:
        said = f"{result.limit:g} {'asked' if RULES[result.aim].least else 'allowed'}"
    return f"{said}, {often}" if often else said
