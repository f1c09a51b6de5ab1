"""A piece bar by bar, as it was played freely, once or over many times: what was missed, wrong, too
much, out of tune, early or late in each bar, which bars go wrong most, and which to take by
themselves."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from statistics import fmean

from orexis.core.counting import counted, listed
from orexis.core.exercises.own import line_text
from orexis.core.judging.attempts import StepOutcome
from orexis.core.judging.following import FollowedNote, FollowedPart, WrittenNote, follow
from orexis.core.judging.part_place import PartRun, runs_of
from orexis.core.judging.words import Name
from orexis.core.listening.notes.events import Note
from orexis.core.score.steps import Play, Score, Step, beats_of

_OFF_CENTS, _OFF_MS = 20.0, 100.0
"""From so far off on average a bar is out of tune, or not in the player's own time."""
_SLOWER = 0.75
_TOGETHER = 2
"""So many bars that went wrong are taken together where they follow each other."""
_WORST_TOLD = 3
_NOT_PLAYED = "not played"
_NOTHING_HEARD = "Nothing of this piece was heard. Is it another one?"


@dataclass(frozen=True, slots=True)
class BarPlayed:
    """A bar (from 1), and what was wrong with it in words each time that the player came through it
    ("": nothing), the last time last."""

    bar: int
    times: tuple[str, ...]

    @property
    def is_played(self) -> bool:
        """Whether the bar was ever played."""
        return any(time != _NOT_PLAYED for time in self.times)

    @property
    def wrong(self) -> str:
        """What was wrong the last time that anything was, or that it was not played; "" where it
        was good every time."""
        return (
            next((time for time in reversed(self.times) if time), "") if self.times else _NOT_PLAYED
        )

    @property
    def wrong_times(self) -> int:
        """How many times it went wrong."""
        return sum(time != "" for time in self.times)

    @property
    def often(self) -> str:
        """In how many of how many times it went wrong, "" where there was one."""
        return f"{self.wrong_times} of {len(self.times)} times" if len(self.times) > 1 else ""

    @property
    def needs_work(self) -> bool:
        """Whether it was played, and went wrong at least every second time."""
        played = [time for time in self.times if time != _NOT_PLAYED]
        return bool(played) and 2 * sum(one != "" for one in played) >= len(played)


@dataclass(frozen=True, slots=True)
class Passage:
    """Bars to be practised by themselves: from the first to the last of them, their notes as a line
    of one's own, the same with the bars beside them, a slower tempo, the one it was played at (0:
    free), and the beats in a bar."""

    first_bar: int
    last_bar: int
    line: str
    line_with_beside: str
    bpm: int
    played_bpm: int
    beats_in_bar: int

    @property
    def words(self) -> str:
        """Which bars they are, in words."""
        if self.first_bar == self.last_bar:
            return f"Bar {self.first_bar}"
        return f"Bars {self.first_bar} and {self.last_bar}"


@dataclass(frozen=True, slots=True)
class PiecePlayed:
    """A piece as it was played: a sentence, its bars, how each note that the player came to went
    (by step), and what to practise by itself."""

    headline: str
    bars: tuple[BarPlayed, ...]
    outcomes: dict[int, StepOutcome]
    passages: tuple[Passage, ...]


def written_in(score: Score) -> list[WrittenNote]:
    """The notes of one repetition of a score, with their bars and beats."""
    return [note for _, note in written_steps(score)]


def written_steps(score: Score) -> list[tuple[int, WrittenNote]]:
    """The notes of one repetition of a score with their bars and beats, each with its step."""
    found: list[tuple[int, WrittenNote]] = []
    for place, (step, at) in enumerate(zip(score.steps, score.begins, strict=False)):
        if isinstance(step, Play):
            bar, beat = divmod(at, score.beats_in_bar)
            note = WrittenNote(int(bar) + 1, float(beat) + 1, step.midi, at, beats_of(step))
            found.append((place, note))
    return found


def times_in(part: Sequence[WrittenNote], heard: Sequence[Note]) -> list[FollowedPart]:
    """Every time that a part or some of it was played in a sound, in order, each with the written
    notes it reached; `stopped_bar` is where it was left, `None` at the end of the part."""
    runs = runs_of(part, heard)
    return [time_of(part, heard, run) for run in runs]


