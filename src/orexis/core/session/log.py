"""The log of a session: what happened, each with the sample it happened at."""

from dataclasses import dataclass
from enum import StrEnum

from orexis.core.judging.standard import Standard
from orexis.core.listening.notes.tone import Tone
from orexis.core.session.plan import Block


class Press(StrEnum):
    """What a player says by key, pedal or touch. `ON` ends a rest, or else leaves this rung for
    the next; `NEXT` leaves the exercise."""

    ON = "on"
    BACK = "back"
    AGAIN = "again"
    NEXT = "next"
    PAUSE = "pause"
    GO_ON = "go-on"
    HURTS = "hurts"
    END = "end"


@dataclass(frozen=True, slots=True)
class AttemptJudged:
    """An attempt was judged: whether it passed, its take, how long it lasted, and the tone of its
    longest note. One that was `cut` short by something else counts for nothing."""

    sample: int
    passed: bool
    take_id: str
    seconds: float
    tone: Tone | None = None
    cut: bool = False


@dataclass(frozen=True, slots=True)
class TimeUp:
    """Something that ends by time alone, such as a rest or a count-in, is over."""

    sample: int


@dataclass(frozen=True, slots=True)
class ButtonPressed:
    """The player pressed a key, a pedal or a button."""

    sample: int
    press: Press


@dataclass(frozen=True, slots=True)
class Overruled:
    """The player says whether a take passed (`None`: as Orexis judged)."""

    sample: int
    take_id: str
    passed: bool


@dataclass(frozen=True, slots=True)
class ExercisePut:
    """Another exercise was put in place of the present one."""

    sample: int
    block: Block


@dataclass(frozen=True, slots=True)
class HelpAsked:
    """What to do when it does not work was asked for: a short exercise, then back."""

    sample: int
    block: Block


@dataclass(frozen=True, slots=True)
class Tuned:
    """The standard was set anew, or a drone begun or stopped."""

    sample: int
    level: Standard
    drone_hz: float | None


@dataclass(frozen=True, slots=True)
class Disturbed:
    """Something was played in a rest."""

    sample: int


@dataclass(frozen=True, slots=True)
class SoundLost:
    """The microphone went away."""

    sample: int


@dataclass(frozen=True, slots=True)
class AttemptUnheard:
    """Listening failed at what was just played, which counts for nothing; whether its sound was
    `kept` as a recording."""

    sample: int
    kept: bool


@dataclass(frozen=True, slots=True)
class SessionResumed:
    """The session was taken up again after `gap_s` seconds nobody listened."""

    sample: int
    gap_s: float


@dataclass(frozen=True, slots=True)
class Tired:
    """What was heard says that it is enough for today: the signs, in words."""

    sample: int
    signs: tuple[str, ...]


Entry = (
    AttemptJudged
    | TimeUp
    | ButtonPressed
    | Overruled
    | ExercisePut
    | HelpAsked
    | Tuned
    | Disturbed
    | SoundLost
    | AttemptUnheard
    | SessionResumed
    | Tired
)
