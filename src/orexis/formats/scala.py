"""Scala scale files (`.scl`): read and written.

The format, as it is published: lines that begin with `!` are comments; the first other line
describes the scale, the second counts its notes, and each of the next gives one, in cents when
it has a point ("386.314") and as a ratio when it has none ("5/4", "2"). Words after the pitch
are passed over. 1/1 is not listed; the last note is the interval of repetition.
"""

import re
from math import log2

from orexis.core.horn.tuning import Scale

MOST_NOTES = 1200
_PITCH = re.compile(r"(?P<cents>-?\d*\.\d*)|(?P<over>-?\d+)(?:\s*/\s*(?P<under>-?\d+))?")


class ScaleUnreadableError(ValueError):
    """A scale file that cannot be used; the message names the line and what to do."""


def read_scl(text: str) -> Scale:
    """The scale in a Scala file. Raises `ScaleUnreadableError`."""
    lines = [
        (number, line.strip())
        for number, line in enumerate(text.lstrip("\ufeff").splitlines(), start=1)
        if not line.startswith("!")
    ]
    if len(lines) < 2:
        raise ScaleUnreadableError(
            "This is no Scala scale: it needs a line that describes it, then one with the "
            "number of its notes."
        )
    (_, description), (count_line, count_text), *pitch_lines = lines
    counted = re.match(r"\d+", count_text)
    if counted is None:
        raise _wrong(count_line, "should be the number of notes", count_text)
    count = int(counted.group()[:6])
    if not 1 <= count <= MOST_NOTES:
        raise _wrong(count_line, f"should count 1 to {MOST_NOTES} notes", count_text)
    pitch_lines = [(number, line) for number, line in pitch_lines if line][:count]
    if len(pitch_lines) < count:
        last = pitch_lines[-1][0] if pitch_lines else count_line
        raise ScaleUnreadableError(
            f"Line {last} is the last note, but line {count_line} says there are {count} notes "
            f"and only {len(pitch_lines)} are there. Correct the number or add what is missing."
        )
    degrees = tuple(_cents(number, line) for number, line in pitch_lines)
    if degrees[-1] <= 0:
        number, line = pitch_lines[-1]
        raise _wrong(number, "should be the interval at which the scale repeats, above 0", line)
    return Scale(description, degrees)


def write_scl(scale: Scale, file_name: str = "orexis.scl") -> str:
    """The scale as a Scala file, in cents."""
    notes = "".join(f" {cents:.6f}\n" for cents in scale.degrees_cents)
    description = " ".join(scale.description.split()).lstrip("!")
    return f"! {file_name}\n!\n{description}\n {len(scale.degrees_cents)}\n!\n{notes}"


def _cents(number: int, line: str) -> float:
    found = _PITCH.match(line)
    if found is None or found.group() in (".", "-."):
        raise _wrong(number, "should be a pitch, as 386.314 or 5/4", line)
    if (cents := found["cents"]) is not None:
        return float(cents)
    over, under = int(found["over"][:12]), int((found["under"] or "1")[:12])
    if over <= 0 or under <= 0:
        raise _wrong(number, "should be a ratio of numbers above 0", line)
    return 1200 * log2(over / under)


def _wrong(number: int, what: str, line: str) -> ScaleUnreadableError:
    return ScaleUnreadableError(f"Line {number} {what}, not “{line[:40]}”.")
