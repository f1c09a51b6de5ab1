"""The analysis document: whole, finite and in order, whatever was recorded."""

import json

import numpy as np
import pytest

from orexis.core.listening.analysis import analyse
from orexis.formats.analysis import analysis_document, events_document
from orexis.formats.analysis_reading import events_of
from tests.sounds import RATE, Samples, harmonic, silence, softened

CONTRACT = {
    "notes": "start_s end_s f0_hz midi name centre_cents spread_cents drift_cents_per_s onset "
    "sag_cents vibrato level tone",
    "transitions": "from to kind start_s duration_s gap_s touched dip_db overshoot_cents "
    "level_change_db",
    "glides": "start_s end_s lowest_hz highest_hz span_semitones passes breaks largest_jump_cents",
    "trills": "start_s end_s low_midi high_midi rate_hz evenness_cv clear_share",
    "silences": "start_s end_s",
}


def hz(midi: float) -> float:
    return float(440 * 2 ** ((midi - 69) / 12))


def everything() -> Samples:
    """A slur over a touched slot, a trill and a siren, with breaths between."""
    slur = [(58.0, 0.7), (65.0, 0.05), (70.0, 0.7)]
    trill = [(67.0 if turn % 2 else 65.0, 0.09) for turn in range(16)]
    parts = [
        softened(harmonic(np.concatenate([np.full(round(s * RATE), hz(m)) for m, s in notes])))
        for notes in (slur, trill)
    ]
    rising = hz(50) * 2 ** np.linspace(0, 2, 2 * RATE)
    return np.concatenate((silence(0.4), parts[0], silence(0.6), parts[1], silence(0.6),
                           softened(harmonic(rising)), silence(0.4)))  # fmt: skip


def test_every_part_of_the_contract_is_there() -> None:
    document = analysis_document(analyse([everything()], RATE))
    assert document["schema"] == "orexis.analysis/1"
    assert set(document["frames"]) == {
        *("hop_s", "time_s", "f0_hz", "level_db", "harmonicity_db", "brightness"),
    }
    for part, names in CONTRACT.items():
        assert document[part], part
        for entry in document[part]:
            assert set(names.split()) <= set(entry), part
    assert document["transitions"][0]["touched"] == [
        {"midi": 65, "duration_s": pytest.approx(0.05, abs=0.03)}
    ]
    assert {"rise_s", "scoop_cents", "settle_s", "cracked_from_midi"} <= set(
        document["notes"][0]["onset"]
    )
    assert document["notes"][0]["level"]["shape"] == "steady"


def test_a_document_read_back_says_the_same() -> None:
    written = json.loads(json.dumps(analysis_document(analyse([everything()], RATE))))
    assert written["trills"]
    again = events_document(events_of(written))
    assert again == {part: written[part] for part in again}
    assert again.keys() == {"notes", "transitions", "glides", "trills"}


def test_a_document_from_before_response_was_measured_is_read_without_it() -> None:
    written = analysis_document(analyse([everything()], RATE))
    for note in written["notes"]:
        del note["onset"]["response_s"]
    assert {note.measures.response_s for note in events_of(written).notes} == {None}


def anything(random: np.random.Generator, rate: int) -> Samples:
    """Pieces of noise, squares, pulses, glides and silence, one after the other."""
    pieces: list[Samples] = []
    for _ in range(int(random.integers(1, 12))):
        count = max(1, round(random.uniform(0.005, 0.4) * rate))
        time_s = np.arange(count) / rate
        f0_hz = float(np.exp(random.uniform(np.log(26), np.log(1900))))
        level = 10 ** random.uniform(-3, 0)
        turns = f0_hz * 2 ** np.linspace(0, random.uniform(-2, 2), count)
        pulses = np.zeros(count)
        pulses[:: max(1, round(rate / f0_hz))] = 1
        choices = [
            np.zeros(count),
            random.standard_normal(count) * level,
            np.sign(np.sin(2 * np.pi * f0_hz * time_s)) * level,
            np.sin(2 * np.pi * np.cumsum(turns) / rate) * level,
            pulses * level,
        ]
        pieces.append(choices[int(random.integers(len(choices)))])
    return np.concatenate(pieces)


@pytest.mark.parametrize("seed", range(24))
@pytest.mark.filterwarnings("error")
def test_any_sound_gives_a_finite_document_in_order(seed: int) -> None:
    random = np.random.default_rng(seed)
    rate = [8_000, 22_050, 44_100, 48_000][seed % 4]
    analysis = analyse([anything(random, rate)], rate, drone_hz=220.0 if seed % 3 == 0 else None)
    json.dumps(analysis_document(analysis), allow_nan=False)
    assert len(analysis.transitions) == max(0, len(analysis.notes) - 1)
    starts = [note.first for note in analysis.notes]
    assert starts == sorted(starts)
    for note in analysis.notes:
        assert 0 <= note.first < note.last
