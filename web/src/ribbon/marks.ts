/** What stands on the ribbon: marks with their words, bookmarks, the cursor and a loop. */
import type { Layout } from './layout';
import { placeWords, type Box } from './placing';
import type { Colours, Mark } from './shapes';

const DOT = 3.5;
const FOLD = 10;
/** On which side of its point what was flat or sharp is said. */
const SIDES = { low: -1, high: 1 };

/** Words this near to their point need no line to it. */
const NEAR = 24;
const HALF_LINE = 9;

/**
 * Each mark is a point on the ribbon with its words outside of the `sound`, and a line to them where
 * they are not beside it. Where marks crowd, words are shortened, and what still finds no room is
 * folded into a count that opens as one comes closer; of more than `most` the lightest stand as
 * points alone. Only what was low or high has a colour of its own.
 */
export function drawMarks(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  marks: Mark[],
  sound: Box[],
  most: number,
  xOf: (frame: number) => number,
): void {
  ctx.font = `16px ${colours.textFont}`;
  ctx.textBaseline = 'middle';
  ctx.lineJoin = 'round';
  const here = marks.map((mark) => ({
    ...mark,
    x: xOf(mark.frame),
    y: layout.y(mark.pitch_cents),
    cents: mark.side ? SIDES[mark.side] : mark.pitch_cents - layout.middleCents,
  }));
  const seen = here.filter(({ x }) => x >= layout.left && x <= layout.width);
  const said = heaviest(seen, most);
  const { words, folds } = placeWords(said, layout, (text) => ctx.measureText(text).width, sound);
  ctx.lineWidth = 1;
  for (const { mark, x, y } of words) {
    if (Math.abs(y - mark.y) <= NEAR) continue;
    ctx.strokeStyle = colourOf(mark, colours);
    ctx.beginPath();
    ctx.moveTo(mark.x, mark.y);
    if (x > mark.x) {
      ctx.lineTo(mark.x, y);
      ctx.lineTo(x - 3, y);
    } else {
      // The words reach back over it: it ends at their edge.
      ctx.lineTo(mark.x, y - Math.sign(y - mark.y) * HALF_LINE);
    }
    ctx.stroke();
  }
  ctx.strokeStyle = colours.sheet;
  for (const mark of seen) {
    ctx.fillStyle = colourOf(mark, colours);
    point(ctx, mark.x, mark.y);
  }
  ctx.textAlign = 'left';
  ctx.lineWidth = 5;
  for (const { mark, text, x, y } of words) {
    ctx.fillStyle = colourOf(mark, colours);
    ctx.strokeText(text, x, y);
    ctx.fillText(text, x, y);
  }
  ctx.font = `700 13px ${colours.textFont}`;
  ctx.textAlign = 'center';
  for (const { count, x, y } of folds) {
    ctx.fillStyle = colours.ink;
    ctx.beginPath();
    ctx.arc(x, y, FOLD, 0, 2 * Math.PI);
    ctx.fill();
    ctx.fillStyle = colours.paper;
    ctx.fillText(`${count}`, x, y + 0.5);
  }
}

/** The `most` heaviest marks, in the order they happened. */
export function heaviest<T extends Pick<Mark, 'weight'>>(marks: T[], most: number): T[] {
  const chosen = new Set([...marks].sort((a, b) => b.weight - a.weight).slice(0, most));
  return marks.filter((mark) => chosen.has(mark));
}

function colourOf({ side }: Mark, colours: Colours): string {
  return side === null ? colours.ink : colours[side];
}

function point(ctx: CanvasRenderingContext2D, x: number, y: number): void {
  ctx.lineWidth = 2;
  ctx.beginPath();
  ctx.arc(x, y, DOT, 0, 2 * Math.PI);
  ctx.fill();
  ctx.stroke();
}

/** Bookmarks as numbered tabs hanging from the top edge. */
export function drawBookmarks(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  bookmarks: number[],
  xOf: (seconds: number) => number,
): void {
  ctx.font = `700 14px ${colours.textFont}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  bookmarks.forEach((seconds, i) => {
    const x = xOf(seconds);
    if (x < layout.left - 1 || x > layout.width) return;
    ctx.fillStyle = colours.asked;
    ctx.fillRect(x - 0.75, 0, 1.5, layout.bottom);
    ctx.beginPath();
    ctx.moveTo(x - 11, 0);
    ctx.lineTo(x + 11, 0);
    ctx.lineTo(x + 11, 18);
    ctx.lineTo(x, 25);
    ctx.lineTo(x - 11, 18);
    ctx.closePath();
    ctx.fill();
    ctx.fillStyle = colours.paper;
    ctx.fillText(String(i + 1), x, 10);
  });
}

export function drawCursor(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  x: number,
): void {
  ctx.fillStyle = colours.ink;
  ctx.fillRect(x - 1, 0, 2, layout.bottom);
}

/** A looped stretch: a bar along the foot from its start to its end. */
export function drawLoop(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  from: number,
  to: number,
): void {
  ctx.fillStyle = colours.asked;
  ctx.fillRect(from, layout.bottom - 4, Math.max(2, to - from), 4);
}
