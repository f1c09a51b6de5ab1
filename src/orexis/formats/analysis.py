"""The analysis document, schema `orexis.analysis/1`: what `orexis analyse --json` prints.

Fields that are not measured yet are absent. Numbers are rounded to what the measures can bear.
"""

from collections.abc import Iterable
from typing import Any

import numpy as np

from orexis.core.horn.notation import note_name
from orexis.core.horn.pitch import FloatArray
from orexis.core.listening.analysis import Analysis
from orexis.core.listening.frames import HOP_S, Frames
from orexis.core.listening.notes import Note

SCHEMA = "orexis.analysis/1"

Document = dict[str, Any]


def analysis_document(analysis: Analysis) -> Document:
    """The whole document, ready for JSON."""
    return {
        "schema": SCHEMA,
        "take": {
            "duration_s": round(analysis.duration_s, 4),
            "sample_rate": analysis.sample_rate,
            "clipped": analysis.clipped,
        },
        "frames": frames_document(analysis.frames),
        "notes": [note_document(note) for note in analysis.notes],
        "silences": [
            {"start_s": round(start, 3), "end_s": round(end, 3)} for start, end in analysis.silences
        ],
    }


def frames_document(frames: Frames) -> Document:
    """Frames as columns; null where a value does not exist."""
    return {
        "hop_s": HOP_S,
        "time_s": rounded(frames.time_s - frames.first * HOP_S, 2),
        "f0_hz": rounded(frames.f0_hz, 4),
        "level_db": rounded(frames.level_db, 2),
        "harmonicity_db": rounded(frames.harmonicity_db, 2),
        "brightness": rounded(frames.brightness, 3),
    }


def note_document(note: Note) -> Document:
    """One note; its centre is against equal temperament."""
    measures = note.measures
    vibrato = measures.vibrato
    return {
        "start_s": round(note.start_s, 3),
        "end_s": round(note.end_s, 3),
        "f0_hz": round(note.f0_hz, 4),
        "midi": note.midi,
        "name": note_name(note.midi),
        "centre_cents": round(measures.centre_cents, 2),
        "spread_cents": round(measures.spread_cents, 2),
        "drift_cents_per_s": round(measures.drift_cents_per_s, 2),
        "onset": {
            "scoop_cents": round(measures.scoop_cents, 2),
            "settle_s": round(measures.settle_s, 3),
        },
        "sag_cents": round(measures.sag_cents, 2),
        "hold_s": round(measures.hold_s, 3),
        "vibrato": vibrato
        and {
            "rate_hz": round(vibrato.rate_hz, 2),
            "extent_cents": round(vibrato.extent_cents, 2),
        },
        "level": {
            "mean_db": round(measures.level_db, 2),
            "change_db": round(measures.level_change_db, 2),
        },
        "tone": {
            "harmonicity_db": round(note.harmonicity_db, 2),
            "brightness": round(note.brightness, 3),
        },
    }


def rounded(values: FloatArray | Iterable[float], digits: int) -> list[float | None]:
    """Numbers for JSON: rounded, and None for NaN."""
    return [None if not np.isfinite(value) else round(float(value), digits) for value in values]
