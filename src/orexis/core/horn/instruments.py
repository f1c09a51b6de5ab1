"""The instruments Orexis knows: open fundamental, readings, range and how lengths are made."""

from dataclasses import dataclass

from orexis.core.horn.notation import Clef, Notation, NoteView, Reading
from orexis.core.horn.tube import Length, slide_lengths, valve_lengths


@dataclass(frozen=True, slots=True)
class Instrument:
    """One kind of brass instrument.

    `fundamental_midi` is the nominal first partial of the open horn; `lowest_midi` and
    `highest_midi` bound the notes offered for practice (sounding).
    """

    key: str
    name: str
    fundamental_midi: int
    readings: tuple[Reading, ...]
    lengths: tuple[Length, ...]
    lowest_midi: int
    highest_midi: int
    start_midi: int

    def reading(self, clef: Clef) -> Reading:
        """The reading in a clef. Raises `ValueError` when parts are not written so."""
        for reading in self.readings:
            if reading.clef is clef:
                return reading
        raise ValueError(f"Parts for {self.name} are not written in {clef.value} clef.")

    def notation(self, view: NoteView, clef: Clef) -> Notation:
        """How a player who reads this clef names notes. Raises `ValueError` as `reading`."""
        return Notation(reading=self.reading(clef), view=view)


def _treble(shift_semitones: int) -> Reading:
    return Reading(Clef.TREBLE, shift_semitones)


_BASS_CONCERT = Reading(Clef.BASS, 0)
_E_FLAT_2, _B_FLAT_2, _B_FLAT_1, _E_FLAT_1 = 39, 46, 34, 27

_CATALOGUE = (
    Instrument(
        key="tenor-horn-eb",
        name="Tenor horn in E♭",
        fundamental_midi=_E_FLAT_2,
        readings=(_treble(9),),
        lengths=valve_lengths(3),
        lowest_midi=45,
        highest_midi=75,
        start_midi=58,
    ),
    Instrument(
        key="cornet-bb",
        name="Cornet in B♭",
        fundamental_midi=_B_FLAT_2,
        readings=(_treble(2),),
        lengths=valve_lengths(3),
        lowest_midi=52,
        highest_midi=82,
        start_midi=65,
    ),
    Instrument(
        key="trombone-bass",
        name="Bass trombone in B♭, F and G♭",
        fundamental_midi=_B_FLAT_1,
        readings=(_BASS_CONCERT, _treble(14)),
        lengths=slide_lengths(),
        lowest_midi=26,
        highest_midi=70,
        start_midi=46,
    ),
    Instrument(
        key="tuba-eb-4v-comp",
        name="Tuba in E♭, four valves, compensating",
        fundamental_midi=_E_FLAT_1,
        readings=(_BASS_CONCERT, _treble(21)),
        lengths=valve_lengths(4, compensating=True),
        lowest_midi=19,
        highest_midi=63,
        start_midi=39,
    ),
)

INSTRUMENTS = {instrument.key: instrument for instrument in _CATALOGUE}
