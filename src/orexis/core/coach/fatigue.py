"""Enough for today: what the sound of a session says of the lips, before the player would.

The last notes of a session are held against its first ones, and against what is usual with this
player: each against those of its own pitch or the nearest within a third, on the same side of the
mouthpiece. Notes that hold less of the length that was asked, spread wider, speak later or do not
speak are signs. A sign has to be larger than what the notes scatter by themselves. One sign may be
chance; two end hard work, and three the day.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import log, sqrt
from statistics import fmean, median

from orexis.core.coach.history import NoteRow

_FIRST, _LATE = 12, 10
"""How many notes that spoke at first, and how many of the last, are held against each other."""
_LEAST, _LEAST_FIRST, _USUAL_FROM = 6, 3, 3
_A_THIRD = 4
_HOLDS_LESS = 0.12
_SPREADS, _LATER = 1.4, 1.4
_LATER_S = 0.01
_SILENT = 0.3
_SURE = 2.5
"""How many standard errors a difference has to be."""
_SIGNS = 2
_SPREAD_CENTS = 3.0
"""Spreads below this are as good as none, and one of them is not held to be wider than another."""


def signs_of_tiring(notes: Sequence[NoteRow], usual: Sequence[NoteRow] = ()) -> tuple[str, ...]:
    """The signs in a session's notes so far, in order of playing; none while there are fewer than
    two. `usual` is what the player's notes are mostly like (`usual_notes`)."""
    notes = [row for row in notes if not row.is_between]
    late = notes[-_LATE:]
    if len(late) < _LEAST:
        return ()
    known = ((_first(notes), "{} at first"), (tuple(usual), "usually {}"))
    references = [_reference(rows, said) for rows, said in known if len(rows) >= _LEAST_FIRST]
    found = [
        next((sign for reference in references if (sign := tell(reference, late))), "")
        for tell in (_holds, _spread, _later, _silent)
    ]
    signs = tuple(sign for sign in found if sign)
    return signs if len(signs) >= _SIGNS else ()


def usual_notes(notes: Iterable[NoteRow]) -> tuple[NoteRow, ...]:
    """What a player's notes are mostly like, a row for each pitch that spoke a few times."""
    heard: dict[tuple[bool, int], list[NoteRow]] = {}
    for note in notes:
        if note.spoke and note.spread_cents is not None:
            heard.setdefault((note.on_horn, note.asked_midi), []).append(note)
    return tuple(
        NoteRow(
            midi,
            on_horn,
            True,
            midi,
            sounded_s=1.0,
            held_s=fmean(_held(row) or 0.0 for row in rows),
            spread_cents=_mean(row.spread_cents for row in rows),
            rise_s=_mean(row.rise_s for row in rows),
            asked_s=1.0,
        )
        for (on_horn, midi), rows in heard.items()
        if len(rows) >= _USUAL_FROM
    )


def _mean(values: Iterable[float | None]) -> float | None:
    there = [value for value in values if value is not None]
    return fmean(there) if there else None


def _first(notes: Sequence[NoteRow]) -> tuple[NoteRow, ...]:
    """The first notes of a session that spoke, on the mouthpiece and on the horn, without the last
    ones."""
    there = [row for row in notes[:-_LATE] if row.spoke]
    on_horn = [row for row in there if row.on_horn][:_FIRST]
    alone = [row for row in there if not row.on_horn][:_FIRST]
    return (*on_horn, *alone)


Measure = Callable[[NoteRow], float | None]


@dataclass(frozen=True, slots=True)
class _Sample:
    """How many values there are, their mean, and the square of its standard error."""

    count: int
    mean: float
    error_squared: float

    @classmethod
    def of(cls, values: Sequence[float]) -> "_Sample":
        count = len(values)
        if count < 2:
            return cls(count, sum(values), 0.0)
        mean = sum(values) / count
        squares = sum((value - mean) ** 2 for value in values)
        return cls(count, mean, squares / (count - 1) / count)


