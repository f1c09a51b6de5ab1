"""Passages: a run of sound heard whole, live and from a file alike.

A run lasts until 300 ms without a pitch. Its contour gives rests and glides, of which
`places.py` makes notes; here each is measured, and how one becomes the next.
"""

import itertools
from collections.abc import Callable
from dataclasses import replace
from math import isnan

import numpy as np

from orexis.core.arrays import FloatArray, midis_from_hz
from orexis.core.compiled import compiled
from orexis.core.listening.notes.beginnings import SlotsBeside
from orexis.core.listening.notes.contour import (
    MOST_SWEPT,
    SOUNDS_ON_DB,
    Contour,
    Stretch,
    contour_of,
    frames_of,
    stretches_of,
)
from orexis.core.listening.notes.events import Change, Glide, Note, Passage, TouchedSlot, Transition
from orexis.core.listening.notes.measures import air_before, measure_note
from orexis.core.listening.notes.places import TONGUE_DIP_DB, Place, notes_and_glides
from orexis.core.listening.notes.quantiles import median, percentiles
from orexis.core.listening.notes.trills import trills_of
from orexis.core.listening.tracking.frames import HOP_S, Frames

_MARGIN_FRAMES = 6
_SHORTEST_RUN_FRAMES = 5
_REACHED_CENTS = 50.0
_CLEARNESS_PERCENT = 75.0
_LEAD_FRAMES = frames_of(1.0)
_BREATH_S = 0.25
_WINDOW_FRAMES = 2
_LEAST_GAP_FRAMES = 1
_WANING_S, _WANING_BEFORE_S = 0.2, 0.6
_OVERSHOOT_S = 0.15
_BREAK_CENTS = 100.0
_CAUGHT_WITHIN_CENTS, _CAUGHT_SLACK = 40.0, 1.7
_CAUGHT_LEAST_SPAN_CENTS = 150.0
_CAUGHT_MARGIN_CENTS, _CAUGHT_MARGIN_SHARE = 80.0, 0.2
_DIP_ENDS, _DIP_SMOOTH = 8, 5
_RUN_BREAK_FRAMES = frames_of(0.3)
GLIMPSED_FRAMES = frames_of(6.0)


class _Known:
    """What was measured in looks at one run: a note that is over does not change any more, nor
    does how it became the next."""

    def __init__(self) -> None:
        self._notes: dict[_NoteKey, Note] = {}
        self._transitions: dict[tuple[_NoteKey, _NoteKey, int, bool], Transition] = {}

    def note(self, run: Frames, contour: Contour, place: Place, a4_hz: float) -> Note:
        """The note of a place of a run."""
        key = _key(run, place)
        if key not in self._notes:
            self._notes[key] = _note(run, contour, place, a4_hz)
        return self._notes[key]

    def transition(self, run: Frames, contour: Contour, before: Place, after: Place) -> Transition:
        """How one place of a run becomes the next."""
        spoke = len(after.touched_before), after.flipped_before is not None
        key = (_key(run, before), _key(run, after), *spoke)
        if key not in self._transitions:
            self._transitions[key] = _transition(contour, before, after, run.first)
        return self._transitions[key]


_NoteKey = tuple[int, int, float, float | None]


def _key(run: Frames, place: Place) -> _NoteKey:
    return run.first + place.start, run.first + place.end, place.cents, place.cracked_cents


