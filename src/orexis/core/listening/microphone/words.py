"""What a microphone check says: what was found, and what to do about it."""

from orexis.core.counting import listed
from orexis.core.listening.microphone.check import Finding, MicrophoneHeard, Processing

_UNIT = " dB"
_DONE = {
    Processing.ECHO: "echo cancelling",
    Processing.NOISE: "noise suppression",
    Processing.GAIN: "automatic gain",
}
_ADVICE = {
    Finding.TOO_LOUD: "Move a step back, or turn the microphone down.",
    Finding.LOST: "Use a microphone with a cable, or plug it into another socket.",
    Finding.NARROW: (
        "Choose another microphone. Headsets without a cable sound like a telephone while their "
        "microphone is open."
    ),
    Finding.PROCESSED: "Try another browser, or another microphone.",
    Finding.CUT_OFF: (
        "Switch noise suppression off in the sound settings of this computer: soft notes and the "
        "ends of notes are lost."
    ),
    Finding.TURNED_UP: (
        "Switch automatic gain off in the sound settings of this computer: loud and soft become "
        "the same."
    ),
    Finding.TOO_SOFT: "Come nearer, to about an arm's length, or turn the microphone up.",
    Finding.NOISY: "Switch off fans and machines, close the window, or come nearer.",
    Finding.HUM: "Try without the charger, with another cable, or away from lamps and screens.",
}


def finding_words(finding: Finding, heard: MicrophoneHeard) -> str:
    """What was found, in a sentence."""
    match finding:
        case Finding.TOO_LOUD:
            return "You are too loud for the microphone."
        case Finding.LOST:
            return "The sound breaks off for moments."
        case Finding.NARROW:
            assert heard.ends_at_hz is not None
            return f"The microphone gives nothing above {heard.ends_at_hz / 1000:.0f} kHz."
        case Finding.PROCESSED:
            done = [
                _DONE[processing] for processing in Processing if processing in heard.processing
            ]
            return f"The browser changes the sound: {listed(done)}."
        case Finding.CUT_OFF:
            return "Quiet sound is cut off between your notes."
        case Finding.TURNED_UP:
            return "The microphone turns itself up when you pause."
        case Finding.TOO_SOFT:
            assert heard.notes_db is not None
            return f"Your notes come in softly: {_db(heard.notes_db[1])}."
        case Finding.NOISY:
            assert heard.notes_db is not None
            assert heard.room_db is not None
            over_db = heard.notes_db[1] - heard.room_db
            return f"Your notes are only {over_db:.0f} dB louder than the room."
        case Finding.HUM:
            assert heard.hum is not None
            return f"The microphone picks up mains hum at {heard.hum.mains_hz} Hz."


def advice_words(finding: Finding) -> str:
    """What to do about it."""
    return _ADVICE[finding]


def summary_words(heard: MicrophoneHeard) -> str:
    """What is known where nothing stands in the way."""
    if heard.room_db is None:
        return "Be quiet for a moment, then play a long note."
    if heard.notes_db is None:
        return f"The room is at {_db(heard.room_db)}. Now play a long note."
    over_db = heard.notes_db[1] - heard.room_db
    return f"The microphone hears you well: you are {over_db:.0f} dB louder than the room."


def room_words(heard: MicrophoneHeard) -> str:
    """How loud the room is."""
    return "not known yet" if heard.room_db is None else _db(heard.room_db)


def notes_words(heard: MicrophoneHeard) -> str:
    """How loud notes come in, from the softer to the louder."""
    if heard.notes_db is None:
        return "none yet"
    softer, louder = map(_db, heard.notes_db)
    return louder if softer == louder else f"{softer.removesuffix(_UNIT)} to {louder}"


def _db(level_db: float) -> str:
    """A level with a true minus sign."""
    return f"{level_db:.0f}{_UNIT}".replace("-", "\u2212")
