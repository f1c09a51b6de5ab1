"""What each aim of an exercise measures of an attempt, and its limits.

Every aim has a rule: a value and a place in the music for every chance there was to meet it.
`EVEN`, `CLEAR` and `SPAN` have no limit that the job names, so theirs are our own. All of them
stand in `docs/measures.md`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from orexis.core.exercises.family import Aim
from orexis.core.exercises.task import Task
from orexis.core.judging.gate import GateLevel
from orexis.core.judging.seen import Asked, Place, Seen, tone_of
from orexis.core.listening.notes.events import Note
from orexis.core.listening.notes.tone import TOLD_FROM_S, Baseline
from orexis.core.score.steps import Articulation, Breath, Glide, Play, Rest, Role, in_one_breath

_LEAST_HELD_S = 1.0
"""How long the last note of a breath is held where the exercise does not say."""

_NONE_PASSED = "no note has passed yet"
_GROWN_DB = 3.0


_Measured = tuple[float, Place | None]
NOTHING = "there was nothing to tell it by"


@dataclass(frozen=True, slots=True)
class AimRule:
    """What an aim's rule measures of an attempt: a value and a place for every chance there was to
    meet it, or why it cannot be told. The limit is the most of the value either way, or, where
    `least`, the least; at the three levels strict, normal and kind, none where the exercise says
    it. `never_better` tells that a value within the limit says nothing of how good it was."""

    unit: str
    limits: tuple[float, float, float] | None
    measure: Callable[[Seen], list[_Measured] | str]
    least: bool = False
    never_better: bool = False


def limit_of(aim: Aim, level: GateLevel, task: Task) -> float:
    """What is asked of an aim, in its rule's unit."""
    if RULES[aim].limits is None:
        return _LEAST_HELD_S if task.hold_s is None else task.hold_s
    return limit_at(aim, level)


def limit_at(aim: Aim, level: GateLevel) -> float:
    """What is asked of an aim at a level, of whatever exercise. Raises `LookupError` for one whose
    limit the exercise says."""
    limits = RULES[aim].limits
    if limits is None:
        raise LookupError(f"What is asked for {aim} is said by the exercise.")
    return limits[list(GateLevel).index(level)]


def _centre(seen: Seen) -> list[_Measured]:
    return [(seen.off_cents(one, note), one.at) for one, note in seen.spoken]


def _steady(seen: Seen) -> list[_Measured]:
    return [
        (note.measures.spread_cents, one.at)
        for one, note in seen.spoken
        if note.end_s - note.start_s >= TOLD_FROM_S and not one.bent
    ]


def _start(seen: Seen) -> list[_Measured]:
    return [
        (note.measures.scoop_cents, one.at)
        for one, note in seen.spoken
        if one.note.articulation is not Articulation.SLURRED
    ]


def _end(seen: Seen) -> list[_Measured]:
    ends = _ends_of_breaths(seen)
    return [(note.measures.sag_cents, one.at) for one, note in seen.spoken if one.at.step in ends]


def _ends_of_breaths(seen: Seen) -> set[int]:
    """Steps that are the last note of a breath."""
    steps = seen.task.score.steps
    last: dict[int, int] = {}
    breath = 0
    for place, step in enumerate(steps):
        if isinstance(step, Breath | Rest):
            breath += 1
        elif isinstance(step, Play):
            last[breath] = place
    return set(last.values())


def _held(seen: Seen) -> list[_Measured]:
    """How long each last note of a breath was held, in seconds."""
    ends = _ends_of_breaths(seen)
    return [
        (note.measures.hold_s, one.at)
        for one, note in seen.spoken
        if one.at.step in ends and one.note.role is Role.ASKED
    ]


def _tone(seen: Seen) -> list[_Measured] | str:
    """How like the last note that passed each is, 0 to 100."""
    if not seen.passed:
        return _NONE_PASSED
    baseline = Baseline(seen.passed)
    found: list[_Measured] = []
    for one, note in seen.spoken:
        match = baseline.match(tone_of(note, seen.off_cents(one, note)), seen.passed[0])
        if match is not None:
            found.append((match, one.at))
    return found or "your own tone is not known here yet"


