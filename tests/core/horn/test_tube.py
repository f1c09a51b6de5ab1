"""Tube, valves and slide, each by its own arithmetic."""

import itertools
from math import log2, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orexis.core.horn.instruments import INSTRUMENTS, find_instrument
from orexis.core.horn.notation import parse_note
from orexis.core.horn.setup import Horn, Setup, SetupRefusedError, Tendency
from orexis.core.horn.slide import seventh_mm
from orexis.core.horn.tube import open_length_m, speed_of_sound_m_s
from orexis.core.horn.ways import standard_way, way_of, ways

TRUMPET = Horn(INSTRUMENTS["trumpet-bb"])
BASS = Horn(INSTRUMENTS["trombone-bass"])
EVERY = pytest.mark.parametrize(
    "horn", [Horn(instrument) for instrument in INSTRUMENTS.values()], ids=INSTRUMENTS
)


def midi(name: str) -> int:
    return parse_note(name).midi


def test_the_open_horn_is_as_long_as_half_a_wave() -> None:
    # c = 331.3·√(1 + 22/273.15) = 344.38 m/s; a B♭2 of 116.54 Hz gives 344.38/(2·116.54) m.
    assert speed_of_sound_m_s(22) == pytest.approx(331.3 * sqrt(1 + 22 / 273.15))
    assert open_length_m(116.54) == pytest.approx(344.38 / 233.08, rel=1e-4)


@pytest.mark.parametrize(
    ("partial", "cents"),
    [
        (1, 0),
        (2, 0),
        (3, 2.0),
        (4, 0),
        (5, -13.7),
        (6, 2.0),
        (7, -31.2),
        (8, 0),
        (9, 3.9),
        (10, -13.7),
        (11, -48.7),
        (12, 2.0),
        (13, 40.5),
        (14, -31.2),
        (15, -11.7),
        (16, 0),
    ],
)
def test_open_partials_lie_off_equal_temperament_as_the_series_does(
    partial: int, cents: float
) -> None:
    assert TRUMPET.slot("0", partial).cents == pytest.approx(cents, abs=0.06)


@pytest.mark.parametrize(
    ("key", "name", "semitones", "cents"),
    [
        *[("trumpet-bb", "12", 3, 10.6), ("trumpet-bb", "23", 4, 15.5)],
        *[("trumpet-bb", "13", 5, 30.3), ("trumpet-bb", "123", 6, 53.6)],
        *[("euphonium-bb-4v", "24", 6, 24.5), ("euphonium-bb-4v", "14", 7, 48.0)],
    ],
)
def test_valves_together_are_sharp(key: str, name: str, semitones: int, cents: float) -> None:
    horn = Horn(INSTRUMENTS[key])
    pedal = horn.slot(name, 1).pitch - horn.instrument.fundamental_midi
    assert 100 * (pedal + semitones) == pytest.approx(cents, abs=0.06)


def test_compensating_loops_put_the_low_combinations_right() -> None:
    horn = Horn(INSTRUMENTS["euphonium-bb-4v-comp"])
    # 2-4: (2^(1/12) − 1)·2^(5/12) + 2^(5/12) = 2^(6/12), exactly in tune; 1-4 alike.
    assert horn.slot("24", 1).pitch - 34 == pytest.approx(-6)
    assert horn.slot("14", 1).pitch - 34 == pytest.approx(-7)
    # 1-2-4 keeps what 1-2 is sharp by: 2^(5/12)·(1 + v1 + v2).
    assert 100 * (horn.slot("124", 1).pitch - 34 + 8) == pytest.approx(10.6, abs=0.06)


def test_a_fifth_valve_makes_a_fifth_with_the_fourth() -> None:
    horn = Horn(INSTRUMENTS["tuba-f-5v"])
    assert horn.slot("45", 2).pitch == pytest.approx(29 + 12 - 7)
    # Alone it is a whole tone and a good half of a half step.
    assert horn.slot("5", 2).pitch == pytest.approx(29 + 12 - 2.62, abs=0.005)


@pytest.mark.parametrize(("note", "fingers", "mm"), [("F3", "13", 17), ("E3", "123", 32)])
def test_how_far_to_pull_the_third_slide(note: str, fingers: str, mm: int) -> None:
    # L = 345/(2·116.54) = 1.480 m; 1-3: 1.480·1.3117·(2^(30.3/1200) − 1)/2 = 17 mm.
    warm = 273.15 * ((345 / 331.3) ** 2 - 1)
    way = standard_way(Horn(INSTRUMENTS["trumpet-bb"], Setup(temperature_c=warm)), midi(note))
    assert way is not None
    assert way.length.name == fingers
    assert way.pull is not None
    assert (way.pull.valve, round(way.pull.mm)) == (3, mm)


