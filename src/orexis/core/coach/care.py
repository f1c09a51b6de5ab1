"""What waits after something hurt."""

from datetime import date

from orexis.core.exercises.book import find_family
from orexis.core.exercises.family import WORKS


def held_back(hurt_on: date | None, family_key: str) -> str:
    """Why an exercise waits, "" where it does not: high and pedal work, from the day something hurt
    until the player clears it."""
    if hurt_on is None or find_family(family_key).group not in WORKS:
        return ""
    return (
        f"Something hurt on {hurt_on:%d.%m.}, so high and pedal work waits. "
        "Say on the Stand that nothing hurts any more when that is so."
    )
