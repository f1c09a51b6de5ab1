"""What the rules of aims measure of a line: how each note becomes the next, what lies between, in
what time, and how glides and bends go.

Each function gives a value and a place for every chance there was, or why it cannot be told.
"""

from itertools import pairwise
from statistics import fmean, median_high, pstdev

from orexis.core.horn.pitch import midi_from_hz
from orexis.core.judging.matching import AskedNote, MatchedAttempt, Pair, Place
from orexis.core.listening.notes.events import Change, Note, Transition
from orexis.core.listening.notes.events import Glide as HeardGlide
from orexis.core.listening.notes.patterns import LeftOver
from orexis.core.score.steps import Glide, in_one_breath

Measured = tuple[float, Place | None]
NOTHING = "nothing to measure it by this time"

_GROWN_DB, _LOUDER_DB_A_RANK = 3.0, 1.0
_TOUCHED_MOST_S = 0.15
_CAUGHT_LEAST_S = 0.15
_BEND_DIPS_DB = 3.0
_EXTRA_LEAST_S, _EXTRA_UNDER_DB = 0.12, 15.0
_SLIDES_MM_A_MS = 3.5
"""How far a quick hand moves a slide: about 25 ms from one position to the next."""
_LEAST_PACES = 2
_AT_AN_END = 1.0
_GLIDES_OUT_S = 0.3
_NOT_ASKED = frozenset({LeftOver.EXTRA, LeftOver.REPEATED})


def gap(seen: MatchedAttempt) -> list[Measured]:
    """The longest silence within each slur, in ms."""
    return [
        (1000 * max(change.gap_s for change in pair.transitions), pair.after.at)
        for pair in seen.slurs
        if pair.transitions
    ]


def touched(seen: MatchedAttempt) -> list[Measured]:
    """How long, in ms, a slot between its two notes spoke in each slur."""
    found: list[Measured] = []
    for pair in seen.slurs:
        spoke_s = [slot.duration_s for change in pair.transitions for slot in change.touched]
        spoke_s += [_seconds(note) for _, note in pair.between if _is_touched(pair, note)]
        found.append((1000 * max(spoke_s, default=0.0), pair.after.at))
    return found


def _seconds(note: Note) -> float:
    return note.end_s - note.start_s


def _is_touched(pair: Pair, note: Note) -> bool:
    """Whether a heard note is a slot that was only touched between two asked ones."""
    low, high = sorted((pair.before.note.midi, pair.after.note.midi))
    return _seconds(note) <= _TOUCHED_MOST_S and low < note.midi < high


def flipped(seen: MatchedAttempt) -> list[Measured]:
    """How long, in ms, the slot above the note spoke first in each slur."""
    found: list[Measured] = []
    for pair in seen.slurs:
        spoke_s = [
            transition.flipped.duration_s
            for transition in pair.transitions
            if transition.flipped is not None
        ]
        found.append((1000 * max(spoke_s, default=0.0), pair.after.at))
    return found


def waning(seen: MatchedAttempt) -> list[Measured]:
    """How far, in dB, the sound falls before each slur; where the tongue or a gap parts the notes,
    that is what is wrong. A bend may lose a little."""
    found: list[Measured] = [
        (max(change.waning_db for change in pair.transitions), pair.after.at)
        for pair in seen.slurs
        if pair.transitions and not any(_is_parted(change) for change in pair.transitions)
    ]
    for note, numbers in seen.bent:
        first, last = seen.heard.notes[numbers[0]], seen.heard.notes[numbers[-1]]
        dips_db = [glide.dip_db for glide in _glides_within(seen, first, last)]
        found.append((max(max(dips_db, default=0.0) - _BEND_DIPS_DB, 0.0), note.at))
    return found


def _is_parted(change: Transition) -> bool:
    """Whether a gap or the tongue parts two notes."""
    return change.gap_s > 0 or change.kind is Change.TONGUED


def _glides_within(seen: MatchedAttempt, first: Note, last: Note) -> list[HeardGlide]:
    """The glides that begin from the start of one heard note to the end of another."""
    return [glide for glide in seen.heard.glides if first.start_s <= glide.start_s < last.end_s]


def smeared(seen: MatchedAttempt) -> list[Measured]:
    """How long, in ms, pitch takes from one note to the next in each slur that no glide or bend is
    asked for in, but for the time that a slide takes on its way."""
    found: list[Measured] = []
    for pair in seen.slurs:
        if len(pair.transitions) != 1 or not pair.is_plain:
            continue
        if pair.transitions[0].kind in (Change.SLUR, Change.GLIDE):
            took_ms = 1000 * pair.transitions[0].duration_s - _slides_ms(seen, pair)
            found.append((max(took_ms, 0.0), pair.after.at))
    return found


