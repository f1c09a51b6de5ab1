/** A line of notes as it is tapped: words after words, as `core/exercises/own.py` reads them. */
import type { Field } from '../api/client';

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
/** Notes, rests and breaths; what else there is says how loud they are. */
const isStep = (word: string) => word === "'" || word.includes(':');

/** The line with one more word. */
export function withWord(line: string, word: string): string {
  return [...words(line), word].join(' ');
}

/** The line with a slot at its end; how loud it is is written where it changes from `usual`. */
export function withSlot(
  line: string,
  { length, partial, midi }: Slot,
  pen: Pen,
  usual: string,
): string {
  const before = words(line).findLast((word) => !isStep(word)) ?? usual;
  const loud = before === pen.loud ? [] : [pen.loud];
  const note = `${pen.slurred ? '~' : ''}${midi}@${length}.${partial}:${pen.beats}`;
  return [...words(line), ...loud, note].join(' ');
}

/** The line without its last step, and without what was only written for that. */
export function withoutLast(line: string): string {
  const kept = words(line).slice(0, -1);
  while (kept.length && !isStep(kept.at(-1) ?? '')) kept.pop();
  return kept.join(' ');
}

/** The next of a field's choices, or the one before; the same at the end. */
export function next({ choices }: Field, value: string, way: 1 | -1): string {
  const at = choices.findIndex((choice) => choice.value === value);
  return choices[at + way]?.value ?? value;
}