class PassageFollower:
    """Hears passages in frames as they come; each is given when its run of sound has ended.

    `slots_beside` tells the slots beside a note's, where the horn is known. `failed` is told the
    first frame and the one after the last of a run that could not be made sense of, which is then
    left out; without it, what was raised goes on.
    """

    def __init__(
        self,
        a4_hz: float,
        slots_beside: SlotsBeside | None = None,
        failed: Callable[[int, int], None] | None = None,
    ) -> None:
        self._a4_hz = a4_hz
        self._failed = failed
        self._slots_beside = slots_beside
        self._held: list[Frames] = []
        self._voiced = False
        self._unvoiced = 0
        self._level_db, self._sounds_on = 0.0, False
        self._glimpsed = _Known()
        self._lead_db: FloatArray = np.empty(0)

    def step(self, frames: Frames) -> list[Passage]:
        """Takes the next frames; returns the passages that are now over."""
        passages: list[Passage] = []
        start = frames.first
        heard = zip(frames.voiced.tolist(), frames.level_db.tolist(), strict=True)
        for number, (voiced, level_db) in enumerate(heard, start=frames.first):
            if voiced:
                self._unvoiced, self._level_db, self._sounds_on = 0, level_db, True
            else:
                self._unvoiced += 1
                self._sounds_on &= level_db >= self._level_db - SOUNDS_ON_DB
            self._voiced = self._voiced or voiced
            break_frames = MOST_SWEPT if self._sounds_on else _RUN_BREAK_FRAMES
            if self._voiced and self._unvoiced >= break_frames:
                self._held.append(frames.between(start, number + 1))
                passages += self.finish()
                start = number + 1
        rest = frames.between(start, frames.first + len(frames))
        if len(rest):
            self._held.append(rest)
        if not self._voiced:
            self._forget()
        return passages

    def glimpse(self) -> list[Passage]:
        """The passage of the run that is sounding, as far as it has gone: its last seconds."""
        run = Frames.joined(self._held)
        self._held = [run]
        end = run.first + len(run)
        whole = len(run) <= GLIMPSED_FRAMES
        lead_db = self._lead_db if whole else np.empty(0)
        return self._heard(run.between(end - GLIMPSED_FRAMES, end), lead_db, self._glimpsed)

    def so_far(self) -> list[Passage]:
        """The run that is sounding as a passage, complete up to now."""
        run = Frames.joined(self._held)
        self._held = [run]
        return self._heard(run, self._lead_db)

    def finish(self) -> list[Passage]:
        """The passage of the run that was sounding; the follower is then ready for the next."""
        run = Frames.joined(self._held)
        self._held, self._voiced, self._glimpsed = [], False, _Known()
        lead_db, self._lead_db = self._lead_db, run.level_db[len(run) - _RUN_BREAK_FRAMES :]
        try:
            return self._heard(run, lead_db)
        except Exception:
            if self._failed is None:
                raise
            self._failed(run.first, run.first + len(run))
            return []

    def _heard(
        self, run: Frames, lead_db: FloatArray, known: _Known | None = None
    ) -> list[Passage]:
        heard = np.flatnonzero(run.voiced)
        if len(heard) < _SHORTEST_RUN_FRAMES:
            return []
        first = max(0, int(heard[0]) - _MARGIN_FRAMES)
        last = min(len(run), int(heard[-1]) + 1 + _MARGIN_FRAMES)
        sounding = run.between(run.first + first, run.first + last)
        lead_db = np.concatenate((lead_db, run.level_db[:first]))[-_LEAD_FRAMES:]
        passage = hear_run(sounding, self._a4_hz, lead_db, known, self._slots_beside)
        return [passage] if passage.notes or passage.glides else []

    def _forget(self) -> None:
        """Before a run, only what stands next to it is kept, and the levels that lead to it."""
        held = Frames.joined(self._held)
        end = held.first + len(held)
        gone = held.level_db[: max(len(held) - _MARGIN_FRAMES, 0)]
        self._lead_db = np.concatenate((self._lead_db, gone))[-_LEAD_FRAMES:]
        self._held = [held.between(end - _MARGIN_FRAMES, end)] if len(held) else []


def hear_run(
    run: Frames,
    a4_hz: float,
    lead_db: FloatArray | None = None,
    known: _Known | None = None,
    slots_beside: SlotsBeside | None = None,
) -> Passage:
    """The passage in one run of sound, given with a few frames either side.

    `lead_db` are the levels of the frames before those, which tell air from the room.
    `known` is what was measured in earlier looks at the same run, and is added to.
    """
    known = known or _Known()
    cents = 100 * midis_from_hz(run.f0_hz, a4_hz)
    contour = contour_of(cents, run.level_db)
    trills = trills_of(contour)
    places, stretches = notes_and_glides(contour, stretches_of(contour), trills, slots_beside)
    notes = tuple(known.note(run, contour, place, a4_hz) for place in places)
    transitions = tuple(
        known.transition(run, contour, before, after)
        for before, after in itertools.pairwise(places)
    )
    if notes and lead_db is not None:
        before_db = np.concatenate((lead_db, run.level_db[: places[0].start]))
        response_s = air_before(before_db, notes[0].measures.level_db)
        first = replace(notes[0], measures=replace(notes[0].measures, response_s=response_s))
        notes = (first, *notes[1:])
    glides = tuple(_glide(contour, stretch, run.first, a4_hz) for stretch in stretches)
    return Passage(
        run.first,
        run.first + len(run),
        notes,
        transitions,
        glides,
        tuple(trill.earlier(-run.first) for trill in trills),
    )


