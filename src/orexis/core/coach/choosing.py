"""Which exercise a block of the day is, at which step, and why that one."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from math import inf

from orexis.core.coach.about import Experience, Lips
from orexis.core.coach.approaches import answers_to, choice
from orexis.core.coach.chosen import ChosenExercise, played_words
from orexis.core.coach.from_cold import picks_from_cold
from orexis.core.coach.kept import kept_by_the_player
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.limits import limits_for
from orexis.core.coach.path_today import is_within, step_today, varied
from orexis.core.coach.programmes import Stage
from orexis.core.coach.returning import return_stage
from orexis.core.exercises.book import (
    FAMILIES,
    easing_families,
    find_family,
    for_first_weeks,
    planned_in,
    task_of,
)
from orexis.core.exercises.family import ExerciseRefusedError, Family, Group
from orexis.core.exercises.practised import AttemptOrder, Value, Values
from orexis.core.session.building import Setting

_BELOW = 3
"""A ladder starts so many rungs below the last secure note."""
_BEYOND = 2
"""And may come so many above what it came to before."""
_MOST_RUNGS = 12
_TAKE_TURNS = frozenset({Group.LONG, Group.SLURS, Group.INTERVALS, Group.LOW})
"""Where a programme leaves every second day to other exercises of its kind."""
_STEPS_AGAIN, _STUCK_AGAIN = 2.0, 0.4
"""How much sooner steps one at a time come round than other high work, and what is stuck at the
first step of its path than all else."""

_AFTER_FAIL: dict[str, dict[str, Value]] = {
    "back": {"after_fail": "back", "fails": 3.0},
    "once-more": {"after_fail": "again", "fails": 2.0},
    "stop": {"after_fail": "again", "fails": 1.0},
}


def chosen_for(kind: Group, known: PlayerFacts, lips: Lips) -> Iterator[ChosenExercise]:
    """Exercises for a block, the best one first; one the horn cannot do is left out."""
    says = _says(kind, known)
    for candidate in _candidates(kind, known, lips):
        exercise = replace(candidate, says=says)
        family = find_family(exercise.setting.family)
        try:
            task_of(family, known.writer, exercise.setting.values)
        except ExerciseRefusedError:
            continue
        yield exercise


_VARIED = "Today you play it from another note or in another form."
_SAYS: dict[tuple[Group, str, str], str] = {
    (Group.SLURS, "jaw", "still"): "Let the tongue lead, and keep the jaw quiet.",
    (Group.SLURS, "jaw", "moves"): "Let the jaw move to find each note.",
    (Group.HIGH, "pressure", "least"): "Press as little as you can.",
    (Group.HIGH, "pressure", "some"): "Press lightly; let go again below the top.",
    (Group.HIGH, "pressure", "zero"): "Do not press at all.",
    (Group.LONG, "starts", "breath"): "Begin each note on the air alone.",
    (Group.LOW, "low-air", "slower"): "Stay open and unforced, with slow air.",
    (Group.LOW, "low-air", "faster"): "Use more air, and faster air.",
}


def _says(kind: Group, known: PlayerFacts) -> str:
    """What the player's approaches say of how a kind of work is played."""
    found = (
        words
        for (part, question, answer), words in _SAYS.items()
        if part is kind and choice(known.approaches, question) == answer
    )
    return " ".join(found)


def _candidates(kind: Group, known: PlayerFacts, lips: Lips) -> Iterator[ChosenExercise]:
    if kind is Group.COLD:
        yield from picks_from_cold(known, lips)
        return
    programmes = list(_from_programmes(kind, known, lips))
    others_turn = kind in _TAKE_TURNS and any(_was_last(exercise, known) for exercise in programmes)
    if not others_turn:
        yield from programmes
    yield from kept_by_the_player(kind, known)
    for family in _in_turn(_planned(kind, known, lips), known, kind):
        chosen = _set(kind, family, known, lips)
        if chosen is not None:
            yield chosen
    if others_turn:
        yield from programmes


def _was_last(chosen: ChosenExercise, known: PlayerFacts) -> bool:
    """Whether an exercise was played on the last day of practice."""
    since = known.history.days_since(chosen.setting.family, known.today)
    return since is not None and 0 < since <= known.days_off + 1


def _planned(kind: Group, known: PlayerFacts, lips: Lips) -> tuple[Family, ...]:
    """The exercises of a kind that programmes plan for this player today."""
    if kind is Group.WARM_DOWN:
        return easing_families()
    families = planned_in(kind)
    if known.experience is Experience.FIRST_WEEKS:
        families = for_first_weeks(kind) or families
    if kind is Group.LONG and lips in (Lips.TIRED, Lips.SORE):
        families = families[:1]
    return families


