"""How well a microphone hears: sound spoilt in known ways, and what is said of it."""

from collections.abc import Callable
from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy.signal import butter, sosfilt, sosfiltfilt

from orexis.core.arrays import FloatArray
from orexis.core.listening.microphone.check import (
    Finding,
    MicrophoneCheck,
    MicrophoneHeard,
    Processing,
)
from orexis.core.listening.microphone.words import (
    advice_words,
    finding_words,
    notes_words,
    room_words,
    summary_words,
)
from orexis.standin.lips import HUMAN_LIPS
from orexis.standin.performance import perform
from orexis.standin.room import ROOMS, Room, heard_in
from orexis.standin.score import Change, ScoreNote
from orexis.standin.tone import LARGE, MIDDLE, SMALL, Timbre

RATE = 24_000
CHUNK = 1024
STILL_ROOM = Room(hiss_db=-72.0, rumble_db=-66.0, tail_db=-16.0, tail_s=0.3)
HORNS = {"trumpet": ((66, 72, 77), SMALL), "trombone": ((46, 53, 58), MIDDLE)}
HORNS["tuba"] = ((29, 34, 41), LARGE)


@cache
def played(
    midis: tuple[int, ...] = (53, 58, 62),
    timbre: Timbre = MIDDLE,
    level_db: float = -20.0,
    pause_s: float = 1.0,
    seconds: float = 2.0,
) -> FloatArray:
    """Some notes, each by itself, twice over."""
    score = tuple(
        ScoreNote(midi, seconds, level_db, reached=Change("breath", gap_s=pause_s))
        for midi in (*midis, *midis)
    )
    return perform(score, timbre, RATE, lead_s=2.0, seed=3, lips=HUMAN_LIPS).samples


def in_16_bits(sound: FloatArray) -> FloatArray:
    rounded: FloatArray = np.round(np.clip(sound, -1, 1) * 32_767) / 32_768
    return rounded


def heard(
    sound: FloatArray, processing: frozenset[Processing] = frozenset(), rate: int = RATE
) -> MicrophoneHeard:
    check = MicrophoneCheck(rate, processing)
    sound = in_16_bits(sound)
    for at in range(0, len(sound), CHUNK):
        check.feed(sound[at : at + CHUNK])
    return check.told()


def in_room(sound: FloatArray, room: Room = STILL_ROOM) -> FloatArray:
    return heard_in(room, sound, RATE, seed=5)


@pytest.mark.parametrize("horn", list(HORNS))
@pytest.mark.parametrize("room", [room for room in ROOMS if room != "living"])
def test_nothing_stands_in_the_way_in_usual_rooms(horn: str, room: str) -> None:
    midis, timbre = HORNS[horn]
    for level_db in (-32.0, -18.0):
        told = heard(in_room(played(midis, timbre, level_db), ROOMS[room]))
        assert told.findings == (), level_db
        assert "hears you well" in summary_words(told)


def test_levels_of_room_and_notes_are_told() -> None:
    told = heard(in_room(played(level_db=-20.0), Room(hiss_db=-60.0)))
    assert told.room_db == pytest.approx(-60, abs=1)
    assert told.notes_db is not None
    assert told.notes_db[1] == pytest.approx(-20, abs=2)


def test_before_a_note_it_asks_for_one() -> None:
    told = heard(in_room(np.zeros(4 * RATE)))
    assert told.notes_db is None
    assert told.findings == ()
    assert summary_words(told).endswith("Now play a long note.")
    nothing = heard(np.zeros(100))
    assert nothing.room_db is None
    assert summary_words(nothing).startswith("Be quiet")


def _too_loud(sound: FloatArray) -> FloatArray:
    return sound * 12


def _soft(sound: FloatArray) -> FloatArray:
    return sound * 10 ** (-35 / 20)


def _lost(sound: FloatArray) -> FloatArray:
    """A radio link that loses 60 ms in the middle of notes."""
    sound = sound.copy()
    for at_s in (3.7, 6.6, 9.8):
        sound[round(at_s * RATE) : round((at_s + 0.06) * RATE)] = 0
    return sound


