"""A metronome that goes by itself: bars in turn, parts of a beat, bars of silence, a growing tempo.

Time is told in seconds from the first beat of the first bar; the bar that is counted in before it
has number -1. A beat is what the tempo counts.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from orexis.core.parameter import Choice, Parameter

BREATHE = "breathe"
_GROUPS = re.compile(r"\d{1,2}( ?\+ ?\d{1,2})*")
_MOST_BARS, _MOST_BEATS = 8, 16


class Click(StrEnum):
    """How a click sounds: the first of a bar, the first of a later group of its beats, a beat, a
    part of a beat."""

    BAR = "bar"
    GROUP = "group"
    BEAT = "beat"
    PART = "part"


@dataclass(frozen=True, slots=True)
class Pulse:
    """What a metronome is set to. `bars` come in turn, each a row of groups of beats; `parts` are
    clicks a beat; after `sounding_bars` it is silent for `silent_bars` (0 for never); the tempo
    grows by `growth_bpm` every `growth_bars`, up to `highest_bpm`."""

    bpm: float = 80.0
    bars: tuple[tuple[int, ...], ...] = ((4,),)
    parts: int = 1
    sounding_bars: int = 2
    silent_bars: int = 0
    growth_bpm: float = 0.0
    growth_bars: int = 4
    highest_bpm: float = 120.0

    def groups(self, bar: int) -> tuple[int, ...]:
        """The groups of beats of a bar; the one that is counted in is as the first."""
        return self.bars[max(bar, 0) % len(self.bars)]

    def bpm_at(self, bar: int) -> float:
        """The tempo of a bar."""
        if not self.growth_bpm:
            return self.bpm
        grown = self.bpm + self.growth_bpm * (max(bar, 0) // self.growth_bars)
        return max(self.bpm, min(grown, self.highest_bpm))

    def is_silent(self, bar: int) -> bool:
        """Whether nothing clicks in a bar."""
        if bar < 0 or not self.silent_bars:
            return False
        return bar % (self.sounding_bars + self.silent_bars) >= self.sounding_bars

    def seconds_of(self, bar: int) -> float:
        """How long a bar lasts."""
        return sum(self.groups(bar)) * 60 / self.bpm_at(bar)


USUAL = Pulse()
"""What a metronome is set to before anybody has set it."""
TEMPO = Parameter("bpm", "Tempo", "beats a minute", least=20, most=300, step=1, usual=USUAL.bpm)
BARS = Parameter(
    "bars",
    "Beats in a bar",
    longest=60,
    usual="4",
    choices=(
        *(Choice(str(beats), str(beats)) for beats in (1, 2, 3, 4, 6)),
        Choice("3 + 2", "5: 3 + 2"),
        Choice("2 + 3", "5: 2 + 3"),
        Choice("2 + 2 + 3", "7: 2 + 2 + 3"),
        Choice("3 + 2 + 2", "7: 3 + 2 + 2"),
        Choice("3 + 3 + 2", "8: 3 + 3 + 2"),
        Choice("3, 4", "3 and 4 in turn"),
        Choice("4, 4, 2", "4, 4 and 2 in turn"),
    ),
)
PARTS = Parameter(
    "parts",
    "Parts of a beat",
    usual=str(USUAL.parts),
    choices=(
        Choice("1", "beats only"),
        Choice("2", "halves"),
        Choice("3", "thirds"),
        Choice("4", "quarters"),
    ),
)
SOUNDING = Parameter(
    "sounding_bars", "Sounding", "bars", least=1, most=16, step=1, usual=USUAL.sounding_bars
)
SILENT = Parameter(
    "silent_bars", "Then silent", "bars", least=0, most=16, step=1, usual=USUAL.silent_bars
)
GROWTH = Parameter(
    "growth_bpm", "Faster by", "beats a minute", least=0, most=40, step=1, usual=USUAL.growth_bpm
)
GROWS_EVERY = Parameter(
    "growth_bars", "Faster every", "bars", least=1, most=32, step=1, usual=USUAL.growth_bars
)
HIGHEST = Parameter(
    "highest_bpm",
    "Highest tempo",
    "beats a minute",
    least=TEMPO.least,
    most=TEMPO.most,
    step=1,
    usual=USUAL.highest_bpm,
)
PULSE = (TEMPO, BARS, PARTS, SOUNDING, SILENT, GROWTH, GROWS_EVERY, HIGHEST)


def read_bars(text: str) -> tuple[tuple[int, ...], ...]:
    """Bars in turn, each as its groups of beats, from a text like "4", "3 + 2" or "3 + 2, 4".
    Raises `ValueError` with what to write instead."""
    bars = [bar.strip() for bar in text.split(",")]
    if len(bars) > _MOST_BARS or not all(_GROUPS.fullmatch(bar) for bar in bars):
        raise ValueError(
            "Write the beats of a bar as a number, its groups with a plus, and bars in turn with "
            f"a comma, at most {_MOST_BARS}: 4 or 3 + 2 or 3, 4."
        )
    found = tuple(tuple(int(group) for group in bar.split("+")) for bar in bars)
    if not all(min(bar) > 0 and sum(bar) <= _MOST_BEATS for bar in found):
        raise ValueError(f"A bar has 1 to {_MOST_BEATS} beats.")
    return found


@dataclass(frozen=True, slots=True)
class PulseBeat:
    """One beat or part of one: when (s), how it sounds, which beat of its bar it is (from 1), its
    bar and the groups of beats that has, whether it is silent, and what is said with it."""

    at_s: float
    click: Click
    number: int
    bar: int
    groups: tuple[int, ...]
    silent: bool
    words: str = ""


def beats_from(pulse: Pulse, first_bar: int = -1) -> Iterator[PulseBeat]:
    """Every beat and part of one from a bar on, without end."""
    bar = -1
    start_s = -pulse.seconds_of(-1)
    while True:
        if bar >= first_bar:
            yield from _beats_of_bar(pulse, bar, start_s)
        start_s += pulse.seconds_of(bar)
        bar += 1


def _beats_of_bar(pulse: Pulse, bar: int, start_s: float) -> Iterator[PulseBeat]:
    groups = pulse.groups(bar)
    beat_s = 60 / pulse.bpm_at(bar)
    firsts = {sum(groups[:at]) for at in range(1, len(groups))}
    for beat in range(sum(groups)):
        whole = Click.BAR if beat == 0 else Click.GROUP if beat in firsts else Click.BEAT
        last = bar < 0 and beat == sum(groups) - 1
        for part in range(pulse.parts):
            yield PulseBeat(
                start_s + (beat + part / pulse.parts) * beat_s,
                Click.PART if part else whole,
                beat + 1,
                bar,
                groups,
                pulse.is_silent(bar),
                BREATHE if last and not part else "",
            )
