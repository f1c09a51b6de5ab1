"""Whether a picture from elsewhere is a drawing and nothing else: no script, style, link or
file of its own, nothing that could act in a page it is put into."""

from xml.etree import ElementTree

_SPACE = "{http://www.w3.org/2000/svg}"
_DRAWN = frozenset(
    f"{_SPACE}{name}"
    for name in (
        *("svg", "g", "defs", "symbol", "use", "title", "desc", "path", "rect", "line"),
        *("polygon", "polyline", "ellipse", "circle", "text", "tspan"),
    )
)
_ACTS = ("javascript:", "data:", "url(")


def is_plain_svg(text: str) -> bool:
    """Whether an SVG text holds shapes and text alone. An empty one does."""
    if not text:
        return True
    # Entities could grow without end, or read a file.
    if "<!" in text or "<?" in text.removeprefix("<?xml"):
        return False
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError:
        return False
    return all(
        one.tag in _DRAWN and all(_is_plain(*said) for said in one.items()) for one in root.iter()
    )


def _is_plain(name: str, value: str) -> bool:
    plain = name.rsplit("}", 1)[-1].casefold()
    if plain.startswith("on") or plain in ("style", "src"):
        return False
    if plain == "href":
        return value.startswith("#")
    return not any(act in value.casefold() for act in _ACTS)
