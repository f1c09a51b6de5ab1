"""The book over HTTP: what there is, an exercise's page, its sound and files; and the command."""

import io
import json
from pathlib import Path

import mido
import pytest
import soundfile
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from orexis.cli import app
from orexis.core.exercises.family import Aim
from orexis.core.exercises.writer import Reach
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.standin.performance import perform
from orexis.standin.reading import as_played
from orexis.standin.spoiling import spoiled
from orexis.standin.tone import timbre_of
from tests.core.exercises.writing import task
from tests.server.test_api import problem

BOOK = "/api/players/1/book"
OSK = {"name": "Osk", "instrument_key": "trombone-bass", "view": "sounding", "clef": "bass"}
RUN = CliRunner()


def page(client: TestClient, family: str, *settings: str, player: int = 1) -> dict[str, object]:
    response = client.get(f"/api/players/{player}/book/{family}", params={"set": list(settings)})
    response.raise_for_status()
    found: dict[str, object] = response.json()
    return found


def test_the_book_has_every_group_and_puts_what_cannot_be_last(client: TestClient) -> None:
    groups = client.get(BOOK).json()
    assert [group["name"] for group in groups] == [
        *("breath", "from cold", "buzz", "long tones", "slurs", "intervals", "low", "pedals"),
        *("high", "music"),
    ]
    # Maren's tenor horn has valves, so the glides come last, with the reason.
    high = next(group for group in groups if group["name"] == "high")["families"]
    assert {family["key"] for family in high[-2:]} == {"glide-ladder", "expanding-glide"}
    assert all("Valves cannot glide" in family["refused"] for family in high[-2:])
    assert all(family["why"] for family in high)


def test_a_page_has_its_music_what_can_be_set_and_its_words(client: TestClient) -> None:
    found = page(client, "lip-slur", "slots=3", "beats=1")
    assert found["title"] == "Lip slur"
    assert str(found["svg"]).startswith("<svg")
    values = found["values"]
    assert isinstance(values, dict)
    assert (values["slots"], values["beats"], values["times"]) == ("3", "1", "3")
    fields = found["fields"]
    assert isinstance(fields, list)
    assert {field["key"] for field in fields} == set(values)
    assert "connected" in str(found["aims"])
    # The third, fourth and fifth slots of the open horn, as Maren reads them.
    assert found["described"] == "G4 C5 E5 C5 G4, free, 3 times."


def test_notes_are_chosen_by_the_names_the_player_has_for_them(client: TestClient) -> None:
    client.post("/api/players", json=OSK).raise_for_status()
    for player, name in ((1, "G4"), (2, "G4")):
        fields = page(client, "long-tone", player=player)["fields"]
        assert isinstance(fields, list)
        field = fields[0]
        midi = {choice["label"]: choice["value"] for choice in field["choices"]}[name]
        # G4 as Maren reads it sounds B♭3; Osk's is what it is called.
        assert midi == {1: "58", 2: "67"}[player]


def test_only_what_the_stand_can_listen_to_goes_there(client: TestClient) -> None:
    tone = page(client, "long-tone", "from_midi=60", "hold_s=8")
    assert tone["values"] == {"from_midi": "60", "hold_s": "8", "times": "1", "hand": "usual"}


def test_a_note_that_passed_above_what_is_usual_is_where_one_goes_on_from() -> None:
    usual = Reach(50, 58, 72)
    assert usual.with_passed(74).high == 74
    assert usual.with_passed(70) == usual.with_passed(None) == usual


def test_what_is_usual_comes_from_the_horn_where_nothing_has_passed(client: TestClient) -> None:
    values = page(client, "next-note")["values"]
    assert isinstance(values, dict)
    # A tenor horn's easy note, B♭3, and fourteen half steps.
    assert values["from_midi"] == "72"


@pytest.mark.parametrize(
    ("family", "setting", "reason"),
    [
        ("glide-ladder", "rungs=2", "Take the chromatic ladder"),
        ("pyramid", "slots=12", "3 to 9"),
        ("pyramid", "colour=red", "has no colour"),
        ("pyramid", "slots", "is not a number"),
        ("pyramid", "slots=nan", "3 to 9"),
        ("pyramid", "slots=inf", "3 to 9"),
        ("partial-pattern", "pattern=a b", "as numbers in a row"),
    ],
)
def test_what_cannot_be_is_refused_with_the_reason(
    client: TestClient, family: str, setting: str, reason: str
) -> None:
    for part in ("", "/sound", "/midi", "/musicxml"):
        response = client.get(f"{BOOK}/{family}{part}", params={"set": [setting]})
        assert reason in problem(response, 422)["detail"]


