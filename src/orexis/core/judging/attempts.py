"""A whole attempt at an exercise against what was asked: which aims were met, and where not.

Every aim has a rule: what it measures of an attempt, its limit at three levels, and where in the
music it was missed by most. Limits that the job names stand in `docs/measures.md`; `EVEN`, `CLEAR`
and `SPAN` have none there, so theirs are our own.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from orexis.core.exercises.family import Aim, Task
from orexis.core.horn.setup import Horn
from orexis.core.judging.gate import DEFAULT_LIMITS, GateLevel
from orexis.core.listening.notes.events import Events, Note, Transition
from orexis.core.listening.notes.patterns import PatternMatch, Wanted, match_pattern
from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    Glide,
    Play,
    Rest,
    Role,
    Score,
    in_one_breath,
)

_LONG_ENOUGH_S = 1.0
"""A note shorter than this says nothing of how steady it is."""

_LEAST_HELD_S = 1.0
_GROWN_DB = 3.0
_LEAVES_CENTS = 80.0


@dataclass(frozen=True, slots=True)
class Place:
    """Where in the music: a step's number in the score, and which time it was played."""

    step: int
    time: int = 0


@dataclass(frozen=True, slots=True)
class AimResult:
    """How one aim was met. `measured` is the worst there was and `limit` what is allowed, in the
    rule's unit; `at` where it was, `right` of `chances` how often it went well. An aim that cannot
    be told says why in `untold`, and fails nothing."""

    aim: Aim
    measured: float
    limit: float
    passed: bool
    at: Place | None = None
    right: int = 0
    chances: int = 0
    untold: str = ""


@dataclass(frozen=True, slots=True)
class AttemptVerdict:
    """The outcome of every aim of the task, in their order, and where a note did not speak (which
    counts in every task that has notes)."""

    results: tuple[AimResult, ...]
    silent: tuple[Place, ...] = ()

    @property
    def passed(self) -> bool:
        """Whether every aim was met."""
        return all(result.passed for result in self.results)

    @property
    def worst(self) -> AimResult | None:
        """The aim that was missed by most; `None` when all were met. What did not sound at all
        comes before how it sounded."""
        failed = [result for result in self.results if not result.passed]
        for first in (Aim.SPOKE, Aim.SPAN):
            for result in failed:
                if result.aim is first:
                    return result
        return max(failed, key=_missed_by, default=None)


def _missed_by(result: AimResult) -> float:
    rule = RULES[result.aim]
    if rule.least:
        return result.limit / max(result.measured, 0.1)
    return abs(result.measured) / result.limit if result.limit else 2 + abs(result.measured)


@dataclass(frozen=True, slots=True)
class _Asked:
    """A note that was asked for, where it stands, and what was heard of it (its number)."""

    note: Play
    at: Place
    heard: int | None = None
    bent: bool = False


@dataclass(frozen=True, slots=True)
class _Seen:
    """An attempt laid beside its task."""

    task: Task
    horn: Horn
    heard: Events
    asked: tuple[_Asked, ...]
    match: PatternMatch | None

    @property
    def spoken(self) -> list[tuple[_Asked, Note]]:
        """Every note that was asked for and spoke."""
        return [(one, self.heard.notes[one.heard]) for one in self.asked if one.heard is not None]

    def off_cents(self, one: _Asked, note: Note) -> float:
        """How far a note lies from where the player's tuning wants it."""
        target = self.horn.setup.tuning.offset_cents(one.note.midi)
        return 100 * (note.midi - one.note.midi) + note.measures.centre_cents - target

    @property
    def changes(self) -> list[tuple[_Asked, Sequence[Transition], Sequence[Note]]]:
        """Every slur whose two notes spoke: the note it leads to, all that lies between them, and
        the notes among that."""
        found: list[tuple[_Asked, Sequence[Transition], Sequence[Note]]] = []
        for before, after in zip(self.asked, self.asked[1:], strict=False):
            slurred = after.note.articulation is Articulation.SLURRED
            if before.heard is None or after.heard is None or not slurred:
                continue
            between = self.heard.transitions[before.heard : after.heard]
            found.append((after, between, self.heard.notes[before.heard + 1 : after.heard]))
        return found


