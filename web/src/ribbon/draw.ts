/**
 * Drawing of the slot view: a band per slot, the one asked for large, and sound through it as a
 * ribbon whose height is pitch, thickness loudness, and whose edges fray when the sound is not
 * clear. Pixels only; every number drawn comes from the server.
 */
import { HOP_S, type RibbonFrames } from './frames';
import { SHOWN_CENTS, type Layout } from './layout';
import { drawMarks } from './marks';
import type { Box } from './placing';
import type { Colours, Stretch } from './shapes';
import { tickLabel, tickStep } from './ticks';

const SHORTEST_RUN = 3;
/** Where two notes overlap, their common period lies far under both for up to this long. */
const SHORTEST_RUN_BELOW = 5;
const FAR_BELOW_CENTS = 700;
const NAME_HALF = 24;
const BETWEEN_TRIES_S = 1.1;
const LOUDEST_DB = -12;
const SOFTEST_DB = -52;
const CLEAR_DB = 24;
const AIRY_DB = 8;
const BROKEN_CENTS = 150;
/** How wide a column of sound is that words keep clear of, in pixels. */
const COLUMN = 10;

export function coloursOf(element: Element): Colours {
  const style = getComputedStyle(element);
  const value = (name: string) => style.getPropertyValue(name).trim();
  return {
    paper: value('--paper'),
    sheet: value('--sheet'),
    ink: value('--ink'),
    dim: value('--dim'),
    line: value('--line'),
    asked: value('--asked'),
    tint: value('--asked-tint'),
    sound: value('--sound'),
    low: value('--low'),
    high: value('--high'),
    noteFont: value('--font-note'),
    textFont: value('--font-text'),
  };
}

export function drawSlots(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  limitCents: number,
): void {
  const { left, width } = layout;
  ctx.clearRect(0, 0, width, layout.height);
  ctx.textBaseline = 'middle';
  ctx.textAlign = 'right';
  for (const { slot, top, bottom, middle } of layout.bands) {
    ctx.fillStyle = colours.sheet;
    ctx.fillRect(left, top, width - left, bottom - top);
    const target = slot.pitch_cents;
    if (slot === layout.asked) {
      const upper = layout.y(target + limitCents);
      const lower = layout.y(target - limitCents);
      ctx.fillStyle = colours.tint;
      ctx.fillRect(left, upper, width - left, lower - upper);
      line(ctx, left, width, middle, colours.asked, 1.5);
      const scale: [number, string, string][] = [
        [SHOWN_CENTS, `${SHOWN_CENTS} sharp`, colours.high],
        [limitCents, `${limitCents}`, colours.high],
        [-limitCents, `${limitCents}`, colours.low],
        [-SHOWN_CENTS, `${SHOWN_CENTS} flat`, colours.low],
      ];
      ctx.font = `14px ${colours.textFont}`;
      const roomy = lower - upper >= 2 * NAME_HALF;
      for (const [cents, words, colour] of scale) {
        // In a low view the limit's labels would run into the note's name.
        if (!roomy && Math.abs(cents) === limitCents) continue;
        ctx.fillStyle = colour;
        ctx.fillText(words, left - 12, layout.y(target + cents));
      }
      noteName(ctx, slot.name, left - 12, middle, left < 80 ? 24 : 32, colours.ink, colours);
    } else if (slot.asked) {
      const upper = layout.y(target + limitCents);
      ctx.fillStyle = colours.tint;
      ctx.fillRect(left, upper, width - left, layout.y(target - limitCents) - upper);
      line(ctx, left, width, middle, colours.asked, 1);
      noteName(ctx, slot.name, left - 12, middle, 18, colours.ink, colours);
    } else {
      ctx.setLineDash([2, 5]);
      line(ctx, left, width, middle, colours.line, 1);
      ctx.setLineDash([]);
      noteName(ctx, slot.name, left - 12, middle, 18, colours.dim, colours);
    }
  }
}