def _in_turn(families: tuple[Family, ...], known: PlayerFacts, kind: Group) -> Sequence[Family]:
    """What was left longest comes first; low long tones at the latest every second day, and what
    comes down again always in the same order."""
    if kind is Group.WARM_DOWN:
        return families
    first = families[0].key
    if kind is Group.LONG and (known.history.days_since(first, known.today) or 2) >= 2:
        return families

    def days(family: Family) -> float:
        since = known.history.days_since(family.key, known.today)
        return inf if since is None else float(since)

    def rank(family: Family) -> tuple[bool, float, int]:
        wanted = any(answer.first for answer in answers_to(family, known.approaches))
        sooner = _STEPS_AGAIN if family.practised.in_steps else 1.0
        on_path = known.on_path(family)
        if on_path is not None and on_path.is_stuck:
            # More of what is not good at its easiest helps less than what leads to it.
            sooner *= _STUCK_AGAIN
        return not wanted, -sooner * days(family), families.index(family)

    return sorted(families, key=rank)


def _from_programmes(kind: Group, known: PlayerFacts, lips: Lips) -> Iterator[ChosenExercise]:
    for place in known.due:
        asked = place.now.setting
        if asked is None or find_family(asked.family).group is not kind:
            continue
        facts = (place.words, place.programme.earns(), place.programme.rests())
        for setting in _either(place.now, known):
            family = find_family(setting.family)
            way = {**setting.way, **_way(family, known)}
            if family.practised.climbs:
                way["follow"] = AttemptOrder.REPEAT.value
            values = _as_programmed(setting, family, known, lips)
            yield ChosenExercise(
                Setting(setting.family, values, way),
                f"{place.programme.title}, stage {place.stage + 1} of {len(place.stages)}.",
                facts,
                is_lowered=not setting.values.items() <= values.items(),
            )


def _as_programmed(setting: Setting, family: Family, known: PlayerFacts, lips: Lips) -> Values:
    """What a programme sets, and along the exercise's own path what it leaves open, in turn once
    that is finished. Where it asks for notes outside what the day allows, the path alone says what
    is played."""
    on_path = None if family.practised.climbs else known.on_path(family)
    if on_path is None:
        return setting.values
    step = step_today(on_path, family, setting.values, known, lips)
    whole = {**step, **setting.values}
    if is_within(family, whole, known, lips):
        return varied(on_path, family, whole, known, lips) if on_path.is_finished else whole
    return varied(on_path, family, {**setting.values, **step}, known, lips)


def _either(stage: Stage, known: PlayerFacts) -> list[Setting]:
    """What earns a stage, first what comes first: where two do, they take turns, and the other
    comes too where the horn has no note for the first."""
    asked, other = stage.setting, stage.or_else
    assert asked is not None
    if other is None:
        return [asked]
    last, others = (
        known.history.days_since(setting.family, known.today) for setting in (asked, other)
    )
    others_turn = last is not None and (others is None or others > last)
    return [other, asked] if others_turn else [asked, other]


def families_of(kind: Group) -> frozenset[str]:
    """The keys of exercises that a block of a kind can be."""
    if kind is Group.WARM_DOWN:
        return frozenset(family.key for family in easing_families())
    return frozenset(
        family.key for family in FAMILIES.values() if family.group is kind and family.practised.turn
    )


def _set(kind: Group, family: Family, known: PlayerFacts, lips: Lips) -> ChosenExercise | None:
    """An exercise at its rung, as the player's approaches have it."""
    practised, beginner = family.practised, known.experience is Experience.FIRST_WEEKS
    down = kind is Group.WARM_DOWN
    if practised.climbs:
        return _ladder(family, known, lips)
    answers = answers_to(family, known.approaches)
    # What is played to recover is no work to do while something hurts, for lips of a year, nor in
    # the weeks of a return that have no pedals.
    young = known.experience in (Experience.FIRST_WEEKS, Experience.FIRST_YEAR)
    returning = return_stage(known)
    without = returning is not None and returning[1].no_high
    waits = practised.recovers and (young or without or known.history.hurting() is not None)
    if waits or any(answer.left_out for answer in answers):
        return None
    values: dict[str, Value] = {}
    if practised.planned is not None:
        values |= practised.planned(known.writer, known.today.toordinal())
    values |= practised.in_first_weeks_set if beginner else {}
    on_path = None if down else known.on_path(family)
    is_lowered = is_varied = False
    if on_path is not None:
        step = step_today(on_path, family, values, known, lips)
        values |= step
        is_lowered = step != on_path.now.values
        if is_lowered or on_path.is_finished:
            other = varied(on_path, family, values, known, lips)
            is_varied, values = other != values, other
    for answer in answers:
        values |= answer.values
    values |= practised.coming_down if down else {}
    # What is breathed leaves no take to tell of.
    facts = (
        []
        if kind is Group.BREATH
        else [played_words(family.title, known.history.days_since(family.key, known.today))]
    )
    facts += [] if on_path is None else [on_path.words()]
    facts += [_VARIED] if is_varied else []
    facts += [answer.said for answer in answers if answer.said]
    reason = practised.coming_down_reason if down else practised.reason
    way = _way(family, known)
    if down:
        way = {"block_rest_s": 0.0}
    setting = Setting(family.key, values, way)
    return ChosenExercise(setting, reason or _REASONS[kind], tuple(facts), is_lowered=is_lowered)


