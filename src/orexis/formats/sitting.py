"""A sitting and a followed part as JSON: `orexis.sitting/1` and `orexis.follow/1`."""

from typing import Any

from orexis.core.judging.following import FollowedPart
from orexis.core.listening.sitting import Sitting

Document = dict[str, Any]


def sitting_document(sitting: Sitting) -> Document:
    """What was played in a sitting."""
    hold, onsets = sitting.longest_hold, sitting.onsets
    return {
        "schema": "orexis.sitting/1",
        "duration_s": round(sitting.duration_s, 3),
        "playing_s": round(sitting.playing_s, 3),
        "unsure_s": round(sitting.unsure_s, 3),
        "by_register": {name: round(seconds, 3) for name, seconds in sitting.by_register.items()},
        "notes": [
            {
                "midi": note.midi,
                "times": note.times,
                "cents": round(note.cents, 2),
                "spread_cents": round(note.spread_cents, 2),
                "seconds": round(note.seconds, 3),
            }
            for note in sitting.notes
        ],
        "longest_hold": hold and {"midi": hold.midi, "seconds": round(hold.measures.hold_s, 3)},
        "onsets": onsets
        and {
            "count": onsets.count,
            "tempo_bpm": round(onsets.tempo_bpm, 2),
            "mean_ms": _rounded(onsets.mean_ms, 1),
            "spread_ms": _rounded(onsets.spread_ms, 1),
        },
    }


def followed_document(followed: FollowedPart) -> Document:
    """A part as it was played, every written note in playing order."""
    return {
        "schema": "orexis.follow/1",
        "notes": [
            {
                "bar": note.written.bar,
                "beat": round(note.written.beat, 3),
                "midi": note.written.midi,
                "start_s": _rounded(note.start_s, 3),
                "cents": _rounded(note.cents, 2),
                "late_ms": _rounded(note.late_ms, 1),
                "heard_midi": note.heard_midi,
            }
            for note in followed.notes
        ],
        "extra": [
            {"bar": note.bar, "midi": note.midi, "start_s": round(note.start_s, 3)}
            for note in followed.extra
        ],
        "tempo_bpm": _rounded(followed.tempo_bpm, 2),
        "stopped_bar": followed.stopped_bar,
    }


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits)
