"""A player who leaves: what goes with them, in words, and until when it can be taken back."""

from datetime import date

from orexis.core.counting import counted
from orexis.store.kept import KEPT_AFTER_DELETION
from orexis.store.leaving import Holding
from orexis.store.models import Player


def holding_words(holding: Holding) -> str:
    """What a player has kept: "812 takes, 45 of them with their sound, 42 sessions"."""
    parts: list[str] = []
    if holding.takes:
        with_sound = f", {holding.sounds} of them with their sound" if holding.sounds else ""
        parts.append(counted(holding.takes, "take") + with_sound)
    for number, thing in (
        (holding.sessions, "session"),
        (holding.recordings, "recording"),
        (holding.own_exercises, "exercise"),
    ):
        if number:
            parts.append(counted(number, thing))
    return ", ".join(parts) or "nothing that was played"


def back_until(player: Player) -> date | None:
    """The last day on which a deleted player can be brought back."""
    if player.deleted_at is None:
        return None
    return (player.deleted_at + KEPT_AFTER_DELETION).astimezone().date()
