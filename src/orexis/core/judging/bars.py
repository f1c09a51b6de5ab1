"""A piece bar by bar, as it was played freely: what was missed, wrong, too much, out of tune, early
or late in each bar, and which bars to take by themselves."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from statistics import fmean

from orexis.core.counting import counted, listed
from orexis.core.exercises.own import line_text
from orexis.core.judging.attempts import StepOutcome
from orexis.core.judging.following import FollowedNote, FollowedPart, WrittenNote
from orexis.core.judging.words import Name
from orexis.core.score.steps import Play, Score, Step, beats_of

_OFF_CENTS, _OFF_MS = 20.0, 100.0
"""From so far off on average a bar is out of tune, or not in the player's own time."""
_SLOWER = 0.75
_TOGETHER = 2
"""So many bars that went wrong are taken together where they follow each other."""


@dataclass(frozen=True, slots=True)
class BarPlayed:
    """A bar (from 1) and how it went: its first step in the score, what was wrong with it in words
    ("": nothing)."""

    bar: int
    first_step: int
    wrong: str


@dataclass(frozen=True, slots=True)
class Passage:
    """Bars to be practised by themselves: from the first to the last of them, their notes as a line
    of one's own, a slower tempo (0: free) and the beats in a bar."""

    first_bar: int
    last_bar: int
    line: str
    bpm: int
    beats_in_bar: int


@dataclass(frozen=True, slots=True)
class PiecePlayed:
    """A piece as it was played once: a sentence, its bars, how each note went (by step), and what
    to practise by itself."""

    headline: str
    bars: tuple[BarPlayed, ...]
    outcomes: dict[int, StepOutcome]
    passages: tuple[Passage, ...]


def written_in(score: Score) -> list[WrittenNote]:
    """The notes of one repetition of a score, with their bars and beats."""
    return [note for _, note in _written(score)]


def piece_of(score: Score, followed: FollowedPart, name: Name) -> PiecePlayed:
    """A piece bar by bar; `followed` is `written_in(score)` as it was played, `name` how the player
    calls notes."""
    steps = [step for step, _ in _written(score)]
    by_bar: dict[int, list[FollowedNote]] = {}
    first_steps: dict[int, int] = {}
    for step, note in zip(steps, followed.notes, strict=True):
        by_bar.setdefault(note.written.bar, []).append(note)
        first_steps.setdefault(note.written.bar, step)
    bars = tuple(
        BarPlayed(bar, first_steps[bar], _wrong(bar, notes, followed, name))
        for bar, notes in by_bar.items()
    )
    outcomes = {step: _outcome(note) for step, note in zip(steps, followed.notes, strict=True)}
    return PiecePlayed(_headline(bars, followed), bars, outcomes, _passages(score, bars, followed))


def _outcome(note: FollowedNote) -> StepOutcome:
    if note.start_s is None:
        return StepOutcome.SILENT
    return StepOutcome.MET if note.heard_midi is None else StepOutcome.MISSED


def _written(score: Score) -> list[tuple[int, WrittenNote]]:
    found: list[tuple[int, WrittenNote]] = []
    at = Fraction(0)
    for place, step in enumerate(score.steps):
        length = beats_of(step)
        if isinstance(step, Play):
            bar, beat = divmod(at, score.beats_in_bar)
            note = WrittenNote(int(bar) + 1, float(beat) + 1, step.midi, at, length)
            found.append((place, note))
        at += length
    return found


def _wrong(bar: int, notes: Sequence[FollowedNote], followed: FollowedPart, name: Name) -> str:
    """What was wrong in a bar, in words."""
    said: list[str] = []
    missed = [name(one.written.midi) for one in notes if one.start_s is None]
    if missed and len(missed) == len(notes):
        return "not played"
    if missed:
        said.append(f"{listed(missed)} missed")
    said += [
        f"{name(one.heard_midi)} for {name(one.written.midi)}"
        for one in notes
        if one.heard_midi is not None
    ]
    extra = [name(one.midi) for one in followed.extra if one.bar == bar]
    if extra:
        said.append(f"{listed(extra)} too much")
    cents = [one.cents for one in notes if one.cents is not None]
    if cents and abs(fmean(cents)) >= _OFF_CENTS:
        side = "sharp" if fmean(cents) > 0 else "flat"
        said.append(f"{abs(fmean(cents)):.0f} cents {side}")
    late = [one.late_ms for one in notes if one.late_ms is not None]
    if late and abs(fmean(late)) >= _OFF_MS:
        side = "late" if fmean(late) > 0 else "early"
        said.append(f"{abs(fmean(late)):.0f} ms {side}")
    return ", ".join(said)


def _headline(bars: Sequence[BarPlayed], followed: FollowedPart) -> str:
    wrong = [one.bar for one in bars if one.wrong]
    if len(wrong) == len(bars) and all(one.wrong == "not played" for one in bars):
        return "Nothing of this piece was heard. Is it another one?"
    pace = (
        ""
        if followed.tempo_bpm is None
        else f" You played it at {followed.tempo_bpm:.0f} beats a minute."
    )
    if followed.stopped_bar is not None:
        pace += f" It stops after bar {followed.stopped_bar}."
    if not wrong:
        return f"{'Its bar is' if len(bars) == 1 else f'All {len(bars)} bars are'} there.{pace}"
    good = len(bars) - len(wrong)
    which = f"{'Bar' if len(wrong) == 1 else 'Bars'} {listed([str(one) for one in wrong])}"
    if good < len(wrong):
        return f"{good} of {counted(len(bars), 'bar')} good.{pace}"
    return f"{which} {'needs' if len(wrong) == 1 else 'need'} work.{pace}"


def _passages(
    score: Score, bars: Sequence[BarPlayed], followed: FollowedPart
) -> tuple[Passage, ...]:
    """Runs of bars that went wrong, each with a slower tempo than it was played at."""
    bpm = followed.tempo_bpm or score.tempo_bpm or 0.0
    runs: list[list[int]] = []
    for one in bars:
        if not one.wrong or one.wrong == "not played":
            continue
        if runs and one.bar == runs[-1][-1] + 1 and len(runs[-1]) < _TOGETHER:
            runs[-1].append(one.bar)
        else:
            runs.append([one.bar])
    return tuple(
        Passage(
            run[0],
            run[-1],
            line_text(_steps_in(score, run[0], run[-1])),
            round(_SLOWER * bpm),
            score.beats_in_bar,
        )
        for run in runs
    )


def _steps_in(score: Score, first_bar: int, last_bar: int) -> list[Step]:
    """The steps that begin in some bars, where the horn finds the notes by itself."""
    begins, ends = (first_bar - 1) * score.beats_in_bar, last_bar * score.beats_in_bar
    at, found = Fraction(0), []
    for step in score.steps:
        if begins <= at < ends:
            if isinstance(step, Play):
                step = replace(step, length_name=None, partial=None)
            found.append(step)
        at += beats_of(step)
    return found