def _slides_ms(seen: MatchedAttempt, pair: Pair) -> float:
    """How long a slide takes from one note's position to another's; 0 for what has none."""
    names = {pair.before.note.length_name, pair.after.note.length_name}
    out_mm = [length.extension_mm for length in seen.horn.lengths if length.name in names]
    known_mm = [one for one in out_mm if one is not None]
    return (max(known_mm, default=0.0) - min(known_mm, default=0.0)) / _SLIDES_MM_A_MS


def extra(seen: MatchedAttempt) -> list[Measured]:
    """How many notes that nobody asked for were played between each note of a breath and the
    next."""
    left_over = {} if seen.match is None else dict(seen.match.left_over)
    found: list[Measured] = []
    for pair in seen.pairs:
        if not pair.is_plain:
            continue
        least_db = min(note.measures.level_db for note in pair.heard) - _EXTRA_UNDER_DB
        extras = [
            note
            for number, note in pair.between
            if left_over.get(number) in _NOT_ASKED
            and _seconds(note) >= _EXTRA_LEAST_S
            and note.measures.level_db >= least_db
            and not _is_touched(pair, note)
        ]
        found.append((float(len(extras)), pair.after.at))
    return found


def one_breath(seen: MatchedAttempt) -> list[Measured] | str:
    """How many breaths more than are written."""
    if seen.match is None:
        return NOTHING
    asked = len(in_one_breath(seen.task.score.steps)) * seen.task.score.times
    return [(float(max(seen.match.breaths - asked, 0)), None)]


def same_sound(seen: MatchedAttempt) -> list[Measured] | str:
    """How much louder than the first note the last one is, in dB, where they are meant alike."""
    spoken = seen.spoken
    shaped = bool(seen.asked) and seen.asked[0].note.dynamic is not seen.asked[-1].note.dynamic
    if seen.match is None or len(spoken) < 2 or shaped:
        return NOTHING
    return [(seen.match.level_change_db, spoken[-1][0].at)]


def even(seen: MatchedAttempt) -> list[Measured] | str:
    """How unevenly slurred notes follow each other, in %: the variation of the time a beat takes
    from one to the next."""
    if seen.match is None or len(seen.spoken) < 3:
        return NOTHING
    took = [pair.took_s / written_s for pair, written_s in seen.in_time if pair.is_slur]
    if len(took) < 2:
        return NOTHING
    return [(100 * pstdev(took) / fmean(took), None)]


def tempo(seen: MatchedAttempt) -> list[Measured] | str:
    """How much faster than written a line goes, in %, by the middle of its notes."""
    pace = _own_pace(seen)
    return NOTHING if pace is None else [(100 * (1 / pace - 1), None)]


def flow(seen: MatchedAttempt) -> list[Measured] | str:
    """How long, in s, each note of a line is waited for past its time in the player's own tempo."""
    pace = _own_pace(seen)
    if pace is None:
        return NOTHING
    return [
        (max(pair.took_s - pace * written_s, 0.0), pair.after.at)
        for pair, written_s in seen.in_time
    ]


def _own_pace(seen: MatchedAttempt) -> float | None:
    """How long a line takes of what is written, by the middle of its notes; `None` where it has no
    tempo or too few notes to tell."""
    in_time = seen.in_time
    if seen.task.score.tempo_bpm is None or len(in_time) < _LEAST_PACES:
        return None
    return median_high(pair.took_s / written_s for pair, written_s in in_time)


def clear(seen: MatchedAttempt) -> list[Measured] | str:
    """How many of the notes are clear, in %."""
    return NOTHING if seen.match is None else [(100 * seen.match.clear_share, None)]


def breaks(seen: MatchedAttempt) -> list[Measured]:
    """Breaks within glides, glides that are in pieces or not there, and notes that hold one up on
    its way."""
    score = seen.task.score
    lines = sum(
        isinstance(step, Glide) and not isinstance(score.steps[place - 1], Glide)
        for place, step in enumerate(score.steps)
    )
    missing = max(lines * score.times - len(seen.heard.glides), 0)
    pieces = missing + sum(not _meet_at_an_end(seen, *two) for two in pairwise(seen.heard.glides))
    # Where a line begins, turns or ends, one may stay.
    stalls = sum(
        min(abs(note.pitch_cents / 100 - pitch) for pitch in score.pitches) > _AT_AN_END
        for note in seen.heard.notes
    )
    count = sum(glide.breaks for glide in seen.heard.glides)
    return [(float(count + pieces + stalls), None)]


