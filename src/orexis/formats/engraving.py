"""Engraving: MusicXML drawn as SVG by Verovio, with its own fonts.

Drawn for a page of the application: one picture as high as the music, in the colour of the text
around it, without any style of its own (the page's policy would refuse it).
"""

import re
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from pathlib import Path

import verovio

_WIDTH = 1500
_SCALE = 44
_STYLE = re.compile(r"<style.*?</style>", re.DOTALL)
_PLACEHOLDER = re.compile(r'<g id="[^"]*" class="[^"]*placeholder[^"]*">.*?</g>', re.DOTALL)
_BAR_NUMBER = re.compile(r'<g id="[^"]*" class="mNum[^"]*">.*?</g>', re.DOTALL)
_INLINE_STYLE = re.compile(r'\sstyle="[^"]*"')
_OPTIONS = {
    "adjustPageHeight": True,
    "breaks": "auto",
    "footer": "none",
    "header": "none",
    "font": "Leipzig",
    "lyricSize": 4.2,
    "lyricTopMinMargin": 3.0,
    "pageMarginTop": 30,
    "pageMarginBottom": 30,
    "pageMarginLeft": 20,
    "pageMarginRight": 20,
    "pageHeight": 60000,
    "scale": _SCALE,
    "spacingNonLinear": 0.55,
    "svgViewBox": True,
    "svgRemoveXlink": True,
    "xmlIdSeed": 1,
}


_ENGRAVER = ThreadPoolExecutor(1, "engraver")
"""The engraver draws one page at a time, and in a thread of its own: what it knows of its fonts it
knows in one thread alone, and in another the page comes out empty."""


@cache
def _toolkit() -> verovio.toolkit:
    """Kept, since it loads its fonts once."""
    verovio.enableLog(verovio.LOG_OFF)
    verovio.setDefaultResourcePath(str(Path(verovio.__file__).parent / "data"))
    return verovio.toolkit()


def engraved(musicxml: str, width: int = _WIDTH) -> str:
    """The music as SVG text, from any thread; `width` is how wide the page is beside a staff of
    about 180."""
    return _ENGRAVER.submit(_engraved, musicxml, width).result()


def _engraved(musicxml: str, width: int) -> str:
    toolkit = _toolkit()
    toolkit.setOptions({**_OPTIONS, "pageWidth": width})
    toolkit.loadData(musicxml)
    svg: str = toolkit.renderToSVG(1)
    for unwanted in (_STYLE, _PLACEHOLDER, _BAR_NUMBER, _INLINE_STYLE):
        svg = unwanted.sub("", svg)
    # What the style said of lines, as an attribute.
    return svg.replace('color="black"', 'stroke="currentColor"')
