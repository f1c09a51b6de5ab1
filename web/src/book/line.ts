/** A line of notes as it is tapped: words after words, as `core/exercises/own.py` reads them. */

export const LENGTHS = ['1/4', '1/2', '1', '3/2', '2', '3', '4', '6', '8'];
export const LOUDNESS = ['pp', 'p', 'mp', 'mf', 'f', 'ff'];

/** How the next note is written. */
export interface Pen {
  beats: string;
  slurred: boolean;
  loud: string;
}

export interface Slot {
  length: string;
  partial: number;
  midi: number;
}

const words = (line: string) => line.split(/\s+/).filter(Boolean);

/** The line with one more word. */
export function withWord(line: string, word: string): string {
  return [...words(line), word].join(' ');
}

/** The line with a slot at its end; how loud it is is written where it changes. */
export function withSlot(line: string, { length, partial, midi }: Slot, pen: Pen): string {
  const before = words(line).findLast((word) => LOUDNESS.includes(word)) ?? 'mf';
  const loud = before === pen.loud ? [] : [pen.loud];
  const note = `${midi}@${length}.${partial}:${pen.beats}`;
  // A slur goes on from a note: after a breath or a rest one begins anew.
  const last = words(line)
    .filter((word) => !LOUDNESS.includes(word))
    .at(-1);
  const goesOn = pen.slurred && last !== undefined && last !== "'" && !last.startsWith('-');
  return [...words(line), ...loud, goesOn ? `~${note}` : note].join(' ');
}

/** The line without its last step, and without what was only written for that. */
export function withoutLast(line: string): string {
  const kept = words(line).slice(0, -1);
  while (LOUDNESS.includes(kept.at(-1) ?? '')) kept.pop();
  return kept.join(' ');
}

/** The next of a row of values, or the one before; the same at the end. */
export function next(row: string[], value: string, way: 1 | -1): string {
  return row[row.indexOf(value) + way] ?? value;
}
