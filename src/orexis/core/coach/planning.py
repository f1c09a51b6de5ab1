"""The plan of a day: which blocks, how long each, in which order, and why."""

from dataclasses import dataclass, replace

from orexis.core.coach.about import Experience
from orexis.core.coach.approaches import choice
from orexis.core.coach.budget import MORE_OF, TWO_MAINS_FROM_MIN, WEIGHTS, Budget, budget_for
from orexis.core.coach.choosing import chosen_for, families_of
from orexis.core.coach.chosen import ChosenExercise
from orexis.core.coach.day import HIGH_SHARE, ORDER, DayBlock, DayPlan, PlanRequest
from orexis.core.coach.fitting import fitted_within
from orexis.core.coach.from_cold import due_from_cold
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.load import over
from orexis.core.counting import counted
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import WORKS, ExerciseRefusedError, Group
from orexis.core.exercises.practised import AttemptOrder
from orexis.core.exercises.words import setting_words
from orexis.core.exercises.writer import Writer
from orexis.core.session.plan import Block
from orexis.core.session.quiet import quietly

_MAINS = (Group.LOW, Group.PEDALS, Group.HIGH)
_OVER_SHARE, _OVER_A_BLOCK = 0.15, 0.4
"""How much more than it says a plan can come to: a share of it, at least so much a block, since the
last attempt of a block goes on after its time."""
_TOLD_SHORTER = 0.85
_PLAYED = 2.0
"""A load from which on one has played that day."""
_SHRINK, _SHRINKS = 0.93, 30


def _over_written(room: float, blocks: int) -> float:
    """How much of what is left for a day is kept for what is played beyond its plan."""
    return max(_OVER_SHARE * room, _OVER_A_BLOCK * blocks)


@dataclass(frozen=True, slots=True)
class _Share:
    """The least a block takes, its share of what is left, and the most (min)."""

    least: float
    weight: float
    most: float


_SHARES = {
    Group.BREATH: _Share(1.0, 0.04, 2.5),
    Group.COLD: _Share(0.5, 0.0, 0.5),
    Group.BUZZ: _Share(2.0, 0.14, 5.0),
    Group.LONG: _Share(2.0, 0.15, 8.0),
    Group.SLURS: _Share(2.0, 0.17, 14.0),
    Group.INTERVALS: _Share(2.0, 0.08, 8.0),
    Group.LOW: _Share(3.0, 0.2, 14.0),
    Group.PEDALS: _Share(4.0, 0.25, 24.0),
    Group.HIGH: _Share(4.0, 0.25, 24.0),
    Group.MUSIC: _Share(2.0, 0.16, 20.0),
    Group.WARM_DOWN: _Share(1.0, 0.05, 4.0),
}
_FIRST_TO_GO = (
    Group.INTERVALS,
    *_MAINS,
    Group.BREATH,
    Group.BUZZ,
    Group.WARM_DOWN,
    Group.COLD,
    Group.SLURS,
    Group.MUSIC,
)
"""What is left out first where there is little time."""
MUSIC_SHARE, _MUSIC_FROM_MIN = 0.25, 10.0
_BASICS = frozenset({Group.BUZZ, Group.LONG, Group.SLURS, Group.INTERVALS})
_LONGER = 1.5
"""Beginners have fewer exercises, each for so much longer at least."""
_MORE = 1.8
_NEVER_DAYS = 60.0
_MISSED_DAYS = 2


def plan_day(known: PlayerFacts, asked: PlanRequest) -> DayPlan:
    """What to play on a day, and why."""
    budget = budget_for(known, asked)
    mains = main_work(known, budget)
    warnings = [*budget.warnings, *over(known.load)]
    room = known.room
    blocks: tuple[DayBlock, ...] = ()
    minutes, kinds = budget.minutes, budget.kinds - (set(_MAINS) - set(mains))
    for _ in range(_SHRINKS):
        blocks = _blocks(known, asked, kinds, minutes)
        load = sum(block.load for block in blocks)
        if room is None or load + _over_written(room, len(blocks)) <= room or not blocks:
            break
        # Less of all of it; what is hardest goes first where that is not enough.
        minutes *= _SHRINK
        if minutes < 0.5 * budget.minutes:
            kinds = kinds - WORKS
    else:
        blocks = tuple(block for block in blocks if block.kind is Group.BREATH)
    if minutes < _TOLD_SHORTER * budget.minutes:
        warnings.append(
            "It is shorter than you asked: the last weeks leave no room for more load. That is a "
            "rule of thumb, and yours to overrule."
        )
    return DayPlan(
        known.today,
        asked,
        headline_of(known, asked, blocks),
        _summary(known, budget, blocks),
        blocks,
        tuple(warnings),
    )