def _note(run: Frames, contour: Contour, place: Place, a4_hz: float) -> Note:
    frames = run.between(run.first + place.start, run.first + place.end)
    cents = np.where(contour.silent, np.nan, contour.cents)[place.start : place.end]
    if place.cracked_cents is not None:
        near = np.abs(cents - place.cents) <= np.abs(cents - place.cracked_cents)
        cents = np.where(near, cents, np.nan)
    middle = median(cents[np.isfinite(cents)])
    nearest = round(middle / 100)
    level_before = run.level_db[max(0, place.start - _MARGIN_FRAMES) : place.start]
    measures = measure_note(cents - 100 * nearest, frames.level_db, level_before)
    # Held until about the middle of what the settled part says.
    nearest += round(measures.centre_cents / 100) if abs(measures.centre_cents) > 50 else 0
    if nearest != round(middle / 100):
        measures = measure_note(cents - 100 * nearest, frames.level_db, level_before)
    # The shortest note of a trill may have been carried over pitchless frames alone.
    voiced = frames.voiced if frames.voiced.any() else np.ones(len(frames), dtype=bool)
    # Vibrato blurs the harmonics where pitch moves fastest; air does so all the time.
    (clearness,) = percentiles(frames.harmonicity_db[voiced], _CLEARNESS_PERCENT)
    cracked = None if place.cracked_cents is None else round(place.cracked_cents / 100)
    return Note(
        first=frames.first,
        last=frames.first + len(frames),
        f0_hz=a4_hz * 2 ** ((nearest + measures.centre_cents / 100 - 69) / 12),
        midi=nearest,
        measures=measures,
        harmonicity_db=_or_0(clearness),
        brightness=_or_0(median(frames.brightness[voiced])),
        cracked_from_midi=cracked,
    )


def _or_0(value: float) -> float:
    return 0.0 if isnan(value) else value


def _transition(contour: Contour, before: Place, after: Place, origin: int) -> Transition:
    cents, silent = contour.cents, contour.silent
    here = np.arange(before.start, before.end)
    near = here[np.abs(cents[before.start : before.end] - before.cents) <= _REACHED_CENTS]
    left = int(near[-1]) + 1 if len(near) else before.end
    there = np.arange(after.start, after.end)
    near = there[np.abs(cents[after.start : after.end] - after.cents) <= _REACHED_CENTS]
    reached = int(near[0]) if len(near) else after.start
    if abs(before.cents - after.cents) <= _REACHED_CENTS:
        left, reached = before.end, after.start
    quiet = int(silent[before.end - 1 : after.start + 1].sum())
    gap_s = (quiet + _WINDOW_FRAMES) * HOP_S if quiet >= _LEAST_GAP_FRAMES else 0.0
    dip_db, waning_db = _dips(contour, before, after)
    if gap_s >= _BREATH_S:
        kind = Change.BREATH
    elif gap_s or dip_db >= TONGUE_DIP_DB:
        kind = Change.TONGUED
    else:
        kind = Change.GLIDE if after.glided else Change.SLUR
    return Transition(
        kind=kind,
        start_s=(origin + left) * HOP_S,
        duration_s=max(reached - left, 0) * HOP_S,
        gap_s=gap_s,
        touched=tuple(_spoke(stretch) for stretch in after.touched_before),
        flipped=None if after.flipped_before is None else _spoke(after.flipped_before),
        dip_db=dip_db,
        waning_db=waning_db,
        overshoot_cents=_overshoot(contour, before, after),
        level_change_db=contour.loudness(after.start, after.end)
        - contour.loudness(before.start, before.end),
    )


def _spoke(rest: Stretch) -> TouchedSlot:
    """A slot that spoke on the way to a note."""
    return TouchedSlot(round(rest.cents / 100), len(rest) * HOP_S)


def _dips(contour: Contour, before: Place, after: Place) -> tuple[float, float]:
    """How far the level falls during a change, and in the 200 ms before it."""
    level = contour.level_db
    waning, earlier = frames_of(_WANING_S), frames_of(_WANING_BEFORE_S)
    ending = level[max(before.start, before.end - waning) : before.end]
    steady = level[
        max(before.start, before.end - earlier) : max(before.start + 1, before.end - waning)
    ]
    last = ending[-6:-3] if len(ending) > 6 else ending
    waning_db = max(0.0, median(steady) - float(last.mean()))
    start = level[after.start : min(after.end, after.start + waning)]
    change = level[max(before.start, before.end - 3) : max(after.start + 1, after.start + 4)]
    lowest = change.min(initial=median(ending))
    loud = min(median(ending), median(start))
    return max(0.0, loud - float(lowest)), waning_db