def test_there_is_no_page_of_an_unknown_exercise_or_for_an_unknown_player(
    client: TestClient,
) -> None:
    for path, what in (
        (f"{BOOK}/juggling", "exercise"),
        ("/api/players/9/book", "player"),
        ("/api/players/9/book/pyramid", "player"),
    ):
        assert what in problem(client.get(path), 404)["title"]


def test_too_much_to_set_is_refused(client: TestClient) -> None:
    for settings, said in ((["slots=5"] * 21, "20"), (["slots=" + "5" * 6040], "6040")):
        refused = client.get(f"{BOOK}/pyramid", params={"set": settings})
        assert said in problem(refused, 422)["detail"]
    # As much as is allowed is read: the last of them counts.
    assert client.get(f"{BOOK}/pyramid", params={"set": ["slots=5"] * 20}).status_code == 200


def test_an_exercise_is_heard(client: TestClient) -> None:
    response = client.get(f"{BOOK}/next-note/sound", params={"set": ["times=1"]})
    sound, rate = soundfile.read(io.BytesIO(response.content))
    # Two, two and four beats of a second, half a second before and 0.8 after.
    assert len(sound) / rate == pytest.approx(9.3, abs=0.2)
    assert abs(sound).max() > 0.05
    nothing = problem(client.get(f"{BOOK}/breath/sound"), 422)
    assert "breathing alone" in nothing["detail"]


def test_an_exercise_is_carried_away(client: TestClient) -> None:
    xml = client.get(f"{BOOK}/pyramid/musicxml")
    assert 'filename="pyramid.musicxml"' in xml.headers["content-disposition"]
    assert b"<score-partwise" in xml.content
    midi = client.get(f"{BOOK}/pyramid/midi")
    assert 'filename="pyramid.mid"' in midi.headers["content-disposition"]
    assert mido.MidiFile(file=io.BytesIO(midi.content)).length > 5


def recorded(client: TestClient, family: str, aim: Aim | None = None) -> str:
    """The stand-in plays an exercise on Maren's horn, with the fault of an aim in it or without;
    the id of the recording."""
    score = as_played(task(family, "tenor-horn-eb", times=1).score)
    spoilt = score if aim is None else spoiled(score, aim)
    assert spoilt is not None
    sound = perform(spoilt, timbre_of(39), 44_100).samples
    wav = wav_from_pcm(pcm_from_floats(sound), 44_100)
    kept = client.post("/api/players/1/recordings", params={"name": "a.wav"}, content=wav)
    kept.raise_for_status()
    return str(kept.json()["id"])


def test_a_recording_is_judged_as_an_attempt_and_says_where_it_failed(client: TestClient) -> None:
    settings = {"set": ["times=1"]}
    well = client.get(f"{BOOK}/lip-slur/attempts/{recorded(client, 'lip-slur')}", params=settings)
    assert well.json()["headline"] == "Good."
    assert well.json()["passed"]
    assert {step["outcome"] for step in well.json()["steps"]} == {"met"}
    kept = recorded(client, "lip-slur", Aim.GAP)
    failed = client.get(f"{BOOK}/lip-slur/attempts/{kept}", params=settings).json()
    # The gap is before the second note, which Maren reads as C5.
    assert failed["headline"].startswith("A 1")
    assert failed["headline"].endswith("ms gap before C5 (60 allowed).")
    outcomes = {step["step"]: step["outcome"] for step in failed["steps"]}
    assert [step for step, outcome in outcomes.items() if outcome == "missed"] == [1]
    gap = next(rule for rule in failed["rules"] if rule["rule"] == "gap")
    assert (gap["passed"], gap["limit_words"], gap["unit"]) == (
        False,
        "60 allowed, 1 of 2 good",
        "ms",
    )


