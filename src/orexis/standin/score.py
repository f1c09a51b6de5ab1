"""What the stand-in player is asked to play, and how well: notes, and the faults in each."""

from dataclasses import dataclass, field, replace


@dataclass(frozen=True, slots=True)
class Touched:
    """A slot that speaks on the way to the next note: its pitch and for how long."""

    midi: int
    seconds: float


@dataclass(frozen=True, slots=True)
class Faults:
    """What is wrong with a note; all zero is a clean one. Cents are signed, below is negative.

    `centre_cents` off the note; `scoop_cents` where it starts, gone after `scoop_s`, or, where it
    dwells there for `scoop_dwell_s`, slid into place within `scoop_s` after that;
    `sag_cents` where it ends; `drift_cents_per_s`; `wobble_cents` ± at 2.2 Hz; `vibrato_cents`
    ± at `vibrato_hz`. `crack_semitones` and `crack_s`: a wrong slot first. `late_s`: air before
    it speaks. `breath_db`: noise under the tone (−55 clean, −15 airy); `brightness` added to
    what its loudness gives (tight +, spread −). `waning_db`: how far the level falls before the
    next note. `second_db`: how far the second harmonic stands over the first and third, swelling
    and fading by a quarter of that. `bites_db`: how much louder it begins, gone within a fifth of
    a second. `missed`: it does not speak.
    """

    centre_cents: float = 0.0
    scoop_cents: float = 0.0
    scoop_s: float = 0.12
    scoop_dwell_s: float = 0.0
    sag_cents: float = 0.0
    drift_cents_per_s: float = 0.0
    wobble_cents: float = 0.0
    vibrato_cents: float = 0.0
    vibrato_hz: float = 5.5
    crack_semitones: float = 0.0
    crack_s: float = 0.06
    late_s: float = 0.0
    breath_db: float = -50.0
    brightness: float = 0.0
    waning_db: float = 0.0
    second_db: float = 0.0
    bites_db: float = 0.0
    missed: bool = False


@dataclass(frozen=True, slots=True)
class Change:
    """How a note is reached from the one before.

    `kind`: "slur", "tongued", "breath" or "glide". `seconds` is how long the pitch takes,
    `gap_s` the silence in between, `dip_db` how far the level falls meanwhile. `touched` slots
    speak on the way, in order; `flipped` is one past the note that speaks before it.
    """

    kind: str = "tongued"
    seconds: float = 0.035
    gap_s: float = 0.0
    dip_db: float = 3.0
    touched: tuple[Touched, ...] = ()
    flipped: Touched | None = None


@dataclass(frozen=True, slots=True)
class ScoreNote:
    """One note to play (`midi` sounding, may be fractional): its length, level (dB re full
    scale), how the level changes to its end, how it is reached, its faults, and which step of a
    written score it plays, if any."""

    midi: float
    seconds: float
    level_db: float = -20.0
    level_change_db: float = 0.0
    reached: Change = Change("breath")
    faults: Faults = field(default_factory=Faults)
    step: int | None = None


@dataclass(frozen=True, slots=True)
class Siren:
    """A glide up and down without notes: from, to (MIDI), how often, and seconds a pass."""

    lowest_midi: float
    highest_midi: float
    passes: int
    seconds_a_pass: float
    level_db: float = -22.0


Score = tuple[ScoreNote | Siren, ...]


def only_where_they_show(score: Score) -> Score:
    """The same without faults that have no place: a note that is slurred or glided to does not
    slide in or crack, and one that goes on into the next does not sag."""
    return tuple(
        part if isinstance(part, Siren) else _shown(part, after)
        for part, after in zip(score, (*score[1:], None), strict=True)
    )


def _shown(note: ScoreNote, after: ScoreNote | Siren | None) -> ScoreNote:
    faults = note.faults
    if note.reached.kind in ("slur", "glide"):
        faults = replace(faults, scoop_cents=0.0, crack_semitones=0.0)
    if not ends_a_breath(after):
        faults = replace(faults, sag_cents=0.0)
    return replace(note, faults=faults)


def ends_a_breath(after: ScoreNote | Siren | None) -> bool:
    """Whether what comes after a note lets it end by itself."""
    return not isinstance(after, ScoreNote) or after.reached.kind == "breath"