def _overshoot(contour: Contour, before: Place, after: Place) -> float:
    """How far pitch goes past a note in its first 150 ms, the way it came; 0 when it does not."""
    early = contour.cents[after.start : min(after.end, after.start + frames_of(_OVERSHOOT_S))]
    early = early[np.isfinite(early)]
    if not len(early) or abs(after.cents - before.cents) <= _REACHED_CENTS:
        return 0.0
    up = after.cents > before.cents
    past = float(early.max() - after.cents) if up else float(early.min() - after.cents)
    return past if (past > 0) == up else 0.0


def _glide(contour: Contour, stretch: Stretch, origin: int, a4_hz: float) -> Glide:
    cents = contour.cents[stretch.start : stretch.end]
    silent = contour.silent[stretch.start : stretch.end]
    heard: FloatArray = cents[~silent]
    low, high = float(heard.min()), float(heard.max())
    jumps = np.abs(np.diff(heard))
    largest = float(jumps.max(initial=0.0))
    gaps = int((np.diff(silent.astype(np.int8)) == 1).sum())
    return Glide(
        start_s=(origin + stretch.start) * HOP_S,
        end_s=(origin + stretch.end) * HOP_S,
        lowest_hz=a4_hz * 2 ** ((low / 100 - 69) / 12),
        highest_hz=a4_hz * 2 ** ((high / 100 - 69) / 12),
        span_semitones=(high - low) / 100,
        passes=_passes(heard),
        breaks=gaps + int((jumps > _BREAK_CENTS).sum()),
        largest_jump_cents=largest,
        caught_s=_caught_s(heard),
        dip_db=_dip_within(contour.level_db[stretch.start : stretch.end]),
        first_hz=a4_hz * 2 ** ((float(heard[0]) / 100 - 69) / 12),
        last_hz=a4_hz * 2 ** ((float(heard[-1]) / 100 - 69) / 12),
    )


def _caught_s(cents: FloatArray) -> float:
    """The longest time that a glide stood still between its ends, past what it would take at its
    pace to cross as much."""
    span, moved = float(np.ptp(cents)), float(np.abs(np.diff(cents)).sum())
    if span < _CAUGHT_LEAST_SPAN_CENTS or not moved:
        return 0.0
    margin = min(_CAUGHT_MARGIN_CENTS, _CAUGHT_MARGIN_SHARE * span)
    stood = _stood_still(cents, float(cents.min()) + margin, float(cents.max()) - margin)
    crossing = _CAUGHT_WITHIN_CENTS * len(cents) / moved
    return max(stood - _CAUGHT_SLACK * crossing, 0.0) * HOP_S


@compiled
def _stood_still(cents: FloatArray, lowest: float, highest: float) -> int:
    """The longest row of frames within a narrow band inside some bounds, that pitch came into from
    one side and left to the other."""
    longest = 0
    for start in range(1, len(cents)):
        if not lowest <= cents[start] <= highest:
            continue
        low = high = cents[start]
        end = start + 1
        while end < len(cents):
            low, high = min(low, cents[end]), max(high, cents[end])
            if high - low > _CAUGHT_WITHIN_CENTS or low < lowest or high > highest:
                break
            end += 1
        goes_on = (
            end < len(cents)
            and (cents[end] - cents[start]) * (cents[start] - cents[start - 1]) >= 0
        )
        if goes_on:
            longest = max(longest, end - start)
    return longest


def _dip_within(level_db: FloatArray) -> float:
    """How far a level falls under the line between its ends, in dB."""
    if len(level_db) < 2 * _DIP_ENDS:
        return 0.0
    smooth = np.convolve(level_db, np.full(_DIP_SMOOTH, 1 / _DIP_SMOOTH), "valid")
    first, last = median(level_db[:_DIP_ENDS]), median(level_db[-_DIP_ENDS:])
    return max(0.0, float((np.linspace(first, last, len(smooth)) - smooth).max()))


def _passes(cents: FloatArray) -> int:
    """Ways up and down, turns of less than a tenth of the span left out."""
    least = max(40.0, 0.1 * float(np.ptp(cents)))
    count, turned, way = 1, float(cents[0]), 0
    for value in cents:
        if way == 0:
            if abs(value - turned) >= least:
                way = 1 if value > turned else -1
                turned = float(value)
        elif way * (value - turned) > 0:
            turned = float(value)
        elif way * (turned - value) >= least:
            way, turned, count = -way, float(value), count + 1
    return count