_Measured = tuple[float, Place | None]


@dataclass(frozen=True, slots=True)
class AimRule:
    """What an aim's rule measures of an attempt: a value and a place for every chance there was to
    meet it. The limit is the most of the value either way, or, where `least`, the least; at the
    three levels strict, normal and kind. `None` in place of the values says that it cannot be
    told."""

    unit: str
    limits: tuple[float, float, float]
    measure: Callable[[_Seen], list[_Measured] | None]
    least: bool = False


def judge_attempt(
    task: Task, heard: Events, horn: Horn, level: GateLevel = GateLevel.NORMAL
) -> AttemptVerdict:
    """The verdict on what was heard of a task; `heard` is against the horn's A4."""
    asked = _asked_of(task.score)
    match = None
    if asked:
        offset = horn.setup.tuning.offset_cents
        wanted = [Wanted(one.note.midi + offset(one.note.midi) / 100) for one in asked]
        match = match_pattern(wanted, heard)
        asked = [
            replace(one, heard=answer.note if answer else None)
            for one, answer in zip(asked, match.spoken, strict=True)
        ]
    seen = _Seen(task, horn, heard, tuple(asked), match)
    # Whatever else counts, what was asked for must have been played.
    aims = task.aims if Aim.SPOKE in task.aims or not asked else (*task.aims, Aim.SPOKE)
    return AttemptVerdict(
        tuple(_result(aim, seen, level) for aim in aims),
        tuple(one.at for one in asked if one.heard is None),
    )


def _result(aim: Aim, seen: _Seen, level: GateLevel) -> AimResult:
    rule = RULES[aim]
    limit = rule.limits[list(GateLevel).index(level)]
    found = rule.measure(seen)
    if not found:
        return AimResult(aim, 0.0, limit, True, untold="there was nothing to tell it by")
    good = [value >= limit if rule.least else abs(value) <= limit for value, _ in found]
    pick = min if rule.least else max
    measured, at = pick(found, key=lambda one: one[0] if rule.least else abs(one[0]))
    return AimResult(aim, measured, limit, all(good), at, sum(good), len(good))


def _asked_of(score: Score) -> list[_Asked]:
    """The notes one is asked to sound, with repetitions. What is slurred to on its own pitch is
    the note before, going on, unless it was bent so far away that it is heard anew. Notes that
    only begin or end a siren are no notes."""
    found: list[_Asked] = []
    for time in range(score.times):
        for place, step in enumerate(score.steps):
            if not isinstance(step, Play) or step.role is Role.REFERENCE:
                continue
            if _leads_nowhere(score, place):
                continue
            before = score.steps[place - 1] if place else None
            bent = isinstance(before, Bend)
            goes_on = (
                bool(found)
                and step.articulation is Articulation.SLURRED
                and found[-1].note.midi == step.midi
                and not isinstance(before, Breath | Rest)
                and not (isinstance(before, Bend) and abs(before.cents) >= _LEAVES_CENTS)
            )
            if goes_on:
                found[-1] = replace(found[-1], bent=True)
            else:
                found.append(_Asked(step, Place(place, time), bent=bent))
    return found


def _leads_nowhere(score: Score, place: int) -> bool:
    """Whether a note is only where a line begins that no note ends."""
    after = score.steps[place + 1 : place + 3]
    return (
        len(after) > 0
        and isinstance(after[0], Glide)
        and not (len(after) > 1 and isinstance(after[1], Play))
    )


# What each aim measures.


def _centre(seen: _Seen) -> list[_Measured]:
    return [(seen.off_cents(one, note), one.at) for one, note in seen.spoken]