def test_only_ones_own_recordings_are_judged(client: TestClient) -> None:
    kept = recorded(client, "lip-slur")
    client.post("/api/players", json=OSK).raise_for_status()
    for path in (
        f"/api/players/2/book/lip-slur/attempts/{kept}",
        f"{BOOK}/lip-slur/attempts/{'0' * 32}",
    ):
        assert "recording" in problem(client.get(path), 404)["title"]
    own = client.get(f"{BOOK}/lip-slur/attempts/{kept}", params={"set": ["times=1"]}).json()
    assert own["recording_id"] == kept


def test_the_command_judges_a_file_against_an_exercise(tmp_path: Path) -> None:
    wav = str(tmp_path / "a.wav")
    horn = ["--instrument", "trombone-tenor"]
    RUN.invoke(app, ["exercise", "next-note", *horn, "--param", "times=1", "--wav", wav])
    typed = ["analyse", wav, *horn, "--exercise", "next-note"]
    said = RUN.invoke(app, [*typed, "--param", "times=1"]).stdout
    assert "Good." in said
    assert "  connected: good, 0 ms" in said
    document = json.loads(RUN.invoke(app, [*typed, "--param", "times=2", "--json"]).stdout)
    assert document["attempt"]["passed"] is False
    assert document["attempt"]["parameters"]["times"] == 2
    for wrong in (["--exercise", "nothing"], ["--exercise", "glide", "--level", "harsh"]):
        assert RUN.invoke(app, ["analyse", wav, *horn, *wrong]).exit_code == 2
    alone = RUN.invoke(app, ["analyse", wav, "--exercise", "next-note"])
    assert "--instrument" in alone.stderr


def test_the_command_tells_how_long_the_notes_of_a_set_were_held(tmp_path: Path) -> None:
    wav, horn = str(tmp_path / "a.wav"), ["--instrument", "trombone-tenor"]
    four = ["--param", "starts=4", "--param", "beats=2"]
    RUN.invoke(app, ["exercise", "pedal-sets", *horn, *four, "--wav", wav])
    typed = ["analyse", wav, *horn, "--exercise", "pedal-sets", *four]
    assert "4 notes of B♭1: mostly 2.1 s" in RUN.invoke(app, typed).stdout
    holds = json.loads(RUN.invoke(app, [*typed, "--json"]).stdout)["attempt"]["holds"]
    # Two beats of a second each, held on by 0.15 s where a breath follows.
    assert holds["held_s"] == pytest.approx([2.15] * 4, abs=0.05)
    assert (holds["halves_s"], holds["line_s"]) == (None, None)
    alone = ["analyse", wav, *horn, "--exercise", "long-tone", "--json"]
    assert json.loads(RUN.invoke(app, alone).stdout)["attempt"]["holds"] is None


def test_the_command_lists_what_there_is() -> None:
    rows = json.loads(RUN.invoke(app, ["exercise", "list", "--json"]).stdout)
    assert {"key", "title", "group", "why"} == set(rows[0])
    assert "pyramid" in RUN.invoke(app, ["exercise", "list"]).stdout


def test_the_command_prints_the_exercise_document() -> None:
    typed = ["exercise", "couplets", "--instrument", "trombone-tenor", "--from", "F3"]
    said = RUN.invoke(app, [*typed, "--param", "widest=1", "--param", "beats=2", "--json"])
    document = json.loads(said.stdout)
    assert document["schema"] == "orexis.exercise/1"
    assert (document["family"], document["parameters"]["widest"]) == ("couplets", 1)
    first, second, breath = document["score"]
    assert (first["kind"], first["midi"], first["beats"]) == ("play", 53, 2)
    assert (second["midi"], second["articulation"], second["length"]) == (52, "slurred", "2")
    assert breath == {"kind": "breath", "breath": "mouth"}
    assert document["aims"]["gap"] == "connected"
    assert set(document["words"]) == {"why", "listen", "wrong", "remedy", "caution"}


def test_the_command_reads_notes_as_they_are_written_when_asked() -> None:
    typed = ["exercise", "long-tone", "--instrument", "cornet-bb", "--from", "C5", "--json"]
    for more, midi in (([], 72), (["--written"], 70)):
        document = json.loads(RUN.invoke(app, [*typed, *more]).stdout)
        assert document["score"][0]["midi"] == midi