def test_the_lowest_c_stands_beyond_the_open_seventh_and_the_b_below_does_not_exist() -> None:
    seventh = seventh_mm(BASS.open_m)
    c2 = {way.length.name: way for way in ways(BASS, midi("C2"))}
    assert c2["F+6"].usable
    # 2^(5/12)·(2^(5/12) − 1)/(2^(6/12) − 1) = 1.079.
    assert c2["F+6"].extension_mm == pytest.approx(1.079 * seventh, rel=1e-3)
    b1 = {way.length.name: way for way in ways(BASS, midi("B1"))}
    assert not b1["F+7"].usable
    assert b1["F+7"].reason.startswith("beyond the slide")


@pytest.mark.parametrize(
    ("key", "counts"),
    [
        ("trombone-tenor", {(): 7}),
        ("trombone-tenor-f", {(): 7, ("F",): 6}),
        ("trombone-bass", {(): 7, ("F",): 6, ("G♭",): 6, ("F", "G♭"): 5}),
        ("trombone-bass-g", {(): 7, ("F",): 6, ("G",): 6, ("F", "G"): 5}),
    ],
)
def test_triggers_leave_six_positions_and_two_together_five(
    key: str, counts: dict[tuple[str, ...], int]
) -> None:
    found: dict[tuple[str, ...], int] = {}
    for length in Horn(INSTRUMENTS[key]).lengths:
        found[length.triggers] = found.get(length.triggers, 0) + length.reaches
    assert found == counts


@pytest.mark.parametrize(
    "key", [key for key, instrument in INSTRUMENTS.items() if instrument.is_slide]
)
def test_positions_lie_farther_out_one_after_the_other(key: str) -> None:
    by_trigger: dict[tuple[str, ...], list[float]] = {}
    for length in Horn(INSTRUMENTS[key]).lengths:
        assert length.extension_mm is not None
        by_trigger.setdefault(length.triggers, []).append(length.extension_mm)
    for extensions in by_trigger.values():
        steps = [b - a for a, b in itertools.pairwise(extensions)]
        assert extensions[0] == 0
        # Each step is 2^(1/12) times the one before, so all are positive and grow.
        assert all(
            later / earlier == pytest.approx(2 ** (1 / 12))
            for earlier, later in itertools.pairwise(steps)
        )


def test_a_seventh_partial_is_played_in_a_raised_position_and_never_in_first() -> None:
    horn = Horn(INSTRUMENTS["trombone-tenor"])
    g4 = standard_way(horn, midi("G4"))
    assert g4 is not None
    assert (g4.length.name, g4.partial) == ("2", 7)
    # Lp/2·(2^(−31.2/1200) − 1) with Lp = 344.38/(2·58.27)·2^(1/12) = 3.131 m: 28 mm in.
    assert g4.correction_mm == pytest.approx(-1000 * 3.131 / 2 * (1 - 2 ** (-31.2 / 1200)), abs=0.2)
    first = next(way for way in ways(horn, midi("A♭4")) if way.length.name == "1")
    assert not first.usable
    assert "too flat in first position" in first.reason


@EVERY
def test_every_way_sounds_what_its_tube_gives(horn: Horn) -> None:
    instrument = horn.instrument
    for note in range(instrument.lowest_midi, instrument.highest_midi + 1):
        found = ways(horn, note)
        assert len({(way.length.name, way.partial) for way in found}) == len(found)
        for way in found:
            # n·c/(2·tube) against 440·2^((m − 69)/12), by hand.
            hz = way.partial * speed_of_sound_m_s(22) / (2 * horn.tube_m(way.length))
            equal = 440 * 2 ** ((note - 69) / 12)
            assert way.cents == pytest.approx(1200 * log2(hz / equal), abs=1e-6)
        standard = standard_way(horn, note)
        if standard is not None:
            assert found[0] == standard
            assert standard.usable


@EVERY
def test_a_tube_built_from_the_lengths_alone_is_the_model(horn: Horn) -> None:
    if horn.instrument.is_slide:
        for length in horn.lengths:
            names = {("F",): 5, ("G♭",): 4, ("G",): 3, ("F", "G♭"): 8, ("F", "G"): 7, (): 0}
            down = names[length.triggers] + (length.position or 0) - 1
            assert 12 * log2(length.ratio) == pytest.approx(down)
        return
    loops = {1: 2 ** (2 / 12) - 1, 2: 2 ** (1 / 12) - 1, 3: 2 ** (3 / 12) - 1, 4: 2 ** (5 / 12) - 1}
    loops[5] = 2 ** (7 / 12) - 2 ** (5 / 12)
    for length in horn.lengths:
        last = length.valve_count
        others = sum(loops[valve] for valve in length.valves if valve != last)
        tube = 1 + others
        if last in length.valves:
            compensates = "-comp" in horn.instrument.key
            tube = 1 + loops[last] + others * ((1 + loops[last]) if compensates else 1)
        side = 2 ** (-5 / 12) if length.thumb else 1
        assert length.ratio == pytest.approx(side * tube)


