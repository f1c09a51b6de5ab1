"""An exercise that the coach has chosen, and how long ago one was played, in words."""

from dataclasses import dataclass

from orexis.core.counting import days_ago_words
from orexis.core.session.building import Setting


@dataclass(frozen=True, slots=True)
class ChosenExercise:
    """An exercise, one sentence of why ("" for a ladder, which says how far it goes), the facts
    behind it, and what the player's approaches say of how to play it ("" for nothing). `is_lowered`
    tells that the day's limit kept it lower than it would be, and `title` is what the player calls
    it ("": as its family is called)."""

    setting: Setting
    reason: str
    facts: tuple[str, ...]
    says: str = ""
    is_lowered: bool = False
    title: str = ""


def played_words(title: str, days_ago: int | None) -> str:
    """How many days ago an exercise was played (`None`: never), as a fact."""
    if days_ago is None:
        return f"{title} has not been played yet."
    return f"{title} was {'last ' if days_ago > 1 else ''}played {days_ago_words(days_ago)}."
