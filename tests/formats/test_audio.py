"""Sound files in and out, strange ones included, and the analyse command over them."""

import contextlib
import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import soundfile
from hypothesis import given, settings
from hypothesis import strategies as st
from typer.testing import CliRunner

from orexis.cli import app
from orexis.formats.audio import (
    UnreadableSoundError,
    flac_from_pcm,
    floats_from_pcm,
    open_sound,
    pcm_from_floats,
    wav_from_pcm,
)
from tests.sounds import RATE, Samples, noise, silence, softened, steady

RUN = CliRunner()
# B♭3 12 cents low: 440·2^((58 − 69 − 0.12)/12) Hz.
TONE = np.concatenate((silence(0.3), softened(steady(231.4724, 1.5)), silence(0.3)))


def written(path: Path, sound: Samples, rate: int = RATE, subtype: str | None = None) -> Path:
    soundfile.write(path, sound, rate, subtype=subtype)
    return path


def analysed(path: Path, *options: str) -> dict[str, Any]:
    result = RUN.invoke(app, ["analyse", str(path), "--json", *options])
    assert result.exit_code == 0, result.output
    document: dict[str, Any] = json.loads(result.stdout)
    return document


def test_pcm_is_varied_without_loss() -> None:
    pcm = np.array([-32768, -1, 0, 1, 32767], dtype="<i2").tobytes()
    assert pcm_from_floats(floats_from_pcm(pcm)) == pcm
    assert floats_from_pcm(pcm)[0] == -1


def test_sound_beyond_full_scale_is_clipped_not_wrapped() -> None:
    assert np.frombuffer(pcm_from_floats(np.array([1.5, -1.5])), "<i2").tolist() == [32767, -32768]


def test_flac_and_wav_give_back_the_same_samples() -> None:
    pcm = pcm_from_floats(TONE)
    for encoded in (flac_from_pcm(pcm, RATE), wav_from_pcm(pcm, RATE)):
        samples, rate = soundfile.read(io.BytesIO(encoded), dtype="int16")
        assert rate == RATE
        assert samples.astype("<i2").tobytes() == pcm


@pytest.mark.parametrize(
    ("name", "rate", "subtype"),
    [
        ("a.wav", 44_100, "PCM_16"),
        ("a.wav", 48_000, "PCM_24"),
        ("a.wav", 96_000, "FLOAT"),
        ("a.wav", 22_050, "PCM_U8"),
        ("a.flac", 48_000, "PCM_24"),
        ("a.ogg", 48_000, "VORBIS"),
    ],
)
def test_files_of_any_rate_and_depth_are_heard_alike(
    tmp_path: Path, name: str, rate: int, subtype: str
) -> None:
    sound = np.concatenate((silence(0.3, rate), softened(steady(231.4724, 1.5, rate), rate)))
    document = analysed(written(tmp_path / name, sound, rate, subtype))
    assert document["schema"] == "orexis.analysis/1"
    (note,) = document["notes"]
    assert note["midi"] == 58
    assert note["name"] == "B♭3"
    assert note["centre_cents"] == pytest.approx(-12, abs=0.5)
    assert note["hold_s"] == pytest.approx(1.5, abs=0.06)


def test_stereo_is_heard_as_one(tmp_path: Path) -> None:
    document = analysed(written(tmp_path / "two.wav", np.stack((TONE, 0.5 * TONE), axis=1)))
    assert len(document["notes"]) == 1


def test_the_document_has_its_columns_and_only_what_is_measured(tmp_path: Path) -> None:
    document = analysed(written(tmp_path / "a.wav", TONE))
    take, frames = document["take"], document["frames"]
    assert take == {"duration_s": 2.1, "sample_rate": RATE, "clipped": False}
    assert isinstance(frames, dict)
    assert frames["hop_s"] == 0.01
    assert {len(column) for name, column in frames.items() if name != "hop_s"} == {210}
    assert frames["f0_hz"][5] is None
    assert {"schema", "take", "notes", "transitions", "glides", "trills", "silences"} < set(
        document
    )
    assert document["transitions"] == document["glides"] == document["trills"] == []


def test_silence_is_an_answer_and_not_an_error(tmp_path: Path) -> None:
    document = analysed(written(tmp_path / "quiet.wav", silence(1.0)))
    assert document["notes"] == []
    assert document["silences"] == [{"start_s": 0.0, "end_s": 1.0}]


def test_a4_moves_the_reference(tmp_path: Path) -> None:
    # 442 against 440 Hz is 7.85 cents.
    document = analysed(written(tmp_path / "a.wav", TONE), "--a4", "442")
    assert document["notes"][0]["centre_cents"] == pytest.approx(-12 - 7.85, abs=0.5)


def test_without_json_it_tells_a_person(tmp_path: Path) -> None:
    result = RUN.invoke(app, ["analyse", str(written(tmp_path / "a.wav", TONE))])
    assert "2.1 s of sound, 1 note." in result.stdout
    assert "B♭3" in result.stdout


