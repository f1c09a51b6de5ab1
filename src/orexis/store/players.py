"""Players: list, add, change."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from orexis.core.horn.instruments import INSTRUMENTS, Instrument
from orexis.core.horn.naming import USUAL_NAMING, Naming, NoteNames, Octaves
from orexis.core.horn.notation import Clef, Notation, NoteView
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.judging.standard import Standard
from orexis.store.models import Player

LONGEST_NAME = 60


class PlayerRefusedError(ValueError):
    """A player cannot be kept as given; the message says what to change."""


@dataclass(frozen=True, slots=True)
class PlayerDetails:
    """What a player says of themselves."""

    name: str
    instrument_key: str
    view: NoteView
    clef: Clef
    a4_hz: float = A4_HZ
    standard: Standard = Standard.NORMAL
    naming: Naming = USUAL_NAMING

    def checked(self) -> "PlayerDetails":
        """The same, tidied. Raises `PlayerRefusedError` when something cannot be."""
        name = " ".join(self.name.split())
        if not name:
            raise PlayerRefusedError("Give the player a name.")
        if len(name) > LONGEST_NAME:
            raise PlayerRefusedError(f"Use at most {LONGEST_NAME} letters for the name.")
        instrument = INSTRUMENTS.get(self.instrument_key)
        if instrument is None:
            raise PlayerRefusedError("Choose one of the instruments in the list.")
        if not A4_LOWEST_HZ <= self.a4_hz <= A4_HIGHEST_HZ:
            raise PlayerRefusedError(f"Set A4 between {A4_LOWEST_HZ:g} and {A4_HIGHEST_HZ:g} Hz.")
        try:
            instrument.reading(self.clef)
        except ValueError as error:
            raise PlayerRefusedError(f"{error} Choose another clef.") from error
        return replace(self, name=name)


def instrument_of(player: Player) -> Instrument:
    """The player's instrument."""
    return INSTRUMENTS[player.instrument_key]


def notation_of(player: Player) -> Notation:
    """How the player names notes."""
    notation = instrument_of(player).notation(NoteView(player.view), Clef(player.clef))
    return replace(notation, naming=naming_of(player))


def naming_of(player: Player) -> Naming:
    """What the player calls notes."""
    return Naming(NoteNames(player.note_names), Octaves(player.octaves))


def all_players(session: Session) -> list[Player]:
    """All players but those who were deleted, first made first."""
    query = select(Player).where(Player.deleted_at.is_(None)).order_by(Player.id)
    return list(session.scalars(query))


def find_player(session: Session, player_id: int) -> Player | None:
    """A player who has not been deleted."""
    player = session.get(Player, player_id)
    return None if player is None or player.deleted_at is not None else player


def add_player(session: Session, details: PlayerDetails) -> Player:
    """Adds a player. Raises `PlayerRefusedError`."""
    details = details.checked()
    player = Player(
        name=details.name,
        instrument_key=details.instrument_key,
        view=details.view,
        clef=details.clef,
        a4_hz=details.a4_hz,
        standard=details.standard,
        note_names=details.naming.names,
        octaves=details.naming.octaves,
        created_at=datetime.now(UTC),
    )
    session.add(player)
    session.flush()
    return player


def change_player(player: Player, details: PlayerDetails) -> None:
    """Replaces what is kept of a player. Raises `PlayerRefusedError`; nothing changes then."""
    details = details.checked()
    player.name = details.name
    player.instrument_key = details.instrument_key
    player.view = details.view
    player.clef = details.clef
    player.a4_hz = details.a4_hz
    player.standard = details.standard
    player.note_names = details.naming.names
    player.octaves = details.naming.octaves