def _ends_at(end_hz: float, sound: FloatArray) -> FloatArray:
    ended: FloatArray = sosfiltfilt(butter(14, end_hz, fs=RATE, output="sos"), sound)
    return ended


def _telephone(sound: FloatArray) -> FloatArray:
    return _ends_at(3600, sound)


def _headset(sound: FloatArray) -> FloatArray:
    return _ends_at(7200, sound)


def _gated(sound: FloatArray) -> FloatArray:
    """What is 35 dB and more under full scale is cut off within 10 ms."""
    smooth = sosfilt(butter(2, 60, fs=RATE, output="sos"), np.abs(sound))
    opened = np.convolve(smooth > 10 ** (-38 / 20), np.full(RATE // 100, 100 / RATE), "same")
    return np.where(opened > 0.02, sound * opened, 0)


def _gained(sound: FloatArray) -> FloatArray:
    """Automatic gain: down at once, up again by 8 dB a second."""
    power = np.convolve(sound**2, np.full(RATE // 50, 50 / RATE), "same")[:: RATE // 100]
    gain_db, gains = 0.0, []
    for one in 10 * np.log10(np.maximum(power, 1e-10)):
        gain_db = min(gain_db + 0.08, 20.0, max(-18.0 - float(one), -10.0))
        gains.append(gain_db)
    return sound * 10 ** (np.repeat(gains, RATE // 100)[: len(sound)] / 20)


SPOILT: dict[Finding, Callable[[], FloatArray]] = {
    Finding.TOO_LOUD: lambda: _too_loud(in_room(played())),
    Finding.TOO_SOFT: lambda: _soft(in_room(played())),
    Finding.LOST: lambda: _lost(in_room(played())),
    Finding.CUT_OFF: lambda: _gated(in_room(played())),
    Finding.TURNED_UP: lambda: _gained(in_room(played(pause_s=4.5))),
    Finding.NOISY: lambda: in_room(played(), Room(pink_db=-38.0)),
    Finding.HUM: lambda: in_room(played(), Room(hiss_db=-66.0, rumble_db=-62.0, hum_db=-55.0)),
}


@pytest.mark.parametrize("finding", list(SPOILT))
def test_what_stands_in_the_way_is_named(finding: Finding) -> None:
    told = heard(SPOILT[finding]())
    assert told.findings == (finding,)
    assert finding_words(finding, told).endswith(".")
    assert advice_words(finding).endswith(".")


@pytest.mark.parametrize("horn", list(HORNS))
@pytest.mark.parametrize(("spoilt", "ends_hz"), [(_telephone, 3600), (_headset, 7200)])
def test_where_the_sound_ends_is_told(
    horn: str, spoilt: Callable[[FloatArray], FloatArray], ends_hz: int
) -> None:
    midis, timbre = HORNS[horn]
    told = heard(spoilt(in_room(played(midis, timbre), ROOMS["practice"])))
    assert told.findings == (Finding.NARROW,)
    assert told.ends_at_hz == pytest.approx(ends_hz, rel=0.3)


def test_a_low_rate_holds_no_more_than_its_half() -> None:
    told = heard(np.zeros(3 * 8_000), rate=8_000)
    assert told.findings == (Finding.NARROW,)
    assert finding_words(Finding.NARROW, told) == "The microphone gives nothing above 4 kHz."


def test_what_the_browser_does_to_sound_is_said() -> None:
    told = heard(in_room(played()), frozenset({Processing.GAIN, Processing.ECHO}))
    assert told.findings == (Finding.PROCESSED,)
    assert finding_words(Finding.PROCESSED, told) == (
        "The browser changes the sound: echo cancelling and automatic gain."
    )


@pytest.mark.parametrize("mains_hz", [50, 60])
def test_hum_is_told_by_its_lines(mains_hz: int) -> None:
    time_s = np.arange(10 * RATE) / RATE
    lines = [(1, 2.4e-3), (2, 0.9e-3), (3, 1.5e-3), (5, 0.6e-3)]
    hum = sum(size * np.sin(2 * np.pi * mains_hz * order * time_s) for order, size in lines)
    told = heard(in_room(np.zeros(10 * RATE), Room(hiss_db=-70.0, rumble_db=-75.0)) + hum)
    assert told.hum is not None
    assert told.hum.mains_hz == mains_hz
    power = sum(size**2 / 2 for _, size in lines)
    assert told.hum.level_db == pytest.approx(10 * np.log10(power), abs=0.5)
    assert told.findings == (Finding.HUM,)


def test_hum_far_under_the_notes_does_not_matter() -> None:
    told = heard(in_room(played(level_db=-12.0), Room(hiss_db=-80.0, hum_db=-68.0)))
    assert told.hum is not None
    assert told.findings == ()


def test_a_pedal_held_for_long_is_no_hum() -> None:
    # G1 lies 35 cents under 50 Hz.
    told = heard(in_room(played((31,), LARGE, seconds=8.0)))
    assert told.hum is None


def test_a_voice_is_no_microphone_that_breaks_off() -> None:
    """Syllables with pauses between, in a room whose noise stays."""
    random = np.random.default_rng(2)
    voice = np.zeros(20 * RATE)
    at = RATE
    while at < 19 * RATE:
        size = round(random.uniform(0.08, 0.3) * RATE)
        voice[at : at + size] = 0.1 * random.standard_normal(size) * np.hanning(size)
        at += size + round(random.uniform(0.02, 0.4) * RATE)
    assert heard(in_room(voice)).findings == ()


def test_a_louder_room_after_a_while_is_no_gain() -> None:
    """A fan is switched on once, in one pause of many."""
    sound = in_room(played(pause_s=4.5))
    fan = in_room(np.zeros(len(sound)), Room(fan_db=-50.0))
    fan[: 12 * RATE] = 0
    assert Finding.TURNED_UP not in heard(sound + fan).findings


def test_talk_in_pauses_is_no_gain() -> None:
    sound = in_room(played(pause_s=4.5))
    random = np.random.default_rng(8)
    talk = np.zeros(len(sound))
    # Syllables from two and a half seconds after each note on.
    for start_s in np.arange(4.0 + 2.5, len(sound) / RATE - 2, 6.5):
        at = round(start_s * RATE)
        while at < (start_s + 1.9) * RATE:
            size = round(random.uniform(0.08, 0.2) * RATE)
            talk[at : at + size] = 0.004 * random.standard_normal(size) * np.hanning(size)
            at += size + round(random.uniform(0.05, 0.2) * RATE)
    assert Finding.TURNED_UP not in heard(sound + talk).findings


def test_coming_nearer_mends_it_within_seconds() -> None:
    far, near = _soft(in_room(played())), in_room(played(seconds=3.0))
    assert heard(far).findings == (Finding.TOO_SOFT,)
    assert heard(np.concatenate([far, near])).findings == ()
    loud = _too_loud(in_room(played()))
    assert heard(np.concatenate([loud, near])).findings == ()


def test_pieces_of_any_size_tell_the_same() -> None:
    sound = in_16_bits(in_room(played()))
    check = MicrophoneCheck(RATE)
    sizes = np.random.default_rng(4).integers(1, 9000, 400)
    at = 0
    for size in sizes:
        check.feed(sound[at : at + size])
        at += size
        if at >= len(sound):
            break
    assert at >= len(sound)
    whole = heard(sound)
    assert check.told().room_db == pytest.approx(whole.room_db)
    assert check.told().notes_db == pytest.approx(whole.notes_db)
    assert check.told().findings == whole.findings


def test_levels_are_said_with_a_true_minus_sign() -> None:
    told = heard(in_room(played(level_db=-20.0), Room(hiss_db=-60.0)))
    room = replace(told, room_db=-60.3, notes_db=(-31.6, -19.6))
    assert (room_words(room), notes_words(room)) == ("−60 dB", "−32 to −20 dB")
    assert notes_words(replace(told, notes_db=(-20.4, -19.6))) == "−20 dB"
    nothing = replace(told, room_db=None, notes_db=None)
    assert (room_words(nothing), notes_words(nothing)) == ("not known yet", "none yet")
