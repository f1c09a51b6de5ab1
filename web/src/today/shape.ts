/** The picture of a day: as wide as it is long, as high as it is hard, a bell at its hardest. */
export interface Part {
  minutes: number;
  /** Load a minute. */
  weight: number;
}

export interface Piece {
  x: number;
  width: number;
  path: string;
}

const LEAST = 0.14;
/** The share of a block that its neck takes. */
const NECK = 0.32;
const MOST_NECK = 46;

/** Pieces of one silhouette around a middle line, in a picture `width` by `height`. */
export function pieces(parts: Part[], width: number, height: number, gap = 3): Piece[] {
  const minutes = parts.reduce((sum, one) => sum + one.minutes, 0) || 1;
  const most = Math.max(...parts.map(({ weight }) => weight), 0.01);
  const middle = height / 2;
  const halves = parts.map(({ weight }) => middle * (LEAST + (1 - LEAST) * (weight / most)));
  const open = width - gap * Math.max(parts.length - 1, 0);
  let x = 0;
  return parts.map((part, i) => {
    const wide = (open * part.minutes) / minutes;
    const half = halves[i] ?? 0;
    const before = i ? Math.min(halves[i - 1] ?? half, half) : half * 0.55;
    const after = i < parts.length - 1 ? Math.min(halves[i + 1] ?? half, half) : half;
    const from = i ? (halves[i - 1] ?? half) : before;
    const neck = Math.min(NECK * wide, MOST_NECK);
    const start = from < half ? from : half;
    const piece = {
      x,
      width: wide,
      path: outline(x, wide, middle, start, half, after, neck),
    };
    x += wide + gap;
    return piece;
  });
}

function outline(
  x: number,
  wide: number,
  middle: number,
  start: number,
  half: number,
  end: number,
  neck: number,
): string {
  const into = x + neck;
  const out = x + wide - neck;
  const right = x + wide;
  const curve = (x1: number, y1: number, x2: number, y2: number) => {
    const bend = (x1 + x2) / 2;
    return `C${n(bend)} ${n(y1)} ${n(bend)} ${n(y2)} ${n(x2)} ${n(y2)}`;
  };
  return [
    `M${n(x)} ${n(middle - start)}`,
    curve(x, middle - start, into, middle - half),
    `L${n(out)} ${n(middle - half)}`,
    curve(out, middle - half, right, middle - end),
    `L${n(right)} ${n(middle + end)}`,
    curve(right, middle + end, out, middle + half),
    `L${n(into)} ${n(middle + half)}`,
    curve(into, middle + half, x, middle + start),
    'Z',
  ].join('');
}

const n = (value: number) => String(Math.round(value * 10) / 10);