/** A note's name, right-aligned; the letters are bold, the sign has one weight. */
function noteName(
  ctx: CanvasRenderingContext2D,
  name: string,
  right: number,
  y: number,
  size: number,
  colour: string,
  colours: Colours,
): void {
  const parts = [...name].reverse();
  ctx.fillStyle = colour;
  let x = right;
  for (const part of parts) {
    ctx.font = `${'♭♮♯'.includes(part) ? 400 : 700} ${size}px ${colours.noteFont}`;
    ctx.fillText(part, x, y);
    x -= ctx.measureText(part).width;
  }
}

/** The seconds from each stretch's start to its end, and where it begins on the long strip. */
export function place(
  stretches: Stretch[],
  frames: RibbonFrames,
): { startS: number; endS: number }[] {
  let at = 0;
  return stretches.map((stretch) => {
    const end = stretch.to ?? frames.end;
    const startS = at;
    const endS = startS + Math.max(0, end - stretch.from) * HOP_S;
    at = endS + BETWEEN_TRIES_S;
    return { startS, endS };
  });
}

export function drawStretch(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  frames: RibbonFrames,
  stretch: Stretch,
  xOf: (seconds: number) => number,
  lengthS: number,
): void {
  ctx.save();
  ctx.beginPath();
  ctx.rect(layout.left, 0, layout.width - layout.left, layout.height);
  ctx.clip();
  drawTicks(ctx, layout, colours, xOf, lengthS);
  ctx.globalAlpha = stretch.pale ? 0.5 : 1;
  ctx.fillStyle = colours.sound;
  ctx.strokeStyle = colours.sound;
  const x = (frame: number) => xOf((frame - stretch.from) * HOP_S);
  const runs = runsOf(frames, stretch);
  for (const [from, to] of runs) drawRun(ctx, layout, frames, from, to, x);
  ctx.globalAlpha = 1;
  if (stretch.pale) {
    ctx.restore();
    return;
  }
  if (stretch.label) {
    const asked = layout.bands.find((band) => band.slot === layout.asked);
    ctx.font = `15px ${colours.textFont}`;
    ctx.textAlign = 'left';
    ctx.fillStyle = colours.ink;
    ctx.fillText(stretch.label, xOf(0), asked ? asked.top - 12 : 12);
  }
  const sound = stretch.marks.length
    ? runs.flatMap(([from, to]) => soundBoxes(layout, frames, from, to, x))
    : [];
  drawMarks(ctx, layout, colours, stretch.marks, sound, stretch.most ?? Infinity, x);
  ctx.restore();
}

/** Where the sound goes on without a break: the frames from each first up to each end. */
function runsOf(frames: RibbonFrames, stretch: Stretch): [number, number][] {
  const end = stretch.to ?? frames.end;
  const runs: [number, number][] = [];
  let runStart = stretch.from;
  for (let frame = stretch.from; frame <= end; frame++) {
    const broken =
      frame === end ||
      Number.isNaN(frames.centsAt(frame)) ||
      Math.abs(frames.centsAt(frame) - frames.centsAt(frame - 1)) > BROKEN_CENTS;
    // A frame or two on their own lie between two notes; the eye would take them for one.
    if (broken && frame - runStart >= shortest(frames, runStart, frame)) {
      runs.push([runStart, frame]);
    }
    if (broken) runStart = Number.isNaN(frames.centsAt(frame)) ? frame + 1 : frame;
  }
  return runs;
}

/** How many frames a run must have to be drawn. */
function shortest(frames: RibbonFrames, from: number, to: number): number {
  const under = Math.min(frames.centsAt(from - 1), frames.centsAt(to)) - frames.centsAt(from);
  return under > FAR_BELOW_CENTS ? SHORTEST_RUN_BELOW : SHORTEST_RUN;
}

