"""What was heard, written down: notes and rests as long as they were, to an eighth of a second."""

from fractions import Fraction

from orexis.core.listening.notes.events import Change, Events
from orexis.core.score.steps import Articulation, Play, Rest, Score, Step

_PARTS_A_SECOND = 8


def transcribed(events: Events) -> Score:
    """The notes that were heard as a free score, a beat a second, from the first of them on."""
    steps: list[Step] = []
    now = 0
    for place, note in enumerate(events.notes):
        start, end = (round(_PARTS_A_SECOND * at_s) for at_s in (note.start_s, note.end_s))
        start = max(start, now) if steps else start
        end = max(end, start + 1)
        if steps and start > now:
            steps.append(Rest(Fraction(start - now, _PARTS_A_SECOND)))
        joined = place > 0 and events.transitions[place - 1].kind in (Change.SLUR, Change.GLIDE)
        how = Articulation.SLURRED if joined else Articulation.TONGUED
        steps.append(Play(note.midi, Fraction(end - start, _PARTS_A_SECOND), how))
        now = end
    return Score(tuple(steps))