def main_work(known: PlayerFacts, budget: Budget) -> list[Group]:
    """What the day is about: what waits longest, as the player's wish weighs it, and what a
    programme asks for; two of them where there is time."""
    there = [kind for kind in _MAINS if kind in budget.kinds]
    weights = WEIGHTS[known.about.wish]

    def waits(kind: Group) -> float:
        since = [known.history.days_since(key, known.today) for key in families_of(kind)]
        days = min((one for one in since if one is not None), default=_NEVER_DAYS)
        due = any(
            place.now.setting is not None and find_family(place.now.setting.family).group is kind
            for place in known.due
        )
        return weights[kind] * days + (1000.0 if due else 0.0)

    ranked = sorted(there, key=waits, reverse=True)
    most = 2 if budget.minutes >= TWO_MAINS_FROM_MIN else 1
    if choice(known.approaches, "pedals") == "both" and ranked[:1] and ranked[0] in WORKS:
        ranked = [ranked[0], *(group for group in ranked[1:] if group not in WORKS)]
    return ranked[:most]


def _blocks(
    known: PlayerFacts, asked: PlanRequest, kinds: set[Group], minutes: float
) -> tuple[DayBlock, ...]:
    """The blocks of some kinds for some minutes."""
    if not due_from_cold(known, asked.lips):
        kinds = kinds - {Group.COLD}
    while True:
        shares = shares_of(known, kinds, minutes)
        found: list[DayBlock] = []
        for kind in ORDER:
            if kind in shares:
                played = frozenset(block.setting.family for block in found)
                block = block_for(kind, known, asked, shares[kind], played)
                if block is not None:
                    found.append(block)
        missing = shares.keys() - {block.kind for block in found}
        if not missing:
            return tuple(found)
        # What cannot be played within today's notes leaves its minutes to the others.
        kinds = kinds - missing


def shares_of(known: PlayerFacts, kinds: set[Group], minutes: float) -> dict[Group, float]:
    """How many minutes each block has, rests counted, to half a minute."""
    there = [kind for kind in ORDER if kind in kinds]
    most = {kind: _SHARES[kind].most for kind in there}
    if Group.HIGH in there:
        most[Group.HIGH] = min(most[Group.HIGH], HIGH_SHARE * minutes)
    least = {kind: _SHARES[kind].least for kind in there}
    if known.experience in (Experience.FIRST_WEEKS, Experience.FIRST_YEAR):
        least |= {kind: _LONGER * least[kind] for kind in there if kind in _BASICS}
    if Group.MUSIC in there and minutes >= _MUSIC_FROM_MIN:
        least[Group.MUSIC] = max(least[Group.MUSIC], MUSIC_SHARE * minutes)
        most[Group.MUSIC] = max(most[Group.MUSIC], least[Group.MUSIC])
    for kind in _FIRST_TO_GO:
        tight = sum(least[group] for group in there) > minutes
        if kind in there and (tight or most[kind] < least[kind]):
            there.remove(kind)
    given = {kind: least[kind] for kind in there}
    emphasised = MORE_OF.get(known.about.wish)
    weights = {
        kind: _SHARES[kind].weight * (_MORE if kind is emphasised else 1.0) for kind in there
    }
    if known.experience is Experience.FIRST_WEEKS:
        most = {kind: max(min(most[kind], 6.0), least[kind]) for kind in there}
    left = minutes - sum(given.values())
    open_kinds = set(there)
    while left > 0.01 and open_kinds:
        whole = sum(weights[kind] for kind in open_kinds)
        full = {k for k in open_kinds if given[k] + left * weights[k] / whole >= most[k]}
        if not full:
            for kind in open_kinds:
                given[kind] += left * weights[kind] / whole
            break
        for kind in full:
            left -= max(most[kind] - given[kind], 0.0)
            given[kind] = max(most[kind], given[kind])
        open_kinds -= full
    return _halves(given, most, minutes)


def _halves(
    given: dict[Group, float], most: dict[Group, float], minutes: float
) -> dict[Group, float]:
    """Minutes rounded down to half minutes; what is left over goes to the longest."""
    found = {kind: int(2 * one + 1e-6) / 2 for kind, one in given.items()}
    for kind in sorted(found, key=lambda group: -found[group]):
        if sum(found.values()) + 0.5 > minutes + 1e-6:
            break
        if kind is not Group.HIGH and found[kind] + 0.5 <= most[kind]:
            found[kind] += 0.5
    return found


