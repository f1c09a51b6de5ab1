"""Makes ../horn/clefs.ts: the outlines of three clefs of Noto Music, for drawing on a staff.

Each is scaled so that a staff space is 10 units, and moved so that the line it names (G, F or C)
lies at 0 with y downward. Needs fonttools and brotli: `python make_clefs.py` in this folder,
after `npm ci`.
"""

from pathlib import Path

from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

HERE = Path(__file__).parent
SOURCE = (
    HERE.parents[1] / "node_modules/@fontsource/noto-music/files/noto-music-music-400-normal.woff2"
)
# Clef: (code point, height in staff spaces, share of its height above the line it names)
CLEFS = {"g": (0x1D11E, 7.0, 0.64), "f": (0x1D122, 3.2, 0.32), "c": (0x1D121, 4.0, 0.5)}

source = TTFont(SOURCE)
glyphs, names = source.getGlyphSet(), source.getBestCmap()
lines = [
    "/* Made by ../fonts/make_clefs.py from Noto Music (SIL Open Font License). */",
    "export const CLEFS = {",
]
for clef, (code, spaces, above) in CLEFS.items():
    glyph = glyphs[names[code]]
    bounds = BoundsPen(glyphs)
    glyph.draw(bounds)
    left, low, _, high = bounds.bounds
    scale = 10 * spaces / (high - low)
    line = high - above * (high - low)
    pen = SVGPathPen(glyphs, ntos=lambda value: f"{value:.1f}".rstrip("0").rstrip("."))
    glyph.draw(TransformPen(pen, (scale, 0, 0, -scale, -left * scale, line * scale)))
    lines.append(f"  {clef}: '{pen.getCommands()}',")
lines.append("};")
(HERE.parent / "horn" / "clefs.ts").write_text("\n".join(lines) + "\n", encoding="utf-8")