def _steady(seen: _Seen) -> list[_Measured]:
    return [
        (note.measures.spread_cents, one.at)
        for one, note in seen.spoken
        if note.end_s - note.start_s >= _LONG_ENOUGH_S and not one.bent
    ]


def _start(seen: _Seen) -> list[_Measured]:
    return [
        (note.measures.scoop_cents, one.at)
        for one, note in seen.spoken
        if one.note.articulation is not Articulation.SLURRED
    ]


def _end(seen: _Seen) -> list[_Measured]:
    ends = _ends_of_breaths(seen)
    return [(note.measures.sag_cents, one.at) for one, note in seen.spoken if one.at.step in ends]


def _ends_of_breaths(seen: _Seen) -> set[int]:
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


def _held(seen: _Seen) -> list[_Measured]:
    """Each last note of a breath, as a percentage of what it should be held."""
    ends = _ends_of_breaths(seen)
    asked_s = seen.task.given.values.get("hold_s")
    seconds = _LEAST_HELD_S if asked_s is None else float(asked_s)
    return [
        (100 * note.measures.hold_s / seconds, one.at)
        for one, note in seen.spoken
        if one.at.step in ends and one.note.role is Role.ASKED
    ]


def _speaks(seen: _Seen) -> list[_Measured]:
    return [(float(note.cracked_from_midi is not None), one.at) for one, note in seen.spoken]


def _gap(seen: _Seen) -> list[_Measured]:
    return [
        (1000 * max(change.gap_s for change in between), one.at)
        for one, between, _ in seen.changes
        if between
    ]


def _touched(seen: _Seen) -> list[_Measured]:
    found: list[_Measured] = []
    for one, between, notes in seen.changes:
        spoke_s = [slot.duration_s for change in between for slot in change.touched]
        spoke_s += [note.end_s - note.start_s for note in notes]
        found.append((1000 * max(spoke_s, default=0.0), one.at))
    return found


def _flipped(seen: _Seen) -> list[_Measured]:
    return [
        (float(any(change.flipped for change in between)), one.at)
        for one, between, _ in seen.changes
    ]


def _waning(seen: _Seen) -> list[_Measured]:
    return [
        (max(change.waning_db for change in between), one.at)
        for one, between, _ in seen.changes
        if between
    ]


def _spoke(seen: _Seen) -> list[_Measured]:
    return [(float(one.heard is None), one.at) for one in seen.asked]


def _one_breath(seen: _Seen) -> list[_Measured] | None:
    if seen.match is None:
        return None
    asked = len(in_one_breath(seen.task.score.steps)) * seen.task.score.times
    return [(float(max(seen.match.breaths - asked, 0)), None)]


def _same_sound(seen: _Seen) -> list[_Measured] | None:
    spoken = seen.spoken
    if seen.match is None or len(spoken) < 2 or _is_shaped(seen):
        return None
    return [(seen.match.level_change_db, spoken[-1][0].at)]


def _is_shaped(seen: _Seen) -> bool:
    """Whether the first and last note are not meant to be alike."""
    return seen.asked[0].note.dynamic is not seen.asked[-1].note.dynamic


def _even(seen: _Seen) -> list[_Measured] | None:
    if seen.match is None or len(seen.spoken) < 3:
        return None
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
        return None
    middle = sum(starts) / len(starts)
    spread = (sum((one - middle) ** 2 for one in starts) / len(starts)) ** 0.5
    return [(100 * spread / middle, None)]


def _clear(seen: _Seen) -> list[_Measured] | None:
    return None if seen.match is None else [(100 * seen.match.clear_share, None)]


def _breaks(seen: _Seen) -> list[_Measured]:
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


def _span(seen: _Seen) -> list[_Measured] | None:
    reached = seen.heard.range_midi(seen.horn.setup.a4_hz)
    pitches = seen.task.score.pitches
    if reached is None or not pitches:
        return [(float(max(pitches) - min(pitches)), None)] if pitches else None
    short = max(reached[0] - min(pitches), 0.0) + max(max(pitches) - reached[1], 0.0)
    return [(short, None)]