def block_for(
    kind: Group,
    known: PlayerFacts,
    asked: PlanRequest,
    minutes: float,
    played: frozenset[str] = frozenset(),
) -> DayBlock | None:
    """A block of a kind for some minutes, if it can be with an exercise that is not `played` that
    day already; `None` where nothing of it can be played."""
    again: DayBlock | None = None
    for exercise in chosen_for(kind, known, asked.lips):
        try:
            found = made_of(kind, exercise, known, asked, minutes)
        except ExerciseRefusedError:
            continue
        if found is not None and found.setting.family not in played:
            return found
        again = again or found
    # In quiet hours much comes to the same buzz; once is enough.
    return None if asked.quiet else again


def made_of(
    kind: Group, chosen: ChosenExercise, known: PlayerFacts, asked: PlanRequest, minutes: float
) -> DayBlock | None:
    """An exercise as a block of the day. Raises `ExerciseRefusedError`."""
    setting, writer = chosen.setting, known.writer
    reason, facts = chosen.reason, chosen.facts
    if asked.quiet:
        played = quietly(setting, writer)
        if played is None:
            return None
        if played != setting:
            # The facts are of what it stands in for.
            reason, facts = played.why, ()
        setting = played
    limits = limits_for(known, asked.lips)
    family = find_family(setting.family)
    lowest, highest = limits.lowest_of(family), limits.highest_of(family.practised)
    fit = fitted_within(lowest, highest, setting, writer, minutes, known.weights, known.rests)
    if fit is None:
        return None
    if limits.why and (chosen.is_lowered or fit.is_lowered or fit.highest_midi == highest):
        facts = (*facts, limits.why)
    at_bottom = fit.is_raised or fit.lowest_midi == lowest
    if limits.why_low and lowest == limits.lowest and at_bottom:
        facts = (*facts, limits.why_low)
    if fit.block.follow is AttemptOrder.SETS:
        sets, starts = counted(fit.block.sets, "set"), counted(len(fit.block.rungs), "start")
        facts = (*facts, f"Today there is time for {sets} of {starts}.")
    reason = reason or _from_to(fit.block, writer)
    setting = replace(fit.setting, why=f"{reason} {chosen.says}".strip())
    rest = minutes / 2 if kind in WORKS else 0.0
    task = fit.block.rungs[0].task
    return DayBlock(
        kind=kind,
        minutes=minutes - rest,
        rest_minutes=rest,
        setting=setting,
        title=chosen.title or family.title,
        about=setting_words(family.parameters(writer), task.given),
        lowest_midi=fit.lowest_midi,
        highest_midi=fit.highest_midi,
        load=fit.load,
        reason=reason,
        facts=facts,
    )


def _from_to(ladder: Block, writer: Writer) -> str:
    """How far a ladder goes."""
    first, last = (max(rung.task.score.pitches) for rung in (ladder.rungs[0], ladder.rungs[-1]))
    if first == last:
        return f"One note: {writer.name(first)}."
    return f"From {writer.name(first)} up to {writer.name(last)}, a step at a time."


def headline_of(known: PlayerFacts, asked: PlanRequest, blocks: tuple[DayBlock, ...]) -> str:
    """The day in a line."""
    day = f"{known.today:%A}"
    if all(block.kind is Group.BREATH for block in blocks):
        return f"{day}: rest."
    kinds = {block.kind: block for block in blocks}
    if Group.HIGH in kinds:
        top = kinds[Group.HIGH].highest_midi
        return f"{day}: {_reach(known, top)}, gently."
    if Group.PEDALS in kinds:
        return f"{day}: pedals."
    if Group.LOW in kinds:
        return f"{day}: low, with one sound."
    if asked.quiet:
        return f"{day}: the mouthpiece alone."
    if kinds.keys() <= {Group.BREATH, Group.LONG, Group.WARM_DOWN}:
        return f"{day}: easy, or rest."
    if known.experience is Experience.FIRST_WEEKS:
        return f"{day}: buzz, then long notes."
    return f"{day}: easy and clean."


def _reach(known: PlayerFacts, top: int | None) -> str:
    reach = known.ceiling + 1
    if top is not None:
        reach = min(reach, top)
    return f"reach for {known.writer.name(reach)}"


def _summary(known: PlayerFacts, budget: Budget, blocks: tuple[DayBlock, ...]) -> str:
    """What lies behind and ahead, in a sentence or two."""
    parts = list(budget.said)
    if known.is_first_day:
        parts.append("First day: start in the middle, low and easy, and find out.")
    elif known.days_off >= _MISSED_DAYS and known.pause is None:
        parts.append(f"{known.days_off} days without playing; nothing is lost by that.")
    if known.loads.get(known.today, 0.0) > _PLAYED:
        parts.append("You have played today already; this is what there is room for.")
    high = sum(block.all_minutes for block in blocks if block.kind is Group.HIGH)
    if high:
        whole = sum(block.all_minutes for block in blocks)
        parts.append(f"High work is {high:g} of {whole:g} minutes.")
    return " ".join(parts)
