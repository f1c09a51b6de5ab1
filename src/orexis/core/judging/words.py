"""How a verdict is said: plain words, the number, and the one thing to change."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.horn.notation import Notation
from orexis.core.judging.gate import Rule, RuleResult, Verdict
from orexis.core.listening.notes.measures import HOLD_WITHIN_CENTS, NoteMeasures, in_slot
from orexis.core.listening.notes.tone import FEWEST_NOTES, ToneVerdict, ToneWord

Name = Callable[[int], str]
"""Gives a note's name as the player reads it."""


@dataclass(frozen=True, slots=True)
class Said:
    """A verdict in words: a short headline, and the one thing to change (empty when passed)."""

    headline: str
    change: str


def say(
    verdict: Verdict,
    played_midi: int,
    asked_midi: int,
    notation: Notation,
    overruled_passed: bool | None = None,
) -> Said:
    """The verdict in words, for a player who names notes in `notation` and may have overruled
    the gate."""
    gate = _gate_says(verdict, played_midi, asked_midi, notation)
    if overruled_passed is None:
        return gate
    return Said(f"You say: {passed_word(overruled_passed)}.", f"The gate said: {gate.headline}")


def _gate_says(verdict: Verdict, played_midi: int, asked_midi: int, notation: Notation) -> Said:
    worst = verdict.worst
    if worst is None:
        return Said("Go on.", "")
    if played_midi != asked_midi:
        heard = notation.name(played_midi)
        return Said(
            f"That was {heard}. Again.",
            f"Hear {notation.name(asked_midi)} in your head first, then place it.",
        )
    return Said(f"Again: {_trouble(worst)}.", _advice(worst))


def measured_words(result: RuleResult) -> tuple[str, str]:
    """A rule's number as it is read, and its unit."""
    if result.untold:
        return "", result.untold
    cents = round(result.measured)
    match result.rule:
        case Rule.HELD:
            return f"{_down(result.measured):.1f}", "s"
        case Rule.STEADY:
            return f"± {cents}", "cents"
        case Rule.START:
            return _directed(cents, "above", "below"), "cents"
        case Rule.SPEAKS:
            return "at once" if result.passed else "cracked", ""
        case Rule.TONE:
            return f"{result.measured:.0f}", "of 100"
        case Rule.LEVEL:
            return _directed(cents, "louder", "softer"), "dB"
        case _:
            return _directed(cents, "high", "low"), "cents"


def limit_words(result: RuleResult) -> str:
    """What the rule asks for or allows, as it is read after a number that missed it."""
    match result.rule:
        case Rule.SPEAKS:
            return ""
        case Rule.TONE:
            return f"of at least {result.limit:g}"
        case Rule.LEVEL:
            return f"of {result.limit:g} dB"
        case Rule.HELD:
            return f"of {result.limit:g} s"
        case _:
            return f"of {result.limit:g} cents"


def passed_word(passed: bool) -> str:
    """What comes next, in a word or two."""
    return "go on" if passed else "again"


def origin_words(source: str) -> str:
    """Where the sound of a take came from."""
    return source if source == "microphone" else "the stand-in player"


def _directed(cents: int, above: str, below: str) -> str:
    if cents == 0:
        return "0"
    return f"{abs(cents)} {above if cents > 0 else below}"


def _down(seconds: float) -> float:
    """To a tenth, never rounded up: 3.96 s of a 4 s note was not held."""
    return int(seconds * 10 + 1e-6) / 10


def _trouble(result: RuleResult) -> str:
    high = result.measured > 0
    match result.rule:
        case Rule.CENTRE:
            return f"{abs(result.measured):.0f} cents {'high' if high else 'low'}"
        case Rule.STEADY:
            return "it wavers"
        case Rule.START:
            return f"{'came down' if high else 'slid up'} into it"
        case Rule.END:
            return f"the end {'rose' if high else 'fell'}"
        case Rule.HELD:
            return f"held {_down(result.measured):.1f} of {result.limit:g} s"
        case Rule.SPEAKS:
            return "it cracked"
        case Rule.TONE:
            return "it sounds unlike the last that passed"
        case Rule.LEVEL:
            return f"{abs(result.measured):.0f} dB {'louder' if high else 'softer'} than the last"


