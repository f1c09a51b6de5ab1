/**
 * Drawing of the slot view: a band per slot, the one asked for large, and sound through it as a
 * ribbon whose height is pitch, thickness loudness, and whose edges fray when the sound is not
 * clear. Pixels only; every number drawn comes from the server.
 */
import type { RibbonFrames } from './frames';

export interface Slot {
  name: string;
  cents: number;
  asked: boolean;
}

export interface Mark {
  frame: number;
  cents: number;
  words: string;
}

/** One stretch to draw: frames `from` up to `to` (or to the newest), beginning at `startS`. */
export interface Stretch {
  from: number;
  to: number | null;
  label: string;
  marks: Mark[];
  pale: boolean;
}

export interface Colours {
  paper: string;
  sheet: string;
  ink: string;
  dim: string;
  line: string;
  asked: string;
  tint: string;
  sound: string;
  low: string;
  high: string;
  noteFont: string;
  textFont: string;
}

export interface Band {
  slot: Slot;
  top: number;
  bottom: number;
  middle: number;
}

export interface Layout {
  width: number;
  height: number;
  left: number;
  bottom: number;
  bands: Band[];
  y: (cents: number) => number;
}

export const HOP_S = 0.01;
const SHOWN_CENTS = 30;
const NEIGHBOUR_HEIGHT = 26;
const NEIGHBOUR_GAP = 18;
const NEIGHBOUR_CENTS = 40;
const FOOT = 34;
const BETWEEN_TRIES_S = 1.1;
const LOW_VIEW = 400;
const LOUDEST_DB = -12;
const SOFTEST_DB = -52;
const CLEAR_DB = 24;
const AIRY_DB = 8;
const BROKEN_CENTS = 150;

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

/** Where everything goes; slots come highest first. A low view shows only the nearest ones. */
export function layOut(all: Slot[], width: number, height: number): Layout {
  const left = width < 520 ? 58 : 84;
  const middle = all.findIndex((slot) => slot.asked);
  const slots = height < LOW_VIEW ? all.slice(Math.max(0, middle - 1), middle + 2) : all;
  const asked = slots.findIndex((slot) => slot.asked);
  const step = NEIGHBOUR_HEIGHT + NEIGHBOUR_GAP;
  const above = Math.max(asked, 0);
  const below = slots.length - 1 - above;
  const top = 6 + above * step + (above ? 22 : 10);
  const bottom = height - FOOT - below * step - (below ? 22 : 10);
  const bands = slots.map((slot, i): Band => {
    if (i === above) return { slot, top, bottom, middle: (top + bottom) / 2 };
    const bandTop = i < above ? 6 + i * step : bottom + 22 + NEIGHBOUR_GAP + (i - above - 1) * step;
    return {
      slot,
      top: bandTop,
      bottom: bandTop + NEIGHBOUR_HEIGHT,
      middle: bandTop + NEIGHBOUR_HEIGHT / 2,
    };
  });
  const anchors: [number, number][] = bands
    .flatMap((band, i): [number, number][] => {
      const reach = i === above ? SHOWN_CENTS : NEIGHBOUR_CENTS;
      const middle = i === above ? 0 : band.slot.cents;
      return [
        [middle + reach, band.top],
        [middle - reach, band.bottom],
      ];
    })
    .reverse();
  return { width, height, left, bottom: height - FOOT, bands, y: interpolator(anchors, height) };
}

/** Piecewise straight lines through [cents, y], the same slope beyond the ends, kept in view. */
function interpolator(anchors: [number, number][], height: number): (cents: number) => number {
  return (cents) => {
    let i = 1;
    while (i < anchors.length - 1 && cents > (anchors[i]?.[0] ?? 0)) i++;
    const [c0, y0] = anchors[i - 1] ?? [0, 0];
    const [c1, y1] = anchors[i] ?? [1, 0];
    const y = y0 + ((cents - c0) / (c1 - c0)) * (y1 - y0);
    return Math.max(2, Math.min(height - FOOT, y));
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
    if (slot.asked) {
      const upper = layout.y(limitCents);
      const lower = layout.y(-limitCents);
      ctx.fillStyle = colours.tint;
      ctx.fillRect(left, upper, width - left, lower - upper);
      line(ctx, left, width, layout.y(0), colours.asked, 1.5);
      const scale: [number, string, string][] = [
        [SHOWN_CENTS, `${SHOWN_CENTS} high`, colours.high],
        [limitCents, `${limitCents}`, colours.high],
        [-limitCents, `${limitCents}`, colours.low],
        [-SHOWN_CENTS, `${SHOWN_CENTS} low`, colours.low],
      ];
      ctx.font = `14px ${colours.textFont}`;
      for (const [cents, words, colour] of scale) {
        ctx.fillStyle = colour;
        ctx.fillText(words, left - 12, layout.y(cents));
      }
      noteName(ctx, slot.name, left - 12, layout.y(0), left < 70 ? 24 : 32, colours.ink, colours);
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
  const end = stretch.to ?? frames.end;
  let runStart = stretch.from;
  for (let frame = stretch.from; frame <= end; frame++) {
    const broken =
      frame === end ||
      Number.isNaN(frames.centsAt(frame)) ||
      Math.abs(frames.centsAt(frame) - frames.centsAt(frame - 1)) > BROKEN_CENTS;
    if (broken && frame > runStart) {
      drawRun(ctx, layout, frames, runStart, frame, (f) => xOf((f - stretch.from) * HOP_S));
    }
    if (broken) runStart = Number.isNaN(frames.centsAt(frame)) ? frame + 1 : frame;
  }
  ctx.globalAlpha = 1;
  const asked = layout.bands.find((band) => band.slot.asked);
  if (stretch.label && asked) {
    ctx.font = `15px ${colours.textFont}`;
    ctx.textAlign = 'left';
    ctx.fillStyle = stretch.pale ? colours.dim : colours.ink;
    ctx.fillText(stretch.label, xOf(0), asked.top - 12);
  }
  for (const mark of stretch.marks) drawMark(ctx, layout, colours, stretch, mark, xOf);
  ctx.restore();
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
  const step = perSecond >= 44 ? 1 : perSecond >= 20 ? 2 : perSecond >= 9 ? 5 : 10;
  ctx.font = `14px ${colours.textFont}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  for (let second = step; second <= lengthS + 0.01; second += step) {
    const x = xOf(second);
    ctx.fillStyle = colours.line;
    ctx.fillRect(x, layout.bottom + 4, 1.5, 7);
    ctx.fillStyle = colours.dim;
    ctx.fillText(`${second} s`, x, layout.bottom + 22);
  }
}

function drawMark(
  ctx: CanvasRenderingContext2D,
  layout: Layout,
  colours: Colours,
  stretch: Stretch,
  mark: Mark,
  xOf: (seconds: number) => number,
): void {
  const x = xOf((mark.frame - stretch.from) * HOP_S);
  if (x < layout.left) return;
  ctx.font = `16px ${colours.textFont}`;
  const width = ctx.measureText(mark.words).width;
  const below = mark.cents < 0;
  const y = layout.y(mark.cents) + (below ? 14 : -14);
  const start = Math.max(layout.left + 6, Math.min(x + 12, layout.width - width - 8));
  ctx.textAlign = 'left';
  ctx.textBaseline = 'middle';
  ctx.lineWidth = 5;
  ctx.lineJoin = 'round';
  ctx.strokeStyle = colours.sheet;
  ctx.fillStyle = stretch.pale ? colours.dim : below ? colours.low : colours.high;
  if (!stretch.pale) ctx.strokeText(mark.words, start, y);
  ctx.fillText(mark.words, start, y);
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
