"""How takes and what was measured of them are said."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.listening.notes.measures import NoteMeasures, in_slot
from orexis.core.listening.notes.tone import FEWEST_NOTES, ToneVerdict, ToneWord

Name = Callable[[int], str]
"""Gives a note's name as the player reads it."""


@dataclass(frozen=True, slots=True)
class Wording:
    """A verdict in words: a short headline, and the one thing to change (empty when passed)."""

    headline: str
    change: str


def directed(number: float, above: str, below: str) -> str:
    """A rounded number with its direction in place of a sign: "17 high", "0"."""
    whole = round(number)
    return "0" if whole == 0 else f"{abs(whole)} {above if whole > 0 else below}"


def sentence(words: str) -> str:
    """Words that stand within a sentence as one of their own."""
    return f"{words[:1].upper()}{words[1:]}."


def passed_word(passed: bool) -> str:
    """How an attempt went, in a word or two."""
    return "good" if passed else "not yet"


def origin_words(source: str) -> str:
    """Where the sound of a take came from."""
    return source if source == "microphone" else "the stand-in player"


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
    lines: list[MeasureLine] = []
    heard = cents[np.isfinite(cents)]
    # Of what was kept without its frames it is not known.
    if len(heard):
        within = in_slot(heard)
        of_it = f"of it within ± 10 cents; {100 * within[0]:.0f} % within ± 5"
        lines.append(MeasureLine("in the slot", f"{100 * within[1]:.0f}", "%", of_it))
    lines += [
        MeasureLine("speaks in", f"{measures.rise_s:.2f}", "s", "from a tenth of its sound to all"),
        MeasureLine("settles after", f"{measures.settle_s:.2f}", "s", "within ± 10 cents for good"),
        MeasureLine(
            "drift",
            directed(measures.drift_cents_per_s, "up", "down"),
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
            return f"Your own tone is not known yet: {learnt} of {FEWEST_NOTES} takes were good."
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
        said += f" {alike:.0f} of 100 like the last good one."
    return said