def time_of(part: Sequence[WrittenNote], heard: Sequence[Note], run: PartRun) -> FollowedPart:
    """One time that some of a part was played."""
    written = part[run.first_written : run.last_written + 1]
    followed = follow(written, heard[run.first_heard : run.last_heard + 1])
    to_the_end = run.last_written + 1 == len(part)
    return replace(followed, stopped_bar=None if to_the_end else written[-1].bar)


def piece_of(score: Score, times: Sequence[FollowedPart], name: Name) -> PiecePlayed:
    """A piece bar by bar; `times` are those that `written_in(score)` or some of it was played, in
    order, and `name` is how the player calls notes."""
    written = written_steps(score)
    in_bar = Counter(note.bar for _, note in written)
    went: dict[int, list[str]] = {bar: [] for bar in in_bar}
    for time in times:
        for bar, wrong in _bars_of(time, in_bar, name):
            went[bar].append(wrong)
    bars = tuple(BarPlayed(bar, tuple(each)) for bar, each in went.items())
    headline = _headline(bars, times[0]) if len(times) == 1 else _headline_over(bars, times)
    return PiecePlayed(headline, bars, _outcomes(written, times), _passages(score, bars, times))


def wrong_bars(time: FollowedPart, written: Sequence[WrittenNote], name: Name) -> dict[int, str]:
    """What was wrong in the bars of one time that a part is played, by bar, good ones left out;
    `written` is the whole part."""
    in_bar = Counter(note.bar for note in written)
    return {bar: wrong for bar, wrong in _bars_of(time, in_bar, name) if wrong}


def _bars_of(time: FollowedPart, in_bar: Counter[int], name: Name) -> Iterator[tuple[int, str]]:
    """The bars that were played one time, each with what was wrong. One of which less than half
    was played is none, but where the player broke off in it."""
    by_bar: dict[int, list[FollowedNote]] = {}
    for note in time.notes:
        by_bar.setdefault(note.written.bar, []).append(note)
    for bar, notes in by_bar.items():
        broken_off = time.stopped_bar == bar and len(notes) < in_bar[bar]
        if 2 * len(notes) < in_bar[bar] and not broken_off:
            continue
        wrong = _wrong(bar, notes, time, name)
        if broken_off:
            wrong = f"{wrong}, then broken off" if wrong else "broken off"
        yield bar, wrong


def _outcomes(
    written: Sequence[tuple[int, WrittenNote]], times: Sequence[FollowedPart]
) -> dict[int, StepOutcome]:
    """How each note went most often, the last time where that is a draw; nothing is told of those
    that the player never came to."""
    by_place: dict[Fraction, list[StepOutcome]] = {}
    for time in times:
        for note in time.notes:
            by_place.setdefault(note.written.at, []).append(outcome_of(note))
    return {step: _usual(by_place[note.at]) for step, note in written if note.at in by_place}


def _usual(outcomes: Sequence[StepOutcome]) -> StepOutcome:
    return Counter(reversed(outcomes)).most_common(1)[0][0]


def outcome_of(note: FollowedNote) -> StepOutcome:
    """How a written note went."""
    if note.start_s is None:
        return StepOutcome.SILENT
    return StepOutcome.MET if note.heard_midi is None else StepOutcome.MISSED


def _wrong(bar: int, notes: Sequence[FollowedNote], followed: FollowedPart, name: Name) -> str:
    """What was wrong in a bar, in words."""
    said: list[str] = []
    missed = [name(note.written.midi) for note in notes if note.start_s is None]
    if missed and len(missed) == len(notes):
        return _NOT_PLAYED
    if missed:
        said.append(f"{listed(missed)} missed")
    said += [
        f"{name(note.heard_midi)} for {name(note.written.midi)}"
        for note in notes
        if note.heard_midi is not None
    ]
    extra = [name(note.midi) for note in followed.extra if note.bar == bar]
    if extra:
        said.append(f"{listed(extra)} too much")
    cents = [note.cents for note in notes if note.cents is not None]
    if cents and abs(fmean(cents)) >= _OFF_CENTS:
        side = "sharp" if fmean(cents) > 0 else "flat"
        said.append(f"{abs(fmean(cents)):.0f} cents {side}")
    late = [note.late_ms for note in notes if note.late_ms is not None]
    if late and abs(fmean(late)) >= _OFF_MS:
        side = "late" if fmean(late) > 0 else "early"
        said.append(f"{abs(fmean(late)):.0f} ms {side}")
    return ", ".join(said)


