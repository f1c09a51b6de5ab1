"""What must hold of every reader of files, whatever comes in: it reads it, or refuses it in words.

One check a reader, for one seed; the files are good ones that were damaged, cut and made strange.
"""

import io
import json
import zipfile
from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import soundfile
from numpy.random import Generator

from orexis.formats.audio import UnreadableSoundError, open_sound, written_anew
from orexis.formats.bundle import BundleUnreadableError, read_bundle
from orexis.formats.ical import CalendarUnreadableError, read_dates, whole_day, written_calendar
from orexis.formats.melody import MelodyUnreadableError, melody_parts
from orexis.formats.own import NamedExercise, OwnUnreadableError, own_document, read_own
from orexis.formats.plain_svg import NoPlainDrawingError, drawn_anew
from orexis.formats.practice_log import LogUnreadableError, read_log
from orexis.formats.scala import ScaleUnreadableError, read_scl

_STRANGE = (
    *(b"\0", b"\xff\xfe", b"\xef\xbb\xbf", b"NaN", b"1e999", b"-0", b"99999999999999999999"),
    *(b"\\ud800", b"<!ENTITY a 'b'>", b"&a;", b"<?x?>", b"<![CDATA[", b"PK\x05\x06", b"\r", b"\n"),
    *(b'"', b"'", b",", b";", b"{", b"[", b"<", b">", b"/", b"=", b"20261301", b"T250000", b"P1D"),
)


def strange(rng: Generator, content: bytes) -> bytes:
    """A file with some of it cut, doubled, moved, flipped, or with something strange in it."""
    for _ in range(int(rng.integers(1, 6))):
        at, other = sorted(int(integer) for integer in rng.integers(0, len(content) + 1, 2))
        match rng.integers(0, 6):
            case 0:
                content = content[:at] + content[other:]
            case 1:
                content = content[:other] + content[at:]
            case 2:
                content = content[:at]
            case 3 if content:
                flipped = bytearray(content)
                flipped[at % len(content)] ^= 1 << int(rng.integers(8))
                content = bytes(flipped)
            case _:
                put = _STRANGE[int(rng.integers(len(_STRANGE)))]
                content = content[:at] + put + content[at + int(rng.integers(4)) :]
    return content[:40_000]


@cache
def _files() -> Mapping[str, bytes]:
    """A good file of every kind."""
    note = "<note><pitch><step>B</step><octave>3</octave></pitch><duration>1</duration></note>"
    score = (
        "<score-partwise><part-list><score-part id='P1'><part-name>x</part-name></score-part>"
        "</part-list><part id='P1'><measure number='1'><attributes><divisions>1</divisions>"
        f"</attributes>{3 * note}</measure></part></score-partwise>"
    )
    track = 3 * b"\x01\x90\x3a\x40\x01\x80\x3a\x00" + b"\x00\xff\x2f\x00"
    sound = io.BytesIO()
    soundfile.write(sound, np.sin(np.arange(900) / 5) / 2, 8000, format="FLAC")
    now = datetime(2026, 11, 30, tzinfo=UTC)
    return {
        "log": b'date,minutes,words\n2026-11-03,45,long tones\n03.11.2026,1:15,"a, b"\n',
        "calendar": written_calendar("x", [whole_day("a", date(2026, 12, 12), "Concert")], now),
        "own": json.dumps(
            own_document("x", [NamedExercise("a", "long-tone", {"hold_s": "4"})])
        ).encode(),
        "report": _zip({"report.json": b'{"schema": "orexis.report/2"}', "takes/ab.flac": b"x"}),
        "musicxml": score.encode(),
        "mxl": _zip(
            {
                "META-INF/container.xml": b'<container><rootfiles><rootfile full-path="a.xml"/>'
                b"</rootfiles></container>",
                "a.xml": score.encode(),
            }
        ),
        "midi": b"MThd\0\0\0\x06\0\0\0\x01\0\x60MTrk" + len(track).to_bytes(4, "big") + track,
        "svg": b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><defs><g id="a"><path '
        b'd="M0 0"/></g></defs><use href="#a" transform="translate(1, 2)"/><text>x</text></svg>',
        "scale": b"! x.scl\n!\nA scale\n 3\n!\n 100.0\n 3/2\n 2/1\n",
        "sound": sound.getvalue(),
    }


def _zip(files: Mapping[str, bytes]) -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return kept.getvalue()


def _listened(content: bytes) -> None:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "sound"
        path.write_bytes(content)
        for block in open_sound(path, "a").blocks:
            assert np.isfinite(block).all()


READERS: Mapping[str, tuple[Callable[[bytes], object], type[ValueError]]] = {
    "log": (read_log, LogUnreadableError),
    "calendar": (read_dates, CalendarUnreadableError),
    "own": (read_own, OwnUnreadableError),
    "report": (read_bundle, BundleUnreadableError),
    "musicxml": (lambda content: melody_parts(content, "a"), MelodyUnreadableError),
    "mxl": (lambda content: melody_parts(content, "a"), MelodyUnreadableError),
    "midi": (lambda content: melody_parts(content, "a"), MelodyUnreadableError),
    "svg": (lambda content: drawn_anew(content.decode("latin-1")), NoPlainDrawingError),
    "scale": (lambda content: read_scl(content.decode("latin-1")), ScaleUnreadableError),
    "sound": (_listened, UnreadableSoundError),
    "sound anew": (lambda content: written_anew(content, 60.0), UnreadableSoundError),
}


def check_reader(name: str, seed: int) -> None:
    """A strange file is read, or refused in words."""
    rng = np.random.default_rng(seed)
    read, refuses = READERS[name]
    content = strange(rng, _files()[name.removesuffix(" anew")])
    try:
        read(content)
    except refuses as error:
        assert str(error)  # noqa: PT017 - it may be read as well