def _advice(result: RuleResult) -> str:
    high = result.measured > 0
    match result.rule:
        case Rule.CENTRE if high:
            return "Let the pitch down a little until the sound clears, and stay there."
        case Rule.CENTRE:
            return "Bring the pitch up a little with more air until the sound clears."
        case Rule.STEADY:
            return "Keep the air moving at one speed; leave the lips alone."
        case Rule.START if high:
            return "Hear the note first, then let the air start it; do not pinch it in."
        case Rule.START:
            return "Hear the note first, then start it there with air, not from below."
        case Rule.END if high:
            return "Stop by stopping the air; do not squeeze the end."
        case Rule.END:
            return "Keep the air going right to the end, then stop it."
        case Rule.SPEAKS:
            return "Hear the note, set the lips for it, and let the air start it right there."
        case Rule.TONE:
            return "Hear how the last one sounded, then blow and shape this one the same."
        case Rule.LEVEL if high:
            return "Start with less air: as loud as the last one, not louder."
        case Rule.LEVEL:
            return "Start with more air: as loud as the last one, not softer."
        case Rule.HELD:
            return (
                "Fill up in two stages, low then top, and spend the air evenly; it counts "
                f"until the pitch leaves ± {HOLD_WITHIN_CENTS:g} cents or the sound fades."
            )


def recording_remarks(reason: str, clipped: bool) -> list[str]:
    """What there is to know of a recording before it is heard: why it was not judged, where it
    was to be, and that it is clipped."""
    unjudged = [f"Kept unjudged: {reason}"] if reason else []
    loud = ["It is clipped in places: move back or turn the input down next time."]
    return unjudged + (loud if clipped else [])


@dataclass(frozen=True, slots=True)
class MeasureLine:
    """One measure as it is read: what it is, its number, its unit and what it means."""

    label: str
    words: str
    unit: str
    meaning: str


def measure_lines(
    measures: NoteMeasures, harmonicity_db: float, cents: FloatArray
) -> tuple[MeasureLine, ...]:
    """What was measured of a note beside what its rules already tell, in words; `cents` are its
    frames against the pitch asked for, NaN where not voiced."""
    within = in_slot(cents[np.isfinite(cents)])
    lines = [
        MeasureLine(
            "in the slot",
            f"{100 * within[1]:.0f}",
            "%",
            f"of it within ± 10 cents; {100 * within[0]:.0f} % within ± 5",
        ),
        MeasureLine("speaks in", f"{measures.rise_s:.2f}", "s", "from a tenth of its sound to all"),
        MeasureLine("settles after", f"{measures.settle_s:.2f}", "s", "within ± 10 cents for good"),
        MeasureLine(
            "drift",
            _directed(round(measures.drift_cents_per_s), "up", "down"),
            "cents a second",
            "the lean of the settled part",
        ),
        MeasureLine(
            "loudness",
            *_change(measures.level_change_db),
            f"{measures.shape.value}, from the beginning to the end",
        ),
        MeasureLine("clearness", f"{harmonicity_db:.0f}", "dB", "tone over breath, 40 at most"),
    ]
    vibrato = measures.vibrato
    if vibrato is not None:
        lines.append(
            MeasureLine(
                "vibrato",
                f"± {vibrato.extent_cents:.0f}",
                "cents",
                f"{vibrato.rate_hz:.1f} swings a second; not held against you",
            )
        )
    return tuple(lines)


def _change(decibels: float) -> tuple[str, str]:
    """A change of level as a number and its unit with the way it went."""
    tenths = round(decibels, 1)
    if tenths == 0:
        return "0", "dB"
    return f"{abs(tenths)}", f"dB {'louder' if tenths > 0 else 'softer'}"


def tone_sentence(verdict: ToneVerdict | None, alike: float | None, learnt: int) -> str:
    """A tone against the player's own; `learnt` is how many takes that is known from."""
    if verdict is None:
        if learnt < FEWEST_NOTES:
            return f"Your own tone is not known yet: {learnt} of {FEWEST_NOTES} takes have passed."
        return "Your own tone is not known yet at this pitch and loudness."
    match verdict.word:
        case ToneWord.AIRY:
            said = f"Airy: {-verdict.clearer_db:.0f} dB more breath than in your own tone here."
        case ToneWord.TIGHT:
            said = "Tight: brighter than your own tone here, and pushed up."
        case ToneWord.SPREAD:
            said = "Spread: duller than your own tone here, and not in the middle."
        case ToneWord.CLEAR:
            said = "Clear, as your own tone is here."
    if alike is not None:
        said += f" {alike:.0f} of 100 like the last that passed."
    return said
