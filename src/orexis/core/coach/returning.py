"""Coming back after something hurt, a break or with braces: which week of it it is, from 0."""

from orexis.core.coach.known import PlayerFacts
from orexis.core.coach.programmes import RETURN, Stage

_FOLLOWED = ("graded-return", "braces")


def return_stage(known: PlayerFacts) -> tuple[int, Stage] | None:
    """The earliest week of a return that a player is in, whatever it is from, and its stage; `None`
    where there is none, or where it is over."""
    weeks = (week_after_hurt(known), week_after_break(known), _week_followed(known))
    week = min((week for week in weeks if week is not None), default=None)
    return None if week is None else (week, RETURN[week])


def week_after_hurt(known: PlayerFacts) -> int | None:
    """The week since the player last said that nothing hurts any more."""
    cleared = [hurt.cleared for hurt in known.history.hurts if hurt.cleared is not None]
    return _in_a_return((known.today - max(cleared)).days // 7) if cleared else None


def week_after_break(known: PlayerFacts) -> int | None:
    """The week of a return after a break of two weeks and more: it takes as many of the return's
    weeks as the break had half-weeks, the last ones of it."""
    pause = known.pause
    if pause is None or pause.is_short:
        return None
    weeks = min(2 * pause.days_off // 7, len(RETURN))
    return _in_a_return(len(RETURN) - weeks + pause.days_back(known.today) // 7)


def _week_followed(known: PlayerFacts) -> int | None:
    """The week of a return or of braces that a player follows."""
    weeks = [
        (known.today - following.since).days // 7
        for following, place in zip(known.followings, known.places, strict=True)
        if following.key in _FOLLOWED and following.paused is None and not place.done
    ]
    return _in_a_return(min(weeks)) if weeks else None


def _in_a_return(week: int) -> int | None:
    return week if week < len(RETURN) else None
