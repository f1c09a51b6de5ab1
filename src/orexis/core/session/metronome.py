"""The metronome: when every beat falls, in samples.

A beat is a quarter note. A ramp changes the tempo evenly from beat to beat: from p to r beats a
minute over n beats, beat b falls at 60 n / (r - p) * ln(1 + (r - p) b / (n p)) seconds, the
integral of 60 / tempo over the beats before it.
"""

from dataclasses import dataclass
from math import log

from orexis.core.score.pulse import BREATHE, Click
from orexis.core.score.steps import Score

_BARS_AFTER = 1
"""How long it goes on after the music, for what is held on."""


@dataclass(frozen=True, slots=True)
class Metronome:
    """How the time is given. `parts` are clicks a beat; `count_in_bars` go before the music;
    `accents` are the beats of a bar that stand out, from 0; `ramp_to_bpm` is where the tempo has
    come to at the end of the music. `bpm` is for music that has no tempo of its own."""

    parts: int = 1
    count_in_bars: int = 1
    accents: tuple[int, ...] = (0,)
    bpm: float = 60.0
    ramp_to_bpm: float | None = None

    def tempo(self, score: Score) -> float:
        """Beats a minute at the beginning."""
        return score.tempo_bpm or self.bpm


@dataclass(frozen=True, slots=True)
class Beat:
    """One click: its sample, how it sounds, which beat of its bar it is (from 1), whether it is
    counted in, and what it says."""

    sample: int
    click: Click
    number: int
    counted_in: bool
    words: str = ""


def count_in_s(metronome: Metronome, score: Score) -> float:
    """How long the count-in takes."""
    return metronome.count_in_bars * score.beats_in_bar * 60 / metronome.tempo(score)


def seconds_at(metronome: Metronome, score: Score, beat: float) -> float:
    """When a beat of the music falls, from its first; before that beats are at its first tempo."""
    start = metronome.tempo(score)
    end = metronome.ramp_to_bpm
    beats = float(score.beats)
    if end is None or end == start or beat <= 0 or not beats:
        return beat * 60 / start
    if beat > beats:
        return seconds_at(metronome, score, beats) + (beat - beats) * 60 / end
    change = end - start
    return 60 * beats / change * log(1 + change * beat / (beats * start))


def beats_of(metronome: Metronome, score: Score, first_sample: int, rate: int) -> tuple[Beat, ...]:
    """Every click from the count-in, whose first falls on a sample, to the end of the music and a
    bar after it."""
    in_bar, parts = score.beats_in_bar, metronome.parts
    before = metronome.count_in_bars * in_bar
    bars = -(-float(score.beats) // in_bar) + _BARS_AFTER
    music = first_sample + count_in_s(metronome, score) * rate
    found: list[Beat] = []
    for part in range(-before * parts, round(bars * in_bar) * parts):
        at = part / parts
        number = int(at // 1) % in_bar
        counted_in = part < 0
        click = Click.PART
        if at == at // 1:
            click = Click.BAR if number in metronome.accents else Click.BEAT
        found.append(
            Beat(
                round(music + seconds_at(metronome, score, at) * rate),
                click,
                number + 1,
                counted_in,
                BREATHE if counted_in and part // parts == -1 else "",
            )
        )
    return tuple(found)
