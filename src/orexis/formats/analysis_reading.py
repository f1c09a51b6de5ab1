"""Reads the frames, notes, transitions, glides and trills of an analysis document back.

Documents come from `formats.analysis`; what was rounded there stays so. One from before a
measure was taken is read without it.
"""

from typing import Any

import numpy as np

from orexis.core.listening.notes.events import Change, Events, Glide, Note, TouchedSlot, Transition
from orexis.core.listening.notes.measures import NoteMeasures, Shape, Vibrato
from orexis.core.listening.notes.trills import Trill
from orexis.core.listening.tracking.frames import HOP_S, Frames

Kept = dict[str, Any]


def events_of(document: Kept) -> Events:
    """What a document says was heard. Raises `KeyError` for one of another schema."""
    return Events(
        tuple(_note(kept) for kept in document["notes"]),
        tuple(_transition(kept) for kept in document["transitions"]),
        tuple(_glide(kept) for kept in document["glides"]),
        tuple(_trill(kept) for kept in document["trills"]),
    )


def frames_of(columns: Kept) -> Frames:
    """A document's frames, counted from its start."""
    f0_hz, level_db, harmonicity_db, brightness = (
        np.array(columns[name], dtype=np.float64)
        for name in ("f0_hz", "level_db", "harmonicity_db", "brightness")
    )
    return Frames(0, f0_hz, level_db, harmonicity_db, brightness)


def _note(kept: Kept) -> Note:
    onset, level, vibrato = kept["onset"], kept["level"], kept["vibrato"]
    tight, usual, wide = kept["in_slot"].values()
    return Note(
        first=_frame(kept["start_s"]),
        last=_frame(kept["end_s"]),
        f0_hz=kept["f0_hz"],
        midi=kept["midi"],
        measures=NoteMeasures(
            centre_cents=kept["centre_cents"],
            spread_cents=kept["spread_cents"],
            drift_cents_per_s=kept["drift_cents_per_s"],
            scoop_cents=onset["scoop_cents"],
            settle_s=onset["settle_s"],
            sag_cents=kept["sag_cents"],
            hold_s=kept["hold_s"],
            vibrato=vibrato and Vibrato(vibrato["rate_hz"], vibrato["extent_cents"]),
            level_db=level["mean_db"],
            level_change_db=level["change_db"],
            rise_s=onset["rise_s"],
            response_s=onset.get("response_s"),
            shape=Shape(level["shape"]),
            in_slot=(tight, usual, wide),
            wobble_cents=kept["wobble_cents"],
            lowest_cents=kept.get("lowest_cents", 0.0),
            highest_cents=kept.get("highest_cents", 0.0),
        ),
        harmonicity_db=kept["tone"]["harmonicity_db"],
        brightness=kept["tone"]["brightness"],
        cracked_from_midi=onset["cracked_from_midi"],
    )


def _transition(kept: Kept) -> Transition:
    return Transition(
        kind=Change(kept["kind"]),
        start_s=kept["start_s"],
        duration_s=kept["duration_s"],
        gap_s=kept["gap_s"],
        touched=tuple(TouchedSlot(**one) for one in kept["touched"]),
        flipped=TouchedSlot(**kept["flipped"]) if kept.get("flipped") else None,
        dip_db=kept["dip_db"],
        waning_db=kept["waning_db"],
        overshoot_cents=kept["overshoot_cents"],
        level_change_db=kept["level_change_db"],
    )


def _glide(kept: Kept) -> Glide:
    return Glide(**kept)


def _trill(kept: Kept) -> Trill:
    return Trill(
        first=_frame(kept["start_s"]),
        last=_frame(kept["end_s"]),
        low_midi=kept["low_midi"],
        high_midi=kept["high_midi"],
        rate_hz=kept["rate_hz"],
        evenness_cv=kept["evenness_cv"],
        clear_share=kept["clear_share"],
    )


def _frame(seconds: float) -> int:
    return round(seconds / HOP_S)
