"""Zip files from elsewhere, read with bounds on all that they say of themselves.

The list of a zip's files is read whole before anything else can be asked of it, so its size is
looked at first, in the very record that the reader goes by. Source: PKWARE, APPNOTE.TXT 4.3.16.
"""

import io
import zipfile
import zlib

_END, _END_BYTES = b"PK\x05\x06", 22
_LONGEST_COMMENT = 0xFFFF
_AT_ONCE = 64 * 1024
_READER_FAILS = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    LookupError,
    NotImplementedError,
    OSError,
    OverflowError,
    RuntimeError,
    UnicodeError,
    ValueError,
)
"""How the reader fails on what is no zip."""


class ZipRefusedError(ValueError):
    """A zip that cannot be read, or holds more than it may."""


def opened_zip(content: bytes, most_files: int, largest_list: int) -> zipfile.ZipFile:
    """Opens a zip with at most `most_files` files, whose list takes at most `largest_list` bytes.
    Raises `ZipRefusedError`."""
    if _list_bytes(content) > largest_list:
        raise ZipRefusedError("It holds more files than Orexis opens.")
    try:
        file = zipfile.ZipFile(io.BytesIO(content))
    except _READER_FAILS as error:
        raise ZipRefusedError("This is no zip file that can be read.") from error
    if len(file.infolist()) > most_files:
        raise ZipRefusedError("It holds more files than Orexis opens.")
    return file


def _list_bytes(content: bytes) -> int:
    """How many bytes a zip spends on the list of its files, as its reader takes it: by the record
    at the very end, else the last one that leaves room for a comment."""
    at = len(content) - _END_BYTES
    if at < 0 or content[at : at + 4] != _END or content[-2:] != b"\0\0":
        at = content.rfind(_END, max(at - _LONGEST_COMMENT, 0))
    if at < 0:
        raise ZipRefusedError("This is no zip file that can be read.")
    if content[max(at - 20, 0) : at].startswith(b"PK\x06\x07"):
        # Only what is larger than four gigabytes needs the other kind of record.
        raise ZipRefusedError(
            "This is a zip64 file, made for far larger content. Save it as an ordinary zip."
        )
    return int.from_bytes(content[at + 12 : at + 16], "little")


def read_file(file: zipfile.ZipFile, name: str, largest: int) -> bytes:
    """One file of a zip, however much it says it holds. Raises `ZipRefusedError`."""
    parts: list[bytes] = []
    size = 0
    try:
        with file.open(name) as part:
            while (piece := part.read(_AT_ONCE)) and size <= largest:
                size += len(piece)
                parts.append(piece)
    except _READER_FAILS as error:
        raise ZipRefusedError(f"{name} in it cannot be read.") from error
    if size > largest:
        raise ZipRefusedError(f"{name} in it is too large to open.")
    return b"".join(parts)