def _glided(seen: _Seen) -> list[tuple[_Asked, _Asked]]:
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


def _no_catch(seen: _Seen) -> list[_Measured]:
    return [
        (float((after.heard or 0) - (before.heard or 0) - 1), after.at)
        for before, after in _glided(seen)
    ]


def _ends_alike(seen: _Seen) -> list[_Measured]:
    notes = seen.heard.notes
    return [
        (
            notes[after.heard or 0].measures.level_db - notes[before.heard or 0].measures.level_db,
            after.at,
        )
        for before, after in _glided(seen)
    ]


def _came_back(seen: _Seen) -> list[_Measured]:
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


def _shape(seen: _Seen) -> list[_Measured]:
    """Notes whose loudness went another way than asked: 1 each."""
    found: list[_Measured] = []
    previous: tuple[_Asked, Note] | None = None
    for one, note in seen.spoken:
        if one.note.grows_to is not None:
            way = _louder(one.note.grows_to) - _louder(one.note.dynamic)
            change = note.measures.level_change_db
            found.append((float(change * (1 if way > 0 else -1) < _GROWN_DB), one.at))
        elif previous is not None:
            way = _louder(one.note.dynamic) - _louder(previous[0].note.dynamic)
            grew = note.measures.level_db - previous[1].measures.level_db
            if way:
                found.append((float(grew * (1 if way > 0 else -1) < 0), one.at))
        previous = (one, note)
    return found


def _louder(dynamic: object) -> int:
    return list(type(dynamic)).index(dynamic)  # type: ignore[call-overload, no-any-return]


def _three(rule: str) -> tuple[float, float, float]:
    """A limit of the gate of one note, at its three levels."""
    strict, normal, kind = (getattr(DEFAULT_LIMITS[level], rule) for level in GateLevel)
    return strict, normal, kind


_NONE = (0.0, 0.0, 0.0)
RULES: dict[Aim, AimRule] = {
    Aim.CENTRE: AimRule("cents", _three("centre_cents"), _centre),
    Aim.STEADY: AimRule("cents", _three("spread_cents"), _steady),
    Aim.START: AimRule("cents", _three("scoop_cents"), _start),
    Aim.END: AimRule("cents", _three("sag_cents"), _end),
    Aim.HELD: AimRule("% of it", (100.0, 100.0, 100.0), _held, least=True),
    Aim.SPEAKS: AimRule("cracks", _NONE, _speaks),
    Aim.GAP: AimRule("ms", (40.0, 60.0, 90.0), _gap),
    Aim.TOUCHED: AimRule("ms", (30.0, 45.0, 60.0), _touched),
    Aim.FLIPPED: AimRule("flipped", _NONE, _flipped),
    Aim.WANING: AimRule("dB", (3.0, 3.0, 3.0), _waning),
    Aim.SPOKE: AimRule("missed", _NONE, _spoke),
    Aim.ONE_BREATH: AimRule("breaths more", _NONE, _one_breath),
    Aim.SAME_SOUND: AimRule("dB", _three("level_db"), _same_sound),
    Aim.EVEN: AimRule("%", (10.0, 15.0, 25.0), _even),
    Aim.CLEAR: AimRule("% clear", (90.0, 80.0, 70.0), _clear, least=True),
    Aim.BREAKS: AimRule("breaks", _NONE, _breaks),
    Aim.SPAN: AimRule("half steps short", (0.5, 1.0, 2.0), _span),
    Aim.NO_CATCH: AimRule("slots", _NONE, _no_catch),
    Aim.ENDS_ALIKE: AimRule("dB", _three("level_db"), _ends_alike),
    Aim.CAME_BACK: AimRule("cents", _three("centre_cents"), _came_back),
    Aim.SHAPE: AimRule("against it", _NONE, _shape),
}
"""The rule of every aim."""