def _level(seen: Seen) -> list[_Measured] | str:
    """How much louder than the last note that passed each is, in dB."""
    if not seen.passed:
        return _NONE_PASSED
    last_db = seen.passed[0].level_db
    return [(note.measures.level_db - last_db, one.at) for one, note in seen.spoken]


def _speaks(seen: Seen) -> list[_Measured]:
    return [(float(note.cracked_from_midi is not None), one.at) for one, note in seen.spoken]


def _gap(seen: Seen) -> list[_Measured]:
    return [
        (1000 * max(change.gap_s for change in between), one.at)
        for one, between, _ in seen.changes
        if between
    ]


def _touched(seen: Seen) -> list[_Measured]:
    found: list[_Measured] = []
    for one, between, notes in seen.changes:
        spoke_s = [slot.duration_s for change in between for slot in change.touched]
        spoke_s += [note.end_s - note.start_s for note in notes]
        found.append((1000 * max(spoke_s, default=0.0), one.at))
    return found


def _flipped(seen: Seen) -> list[_Measured]:
    return [
        (float(any(change.flipped for change in between)), one.at)
        for one, between, _ in seen.changes
    ]


def _waning(seen: Seen) -> list[_Measured]:
    return [
        (max(change.waning_db for change in between), one.at)
        for one, between, _ in seen.changes
        if between
    ]


def _spoke(seen: Seen) -> list[_Measured]:
    return [(float(one.heard is None), one.at) for one in seen.asked]


def _one_breath(seen: Seen) -> list[_Measured] | str:
    if seen.match is None:
        return NOTHING
    asked = len(in_one_breath(seen.task.score.steps)) * seen.task.score.times
    return [(float(max(seen.match.breaths - asked, 0)), None)]


def _same_sound(seen: Seen) -> list[_Measured] | str:
    spoken = seen.spoken
    if seen.match is None or len(spoken) < 2 or _is_shaped(seen):
        return NOTHING
    return [(seen.match.level_change_db, spoken[-1][0].at)]


def _is_shaped(seen: Seen) -> bool:
    """Whether the first and last note are not meant to be alike."""
    return seen.asked[0].note.dynamic is not seen.asked[-1].note.dynamic


def _even(seen: Seen) -> list[_Measured] | str:
    if seen.match is None or len(seen.spoken) < 3:
        return NOTHING
    starts: list[float] = []
    for before, after in zip(seen.asked, seen.asked[1:], strict=False):
        if before.heard is None or after.heard is None:
            continue
        if after.note.articulation is not Articulation.SLURRED:
            continue
        notes = seen.heard.notes
        took = notes[after.heard].start_s - notes[before.heard].start_s
        starts.append(took / float(before.note.beats))
    if len(starts) < 2:
        return NOTHING
    middle = sum(starts) / len(starts)
    spread = (sum((one - middle) ** 2 for one in starts) / len(starts)) ** 0.5
    return [(100 * spread / middle, None)]


def _clear(seen: Seen) -> list[_Measured] | str:
    return NOTHING if seen.match is None else [(100 * seen.match.clear_share, None)]


def _breaks(seen: Seen) -> list[_Measured]:
    """Breaks within glides, glides that are in pieces, and notes where it stalled."""
    score = seen.task.score
    lines = sum(
        isinstance(step, Glide) and not isinstance(score.steps[place - 1], Glide)
        for place, step in enumerate(score.steps)
    )
    pieces = len(seen.heard.glides) - lines * score.times
    stalls = len(seen.heard.notes) - len(score.notes) * score.times
    breaks = sum(glide.breaks for glide in seen.heard.glides)
    return [(float(breaks + max(pieces, 0) + max(stalls, 0)), None)]


def _span(seen: Seen) -> list[_Measured] | str:
    reached = seen.heard.range_midi(seen.horn.setup.a4_hz)
    pitches = seen.task.score.pitches
    if reached is None or not pitches:
        return [(float(max(pitches) - min(pitches)), None)] if pitches else NOTHING
    short = max(reached[0] - min(pitches), 0.0) + max(max(pitches) - reached[1], 0.0)
    return [(short, None)]


def _glided(seen: Seen) -> list[tuple[Asked, Asked]]:
    """Every pair of notes with a glide asked for between them, that both spoke."""
    steps = seen.task.score.steps
    return [
        (before, after)
        for before, after in zip(seen.asked, seen.asked[1:], strict=False)
        if before.heard is not None
        and after.heard is not None
        and before.at.time == after.at.time
        and isinstance(steps[after.at.step - 1], Glide)
    ]


