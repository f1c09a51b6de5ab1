"""When to stop, and who knows better: what is shown the moment something hurts."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Caution:
    """A warning: what to do at once, and what comes first."""

    title: str
    detail: str


STOP = Caution(
    "Put the horn down.",
    "Stop at once for pain, numbness, a cut, swelling or dizziness. If you are dizzy, sit down "
    "and breathe normally. Do not press through it; rest today.\n"
    "Orexis is no doctor, dentist or teacher: pain that lasts goes to one of them, and what they "
    "say comes first.",
)