def _meet_at_an_end(seen: MatchedAttempt, glide: HeardGlide, other: HeardGlide) -> bool:
    """Whether one glide ends and the next begins where the line turns, ends or begins: there one
    may stay."""
    if glide.last_hz is None or other.first_hz is None:
        return False
    met = [midi_from_hz(hz, seen.horn.setup.a4_hz) for hz in (glide.last_hz, other.first_hz)]
    return any(
        max(abs(midi - pitch) for midi in met) <= _AT_AN_END for pitch in seen.task.score.pitches
    )


def span(seen: MatchedAttempt) -> list[Measured] | str:
    """How many half steps glides stay short of their ends."""
    reached = seen.heard.range_midi(seen.horn.setup.a4_hz)
    pitches = seen.task.score.pitches
    if not pitches:
        return NOTHING
    whole = float(max(pitches) - min(pitches))
    if reached is None:
        return [(whole, None)]
    short = max(reached[0] - min(pitches), 0.0) + max(max(pitches) - reached[1], 0.0)
    return [(min(short, whole), None)]


def glided(seen: MatchedAttempt) -> list[Measured]:
    """Notes that are to be glided to and were reached another way: 1 each."""
    return [
        (
            float(not any(transition.kind is Change.GLIDE for transition in pair.transitions)),
            pair.after.at,
        )
        for pair in seen.glided
    ]


def no_catch(seen: MatchedAttempt) -> list[Measured]:
    """How many slots hold each glide up: notes on the way, or pitch that stands still there."""
    found: list[Measured] = []
    for pair in seen.glided:
        glides = _glides_within(seen, *pair.heard)
        caught = sum(glide.caught_s >= _CAUGHT_LEAST_S for glide in glides)
        found.append((float(len(pair.between) + caught), pair.after.at))
    return found


def ends_alike(seen: MatchedAttempt) -> list[Measured]:
    """How much louder each glide ends than it began, in dB."""
    return [
        (pair.heard[1].measures.level_db - pair.heard[0].measures.level_db, pair.after.at)
        for pair in seen.glided
    ]


def bent(seen: MatchedAttempt) -> list[Measured] | str:
    """How far each note was bent, in % of what was asked, by the way it was bent least."""
    notes, a4_hz = seen.heard.notes, seen.horn.setup.a4_hz
    found: list[Measured] = []
    for request, numbers in seen.bent:
        heard = [notes[number] for number in numbers]
        base = heard[0].pitch_cents / 100
        lowest = min((note.pitch_cents + note.measures.lowest_cents) / 100 for note in heard)
        highest = max((note.pitch_cents + note.measures.highest_cents) / 100 for note in heard)
        for glide in seen.heard.glides:
            if heard[0].start_s <= glide.start_s and glide.end_s <= heard[-1].end_s + _GLIDES_OUT_S:
                lowest = min(lowest, midi_from_hz(glide.lowest_hz, a4_hz))
                highest = max(highest, midi_from_hz(glide.highest_hz, a4_hz))
        shares = [
            100 * (100 * (highest - base if cents > 0 else base - lowest)) / abs(cents)
            for cents in request.bends
        ]
        found.append((max(min(shares), 0.0), request.at))
    return found or NOTHING


def came_back(seen: MatchedAttempt) -> list[Measured]:
    """How far from the note, in cents, each bent note ends."""
    found: list[Measured] = []
    for place, note in enumerate(seen.asked):
        if not note.bent or note.heard is None:
            continue
        later = [other.heard for other in seen.asked[place + 1 :] if other.heard is not None]
        until = min([seen.breath_ends(note.heard), *later[:1]])
        found.append((seen.off_cents(note, seen.heard.notes[until - 1]), note.at))
    return found


def shape(seen: MatchedAttempt) -> list[Measured]:
    """Notes whose loudness went another way than asked, or hardly changed: 1 each."""
    found: list[Measured] = []
    previous: tuple[AskedNote, Note] | None = None
    for request, note in seen.spoken:
        if request.note.grows_to is not None:
            way = request.note.grows_to.rank - request.note.dynamic.rank
            change = note.measures.level_change_db
            found.append((float(change * (1 if way > 0 else -1) < _GROWN_DB), request.at))
        elif previous is not None:
            ranks = request.note.dynamic.rank - previous[0].note.dynamic.rank
            grew = note.measures.level_db - previous[1].measures.level_db
            if ranks:
                least_db = _LOUDER_DB_A_RANK * abs(ranks)
                found.append((float(grew * (1 if ranks > 0 else -1) < least_db), request.at))
        previous = (request, note)
    return found