function drawRun(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  frames: RibbonFrames,
  from: number,
  to: number,
  x: (frame: number) => number,
): void {
  if (x(to) < layout.left - 20 || x(from) > layout.width + 20) return;
  const half = (frame: number) => halfThickness(frames, frame, from, to);
  ctx.beginPath();
  for (let f = from; f < to; f++) ctx.lineTo(x(f), layout.y(frames.centsAt(f)) - half(f));
  for (let f = to - 1; f >= from; f--) ctx.lineTo(x(f), layout.y(frames.centsAt(f)) + half(f));
  ctx.closePath();
  ctx.fill();
  ctx.lineWidth = 1.2;
  ctx.beginPath();
  for (let f = from; f < to; f++) {
    const fray = frayOf(frames.clearAt(f));
    if (fray <= 0.05) continue;
    const y = layout.y(frames.centsAt(f));
    for (const side of [-1, 1]) {
      const chance = scatter(2 * f + (side > 0 ? 1 : 0));
      if (chance > 0.35 + 0.5 * fray) continue;
      const reach = fray * (4 + 12 * scatter(3 * f + side));
      ctx.moveTo(x(f), y + side * half(f));
      ctx.lineTo(x(f) + (scatter(5 * f + side) - 0.3) * 9, y + side * (half(f) + reach));
    }
  }
  ctx.stroke();
}

/** Where a run of sound is drawn, in columns, each as high as the ribbon is there. */
function soundBoxes(
  layout: Layout,
  frames: RibbonFrames,
  from: number,
  to: number,
  x: (frame: number) => number,
): Box[] {
  const boxes: Box[] = [];
  const step = Math.max(1, Math.round(COLUMN / (x(1) - x(0))));
  for (let start = from; start < to; start += step) {
    const end = Math.min(to, start + step);
    if (x(end) < layout.left || x(start) > layout.width) continue;
    let top = Infinity;
    let bottom = -Infinity;
    for (let f = start; f < end; f++) {
      const y = layout.y(frames.centsAt(f));
      const half = halfThickness(frames, f, from, to);
      top = Math.min(top, y - half);
      bottom = Math.max(bottom, y + half);
    }
    boxes.push({ left: x(start), right: x(end), y: (top + bottom) / 2, half: (bottom - top) / 2 });
  }
  return boxes;
}

/** Loudness as half a thickness in pixels, evened over five frames, tapering at both ends. */
function halfThickness(frames: RibbonFrames, frame: number, from: number, to: number): number {
  let sum = 0;
  let count = 0;
  for (let f = Math.max(from, frame - 2); f <= Math.min(to - 1, frame + 2); f++) {
    sum += frames.levelAt(f);
    count++;
  }
  const share = (sum / count - SOFTEST_DB) / (LOUDEST_DB - SOFTEST_DB);
  const taper = Math.min(1, (frame - from + 1) / 5, (to - frame) / 5);
  return (1.5 + 17 * Math.max(0, Math.min(1, share)) ** 1.5) * (0.25 + 0.75 * taper);
}

function frayOf(harmonicityDb: number): number {
  return Math.max(0, Math.min(1, (CLEAR_DB - harmonicityDb) / (CLEAR_DB - AIRY_DB)));
}

/** A number between 0 and 1 that looks random and is always the same for the same frame. */
function scatter(seed: number): number {
  const value = Math.sin(seed * 127.1) * 43758.5453;
  return value - Math.floor(value);
}

function drawTicks(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  xOf: (seconds: number) => number,
  lengthS: number,
): void {
  const perSecond = xOf(1) - xOf(0);
  const step = tickStep(perSecond);
  ctx.font = `14px ${colours.textFont}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  for (let second = step; second <= lengthS + 0.01; second += step) {
    const x = xOf(second);
    ctx.fillStyle = colours.line;
    ctx.fillRect(x, layout.bottom + 4, 1.5, 7);
    ctx.fillStyle = colours.dim;
    ctx.fillText(tickLabel(second, lengthS), x, layout.bottom + 22);
  }
}

function line(
  ctx: CanvasRenderingContext2D,
  from: number,
  to: number,
  y: number,
  colour: string,
  width: number,
): void {
  ctx.strokeStyle = colour;
  ctx.lineWidth = width;
  ctx.beginPath();
  ctx.moveTo(from, y);
  ctx.lineTo(to, y);
  ctx.stroke();
}
