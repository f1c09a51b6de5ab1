"""The truth suite: faults the stand-in player makes, and whether they are heard.

Each kind is played at the sizes the normal standard cares about, over instruments, registers and
dynamics, beside the same music without it. Found: the share of faults that were told of. Invented:
the share of faultless notes or changes that were told of all the same. Wanted: at least 98 %
found and at most 1 % invented.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from bench.goals import at_least, at_most
from orexis.core.horn.instruments import INSTRUMENTS
from orexis.core.listening.analysis import Analysis, analyse
from orexis.core.listening.notes.events import Change as Kind
from orexis.core.listening.notes.measures import Shape
from orexis.standin.performance import perform
from orexis.standin.score import Change, Faults, Score, ScoreNote, Siren, Touched
from orexis.standin.tone import MOUTHPIECE, Timbre, timbre_of

RATE = 48_000
LEAST_FOUND, MOST_INVENTED = 98.0, 1.0
"""What is wanted of every kind, in percent."""

_LEVELS_DB = (-30.0, -20.0, -12.0)
_HORNS = ("cornet-bb", "tenor-horn-eb", "horn-f", "trombone-tenor", "euphonium-bb", "tuba-eb")


@dataclass(frozen=True, slots=True)
class Place:
    """Where something is played: a horn's voice, three slots of one length, and how loud."""

    timbre: Timbre
    low: int
    middle: int
    high: int
    level_db: float


def places() -> Iterator[Place]:
    """Every horn, in three registers, soft to loud."""
    for key in _HORNS:
        horn = INSTRUMENTS[key]
        timbre = timbre_of(horn.fundamental_midi)
        for partials in ((2, 3, 4), (3, 4, 6), (4, 6, 8)):
            low, middle, high = (
                horn.fundamental_midi + round(12 * np.log2(partial)) for partial in partials
            )
            for level_db in _LEVELS_DB:
                yield Place(timbre, low, middle, high, level_db)


def _one(place: Place, faults: Faults, seconds: float = 1.5) -> Score:
    return (ScoreNote(place.middle, seconds, place.level_db, faults=faults),)


def _two(place: Place, change: Change, faults: Faults | None = None) -> Score:
    return (
        ScoreNote(place.low, 0.9, place.level_db, faults=faults or Faults()),
        ScoreNote(place.high, 0.9, place.level_db, reached=change),
    )


Build = Callable[[Place], Score]
Told = Callable[[Analysis, Place], bool]


def _note(told: Callable[[Any], bool]) -> Told:
    """Told of the only note there should be."""

    def check(heard: Analysis, place: Place) -> bool:
        return len(heard.notes) == 1 and told(heard.notes[0])

    return check


def _change(told: Callable[[Any], bool]) -> Told:
    def check(heard: Analysis, place: Place) -> bool:
        return any(told(transition) for transition in heard.transitions)

    return check


def _scale(place: Place, seconds: float, change: Change) -> Score:
    steps = (0, 2, 4, 5, 7, 5, 4, 2, 0)
    return tuple(
        ScoreNote(place.low + step, seconds, place.level_db, reached=change) for step in steps
    )


_PEDAL_VIBRATO = Faults(vibrato_cents=25)


def _pedal(place: Place) -> int:
    """A pitch from 41 to 78 Hz."""
    return 28 + place.low % 12


def _trill(place: Place, rate_hz: float, low: int | None = None, interval: int = 2) -> Score:
    low = place.middle if low is None else low
    length = 1 / (2 * rate_hz)
    notes = [ScoreNote(low, 0.6, place.level_db)]
    move = Change("slur", seconds=0.015, dip_db=1.0)
    for turn in range(16):
        midi = low + (interval if turn % 2 == 0 else 0)
        notes.append(ScoreNote(midi, length - 0.015, place.level_db, reached=move))
    return tuple(notes)


def _dwelling(off: float, dwell_s: float) -> tuple[Build, Told]:
    """A note that comes out of silence off its pitch, stays there and slides in."""
    faults = Faults(scoop_cents=off, scoop_s=0.06, scoop_dwell_s=dwell_s)

    def told(note: Any) -> bool:
        return note.cracked_from_midi is None and (
            abs(note.measures.scoop_cents - off) < 0.3 * abs(off)
        )

    return (lambda place: _one(place, faults)), _note(told)


def _flipped(seconds: float) -> tuple[Build, Told]:
    """Going up, the slot above speaks first."""

    def build(place: Place) -> Score:
        change = Change("slur", flipped=Touched(place.high, seconds))
        return (
            ScoreNote(place.low, 0.9, place.level_db),
            ScoreNote(place.middle, 0.9, place.level_db, reached=change),
        )

    def told(heard: Analysis, place: Place) -> bool:
        notes = [note.midi for note in heard.notes]
        slots = [change.flipped and change.flipped.midi for change in heard.transitions]
        return notes == [place.low, place.middle] and slots == [place.high]

    return build, told