def _ladder(family: Family, known: PlayerFacts, lips: Lips) -> ChosenExercise | None:
    """A ladder from a few rungs below the last secure note to a little above where it came to, and
    no higher than the day may go."""
    practised, writer = family.practised, known.writer
    if choice(known.approaches, "between-attempts") == "bottom" and not practised.whole_line:
        return None
    lowest = (
        next(parameter for parameter in family.parameters(writer) if parameter.is_note).least or 0
    )
    try:
        usual = task_of(family, writer, practised.alone)
    except ExerciseRefusedError:
        return None
    above = max(usual.score.pitches) - usual.given.whole("from_midi")
    secure, ceiling = known.range.comfortable, known.ceiling
    beyond = _BEYOND + (lips is Lips.FRESH)
    last = min(ceiling + beyond, limits_for(known, lips).climbing)
    top_first = min(secure - _BELOW + 1, last - 1)
    rungs = min(max(last - top_first + 1, 2), _MOST_RUNGS)
    start = max(top_first - above, round(lowest))
    name = writer.name
    facts = [
        _base_fact(known),
        played_words(family.title, known.history.days_since(family.key, known.today)),
    ]
    if known.highest_reached is not None:
        facts.insert(1, f"High work came to {name(known.highest_reached)} in the last two weeks.")
    for lower in range(4):
        values: dict[str, Value] = {**practised.alone, "from_midi": float(start - lower)}
        try:
            task_of(family, writer, values)
        except ExerciseRefusedError:
            continue
        way = {**_way(family, known), "follow": "ladder", "rungs": float(rungs + lower)}
        # Why it is there is said of how far it goes once it has its minutes and its limit.
        return ChosenExercise(Setting(family.key, values, way), "", tuple(facts))
    return None


def _base_fact(known: PlayerFacts) -> str:
    """What the note that a ladder builds on is taken from."""
    base, name = known.range.comfortable, known.writer.name
    if known.range.highest_secure == base:
        return f"{name(base)} is secure."
    if known.about.high_midi == base:
        return f"You gave {name(base)} as your highest comfortable note."
    if known.range.highest_held is not None and known.range.highest_held >= base:
        return f"{name(known.range.highest_held)} is the highest note you have held."
    return f"{name(base)} is what players of your experience usually reach; yours is not known yet."


def _way(family: Family, known: PlayerFacts) -> dict[str, Value]:
    """How attempts follow each other, as the player's approaches have it."""
    approaches, practised = known.approaches, family.practised
    way: dict[str, Value] = {}
    if family.group is Group.HIGH and (practised.climbs or practised.follow is AttemptOrder.GROW):
        way |= _AFTER_FAIL[choice(approaches, "after-failure")]
        if choice(approaches, "after-top") == "reach":
            way["reaches"] = "on"
        if choice(approaches, "between-attempts") == "breath":
            way |= {"probe": "off", "rest_s": 5.0}
    if family.group in (Group.LOW, Group.PEDALS, Group.HIGH):
        way["metronome"] = choice(approaches, "metronome")
    return way


_REASONS: dict[Group, str] = {
    Group.BREATH: "Full, silent breaths before the first note.",
    Group.BUZZ: "The lips find the note first, without the horn.",
    Group.LONG: "Low and easy first, each held as long as it is steady.",
    Group.SLURS: "Slow and clean before anything is fast.",
    Group.INTERVALS: "Wide intervals that feel close together.",
    Group.LOW: "The same sound and embouchure, a little lower.",
    Group.PEDALS: "Strength with your normal embouchure; rest as long as you play.",
    Group.HIGH: "A little above what is safe, and no more.",
    Group.MUSIC: "Finish with music: phrase it, don't reach for notes.",
    Group.WARM_DOWN: "Easy low notes to relax the lips.",
}