def strange(path: Path) -> dict[str, tuple[bytes, str]]:
    whole = wav_from_pcm(pcm_from_floats(TONE), RATE)
    nan = io.BytesIO()
    soundfile.write(nan, np.array([0.0, np.nan]), RATE, format="WAV", subtype="FLOAT")
    return {
        "empty.wav": (b"", "is empty"),
        "text.wav": (b"hello, this is not sound", "Use WAV, FLAC or Ogg"),
        "headless.wav": (whole[:20], "Use WAV, FLAC or Ogg"),
        "nothing.wav": (wav_from_pcm(b"", RATE), "holds no sound"),
        "nan.wav": (nan.getvalue(), "not numbers"),
    }


@pytest.mark.parametrize("name", list(strange(Path())))
def test_a_strange_file_gets_a_clear_message_and_exit_code_2(tmp_path: Path, name: str) -> None:
    content, message = strange(tmp_path)[name]
    (tmp_path / name).write_bytes(content)
    result = RUN.invoke(app, ["analyse", str(tmp_path / name), "--json"])
    assert result.exit_code == 2
    assert message in result.stderr
    assert result.stdout == ""


def test_a_missing_file_and_an_unknown_instrument_are_named() -> None:
    assert "no file gone.wav" in RUN.invoke(app, ["analyse", "gone.wav"]).stderr
    result = RUN.invoke(app, ["analyse", "gone.wav", "--instrument", "kazoo"])
    assert result.exit_code == 2
    assert "orexis horn list" in result.stderr


def lying(whole: bytes, seconds: int) -> bytes:
    """A WAV file whose header promises more sound than there is."""
    at = whole.index(b"data") + 4
    return whole[:at] + (seconds * RATE * 2).to_bytes(4, "little") + whole[at + 4 :]


def test_a_recording_cut_off_in_writing_is_heard_as_far_as_it_goes(tmp_path: Path) -> None:
    whole = wav_from_pcm(pcm_from_floats(TONE), RATE)
    for name, content in (
        ("half.wav", whole[: len(whole) // 2]),
        ("odd.wav", whole[:-1]),
        ("five-hours.wav", lying(whole, 5 * 3600)),
    ):
        (tmp_path / name).write_bytes(content)
        document = analysed(tmp_path / name)
        (note,) = document["notes"]
        assert note["midi"] == 58, name
        assert document["take"]["duration_s"] <= 2.1


def test_a_file_is_known_by_what_it_holds_and_not_by_its_name(tmp_path: Path) -> None:
    (tmp_path / "a.wav").write_bytes(flac_from_pcm(pcm_from_floats(TONE), RATE))
    assert len(analysed(tmp_path / "a.wav")["notes"]) == 1
    (tmp_path / "a").write_bytes(wav_from_pcm(pcm_from_floats(TONE), RATE))
    assert len(analysed(tmp_path / "a")["notes"]) == 1


def test_channels_that_cancel_are_heard_all_the_same(tmp_path: Path) -> None:
    document = analysed(written(tmp_path / "a.wav", np.stack((TONE, -TONE), axis=1)))
    assert [note["midi"] for note in document["notes"]] == [58]
    one_silent = np.stack((np.zeros_like(TONE), TONE), axis=1)
    assert len(analysed(written(tmp_path / "b.wav", one_silent))["notes"]) == 1


@pytest.mark.parametrize(
    "sound", [noise(2.0), noise(2.0, 1.0), np.full(RATE, 0.7), np.tile([1.0, -1.0], RATE)]
)
def test_what_has_no_pitch_has_no_notes(tmp_path: Path, sound: Samples) -> None:
    assert analysed(written(tmp_path / "a.wav", sound))["notes"] == []


FLAC = flac_from_pcm(pcm_from_floats(TONE[:12_000]), RATE)


WAV = wav_from_pcm(pcm_from_floats(TONE[:12_000]), RATE)


def ogg() -> bytes:
    out = io.BytesIO()
    soundfile.write(out, TONE[:12_000], RATE, format="OGG", subtype="VORBIS")
    return out.getvalue()


@settings(max_examples=120, deadline=None)
@given(st.sampled_from((FLAC, WAV, ogg())), st.floats(0, 1), st.integers(0, 255), st.floats(0, 1))
def test_a_damaged_file_is_read_or_refused_and_nothing_else(
    tmp_path_factory: pytest.TempPathFactory, whole: bytes, where: float, value: int, share: float
) -> None:
    path = tmp_path_factory.mktemp("fuzz") / "a"
    # Headers are where a byte does most: half of them fall there.
    at = int(where * 2 * 128) if where < 0.5 else int(where * (len(whole) - 1))
    length = len(whole) if share > 0.3 else int(share / 0.3 * len(whole))
    content = bytearray(whole[:length])
    if at < length:
        content[at] = value
    path.write_bytes(bytes(content))
    with contextlib.suppress(UnreadableSoundError):
        for block in open_sound(path).blocks:
            assert np.all(np.isfinite(block))
