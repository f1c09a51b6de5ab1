import { area, curveMonotoneX } from 'd3-shape';
import type { Schemas } from '../api/client';
import { dayOf, shortDay } from '../parts/dates';

export type RangeRow = Schemas['RowOut'];
export type RangeNote = Schemas['RangeNoteOut'];
type Span = Schemas['SpanOut'];

/** Half as thick as a tube is, as a share of half its row: a thread where a note was reached, a
 * thin tube where it was held, the whole bore where it was secure. */
const THREAD = 0.06;
const THIN = 0.4;
const WHOLE = 0.86;
/** A tube ends so much past the middle of its last note, in half steps. */
const PAST = 0.42;
/** So many half steps it takes a tube to grow thinner. */
const SLOPE = 1.5;

type Point = readonly [midi: number, thick: number];

/** How thick a span is at which notes, from its bottom to its top. */
export function bore({ bottom, top }: Pick<Span, 'bottom' | 'top'>): Point[] {
  return strictly([...side(bottom, -1).reverse(), ...side(top, 1)]);
}

/** One side of a span from within outward: past what was secure it soon is only as thick as what
 * comes next, and stays so to its end. */
function side({ reached, held, secure }: Schemas['EndsOut'], way: 1 | -1): Point[] {
  const levels = [
    [secure, WHOLE],
    [held, THIN],
    [reached, THREAD],
  ] as const;
  const points: Point[] = [];
  for (const [note, thick] of levels) {
    if (note === null) continue;
    const end = note + way * PAST;
    const inner = points.at(-1);
    if (inner && way * (end - inner[0]) > SLOPE) points.push([inner[0] + way * SLOPE, thick]);
    points.push([end, thick]);
  }
  return points;
}

/** Points one after the other: of two at one place the thicker counts, and none goes back. */
function strictly(points: Point[]): Point[] {
  const found: Point[] = [];
  for (const [midi, thick] of points) {
    const last = found.at(-1);
    if (last && midi <= last[0]) {
      found[found.length - 1] = [last[0], Math.max(last[1], thick)];
    } else found.push([midi, thick]);
  }
  return found;
}

/** The outline of a span in a row of some height, about a middle line at 0. */
export function tube(span: Pick<Span, 'bottom' | 'top'>, x: (midi: number) => number, row: number) {
  const half = row / 2;
  const outline = area<Point>()
    .x(([midi]) => x(midi))
    .y0(([, thick]) => -half * thick)
    .y1(([, thick]) => half * thick)
    .curve(curveMonotoneX);
  return outline(bore(span)) ?? '';
}

/** How a note stands, as the height of its mark: the surer, the taller. */
const HEIGHTS: Partial<Record<RangeNote['standing'], number>> = {
  attempted: 0.1,
  faded: 0.3,
  touched: 0.3,
  held: 0.62,
  secure: 1,
};

export function height(standing: RangeNote['standing']): number {
  return HEIGHTS[standing] ?? 0;
}

/** The week a row begins with, and how many weeks it is where it is more than one. */
export function named({ monday, weeks }: RangeRow): string {
  const words = shortDay(dayOf(monday));
  return weeks === 1 ? words : `${words}, ${weeks} weeks`;
}

/** The natural notes that a scale is read by: every C, and the G between. */
export function landmarks(notes: RangeNote[]): RangeNote[] {
  // A report from before says it by its names alone.
  return notes.filter(({ name, landmark }) => landmark ?? /^[CG]-?\d+$/.test(name));
}

/** From one note to another by the player's names, one name where they are the same. */
export function between(notes: RangeNote[], low: number | null, high: number | null): string {
  if (low === null || high === null) return '–';
  const name = (midi: number) => notes.find((one) => one.midi === midi)?.name ?? `${midi}`;
  return low === high ? name(low) : `${name(low)} to ${name(high)}`;
}
