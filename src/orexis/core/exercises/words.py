"""Exercises said in words."""

from orexis.core.counting import counted
from orexis.core.horn.notation import Notation
from orexis.core.score.steps import Score

_MOST_NAMED = 24


def pace_words(score: Score) -> str:
    """How fast it goes, and how often: "free, 3 times"."""
    pace = "free" if score.tempo_bpm is None else f"{score.tempo_bpm:g} a minute"
    return f"{pace}, {score.times} times" if score.times > 1 else pace


def described(score: Score, notation: Notation) -> str:
    """A score for those who do not see it: its notes by name, and its pace."""
    pitches = score.pitches
    if not pitches:
        return f"By breathing alone, {pace_words(score)}."
    names = " ".join(notation.name(midi) for midi in pitches[:_MOST_NAMED])
    more = len(pitches) - _MOST_NAMED
    rest = f" and {counted(more, 'more note')}" if more > 0 else ""
    return f"{names}{rest}, {pace_words(score)}."
