"""Coming back: after a break, something that hurt, or braces, week by week."""

from orexis.core.coach.known import Known

RETURN_BELOW = (12, 9, 7, 4, 0)
"""Half steps under the top by weeks of a return."""
_BRACES = "braces"
_GRADED = "graded-return"


def return_week(known: Known) -> int | None:
    """Which week of a return it is, from 0; `None` where there is none, or where it is over."""
    weeks = [
        week
        for week in (_after_hurt(known), _after_break(known), _followed(known))
        if week is not None and week < len(RETURN_BELOW)
    ]
    return min(weeks, default=None)


def _after_hurt(known: Known) -> int | None:
    cleared = [one.cleared for one in known.history.hurts if one.cleared is not None]
    return (known.today - max(cleared)).days // 7 if cleared else None


def _after_break(known: Known) -> int | None:
    """As many of its weeks as the break had half-weeks, the last ones of it."""
    pause = known.pause
    if pause is None or pause.is_short:
        return None
    weeks = min(2 * pause.days_off // 7, len(RETURN_BELOW))
    return len(RETURN_BELOW) - weeks + (known.today - pause.back_on).days // 7


def _followed(known: Known) -> int | None:
    """The week of a return or of braces that a player follows."""
    found: list[int] = []
    for key in (_GRADED, _BRACES):
        place = known.going(key)
        following = next((one for one in known.followings if one.key == key), None)
        if place is None or place.done or following is None:
            continue
        found.append((known.today - following.since).days // 7)
    return min(found, default=None)
