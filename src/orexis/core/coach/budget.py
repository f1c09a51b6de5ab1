"""How much there is to be today, and what may be in it: what was asked, less what speaks against
it, each with its reason."""

from dataclasses import dataclass, field

from orexis.core.coach.about import Experience, Lips, Wish
from orexis.core.coach.approaches import choice
from orexis.core.coach.day import PlanRequest
from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.programmes import RETURN, Stage
from orexis.core.coach.returning import week_after_break, week_after_hurt
from orexis.core.coach.week import is_easy_day, why_rest_day
from orexis.core.exercises.family import WORKS, Group

_TAPER = {0: 0.4, 1: 0.5, 2: 0.7, 3: 0.85}
"""The share of the usual time by days before a concert."""
_AFTER_CONCERT = 0.5
_TIRED, _SORE_MIN = 0.7, 10.0
_QUIET_MOST_MIN = 20.0
_BEGINNER_MOST_MIN = 20.0
TWO_MAINS_FROM_MIN = 40
_FIRST_DAY_BACK, _NEXT_DAY_BACK = 0.5, 0.75
"""Shares of the usual time after a week without playing."""


@dataclass(slots=True)
class Budget:
    """The minutes there are, what may not be in them, and what is said of both."""

    minutes: float
    kinds: set[Group] = field(default_factory=lambda: set(Group))
    warnings: list[str] = field(default_factory=list)
    said: list[str] = field(default_factory=list)

    def without(self, *kinds: Group) -> None:
        """Leaves kinds out."""
        self.kinds -= set(kinds)

    def at_most(self, share: float, asked: PlanRequest) -> None:
        """Takes no more than a share of what was asked."""
        self.minutes = min(self.minutes, share * asked.minutes)


def budget_for(known: PlayerFacts, asked: PlanRequest) -> Budget:
    """The day's minutes and limits, with the reason for each."""
    budget = Budget(float(asked.minutes))
    _who(known, budget)
    _hurts(known, asked, budget)
    _coming(known, asked, budget)
    _returning(known, asked, budget)
    _after_a_break(known, asked, budget)
    _lips(known, asked, budget)
    _ceiling(known, budget)
    _week(known, budget)
    _approaches(known, budget)
    if Group.HIGH not in budget.kinds:
        # On a day for nothing high nothing is asked for from cold.
        budget.without(Group.COLD)
    if asked.quiet:
        budget.kinds &= {Group.BREATH, Group.BUZZ, Group.LONG, Group.SLURS, Group.INTERVALS}
        if budget.minutes > _QUIET_MOST_MIN:
            budget.minutes = _QUIET_MOST_MIN
            budget.said.append("Mouthpiece only, so 20 minutes is plenty.")
    return budget


def _who(known: PlayerFacts, budget: Budget) -> None:
    if known.experience is Experience.FIRST_WEEKS:
        budget.without(Group.INTERVALS, Group.LOW, Group.PEDALS, Group.HIGH)
        budget.minutes = min(budget.minutes, _BEGINNER_MOST_MIN)
    elif known.experience is Experience.FIRST_YEAR or known.is_first_day:
        budget.without(Group.PEDALS)


def _hurts(known: PlayerFacts, asked: PlanRequest, budget: Budget) -> None:
    """Nothing is played until the player clears it; then playing comes back by weeks."""
    hurting = known.history.hurting()
    if hurting is not None:
        budget.kinds &= {Group.BREATH}
        budget.warnings.append(
            f"Something hurt on {hurting.day:%d.%m.} Rest: breathe, listen, sing and finger the "
            "notes, but play nothing until you say on the Stand that nothing hurts any more. Pain "
            "that lasts goes to a doctor or dentist; what they say comes first."
        )
        return
    stage = _back_by_weeks(week_after_hurt(known), asked, budget)
    if stage is not None:
        budget.warnings.append(
            f"Back after something hurt: {stage.name} of your time this week, more next."
        )


def _back_by_weeks(week: int | None, asked: PlanRequest, budget: Budget) -> Stage | None:
    """Takes no more than a week of a return allows; the stage, `None` where that is all."""
    if week is None or RETURN[week].share == 1:
        return None
    _allow(RETURN[week], asked, budget)
    return RETURN[week]


def _allow(stage: Stage, asked: PlanRequest, budget: Budget) -> None:
    budget.at_most(stage.share, asked)
    if stage.no_high:
        budget.without(Group.HIGH, Group.PEDALS)


