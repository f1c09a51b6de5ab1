/** What stands on the ribbon: marks with their words, pins, the cursor and a loop. */
import type { Colours } from './draw';
import type { Layout } from './layout';

export interface Mark {
  frame: number;
  cents: number;
  words: string;
}

interface Box {
  left: number;
  right: number;
  y: number;
}

const HEIGHT = 20;
const ROWS = 4;
/** In a narrow view words would cover the sound: they stay on their own side and near. */
const NARROW = 520;
const NARROW_ROWS = 2;
const DOT = 3.5;

/**
 * Each mark is a point on the ribbon; its words stand off it on the side it went to, a row
 * farther where others already stand. Words that find no room are left to the point alone.
 */
export function drawMarks(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  marks: Mark[],
  pale: boolean,
  xOf: (frame: number) => number,
): void {
  const taken: Box[] = [];
  ctx.font = `16px ${colours.textFont}`;
  ctx.textAlign = 'left';
  ctx.textBaseline = 'middle';
  ctx.lineJoin = 'round';
  for (const mark of marks) {
    const x = xOf(mark.frame);
    if (x < layout.left || x > layout.width) continue;
    const below = mark.cents < 0;
    const tip = layout.y(mark.cents);
    ctx.fillStyle = pale ? colours.dim : below ? colours.low : colours.high;
    ctx.strokeStyle = colours.sheet;
    if (!pale) point(ctx, x, tip);
    const width = ctx.measureText(mark.words).width;
    const start = Math.max(layout.left + 6, Math.min(x + 12, layout.width - width - 8));
    const box = room(taken, start, width, tip, below ? 1 : -1, layout);
    if (!box) continue;
    taken.push(box);
    ctx.lineWidth = 5;
    if (!pale) ctx.strokeText(mark.words, start, box.y);
    ctx.fillText(mark.words, start, box.y);
  }
}

function point(ctx: CanvasRenderingContext2D, x: number, y: number): void {
  ctx.lineWidth = 2;
  ctx.beginPath();
  ctx.arc(x, y, DOT, 0, 2 * Math.PI);
  ctx.fill();
  ctx.stroke();
}

/** The nearest free row for some words, on their own side first. */
function room(
  taken: Box[],
  left: number,
  width: number,
  tip: number,
  side: 1 | -1,
  { bottom, width: across }: Layout,
): Box | null {
  const narrow = across < NARROW;
  for (const way of narrow ? [side] : [side, -side]) {
    for (let row = 0; row < (narrow ? NARROW_ROWS : ROWS); row++) {
      const y = tip + way * (14 + row * HEIGHT);
      if (y < HEIGHT / 2 || y > bottom - HEIGHT / 2) continue;
      const right = left + width + 8;
      const free = taken.every(
        (box) => Math.abs(box.y - y) >= HEIGHT || box.right < left || box.left > right,
      );
      if (free) return { left, right, y };
    }
  }
  return null;
}

/** Pins as numbered tabs hanging from the top edge. */
export function drawPins(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  pins: number[],
  xOf: (seconds: number) => number,
): void {
  ctx.font = `700 14px ${colours.textFont}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  pins.forEach((seconds, i) => {
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