_SLUR = Change("slur")
CLEAN: tuple[tuple[str, Build], ...] = (
    ("one note", lambda place: _one(place, Faults())),
    ("a slur", lambda place: _two(place, _SLUR)),
    ("a slow slur", lambda place: _two(place, Change("slur", seconds=0.08, dip_db=6.0))),
    ("tongued", lambda place: _two(place, Change("tongued"))),
    ("a slurred scale", lambda place: _scale(place, 0.2, _SLUR)),
    ("a fast scale", lambda place: _scale(place, 0.11, Change("slur", seconds=0.02))),
    ("vibrato", lambda place: _one(place, Faults(vibrato_cents=22), 2.0)),
)

KINDS: dict[str, tuple[Build, Told]] = {
    "scoop 40": (
        lambda place: _one(place, Faults(scoop_cents=-40)),
        _note(lambda note: note.measures.scoop_cents < -20),
    ),
    "scoop 45, dwells 100 ms": _dwelling(-45, 0.1),
    "scoop 70, dwells 100 ms": _dwelling(-70, 0.1),
    "scoop 100, dwells 100 ms": _dwelling(-100, 0.1),
    "scoop 100, dwells 60 ms": _dwelling(-100, 0.06),
    "sag 30": (
        lambda place: _one(place, Faults(sag_cents=-30)),
        _note(lambda note: note.measures.sag_cents < -15),
    ),
    "late 150 ms": (
        lambda place: _one(place, Faults(late_s=0.15)),
        _note(lambda note: (note.measures.response_s or 0) >= 0.08),
    ),
    "crack 50 ms": (
        lambda place: _one(place, Faults(crack_semitones=place.low - place.middle, crack_s=0.05)),
        _note(lambda note: note.cracked_from_midi is not None),
    ),
    "touched 45 ms": (
        lambda place: _two(place, Change("slur", touched=(Touched(place.middle, 0.045),))),
        lambda heard, place: any(
            [slot.midi for slot in change.touched] == [place.middle] for change in heard.transitions
        ),
    ),
    "touched 35 ms": (
        lambda place: _two(place, Change("slur", touched=(Touched(place.middle, 0.035),))),
        lambda heard, place: any(
            [slot.midi for slot in change.touched] == [place.middle] for change in heard.transitions
        ),
    ),
    "flipped 35 ms": _flipped(0.035),
    "flipped 60 ms": _flipped(0.06),
    "flipped 100 ms": _flipped(0.1),
    "gap 80 ms": (
        lambda place: _two(place, Change("slur", gap_s=0.08)),
        _change(lambda change: 0.05 <= change.gap_s <= 0.13),
    ),
    "waning 5 dB": (
        lambda place: _two(place, _SLUR, Faults(waning_db=5)),
        _change(lambda change: change.waning_db >= 3),
    ),
    "wobble 14": (
        lambda place: _one(place, Faults(wobble_cents=14), 3.0),
        _note(lambda note: note.measures.spread_cents > 9),
    ),
    "vibrato 15": (
        lambda place: _one(place, Faults(vibrato_cents=15), 2.0),
        _note(
            lambda note: (
                note.measures.vibrato is not None and abs(note.measures.vibrato.rate_hz - 5.5) < 0.5
            )
        ),
    ),
    "airy −18 dB": (
        lambda place: _one(place, Faults(breath_db=-18)),
        _note(lambda note: note.harmonicity_db < 20),
    ),
    "off 20 cents": (
        lambda place: _one(place, Faults(centre_cents=20)),
        _note(lambda note: abs(note.measures.centre_cents) > 15),
    ),
    "crescendo 8 dB": (
        lambda place: (ScoreNote(place.middle, 2.0, place.level_db - 8, 8.0),),
        _note(lambda note: note.measures.shape is Shape.CRESCENDO),
    ),
    "soft after loud": (
        lambda place: (
            ScoreNote(place.middle, 2.5, place.level_db - 8, 8.0, faults=Faults(bites_db=16)),
        ),
        lambda heard, place: len(heard.notes) == 1 and heard.notes[0].end_s > 2.8,
    ),
    "octave down, strong second": (
        lambda place: (
            ScoreNote(place.low + 12, 0.9, place.level_db),
            ScoreNote(place.low, 1.4, place.level_db, reached=_SLUR, faults=Faults(second_db=16)),
        ),
        lambda heard, place: [note.midi for note in heard.notes] == [place.low + 12, place.low],
    ),
    "pedal, vibrato 25": (
        lambda place: (ScoreNote(_pedal(place), 2.0, place.level_db, faults=_PEDAL_VIBRATO),),
        _note(
            lambda note: (
                note.measures.vibrato is not None
                and abs(note.measures.vibrato.rate_hz - 5.5) < 0.5
                and abs(note.measures.vibrato.extent_cents - 25) < 6
            )
        ),
    ),
    "pedal, trill 4 Hz": (
        lambda place: _trill(place, 4.0, _pedal(place), 3),
        lambda heard, place: any(abs(trill.rate_hz - 4) < 0.4 for trill in heard.trills),
    ),
    "level change 14 dB": (
        lambda place: (ScoreNote(place.middle, 2.0, place.level_db - 14, 14.0),),
        _note(lambda note: abs(note.measures.level_change_db - 14) < 1.5),
    ),
    "tongued": (
        lambda place: _two(place, Change("tongued")),
        _change(lambda change: change.kind is Kind.TONGUED),
    ),
    "glide of a half step": (
        lambda place: (
            ScoreNote(place.middle, 1.0, place.level_db),
            ScoreNote(place.middle + 1, 1.0, place.level_db, reached=Change("glide", seconds=0.8)),
        ),
        lambda heard, place: (
            len(heard.notes) == 2
            and len(heard.glides) == 1
            and heard.transitions[0].kind is Kind.GLIDE
        ),
    ),
    "siren on the horn": (
        lambda place: (Siren(place.low, place.high + 5, 2, 1.5, place.level_db),),
        lambda heard, place: not heard.notes and len(heard.glides) == 1,
    ),
    "trill 5 Hz": (
        lambda place: _trill(place, 5.0),
        lambda heard, place: any(abs(trill.rate_hz - 5) < 0.4 for trill in heard.trills),
    ),
    "trill 10 Hz": (
        lambda place: _trill(place, 10.0),
        lambda heard, place: any(abs(trill.rate_hz - 10) < 0.8 for trill in heard.trills),
    ),
    "every note of a scale": (
        lambda place: _scale(place, 0.11, Change("slur", seconds=0.02)),
        lambda heard, place: (
            [note.midi - place.low for note in heard.notes] == [0, 2, 4, 5, 7, 5, 4, 2, 0]
        ),
    ),
}