class _Reference:
    """Notes that others are held against, by pitch, and what each measure scatters among them;
    `said` puts a number of theirs into words."""

    def __init__(self, rows: tuple[NoteRow, ...], said: str) -> None:
        self.rows, self.said = rows, said
        self._by_pitch: dict[tuple[bool, int], list[NoteRow]] = {}
        for row in rows:
            self._by_pitch.setdefault((row.on_horn, row.asked_midi), []).append(row)
        self._usual: dict[tuple[bool, int, Measure], float | None] = {}
        self._scatter = {
            measure: _Sample.of(_differences(rows, measure, self._among_others))
            for measure in _MEASURES
        }

    def has(self, note: NoteRow) -> bool:
        """Whether there is anything to hold a later note against."""
        return bool(self._alike(note))

    def told(self, late: Sequence[NoteRow], measure: Measure) -> "_Told | None":
        """What becomes of a measure in later notes; `None` where too few notes have it."""
        scatter = self._scatter[measure]
        differences = _Sample.of(_differences(late, measure, self._usual_at))
        if differences.count < _LEAST or scatter.count < _LEAST_FIRST:
            return None
        error = sqrt(differences.error_squared + scatter.error_squared)
        return _Told(differences.mean - scatter.mean, error)

    def _among_others(self, note: NoteRow, measure: Measure) -> float | None:
        """What is usual of a measure with the notes that a note is held against."""
        return _middle_of(self._alike(note), measure)

    def _usual_at(self, note: NoteRow, measure: Measure) -> float | None:
        """The same for a later note, which is none of these: it goes by the pitch alone."""
        key = note.on_horn, note.asked_midi, measure
        if key not in self._usual:
            self._usual[key] = self._among_others(note, measure)
        return self._usual[key]

    def _alike(self, note: NoteRow) -> list[NoteRow]:
        """The others of its pitch, else of the nearest within a third."""
        for apart in range(_A_THIRD + 1):
            found = [
                row
                for midi in {note.asked_midi - apart, note.asked_midi + apart}
                for row in self._by_pitch.get((note.on_horn, midi), ())
                if row is not note
            ]
            if found:
                return found
        return []


@lru_cache(maxsize=32)
def _reference(rows: tuple[NoteRow, ...], said: str) -> _Reference:
    return _Reference(rows, said)


@dataclass(frozen=True, slots=True)
class _Told:
    """By how much late notes differ from those they are held against, and the standard error of
    that."""

    differs: float
    error: float

    def is_sure(self, by: float) -> bool:
        """Whether they differ by so much, and not by chance."""
        return self.differs >= max(by, _SURE * self.error)


def _held(note: NoteRow) -> float | None:
    """What part of the length that was asked a note holds, or of what sounded where nothing says
    what was asked."""
    asked_s = note.asked_s or note.sounded_s
    return min(note.held_s / asked_s, 1.0) if note.spoke and asked_s else None


def _given_up(note: NoteRow) -> float | None:
    held = _held(note)
    return None if held is None else 1 - held


def _log_spread(note: NoteRow) -> float | None:
    return None if note.spread_cents is None else log(max(note.spread_cents, _SPREAD_CENTS))


def _log_rise(note: NoteRow) -> float | None:
    return None if note.rise_s is None else log(max(note.rise_s, _LATER_S))


_MEASURES: tuple[Measure, ...] = (_given_up, _log_spread, _log_rise)


def _holds(first: _Reference, late: Sequence[NoteRow]) -> str:
    told = first.told(late, _given_up)
    if told is None or not told.is_sure(_HOLDS_LESS):
        return ""
    now, before = _middle(late, _held), _middle(first.rows, _held)
    held = first.said.format(f"{100 * before:.0f} %")
    return f"notes hold for {100 * now:.0f} % of their length, {held}"


def _spread(first: _Reference, late: Sequence[NoteRow]) -> str:
    told = first.told(late, _log_spread)
    if told is None or not told.is_sure(log(_SPREADS)):
        return ""
    now, before = (_middle(rows, lambda row: row.spread_cents) for rows in (late, first.rows))
    return f"notes spread over {now:.0f} cents, {first.said.format(f'{before:.0f}')}"


def _later(first: _Reference, late: Sequence[NoteRow]) -> str:
    told = first.told(late, _log_rise)
    if told is None or not told.is_sure(log(_LATER)):
        return ""
    now, before = (_middle(rows, lambda row: row.rise_s) for rows in (late, first.rows))
    return f"notes take {1000 * now:.0f} ms to speak, {first.said.format(f'{1000 * before:.0f}')}"


def _silent(first: _Reference, late: Sequence[NoteRow]) -> str:
    """Notes that did not speak; those they are held against all did."""
    known = [row for row in late if first.has(row)]
    silent = sum(not row.spoke for row in known)
    if len(known) < _LEAST or silent < _SILENT * len(known):
        return ""
    return f"{silent} of the last {len(known)} notes did not speak"


def _differences(
    notes: Sequence[NoteRow],
    measure: Measure,
    usual: Callable[[NoteRow, Measure], float | None],
) -> list[float]:
    """By how much notes differ in a measure from what is usual, where both are known."""
    found: list[float] = []
    for note in notes:
        value, expected = measure(note), usual(note, measure)
        if value is not None and expected is not None:
            found.append(value - expected)
    return found


def _middle(notes: Sequence[NoteRow], measure: Measure) -> float:
    found = _middle_of(notes, measure)
    assert found is not None
    return found


def _middle_of(notes: Sequence[NoteRow], measure: Measure) -> float | None:
    """The median of a measure; `None` where no note has it."""
    values = [value for row in notes if (value := measure(row)) is not None]
    return median(values) if values else None
