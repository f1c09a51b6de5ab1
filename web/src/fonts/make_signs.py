"""Makes signs.woff2: the flat, natural and sharp of Noto Music, set for running text.

In the music face the signs are placed for a staff and hang below the line of letters. Here each
is scaled and lifted so that it stands between the baseline and the height of capitals. Needs
fonttools and brotli: `python make_signs.py` in this folder, after `npm ci`.
"""

from pathlib import Path

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.transformPen import TransformPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

HERE = Path(__file__).parent
SOURCE = (
    HERE.parents[1] / "node_modules/@fontsource/noto-music/files/noto-music-music-400-normal.woff2"
)
UNITS = 1000
# Sign: (scale, lift in units, side space in units)
SIGNS = {0x266D: (1.12, 60, 25), 0x266E: (0.98, 215, 30), 0x266F: (0.98, 240, 30)}

source = TTFont(SOURCE)
glyphs, names = source.getGlyphSet(), source.getBestCmap()
drawn, widths = {".notdef": TTGlyphPen(None).glyph()}, {".notdef": (500, 0)}
for code, (scale, lift, side) in SIGNS.items():
    pen = TTGlyphPen(None)
    left = 50 * scale
    target = TransformPen(Cu2QuPen(pen, 1.0), (scale, 0, 0, scale, side - left, lift))
    glyphs[names[code]].draw(target)
    drawn[names[code]] = pen.glyph()
    widths[names[code]] = (round((glyphs[names[code]].width - 100) * scale) + 2 * side, side)

font = FontBuilder(UNITS, isTTF=True)
font.setupGlyphOrder(list(drawn))
font.setupCharacterMap({code: names[code] for code in SIGNS})
font.setupGlyf(drawn)
font.setupHorizontalMetrics(widths)
font.setupHorizontalHeader(ascent=930, descent=-270)
font.setupNameTable({"familyName": "Orexis Signs", "styleName": "Regular"})
font.setupOS2(sTypoAscender=930, sTypoDescender=-270, usWinAscent=930, usWinDescent=270)
font.setupPost()
font.font.flavor = "woff2"
font.save(HERE / "signs.woff2")