NOT_INVENTED_IN: dict[str, tuple[str, ...]] = {
    "vibrato 15": ("vibrato",),
    "pedal, vibrato 25": ("vibrato",),
    "octave down, strong second": tuple(name for name, _ in CLEAN),
    "tongued": ("tongued",),
    "gap 80 ms": ("tongued",),
    "every note of a scale": tuple(name for name, _ in CLEAN),
}
_TAKES_ONE_NOTE = ("one note", "vibrato")


def main() -> None:
    """Prints the table, and which places each kind was missed in."""
    everywhere = list(places())
    clean = {
        name: [(analyse([played(build, place)], RATE), place) for place in everywhere]
        for name, build in CLEAN
    }
    print(f"Truth suite: {len(everywhere)} places (6 horns, 3 registers, 3 dynamics)")
    print(f"{'kind':<24}{'found %':>9}{'invented %':>12}   missed or invented in")
    for kind, (build, told) in KINDS.items():
        found = [told(analyse([played(build, place)], RATE), place) for place in everywhere]
        wrong: list[str] = []
        chances = 0
        for name, heard in clean.items():
            if name in NOT_INVENTED_IN.get(kind, ()):
                continue
            chances += len(heard)
            wrong += [name for analysis, place in heard if told(analysis, place)]
        missed = [_name(place) for place, ok in zip(everywhere, found, strict=True) if not ok]
        share = f"{100 * len(wrong) / chances:.1f}" if chances else "—"
        where = ", ".join(missed[:4] + sorted(set(wrong)))
        found_percent = 100 * float(np.mean(found))
        print(f"{kind:<24}{found_percent:>9.1f}{share:>12}   {where}")
        at_least(f"{kind}, found %", found_percent, LEAST_FOUND)
        at_most(f"{kind}, invented %", 100 * len(wrong) / max(chances, 1), MOST_INVENTED)
    _buzz()


def _buzz() -> None:
    """Sirens and held buzzes on the mouthpiece alone."""
    sirens = [
        analyse(
            [perform((Siren(low, low + span, 2, seconds, level_db),), MOUTHPIECE, RATE).samples],
            RATE,
        )
        for low in (45, 53, 60)
        for span in (7, 12, 24)
        for seconds in (1.0, 2.5)
        for level_db in (-30.0, -18.0)
    ]
    good = [
        not analysis.notes and len(analysis.glides) == 1 and analysis.glides[0].passes == 2
        for analysis in sirens
    ]
    print(f"{'sirens on the mouthpiece':<24}{100 * np.mean(good):>9.1f}{'—':>12}")
    at_least("sirens on the mouthpiece, found %", 100 * float(np.mean(good)), LEAST_FOUND)


def played(build: Build, place: Place) -> np.ndarray:
    """The samples of a score at a place."""
    return perform(build(place), place.timbre, RATE, seed=place.middle).samples


def _name(place: Place) -> str:
    return f"{place.low}-{place.middle}-{place.high} at {place.level_db:g} dB"
