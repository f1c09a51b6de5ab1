"""Free playing and a followed part in words."""

from collections.abc import Iterator, Sequence

from orexis.core.counting import counted, listed, time_words
from orexis.core.horn.words import from_to_words, tuned_words
from orexis.core.judging.following import FollowedNote, FollowedPart
from orexis.core.judging.words import Name
from orexis.core.listening.habits import TOUCHED_S, NoteHabit
from orexis.core.listening.sitting import Sitting

_OFF_CENTS, _LATE_MS = 20.0, 60.0
"""From how far off a note of a part is told of."""
_UNSURE_TOLD_S = 1.0
MARKED_WORDS = "marked while playing"
"""What a bookmark says that was put while somebody played."""
_OFTEN = 3
_MOVED_CENTS, _MOVED_DB = 3.0, 2.0
"""From which change on one is told."""


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
    spoke = [note for note in sitting.notes if note.longest_hold_s >= TOUCHED_S]
    if len(spoke) > 1:
        yield f"You played from {name(spoke[0].midi)} to {name(spoke[-1].midi)}."
    if hold is not None:
        yield f"Longest hold: {name(hold.midi)}, {hold.measures.hold_s:.1f} s."
    often = [note for note in spoke if note.times >= _OFTEN]
    if len(often) > 1:
        steady = min(often, key=lambda note: note.spread_cents)
        yield f"Steadiest note: {name(steady.midi)}, ± {steady.spread_cents:.0f} cents."
    yield from _change_words(sitting)
    if onsets is None:
        return
    if onsets.spread_ms is None:
        yield f"Your tempo: about {onsets.tempo_bpm:.0f} beats a minute."
        return
    against = f"Against {onsets.tempo_bpm:.0f} beats a minute"
    if onsets.mean_ms is None:
        yield (
            f"{against}: ± {onsets.spread_ms:.0f} ms. How early or late is not told until you "
            "measure this device on the Stand."
        )
    else:
        late = f"{_late(onsets.mean_ms)} on average"
        yield f"{against}: {late}, ± {onsets.spread_ms:.0f} ms."
    if onsets.after_silence is not None:
        back = onsets.after_silence
        yield (
            f"After the silent bars you came back {_late(back.late_ms)} on average "
            f"({counted(back.times, 'time')})."
        )


def _change_words(sitting: Sitting) -> Iterator[str]:
    """What becomes of the notes over the time, and with loudness."""
    course, louder = sitting.course, sitting.louder_cents
    if course is not None:
        told: list[str] = []
        if abs(course.cents) >= _MOVED_CENTS:
            told.append(f"{_cents(course.cents)} {_way(course.cents)}")
        if abs(course.level_db) >= _MOVED_DB:
            way = "louder" if course.level_db > 0 else "softer"
            told.append(f"{abs(course.level_db):.0f} dB {way}")
        if course.clearness_db <= -_MOVED_DB:
            told.append(f"{-course.clearness_db:.0f} dB airier")
        elif course.clearness_db >= _MOVED_DB:
            told.append(f"{course.clearness_db:.0f} dB clearer")
        if told:
            yield f"Towards the end your notes were {listed(told)} than at the beginning."
        else:
            yield "Towards the end your tuning and your sound were as at the beginning."
    if louder is not None and abs(louder) >= _MOVED_CENTS:
        yield f"When you play 6 dB louder, your notes lie {_cents(louder)} {_way(louder)}."


def day_words(playing_s: float, notes: Sequence[NoteHabit], name: Name) -> str:
    """What was played in a sitting, in a line of its day; `notes` from the lowest up."""
    longest = max(notes, key=lambda habit: habit.longest_hold_s)
    told = [
        f"{time_words(playing_s)} of playing",
        counted(sum(habit.times for habit in notes), "note"),
        from_to_words(notes[0].midi, notes[-1].midi, name),
        f"longest hold {longest.longest_hold_s:.1f} s on {name(longest.midi)}",
    ]
    return f"{', '.join(told)}."


def usual_words(note: NoteHabit, usual: NoteHabit | None) -> str:
    """How a note lay beside how this player usually plays it, "" where that is not known."""
    if usual is None or usual.times < _OFTEN:
        return ""
    if abs(note.cents - usual.cents) < _MOVED_CENTS:
        return "as usual"
    return f"usually {tuned_words(usual.cents)}"


def _way(cents: float) -> str:
    return "sharper" if cents > 0 else "flatter"


def _cents(cents: float) -> str:
    return counted(round(abs(cents)), "cent")


def _late(late_ms: float) -> str:
    late = round(late_ms)
    return f"{abs(late)} ms {'late' if late > 0 else 'early'}" if late else "on the beat"


def _time(seconds: float) -> str:
    return f"{seconds:.1f} s" if seconds < 60 else f"{seconds / 60:.1f} min"


def followed_lines(followed: FollowedPart, name: Name) -> Iterator[str]:
    """How a part was played, a line a thing, up to where playing stopped."""
    notes = followed.notes
    played = sum(note.cents is not None for note in notes)
    yield f"{played} of {counted(len(notes), 'note')} played."
    if followed.tempo_bpm is not None:
        yield f"Tempo: {followed.tempo_bpm:.0f} quarters a minute."
    if followed.stopped_bar is not None:
        yield f"You stopped in bar {followed.stopped_bar}."
    last = max((at for at, note in enumerate(notes) if note.start_s is not None), default=-1)
    for note in notes[: last + 1]:
        if said := _note_words(note, name):
            written = note.written
            yield f"  bar {written.bar}, beat {written.beat:g}, {name(written.midi)}: {said}"
    for extra in followed.extra:
        yield f"  bar {extra.bar}: an extra {name(extra.midi)}"


def _note_words(note: FollowedNote, name: Name) -> str:
    """What is worth saying of a note, or ""."""
    if note.heard_midi is not None:
        return f"you played {name(note.heard_midi)}"
    if note.start_s is None:
        return "missed"
    said: list[str] = []
    if note.cents is not None and abs(note.cents) >= _OFF_CENTS:
        said.append(tuned_words(note.cents))
    if note.late_ms is not None and abs(note.late_ms) >= _LATE_MS:
        said.append(f"{abs(note.late_ms):.0f} ms {'late' if note.late_ms > 0 else 'early'}")
    return ", ".join(said)