def _coming(known: PlayerFacts, asked: PlanRequest, budget: Budget) -> None:
    """Less before a concert, and an easy day after it."""
    concert = known.next_concert
    days = None if concert is None else (concert.day - known.today).days
    if concert is not None and days is not None and days in _TAPER:
        budget.at_most(_TAPER[days], asked)
        if days <= 1:
            budget.without(Group.HIGH, Group.PEDALS)
        words = concert.words or "Concert"
        when = ("today", "tomorrow", "in two days", "in three days")[days]
        budget.said.append(f"{words} is {when}, so there is less.")
    elif concert is not None and days is not None and days <= 14:
        budget.said.append(f"{concert.words or 'Concert'} is {days} days ahead.")
    last = known.last_concert
    if last is not None and (known.today - last.day).days == 1:
        budget.at_most(_AFTER_CONCERT, asked)
        budget.without(Group.HIGH, Group.PEDALS)
        budget.said.append(f"{last.words or 'The concert'} was yesterday: an easy day.")


def _returning(known: PlayerFacts, asked: PlanRequest, budget: Budget) -> None:
    """A graded return, braces: a share of the usual, and nothing high at first."""
    for key in ("graded-return", "braces"):
        place = known.going(key)
        if place is None or place.done:
            continue
        _allow(place.now, asked, budget)
        budget.said.append(f"{place.programme.title}: {place.now.name}.")


def _after_a_break(known: PlayerFacts, asked: PlanRequest, budget: Budget) -> None:
    """A week and more without playing: less at first; two weeks and more: back by weeks."""
    pause = known.pause
    if pause is None or known.going("graded-return") is not None:
        return
    if pause.is_short:
        days = pause.days_back(known.today)
        if days > 1:
            return
        budget.at_most(_NEXT_DAY_BACK if days else _FIRST_DAY_BACK, asked)
        if not days:
            budget.without(Group.HIGH, Group.PEDALS)
            budget.said.append(f"You did not play for {pause.days_off} days: a short, easy day.")
        return
    stage = _back_by_weeks(week_after_break(known), asked, budget)
    if stage is not None:
        budget.said.append(
            f"Back after {pause.days_off} days without playing: {stage.name} of your time this "
            "week."
        )


def _lips(known: PlayerFacts, asked: PlanRequest, budget: Budget) -> None:
    if asked.lips is Lips.TIRED:
        budget.at_most(_TIRED, asked)
        budget.without(Group.HIGH, Group.PEDALS)
        budget.said.append("Your lips are tired: shorter, and nothing high.")
    if asked.lips is Lips.SORE:
        budget.minutes = min(budget.minutes, _SORE_MIN)
        budget.kinds &= {Group.BREATH, Group.LONG, Group.WARM_DOWN}
        budget.warnings.append(
            "Sore lips: rest today, or ten easy minutes at most. Stop at once for pain. If it "
            "lasts, ask a doctor or dentist; what they say comes first."
        )


def _ceiling(known: PlayerFacts, budget: Budget) -> None:
    """No hard work after a day that ended at the ceiling."""
    day = known.at_ceiling_on
    if day is not None and budget.kinds & WORKS:
        budget.without(*WORKS)
        when = "Yesterday" if (known.today - day).days == 1 else f"{day:%A}"
        budget.said.append(f"{when} ended at the ceiling, so no hard work today.")


def _week(known: PlayerFacts, budget: Budget) -> None:
    """Hard and easy days take turns, and a rest day comes at least every seven."""
    if why := why_rest_day(known):
        budget.kinds &= {Group.BREATH}
        budget.said.append(why)
        return
    works = budget.kinds & WORKS
    if works and is_easy_day(known):
        budget.without(*WORKS)
        budget.said.append("Yesterday was a hard day, so today is an easy one.")


def _approaches(known: PlayerFacts, budget: Budget) -> None:
    if choice(known.approaches, "buzzing") == "diagnosis":
        budget.without(Group.BUZZ)
    if choice(known.approaches, "pedals") == "loosening":
        budget.without(Group.PEDALS)


WEIGHTS: dict[Wish, dict[Group, float]] = {
    Wish.UP: {Group.HIGH: 3.0, Group.PEDALS: 1.0, Group.LOW: 1.0},
    Wish.DOWN: {Group.LOW: 3.0, Group.PEDALS: 3.0, Group.HIGH: 1.0},
    Wish.FLEXIBILITY: {Group.HIGH: 1.0, Group.LOW: 1.5, Group.PEDALS: 1.0},
    Wish.CENTRING: {Group.HIGH: 1.0, Group.LOW: 1.5, Group.PEDALS: 1.0},
    Wish.ENDURANCE: {Group.HIGH: 1.5, Group.LOW: 1.0, Group.PEDALS: 1.5},
    Wish.FIT: {Group.HIGH: 1.0, Group.LOW: 1.0, Group.PEDALS: 1.0},
}
"""How soon each kind of main work comes round again, by what a player wants most."""
MORE_OF: dict[Wish, Group] = {
    Wish.UP: Group.HIGH,
    Wish.DOWN: Group.LOW,
    Wish.FLEXIBILITY: Group.SLURS,
    Wish.CENTRING: Group.LONG,
    Wish.ENDURANCE: Group.MUSIC,
}