def _headline(bars: Sequence[BarPlayed], followed: FollowedPart) -> str:
    """One time in a sentence or more; what was not played is neither good nor wrong."""
    played = [bar for bar in bars if bar.is_played]
    if not played:
        return _NOTHING_HEARD
    told = [_good_and_wrong(played, len(bars))]
    if followed.tempo_bpm is not None:
        told.append(f"You played it at {followed.tempo_bpm:.0f} beats a minute.")
    if played[0] is not bars[0]:
        told.append(f"You began with bar {played[0].bar}.")
    if followed.stopped_bar is not None and followed.stopped_bar != bars[-1].bar:
        told.append(f"You stopped after bar {followed.stopped_bar}.")
    return " ".join(told)


def _good_and_wrong(played: Sequence[BarPlayed], count: int) -> str:
    """Which of the bars that were played were good and which went wrong, of a piece of `count`
    bars."""
    wrong = [str(bar.bar) for bar in played if bar.wrong]
    good = len(played) - len(wrong)
    if good < len(wrong):
        return f"{good} of {counted(len(played), 'bar')} good."
    if wrong:
        return (
            f"{'Bar' if len(wrong) == 1 else 'Bars'} {listed(wrong)} "
            f"{'needs' if len(wrong) == 1 else 'need'} work."
        )
    if len(played) < count:
        return f"{counted(len(played), 'bar')} of {count}, and good."
    return "Its bar is there." if count == 1 else f"All {count} bars are there."


def _headline_over(bars: Sequence[BarPlayed], times: Sequence[FollowedPart]) -> str:
    """Many times in two sentences: how often it was played, and which bars go wrong most."""
    if not times:
        return _NOTHING_HEARD
    whole = sum(
        followed_part.notes[0].written.bar == bars[0].bar and followed_part.stopped_bar is None
        for followed_part in times
    )
    parts = len(times) - whole
    often = [f"{_times(whole)} to the end"] if whole else []
    often += [f"parts of it {_times(parts)}"] if parts else []
    played = f"You played it {listed(often)}." if whole else f"You played {listed(often)}."
    worst = sorted((bar for bar in bars if bar.needs_work), key=_how_bad)[:_WORST_TOLD]
    if not worst:
        return f"{played} No bar goes wrong often."
    told = [f"bar {bar.bar} in {bar.wrong_times} of {len(bar.times)}" for bar in worst]
    return f"{played} Most often wrong: {listed(told)}."


def _times(count: int) -> str:
    return {1: "once", 2: "twice"}.get(count, f"{count} times")


def _how_bad(bar: BarPlayed) -> tuple[float, int, int]:
    return -bar.wrong_times / len(bar.times), -bar.wrong_times, bar.bar


def _passages(
    score: Score, bars: Sequence[BarPlayed], times: Sequence[FollowedPart]
) -> tuple[Passage, ...]:
    """Runs of bars that go wrong, each with a slower tempo than it was played at last."""
    played_bpm = next(
        (followed_part.tempo_bpm for followed_part in reversed(times) if followed_part.tempo_bpm),
        None,
    )
    bpm = played_bpm or score.tempo_bpm or 0.0
    runs: list[list[int]] = []
    for bar in bars:
        if not bar.needs_work:
            continue
        if runs and bar.bar == runs[-1][-1] + 1 and len(runs[-1]) < _TOGETHER:
            runs[-1].append(bar.bar)
        else:
            runs.append([bar.bar])
    first, last = bars[0].bar, bars[-1].bar
    return tuple(
        Passage(
            run[0],
            run[-1],
            line_text(_steps_in(score, run[0], run[-1])),
            line_text(_steps_in(score, max(run[0] - 1, first), min(run[-1] + 1, last))),
            round(_SLOWER * bpm),
            round(bpm),
            score.beats_in_bar,
        )
        for run in runs
    )


def _steps_in(score: Score, first_bar: int, last_bar: int) -> list[Step]:
    """The steps that begin in some bars, where the horn finds the notes by itself."""
    begins, ends = (first_bar - 1) * score.beats_in_bar, last_bar * score.beats_in_bar
    return [
        replace(step, length_name=None, partial=None) if isinstance(step, Play) else step
        for step, at in zip(score.steps, score.begins, strict=False)
        if begins <= at < ends
    ]
