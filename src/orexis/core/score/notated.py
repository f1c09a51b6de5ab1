"""A score as it is written down: notes and rests that fill the time, marks standing on them.

A glide is a line from one note to the next, and the time it takes is the first one's. A bend is a
mark on its note, which lasts as much longer. A line that ends on no note of its own gets one.
"""

from dataclasses import dataclass, replace
from fractions import Fraction

from orexis.core.score.steps import (
    Articulation,
    Bend,
    Breath,
    BreathKind,
    Dynamic,
    Glide,
    Play,
    PlayedOn,
    Rest,
    Role,
    Score,
)

_END_OF_A_LINE = Fraction(1)


@dataclass(frozen=True, slots=True)
class Notated:
    """A note or (without `midi`) a rest, and the marks on it. `step` is the place of the step it
    stands for in its score."""

    step: int
    midi: int | None
    beats: Fraction
    slurred: bool = False
    articulation: Articulation = Articulation.TONGUED
    glides_on: bool = False
    on: PlayedOn = PlayedOn.HORN
    role: Role = Role.ASKED
    length_name: str | None = None
    partial: int | None = None
    dynamic: Dynamic = Dynamic.MF
    grows_to: Dynamic | None = None
    as_long_as_good: bool = False
    breath_after: BreathKind | None = None
    words: tuple[str, ...] = ()


def notated(score: Score) -> list[Notated]:
    """A score's notes and rests, in order; they take as long as its steps."""
    found: list[Notated] = []
    steps = score.steps
    for place, step in enumerate(steps):
        match step:
            case Play():
                found.append(_note(place, step, _is_glide(steps[place - 1]) if place else False))
            case Rest():
                words = (step.words,) if step.words else ()
                found.append(Notated(place, None, step.beats, words=words))
            case Glide():
                _glide(found, place, step, steps[place + 1] if place + 1 < len(steps) else None)
            case Bend():
                found[-1] = _bent(found[-1], step)
            case Breath():
                if found:
                    found[-1] = replace(found[-1], breath_after=step.kind)
    return found


def _is_glide(step: object) -> bool:
    return isinstance(step, Glide)


def _note(place: int, step: Play, glided_to: bool) -> Notated:
    return Notated(
        place,
        step.midi,
        step.beats,
        slurred=step.articulation is Articulation.SLURRED and not glided_to,
        articulation=step.articulation,
        on=step.on,
        role=step.role,
        length_name=step.length_name,
        partial=step.partial,
        dynamic=step.dynamic,
        grows_to=step.grows_to,
        as_long_as_good=step.as_long_as_good,
    )


def _glide(found: list[Notated], place: int, step: Glide, after: object) -> None:
    """Puts a line from the last note to where it goes."""
    start = found[-1]
    if isinstance(after, Play):
        found[-1] = replace(start, beats=start.beats + step.beats, glides_on=True)
        return
    last = not isinstance(after, Glide)
    end = min(_END_OF_A_LINE, step.beats / 2) if last else Fraction(0)
    found[-1] = replace(start, beats=start.beats + step.beats - end, glides_on=True)
    found.append(
        Notated(
            place,
            step.to_midi,
            end,
            on=step.on,
            articulation=Articulation.SLURRED,
            dynamic=start.dynamic,
        )
    )


def _bent(note: Notated, step: Bend) -> Notated:
    away = f"{abs(step.cents):g} cents" if step.cents % 100 else _half_steps(abs(step.cents))
    words = f"bend {'up' if step.cents > 0 else 'down'} {away} and back"
    return replace(note, beats=note.beats + step.beats, words=(*note.words, words))


def _half_steps(cents: float) -> str:
    return "a half step" if cents == 100 else f"{cents / 100:g} half steps"
