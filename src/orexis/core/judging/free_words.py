"""Free playing and a followed part in words."""

from collections.abc import Iterator

from orexis.core.counting import counted
from orexis.core.judging.following import FollowedNote, FollowedPart
from orexis.core.judging.words import Name, tuned_words
from orexis.core.listening.sitting import Sitting

_OFF_CENTS, _LATE_MS = 20.0, 60.0
"""From how far off a note of a part is told of."""
_UNSURE_TOLD_S = 1.0


def sitting_lines(sitting: Sitting, name: Name) -> Iterator[str]:
    """What was played in a sitting, a line a thing."""
    yield from _time_words(sitting)
    for note in sitting.notes:
        tuned = f"{name(note.midi)} {tuned_words(note.cents)}"
        times = counted(note.times, "time")
        yield f"  {tuned:<24} ± {note.spread_cents:.0f} cents, {times}, {note.seconds:.1f} s"
    yield from _playing_words(sitting, name)


def sitting_words(sitting: Sitting, name: Name) -> Iterator[str]:
    """What was played in a sitting but for its single notes, in sentences."""
    yield from _time_words(sitting)
    yield from _playing_words(sitting, name)


def _time_words(sitting: Sitting) -> Iterator[str]:
    playing = f"{_time(sitting.duration_s)} of sound, {_time(sitting.playing_s)} of playing"
    unsure = sitting.unsure_s >= _UNSURE_TOLD_S
    yield f"{playing}, {_time(sitting.unsure_s)} unsure." if unsure else f"{playing}."
    if sitting.notes:
        by_register = sitting.by_register.items()
        yield f"By register: {', '.join(f'{key} {_time(s)}' for key, s in by_register if s)}."
    else:
        yield "No notes were heard. Play closer to the microphone, or louder."


def _playing_words(sitting: Sitting, name: Name) -> Iterator[str]:
    hold, onsets = sitting.longest_hold, sitting.onsets
    if hold is not None:
        yield f"Longest hold: {name(hold.midi)}, {hold.measures.hold_s:.1f} s."
    if onsets is not None and onsets.mean_ms is not None:
        way = "late" if onsets.mean_ms > 0 else "early"
        yield (
            f"Against {onsets.tempo_bpm:g} beats a minute: {abs(onsets.mean_ms):.0f} ms {way} "
            f"on average, ± {onsets.spread_ms:.0f} ms."
        )
    elif onsets is not None:
        yield f"Your tempo: about {onsets.tempo_bpm:.0f} beats a minute."


def _time(seconds: float) -> str:
    return f"{seconds:.1f} s" if seconds < 60 else f"{seconds / 60:.1f} min"


def followed_lines(followed: FollowedPart, name: Name) -> Iterator[str]:
    """How a part was played, a line a thing, up to where playing stopped."""
    notes = followed.notes
    yield f"{sum(one.cents is not None for one in notes)} of {counted(len(notes), 'note')} played."
    if followed.tempo_bpm is not None:
        yield f"Tempo: {followed.tempo_bpm:.0f} quarters a minute."
    if followed.stopped_bar is not None:
        yield f"You stopped in bar {followed.stopped_bar}."
    last = max((at for at, one in enumerate(notes) if one.start_s is not None), default=-1)
    for one in notes[: last + 1]:
        if said := _note_words(one, name):
            written = one.written
            yield f"  bar {written.bar}, beat {written.beat:g}, {name(written.midi)}: {said}"
    for extra in followed.extra:
        yield f"  bar {extra.bar}: an extra {name(extra.midi)}"


def _note_words(one: FollowedNote, name: Name) -> str:
    """What is worth saying of a note, or ""."""
    if one.heard_midi is not None:
        return f"you played {name(one.heard_midi)}"
    if one.start_s is None:
        return "missed"
    said: list[str] = []
    if one.cents is not None and abs(one.cents) >= _OFF_CENTS:
        said.append(tuned_words(one.cents))
    if one.late_ms is not None and abs(one.late_ms) >= _LATE_MS:
        said.append(f"{abs(one.late_ms):.0f} ms {'late' if one.late_ms > 0 else 'early'}")
    return ", ".join(said)
