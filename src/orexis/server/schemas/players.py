"""What the API says of players and instruments, and what it accepts of them."""

from datetime import date
from typing import Annotated

from pydantic import BaseModel, Field

from orexis.core.horn.instruments import Instrument
from orexis.core.horn.naming import Naming, NoteNames, Octaves
from orexis.core.horn.notation import Clef, NoteView
from orexis.core.horn.pitch import A4_HIGHEST_HZ, A4_HZ, A4_LOWEST_HZ
from orexis.core.judging.standard import Standard
from orexis.practice.leaving import back_until
from orexis.server.schemas.base import Body, Number, Text
from orexis.store.models import Player
from orexis.store.players import LONGEST_NAME, PlayerDetails, instrument_of


class InstrumentOut(BaseModel):
    """An instrument to choose."""

    key: str
    name: str
    family: str
    clefs: list[Clef]

    @classmethod
    def of(cls, instrument: Instrument) -> "InstrumentOut":
        """The instrument as the API gives it."""
        return cls(
            key=instrument.key,
            name=instrument.name,
            family=instrument.family,
            clefs=[reading.clef for reading in instrument.readings],
        )


class PlayerIn(Body):
    """What a player says of themselves."""

    name: Annotated[Text, Field(min_length=1, max_length=LONGEST_NAME)]
    instrument_key: Annotated[Text, Field(max_length=40)]
    view: NoteView = NoteView.WRITTEN
    clef: Clef = Clef.TREBLE
    a4_hz: Annotated[Number, Field(ge=A4_LOWEST_HZ, le=A4_HIGHEST_HZ)] = A4_HZ
    standard: Standard = Standard.NORMAL
    note_names: NoteNames = NoteNames.ENGLISH
    octaves: Octaves = Octaves.NUMBERS

    def details(self) -> PlayerDetails:
        """The same for the store."""
        return PlayerDetails(
            self.name,
            self.instrument_key,
            self.view,
            self.clef,
            self.a4_hz,
            self.standard,
            Naming(self.note_names, self.octaves),
        )


class PlayerOut(BaseModel):
    """A player, with what the views need to show them; `words` is how they read and are
    judged."""

    id: int
    name: str
    instrument_key: str
    view: NoteView
    clef: Clef
    a4_hz: float
    standard: Standard
    note_names: NoteNames
    octaves: Octaves
    instrument_name: str
    start_midi: int
    words: str

    @classmethod
    def of(cls, player: Player) -> "PlayerOut":
        """The player as the API gives them."""
        instrument = instrument_of(player)
        return cls(
            id=player.id,
            name=player.name,
            instrument_key=player.instrument_key,
            view=NoteView(player.view),
            clef=Clef(player.clef),
            a4_hz=player.a4_hz,
            standard=Standard(player.standard),
            note_names=NoteNames(player.note_names),
            octaves=Octaves(player.octaves),
            instrument_name=instrument.name,
            start_midi=instrument.start_midi,
            words=(
                f"{player.view}, {player.clef} clef, A4 {player.a4_hz:g} Hz, "
                f"standard {player.standard}"
            ),
        )


class StandardIn(Body):
    """The standard a player is to be held to."""

    standard: Standard


class HoldingOut(BaseModel):
    """What goes with a player who is deleted, in words, and for how many days it can be taken
    back."""

    words: str
    days: int


class DeletedPlayerOut(BaseModel):
    """A player who was deleted and can be brought back up to a day."""

    id: int
    name: str
    until: date

    @classmethod
    def of(cls, player: Player) -> "DeletedPlayerOut | None":
        """A deleted player as the API gives them."""
        until = back_until(player)
        return None if until is None else cls(id=player.id, name=player.name, until=until)
