"""Engraved music from elsewhere, drawn anew: of an SVG only the shapes, text and numbers are taken
over that our own engraving is made of, and written down again.

What comes in is parsed as XML, never as HTML, and its elements, depth and copies (`use`) are
counted, so that what comes out is small, harmless and quick to draw.
"""

import re
from collections.abc import Iterator
from xml.etree.ElementTree import Element, ParseError, SubElement, register_namespace, tostring

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

_LARGEST_LETTERS = 1 << 20
_MOST_ELEMENTS, _MOST_COPIES, _DEEPEST = 6000, 3000, 40
_LARGEST_COPIED = 8
"""Elements in what is copied: a sign of music is one path, or two."""
_SPACE = "http://www.w3.org/2000/svg"
_DRAWN = frozenset(
    (
        *("svg", "g", "defs", "symbol", "use", "title", "desc", "path", "rect", "line"),
        *("polygon", "polyline", "ellipse", "circle", "text", "tspan"),
    )
)

_NUMBER = r"-?\d{1,7}(?:\.\d{1,6})?"
_LENGTH = re.compile(rf"{_NUMBER}(?:px)?")
_NUMBERS = re.compile(rf"\s*{_NUMBER}(?:[\s,]+{_NUMBER})*\s*")
_TURNS = re.compile(r"(?:(?:translate|scale|rotate)\([-\d., ]{1,60}\)\s*){1,4}")
_PATH = re.compile(r"[MmLlHhVvCcSsQqTtAaZz\d.,\s-]*")
_COLOUR = re.compile(r"none|currentColor")
_ID = re.compile(r"[A-Za-z][\w-]{0,60}", re.ASCII)
_STEP = re.compile(r"step-\d{1,5}")

_ATTRIBUTES: dict[str, re.Pattern[str]] = {
    "viewBox": _NUMBERS,
    "points": _NUMBERS,
    "d": _PATH,
    "transform": _TURNS,
    "fill": _COLOUR,
    "stroke": _COLOUR,
    "overflow": re.compile("visible"),
    "visibility": re.compile("hidden"),
    "text-anchor": re.compile("start|middle|end"),
    "font-family": re.compile(r"[A-Za-z ,]{1,60}"),
    "font-style": re.compile("normal|italic"),
    "font-weight": re.compile("normal|bold"),
    "stroke-linecap": re.compile("butt|round|square"),
    "stroke-linejoin": re.compile("miter|round|bevel"),
    **dict.fromkeys(
        (
            *("x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "width", "height"),
            *("font-size", "stroke-width", "opacity", "fill-opacity", "stroke-opacity"),
        ),
        _LENGTH,
    ),
}
"""What is said of elements, and all it may say."""

register_namespace("", _SPACE)


class NoPlainDrawingError(ValueError):
    """A picture that is no plain drawing; the message says what is wrong with it."""


def drawn_anew(text: str) -> str:
    """An SVG text with nothing in it but what a drawing needs; "" of "". Raises
    `NoPlainDrawingError`."""
    if not text:
        return ""
    if len(text) > _LARGEST_LETTERS:
        raise NoPlainDrawingError("It is larger than a page of music can be.")
    try:
        root = fromstring(text, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError) as error:
        raise NoPlainDrawingError("It is no SVG that can be read.") from error
    _check_size(root)
    copied = _copied(root)
    drawn = Element(f"{{{_SPACE}}}svg")
    if root.tag != drawn.tag:
        raise NoPlainDrawingError("It is no SVG.")
    _draw(root, drawn, copied)
    return tostring(drawn, encoding="unicode")


def _check_size(root: Element) -> None:
    count = 0
    level = [root]
    for _ in range(_DEEPEST):
        count += len(level)
        level = [child for element in level for child in element]
        if not level:
            break
    if level or count > _MOST_ELEMENTS:
        raise NoPlainDrawingError("There is more in it than in a page of music.")


def _copied(root: Element) -> set[str]:
    """The ids of what is copied into other places, each small and with no copy in itself."""
    copies = [_copy_of(element) for element in root.iter(f"{{{_SPACE}}}use")]
    wanted = {name for name in copies if name is not None}
    if len(copies) > _MOST_COPIES:
        raise NoPlainDrawingError("There is more in it than in a page of music.")
    for element in root.iter():
        if element.get("id") in wanted:
            inside = list(element.iter())
            if len(inside) > _LARGEST_COPIED or any(part.tag.endswith("}use") for part in inside):
                raise NoPlainDrawingError("It copies something that is not a musical sign.")
    return wanted


def _copy_of(use: Element) -> str | None:
    """The id that a `use` is a copy of, `None` where it names no other element of its picture."""
    for key, value in use.items():
        if key in ("href", "{http://www.w3.org/1999/xlink}href") and value.startswith("#"):
            return value[1:] if _ID.fullmatch(value[1:]) else None
    return None


def _draw(source: Element, to: Element, copied: set[str]) -> None:
    for key, value in _said(source, copied):
        to.set(key, value)
    to.text = source.text if to.tag.endswith(("}text", "}tspan", "}title", "}desc")) else None
    for child in source:
        name = child.tag.removeprefix(f"{{{_SPACE}}}") if isinstance(child.tag, str) else ""
        if name not in _DRAWN:
            raise NoPlainDrawingError("There is something in it that is no shape and no text.")
        if name == "use" and _copy_of(child) is None:
            raise NoPlainDrawingError("It copies what is not in it.")
        drawn = SubElement(to, f"{{{_SPACE}}}{name}")
        _draw(child, drawn, copied)
        if to.tag.endswith(("}text", "}tspan")):
            drawn.tail = child.tail


def _said(source: Element, copied: set[str]) -> Iterator[tuple[str, str]]:
    """What is said of an element that a drawing needs; what else is said of it is left out."""
    for key, value in source.items():
        pattern = _ATTRIBUTES.get(key)
        said = pattern is not None and pattern.fullmatch(value) is not None
        if said or (key == "id" and (_STEP.fullmatch(value) or value in copied)):
            yield key, value
    copy = _copy_of(source) if source.tag == f"{{{_SPACE}}}use" else None
    if copy is not None:
        yield "href", f"#{copy}"
