"""The analysis document, schema `orexis.analysis/1`: what `orexis analyse --json` prints.

Numbers are rounded to what the measures can bear.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np

from orexis.core.arrays import FloatArray
from orexis.core.horn.notation import note_name
from orexis.core.listening.analysis import Analysis
from orexis.core.listening.notes.events import Events, Glide, Note, TouchedSlot, Transition
from orexis.core.listening.notes.measures import SLOT_CENTS
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S, Frames

SCHEMA = "orexis.analysis/1"

Document = dict[str, Any]


def analysis_document(analysis: Analysis) -> Document:
    """The whole document, ready for JSON. `unheard` is there only where listening failed."""
    unheard = [_seconds(*stretch) for stretch in analysis.unheard]
    return {
        "schema": SCHEMA,
        "take": {
            "duration_s": round(analysis.duration_s, 4),
            "sample_rate": analysis.sample_rate,
            "clipped": analysis.clipped,
        },
        "frames": frames_document(analysis.frames),
        **events_document(analysis.events),
        "silences": [_seconds(*silence) for silence in analysis.silences],
        **({"unheard": unheard} if unheard else {}),
    }


def _seconds(start: float, end: float) -> Document:
    return {"start_s": round(start, 3), "end_s": round(end, 3)}


def events_document(events: Events) -> Document:
    """Notes, transitions, glides and trills."""
    return {
        "notes": [note_document(note) for note in events.notes],
        "transitions": [
            transition_document(transition, index)
            for index, transition in enumerate(events.transitions)
        ],
        "glides": [glide_document(glide) for glide in events.glides],
        "trills": [trill_document(trill) for trill in events.trills],
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
            "response_s": None if measures.response_s is None else round(measures.response_s, 3),
            "rise_s": round(measures.rise_s, 3),
            "scoop_cents": round(measures.scoop_cents, 2),
            "settle_s": round(measures.settle_s, 3),
            "cracked_from_midi": note.cracked_from_midi,
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
            "shape": measures.shape.value,
        },
        "wobble_cents": round(measures.wobble_cents, 2),
        "lowest_cents": round(measures.lowest_cents, 2),
        "highest_cents": round(measures.highest_cents, 2),
        "in_slot": {
            f"within_{width:g}_cents": round(share, 3)
            for width, share in zip(SLOT_CENTS, measures.in_slot, strict=True)
        },
        "tone": {
            "harmonicity_db": round(note.harmonicity_db, 2),
            "brightness": round(note.brightness, 3),
        },
    }


def transition_document(transition: Transition, index: int) -> Document:
    """How note `index` became the next."""
    return {
        "from": index,
        "to": index + 1,
        "kind": transition.kind.value,
        "start_s": round(transition.start_s, 3),
        "duration_s": round(transition.duration_s, 3),
        "gap_s": round(transition.gap_s, 3),
        "touched": [_spoke(touched) for touched in transition.touched],
        "flipped": transition.flipped and _spoke(transition.flipped),
        "dip_db": round(transition.dip_db, 2),
        "waning_db": round(transition.waning_db, 2),
        "overshoot_cents": round(transition.overshoot_cents, 1),
        "level_change_db": round(transition.level_change_db, 2),
    }


def _spoke(slot: TouchedSlot) -> Document:
    return {"midi": slot.midi, "duration_s": round(slot.duration_s, 3)}


def glide_document(glide: Glide) -> Document:
    """One glide or siren."""
    return {
        "start_s": round(glide.start_s, 3),
        "end_s": round(glide.end_s, 3),
        "lowest_hz": round(glide.lowest_hz, 3),
        "highest_hz": round(glide.highest_hz, 3),
        "span_semitones": round(glide.span_semitones, 3),
        "passes": glide.passes,
        "breaks": glide.breaks,
        "largest_jump_cents": round(glide.largest_jump_cents, 1),
        "caught_s": round(glide.caught_s, 3),
        "dip_db": round(glide.dip_db, 2),
        "first_hz": glide.first_hz and round(glide.first_hz, 3),
        "last_hz": glide.last_hz and round(glide.last_hz, 3),
    }


def trill_document(trill: Trill) -> Document:
    """One trill."""
    return {
        "start_s": round(trill.first * HOP_S, 3),
        "end_s": round(trill.last * HOP_S, 3),
        "low_midi": trill.low_midi,
        "high_midi": trill.high_midi,
        "rate_hz": round(trill.rate_hz, 2),
        "evenness_cv": round(trill.evenness_cv, 3),
        "clear_share": round(trill.clear_share, 3),
    }


def rounded(values: FloatArray | Sequence[float], digits: int) -> list[float | None]:
    """Numbers for JSON: rounded, and None for NaN."""
    exact = np.asarray(values, dtype=float)
    found = np.round(exact, digits).astype(object)
    found[~np.isfinite(exact)] = None
    told: list[float | None] = found.tolist()
    return told
