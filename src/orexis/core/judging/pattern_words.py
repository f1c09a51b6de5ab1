"""A pattern as it was played, in words."""

from collections import Counter
from collections.abc import Sequence

from orexis.core.judging.words import Name
from orexis.core.listening.notes.patterns import LeftOver, PatternMatch

_EVEN_CV = 0.1


def pattern_sentences(
    match: PatternMatch, wanted: Sequence[int], played: Sequence[int], name: Name
) -> tuple[str, ...]:
    """What to say of a pattern, most important first. `wanted` and `played` are the notes asked
    for and heard (MIDI)."""
    said = [_spoken(match, wanted, name)]
    for kind, words in (
        (LeftOver.SPLIT, "Broken in two"),
        (LeftOver.REPEATED, "Played again"),
        (LeftOver.EXTRA, "Not asked for"),
    ):
        notes = Counter(name(played[number]) for number, why in match.left_over if why is kind)
        if notes:
            said.append(f"{words}: {', '.join(_times(*item) for item in notes.items())}.")
    if len(wanted) > len(match.missed):
        said += _whole(match)
    return tuple(said)


def _times(note: str, count: int) -> str:
    return note if count == 1 else f"{note} {count} times"


def _spoken(match: PatternMatch, wanted: Sequence[int], name: Name) -> str:
    missed = [name(wanted[i]) for i in match.missed]
    if not missed:
        return f"All {len(wanted)} notes spoke." if len(wanted) > 1 else "The note spoke."
    return f"{len(wanted) - len(missed)} of {len(wanted)} spoke; missed: {', '.join(missed)}."


def _whole(match: PatternMatch) -> list[str]:
    said = ["In one breath." if match.breaths == 1 else f"In {match.breaths} breaths."]
    if len(match.spoken) < 2:
        return said
    if match.same_sound:
        said.append("The last note sounds like the first.")
    else:
        said.append(f"The last note is {_difference(match)} than the first.")
    if len(match.spoken) > 2:
        percent = round(100 * match.evenness_cv)
        even = "Even" if match.evenness_cv <= _EVEN_CV else "Uneven"
        said.append(f"{even}: the speed varies by {percent} %.")
    return said


def _difference(match: PatternMatch) -> str:
    level, clear = match.level_change_db, match.harmonicity_change_db
    parts = []
    if abs(level) >= 1:
        parts.append(f"{abs(level):.0f} dB {'louder' if level > 0 else 'softer'}")
    if abs(clear) >= 1:
        parts.append(f"{abs(clear):.0f} dB {'clearer' if clear > 0 else 'breathier'}")
    return " and ".join(parts)