@given(
    st.sampled_from(sorted(INSTRUMENTS)),
    st.floats(-60, 60),
    st.floats(0, 30),
    st.floats(-5, 40),
    st.floats(415, 466),
)
def test_a_horn_out_of_tune_as_a_whole_keeps_its_fingerings(
    key: str, own_cents: float, pull_mm: float, celsius: float, a4_hz: float
) -> None:
    instrument = find_instrument(key)
    usual = a4_hz * 2 ** ((instrument.fundamental_midi - 69) / 12)
    f1_hz = usual * 2 ** (own_cents / 1200)
    setup = Setup(a4_hz=a4_hz, temperature_c=celsius, f1_hz=f1_hz, main_pull_mm=pull_mm)
    horn, plain = Horn(instrument, setup), Horn(instrument)
    for note in range(instrument.normal_low, instrument.normal_high + 1, 5):
        own, made = standard_way(horn, note), standard_way(plain, note)
        assert (own and own.length.name) == (made and made.length.name)
    longer = 1 + 2 * pull_mm / 1000 / horn.open_m
    assert horn.offset_cents == pytest.approx(own_cents - 1200 * log2(longer), abs=1e-6)


def test_own_valves_and_pulls_change_the_deviation() -> None:
    pulled = Horn(TRUMPET.instrument, Setup(valve_pull_mm=(0, 0, 17.1)))
    way = standard_way(pulled, midi("F3"))
    assert way is not None
    # 17 mm out puts 1-3 in tune.
    assert way.cents == pytest.approx(0, abs=0.5)
    flat = Horn(TRUMPET.instrument, Setup(valve_cents=(210, 100, 300)))
    assert flat.slot("1", 2).cents == pytest.approx(-10)


def test_own_triggers_and_reach_decide_which_positions_exist() -> None:
    short = Horn(BASS.instrument, Setup(slide_reach=1.0))
    assert not short.length("F+6").reaches
    tuned = Horn(BASS.instrument, Setup(trigger_cents=(520, 400, 800)))
    assert tuned.slot("F+1", 2).pitch == pytest.approx(34 + 12 - 5.2)


def test_a_cold_horn_is_three_cents_flat_a_degree() -> None:
    assert Horn(TRUMPET.instrument, Setup(temperature_c=12)).cold_cents == pytest.approx(
        -29.6, abs=0.3
    )


def test_a_measured_tendency_replaces_the_model_as_takes_accumulate() -> None:
    note = midi("D4")
    few = Setup(tendencies={("13", note): Tendency(-4.0, 1)})
    many = Setup(tendencies={("13", note): Tendency(-4.0, 36)})
    model = Horn(INSTRUMENTS["tenor-horn-eb"])
    expected = []
    for setup in (Setup(), few, many):
        horn = Horn(model.instrument, setup)
        way = way_of(horn, horn.slot("13", 5), note)
        # 30.3 − 13.7 is the model whatever was measured.
        assert way.cents == pytest.approx(16.6, abs=0.06)
        expected.append(way.expected_cents)
    assert expected == pytest.approx([16.6, 16.6 - 20.6 / 5, 16.6 - 20.6 * 36 / 40], abs=0.06)


@pytest.mark.parametrize(
    ("key", "setup", "message"),
    [
        ("trumpet-bb", Setup(f1_hz=200), "open horn's pitch between"),
        ("trumpet-bb", Setup(valve_cents=(200, 100, 300, 500)), "only 3"),
        ("trumpet-bb", Setup(valve_cents=(400,)), "a valve or trigger between 100 and 300 cents"),
        ("trumpet-bb", Setup(main_pull_mm=-1), "main slide's pull"),
        ("trombone-bass", Setup(slide_reach=3), "reach"),
        ("trombone-bass", Setup(temperature_c=80), "temperature"),
        ("trombone-bass", Setup(a4_hz=300), "A4 between 415 and 466"),
    ],
)
def test_a_horn_that_cannot_be_is_refused_with_what_to_set(
    key: str, setup: Setup, message: str
) -> None:
    with pytest.raises(SetupRefusedError, match=message):
        Horn(INSTRUMENTS[key], setup)
