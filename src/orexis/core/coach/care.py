"""What waits after something hurt."""

from datetime import date

from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import Group


def held_back(hurt_on: date | None, family_key: str) -> str:
    """Why an exercise waits, "" where it does not: all that is played, from the day something hurt
    until the player clears it. Breathing may go on."""
    if hurt_on is None or find_family(family_key).group is Group.BREATH:
        return ""
    return (
        f"Something hurt on {hurt_on:%d.%m.}, so playing waits. "
        "Say on the Stand that nothing hurts any more when that is so."
    )