def test_the_command_writes_files(tmp_path: Path) -> None:
    paths = {kind: tmp_path / f"a.{kind}" for kind in ("musicxml", "midi", "svg", "wav")}
    options = [word for kind, path in paths.items() for word in (f"--{kind}", str(path))]
    typed = ["exercise", "next-note", "--instrument", "cornet-bb", "--param", "times=1"]
    said = RUN.invoke(app, [*typed, *options])
    assert (said.exit_code, said.stdout) == (0, "")
    starts = {kind: path.read_bytes()[:4] for kind, path in paths.items()}
    assert starts == {"musicxml": b"<?xm", "midi": b"MThd", "svg": b"<svg", "wav": b"RIFF"}


def test_the_command_says_an_exercise_in_words() -> None:
    said = RUN.invoke(app, ["exercise", "pedal-sets", "--instrument", "trombone-bass"]).stdout
    assert said.startswith("Pedal air attacks: free\nB♭1")
    assert "Careful: Stop when a note needs another embouchure" in said


@pytest.mark.parametrize(
    ("typed", "reason"),
    [
        (["pyramid"], "--instrument"),
        (["piramid", "--instrument", "cornet-bb"], "Did you mean pyramid"),
        (["pyramid", "--instrument", "kornet"], "cornet-bb"),
        (["pyramid", "--instrument", "cornet-bb", "--param", "slots"], "key=value"),
        (["pyramid", "--instrument", "cornet-bb", "--from", "C4"], "starts from no note"),
        (["long-tone", "--instrument", "cornet-bb", "--from", "H4"], "is not a note"),
        (["glide-ladder", "--instrument", "cornet-bb"], "Valves cannot glide"),
        (["breath", "--instrument", "cornet-bb", "--wav", "/nowhere/a.wav"], "breathing alone"),
        (["long-tone", "--instrument", "cornet-bb", "--svg", "/nowhere/a.svg"], "a.svg"),
    ],
)
def test_the_command_refuses_with_the_reason(typed: list[str], reason: str) -> None:
    said = RUN.invoke(app, ["exercise", *typed])
    assert said.exit_code == 2
    assert reason in said.stderr


def test_a_recording_is_followed_bar_by_bar(client: TestClient) -> None:
    # Two bars of four quarters on Maren's horn; the third note of the second is left out.
    line = "Bb3:1 C4:1 D4:1 Eb4:1 F4:1 Eb4:1 D4:1 C4:1"
    values = {"line": line, "tempo": "90", "bar": "4"}
    with_a_hole = task(
        "own-line", "tenor-horn-eb", line=line.replace("D4:1 C4:1", "-:1 C4:1"), tempo=90.0
    )
    sound = perform(as_played(with_a_hole.score), timbre_of(39), 44_100).samples
    wav = wav_from_pcm(pcm_from_floats(sound), 44_100)
    kept = client.post("/api/players/1/recordings", params={"name": "line.wav"}, content=wav)
    kept.raise_for_status()
    settings = [f"{key}={value}" for key, value in values.items()]
    found = client.get(
        f"{BOOK}/own-line/pieces/{kept.json()['id']}", params={"set": settings}
    ).json()
    assert [bar["wrong"] != "" for bar in found["bars"]] == [False, True]
    (passage,) = found["passages"]
    assert (passage["words"], passage["title"]) == ("Bar 2", "Your own line, bar 2")
    slower, at_tempo, beside = passage["back_into_it"]
    assert slower["values"]["line"] == at_tempo["values"]["line"] == "F4:1 Eb4:1 D4:1 C4:1"
    assert beside["values"]["line"].endswith(slower["values"]["line"])
    assert [one["why"] for one in (slower, at_tempo, beside)] == [
        "Bar 2, slower.", "Bar 2, at your tempo.", "Bar 2, with the bars beside.",
    ]  # fmt: skip
    assert {one["way"]["needed"] for one in (slower, at_tempo, beside)} == {"3"}
    # What is practised by itself is an exercise of the book.
    asked = [f"{key}={value}" for key, value in slower["values"].items()]
    assert page(client, "own-line", *asked)["title"] == "Your own line"


def test_a_breath_has_nothing_to_follow(client: TestClient) -> None:
    wav = wav_from_pcm(bytes(2 * 44_100), 44_100)
    kept = client.post("/api/players/1/recordings", params={"name": "air.wav"}, content=wav)
    response = client.get(f"{BOOK}/breath/pieces/{kept.json()['id']}")
    assert problem(response, 422)["title"] == "There is nothing to follow"
