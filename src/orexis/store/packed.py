"""Columns of numbers kept small: JSON, packed with zlib."""

import json
import zlib
from typing import Any


def pack(document: dict[str, Any]) -> bytes:
    """A JSON document as bytes for a blob."""
    return zlib.compress(json.dumps(document, separators=(",", ":")).encode())


def unpack(packed: bytes) -> dict[str, Any]:
    """The document again."""
    document: dict[str, Any] = json.loads(zlib.decompress(packed))
    return document
