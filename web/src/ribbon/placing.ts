/** Where the words of marks go, so that none lies over another. Pixels only. */

export interface Spot {
  x: number;
  y: number;
  cents: number;
  words: string;
  short: string;
}

/** The room there is: from `left` to `width`, and down to `bottom`. */
export interface Room {
  left: number;
  width: number;
  bottom: number;
}

export interface Placed<T extends Spot> {
  mark: T;
  text: string;
  x: number;
  y: number;
}

/** Marks whose words found no room, counted at one place. */
export interface Fold {
  count: number;
  x: number;
  y: number;
}

/** What words keep clear of: from `left` to `right`, `half` up and down from `y`. */
export interface Box {
  left: number;
  right: number;
  y: number;
  /** Half as high as it is; words if it is not said. */
  half?: number;
}

const HEIGHT = 20;
const ROWS = 9;
const NARROW = 520;
/** In a narrow view words stay on their own side. */
const NARROW_ROWS = 6;
const GAP = 8;
const OFF = 12;
const POINT = 4;
/** Folds nearer than this are one. */
const FOLD_REACH = 26;

/**
 * Words stand off their point on the side it went to, a row farther where the `sound` or other words already are.
 * Where not all the whole words find room, all are shortened, those left over are folded, and
 * then those that have room beside the others are said in whole again.
 */
export function placeWords<T extends Spot>(
  marks: T[],
  room: Room,
  widthOf: (text: string) => number,
  sound: Box[] = [],
): { words: Placed<T>[]; folds: Fold[] } {
  const points = [...marks.map(pointBox), ...sound];
  const whole = placeAll(marks, ({ words }) => words, room, widthOf, points);
  if (!whole.folds.length) return whole;
  const { words, folds, taken } = placeAll(marks, ({ short }) => short, room, widthOf, points);
  for (const [i, one] of words.entries()) {
    const { left, right } = across(one.mark, widthOf(one.mark.words), room);
    const box = { left, right, y: one.y };
    const others = [...taken.filter((_, j) => j !== i), ...points];
    if (right > room.width + GAP || !others.every((other) => apart(other, box))) continue;
    taken[i] = box;
    words[i] = { ...one, text: one.mark.words, x: left };
  }
  return { words, folds };
}

/** Places one text a mark; the boxes taken are those of the words, then those of the folds. */
function placeAll<T extends Spot>(
  marks: T[],
  textOf: (mark: T) => string,
  room: Room,
  widthOf: (text: string) => number,
  points: Box[],
): { words: Placed<T>[]; folds: Fold[]; taken: Box[] } {
  const taken: Box[] = [];
  const words: Placed<T>[] = [];
  const left: T[] = [];
  for (const mark of marks) {
    const text = textOf(mark);
    const box = freeRow([...taken, ...points], across(mark, widthOf(text), room), mark, room);
    if (box) {
      taken.push(box);
      words.push({ mark, text, x: box.left, y: box.y });
    } else {
      left.push(mark);
    }
  }
  const folds: Fold[] = [];
  for (const mark of left) fold(folds, mark, taken, room);
  return { words, folds, taken };
}

/** Where a mark's own point is drawn: no words lie over it. */
function pointBox({ x, y }: Spot): Box {
  return { left: x - POINT, right: x + POINT, y, half: POINT };
}

/** From where to where some words reach beside their point. */
function across(mark: Spot, width: number, room: Room): { left: number; right: number } {
  const left = Math.max(room.left + 6, Math.min(mark.x + OFF, room.width - width - GAP));
  return { left, right: left + width + GAP };
}

/** The nearest free row for some words, on their own side first. */
function freeRow(
  taken: Box[],
  { left, right }: { left: number; right: number },
  { y: tip, cents }: Spot,
  { width, bottom }: Room,
): Box | null {
  if (right > width + GAP) return null;
  const narrow = width < NARROW;
  const side = cents < 0 ? 1 : -1;
  for (const way of narrow ? [side] : [side, -side]) {
    for (let row = 0; row < (narrow ? NARROW_ROWS : ROWS); row++) {
      const y = tip + way * (14 + row * HEIGHT);
      if (y < HEIGHT / 2 || y > bottom - HEIGHT / 2) continue;
      if (taken.every((box) => apart(box, { left, right, y }))) return { left, right, y };
    }
  }
  return null;
}

function apart(one: Box, other: Box): boolean {
  const reach = (one.half ?? HEIGHT / 2) + (other.half ?? HEIGHT / 2);
  return Math.abs(one.y - other.y) >= reach || one.right <= other.left || one.left >= other.right;
}

/** Counts a mark in with those near it, or begins a count where it stands. */
function fold(folds: Fold[], mark: Spot, taken: Box[], room: Room): void {
  const near = folds.find(({ x }) => Math.abs(x - mark.x) < FOLD_REACH);
  if (near) {
    near.count++;
    return;
  }
  const x = Math.max(room.left + OFF, Math.min(mark.x, room.width - OFF));
  // At the edge on the mark's own side, where nothing is drawn through.
  const rows = mark.cents < 0 ? [room.bottom - 14, room.bottom - 38] : [14, 38];
  const box = (y: number) => ({ left: x - OFF, right: x + OFF, y });
  const y = rows.find((row) => taken.every((other) => apart(other, box(row)))) ?? rows[0] ?? 14;
  taken.push(box(y));
  folds.push({ count: 1, x, y });
}