def _no_catch(seen: Seen) -> list[_Measured]:
    return [
        (float((after.heard or 0) - (before.heard or 0) - 1), after.at)
        for before, after in _glided(seen)
    ]


def _ends_alike(seen: Seen) -> list[_Measured]:
    notes = seen.heard.notes
    return [
        (
            notes[after.heard or 0].measures.level_db - notes[before.heard or 0].measures.level_db,
            after.at,
        )
        for before, after in _glided(seen)
    ]


def _came_back(seen: Seen) -> list[_Measured]:
    """Bent notes, by where they end: how far from the note."""
    found: list[_Measured] = []
    for place, one in enumerate(seen.asked):
        if not one.bent or one.heard is None:
            continue
        later = [other.heard for other in seen.asked[place + 1 :] if other.heard is not None]
        until = later[0] if later else len(seen.heard.notes)
        whole = seen.heard.notes[one.heard : until]
        found.append((seen.off_cents(one, whole[-1]), one.at))
    return found


def _shape(seen: Seen) -> list[_Measured]:
    """Notes whose loudness went another way than asked: 1 each."""
    found: list[_Measured] = []
    previous: tuple[Asked, Note] | None = None
    for one, note in seen.spoken:
        if one.note.grows_to is not None:
            way = one.note.grows_to.rank - one.note.dynamic.rank
            change = note.measures.level_change_db
            found.append((float(change * (1 if way > 0 else -1) < _GROWN_DB), one.at))
        elif previous is not None:
            way = one.note.dynamic.rank - previous[0].note.dynamic.rank
            grew = note.measures.level_db - previous[1].measures.level_db
            if way:
                found.append((float(grew * (1 if way > 0 else -1) < 0), one.at))
        previous = (one, note)
    return found


_NONE = (0.0, 0.0, 0.0)
_CENTRE_CENTS, _LEVEL_DB = (10.0, 15.0, 20.0), (3.0, 4.0, 6.0)
RULES: dict[Aim, AimRule] = {
    Aim.CENTRE: AimRule("cents", _CENTRE_CENTS, _centre),
    Aim.STEADY: AimRule("cents", (6.0, 9.0, 13.0), _steady),
    Aim.START: AimRule("cents", (20.0, 30.0, 45.0), _start),
    Aim.END: AimRule("cents", (15.0, 20.0, 30.0), _end),
    Aim.HELD: AimRule("s", None, _held, least=True, never_better=True),
    Aim.SPEAKS: AimRule("cracks", _NONE, _speaks),
    Aim.TONE: AimRule("of 100", (80.0, 70.0, 60.0), _tone, least=True, never_better=True),
    Aim.LEVEL: AimRule("dB", _LEVEL_DB, _level, never_better=True),
    Aim.GAP: AimRule("ms", (40.0, 60.0, 90.0), _gap),
    Aim.TOUCHED: AimRule("ms", (30.0, 45.0, 60.0), _touched),
    Aim.FLIPPED: AimRule("flipped", _NONE, _flipped),
    Aim.WANING: AimRule("dB", (3.0, 3.0, 3.0), _waning),
    Aim.SPOKE: AimRule("missed", _NONE, _spoke),
    Aim.ONE_BREATH: AimRule("breaths more", _NONE, _one_breath),
    Aim.SAME_SOUND: AimRule("dB", _LEVEL_DB, _same_sound),
    Aim.EVEN: AimRule("%", (10.0, 15.0, 25.0), _even),
    Aim.CLEAR: AimRule("%", (90.0, 80.0, 70.0), _clear, least=True, never_better=True),
    Aim.BREAKS: AimRule("breaks", _NONE, _breaks),
    Aim.SPAN: AimRule("half steps short", (0.5, 1.0, 2.0), _span),
    Aim.NO_CATCH: AimRule("slots", _NONE, _no_catch),
    Aim.ENDS_ALIKE: AimRule("dB", _LEVEL_DB, _ends_alike),
    Aim.CAME_BACK: AimRule("cents", _CENTRE_CENTS, _came_back),
    Aim.SHAPE: AimRule("against it", _NONE, _shape),
}
"""The rule of every aim."""
