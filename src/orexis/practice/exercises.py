"""Exercises as they are heard: played by the stand-in player."""

from orexis.core.horn.setup import Horn
from orexis.core.score.steps import Score
from orexis.formats.audio import pcm_from_floats, wav_from_pcm
from orexis.standin.performance import perform
from orexis.standin.reading import as_played, is_buzzed
from orexis.standin.tone import MOUTHPIECE, timbre_of

_RATE = 44_100
_LONGEST_S = 300.0


class NothingToHearError(ValueError):
    """A score with no sound in it, or too much; the message says so."""


def played(score: Score, horn: Horn) -> bytes:
    """A score as a WAV file, well played on a horn.

    Raises `NothingToHearError` for one without a note, or longer than five minutes.
    """
    if not score.notes:
        raise NothingToHearError("There is nothing to hear: this is played by breathing alone.")
    seconds = score.seconds * score.times
    if seconds > _LONGEST_S:
        raise NothingToHearError(
            f"That lasts {seconds / 60:.0f} minutes; take fewer repetitions to hear it."
        )
    timbre = MOUTHPIECE if is_buzzed(score) else timbre_of(horn.instrument.fundamental_midi)
    sound = perform(as_played(score), timbre, _RATE, a4_hz=horn.setup.a4_hz)
    return wav_from_pcm(pcm_from_floats(sound.samples), _RATE)
