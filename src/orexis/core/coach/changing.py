"""Changing a day's plan: move, swap, drop and lengthen its blocks. What a change breaks is said,
and nothing is forbidden."""

from dataclasses import replace

from orexis.core.coach.approaches import choice
from orexis.core.coach.choosing import chosen_for
from orexis.core.coach.day import HIGH_SHARE, ORDER, WARM_UP, DayBlock, DayPlan, PlanRequest
from orexis.core.coach.fitting import FILLED, fitted
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.planning import headline_of, made_of
from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import WORKS, ExerciseRefusedError, Group
from orexis.core.exercises.practised import AttemptOrder

_LEAST_MIN = 1.0
_ROUNDING_MIN = 0.5


class ChangeRefusedError(ValueError):
    """A change that cannot be; the message says why."""


def moved(plan: DayPlan, block: int, to: int, known: PlayerFacts) -> DayPlan:
    """A block at another place among the others. Raises `ChangeRefusedError`."""
    _check(plan, block)
    _check(plan, to)
    blocks = list(plan.blocks)
    blocks.insert(to, blocks.pop(block))
    return _with(plan, blocks, known)


def dropped(plan: DayPlan, block: int, known: PlayerFacts) -> DayPlan:
    """The plan without a block; its time goes to the others that are no hard work. Raises
    `ChangeRefusedError`."""
    _check(plan, block)
    if len(plan.blocks) == 1:
        raise ChangeRefusedError("This is all there is. To rest today, just do not start.")
    freed = plan.blocks[block].all_minutes
    blocks = [one for place, one in enumerate(plan.blocks) if place != block]
    return _with(plan, _given(blocks, freed, None, known), known)


def lengthened(plan: DayPlan, block: int, by_min: float, known: PlayerFacts) -> DayPlan:
    """A block longer or shorter by some minutes; the others make room for it, or take it up.
    Raises `ChangeRefusedError`."""
    _check(plan, block)
    wanted = plan.blocks[block].all_minutes + by_min
    if wanted < _LEAST_MIN:
        raise ChangeRefusedError("It cannot be shorter than a minute. Drop it instead.")
    blocks = list(plan.blocks)
    blocks[block] = resized(blocks[block], wanted, known)
    return _with(plan, _given(blocks, -by_min, block, known), known)


def swapped(plan: DayPlan, block: int, known: PlayerFacts) -> DayPlan:
    """Another exercise of the same kind in a block's place. Raises `ChangeRefusedError`."""
    _check(plan, block)
    old = plan.blocks[block]
    others = list(chosen_for(old.kind, known, plan.asked.lips))
    families = [exercise.setting.family for exercise in others]
    at = families.index(old.setting.family) if old.setting.family in families else -1
    for chosen in (*others[at + 1 :], *others[: at + 1]):
        if chosen.setting.family == old.setting.family:
            continue
        try:
            new = made_of(old.kind, chosen, known, plan.asked, old.all_minutes)
        except ExerciseRefusedError:
            continue
        if new is not None and new.setting.family != old.setting.family:
            blocks = list(plan.blocks)
            blocks[block] = replace(new, facts=(*new.facts, f"You put it in place of {old.title}."))
            return _with(plan, blocks, known)
    raise ChangeRefusedError(f"{old.title} is the only exercise of this kind today.")


def resized(block: DayBlock, minutes: float, known: PlayerFacts) -> DayBlock:
    """A block for other minutes, rests counted."""
    minutes = round(2 * minutes) / 2
    # What filled the old minutes is worked out anew.
    free = {"needed", "fails", "sets", "set_rest_s", "minutes", "block_rest_s"}
    keeps_sets = find_family(block.setting.family).practised.follow is AttemptOrder.SETS
    way = {
        key: value
        for key, value in block.setting.way.items()
        if key not in free
        or (key == "sets" and keeps_sets)
        or (key == "fails" and "after_fail" in block.setting.way)
    }
    if block.kind is Group.WARM_DOWN:
        way["block_rest_s"] = 0.0
    values = {key: value for key, value in block.setting.values.items() if key not in FILLED}
    fit = fitted(
        replace(block.setting, values=values, way=way),
        known.writer,
        minutes,
        known.weights,
        known.rests,
    )
    rest = minutes / 2 if block.kind in WORKS else 0.0
    return replace(
        block,
        minutes=minutes - rest,
        rest_minutes=rest,
        setting=replace(fit.setting, why=block.setting.why),
        lowest_midi=fit.lowest_midi,
        highest_midi=fit.highest_midi,
        load=fit.load,
    )


def _given(
    blocks: list[DayBlock], minutes: float, but: int | None, known: PlayerFacts
) -> list[DayBlock]:
    """Minutes shared out among the blocks that are no hard work, or taken from them."""
    open_to = [
        place
        for place, block in enumerate(blocks)
        if place != but and block.kind not in WORKS and block.kind is not Group.BREATH
    ]
    whole = sum(blocks[place].all_minutes for place in open_to)
    for place in open_to:
        old = blocks[place].all_minutes
        new = max(old + minutes * old / whole, _LEAST_MIN)
        if round(2 * new) != round(2 * old):
            blocks[place] = resized(blocks[place], new, known)
    return blocks


def _check(plan: DayPlan, block: int) -> None:
    if not 0 <= block < len(plan.blocks):
        raise ChangeRefusedError("There is no such block in the plan.")


def _with(plan: DayPlan, blocks: list[DayBlock], known: PlayerFacts) -> DayPlan:
    changed = tuple(blocks)
    before = broken_rules(plan.blocks, plan.asked, known)
    kept = tuple(warning for warning in plan.warnings if warning not in before)
    warnings = (*kept, *broken_rules(changed, plan.asked, known))
    headline = headline_of(known, plan.asked, changed)
    return replace(plan, blocks=changed, warnings=warnings, headline=headline)


def broken_rules(
    blocks: tuple[DayBlock, ...], asked: PlanRequest, known: PlayerFacts
) -> tuple[str, ...]:
    """What a plan breaks, each in a sentence; none for one the coach has made."""
    found: list[str] = []
    kinds = [block.kind for block in blocks]
    for place, kind in enumerate(kinds):
        if kind in WORKS and not WARM_UP & set(kinds[:place]):
            found.append(f"{blocks[place].title} comes before the lips are warm.")
    if not any("before the lips" in one for one in found):
        order = [ORDER.index(kind) for kind in kinds]
        if order != sorted(order):
            found.append("The order is not the usual one: easy first, hard in the middle.")
    whole = sum(block.all_minutes for block in blocks)
    high = sum(block.all_minutes for block in blocks if block.kind is Group.HIGH)
    if whole and high > HIGH_SHARE * whole + _ROUNDING_MIN:
        share = 100 * high / whole
        found.append(f"High work is {share:.0f} % of the time; a quarter is the most.")
    if high and known.at_ceiling_on is not None:
        found.append("The last day ended at the ceiling; high work wants a day between.")
    if {Group.HIGH, Group.PEDALS} <= set(kinds) and choice(known.approaches, "pedals") == "both":
        found.append("You keep pedals and high work apart, and here they are on one day.")
    load = sum(block.load for block in blocks)
    if known.room is not None and load > known.room:
        found.append(
            f"This is more practice load than your last weeks leave room for ({load:.0f} weighed "
            f"minutes, {known.room:.0f} at most). A rule of thumb."
        )
    if whole > asked.minutes + _ROUNDING_MIN:
        found.append(f"It takes {whole:.0f} minutes; you have {asked.minutes}.")
    return tuple(found)
